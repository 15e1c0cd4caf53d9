"""An office that people sign in at, with a project and one of each role."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import pytest

from tests.installation import Installation
from tests.office import Caller, Office


@pytest.fixture(scope="session")
def office(installation: Installation) -> Iterator[Office]:
    made = Office(installation)
    yield made
    made.stop()


@dataclass
class Team:
    """A project with one of each role in it, and somebody who belongs to another one alone."""

    project: int
    owner: Caller
    editor: Caller
    reviewer: Caller
    outsider: Caller


@pytest.fixture(scope="session")
def team(office: Office, untouched_hut: int) -> Team:
    mine, other = (office.installation.project_like(untouched_hut) for _ in range(2))
    office.make_owner("ada@curlew.example", "Ada Owner")  # who owns what nobody owns
    office.owner = office.caller("ada@curlew.example")
    people = [office.member(mine, role, role.title()) for role in ("owner", "editor", "reviewer")]
    return Team(mine, *people, outsider=office.member(other, "owner", "Outsider"))
