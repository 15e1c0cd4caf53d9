"""Corrections sent to those whose model it is, and what they answer."""

from __future__ import annotations

from collections.abc import Callable, Collection
from datetime import UTC, datetime

from pydantic import BaseModel
from sqlmodel import Session

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import (
    bare_model,
    corrected_model,
    corrections_of,
    kept_corrections,
    names_of,
    newest_revision,
    written,
)
from edge_slice.app.models.part_states import as_they_are
from edge_slice.app.output.exports import File
from edge_slice.app.row_lookup import project_row
from edge_slice.core.drawing import default_standard
from edge_slice.core.model.corrections.becoming import became
from edge_slice.core.model.corrections.documents import Correction
from edge_slice.core.model.corrections.saying import MOST_REMARKS, Answered
from edge_slice.core.model.parts.places import AS_IT_IS, taken_back
from edge_slice.core.model.revisions import revised
from edge_slice.core.project.shown import key_of
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.topics.documents import ENDINGS, Topic, Triple, Version
from edge_slice.core.topics.of_corrections import Asking, picture_of_correction, topic_of
from edge_slice.core.topics.reading import UnreadableTopics, read_topics
from edge_slice.core.topics.writing import topics_file
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.kept import kept
from edge_slice.store.tables import Project, Revision

MEDIA = "application/octet-stream"


class AnswersOut(BaseModel):
    """How many of the topics of a file are answers to corrections of the project, and how many are not."""

    answered: int
    others: int


def topics_of(project_id: int, version: Version, only: Collection[str] = ()) -> File:
    """The corrections that the file does not have yet as a file of topics; `only` those that are sent under these
    names, where some are said. Raises `Refused` where there are none."""
    with reading() as session:
        project = project_row(session, project_id)
        newest = newest_revision(session, project_id)
        before = bare_model(session, newest)
        told = [one for one in became(before, corrections_of(project)) if one.elements and one.of.topic]
        told = [one for one in told if not only or one.of.topic in only]
        if not told:
            raise Refused("There is no correction to ask for: the model has everything so, or nothing of it.", "")
        asking = _asking(session, project, newest)
        topics = [topic_of(asking, one, newest.created_at) for one in told]
        data = topics_file(topics, version, project.name)
        return File(f"{plain_name(project.name)} corrections.{ENDINGS[version]}", MEDIA, data)


def picture_of(project_id: int, topic: str) -> File:
    """A picture (PNG) of what a correction takes away and brings, by the name under which it is sent."""
    with reading() as session:
        project = project_row(session, project_id)
        newest = newest_revision(session, project_id)
        name = names_of(session, newest).corrected

        def make() -> bytes:
            told = next(
                (one for one in became(bare_model(session, newest), corrections_of(project)) if one.of.topic == topic),
                None,
            )
            found = told and told.elements and picture_of_correction(_asking(session, project, newest), told)
            if not found:
                raise NotFound("There is no picture of this correction: nothing is drawn by it.")
            return found

        data = kept(session, project_id, key_of("correction", newest.geometry_hash, name, topic), make)
        return File("correction.png", "image/png", data)


def _asking(session: Session, project: Project, revision: Revision) -> Asking:
    before, after = bare_model(session, revision), corrected_model(session, revision)
    changes = revised(before, after)[1]
    return Asking(before, after, changes, default_standard(), written(project), _in_file(session, revision))


def _in_file(session: Session, revision: Revision) -> Callable[[int, Triple], Triple]:
    model, places = bare_model(session, revision), as_they_are(session, revision)

    def in_file(element: int, point: Triple) -> Triple:
        x, y, z = (a + b for a, b in zip(point, model.origin, strict=True))
        key = model.parts[model.elements[element].part].key if model.parts else next(iter(places))
        return taken_back((x, y, z), places[key][1] if key in places else AS_IT_IS)

    return in_file


def read_answers(project_id: int, data: bytes, author: str) -> AnswersOut:
    """Take what others answered to corrections, by the names under which they were sent. Raises `Refused`."""
    try:
        topics = {topic.guid: topic for topic in read_topics(data)}
    except UnreadableTopics as error:
        raise Refused(str(error), "file") from error
    with transaction() as session:
        row = project_row(session, project_id)
        before = corrections_of(row)
        after = [_answered(one, topics.get(one.topic)) for one in before]
        answered = sum(one.topic in topics for one in before if one.topic)
        if after != before:
            with recorded(session, project_id, "read answers to corrections", author) as act:
                act.edits(row)
                row.corrections = kept_corrections(after)
        return AnswersOut(answered=answered, others=len(topics) - answered)


def _answered(one: Correction, topic: Topic | None) -> Correction:
    if topic is None or not one.topic:
        return one
    before = one.answer.remarks if one.answer else ()
    new = [f"{r.author or 'unknown'}, {r.date[:10]}: {r.text}" for r in topic.remarks]
    said = tuple(dict.fromkeys((*before, *new)))[-MOST_REMARKS:]
    asked = one.asked or datetime.now(UTC).date().isoformat()
    return one.model_copy(update={"answer": Answered(status=topic.status[:100], remarks=said), "asked": asked})
