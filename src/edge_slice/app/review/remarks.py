"""Remarks: pinned to a place of a sheet, or of the model as a drawing shows it, answered, done. What a drawing was
remarked on shows in every drawing in which that place of the model shows."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func
from sqlmodel import Session, col, select

from edge_slice.app.drawings.drawing_rows import drawing_of, drawing_row
from edge_slice.app.errors import NotFound, Refused, Stale
from edge_slice.app.models.in_memory import newest_revision
from edge_slice.app.people.rights import Person
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.review.documents import (
    AnswerNew,
    AnswerOut,
    NoticeWhat,
    PinOut,
    RemarkEdit,
    RemarkNew,
    RemarkOut,
    State,
)
from edge_slice.app.review.notices import notify_people, who_hears_of
from edge_slice.app.row_lookup import project_row
from edge_slice.core.cut import BlankCut, ImpossibleCut
from edge_slice.core.cut.planes.leaves import Leaf, leaves_of
from edge_slice.core.model import Model
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.followed import Followed
from edge_slice.store.changes import hold, next_version, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, Sheet

F64 = NDArray[np.float64]
MOST_ANSWERS = 500
BEFORE = 300.0  # mm before a cut in which what was remarked there still shows: a wall is as thick


def remarks_of(project_id: int, person: Person) -> list[RemarkOut]:
    """The remarks of a project, the newest first."""
    with reading() as session:
        project_row(session, project_id)
        mine = select(Remark).where(col(Remark.project_id) == project_id).order_by(col(Remark.number).desc())
        return _out(session, session.exec(mine).all(), project_id, person)


def add(project_id: int, new: RemarkNew, person: Person, author: str) -> RemarkOut:
    """Raises `NotFound` for a sheet or drawing that is not there."""
    with transaction() as session:
        hold(session, project_id)
        project_row(session, project_id)
        place: dict[str, Any] = {"at": list(new.at)}
        if new.sheet is not None:
            sheet = session.get(Sheet, new.sheet)
            if sheet is None or sheet.project_id != project_id:
                raise NotFound("This sheet is not there any more.")
            place["sheet"] = new.sheet
        elif new.drawing is not None:
            row = drawing_of(session, project_id, new.drawing)
            place |= {"drawing": new.drawing, "point": _in_model(session, row, new.at)}
        remark = Remark(
            project_id=project_id, number=last_number(session, project_id) + 1, account_id=person.account,
            author=author or "Somebody", text=new.text.strip(), to=new.to.strip(), due=new.due, place=place,
            version=next_version(session),
        )  # fmt: skip
        found = _kept(session, remark, person)
        notify_people(session, who_hears_of(session, remark, "remark"), person, "remark", remark.text, remark)
        return found


def last_number(session: Session, project_id: int) -> int:
    """The newest remark's number, of a project that is held."""
    return session.exec(select(func.max(Remark.number)).where(col(Remark.project_id) == project_id)).one() or 0


def edit(remark_id: int, said: RemarkEdit, person: Person) -> RemarkOut:
    """Other words, another state. Raises `Stale` where somebody else was sooner."""
    with transaction() as session:
        row = _held(session, remark_id)
        if row.version != said.version:
            (now,) = _out(session, [row], row.project_id, person)
            raise Stale("This remark was changed in another window; its newer state is shown.", now)
        state, to = row.state, row.to
        for key in ("text", "to", "due", "state"):
            if (value := getattr(said, key)) is not None:
                setattr(row, key, value.strip())
        if row.state == "done" and state != "done":
            notify_people(session, who_hears_of(session, row, "done"), person, "done", row.text, row)
        elif row.to and row.to != to:
            notify_people(session, who_hears_of(session, row, "remark"), person, "remark", row.text, row)
        return _kept(session, row, person)


def answer(remark_id: int, said: AnswerNew, person: Person, author: str) -> RemarkOut:
    """A word to a remark."""
    with transaction() as session:
        row = _held(session, remark_id)
        if len(row.answers) >= MOST_ANSWERS:
            raise Refused(f"A remark has {MOST_ANSWERS} answers at most; make another one.", "text")
        given = AnswerOut(
            author=author or "Somebody", at=datetime.now(UTC), text=said.text.strip(), state=said.state
        )  # fmt: skip
        what: NoticeWhat = "done" if said.state == "done" else "answer"
        notify_people(session, who_hears_of(session, row, what), person, what, given.text, row)
        row.answers = [*row.answers, {**given.model_dump(mode="json"), "account": person.account}]
        row.state = said.state
        return _kept(session, row, person)


def delete(remark_id: int) -> None:
    with transaction() as session:
        row = _held(session, remark_id)
        notify(session, row.project_id, "remarks", [("remark", remark_id, None)])
        session.delete(row)


def is_own(remark_id: int, person: Person) -> bool:
    """Whether somebody made a remark; where nobody signs in, everybody did."""
    with reading() as session:
        row = session.get(Remark, remark_id)
        return person.sees_all or (row is not None and row.account_id == person.account)


def pins_in(drawing_id: int) -> list[PinOut]:
    """The remarks whose place a drawing shows, and where."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        rows = session.exec(select(Remark).where(col(Remark.project_id) == row.project_id)).all()
        rows = [one for one in rows if "drawing" in one.place]
        if not rows:
            return []
        model, leaves = planes_of(ProjectSource(session, row.project_id), row)
        found = []
        for one in rows:
            own, point = one.place["drawing"] == drawing_id, one.place.get("point")
            at = tuple(one.place["at"]) if point is None and own else _seen(model, leaves, point, own)
            if at is not None:
                found.append(PinOut(remark=one.id or 0, number=one.number, state=cast(State, one.state), at=at))
        return found


def _in_model(session: Session, row: Drawing, at: tuple[float, float]) -> list[float] | None:
    """The place of the model, as surveyed, in the plane of a drawing's cut; None where it has none."""
    model, leaves = planes_of(ProjectSource(session, row.project_id), row)
    if not leaves:
        return None
    leaf = min(leaves, key=lambda one: max(one.window[0] - at[0], at[0] - one.window[2]))
    point = leaf.axes.to_model(np.array([at]))[0] + np.array(model.origin)
    return [round(float(x), 4) for x in point]


def planes_of(source: ProjectSource, row: Drawing) -> tuple[Model, Sequence[Leaf]]:
    """What a drawing is cut by; no plane where it is a view of an eye, or has nothing of the model in it."""
    cut = Followed(source).cut_of(row)
    if isinstance(cut, BlankCut) or getattr(cut, "perspective", None) is not None:
        return source.model, ()
    try:
        return source.model, leaves_of(source.model, cut)
    except ImpossibleCut:
        return source.model, ()


def _seen(model: Model, leaves: Sequence[Leaf], point: Sequence[float] | None, own: bool) -> tuple[float, float] | None:
    """Where a place of the model shows in a drawing; in its `own` one also where that does not look so far any more."""
    if point is None:
        return None
    for leaf in leaves:
        u, v, w = leaf.axes.to_drawing(np.array([point]) - np.array(model.origin))[0].tolist()
        left, base, right, top = leaf.window
        near = own or -BEFORE <= w <= leaf.far
        if left <= u <= right and base <= v <= top and near:
            return round(u, 2), round(v, 2)
    return None


def _from_origin(origin: F64, row: Remark) -> tuple[float, float, float] | None:
    """A place of the model as the model in use has it."""
    point = row.place.get("point")
    if point is None:
        return None
    x, y, z = (np.array(point) - origin).round(4).tolist()
    return x, y, z


def _held(session: Session, remark_id: int) -> Remark:
    row = session.get(Remark, remark_id, with_for_update=True)
    if row is None:
        raise NotFound("This remark is not there any more.")
    return row


def _kept(session: Session, row: Remark, person: Person) -> RemarkOut:
    row.version = next_version(session)
    session.add(row)
    session.flush()
    notify(session, row.project_id, "remarks", [("remark", row.id or 0, row.version)])
    (found,) = _out(session, [row], row.project_id, person)
    return found


def _out(session: Session, rows: Sequence[Remark], project_id: int, person: Person) -> list[RemarkOut]:
    if not rows:
        return []
    sheets = {one.id: one for one in session.exec(select(Sheet).where(col(Sheet.project_id) == project_id)).all()}
    on = {one.place.get("drawing") for one in rows} - {None}
    there = session.exec(select(Drawing).where(col(Drawing.project_id) == project_id, col(Drawing.id).in_(on))).all()
    drawings = Drawings(ProjectSource(session, project_id)) if there else None
    origin = np.array(newest_revision(session, project_id).facts["origin"])
    titles = {row.id: drawings.title(row) for row in there} if drawings else {}
    found = []
    for row in rows:
        sheet, drawing = row.place.get("sheet"), row.place.get("drawing")
        known = sheets.get(sheet)
        where = f"{known.number} {known.title}" if known else titles.get(drawing, "")
        u, v = row.place["at"]
        found.append(
            RemarkOut(
                id=row.id or 0, number=row.number, author=row.author,
                own=person.sees_all or row.account_id == person.account, text=row.text, to=row.to, due=row.due,
                state=cast(State, row.state), sheet=sheet, drawing=drawing, at=(u, v),
                where=where or ("what is not there any more" if sheet or drawing else "from another program"),
                here=where != "", point=_from_origin(origin, row),
                answers=[AnswerOut.model_validate(one) for one in row.answers], version=row.version,
                created_at=row.created_at,
            )
        )  # fmt: skip
    return found
