"""What columns of the tables are made of, and the rows that people edit."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any, ClassVar

from sqlalchemy import BigInteger, CheckConstraint, Column, DateTime, ForeignKey, Sequence
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel

# the versions of all rows of all tables: one that was given is never given again, whatever is undone or redone
VERSIONS = Sequence("row_version", data_type=BigInteger, metadata=SQLModel.metadata)


def _now() -> datetime:
    return datetime.now(UTC)


def moment_column() -> Any:
    return Field(default_factory=_now, sa_column=Column(DateTime(timezone=True), nullable=False))


def json_column(**options: Any) -> Any:
    return Field(default_factory=dict, sa_column=Column(JSONB, nullable=False, **options))


def version_column() -> Any:
    number = Column(BigInteger, VERSIONS, server_default=VERSIONS.next_value(), nullable=False)
    return Field(default=None, sa_column=number)


def bytes_column(**options: Any) -> Any:
    """The name of bytes that are kept, which are looked for by it."""
    return Field(foreign_key="blob.hash", index=True, **options)


def known_states(table: str, names: tuple[str, ...]) -> CheckConstraint:
    return CheckConstraint(f"state IN ({', '.join(repr(n) for n in names)})", name=f"{table}_state_known")


def owned_column(table: str, **options: Any) -> Any:
    return Field(sa_column=Column(ForeignKey(f"{table}.id", ondelete="CASCADE"), index=True, nullable=False), **options)


class Edited(SQLModel):
    """A row that people edit, undo and redo: of a version that no other state has, nor had; `called` is what people
    call it. All such tables are known by this: what is undone, looked for, and told of is made from `EDITED`."""

    called: ClassVar[str]
    if TYPE_CHECKING:
        id: int | None
        version: int
