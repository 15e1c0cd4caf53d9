"""Outlines of several shapes as one."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.remembered import Remembered, corners_of, marks_of, mixed

_joined: Remembered[shapely.Geometry] = Remembered("outlines as one", 500_000, lambda shape: corners_of([shape]))


def edges_of(shape: shapely.Geometry) -> NDArray[np.float64]:
    """All sides (n, 2, 2) of the rings of a shape."""
    at, ring = shapely.get_coordinates(shapely.get_rings(shapely.get_parts(shape)), return_index=True)
    start = np.flatnonzero(ring[:-1] == ring[1:])
    return np.stack((at[start], at[start + 1]), axis=1)


def joined(shapes: Sequence[shapely.Geometry], gap: float) -> shapely.Geometry:
    """Shapes as one, without the joints between them that are no wider than two `gap`s (mm)."""

    def make() -> shapely.Geometry:
        return shapely.union_all(shapes).buffer(gap, join_style="mitre").buffer(-gap, join_style="mitre")

    return _joined.get((mixed(marks_of(shapes)), gap), make)  # sets of one drawing ask for the same
