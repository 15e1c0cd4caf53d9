"""What was read of a file, proposed to its project: which part it is, where it lies, and what changes with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import bare_model, facts_of, newest_revision
from edge_slice.app.models.part_documents import PartChoice, PartEdit, PartProposal, PartState
from edge_slice.app.models.part_states import part_model, put_beside, states_of
from edge_slice.app.models.revision_documents import SeenIn
from edge_slice.app.models.revisions import document_of_changes
from edge_slice.app.project_source import ProjectSource
from edge_slice.core.cut.following.seen_changes import sees_change
from edge_slice.core.model import Model
from edge_slice.core.model.parts.disciplines import guessed_discipline
from edge_slice.core.model.parts.places import AS_IT_IS, PartPlace, by_two_points, proposed_place, taken_back
from edge_slice.core.model.parts.states import as_known
from edge_slice.core.model.parts.telling_apart import KnownPart, told_apart
from edge_slice.core.model.revisions import ModelChanges
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from edge_slice.core.project.drawings import Drawings
from edge_slice.store.blobs import drop_unused, read_chunks, store_bytes
from edge_slice.store.changes import notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import ModelImport, Revision, RevisionPart

MOST_PARTS, MOST_SEEN = 30, 200


def propose(session: Session, row: ModelImport, model: Model, choice: PartChoice | None = None) -> None:
    """Keep a model that was read as a part of a project, a newer one or another one, until somebody takes it; `choice`:
    what somebody said of it."""
    assert row.into_id is not None
    newest = newest_revision(session, row.into_id)
    states = states_of(session, newest)
    before = bare_model(session, newest)
    proposal = _chosen(session, row, states, model, choice or PartChoice())
    key = proposal.key or _free_key(session, row.into_id, states)
    there = next((s for s in states if s.key == key), None)
    others = [part_model(session, s) for s in states if s.key != key]
    known, own = as_known(model, part_model(session, there) if there else None, others, key)
    former = {row.part_hash, row.geometry_hash}
    row.read_hash = row.read_hash or store_bytes(session, model_to_bytes(model))
    row.part_hash = row.read_hash if known is model else store_bytes(session, model_to_bytes(known))
    state = PartState(
        key=key, name=proposal.name, discipline=proposal.discipline, file_name=row.file_name,
        file_hash=row.file_hash or "", geometry_hash=row.part_hash, place=proposal.place,
        read_as={name: value for name, value in (("unit", row.unit), ("up", row.up)) if value},
    )  # fmt: skip
    after = [state if s.key == key else s for s in states] if there else [*states, state]
    if own is not None and len(after) == 1 and state.place == AS_IT_IS:  # the whole is the one file as it was read
        whole, changes, row.geometry_hash = known, own, row.part_hash
    else:
        whole, changes = put_beside(session, after, before, {key: known})
        row.geometry_hash = store_bytes(session, model_to_bytes(whole))
    changes = replace(changes, another=own is not None and own.another)
    row.facts = facts_of(whole, row.unit, row.up).model_dump(mode="json")
    row.part = proposal.model_dump(mode="json")
    _proposed(session, row, newest, after, (before, whole), changes)
    for name in former - {row.part_hash, row.geometry_hash, None}:
        drop_unused(session, name)


def propose_earlier(session: Session, row: ModelImport, newest: Revision, earlier: Revision) -> None:
    """Propose an earlier revision anew: all its parts as they were."""
    states, before = states_of(session, earlier), bare_model(session, newest)
    whole, changes = put_beside(session, states, before, {})
    row.geometry_hash = store_bytes(session, model_to_bytes(whole))
    row.facts = earlier.facts
    _proposed(session, row, newest, states, (before, whole), changes)


def _proposed(
    session: Session,
    row: ModelImport,
    newest: Revision,
    parts: Sequence[PartState],
    models: tuple[Model, Model],
    changes: ModelChanges,
) -> None:
    """Say that a state of all parts is proposed: what changes to it from the model in use, and in which drawings."""
    project_id = newest.project_id
    told = document_of_changes(session, project_id, newest.number, models[0], changes)
    seen = _seen_in(session, project_id, models, changes)
    row.changes = told.model_copy(update={"seen_in": seen}).model_dump(mode="json")
    row.parts = [s.model_dump(mode="json") for s in parts]
    row.state, row.progress, row.message = "proposed", 1.0, ""
    session.add(row)
    session.flush()
    notify(session, project_id, "import")
    notify(session, None, "import")


def _seen_in(session: Session, project_id: int, states: tuple[Model, Model], changes: ModelChanges) -> list[SeenIn]:
    """The drawings that see what changes between two states of a model; those that are held don't."""
    around = Drawings(ProjectSource(session, project_id))
    found = []
    for row in around.source.drawings():
        cut = around.followed.cut_of(row)
        if cut.held is None and sees_change(*states, cut, changes.changed_guids):
            found.append(SeenIn(drawing_id=row.id or 0, title=around.title(row)))
    return found[:MOST_SEEN]


def told_anew(import_id: int) -> None:
    """Where another revision was taken since a file was proposed, tell what it would change now. Raises `Refused`, so
    that somebody looks at it, where that is so."""
    with reading() as session:
        row = session.get(ModelImport, import_id)
        if row is None or row.state != "proposed" or row.into_id is None or row.read_hash is None:
            return
        newest = newest_revision(session, row.into_id).number
        if row.changes["since"] == newest:
            return
    choose(import_id, PartChoice())
    raise Refused(
        f"Revision {newest} was taken meanwhile. What this file changes is told anew: look at it, and take it then.",
        "since",
    )


def choose(import_id: int, choice: PartChoice) -> ModelImport:
    """Say of a proposed file which part it is, and where it lies; what changes with it is told anew."""
    with transaction() as session:
        row = session.get(ModelImport, import_id, with_for_update=True)
        if row is None or row.state != "proposed" or row.read_hash is None:
            raise NotFound("This revision is not proposed any more.")
        name = row.read_hash
        propose(session, row, model_from_bytes(b"".join(read_chunks(session, name))), choice)
        return row


def _chosen(
    session: Session, row: ModelImport, states: list[PartState], model: Model, choice: PartChoice
) -> PartProposal:
    """What a file is proposed as: as somebody says, else as was proposed before, else as it seems."""
    found = PartProposal.model_validate(row.part) if row.part else _seems(session, row, states, model)
    said = choice.model_fields_set
    if choice.key is not None and choice.key != found.key:
        there = next((s for s in states if s.key == choice.key), None)
        if choice.key and there is None:
            raise Refused("The project has no such part any more; choose another one.", "key")
        if there is not None:
            named = {"name": there.name, "discipline": there.discipline, "place": there.place, "by": "hand",
                     "placed_surely": True, "placed_says": ""}  # fmt: skip
            found = found.model_copy(update={"key": choice.key, **named})
        else:
            found = _of_its_own(states, before_of(session, row), model, row.file_name, found)
        found = found.model_copy(update={"sure": True, "says": "Chosen by hand."})
    update: dict[str, Any] = {f: getattr(choice, f) for f in ("name", "discipline") if f in said and getattr(choice, f)}
    place = place_said(choice, found.place, before_of(session, row))
    if place is not None:
        update |= {"place": place, "by": "hand", "placed_surely": True, "placed_says": ""}
    return found.model_copy(update=update)


def before_of(session: Session, row: ModelImport) -> Model:
    """The model that a proposed file is to come into."""
    assert row.into_id is not None
    return bare_model(session, newest_revision(session, row.into_id))


def _seems(session: Session, row: ModelImport, states: list[PartState], model: Model) -> PartProposal:
    known = [KnownPart(s.key, s.name, s.file_name, s.discipline, part_model(session, s)) for s in states]
    told = told_apart(known, model, row.file_name)
    there = next((s for s in states if s.key == told.key), None)
    if there is not None:
        return PartProposal(
            key=told.key, name=there.name, discipline=there.discipline, sure=told.sure, says=told.says,
            place=there.place,
        )  # fmt: skip
    own = PartProposal(name="?", discipline=guessed_discipline(row.file_name, model)[0], sure=told.sure, says=told.says)
    return _of_its_own(states, before_of(session, row), model, row.file_name, own)


def _of_its_own(
    states: list[PartState], before: Model, model: Model, file_name: str, found: PartProposal
) -> PartProposal:
    if len(states) >= MOST_PARTS:
        raise Refused(f"A model is put together from {MOST_PARTS} parts at most.", "key")
    where = proposed_place(before, model)
    named = _free_name(Path(file_name).stem[:70] or "Part", [s.name for s in states])
    return found.model_copy(update={
        "key": "", "name": named, "place": where.place, "by": where.by, "placed_surely": where.sure,
        "placed_says": where.says,
    })  # fmt: skip


def _free_name(wanted: str, taken: list[str]) -> str:
    return next(n for k in range(1, 1000) if (n := wanted if k == 1 else f"{wanted} {k}") not in taken)


def _free_key(session: Session, project_id: int, states: list[PartState]) -> str:
    """A key that no part of the project has, nor had."""
    wanted = select(RevisionPart.key).where(
        col(RevisionPart.revision_id).in_(select(Revision.id).where(col(Revision.project_id) == project_id))
    )
    used = {*session.exec(wanted).all(), *(s.key for s in states)}
    return str(max(int(k) for k in used) + 1)


def place_said(said: PartChoice | PartEdit, now: PartPlace, whole: Model) -> PartPlace | None:
    """The place that somebody says of a part, which lies `now` somewhere: by numbers, or by two points of it, as they
    lie now, and two of the whole that they come onto, measured from the model's zero; None for none. Raises
    `Refused`."""
    if said.points is None:
        return said.place
    x, y, z = whole.origin
    a, b, to_a, to_b = ((p[0] + x, p[1] + y, p[2] + z) for p in said.points)
    try:
        return by_two_points((to_a, to_b), (taken_back(a, now), taken_back(b, now)))
    except ValueError as error:
        raise Refused(str(error), "points") from error


def known_before(session: Session, project_id: int, file_name: str) -> Model | None:
    """What of a file may be known already: the part whose file is called like it, or the only one. Whatever it is, it
    only spares reading what has the same content."""
    states = states_of(session, newest_revision(session, project_id))
    alike = [s for s in states if s.file_name == file_name] or (states if len(states) == 1 else [])
    return part_model(session, alike[0]) if alike else None
