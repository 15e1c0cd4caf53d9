"""Remarks for others as topics that other programs read; and what they answer and remark."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, cast

from sqlmodel import Session, col, select

from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import corrections_of
from edge_slice.app.output.exports import File
from edge_slice.app.people.rights import Person
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.review.documents import AnswerOut, RemarkOut, State, TopicsRead
from edge_slice.app.review.on_paper import check_any
from edge_slice.app.review.pictures import Pictures
from edge_slice.app.review.remarks import MOST_ANSWERS, last_number, remarks_of
from edge_slice.app.row_lookup import project_row
from edge_slice.core.model import Model
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.topics.documents import ENDINGS, Topic, Version
from edge_slice.core.topics.documents import Remark as Said
from edge_slice.core.topics.places import place_of
from edge_slice.core.topics.reading import UnreadableTopics, read_topics
from edge_slice.core.topics.writing import topics_file
from edge_slice.store.changes import hold, next_version, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.review import Remark

KIND, TITLE = "Remark", 80  # letters of a title
STATUSES: dict[State, str] = {"open": "Open", "answered": "In Progress", "done": "Closed"}
DONE = ("closed", "done", "resolved", "solved")  # as programs say it
ANSWERED = ("in progress", "answered", "active", "assigned")


def topics_of(project_id: int, version: Version, person: Person) -> File:
    """The remarks of a project as a file of topics. Raises `Refused` where there are none."""
    remarks = list(reversed(remarks_of(project_id, person)))
    with reading() as session:
        project = project_row(session, project_id)
        check_any(remarks)
        pictures = Pictures(session, project_id)
        topics = [_topic(pictures, session.get_one(Remark, one.id), one) for one in remarks]
        data = topics_file(topics, version, project.name)
        return File(f"{plain_name(project.name)} remarks.{ENDINGS[version]}", "application/octet-stream", data)


def _topic(pictures: Pictures, row: Remark, one: RemarkOut) -> Topic:
    said = tuple(
        Said(_uuid_like(row.topic, k), a.author, a.at.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"), a.text)
        for k, a in enumerate(one.answers)
        if a.text
    )
    title = one.text.split("\n")[0]
    return Topic(
        guid=row.topic, title=title if len(title) <= TITLE else f"{title[: TITLE - 1]}…", text=one.text,
        status=STATUSES[one.state], author=one.author, created=one.created_at, remarks=said,
        viewpoint=pictures.viewpoint(row), picture=pictures.picture(row), kind=KIND, assigned=one.to, due=one.due,
    )  # fmt: skip


def _uuid_like(name: str, k: int) -> str:
    """The name of the answer number k: the same each time."""
    return f"{name[:-12]}{(int(name[-12:], 16) + k + 1) % 16**12:012x}"


def read_into(project_id: int, data: bytes, person: Person, author: str) -> TopicsRead:
    """Take what others say from a file of topics: answers to remarks of the project, and remarks of theirs, at the
    place of the model that they look at. Topics that answer corrections are left to these. Raises `Refused`."""
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
        source, answered, new = ProjectSource(session, project_id), 0, 0
        for topic in topics:
            if topic.guid in corrections:
                continue
            row = rows.get(topic.guid)
            if row is None:
                row = _new(session, project_id, topic, author)
                row.place = {**row.place, **_place(source.model, topic)}
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


def _place(model: Model, topic: Topic) -> dict[str, Any]:
    """The place of the model that a topic is about, if it says one."""
    point = place_of(topic.viewpoint, model) if topic.viewpoint is not None else None
    return {"point": list(point)} if point is not None else {}


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
