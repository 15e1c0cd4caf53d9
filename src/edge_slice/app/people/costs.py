"""What costs a server much may be asked for so often by one account, or by one who came by a link."""

from __future__ import annotations

from enum import Enum
from pathlib import Path

from limits import parse

from edge_slice.app.errors import TooOften
from edge_slice.app.people.rights import Person
from edge_slice.app.people.tries import count_try
from edge_slice.settings import settings

MB = 2**20


class Cost(Enum):
    """`FILE`: a drawing, sheet or table as a file; `SET`: all of them, a project, a model."""

    FILE = "120 per minute"
    SET = "60 per 10 minutes"


_WAYS = parse("60 per 10 minutes")
_LIMITS = {cost: parse(cost.value) for cost in Cost}


def count_cost(person: Person, cost: Cost) -> None:
    """Raise `TooOften` where somebody had too much of this lately. Where nobody signs in, nobody is counted."""
    if not person.sees_all:
        count_try(_LIMITS[cost], *_of(person), cost.name)


def count_way(address: str) -> None:
    """Raise `TooOften` where one address began too often to sign in by the office's service."""
    count_try(_WAYS, address, "way")


def count_upload(person: Person, path: Path) -> None:
    """Raise `TooOften` where somebody has sent more in a day than an account may."""
    most = int(settings().upload_mb_a_day)
    if person.sees_all:
        return
    size = max(1, -(-path.stat().st_size // MB))
    try:
        count_try(parse(f"{most} per day"), *_of(person), "upload", cost=size)
    except TooOften as error:
        raise TooOften(
            f"An account may send {most} MB of models a day; nothing was kept of this one.", error.wait
        ) from error


def _of(person: Person) -> tuple[str, str]:
    """Whom it counts for."""
    if person.link is not None:
        return f"link {person.link.id}", person.address
    return f"account {person.account}", ""
