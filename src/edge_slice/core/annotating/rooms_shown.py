"""The rooms that a plan passes through."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from edge_slice.core.annotating.board import Board
from edge_slice.core.cut import PlanCut
from edge_slice.core.model import Space


def rooms_shown(board: Board) -> Iterator[tuple[Space, shapely.Geometry]]:
    """Each with what is shown of its outline, mm of the drawing."""
    if not isinstance(board.cut, PlanCut):
        return
    axes = board.result.axes
    z = float(axes.origin[2])
    window = shapely.box(*board.result.extents)
    for space in board.model.spaces:
        if len(space.outline) < 3 or not space.floor - 0.01 <= z <= space.ceiling + 0.01:
            continue
        room = shapely.Polygon(axes.to_drawing(np.array([(x, y, z) for x, y in space.outline]))[:, :2])
        shown = shapely.intersection(room, window) if room.is_valid else shapely.Polygon()
        if not shown.is_empty:
            yield space, shown
