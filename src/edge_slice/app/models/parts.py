"""The parts of a project's model: listed, looked at, named, moved, taken out."""

from __future__ import annotations

import numpy as np
import shapely
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import bare_model, facts_of, newest_revision
from edge_slice.app.models.part_documents import (
    Outline,
    PartEdit,
    PartOut,
    PartProposal,
    PartState,
    PlacePicture,
)
from edge_slice.app.models.part_states import as_they_are, part_model, put_beside, states_of
from edge_slice.app.models.proposing import before_of, place_said
from edge_slice.app.models.revision_documents import RevisionTaken
from edge_slice.app.models.revisions import bring_in, document_of_changes, taken
from edge_slice.app.row_lookup import project_row
from edge_slice.core.model import Model
from edge_slice.core.model.parts.places import placed
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from edge_slice.store.blobs import read_chunks, store_bytes
from edge_slice.store.changes import hold
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import ModelImport, Revision

PICTURED = 4000  # outlines of elements that a picture of a place shows at most, the largest first


def list_parts(project_id: int) -> list[PartOut]:
    """The parts of a project's model, the leading one first."""
    with reading() as session:
        project_row(session, project_id)
        newest = newest_revision(session, project_id)
        whole = bare_model(session, newest)
        counts = np.bincount([e.part for e in whole.elements], minlength=max(len(whole.parts), 1))
        left = np.bincount([t.part for t in whole.twice], minlength=max(len(whole.parts), 1))
        differs = np.bincount([t.part for t in whole.twice if t.differs], minlength=max(len(whole.parts), 1))
        states = states_of(session, newest)
        since = _since(session, project_id, newest)
        return [
            PartOut(
                key=s.key, name=s.name, discipline=s.discipline, leads=k == 0, file_name=s.file_name, place=s.place,
                since=since[s.key], elements=int(counts[k]), left_out=int(left[k]),
                differs=int(differs[k]),
            )
            for k, s in enumerate(states)
        ]  # fmt: skip


def _since(session: Session, project_id: int, newest: Revision) -> dict[str, int]:
    """For each part the revision in which its geometry or place was changed last."""
    wanted = select(Revision).where(col(Revision.project_id) == project_id).order_by(col(Revision.number).desc())
    now = as_they_are(session, newest)
    found = dict.fromkeys(now, newest.number)
    still = set(now)
    for revision in session.exec(wanted).all():
        there = as_they_are(session, revision)
        still = {key for key in still if there.get(key) == now[key]}
        found |= dict.fromkeys(still, revision.number)
    return found


def edit_part(project_id: int, key: str, edit: PartEdit) -> RevisionTaken:
    """Another name, discipline or place of a part, or let it lead: a revision of the whole, at once in use."""
    with transaction() as session:
        before, states, k = _held(session, project_id, key)
        state = states[k]
        place = place_said(edit, state.place, bare_model(session, before)) or state.place
        name = edit.name.strip() if edit.name is not None else state.name
        if not name or any(s.name == name for s in states if s.key != key):
            raise Refused("Give the part a name that no other part has.", "name")
        states[k] = state.model_copy(
            update={"name": name, "discipline": edit.discipline or state.discipline, "place": place}
        )
        if edit.leads is False and k == 0:
            raise Refused("One part leads: let another one lead instead.", "leads")
        if edit.leads and k:
            states.insert(0, states.pop(k))
        done = _brought_in(session, before, states)
    return taken(project_id, *done)


def remove_part(project_id: int, key: str) -> RevisionTaken:
    """Take a part out of the model: a revision of the whole, at once in use; an earlier one brings it back."""
    with transaction() as session:
        before, states, k = _held(session, project_id, key)
        if len(states) == 1:
            raise Refused("This is all of the project's model; it can't be taken out.")
        if k == 0:
            raise Refused(f"“{states[0].name}” leads: it gives storeys and grid. Let another part lead first.")
        done = _brought_in(session, before, [s for s in states if s.key != key])
    return taken(project_id, *done)


def _held(session: Session, project_id: int, key: str) -> tuple[Revision, list[PartState], int]:
    """The revision in use, its parts, and which of them is asked for."""
    hold(session, project_id)
    before = newest_revision(session, project_id)
    states = states_of(session, before)
    k = next((k for k, s in enumerate(states) if s.key == key), None)
    if k is None:
        raise NotFound("This part is not in the project's model any more.")
    return before, states, k


def _brought_in(session: Session, before: Revision, states: list[PartState]) -> tuple[int, int, int]:
    """A revision of the whole with these parts, in use: its number, and how many drawings are kept and cut anew."""
    if states == states_of(session, before):
        raise Refused("Nothing of this part would change.")
    project_id, was = before.project_id, bare_model(session, before)
    whole, changes = put_beside(session, states, was, {})
    first = states[0]
    after = Revision(
        project_id=project_id, number=before.number + 1, file_name=first.file_name, file_hash=first.file_hash,
        geometry_hash=store_bytes(session, model_to_bytes(whole)),
        facts=facts_of(whole, first.read_as.get("unit"), first.read_as.get("up")).model_dump(mode="json"),
        changes=document_of_changes(session, project_id, before.number, was, changes).model_dump(mode="json"),
    )  # fmt: skip
    kept, recut = bring_in(session, before, after, states, said=True)
    return after.number, kept, recut


def picture_of_import(import_id: int) -> PlacePicture:
    """A file that was read, as it would lie in its project's building."""
    with reading() as session:
        row = session.get(ModelImport, import_id)
        if row is None or row.state != "proposed" or row.read_hash is None:
            raise NotFound("This revision is not proposed any more.")
        whole, proposal = before_of(session, row), PartProposal.model_validate(row.part)
        model = model_from_bytes(b"".join(read_chunks(session, row.read_hash)))
        others = {k for k, p in enumerate(whole.parts) if p.key != proposal.key}
        return _picture(whole, others or None, placed(model, proposal.place, whole.origin))


def picture_of_part(project_id: int, key: str, edit: PartEdit) -> PlacePicture:
    """A part as it would lie with another place, beside the others."""
    with reading() as session:
        newest = newest_revision(session, project_id)
        states = {s.key: s for s in states_of(session, newest)}
        if key not in states:
            raise NotFound("This part is not in the project's model any more.")
        whole = bare_model(session, newest)
        place = place_said(edit, states[key].place, whole) or states[key].place
        others = {k for k, p in enumerate(whole.parts) if p.key != key}
        return _picture(whole, others, placed(part_model(session, states[key]), place, whole.origin))


def _picture(whole: Model, others: set[int] | None, part: Model) -> PlacePicture:
    return PlacePicture(
        rest=_outlines(whole, others), part=_outlines(part, None),
        axes=[(a.name, a.start, a.end) for a in whole.grid], part_axes=[(a.name, a.start, a.end) for a in part.grid],
        levels=[(s.name, s.elevation) for s in whole.storeys],
        part_levels=[(s.name, s.elevation) for s in part.storeys],
    )  # fmt: skip


def _outlines(model: Model, parts: set[int] | None) -> list[Outline]:
    """What the elements of some parts, or all, take on plan; the largest ones, without ground and plants."""
    found = []
    for k, element in enumerate(model.elements):
        if (parts is not None and element.part not in parts) or element.kind in ("ground", "planting", "person"):
            continue
        low, high = model.boxes[k, 0, 2], model.boxes[k, 1, 2]
        shape = model.footprint(k) if np.isfinite(low) else shapely.Polygon()
        if isinstance(shape, shapely.Polygon) and shape.area > 0:
            ring = [(round(x, 3), round(y, 3)) for x, y in shape.exterior.coords[:-1]]
            found.append((shape.area, Outline(ring=ring, low=round(float(low), 3), high=round(float(high), 3))))
    found.sort(key=lambda pair: -pair[0])
    return [outline for _, outline in found[:PICTURED]]
