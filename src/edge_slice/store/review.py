"""The tables of review: remarks, which are words that are pinned to a place, and notices of what concerns somebody."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import Column, DateTime, ForeignKey, String, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel

from edge_slice.store.columns import json_column, known_states, moment_column, owned_column, version_column

REMARK_STATES = ("open", "answered", "done")


class Remark(SQLModel, table=True):
    """What somebody remarks on a place, which is of no history: what others draw is not undone with it. `number`:
    counted in its project. `topic`: a UUID, by which other programs know it. `place`: on a sheet (mm) as it is or as it
    was `issued`, and what of a drawing is there; or in the model as a drawing showed it, or as another program said; or
    nowhere. `sketch`: lines (n, 2) over the place, in its coordinates; `picture`: the name of one that is kept.
    `answers`: the thread."""

    __table_args__ = (known_states("remark", REMARK_STATES),)
    id: int | None = Field(default=None, primary_key=True)
    project_id: int = owned_column("project")
    number: int
    topic: str = Field(
        default_factory=lambda: str(uuid.uuid4()),
        sa_column=Column(String, server_default=text("(gen_random_uuid())::text"), nullable=False),
    )
    account_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("account.id", ondelete="SET NULL"), index=True, nullable=True)
    )
    author: str
    text: str
    to: str = ""
    due: str = ""
    state: str = "open"
    place: dict[str, Any] = json_column()
    sketch: list[list[list[float]]] = Field(
        default_factory=list, sa_column=Column(JSONB, server_default="[]", nullable=False)
    )
    picture: str = Field(default="", sa_column=Column(String, server_default="", nullable=False))
    answers: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    version: int = version_column()
    created_at: datetime = moment_column()


def _goes_with(table: str) -> Any:
    """The row that something is about, with which it goes."""
    return Field(
        default=None, sa_column=Column(ForeignKey(f"{table}.id", ondelete="CASCADE"), index=True, nullable=True)
    )


class Notice(SQLModel, table=True):
    """What one account is told: of a `remark` or an `issue` of a project. `mailed_at`: when it went by mail, too."""

    id: int | None = Field(default=None, primary_key=True)
    account_id: int = owned_column("account")
    project_id: int = owned_column("project")
    remark_id: int | None = _goes_with("remark")
    issue_id: int | None = _goes_with("issue")
    what: str
    by: str
    text: str
    at: datetime = moment_column()
    seen_at: datetime | None = Field(default=None, sa_column=Column(DateTime(timezone=True), nullable=True))
    mailed_at: datetime | None = Field(default=None, sa_column=Column(DateTime(timezone=True), nullable=True))
