"""Sheet designs: those that come with the application, and a project's own."""

from __future__ import annotations

from collections.abc import Sequence
from typing import cast

from sqlmodel import Session, col, select

from edge_slice.app.annotating.pictures import check_kept
from edge_slice.app.errors import Refused
from edge_slice.app.row_lookup import current_row, held_row, own_key, own_row, project_row
from edge_slice.app.sheets.documents import DesignEdit, DesignNew, DesignOut
from edge_slice.core.recent import Recent
from edge_slice.core.sheet import SheetDesign, SheetSize, design_problems, shipped_designs
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Sheet, SheetDesignRow

_own: Recent[SheetDesign] = Recent("sheet designs", 64)


def design_for(session: Session, project_id: int, key: str) -> SheetDesign:
    """The design that a sheet names. Raises `Refused` for one that the project does not have."""
    shipped = shipped_designs().get(key)
    if shipped is not None:
        return shipped
    row = own_row(session, SheetDesignRow, project_id, key)
    if row is None:
        raise Refused("This sheet design is not in the project; choose another one.", "design")
    document = row.document
    return _own.get(f"{row.id} {row.version}", lambda: SheetDesign.model_validate(document))


def check_room(design: SheetDesign, size: SheetSize) -> None:
    """Raises `Refused` where a design has no room on a size."""
    problems = design_problems(design, size)
    if problems:
        raise Refused(f"{problems[0]} Choose a larger size, another design, or change the design.", "size")


def list_designs(project_id: int) -> list[DesignOut]:
    with reading() as session:
        project_row(session, project_id)
        rows = session.exec(
            select(SheetDesignRow).where(col(SheetDesignRow.project_id) == project_id).order_by(col(SheetDesignRow.id))
        )
        sheets = _sheets(session, project_id)
        shipped = [_out(key, None, 1, document, sheets) for key, document in shipped_designs().items()]
        return shipped + [_own_out(row, sheets) for row in rows.all()]


def add_design(project_id: int, new: DesignNew, author: str) -> DesignOut:
    with transaction() as session:
        project_row(session, project_id)
        source = new.document or design_for(session, project_id, new.copy_of)
        name = (new.name or (source.name if new.document else f"{source.name}, own")).strip()
        document = source.model_copy(update={"name": name})
        _check_pictures(session, document)
        row = SheetDesignRow(project_id=project_id, name=name, document=document.model_dump(mode="json"))
        with recorded(session, project_id, "new sheet design", author) as act:
            act.adds(row)
        return _own_out(row, _sheets(session, project_id))


def edit_design(design_id: int, edit: DesignEdit, author: str) -> DesignOut:
    """Change a design, and so all its sheets. Refused where it would not have room on one of them."""
    with transaction() as session:
        row = current_row(session, SheetDesignRow, design_id, edit.version, lambda r: _own_out(r, []))
        sheets = _sheets(session, row.project_id)
        for sheet in sheets:
            if sheet.design == own_key(row):
                problems = design_problems(edit.document, cast(SheetSize, sheet.size))
                if problems:
                    raise Refused(f"{problems[0]} Sheet {sheet.number} has this design.", "document")
        _check_pictures(session, edit.document)
        with recorded(session, row.project_id, "edit sheet design", author) as act:
            act.edits(row)
            row.name = edit.document.name
            row.document = edit.document.model_dump(mode="json")
            session.add(row)
        return _own_out(row, sheets)


def delete_design(design_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, SheetDesignRow, design_id)
        users = [s.number for s in _sheets(session, row.project_id) if s.design == own_key(row)]
        if users:
            raise Refused(
                f"{len(users)} sheets have this design ({', '.join(users[:5])}); give them another one first."
            )
        with recorded(session, row.project_id, "delete sheet design", author) as act:
            act.removes(row)


def _check_pictures(session: Session, design: SheetDesign) -> None:
    for part in design.parts:
        if part.kind == "logo":
            check_kept(session, part.picture, "document.parts")


def _sheets(session: Session, project_id: int) -> Sequence[Sheet]:
    return session.exec(select(Sheet).where(col(Sheet.project_id) == project_id).order_by(col(Sheet.number))).all()


def _own_out(row: SheetDesignRow, sheets: Sequence[Sheet]) -> DesignOut:
    return _out(own_key(row), row.id, row.version, SheetDesign.model_validate(row.document), sheets)


def _out(key: str, number: int | None, version: int, design: SheetDesign, sheets: Sequence[Sheet]) -> DesignOut:
    mine = [s for s in sheets if s.design == key]
    sizes = sorted({cast(SheetSize, s.size) for s in mine})
    problems = [p for size in sizes for p in design_problems(design, size)]
    return DesignOut(
        key=key, id=number, name=design.name, version=version, document=design, sheets=len(mine), problems=problems
    )
