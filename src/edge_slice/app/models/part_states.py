"""The parts of a revision: as rows, as models in memory, and put together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlmodel import Session, col, select

from edge_slice.app.models.in_memory import bare_model
from edge_slice.app.models.part_documents import PartState
from edge_slice.core.model import Model
from edge_slice.core.model.building import Part
from edge_slice.core.model.parts.disciplines import guessed_discipline
from edge_slice.core.model.parts.places import AS_IT_IS, PartPlace
from edge_slice.core.model.parts.putting_together import PlacedPart
from edge_slice.core.model.parts.states import whole_of
from edge_slice.core.model.revisions import ModelChanges
from edge_slice.core.model.storage import model_from_bytes
from edge_slice.core.recent import Recent
from edge_slice.store.blobs import read_chunks
from edge_slice.store.tables import Revision, RevisionPart

FIRST = "1"  # the key of the file that a project was made of
_parts: Recent[Model] = Recent("models of parts", 6)  # by content hash


def part_rows(session: Session, revision: Revision) -> Sequence[RevisionPart]:
    wanted = select(RevisionPart).where(col(RevisionPart.revision_id) == revision.id)
    return session.exec(wanted.order_by(col(RevisionPart.place_in_order))).all()


def states_of(session: Session, revision: Revision) -> list[PartState]:
    """The parts of a revision, the leading one first; the one that it is where it is made of one file."""
    rows = part_rows(session, revision)
    if rows:
        return [
            PartState.model_validate(row.model_dump(exclude={"id", "revision_id", "place_in_order"})) for row in rows
        ]
    name = revision.file_name.rpartition(".")[0] or revision.file_name
    discipline = guessed_discipline(revision.file_name, bare_model(session, revision))[0]
    return [
        PartState(
            key=FIRST, name=name[:80], discipline=discipline, file_name=revision.file_name,
            file_hash=revision.file_hash, geometry_hash=revision.geometry_hash,
            read_as=revision.facts.get("read_as", {}),
        )
    ]  # fmt: skip


def as_they_are(session: Session, revision: Revision) -> dict[str, tuple[str, PartPlace]]:
    """Of each part of a revision, by its key, its geometry and its place."""
    rows = part_rows(session, revision)
    found = {row.key: (row.geometry_hash, PartPlace.model_validate(row.place)) for row in rows}
    return found or {FIRST: (revision.geometry_hash, AS_IT_IS)}


def keep_states(session: Session, revision: Revision, states: Sequence[PartState]) -> None:
    """Keep the parts of a revision."""
    for k, state in enumerate(states):
        row = RevisionPart(revision_id=revision.id or 0, place_in_order=k, **state.model_dump(mode="json"))
        session.add(row)
    session.flush()


def tell_themselves(states: Sequence[PartState]) -> bool:
    """Whether parts are one file as it is: a revision tells of that itself, as long as nobody has said more."""
    return len(states) == 1 and states[0].key == FIRST and states[0].place == AS_IT_IS


def part_model(session: Session, state: PartState) -> Model:
    """The model of one part, as its file has it, under the GlobalIds by which the project knows its elements."""
    name = state.geometry_hash
    return _parts.get(name, lambda: model_from_bytes(b"".join(read_chunks(session, name))))


def put_beside(
    session: Session, states: Sequence[PartState], before: Model, fresh: Mapping[str, Model]
) -> tuple[Model, ModelChanges]:
    """The model of all parts, of which some (by key) are `fresh`, beside the one `before`; and what changed."""
    parts = [
        PlacedPart(Part(s.key, s.name, s.discipline), fresh.get(s.key) or part_model(session, s), s.place)
        for s in states
    ]
    return whole_of(parts, before)
