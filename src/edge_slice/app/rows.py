"""Rows that are about to be changed."""

from __future__ import annotations

from sqlmodel import Session

from edge_slice.app.errors import NotFound
from edge_slice.store.changes import R, held
from edge_slice.store.tables import Drawing, Placement, Project, Sheet, ShownSet, Standard

WORDS = {
    Project: "project",
    Drawing: "drawing",
    Sheet: "sheet",
    Placement: "placement",
    Standard: "drawing standard",
    ShownSet: "shown set",
}


def held_row(session: Session, table: type[R], row_id: int) -> R:
    """A row as it is now, while nobody else changes its project. Raises `NotFound`."""
    row = held(session, table, row_id)
    if row is None:
        raise NotFound(f"This {WORDS[table]} is not there any more.")
    return row
