"""What a use case can refuse, in words for the user."""

from __future__ import annotations

from pydantic import BaseModel, ValidationError

from edge_slice.core.project.refused import Refused

__all__ = ["NoRoom", "NotAllowed", "NotFound", "Refused", "SignedOut", "Stale", "TooOften", "first_words"]


class NotFound(Exception):
    """The thing asked for is not there (any more)."""


class Stale(Exception):
    """Somebody else changed the row meanwhile; `current` is its newer state."""

    def __init__(self, message: str, current: BaseModel) -> None:
        super().__init__(message)
        self.current = current


class SignedOut(Exception):
    """Who asks is not signed in (any more)."""


class NotAllowed(Exception):
    """Who asks may not do this, and knows that it is there."""


class NoRoom(Exception):
    """There is no room to keep this."""


class TooOften(Exception):
    """Tried too often; `wait`: seconds until it may be tried again."""

    def __init__(self, message: str, wait: int) -> None:
        super().__init__(message)
        self.wait = wait


def first_words(error: ValueError) -> str:
    """What is wrong, of an error of the core or of its documents."""
    if isinstance(error, ValidationError):
        return str(error.errors()[0]["msg"]).removeprefix("Value error, ")
    return str(error)
