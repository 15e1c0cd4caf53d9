"""Who asks, and what they may do: in a project by their role there, in the installation by their account."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import IntEnum, StrEnum
from typing import Literal

from sqlmodel import Session, col, select

from edge_slice.store.people import Member

HELD, HELD_SECURELY = "edge-slice", "__Host-edge-slice"  # the cookie; the other one is sent over TLS alone
BEARER = "Bearer "  # before what a program holds, in the header Authorization (RFC 6750)
RoleName = Literal["owner", "editor", "reviewer"]


class InProject(IntEnum):
    """What one may do in a project; each contains those before."""

    LOOK = 1
    REMARK = 2
    EDIT = 3
    OWN = 4


class InInstallation(StrEnum):
    """What one may do beside projects. `ANYBODY` has not signed in."""

    ANYBODY = "anybody"
    SIGNED_IN = "signed in"
    MAKE = "make projects"
    KEEP = "keep what the office has for all projects"
    RUN = "see to the installation"


OF_ROLE: dict[str, InProject] = {
    "reviewer": InProject.REMARK, "editor": InProject.EDIT, "owner": InProject.OWN,
}  # fmt: skip


@dataclass(frozen=True)
class OfLink:
    """What somebody without an account may look at."""

    id: int
    project: int
    issue: int | None
    sheets: Collection[int]


@dataclass(frozen=True)
class Person:
    """Who asks. `account`: None for whoever came by a `link`, and for everybody where nobody signs in. `session`: the
    row of where they are signed in."""

    name: str = ""
    account: int | None = None
    session: int | None = None
    address: str = ""
    may: frozenset[InInstallation] = frozenset()
    link: OfLink | None = None
    sees_all: bool = False


EVERYBODY = Person(may=frozenset(InInstallation), sees_all=True)  # where nobody signs in


def held_by(authorization: str, cookies: Mapping[str, str]) -> str:
    """What who asks holds: a program says it in a header, a browser in a cookie; empty for nothing."""
    if authorization.startswith(BEARER):
        return authorization.removeprefix(BEARER)
    return cookies.get(HELD_SECURELY) or cookies.get(HELD, "")


def projects_of(session: Session, person: Person) -> set[int]:
    """The projects that somebody belongs to."""
    return set(session.exec(select(Member.project_id).where(col(Member.account_id) == person.account)).all())
