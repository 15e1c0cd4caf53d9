"""The audit list: who did what to whose rights, when, from where."""

from __future__ import annotations

from datetime import datetime

from sqlmodel import Session, col, select

from edge_slice.app.people.documents import AuditOut
from edge_slice.app.people.rights import Person
from edge_slice.store.database import reading
from edge_slice.store.people import AuditEntry

AT_ONCE = 200


def audit(session: Session, person: Person, act: str, of: str = "", project_id: int | None = None) -> None:
    """Write an act into the list; with the act, or not at all."""
    session.add(
        AuditEntry(account_id=person.account, who=person.name, act=act, of=of, project_id=project_id,
                   address=person.address)
    )  # fmt: skip


def listed(project_id: int | None = None, before: datetime | None = None) -> list[AuditOut]:
    """The newest entries, of a project or of all, before a time."""
    query = select(AuditEntry).order_by(col(AuditEntry.id).desc()).limit(AT_ONCE)
    if project_id is not None:
        query = query.where(col(AuditEntry.project_id) == project_id)
    if before is not None:
        query = query.where(col(AuditEntry.at) < before)
    with reading() as session:
        return [
            AuditOut(at=row.at, who=row.who, act=row.act, project=row.project_id, of=row.of, address=row.address)
            for row in session.exec(query).all()
        ]
