"""The touch-ups of drawings, as the core takes them."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.core.drawing.touch_ups import TouchUp
from edge_slice.store.tables import TouchUpRow

TouchUps = tuple[tuple[str, TouchUp], ...]


def touch_ups_of(session: Session, drawing_id: int | None) -> TouchUps:
    """The touch-ups of a drawing in the order in which they were made, each with its source."""
    if drawing_id is None:
        return ()
    rows = select(TouchUpRow).where(col(TouchUpRow.drawing_id) == drawing_id).order_by(col(TouchUpRow.id))
    return tuple((f"touch-up:{row.id}", TouchUp.model_validate(row.document)) for row in session.exec(rows).all())
