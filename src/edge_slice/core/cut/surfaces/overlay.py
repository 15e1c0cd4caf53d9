"""Polygons laid over each other on a fine grid. Without one, borders that all but coincide can give wrong areas without
a word; on it, they are one border (snap rounding, Hobby 1999)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.remembered import Remembered, corners_of, marks_of, mixed

Shapes = NDArray[np.object_]
GRID = 1e-6  # mm

_kept: Remembered[shapely.Geometry] = Remembered("faces of parts", 1_000_000, lambda shape: corners_of([shape]))


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


def joined(pieces: Shapes, starts: NDArray[np.int64]) -> Shapes:
    """Parts side by side, from each start to the next one, as one each."""
    ends = np.append(starts[1:], len(pieces))
    found = pieces[starts]
    several = np.flatnonzero(ends - starts > 1)
    spans = [slice(*span) for span in zip(starts[several].tolist(), ends[several].tolist(), strict=True)]
    marks = marks_of(pieces)
    keys = [mixed(marks[span]) for span in spans]
    found[several] = _kept.get_all(keys, lambda missing: [_joined(pieces[spans[k]]) for k in missing])
    return found


def _joined(pieces: Shapes) -> shapely.Geometry:
    """Parts side by side as one; where they are not quite side by side, by the slower way."""
    area = float(shapely.area(pieces).sum())
    try:
        found = shapely.coverage_union_all(pieces)
        if shapely.is_valid(found) and abs(found.area - area) <= 1e-9 * area:
            return found
    except shapely.GEOSException:  # they overlap
        pass
    return whole(pieces)


def polygonal(shapes: Any) -> Any:
    """Of shapes their polygons: what is left of lines and points besides is none."""
    several = shapely.get_type_id(shapes) == shapely.GeometryType.GEOMETRYCOLLECTION
    if not np.any(several):
        return shapes
    if isinstance(shapes, shapely.Geometry):
        return _polygons_of(shapes)
    shapes[several] = [_polygons_of(one) for one in shapes[several]]
    return shapes


def _polygons_of(shape: shapely.Geometry) -> shapely.Geometry:
    parts = shapely.get_parts(shapely.get_parts(shape))
    return shapely.multipolygons(parts[shapely.get_type_id(parts) == shapely.GeometryType.POLYGON])
