"""Outlines of several shapes as one."""

from __future__ import annotations

from collections.abc import Sequence

import shapely

from edge_slice.core.remembered import Remembered, corners_of, marks_of, mixed

_joined: Remembered[shapely.Geometry] = Remembered("outlines as one", 500_000, lambda shape: corners_of([shape]))


def joined(shapes: Sequence[shapely.Geometry], gap: float) -> shapely.Geometry:
    """Shapes as one, without the joints between them that are no wider than two `gap`s (mm)."""

    def make() -> shapely.Geometry:
        return shapely.union_all(shapes).buffer(gap, join_style="mitre").buffer(-gap, join_style="mitre")

    return _joined.get((mixed(marks_of(shapes)), gap), make)  # sets of one drawing ask for the same
