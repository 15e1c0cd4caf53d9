"""Remarks: pinned to a place of a sheet, or of the model as a drawing shows it, answered, done. What was remarked on in
a drawing shows in every drawing, and on every sheet, in which that place of the model shows."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func
from sqlmodel import Session, col, select

from edge_slice.app.annotating.pictures import check_loaded
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
from edge_slice.app.review.places import Places
from edge_slice.app.review.reviewing import issued_names, place_on_issued
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.sheet_views import sheet_row
from edge_slice.core.project.drawings import Drawings
from edge_slice.store.changes import hold, next_version, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, Sheet

F64 = NDArray[np.float64]
MOST_ANSWERS = 500


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
        if new.picture:
            check_loaded(session, project_id, new.picture, "picture")
        remark = Remark(
            project_id=project_id, number=last_number(session, project_id) + 1, account_id=person.account,
            author=author or "Somebody", text=new.text.strip(), to=new.to.strip(), due=new.due,
            place=_place(session, project_id, new), sketch=[[list(at) for at in stroke] for stroke in new.sketch],
            picture=new.picture, version=next_version(session),
        )  # fmt: skip
        found = _kept(session, remark, person)
        notify_people(session, who_hears_of(session, remark, "remark"), person, "remark", remark.text, remark)
        return found


def _place(session: Session, project_id: int, new: RemarkNew) -> dict[str, Any]:
    """Where a remark is, as it is kept."""
    place: dict[str, Any] = {"at": list(new.at)}
    if new.issued is not None:
        return place | place_on_issued(session, project_id, new.issued, new.at)
    if new.drawing is not None:
        row = drawing_of(session, project_id, new.drawing)
        return place | {"drawing": new.drawing, "point": Places(session, project_id).in_model(row, new.at)}
    sheet = session.get(Sheet, new.sheet)
    if sheet is None or sheet.project_id != project_id:
        raise NotFound("This sheet is not there any more.")
    return place | {"sheet": new.sheet} | Places(session, project_id).under(sheet, new.at)


def last_number(session: Session, project_id: int) -> int:
    """The newest remark's number, of a project that is held."""
    return session.exec(select(func.max(Remark.number)).where(col(Remark.project_id) == project_id)).one() or 0


def edit(remark_id: int, said: RemarkEdit, person: Person, author: str) -> RemarkOut:
    """Other words, another state, of which the thread tells. Raises `Stale` where somebody else was sooner."""
    with transaction() as session:
        row = _held(session, remark_id)
        if row.version != said.version:
            (now,) = _out(session, [row], row.project_id, person)
            raise Stale("This remark was changed in another window; its newer state is shown.", now)
        state, to = row.state, row.to
        for key in ("text", "to", "due", "state"):
            if (value := getattr(said, key)) is not None:
                setattr(row, key, value.strip())
        if row.state != state:
            _say(row, "", cast(State, row.state), person, author)
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
        what: NoticeWhat = "done" if said.state == "done" else "answer"
        notify_people(session, who_hears_of(session, row, what), person, what, said.text.strip(), row)
        _say(row, said.text.strip(), said.state, person, author)
        row.state = said.state
        return _kept(session, row, person)


def _say(row: Remark, text: str, state: State, person: Person, author: str) -> None:
    """A word in the thread of a remark."""
    given = AnswerOut(author=author or "Somebody", at=datetime.now(UTC), text=text, state=state)
    row.answers = [*row.answers, {**given.model_dump(mode="json"), "account": person.account}]


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
        remarks = _of_project(session, row.project_id)
        if not remarks:
            return []
        places = Places(session, row.project_id)
        return [pin for one in remarks if (pin := places.pin_in(row, one)) is not None]


def pins_on(sheet_id: int) -> list[PinOut]:
    """The remarks whose place a sheet shows, and where: on its paper and in its drawings."""
    with reading() as session:
        sheet = sheet_row(session, sheet_id)
        remarks = _of_project(session, sheet.project_id)
        if not remarks:
            return []
        places = Places(session, sheet.project_id)
        return [pin for one in remarks for pin in places.pins_on(sheet, one)]


def _of_project(session: Session, project_id: int) -> Sequence[Remark]:
    return session.exec(select(Remark).where(col(Remark.project_id) == project_id).order_by(col(Remark.number))).all()


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
    issued = issued_names(session, {one.place["issued"] for one in rows if "issued" in one.place})
    on = {one.place.get("drawing") for one in rows} - {None}
    there = session.exec(select(Drawing).where(col(Drawing.project_id) == project_id, col(Drawing.id).in_(on))).all()
    drawings = Drawings(ProjectSource(session, project_id)) if there else None
    origin = np.array(newest_revision(session, project_id).facts["origin"])
    titles = {row.id: drawings.title(row) for row in there} if drawings else {}
    found = []
    for row in rows:
        sheet, drawing, release = (row.place.get(key) for key in ("sheet", "drawing", "issued"))
        known, point = sheets.get(sheet), _from_origin(origin, row)
        where = f"{known.number} {known.title}" if known else titles.get(drawing, "")
        where = issued.get(release, where)
        outside = not (sheet or drawing)
        u, v = row.place["at"]
        found.append(
            RemarkOut(
                id=row.id or 0, number=row.number, author=row.author,
                own=person.sees_all or row.account_id == person.account, text=row.text, to=row.to, due=row.due,
                state=cast(State, row.state), sheet=sheet, issued=release, drawing=drawing, at=(u, v),
                picture=row.picture,
                where=where or ("from another program" if outside else "what is not there any more"),
                here=where != "" or (outside and point is not None), point=point,
                answers=[AnswerOut.model_validate(one) for one in row.answers], version=row.version,
                created_at=row.created_at,
            )
        )  # fmt: skip
    return found
