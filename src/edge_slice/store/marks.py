"""A mark for the state that a project is in: another one after each change of what drawings depend on."""

from __future__ import annotations

import uuid

from sqlalchemy import BigInteger, Column, ForeignKey, Uuid
from sqlmodel import Field, Session, SQLModel


class ProjectMark(SQLModel, table=True):
    """Set by triggers, whoever writes a row: `act` is the transaction that did, `mark` never comes twice."""

    __tablename__ = "project_mark"
    project_id: int = Field(
        sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True, autoincrement=False)
    )
    act: int = Field(sa_column=Column(BigInteger, nullable=False))
    mark: uuid.UUID = Field(sa_column=Column(Uuid, nullable=False))


def mark_of(session: Session, project_id: int) -> str | None:
    """The mark of a project as this transaction sees it; None where there is no such project. In a transaction that
    sees one state of the database, all that it reads of the project belongs to it."""
    row = session.get(ProjectMark, project_id)
    return None if row is None else str(row.mark)
