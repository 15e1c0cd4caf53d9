"""Drawings that are held: they stay as a revision of the model has them, say what has changed since, and take over what
is wanted of it."""

from __future__ import annotations

from pydantic import BaseModel, Field
from sqlmodel import Session

from edge_slice.app.documents import Input, Version
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.drawing_rows import drawing_row
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import newest_revision, numbered_revision
from edge_slice.app.models.revision_documents import ElementChangeOut
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import current_row
from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.following.seen_changes import seen_changes
from edge_slice.core.cut.spec import Hold, Taken
from edge_slice.core.model.revisions import ModelChanges, revised
from edge_slice.core.project.followed import CUT, Followed
from edge_slice.core.recent import Recent
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing

_changes: Recent[ModelChanges] = Recent("changes since drawings are held", 40)


class HoldWanted(Input):
    """Hold a drawing by the newest revision of the model, or another one."""

    version: Version
    revision: int | None = Field(default=None, ge=1, le=2_147_483_647)


class LetGo(Input):
    version: Version


class TakeOver(Input):
    """What of the changes since is taken over: elements (GlobalIds)."""

    version: Version
    elements: list[str] = Field(min_length=1, max_length=5000)


class HoldOut(BaseModel):
    """By which `revision` a drawing is held, which one is the `newest`, and what of it that the drawing shows `changed`
    since, but for what was taken over; `otherwise`: how many changes it does not show. `problem`: what is wrong with
    the hold, empty for nothing."""

    revision: int
    newest: int
    taken: int
    changed: list[ElementChangeOut]
    otherwise: int
    problem: str


def hold_drawing(drawing_id: int, wanted: HoldWanted, author: str) -> DrawingOut:
    """Let a drawing stay as it is."""
    with transaction() as session:
        row = _row(session, drawing_id, wanted.version)
        newest = newest_revision(session, row.project_id)
        by = newest if wanted.revision is None else numbered_revision(session, row.project_id, wanted.revision)
        return _edited(session, row, Hold(revision=by.number), "hold drawing", author)


def let_go(drawing_id: int, wanted: LetGo, author: str) -> DrawingOut:
    """Let a drawing follow the newest model again."""
    with transaction() as session:
        row = _row(session, drawing_id, wanted.version)
        _hold_of(row)
        return _edited(session, row, None, "let go of drawing", author)


def take_over(drawing_id: int, wanted: TakeOver, author: str) -> DrawingOut:
    """Let a held drawing show some of what changed since."""
    with transaction() as session:
        row = _row(session, drawing_id, wanted.version)
        hold = _hold_of(row)
        source = ProjectSource(session, row.project_id)
        if source.by(hold)[1]:
            raise Refused(source.by(hold)[1], "elements")
        changed = {change.guid for change in _changed(source, hold).elements}
        unknown = next((guid for guid in wanted.elements if guid not in changed), None)
        if unknown is not None:
            raise Refused(f"{unknown} did not change since revision {hold.revision}; look at the list again.",
                          "elements")  # fmt: skip
        newest = source.revision.number
        before = tuple(t for t in hold.taken if t.revision != newest)
        known = [guid for t in hold.taken if t.revision == newest for guid in t.elements]
        elements = tuple(dict.fromkeys((*known, *wanted.elements)))
        taken = (*before, Taken(revision=newest, elements=elements))
        return _edited(session, row, hold.model_copy(update={"taken": taken}), "take over into drawing", author)


def held_since(drawing_id: int) -> HoldOut:
    """What a held drawing does not show yet."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        source = ProjectSource(session, row.project_id)
        cut = Followed(source).cut_of(row)
        if cut.held is None:
            raise Refused("This drawing is not held; it shows the newest model.")
        changed, others, problem = since_held(source, cut, cut.held)
        return HoldOut(
            revision=cut.held.revision, newest=source.revision.number,
            taken=sum(len(t.elements) for t in cut.held.taken), changed=changed, otherwise=others, problem=problem,
        )  # fmt: skip


def since_held(source: ProjectSource, cut: AnyCut, hold: Hold) -> tuple[list[ElementChangeOut], int, str]:
    """What a held cut shows that changed since, how many changes it does not show, and what is wrong with the hold."""
    held, problem = source.by(hold)
    if problem:
        return [], 0, problem
    if held.geometry == source.geometry:
        return [], 0, ""
    changes = [c for c in _changed(source, hold).elements if c.what != "renamed"]
    known = set(seen_changes(held.model, source.model, cut, [c.guid for c in changes]))
    seen = [c for c in changes if c.guid in known]
    return [ElementChangeOut.model_validate(c, from_attributes=True) for c in seen], len(changes) - len(seen), ""


def _changed(source: ProjectSource, hold: Hold) -> ModelChanges:
    held, _ = source.by(hold)
    key = f"{held.geometry} {source.geometry}"
    return _changes.get(key, lambda: revised(held.model, source.model)[1])


def _row(session: Session, drawing_id: int, version: int) -> Drawing:
    row = current_row(session, Drawing, drawing_id, version, lambda newer: drawing_out(session, newer))
    if row.callout is not None:
        raise Refused("A callout is held with the drawing that it was called out from.")
    return row


def _hold_of(row: Drawing) -> Hold:
    hold = CUT.validate_python(row.cut).held
    if hold is None:
        raise Refused("This drawing is not held; it shows the newest model.")
    return hold


def _edited(session: Session, row: Drawing, hold: Hold | None, label: str, author: str) -> DrawingOut:
    with recorded(session, row.project_id, label, author) as act:
        act.edits(row)
        row.cut = {**row.cut, "held": hold.model_dump(mode="json") if hold is not None else None}
        session.add(row)
        session.flush()
        now = drawing_out(session, row)
        act.shown = lambda _, numbers: [now.model_dump(mode="json")]
    return now
