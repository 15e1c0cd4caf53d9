"""Rows by what names them: a number, or the key by which drawings name what a project made itself."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TypeVar

from pydantic import BaseModel
from sqlmodel import Session

from edge_slice.app.errors import NotFound, Stale
from edge_slice.store.changes import R, held
from edge_slice.store.tables import (
    DrawingRuleRow,
    Project,
    ProjectTable,
    SharedExtents,
    SheetDesignRow,
    ShownSet,
    Standard,
)

OWN = "own-"  # and the number of the row
Own = TypeVar("Own", Standard, ShownSet, SharedExtents, SheetDesignRow, DrawingRuleRow, ProjectTable)


def project_row(session: Session, project_id: int) -> Project:
    """A project. Raises `NotFound`."""
    row = session.get(Project, project_id)
    if row is None:
        raise NotFound("This project is not there any more.")
    return row


def held_row(session: Session, table: type[R], row_id: int) -> R:
    """A row as it is now, while nobody else changes its project. Raises `NotFound`."""
    row = held(session, table, row_id)
    if row is None:
        raise NotFound(f"This {table.called} is not there any more.")
    return row


def current_row(session: Session, table: type[R], row_id: int, version: int, out: Callable[[R], BaseModel]) -> R:
    """A row that is still of the version that an edit was made on, while nobody else changes its project. Raises
    `NotFound`, and `Stale` with the newer state, as `out` gives it."""
    row = held_row(session, table, row_id)
    if row.version != version:
        raise Stale(f"This {table.called} was changed in another window; its newer state is shown.", out(row))
    return row


def own_key(row: Standard | ShownSet | SharedExtents | SheetDesignRow | DrawingRuleRow | ProjectTable) -> str:
    """The key by which drawings name what a project made itself, and sheets their design."""
    return f"{OWN}{row.id}"


def own_row(session: Session, table: type[Own], project_id: int, key: str) -> Own | None:
    """What a key names in a project; None where it names nothing there."""
    number = re.fullmatch(rf"{OWN}([0-9]{{1,9}})", key)
    row = session.get(table, int(number[1])) if number else None
    return row if row is not None and row.project_id == project_id else None
