"""The tables of people: accounts, where they are signed in, what they may do in which project, and what they did."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    Boolean,
    CheckConstraint,
    Column,
    DateTime,
    Double,
    ForeignKey,
    LargeBinary,
    UniqueConstraint,
    true,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel

from edge_slice.store.columns import moment_column, owned_column

ROLES = ("owner", "editor", "reviewer")


def _known_role(table: str) -> CheckConstraint:
    return CheckConstraint(f"role IN ({', '.join(repr(n) for n in ROLES)})", name=f"{table}_role_known")


def _moment(**options: Any) -> Any:
    return Field(sa_column=Column(DateTime(timezone=True), **options))


def _secret_column(**options: Any) -> Any:
    """What somebody holds is never kept, only its SHA-256."""
    return Field(sa_column=Column(LargeBinary, unique=True, nullable=False, **options))


class Account(SQLModel, table=True):
    """A person. `mail` in small letters; `password` as argon2 says it. `second_secret`: of one-time codes by time,
    empty for none, with the last step that was used; `recovery`: what is left of one-time recovery codes, hashed.
    `office_name`: what the office's own service to sign in by calls them. `mails`: whether notices go by mail, too.
    Those who `run` the installation see to accounts; `may_make` projects; `may_keep` what the office has for all
    projects."""

    id: int | None = Field(default=None, primary_key=True)
    mail: str = Field(unique=True)
    name: str
    password: str
    office_name: str | None = Field(default=None, unique=True)
    second_secret: str = ""
    second_step: int = 0
    recovery: list[str] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    runs: bool = False
    may_make: bool = True
    may_keep: bool = False
    mails: bool = Field(default=True, sa_column=Column(Boolean, server_default=true(), nullable=False))
    closed_at: datetime | None = _moment(nullable=True)
    created_at: datetime = moment_column()


class SignedIn(SQLModel, table=True):
    """A device on which somebody is signed in, or, of a link, looks at what was sent to them; a program has one, too.
    `seen_at`: about when it was last heard of."""

    __tablename__ = "signed_in"
    __table_args__ = (CheckConstraint("(account_id IS NULL) <> (link_id IS NULL)", name="signed_in_of_one"),)
    id: int | None = Field(default=None, primary_key=True)
    token_hash: bytes = _secret_column()
    account_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("account.id", ondelete="CASCADE"), index=True, nullable=True)
    )
    link_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("shared_link.id", ondelete="CASCADE"), index=True, nullable=True)
    )
    program: bool = False
    device: str = ""
    address: str = ""
    created_at: datetime = moment_column()
    seen_at: datetime = moment_column()
    ends_at: datetime = _moment(nullable=False)


class Member(SQLModel, table=True):
    """What somebody may do in a project."""

    __table_args__ = (_known_role("member"),)
    project_id: int = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True))
    account_id: int = Field(
        sa_column=Column(ForeignKey("account.id", ondelete="CASCADE"), primary_key=True, index=True)
    )
    role: str
    since: datetime = moment_column()


class Invitation(SQLModel, table=True):
    """An account that somebody may make, once, until it ends; with a role in a project, if it is for one. With
    `account_id` it is a way back into that account, with another password."""

    __table_args__ = (CheckConstraint("role = '' OR project_id IS NOT NULL", name="invitation_role_of_project"),)
    id: int | None = Field(default=None, primary_key=True)
    token_hash: bytes = _secret_column()
    mail: str
    project_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), index=True, nullable=True)
    )
    role: str = ""
    account_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("account.id", ondelete="CASCADE"), index=True, nullable=True)
    )
    by_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("account.id", ondelete="SET NULL"), nullable=True)
    )
    created_at: datetime = moment_column()
    ends_at: datetime = _moment(nullable=False)
    used_at: datetime | None = _moment(nullable=True)


class SharedLink(SQLModel, table=True):
    """What somebody without an account may look at until it ends or is withdrawn: an issue, or these sheets as they
    are. `word`: what has to be said first, as argon2 says it; empty for nothing."""

    __tablename__ = "shared_link"
    __table_args__ = (UniqueConstraint("token_hash"),)
    id: int | None = Field(default=None, primary_key=True)
    token_hash: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    project_id: int = owned_column("project")
    issue_id: int | None = Field(
        default=None, sa_column=Column(ForeignKey("issue.id", ondelete="CASCADE"), index=True, nullable=True)
    )
    sheets: list[int] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    name: str
    word: str = ""
    by_name: str = ""
    created_at: datetime = moment_column()
    ends_at: datetime = _moment(nullable=False)
    withdrawn_at: datetime | None = _moment(nullable=True)


class AuditEntry(SQLModel, table=True):
    """Who did what to which people's rights, when, from where. The database refuses to change or delete one. Names
    stand as they were: accounts and projects may be gone."""

    __tablename__ = "audit_entry"
    id: int | None = Field(default=None, primary_key=True)
    at: datetime = moment_column()
    account_id: int | None = Field(default=None, index=True)
    who: str
    act: str
    project_id: int | None = Field(default=None, index=True)
    of: str = ""
    address: str = ""


class ProjectPicture(SQLModel, table=True):
    """A picture that was loaded for a project, which need not show it yet."""

    __tablename__ = "project_picture"
    project_id: int = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True))
    hash: str = Field(sa_column=Column(ForeignKey("blob.hash", ondelete="CASCADE"), primary_key=True))


class OfficeWay(SQLModel, table=True):
    """Somebody on the way to the office's service and back; what was sent along must come back."""

    __tablename__ = "office_way"
    token_hash: bytes = Field(sa_column=Column(LargeBinary, primary_key=True))
    state: str
    nonce: str
    verifier: str
    to: str
    ends_at: datetime = _moment(nullable=False)


class Tries(SQLModel, table=True):
    """How often something was tried within a span, which ends at a time in seconds since 1970."""

    key: str = Field(primary_key=True)
    count: int
    ends_at: float = Field(sa_column=Column(Double, nullable=False))
