"""Remarks for others: as topics that other programs read, and as a list on paper; and what they answer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any, cast

import numpy as np
from sqlmodel import Session, col, select

from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import corrections_of
from edge_slice.app.output.exports import File
from edge_slice.app.people.rights import Person
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.review.documents import AnswerOut, RemarkOut, State, TopicsRead
from edge_slice.app.review.remarks import MOST_ANSWERS, last_number, planes_of, remarks_of
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.cut.planes.leaves import Leaf, whole_window
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Box, DisplayList, Label, Pen, paths_of
from edge_slice.core.model import Model
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.followed import Followed
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import OUTPUTS, Drawn
from edge_slice.core.render.pdf import Page, to_pdf
from edge_slice.core.sheet.remark_list import HIGH, PAGE, WIDE, ListedRemark, remark_pages
from edge_slice.core.topics.documents import ENDINGS, Topic, Triple, Version, Viewpoint
from edge_slice.core.topics.documents import Remark as Said
from edge_slice.core.topics.reading import UnreadableTopics, read_topics
from edge_slice.core.topics.writing import topics_file
from edge_slice.store.changes import hold, next_version, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, Sheet

KIND, TITLE = "Remark", 80  # letters of a title
STATUSES: dict[State, str] = {"open": "Open", "answered": "In Progress", "done": "Closed"}
DONE = ("closed", "done", "resolved", "solved")  # as programs say it
ANSWERED = ("in progress", "answered", "active", "assigned")
AWAY = 10.0  # metres that a view stands off
DPI = 130.0
MARK, RING = "#b5341c", 4.0  # colour of the mark in a picture, mm of its radius


def topics_of(project_id: int, version: Version, person: Person) -> File:
    """The remarks of a project as a file of topics. Raises `Refused` where there are none."""
    remarks = list(reversed(remarks_of(project_id, person)))
    with reading() as session:
        project = project_row(session, project_id)
        _check_any(remarks)
        pictures = _Pictures(session, project_id)
        topics = [pictures.topic(session.get_one(Remark, one.id), one) for one in remarks]
        data = topics_file(topics, version, project.name)
        return File(f"{plain_name(project.name)} remarks.{ENDINGS[version]}", "application/octet-stream", data)


def list_of(project_id: int, person: Person) -> File:
    """The remarks of a project on paper. Raises `Refused` where there are none."""
    remarks = list(reversed(remarks_of(project_id, person)))
    with reading() as session:
        project = project_row(session, project_id)
        _check_any(remarks)
        pictures = _Pictures(session, project_id)
        listed = [_listed(one, pictures.picture(session.get_one(Remark, one.id))) for one in remarks]
    name = f"{project.name} remarks"
    pages = [Page(display, PAGE, name) for display in remark_pages(f"{project.name}: remarks", listed)]
    return File(f"{plain_name(name)}.pdf", OUTPUTS["pdf"].media_type, to_pdf(pages, name))


def _check_any(remarks: Sequence[RemarkOut]) -> None:
    if not remarks:
        raise Refused("There are no remarks yet.", "")


def _listed(one: RemarkOut, picture: bytes | None) -> ListedRemark:
    about = [one.author, f"to {one.to}" if one.to else "", f"until {one.due}" if one.due else "", one.state]
    answers = tuple((f"{a.author}, {a.at:%Y-%m-%d}: {a.state}", a.text) for a in one.answers)
    return ListedRemark(f"{one.number}  {one.where}", ", ".join(filter(None, about)), one.text, answers, picture)


class _Pictures:
    """Where the remarks of a project are: each drawing and sheet is made once."""

    def __init__(self, session: Session, project_id: int) -> None:
        self.session = session
        self.source = ProjectSource(session, project_id)
        self.drawings, self.followed = Drawings(self.source), Followed(self.source)
        self.around = SheetsAround(session, project_id)
        self.shown: dict[tuple[str, int], DisplayList] = {}
        self.planes: dict[int, tuple[Model, Sequence[Leaf]]] = {}

    def topic(self, row: Remark, one: RemarkOut) -> Topic:
        said = tuple(
            Said(_uuid_like(row.topic, k), a.author, a.at.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"), a.text)
            for k, a in enumerate(one.answers)
        )
        title = one.text.split("\n")[0]
        return Topic(
            guid=row.topic, title=title if len(title) <= TITLE else f"{title[: TITLE - 1]}…", text=one.text,
            status=STATUSES[one.state], author=one.author, created=one.created_at, remarks=said,
            viewpoint=self._viewpoint(row), picture=self.picture(row), kind=KIND, assigned=one.to, due=one.due,
        )  # fmt: skip

    def picture(self, row: Remark) -> bytes | None:
        """A picture (PNG) of the place of a remark, with a mark on it; None where that is nowhere any more."""
        found = self._on_paper(row)
        if found is None:
            return None
        display, (x, y) = found
        box: Box = (x - WIDE / 2, y - HIGH / 2, x + WIDE / 2, y + HIGH / 2)
        ring = [[(x + RING * np.cos(t), y + RING * np.sin(t)) for t in np.linspace(0, 2 * np.pi, 48)]]
        mark = (
            paths_of("remark", ring, Pen(0.7, MARK), closed=True),
            Label("remark", str(row.number), x + RING + 1.0, y + RING, 3.5, MARK),
        )
        marked = replace(display, items=(*display.items, *mark))
        return OUTPUTS["png"].file(Drawn(marked, box, f"Remark {row.number}", None, DPI))

    def _on_paper(self, row: Remark) -> tuple[DisplayList, tuple[float, float]] | None:
        u, v = row.place["at"]
        if (number := row.place.get("sheet")) is not None:
            sheet = self.session.get(Sheet, number)
            return None if sheet is None else (self._shown("sheet", sheet), (u, v))
        drawing = self._drawing(row)
        if drawing is None:
            return None
        _, leaves = self._planes(drawing)
        style = DrawingSpec.model_validate(drawing.style)
        at = np.array([[u, v]]) / style.scale
        if leaves:
            rule = self.source.standard(style.standard).breaks
            fold = Fold.of(whole_window(tuple(leaves)), self.followed.cut_of(drawing).extents, style.scale, rule)
            at = fold.points(at)
        return self._shown("drawing", drawing), (float(at[0, 0]), float(at[0, 1]))

    def _drawing(self, row: Remark) -> Drawing | None:
        number = row.place.get("drawing")
        return None if number is None else self.session.get(Drawing, number)

    def _planes(self, row: Drawing) -> tuple[Model, Sequence[Leaf]]:
        number = row.id or 0
        if number not in self.planes:
            self.planes[number] = planes_of(self.source, row)
        return self.planes[number]

    def _shown(self, of: str, row: Sheet | Drawing) -> DisplayList:
        key = (of, row.id or 0)
        if key not in self.shown:
            self.shown[key] = self.around.display(row) if isinstance(row, Sheet) else self.drawings.display(row)
        return self.shown[key]

    def _viewpoint(self, row: Remark) -> Viewpoint | None:
        """Square to the cut in which the remark was made, opened by it."""
        point, drawing = row.place.get("point"), self._drawing(row)
        if point is None or drawing is None:
            return None
        model, leaves = self._planes(drawing)
        if not leaves:
            return None
        return _seen_at(model, min(leaves, key=lambda leaf: _beside(model, leaf, point)), point)


def _beside(model: Model, leaf: Leaf, point: Sequence[float]) -> float:
    """mm by which a place lies off a plane."""
    return abs(float(leaf.axes.to_drawing(np.array([point]) - np.array(model.origin))[0, 2]))


def _seen_at(model: Model, leaf: Leaf, point: Sequence[float]) -> Viewpoint:
    looks, up, at = leaf.axes.w, leaf.axes.v, np.array(point)
    plane = leaf.axes.origin + np.array(model.origin)
    opened = ((_triple(plane), _triple(-looks)),)
    return Viewpoint(_triple(at - looks * AWAY), _triple(looks), _triple(up), AWAY, (), opened)


def _triple(values: Any) -> Triple:
    x, y, z = (float(value) for value in values)
    return x, y, z


def _uuid_like(name: str, k: int) -> str:
    """The name of the answer number k: the same each time."""
    return f"{name[:-12]}{(int(name[-12:], 16) + k + 1) % 16**12:012x}"


def read_into(project_id: int, data: bytes, person: Person, author: str) -> TopicsRead:
    """Take what others say from a file of topics: answers to remarks of the project, and remarks of theirs, which have
    no place here. Topics that answer corrections are left to these. Raises `Refused`."""
    try:
        topics = read_topics(data)
    except UnreadableTopics as error:
        raise Refused(str(error), "file") from error
    with transaction() as session:
        hold(session, project_id)
        project = project_row(session, project_id)
        rows = {
            row.topic: row for row in session.exec(select(Remark).where(col(Remark.project_id) == project_id)).all()
        }
        corrections = {one.topic for one in corrections_of(project) if one.topic}
        answered = new = 0
        for topic in topics:
            if topic.guid in corrections:
                continue
            row = rows.get(topic.guid)
            if row is None:
                row = _new(session, project_id, topic, author)
                new += 1
            elif not _says_more(row, topic):
                continue
            else:
                answered += 1
            _take(row, topic)
            row.version = next_version(session)
            session.add(row)
            session.flush()
        if answered or new:
            notify(session, project_id, "remarks")
        return TopicsRead(answered=answered, new=new, others=len(topics) - answered - new)


def _new(session: Session, project_id: int, topic: Topic, author: str) -> Remark:
    text = "\n".join(filter(None, (topic.title, topic.text if topic.text != topic.title else "")))
    row = Remark(
        project_id=project_id, number=last_number(session, project_id) + 1, topic=topic.guid,
        author=topic.author or author or "Somebody", text=text[:4000] or "—", to=topic.assigned[:80],
        due=topic.due if _is_day(topic.due) else "", place={"at": [0.0, 0.0]}, version=next_version(session),
        created_at=topic.created or datetime.now(UTC),
    )  # fmt: skip
    session.add(row)
    return row


def _is_day(text: str) -> bool:
    try:
        return len(text) == 10 and bool(datetime.fromisoformat(text))
    except ValueError:
        return False


def _fresh(row: Remark, topic: Topic) -> list[Said]:
    """What of a topic is not said here yet."""
    known = {(one["author"], one["text"]) for one in row.answers}
    return [one for one in topic.remarks if one.text and (one.author or "Somebody", one.text) not in known]


def _says_more(row: Remark, topic: Topic) -> bool:
    return bool(_fresh(row, topic)) or _state(topic, row.state) != row.state


def _take(row: Remark, topic: Topic) -> None:
    state = _state(topic, row.state)
    fresh = _fresh(row, topic)
    said = [
        AnswerOut(author=one.author or "Somebody", at=_moment(one.date), text=one.text,
                  state=state if one is fresh[-1] else cast(State, row.state)).model_dump(mode="json")
        for one in fresh
    ]  # fmt: skip
    row.answers = [*row.answers, *said][:MOST_ANSWERS]
    row.state = state


def _state(topic: Topic, before: str) -> State:
    """What a status says, in our words."""
    said = topic.status.strip().lower()
    if said in DONE:
        return "done"
    if said in ANSWERED:
        return "answered"
    return "open" if said == "open" else cast(State, before)


def _moment(text: str) -> datetime:
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return datetime.now(UTC)
    return found if found.tzinfo else found.replace(tzinfo=UTC)
