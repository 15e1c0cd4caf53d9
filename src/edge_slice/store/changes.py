"""The change log: every edit leaves what was before and after, and can be undone and redone from it."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any, cast

from sqlalchemy import text
from sqlmodel import Session, col, delete, select, update

from edge_slice.store.tables import Change, Drawing, Placement, Project, Sheet, Standard

TABLES: dict[str, type[Project | Sheet | Placement | Drawing | Standard]] = {
    "project": Project,
    "drawing": Drawing,
    "sheet": Sheet,
    "placement": Placement,
    "standard": Standard,
}
Row = Project | Drawing | Sheet | Placement | Standard
CHANNEL = "edge_slice"


@dataclass
class Act:
    """One undoable act; hand it every row that is added, about to be edited, or about to go."""

    session: Session
    rows: list[tuple[Row, dict[str, Any] | None, bool]] = field(default_factory=list)

    def adds(self, row: Row) -> None:
        self.session.add(row)
        self.session.flush()
        self.rows.append((row, None, False))

    def edits(self, row: Row) -> None:
        self.rows.append((row, row.model_dump(mode="json"), False))
        row.version += 1

    def removes(self, row: Row) -> None:
        self.rows.append((row, row.model_dump(mode="json"), True))
        self.session.delete(row)
        self.session.flush()


def notify(session: Session, project_id: int | None, what: str) -> None:
    """Tell every listener after the commit that something of a project changed."""
    payload = json.dumps({"project": project_id, "what": what})
    session.connection().execute(text("SELECT pg_notify(:channel, :payload)"), {"channel": CHANNEL, "payload": payload})


@contextmanager
def recorded(session: Session, project_id: int, label: str, author: str = "") -> Iterator[Act]:
    """Log all changes of one act; what had been undone can then no longer be redone."""
    act = Act(session)
    yield act
    session.flush()
    session.connection().execute(
        update(Change)
        .where(col(Change.project_id) == project_id, col(Change.state) == "undone")
        .values(state="dropped")
    )
    name = uuid.uuid4().hex
    for row, before, removed in act.rows:
        after = None if removed else row.model_dump(mode="json")
        table = str(row.__tablename__)
        number = int((after or before or {})["id"])
        session.add(
            Change(project_id=project_id, act=name, label=label, author=author, table_name=table, row_id=number,
                   before=before, after=after)
        )  # fmt: skip
    notify(session, project_id, label)


def undo(session: Session, project_id: int) -> str | None:
    """Take the newest act back; its label, or None when there is none."""
    return _replay(session, project_id, back=True)


def redo(session: Session, project_id: int) -> str | None:
    """Do the act again that was undone last; its label, or None when there is none."""
    return _replay(session, project_id, back=False)


def _replay(session: Session, project_id: int, back: bool) -> str | None:
    newest = (
        select(Change)
        .where(col(Change.project_id) == project_id, col(Change.state) == ("done" if back else "undone"))
        .order_by(col(Change.id).desc() if back else col(Change.id))
    )
    first = session.exec(newest.limit(1)).first()
    if first is None:
        return None
    rows = session.exec(select(Change).where(col(Change.act) == first.act).order_by(col(Change.id))).all()
    for change in reversed(rows) if back else rows:
        _put(session, change, change.before if back else change.after)
        change.state = "undone" if back else "done"
        session.add(change)
    notify(session, project_id, first.label)
    return first.label


def _put(session: Session, change: Change, document: dict[str, Any] | None) -> None:
    """Make the row what the document says; versions only ever grow, so that stale copies are noticed."""
    table = TABLES[change.table_name]
    row = cast(Row | None, session.get(table, change.row_id))
    if document is None:
        session.exec(delete(table).where(col(table.id) == change.row_id))
        session.expire_all()
    elif row is None:
        session.add(table.model_validate(document))
    else:
        fresh = table.model_validate(document)
        for key in document:
            if key not in ("id", "version", "created_at"):
                setattr(row, key, getattr(fresh, key))
        row.version += 1
        session.add(row)
    session.flush()
