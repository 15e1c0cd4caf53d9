"""Polygons laid over each other on a fine grid. Without one, borders that all but coincide can give wrong areas without
a word; on it, they are one border (snap rounding, Hobby 1999)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

Shapes = NDArray[np.object_]
GRID = 1e-6  # mm


def minus(shapes: Any, others: Any) -> Any:
    """What is left of shapes without others, pair by pair, or of one without one; polygons alone."""
    return polygonal(shapely.difference(shapes, others, grid_size=GRID))


def common(shapes: Any, others: Any) -> Any:
    """What shapes share with others, pair by pair, or one with one; polygons alone."""
    return polygonal(shapely.intersection(shapes, others, grid_size=GRID))


def whole(shapes: Sequence[shapely.Geometry] | Shapes) -> shapely.Geometry:
    """Shapes as one; polygons alone."""
    found: shapely.Geometry = polygonal(shapely.union_all(np.array(shapes, dtype=object), grid_size=GRID))
    return found


def polygonal(shapes: Any) -> Any:
    """Of shapes their polygons: what is left of lines and points besides is none."""
    mixed = shapely.get_type_id(shapes) == shapely.GeometryType.GEOMETRYCOLLECTION
    if not np.any(mixed):
        return shapes
    if isinstance(shapes, shapely.Geometry):
        return _polygons_of(shapes)
    shapes[mixed] = [_polygons_of(one) for one in shapes[mixed]]
    return shapes


def _polygons_of(shape: shapely.Geometry) -> shapely.Geometry:
    parts = shapely.get_parts(shapely.get_parts(shape))
    return shapely.multipolygons(parts[shapely.get_type_id(parts) == shapely.GeometryType.POLYGON])
