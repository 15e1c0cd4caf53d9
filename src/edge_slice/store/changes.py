"""The change log: every edit leaves what was before and after, and can be undone and redone from it."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any, TypeVar

from sqlalchemy import text
from sqlmodel import Session, col, delete, select, update

from edge_slice.store import forms
from edge_slice.store.columns import VERSIONS, Edited
from edge_slice.store.tables import EDITED, Change, Project

R = TypeVar("R", bound=Edited)
Notice = tuple[str, int, int | None]  # table, row, version
Documents = list[dict[str, Any]]
Shown = Callable[[Session, list[int]], Documents] | None  # of drawings by number
CHANNEL = "edge_slice"
LONGEST = 7000  # bytes that a notice may have; PostgreSQL takes 8000


@dataclass
class Act:
    """One undoable act; hand it every row that is added, about to be edited, or about to go."""

    session: Session
    version: int  # of all rows that it writes; no other act has it, nor had, nor will have
    rows: list[tuple[Edited, dict[str, Any] | None, bool]] = field(default_factory=list)
    shown: Shown = None  # drawings as windows show them, to be told along: then nobody has to ask for them

    def adds(self, row: Edited) -> None:
        row.version = self.version
        self.session.add(row)
        self.session.flush()
        self.rows.append((row, None, False))

    def edits(self, row: Edited) -> None:
        self.rows.append((row, row.model_dump(mode="json"), False))
        row.version = self.version

    def removes(self, row: Edited) -> None:
        self.rows.append((row, row.model_dump(mode="json"), True))
        self.session.delete(row)
        self.session.flush()


def hold(session: Session, project_id: int) -> None:
    """Let no other transaction change anything of a project until this one ends. Rows read before may be old by now:
    read what is to be changed afterwards."""
    session.exec(select(Project.id).where(col(Project.id) == project_id).with_for_update(key_share=True)).first()


def held(session: Session, table: type[R], row_id: int) -> R | None:
    """A row as it is while its project is held for a change; None where there is no such row."""
    owner = "id" if table is Project else "project_id"
    project = session.exec(select(getattr(table, owner)).where(col(table.id) == row_id)).first()
    if project is None:
        return None
    hold(session, project)
    return session.get(table, row_id, populate_existing=True)


def notify(
    session: Session, project_id: int | None, what: str, rows: list[Notice] | None = None, shown: Shown = None
) -> None:
    """Tell every listener after the commit that something of a project changed: which rows of which table, and their
    versions (null: gone). Without `rows` anything may have. `shown`: gives one drawing that changed as it is now, which
    is told along where there is room for it."""
    message: dict[str, Any] = {"project": project_id, "what": what, "rows": rows}
    payload = json.dumps(message, separators=(",", ":"))
    changed = [number for table, number, version in rows or () if table == "drawing" and version is not None]
    if shown is not None and len(changed) == 1:
        whole = json.dumps({**message, "drawings": shown(session, changed)}, separators=(",", ":"))
        payload = whole if len(whole) <= LONGEST else payload
    if len(payload) > LONGEST:
        payload = json.dumps({"project": project_id, "what": what, "rows": None})
    tell(session, payload)


def tell(session: Session, payload: str) -> None:
    """Send a notice, in JSON, to every listener after the commit."""
    session.connection().execute(text("SELECT pg_notify(:channel, :payload)"), {"channel": CHANNEL, "payload": payload})


def next_version(session: Session) -> int:
    """A version that no row has had."""
    return int(session.connection().execute(VERSIONS.next_value()).scalar_one())


@contextmanager
def recorded(session: Session, project_id: int, label: str, author: str = "") -> Iterator[Act]:
    """Log all changes of one act; what had been undone can then no longer be redone."""
    hold(session, project_id)
    act = Act(session, next_version(session))
    yield act
    session.flush()
    session.connection().execute(
        update(Change)
        .where(col(Change.project_id) == project_id, col(Change.state) == "undone")
        .values(state="dropped")
    )
    name = uuid.uuid4().hex
    notices: list[Notice] = []
    for row, before, removed in act.rows:
        after = None if removed else row.model_dump(mode="json")
        table = str(row.__tablename__)
        number = int((after or before or {})["id"])
        session.add(
            Change(project_id=project_id, act=name, label=label, author=author, table_name=table, row_id=number,
                   before=before, after=after, form=forms.FORM)
        )  # fmt: skip
        notices.append((table, number, int(after["version"]) if after else None))
    notify(session, project_id, label, notices, act.shown)


def undo(session: Session, project_id: int, shown: Shown = None) -> str | None:
    """Take the newest act back; its label, or None when there is none."""
    return _replay(session, project_id, True, shown)


def redo(session: Session, project_id: int, shown: Shown = None) -> str | None:
    """Do the act again that was undone last; its label, or None when there is none."""
    return _replay(session, project_id, False, shown)


def _replay(session: Session, project_id: int, back: bool, shown: Shown) -> str | None:
    hold(session, project_id)
    newest = (
        select(Change)
        .where(col(Change.project_id) == project_id, col(Change.state) == ("done" if back else "undone"))
        .order_by(col(Change.id).desc() if back else col(Change.id))
    )
    first = session.exec(newest.limit(1)).first()
    if first is None:
        return None
    rows = session.exec(select(Change).where(col(Change.act) == first.act).order_by(col(Change.id))).all()
    notices: list[Notice] = []
    fresh = next_version(session)
    for change in reversed(rows) if back else rows:
        version = _put(session, change, change.before if back else change.after, fresh)
        notices.append((change.table_name, change.row_id, version))
        change.state = "undone" if back else "done"
        session.add(change)
    notify(session, project_id, first.label, notices, shown)
    return first.label


def _put(session: Session, change: Change, document: dict[str, Any] | None, version: int) -> int | None:
    """Make the row what the document says, under a version that it never had: what was made of the row as it was then,
    or between, is not taken for what it is now. The version, or None where the row is gone."""
    table = EDITED[change.table_name]
    row = session.get(table, change.row_id)
    if document is None:
        session.exec(delete(table).where(col(table.id) == change.row_id))
        session.expire_all()
        return None
    document = forms.newest(change.table_name, document, change.form)
    fresh = table.model_validate(document)
    if row is None:
        row = fresh
    else:
        for key in document:
            if key not in ("id", "created_at"):
                setattr(row, key, getattr(fresh, key))
    row.version = version
    session.add(row)
    session.flush()
    return version
