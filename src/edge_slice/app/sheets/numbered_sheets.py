"""Sheets: numbers come from here, and markers, titles and lists follow."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.drawings.drawing_rows import drawing_of
from edge_slice.app.errors import Refused
from edge_slice.app.projects.state import state_of
from edge_slice.app.row_lookup import current_row, held_row, project_row
from edge_slice.app.sheets.designs import check_room, design_for
from edge_slice.app.sheets.documents import AreaOut, PlacementOut, SheetEdit, SheetNew, SheetOut
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.app.tables.acts import check_places
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.project.documents import PlacementTitle, SheetFields, Trim
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.kinds import KINDS
from edge_slice.core.project.naming import kind_of
from edge_slice.core.project.sheets import folder_of, size_of
from edge_slice.core.recent import Recent
from edge_slice.core.sheet import SHEET_SIZES
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.sheet.resettling import Standing, resettled
from edge_slice.store.changes import Act, hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Placement, Sheet

_lists: Recent[list[SheetOut]] = Recent("lists of sheets", 8)  # by the state of their project
USUAL_FOLDER = "plans"  # of sheets that were given neither folder nor number


def list_sheets(project_id: int) -> list[SheetOut]:
    with reading() as session:
        project_row(session, project_id)
        return _lists.get(state_of(session, project_id, annotations=True), lambda: _listed(session, project_id))


def _listed(session: Session, project_id: int) -> list[SheetOut]:
    around = SheetsAround(session, project_id)
    return [as_out(r, around) for r in around.sheets]


def add_sheet(project_id: int, new: SheetNew, author: str) -> SheetOut:
    with transaction() as session:
        with recorded(session, project_id, "new sheet", author) as act:
            row = new_sheet(session, act, project_id, new)
        return sheet_out(session, row)


def new_sheet(session: Session, act: Act, project_id: int, new: SheetNew) -> Sheet:
    """A sheet as part of an act. Raises `Refused` for a number that is taken, an unknown folder or design."""
    register = Register.model_validate(project_row(session, project_id).sheet_register)
    hold(session, project_id)
    folder = new.folder
    if folder:
        check_folder(register, folder)
    elif not new.number.strip():
        folder = register.folder(_usual_folder(session, project_id, new.for_drawing)).key
    number = new.number.strip() or next_number(session, project_id, register, folder)
    check_number(session, project_id, number, None)
    check_room(design_for(session, project_id, new.design), new.size)
    row = Sheet(project_id=project_id, number=number, title=new.title.strip() or "Untitled sheet", size=new.size,
                design=new.design, folder=folder, place=_last_place(session, project_id),
                fields=SheetFields().model_dump())  # fmt: skip
    act.adds(row)
    return row


def _usual_folder(session: Session, project_id: int, drawing_id: int | None) -> str:
    if drawing_id is None:
        return USUAL_FOLDER
    row = drawing_of(session, project_id, drawing_id)
    form = Callout.model_validate(row.callout).form if row.callout is not None else None
    return KINDS[kind_of(CUT.validate_python(row.cut), form)].folder


def edit_sheet(sheet_id: int, edit: SheetEdit, author: str) -> SheetOut:
    with transaction() as session:
        row = current_row(session, Sheet, sheet_id, edit.version, lambda newer: sheet_out(session, newer))
        if edit.number is not None:
            check_number(session, row.project_id, edit.number.strip(), sheet_id)
        if edit.folder is not None:
            check_folder(Register.model_validate(project_row(session, row.project_id).sheet_register), edit.folder)
        if edit.size is not None or edit.design is not None:
            design = design_for(session, row.project_id, edit.design or row.design)
            check_room(design, edit.size or size_of(row))
        if edit.fields is not None:
            check_places(session, row.project_id, edit.fields)
        places = _resettled(session, row, edit)
        with recorded(session, row.project_id, "edit sheet", author) as act:
            act.edits(row)
            for placed, (x, y) in places:
                act.edits(placed)
                placed.x, placed.y = x, y
                session.add(placed)
            row.number = edit.number.strip() if edit.number is not None else row.number
            row.title = edit.title.strip() if edit.title is not None else row.title
            row.size = edit.size or row.size
            row.design = edit.design or row.design
            row.folder = edit.folder if edit.folder is not None else row.folder
            if edit.fields is not None:  # what a sheet was issued as elsewhere, nobody types
                row.fields = edit.fields.model_dump() | {"issued": row.fields.get("issued", [])}
            session.add(row)
        return sheet_out(session, row)


def _resettled(session: Session, row: Sheet, edit: SheetEdit) -> list[tuple[Placement, tuple[float, float]]]:
    """The places of a sheet's drawings after its size or design changed, of those that move."""
    if (edit.size or row.size) == row.size and (edit.design or row.design) == row.design:
        return []
    around = SheetsAround(session, row.project_id)
    placed = around.on(row)
    standing = [Standing((p.x, p.y), around.wanted(p)) for p in placed]
    after = design_for(session, row.project_id, edit.design or row.design), edit.size or size_of(row)
    places = resettled(standing, (around.design(row), size_of(row)), after) if placed else []
    return [(p, place) for p, place in zip(placed, places, strict=True) if place != (p.x, p.y)]


def delete_sheet(sheet_id: int, author: str) -> None:
    """Delete a sheet. A drawing that had its home there has it on another sheet then, if it stands on one."""
    with transaction() as session:
        row = held_row(session, Sheet, sheet_id)
        with recorded(session, row.project_id, "delete sheet", author) as act:
            for placed in session.exec(select(Placement).where(col(Placement.sheet_id) == sheet_id)).all():
                remove(session, act, placed)
            act.removes(row)


def remove(session: Session, act: Act, placed: Placement) -> None:
    """Take a placement off as part of an act; another one of its drawing becomes its home."""
    give_home_on(session, act, placed)
    act.removes(placed)


def give_home_on(session: Session, act: Act, placed: Placement) -> None:
    """Let another placement of its drawing be the home, if this one was."""
    others = select(Placement).where(col(Placement.drawing_id) == placed.drawing_id, col(Placement.id) != placed.id)
    if placed.home and (heir := session.exec(others.order_by(col(Placement.id))).first()) is not None:
        act.edits(heir)
        heir.home = True
        session.add(heir)


def next_number(session: Session, project_id: int, register: Register, folder: str) -> str:
    taken = set(session.exec(select(Sheet.number).where(col(Sheet.project_id) == project_id)).all())
    try:
        return register.next_number(folder, taken)
    except ValueError as error:
        raise Refused(f"The register has no number for it: {error}.", "number") from error


def check_folder(register: Register, folder: str) -> None:
    if folder not in [f.key for f in register.folders]:
        raise Refused(f"The register has no folder “{folder}”; choose one of its folders.", "folder")


def check_number(session: Session, project_id: int, number: str, own: int | None) -> None:
    other = session.exec(select(Sheet).where(col(Sheet.project_id) == project_id, col(Sheet.number) == number)).first()
    if other is not None and other.id != own:
        raise Refused(f"There is a sheet {number} already; choose another number.", "number")


def _last_place(session: Session, project_id: int) -> float:
    """Behind all others where these were put in an order; else by its number, as they are."""
    places = session.exec(select(Sheet.place).where(col(Sheet.project_id) == project_id)).all()
    highest = max(places, default=0.0)
    return highest + 1 if highest else 0.0


def sheet_out(session: Session, row: Sheet) -> SheetOut:
    return as_out(row, SheetsAround(session, row.project_id))


def as_out(row: Sheet, around: SheetsAround) -> SheetOut:
    assert row.id is not None
    wide, high = SHEET_SIZES[size_of(row)]
    design = around.design(row)
    issued = around.issued.get(row.id, ())
    return SheetOut(
        id=row.id,
        project_id=row.project_id,
        number=row.number,
        title=row.title,
        size=size_of(row),
        width=wide,
        height=high,
        design=row.design,
        folder=folder_of(around.register, row),
        place=row.place,
        fields=SheetFields.model_validate(row.fields),
        version=row.version,
        frame=design.frame(size_of(row)),
        areas=[AreaOut(name=name, box=box) for name, box in design.area_boxes(size_of(row)).items()],
        placements=[_placement_out(p, around) for p in around.on(row)],
        issued=issued[0].code if issued else "",
        picture=around.picture(row),
    )


def _placement_out(placed: Placement, around: SheetsAround) -> PlacementOut:
    fields = placed.model_dump(exclude={"project_id", "trim", "title"})
    trim, title = Trim.model_validate(placed.trim), PlacementTitle.model_validate(placed.title)
    box, whole = around.box(placed), around.whole_box(placed)
    return PlacementOut(**fields, trim=trim, title=title, box=box, whole=whole)
