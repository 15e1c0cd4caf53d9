"""Revisions of a project's model: proposed by an import, taken in one act, and looked back at."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict

from sqlmodel import Session, col, select

from edge_slice.app.annotating.anchors import unsettled
from edge_slice.app.annotating.boards import document_of
from edge_slice.app.drawings.drawing_rows import project_drawings
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import load_model, newest_revision, written
from edge_slice.app.models.part_documents import PartState
from edge_slice.app.models.part_states import keep_states, part_rows, tell_themselves
from edge_slice.app.models.revision_documents import ModelChangesOut, RevisionOut, RevisionTaken
from edge_slice.app.project_source import ProjectSource, followed_in
from edge_slice.app.row_lookup import project_row
from edge_slice.app.views import recut
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.annotating.documents import LabelNote
from edge_slice.core.annotating.notes import label_lines
from edge_slice.core.cut import AnyCut, PlanCut
from edge_slice.core.cut.following.seen_changes import Regard, other_disciplines, sees_change
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.model import Model
from edge_slice.core.model.building import Discipline
from edge_slice.core.model.ground.standing_in import EXISTING, PROPOSED
from edge_slice.core.model.revisions import ModelChanges
from edge_slice.store.blobs import drop_unused
from edge_slice.store.changes import hold, next_version, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.kept import keep
from edge_slice.store.tables import Annotation, KeptView, ModelImport, Project, Revision


def list_revisions(project_id: int) -> list[RevisionOut]:
    """All revisions of a project's model, newest first."""
    with reading() as session:
        project_row(session, project_id)
        wanted = select(Revision).where(col(Revision.project_id) == project_id)
        return [_out(row) for row in session.exec(wanted.order_by(col(Revision.number).desc())).all()]


def changes_of(project_id: int, number: int) -> ModelChangesOut:
    """What became of the revision before one."""
    with reading() as session:
        wanted = select(Revision).where(col(Revision.project_id) == project_id, col(Revision.number) == number)
        row = session.exec(wanted).first()
        if row is None:
            raise NotFound(f"This project's model has no revision {number}.")
        return ModelChangesOut.model_validate(row.changes)


def document_of_changes(
    session: Session, project_id: int, since: int, old: Model, changes: ModelChanges
) -> ModelChangesOut:
    """What changed `since` a revision, whose model is `old`; with the drawings that it leaves without a storey."""
    lost = set(changes.lost_storeys)
    followed = followed_in(session, project_id)
    drawings = []
    for row in project_drawings(session, project_id):
        cut = followed.cut_of(row)
        if isinstance(cut, PlanCut) and cut.storey in lost:
            drawings.append(drawing_out(session, row).title)
    facts = asdict(changes) | {"since": since, "drawings": drawings}
    facts["lost_storeys"] = [s.name for s in old.storeys if s.guid in lost]
    return ModelChangesOut.model_validate(facts)


def take(import_id: int, anyway: bool) -> RevisionTaken:
    """Make a proposed revision the one in use. Drawings that see no change keep their views as they are."""
    with transaction() as session:
        row = session.get(ModelImport, import_id, with_for_update=True)
        if row is None or row.into_id is None:
            raise NotFound("This revision is not proposed any more.")
        if row.state != "proposed":
            raise Refused("This file is not read yet; wait until it is.")
        project_id, done = row.into_id, take_in(session, row, anyway)
    return taken(project_id, *done)


def take_in(session: Session, row: ModelImport, anyway: bool) -> tuple[int, int, int]:
    """The same within another act: the revision's number, and how many drawings keep their views and are cut anew.
    Raises `Refused` before anything changes."""
    project_id = row.into_id or 0
    hold(session, project_id)
    before = newest_revision(session, project_id)
    changes = ModelChangesOut.model_validate(row.changes)
    if changes.since != before.number:
        raise Refused("Another revision was taken meanwhile; upload the file again to compare it with that one.")
    if changes.another and not anyway:
        raise Refused(
            "Hardly anything of the project's model is in this file: it may be another building. Take it anyway, or"
            " make a project of its own of it.",
            "anyway",
        )
    after = Revision(
        project_id=project_id, number=before.number + 1, file_name=row.file_name, file_hash=row.file_hash or "",
        geometry_hash=row.geometry_hash or "", facts=row.facts, changes=row.changes,
    )  # fmt: skip
    kept, anew = bring_in(session, before, after, [PartState.model_validate(s) for s in row.parts])
    left_over = row.read_hash
    row.state, row.project_id = "ready", project_id
    row.file_hash = row.geometry_hash = row.read_hash = row.part_hash = None
    session.add(row)
    session.flush()
    drop_unused(session, left_over)
    notify(session, None, "import")
    return after.number, kept, anew


def bring_in(
    session: Session, before: Revision, after: Revision, states: Sequence[PartState], said: bool = False
) -> tuple[int, int]:
    """Make a revision the one in use; how many drawings keep their views, and how many are cut anew. `said`: somebody
    has named the parts, or said whose they are."""
    session.add(after)
    session.flush()
    if said or not tell_themselves(states) or part_rows(session, before):
        keep_states(session, after, states)
    _keep_words(session, before, after)
    found = _kept_views(session, before, after, ModelChangesOut.model_validate(after.changes))
    if found[1]:
        recut.queue_quietly(session, after.project_id)
    notify(session, after.project_id, f"revision {after.number} of the model")
    return found


def taken(project_id: int, number: int, kept: int, recut: int) -> RevisionTaken:
    """What became of a project with a revision that is in use now."""
    left = unsettled(project_id)
    near, lost = (sum(a.state == state for a in left) for state in ("near", "lost"))
    return RevisionTaken(number=number, recut=recut, kept=kept, near=near, lost=lost)


def _keep_words(session: Session, before: Revision, after: Revision) -> None:
    """Labels of what is gone keep the words that they read from the model until now."""
    old, new = load_model(session, before), load_model(session, after)
    lengths = written(session.get_one(Project, after.project_id))
    there = {s.guid for s in new.spaces} | set(new.element_by_guid)
    for row in session.exec(select(Annotation).where(col(Annotation.project_id) == after.project_id)).all():
        document = document_of(row)
        if not isinstance(document, LabelNote) or document.text or document.subject in there:
            continue
        lines = label_lines(old, lengths, document)
        if lines is not None:
            kept = document.model_copy(update={"instead_of": "\n".join(lines)[:400]})
            row.document = kept.model_dump(mode="json", by_alias=True)
            row.version = next_version(session)
            session.add(row)
    session.flush()


def _kept_views(session: Session, before: Revision, after: Revision, changes: ModelChangesOut) -> tuple[int, int]:
    """Give the views of drawings that see no change their new names; how many there are, and how many others."""
    old, new = load_model(session, before), load_model(session, after)
    changed = {c.guid for c in changes.elements if c.what != "renamed"} | _other_ground(old, new)
    everywhere = old.storeys != new.storeys or old.grid != new.grid or old.north != new.north
    regarded = other_disciplines(old, new)
    was, now = (
        ViewKeys(session, after.project_id, source=ProjectSource(session, after.project_id, one))
        for one in (before, after)
    )
    kept = recut = 0
    for row in project_drawings(session, after.project_id):
        style = DrawingSpec.model_validate(row.style)
        found_was, found_now = was.followed.found(row), now.followed.found(row)
        cut_now = found_now[0]
        if cut_now.held is not None:  # it stays as it is, under the name that it has
            kept += 1
            continue
        rooms = bool(changes.rooms) and (isinstance(cut_now, PlanCut) or style.section_rooms)
        seen = changed | _shown_otherwise(now.source, style, cut_now, regarded)
        if everywhere or rooms or found_was != found_now or sees_change(old, new, cut_now, seen):
            recut += 1
            continue
        kept += 1
        view = session.get(KeptView, was.of(found_was, style, row.id))
        if view is not None:
            keep(session, after.project_id, now.of(found_now, style, row.id), view.data)
    return kept, recut


def _shown_otherwise(source: ProjectSource, style: DrawingSpec, cut: AnyCut, of: dict[Regard, set[str]]) -> set[str]:
    """Of elements whose part is of another discipline those that a drawing shows otherwise for that."""
    if not of:
        return set()
    try:
        looks = {**source.standard(style.standard).disciplines, **style.disciplines}
    except Refused:  # its standard is gone: it can't be drawn until somebody chooses another one
        return set()

    def shown(discipline: Discipline | None) -> tuple[str, bool, bool]:
        if discipline is None:
            return "as drawn", False, False
        by_lines = discipline == "services"  # as plans may draw these
        return looks.get(discipline, "as drawn"), discipline in cut.without_disciplines, by_lines

    return {guid for (was, now), guids in of.items() if shown(was) != shown(now) for guid in guids}


def _other_ground(old: Model, new: Model) -> set[str]:
    """The grounds of the project that another model changes: they have pits for its floors, and may lie on parts."""
    found = set()
    for guid in (EXISTING, PROPOSED):
        before, after = old.element_by_guid.get(guid), new.element_by_guid.get(guid)
        digests = (before is not None and old.digests[before], after is not None and new.digests[after])
        if digests[0] != digests[1]:
            found.add(guid)
    formers = [m.former_ground.digest if m.former_ground is not None else b"" for m in (old, new)]
    return found | ({PROPOSED} if formers[0] != formers[1] else set())


def _out(row: Revision) -> RevisionOut:
    changes = ModelChangesOut.model_validate(row.changes)
    counts = {what: sum(c.what == what for c in changes.elements) for what in ("added", "removed", "changed")}
    return RevisionOut(
        number=row.number, file_name=row.file_name, at=row.created_at.isoformat(timespec="seconds"),
        elements=int(row.facts.get("elements", 0)), **counts,
    )  # fmt: skip
