"""Viewpoints of a project, in the order in which a presentation walks through them."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import BaseModel, Field
from sqlmodel import Session, col, select

from edge_slice.app.documents import Input, RowId, Version
from edge_slice.app.errors import Refused
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import current_row, held_row, own_key
from edge_slice.core.drawing import SHIPPED
from edge_slice.core.project.known_names import check_names, in_seen, known_to_model, known_to_project
from edge_slice.core.project.viewpoints import Seen
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import SharedExtents, ShownSet, Standard, ViewpointRow

MOST = 500  # of a project


class ViewpointNew(Input):
    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    seen: Seen


class ViewpointEdit(Input):
    """What changes; the rest stays."""

    version: Version
    name: str | None = Field(default=None, min_length=1, max_length=80, pattern=r"\S")
    seen: Seen | None = None


class ViewpointOrder(Input):
    """All viewpoints of a project, the first one first."""

    ids: list[RowId] = Field(max_length=MOST)


class ViewpointOut(BaseModel):
    """`lost`: what opened it, or showed it, and is not there any more, in words."""

    id: int
    name: str
    seen: Seen
    lost: list[str]
    version: int


def list_viewpoints(project_id: int) -> list[ViewpointOut]:
    """In their order. Raises `NotFound`."""
    with reading() as session:
        return _listed(session, project_id)


def _listed(session: Session, project_id: int) -> list[ViewpointOut]:
    known = _known(session, project_id)
    return [_out(row, known) for row in _rows(session, project_id)]


def add_viewpoint(project_id: int, new: ViewpointNew, author: str) -> ViewpointOut:
    """The last one from now on. Raises `Refused` for what it names and is not there."""
    with transaction() as session:
        hold(session, project_id)
        known = _known(session, project_id)
        check_names(in_seen(new.seen), known)
        rows = _rows(session, project_id)
        if len(rows) >= MOST:
            raise Refused(f"A project keeps {MOST} viewpoints; delete some first.")
        row = ViewpointRow(
            project_id=project_id, place=max((r.place for r in rows), default=0.0) + 1.0, name=new.name.strip(),
            document=new.seen.model_dump(mode="json"),
        )  # fmt: skip
        with recorded(session, project_id, "new viewpoint", author) as act:
            act.adds(row)
        return _out(row, known)


def edit_viewpoint(viewpoint_id: int, edit: ViewpointEdit, author: str) -> ViewpointOut:
    """Raises `Stale`, `NotFound`, `Refused`."""
    with transaction() as session:
        row = current_row(
            session, ViewpointRow, viewpoint_id, edit.version, lambda r: _out(r, _known(session, r.project_id))
        )
        known = _known(session, row.project_id)
        if edit.seen is not None:
            check_names(in_seen(edit.seen), known, in_seen(Seen.model_validate(row.document)))
        with recorded(session, row.project_id, "edit viewpoint", author) as act:
            act.edits(row)
            row.name = row.name if edit.name is None else edit.name.strip()
            row.document = row.document if edit.seen is None else edit.seen.model_dump(mode="json")
            session.add(row)
        return _out(row, known)


def order_viewpoints(project_id: int, order: ViewpointOrder, author: str) -> list[ViewpointOut]:
    """Raises `Refused` where it does not name each viewpoint once."""
    with transaction() as session:
        hold(session, project_id)
        rows = {row.id: row for row in _rows(session, project_id)}
        if sorted(order.ids) != sorted(number for number in rows if number is not None):
            raise Refused("Viewpoints have come or gone meanwhile; the order is that of all of them.", "ids")
        moved = [(rows[number], float(k)) for k, number in enumerate(order.ids, 1) if rows[number].place != float(k)]
        if moved:
            with recorded(session, project_id, "order viewpoints", author) as act:
                for row, place in moved:
                    act.edits(row)
                    row.place = place
                    session.add(row)
        return _listed(session, project_id)


def delete_viewpoint(viewpoint_id: int, author: str) -> None:
    """Raises `NotFound`."""
    with transaction() as session:
        row = held_row(session, ViewpointRow, viewpoint_id)
        with recorded(session, row.project_id, "delete viewpoint", author) as act:
            act.removes(row)


def _rows(session: Session, project_id: int) -> list[ViewpointRow]:
    mine = select(ViewpointRow).where(col(ViewpointRow.project_id) == project_id)
    return list(session.exec(mine.order_by(col(ViewpointRow.place), col(ViewpointRow.id))).all())


def _known(session: Session, project_id: int) -> dict[str, Iterable[str]]:
    """What viewpoints of a project may name."""
    source = ProjectSource(session, project_id)

    sets = session.exec(select(ShownSet).where(col(ShownSet.project_id) == project_id)).all()
    standards = session.exec(select(Standard).where(col(Standard.project_id) == project_id)).all()
    boxes = select(SharedExtents.id).where(col(SharedExtents.project_id) == project_id)
    return {
        **known_to_model(source.model),
        **known_to_project(source, map(own_key, sets)),
        "drawing standard": {*SHIPPED, *map(own_key, standards)},
        "drawing": {str(row.id) for row in source.drawings()},
        "box of shared extents": {str(number) for number in session.exec(boxes).all()},
    }


def _out(row: ViewpointRow, known: dict[str, Iterable[str]]) -> ViewpointOut:
    seen = Seen.model_validate(row.document)
    gone = {use.what for use in in_seen(seen) if use.name not in known[use.what]}
    said = [f"A {what} that it names is not there any more." for what in sorted(gone)]
    return ViewpointOut(id=row.id or 0, name=row.name, seen=seen, lost=said, version=row.version)
