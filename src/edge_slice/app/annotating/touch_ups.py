"""Touch-ups of drawings: what people change of generated linework."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.annotating.boards import board_of
from edge_slice.app.annotating.documents import TouchUpEdit, TouchUpOut
from edge_slice.app.drawings.drawing_rows import drawing_row
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.row_lookup import current_row, held_row
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.drawing.touching.touched_bodies import STYLE, Nowhere, Pointed, touched_up
from edge_slice.core.project.known_names import check_names, in_touch_up, known_to_standard
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, TouchUpRow

MOST = 2000  # of one drawing


def list_touch_ups(drawing_id: int) -> list[TouchUpOut]:
    with reading() as session:
        drawing_row(session, drawing_id)
        return [_out(row) for row in _rows(session, drawing_id)]


def add_touch_up(drawing_id: int, new: Pointed, author: str) -> TouchUpOut:
    with transaction() as session:
        drawing = held_row(session, Drawing, drawing_id)
        if len(_rows(session, drawing_id)) >= MOST:
            raise Refused(f"A drawing holds {MOST} touch-ups at most; take some back first.", "act")
        board = board_of(session, drawing).board
        document = _made(board.features, new)
        check_names(in_touch_up(document), known_to_standard(board.standard))
        row = TouchUpRow(
            project_id=drawing.project_id, drawing_id=drawing_id, document=document.model_dump(mode="json")
        )
        with recorded(session, drawing.project_id, f"touch-up: {new.act}", author) as act:
            act.adds(row)
        return _out(row)


def edit_touch_up(touch_up_id: int, edit: TouchUpEdit, author: str) -> TouchUpOut:
    with transaction() as session:
        row = current_row(session, TouchUpRow, touch_up_id, edit.version, _out)
        change = {k: v for k, v in edit.style.items() if k in STYLE}
        document = _validated({**row.document, **change})
        board = board_of(session, session.get_one(Drawing, row.drawing_id)).board
        before = in_touch_up(TouchUp.model_validate(row.document))
        check_names(in_touch_up(document), known_to_standard(board.standard), before)
        with recorded(session, row.project_id, "restyle touch-up", author) as act:
            act.edits(row)
            row.document = document.model_dump(mode="json")
            session.add(row)
        return _out(row)


def take_back(drawing_id: int, numbers: list[int], author: str) -> None:
    """Take touch-ups back; those that are not there any more do not matter."""
    with transaction() as session:
        drawing = held_row(session, Drawing, drawing_id)
        rows = [row for row in _rows(session, drawing_id) if row.id in set(numbers)]
        with recorded(session, drawing.project_id, "take touch-up back", author) as act:
            for row in rows:
                act.removes(row)


def _rows(session: Session, drawing_id: int) -> list[TouchUpRow]:
    wanted = select(TouchUpRow).where(col(TouchUpRow.drawing_id) == drawing_id).order_by(col(TouchUpRow.id))
    return list(session.exec(wanted).all())


def _made(features: Features, new: Pointed) -> TouchUp:
    try:
        return touched_up(features, new)
    except Nowhere as error:
        raise Refused(str(error), "at") from error
    except ValidationError as error:
        raise Refused(first_words(error), "document") from error


def _validated(document: dict[str, Any]) -> TouchUp:
    try:
        return TouchUp.model_validate(document)
    except ValidationError as error:
        raise Refused(first_words(error), "document") from error


def _out(row: TouchUpRow) -> TouchUpOut:
    document = TouchUp.model_validate(row.document)
    return TouchUpOut(
        id=row.id or 0, drawing_id=row.drawing_id, version=row.version, act=document.act, said=said_of(document),
        document=document,
    )  # fmt: skip


def said_of(document: TouchUp) -> str:
    """What a touch-up does, in words."""
    counts = ((len(document.lines) + len(document.sides), "line"), (len(document.faces), "cut face"),
              (len(document.surfaces), "seen surface"))  # fmt: skip
    what = " and ".join(f"{n} {word}{'s' if n > 1 else ''}" for n, word in counts if n)
    if document.act == "mask":
        return "an area is covered"
    if document.act == "hatch":
        return f"{what}: {document.hatch or 'another tint'}"
    verb = {"hide": "hidden", "restyle": "drawn otherwise", "cut back": "cut back"}[document.act]
    return f"{what} {verb}"
