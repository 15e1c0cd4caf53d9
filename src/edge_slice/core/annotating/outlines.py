"""Outlines of several shapes as one."""

from __future__ import annotations

from collections.abc import Sequence

import shapely


def joined(shapes: Sequence[shapely.Geometry], gap: float) -> shapely.Geometry:
    """Shapes as one, without the joints between them that are no wider than two `gap`s (mm)."""
    return shapely.union_all(shapes).buffer(gap, join_style="mitre").buffer(-gap, join_style="mitre")
