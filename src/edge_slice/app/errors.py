"""What a use case can refuse, in words for the user."""

from __future__ import annotations

from pydantic import BaseModel, ValidationError


class NotFound(Exception):
    """The thing asked for is not there (any more)."""


class Refused(Exception):
    """The request can't be done as asked; nothing was changed. `field` says where."""

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.field = field


class Stale(Exception):
    """Somebody else changed the row meanwhile; `current` is its newer state."""

    def __init__(self, message: str, current: BaseModel) -> None:
        super().__init__(message)
        self.current = current


def first_words(error: ValueError) -> str:
    """What is wrong, of an error of the core or of its documents."""
    if isinstance(error, ValidationError):
        return str(error.errors()[0]["msg"]).removeprefix("Value error, ")
    return str(error)
