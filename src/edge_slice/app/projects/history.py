"""The history of a project as people read it: named steps, and the way back to any of them."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.drawings.lineage import as_shown, list_drawings
from edge_slice.app.errors import NotFound
from edge_slice.app.projects.documents import HistoryOut, StepOut
from edge_slice.app.row_lookup import project_row
from edge_slice.store.changes import redo, undo
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Change, Sheet

SHOWN = 60  # steps


def steps_of(project_id: int) -> list[StepOut]:
    """The newest steps, newest first; those that were undone say so."""
    titles = {("drawing", d.id): d.title for d in list_drawings(project_id)}
    with reading() as session:
        for sheet in session.exec(select(Sheet).where(col(Sheet.project_id) == project_id)).all():
            titles["sheet", sheet.id or 0] = f"sheet {sheet.number}"
        steps: dict[str, StepOut] = {}
        for change in _changes(session, project_id):
            about = titles.get((change.table_name, change.row_id), "")
            known = steps.get(change.act)
            if known is None and len(steps) == SHOWN:
                break
            if known is None:
                steps[change.act] = StepOut(
                    act=change.act,
                    label=change.label,
                    about=about,
                    author=change.author,
                    at=change.at.isoformat(timespec="seconds"),
                    undone=change.state == "undone",
                )
            elif about and about not in known.about:
                known.about = f"{known.about}, {about}".strip(", ")[:200]
        return list(steps.values())


def undo_last(project_id: int) -> HistoryOut:
    with transaction() as session:
        project_row(session, project_id)
        return HistoryOut(label=undo(session, project_id, as_shown) or "")


def redo_last(project_id: int) -> HistoryOut:
    with transaction() as session:
        project_row(session, project_id)
        return HistoryOut(label=redo(session, project_id, as_shown) or "")


def go_to(project_id: int, act: str) -> HistoryOut:
    """Undo or redo until `act` is the last step that is done. Raises `NotFound` for a step that is not in the history
    any more."""
    with transaction() as session:
        project_row(session, project_id)
        changes = list(_changes(session, project_id))
        wanted = next((c for c in changes if c.act == act), None)
        if wanted is None:
            raise NotFound("This step is not in the history any more.")
        newer = [c for c in changes if (c.id or 0) > (wanted.id or 0) and c.act != act]
        if wanted.state == "undone":
            between = {c.act for c in changes if c.state == "undone" and (c.id or 0) <= (wanted.id or 0)}
            for _ in between:
                redo(session, project_id)
        else:
            for _ in {c.act for c in newer if c.state == "done"}:
                undo(session, project_id)
        return HistoryOut(label=wanted.label)


def _changes(session: Session, project_id: int) -> list[Change]:
    """All that is done or undone, newest first, without the documents."""
    rows = select(Change).where(col(Change.project_id) == project_id, col(Change.state) != "dropped")
    return list(session.exec(rows.order_by(col(Change.id).desc()).limit(2000)).all())
