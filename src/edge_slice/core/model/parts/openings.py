"""Openings that one of two parts has in what both hold, and the other doesn't."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model

F64 = NDArray[np.float64]
LEAST = 0.01  # m² of an opening that counts
SLIVER = 0.02  # metres; narrower than twice this, what differs is no opening
FACING = 0.99  # cosine between a triangle's normal and the direction that a body is looked at in
Body = tuple[Model, int]
Spot = tuple[float, float, float]


def other_holes(one: Body, others: Sequence[Body]) -> tuple[float, Spot | None]:
    """The area (m²) of openings that a flat body has and those in its place haven't, or the other way round; and the
    middle of the largest of them. Openings are what lacks of a body's face in its convex outline, where all have it."""
    axes = _axes(*one)
    own = _face(one, axes)
    there = shapely.union_all([_face(body, axes) for body in others])
    if own.is_empty or there.is_empty:
        return 0.0, None
    both = own.convex_hull.intersection(shapely.convex_hull(there))
    differs = both.intersection(own.symmetric_difference(there))
    differs = differs.buffer(-SLIVER, join_style="mitre").buffer(SLIVER, join_style="mitre")
    pieces = [p for p in shapely.get_parts(differs) if p.area >= LEAST]
    if not pieces:
        return 0.0, None
    u, v = max(pieces, key=lambda p: float(p.area)).representative_point().coords[0]
    model, element = one
    depth = float((model.element_triangles(element).reshape(-1, 3) @ axes[2]).mean())
    x, y, z = (round(float(c), 3) for c in axes.T @ np.array((u, v, depth)))
    return round(sum(float(p.area) for p in pieces), 4), (x, y, z)


def _axes(model: Model, element: int) -> F64:
    """Unit vectors (3, 3): along a flat body, up in it, and the direction in which it is thin."""
    low, high = model.boxes[element]
    corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(model.footprint(element)))
    sides = np.diff(corners[:3], axis=0) if len(corners) > 2 else np.eye(2)
    lengths = np.hypot(*sides.T)
    if high[2] - low[2] < lengths.min():
        return np.eye(3)
    along = sides[int(lengths.argmax())] / lengths.max()
    return np.array(((along[0], along[1], 0.0), (0.0, 0.0, 1.0), (along[1], -along[0], 0.0)))


def _face(body: Body, axes: F64) -> shapely.Geometry:
    """What a body covers, looked at in the direction in which it is thin: of its faces on that side alone."""
    model, element = body
    triangles = model.element_triangles(element)
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    size = np.maximum(np.linalg.norm(normals, axis=1), 1e-12)
    facing = triangles[(normals @ axes[2]) / size > FACING]
    return shapely.union_all(shapely.polygons(facing @ axes[:2].T), grid_size=1e-4)
