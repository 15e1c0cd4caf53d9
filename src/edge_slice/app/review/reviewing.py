"""Review of issues: remarks on sheets as they were issued, carried to the issues after, and what became of each."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any, cast

import numpy as np
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound
from edge_slice.app.output.issues import PlacedThen, changes_of, content_of, differences, issued_row, placed_then
from edge_slice.app.review.documents import BecameOut, IssuedPinOut, State
from edge_slice.app.review.places import Places, Spot, drawing_of_place, sketch_about, within
from edge_slice.store.database import reading
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, Issue, IssuedSheet, Sheet


def issued_names(session: Session, wanted: Iterable[int]) -> dict[int | None, str]:
    """What issued sheets are called, by their numbers."""
    rows = select(IssuedSheet, Issue.code).join(Issue, col(Issue.id) == col(IssuedSheet.issue_id))
    found = session.exec(rows.where(col(IssuedSheet.id).in_(list(wanted)))).all()
    return {row.id: f"{row.number} {row.title}, as issued {code}" for row, code in found}


def place_on_issued(session: Session, project_id: int, issued_id: int, at: Spot) -> dict[str, Any]:
    """A place of an issued sheet, as a remark keeps it: with the drawing that stood there, by which it is carried.
    Raises `NotFound`."""
    row, issue = issued_row(session, issued_id)
    if issue.project_id != project_id:
        raise NotFound("There is no such issued sheet.")
    place: dict[str, Any] = {"issued": issued_id, "sheet": row.sheet_id}
    for number, then in sorted(placed_then(row.content).items(), key=lambda one: _area(one[1])):
        if then.box is None or then.corner is None or not within(at, then.box):
            continue
        drawing, places = session.get(Drawing, number), Places(session, project_id)
        if drawing is not None and places.around.drawn(drawing) == then.drawn:
            return place | places.in_frame(drawing, (at[0] - then.x, at[1] - then.y))
        # it is cut otherwise by now: which place of the model was meant is not known any more
        u, v = ((np.array(at) - (then.x, then.y) + then.corner) * then.scale).round(2).tolist()
        return place | {"on": {"drawing": number, "at": [u, v]}}
    return place


def issued_pins(issued_id: int) -> list[IssuedPinOut]:
    """The remarks of an issued sheet: those made on it, and those carried to it, which were not done when it was
    issued."""
    with reading() as session:
        row, issue = issued_row(session, issued_id)
        found = []
        for one in session.exec(select(Remark).where(col(Remark.project_id) == issue.project_id)).all():
            here = one.place.get("issued") == issued_id
            carried = not here and _before(session, one, issue) and state_at(one, issue.created_at) != "done"
            at = _at_issue(one, row) if here or carried else None
            if at is None:
                continue
            state = one.state if here else state_at(one, issue.created_at)
            found.append(
                IssuedPinOut(
                    remark=one.id or 0, number=one.number, state=cast(State, state), at=at,
                    sketch=sketch_about(one, at, 1.0) if "sheet" in one.place else [], carried=carried,
                )
            )  # fmt: skip
        return found


def became(remark_id: int) -> list[BecameOut]:
    """What became of a remark from issue to issue, up to the sheet as it is; nothing of one that is on no sheet."""
    with reading() as session:
        one = session.get(Remark, remark_id)
        if one is None:
            raise NotFound("This remark is not there any more.")
        found: list[BecameOut] = []
        content: dict[str, Any] | None = None
        for row, issue in _issues_of(session, one):
            found.append(
                BecameOut(
                    issued=row.id, code=issue.code, date=issue.date, sheet=row.sheet_id, number=row.number,
                    at=_at_issue(one, row), state=_state_then(one, row, issue),
                    says=_says(one, content, row.content),
                )
            )  # fmt: skip
            content = row.content
        return [*found, *_now(session, one, content)]


def state_at(remark: Remark, moment: datetime) -> str:
    """The state of a remark at a moment, by its thread."""
    said = [one["state"] for one in remark.answers if datetime.fromisoformat(one["at"]) <= moment]
    return str(said[-1]) if said else "open"


def _state_then(remark: Remark, row: IssuedSheet, issue: Issue) -> State:
    before = remark.place.get("issued") == row.id or issue.created_at < remark.created_at
    return "open" if before else cast(State, state_at(remark, issue.created_at))


def _area(then: PlacedThen) -> float:
    left, base, right, top = then.box or (0.0, 0.0, 0.0, 0.0)
    return (right - left) * (top - base)


def _before(session: Session, remark: Remark, issue: Issue) -> bool:
    """Whether a remark was made before an issue: on an earlier one, or by that day."""
    on = remark.place.get("issued")
    if on is not None:
        return issued_row(session, on)[0].issue_id < (issue.id or 0)
    return remark.created_at <= issue.created_at


def _at_issue(remark: Remark, row: IssuedSheet) -> Spot | None:
    """Where on an issued sheet the place of a remark is: with the drawing that it was made in, wherever that stood."""
    place, own = remark.place, drawing_of_place(remark.place)
    if place.get("issued") == row.id:
        return place["at"][0], place["at"][1]
    if own is not None and (then := placed_then(row.content).get(own["drawing"])) is not None:
        if (at := _in_drawing_then(then, own["at"])) is not None:
            return at
    elif own is not None:
        return None
    return (place["at"][0], place["at"][1]) if place.get("sheet") == row.sheet_id else None


def _in_drawing_then(then: PlacedThen, at: list[float]) -> Spot | None:
    if then.corner is None:
        return None
    x, y = (np.array(at) / then.scale - then.corner + (then.x, then.y)).round(2).tolist()
    return x, y


def _issues_of(session: Session, remark: Remark) -> list[tuple[IssuedSheet, Issue]]:
    """The issues of what a remark is on, the one that it was made on, or the last one before it, first."""
    own, sheet = drawing_of_place(remark.place), remark.place.get("sheet")
    rows = select(IssuedSheet, Issue).join(Issue, col(Issue.id) == col(IssuedSheet.issue_id))
    rows = rows.where(col(Issue.project_id) == remark.project_id).order_by(col(Issue.id), col(IssuedSheet.place))
    found: list[tuple[IssuedSheet, Issue]] = []
    for row, issue in session.exec(rows).all():
        stands = own is not None and own["drawing"] in placed_then(row.content)
        if row.sheet_id == sheet or (sheet is None and stands):
            if not _later(remark, row, issue):
                found.clear()
            found.append((row, issue))
    return found


def _later(remark: Remark, row: IssuedSheet, issue: Issue) -> bool:
    """Whether an issue came after a remark."""
    on = remark.place.get("issued")
    return row.id > on if on is not None and row.id is not None else issue.created_at > remark.created_at


def _says(remark: Remark, before: dict[str, Any] | None, after: dict[str, Any]) -> list[str]:
    """What changed of what a remark is on: its drawing, else the sheet."""
    own = drawing_of_place(remark.place)
    if before is None:
        return []
    if own is None:
        return differences(before, after)
    was, now = (placed_then(content).get(own["drawing"]) for content in (before, after))
    if was is None or now is None:
        return [] if was is now else ["the drawing was taken off" if now is None else "the drawing was put on"]
    return changes_of(was, now)


def _now(session: Session, remark: Remark, content: dict[str, Any] | None) -> list[BecameOut]:
    """The sheet as it is: the one that it was made on, or on which its drawing stands."""
    places = Places(session, remark.project_id)
    own, number = drawing_of_place(remark.place), remark.place.get("sheet")
    if number is None and own is not None:
        homes = [p.sheet_id for p in (q for on in places.around.placements.values() for q in on)
                 if p.drawing_id == own["drawing"] and p.home]  # fmt: skip
        number = homes[0] if homes else None
    sheet = session.get(Sheet, number) if number is not None else None
    if sheet is None:
        return []
    stands = own is None or any(one.drawing_id == own["drawing"] for one in places.around.on(sheet))
    pins = places.pins_on(sheet, remark) if stands else []
    return [
        BecameOut(
            issued=None, code="now", date="", sheet=sheet.id or 0, number=sheet.number,
            at=pins[0].at if pins else None, state=cast(State, remark.state),
            says=_says(remark, content, content_of(places.around, sheet)),
        )
    ]  # fmt: skip
