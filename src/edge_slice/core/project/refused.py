"""What can't be done as asked, in words for the user."""

from __future__ import annotations


class Refused(Exception):
    """The request can't be done as asked; nothing was changed. `field` says where."""

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.field = field
