"""Shared extents: named boxes of a project."""

from __future__ import annotations

from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused, first_words
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.project_source import followed_in
from edge_slice.app.projects.documents import SharedExtentsEdit, SharedExtentsNew, SharedExtentsOut, SharedExtentsSide
from edge_slice.app.row_lookup import current_row, held_row, own_key
from edge_slice.core.cut import ImpossibleCut
from edge_slice.core.cut.following.shared_extents import ExtentsBox, around_building, box_of, with_side
from edge_slice.core.model import Model
from edge_slice.store.changes import Act, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, SharedExtents


def list_boxes(project_id: int) -> list[SharedExtentsOut]:
    with reading() as session:
        newest_revision(session, project_id)
        rows = select(SharedExtents).where(col(SharedExtents.project_id) == project_id).order_by(col(SharedExtents.id))
        return [_out(row) for row in session.exec(rows).all()]


def add_box(project_id: int, new: SharedExtentsNew, author: str) -> SharedExtentsOut:
    """Make shared extents of a box, or of what a drawing shows, which then follows them."""
    with transaction() as session:
        newest_revision(session, project_id)
        drawing = None
        if new.drawing_id is not None:
            drawing = held_row(session, Drawing, new.drawing_id)
            if drawing.project_id != project_id:
                raise NotFound("This drawing is not there any more.")
            followed = followed_in(session, project_id)
            cut = followed.cut_of(drawing)
            box = box_of(followed.model_of(cut), cut)
        elif new.box is not None:
            box = new.box
        else:
            raise Refused("Give a box, or a drawing whose extents are taken.", "box")
        row = SharedExtents(project_id=project_id, name=new.name.strip(), box=box.model_dump(mode="json"))
        with recorded(session, project_id, "new shared extents", author) as act:
            act.adds(row)
            if drawing is not None:
                act.edits(drawing)
                drawing.cut = {**drawing.cut, "shared_extents": own_key(row)}
                session.add(drawing)
        return _out(row)


def building_box(session: Session, project_id: int, model: Model, act: Act) -> str:
    """The key of shared extents around the building, which are made where the project has none such."""
    box = around_building(model).model_dump(mode="json")
    rows = session.exec(select(SharedExtents).where(col(SharedExtents.project_id) == project_id)).all()
    row = next((r for r in rows if r.box == box), None)
    if row is None:
        row = SharedExtents(project_id=project_id, name="Building", box=box)
        act.adds(row)
    return own_key(row)


def edit_box(box_id: int, edit: SharedExtentsEdit, author: str) -> SharedExtentsOut:
    with transaction() as session:
        row = _current(session, box_id, edit.version)
        return _save(session, row, edit.name.strip(), edit.box, author)


def move_side(box_id: int, wanted: SharedExtentsSide, author: str) -> SharedExtentsOut:
    """Move the face of a box that a side of a drawing shows."""
    with transaction() as session:
        row = _current(session, box_id, wanted.version)
        model = load_model(session, newest_revision(session, row.project_id))
        try:
            box = with_side(model, wanted.cut, ExtentsBox.model_validate(row.box), wanted.side, wanted.to)
        except (ImpossibleCut, ValidationError) as error:
            raise Refused(first_words(error), "to") from error
        return _save(session, row, row.name, box, author)


def delete_box(box_id: int, author: str) -> None:
    """Delete shared extents. Drawings that follow them are released: each keeps the extents and depth it had."""
    with transaction() as session:
        row = held_row(session, SharedExtents, box_id)
        followed = followed_in(session, row.project_id)
        users = select(Drawing).where(col(Drawing.project_id) == row.project_id).order_by(col(Drawing.id))
        with recorded(session, row.project_id, "delete shared extents", author) as act:
            for drawing in session.exec(users).all():
                if drawing.cut.get("shared_extents") != own_key(row):
                    continue
                kept = followed.cut_of(drawing).model_copy(update={"shared_extents": ""})
                act.edits(drawing)
                drawing.cut = kept.model_dump(mode="json")
                session.add(drawing)
            act.removes(row)


def _current(session: Session, box_id: int, version: int) -> SharedExtents:
    return current_row(session, SharedExtents, box_id, version, _out)


def _save(session: Session, row: SharedExtents, name: str, box: ExtentsBox, author: str) -> SharedExtentsOut:
    with recorded(session, row.project_id, "edit shared extents", author) as act:
        act.edits(row)
        row.name, row.box = name, box.model_dump(mode="json")
        session.add(row)
    return _out(row)


def _out(row: SharedExtents) -> SharedExtentsOut:
    box = ExtentsBox.model_validate(row.box)
    return SharedExtentsOut(id=row.id or 0, key=own_key(row), name=row.name, box=box, version=row.version)
