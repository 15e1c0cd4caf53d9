"""What is large is refused before the room for what people edit is touched."""

from __future__ import annotations

from edge_slice.app.errors import NoRoom
from edge_slice.store.room import spare_room

NO_ROOM = "There is no room left for this: the disk of the database is full, or nearly."
SAFE = "What was saved is safe, and editing goes on. Tell whoever sees to this installation."


def check_room(size: float) -> None:
    """Raise `NoRoom` where so many bytes more would take from what is spared for what people edit."""
    left = spare_room()
    if left is not None and size > left:
        raise NoRoom(f"{NO_ROOM} {SAFE}")
