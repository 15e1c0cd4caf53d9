"""The flat sides of a body whose corners move: divided anew into triangles, and whether they still bound a body."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from hashlib import blake2b

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.mesh.directions import square_to
from edge_slice.core.model.mesh.pieces import joined
from edge_slice.core.recent import Recent

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
FLAT = 1e-4  # metres that corners of a side may lie beside its plane
NONE = np.zeros(0, dtype=np.int64)
SMALL = 1e-8  # m²; of what is left of a side that is no side any more
KEPT = 64  # bodies whose sides are known
_known: Recent[list[I64]] = Recent("flat sides", KEPT, weigh=lambda sides: sum(rows.nbytes for rows in sides))


@dataclass(frozen=True)
class Body:
    """An element's own corners (n, 3), metres, its triangles (m, 3) and their materials (m,), as in `Mesh`."""

    points: F64
    triangles: I64
    materials: I64

    @staticmethod
    def of(model: Model, element: int) -> Body:
        rows = model.mesh.of_element(element)
        own, triangles = np.unique(model.mesh.triangles[rows], return_inverse=True)
        materials = model.mesh.triangle_material[rows].astype(np.int64)
        return Body(model.mesh.vertices[own], triangles.reshape(-1, 3).astype(np.int64), materials)

    @property
    def corners(self) -> F64:
        """Of each triangle (m, 3, 3)."""
        return np.asarray(self.points[self.triangles])

    @property
    def normals(self) -> F64:
        """Of each triangle the vector (m, 3) that it looks along, twice its area long."""
        a, b, c = np.moveaxis(self.corners, 1, 0)
        return np.asarray(np.cross(b - a, c - a))


def with_corners(body: Body, points: F64, turned: I64 = NONE) -> Body | None:
    """A body with its corners (n, 3) elsewhere, its flat sides as flat as before and looking the same way, but for
    those of the triangles `turned`; None where it would not be one: a side is folded, turned, goes through itself, or
    turns inside out."""
    normals = body.normals
    moved = np.abs(points - body.points).max(axis=1) > 0
    kept, triangles, materials = np.ones(len(normals), dtype=bool), [], []
    for rows in flat_sides(body):
        if not moved[body.triangles[rows]].any():
            continue
        kept[rows] = False
        looks = normals[rows].sum(axis=0)
        made = _divided(points, body.triangles[rows], looks, bool(np.isin(rows, turned).any()))
        if made is None:
            return None
        triangles.append(made)
        materials.append(np.full(len(made), body.materials[rows[0]]))
    found = Body(
        points, np.concatenate((body.triangles[kept], *triangles)), np.concatenate((body.materials[kept], *materials))
    )
    return found if np.isfinite(points).all() else None


def flat_sides(body: Body) -> list[I64]:
    """The triangles of a body by the plane and the material that they are of, each side in one piece."""
    parts = (body.points, body.triangles, body.materials)
    mark = blake2b(b"".join(part.tobytes() for part in parts), digest_size=16).hexdigest()
    return _known.get(f"{len(body.points)} {mark}", lambda: list(_flat_sides(body)))  # while one is dragged it stays


def _flat_sides(body: Body) -> Iterable[I64]:
    normals = body.normals
    size = np.linalg.norm(normals, axis=1)
    units = normals / np.maximum(size, 1e-300)[:, None]
    offsets = np.einsum("ij,ij->i", units, body.corners.mean(axis=1))
    open_ = size > 0
    for k in np.argsort(-size).tolist():  # the largest says which plane it is
        if not open_[k]:
            continue
        away = np.abs(body.corners @ units[k] - offsets[k]).max(axis=1)
        same = open_ & (away < FLAT) & (units @ units[k] > 0.0) & (body.materials == body.materials[k])
        open_ &= ~same
        rows = np.flatnonzero(same)
        piece = joined(body.triangles[rows])
        yield from (rows[piece == n] for n in np.unique(piece))


def _divided(points: F64, triangles: I64, normal: F64, may_turn: bool) -> I64 | None:
    """A flat side with its corners elsewhere, divided anew: triangles (m, 3). `normal`: the way it looked."""
    a, b, c = np.moveaxis(points[triangles], 1, 0)
    areas = np.cross(b - a, c - a)
    now = areas.sum(axis=0)
    if now @ normal <= 0 or not np.linalg.norm(now) > SMALL:
        return None
    looks = now / np.linalg.norm(now) if may_turn else normal / np.linalg.norm(normal)
    corners = points[np.unique(triangles)]
    if np.ptp(corners @ looks) > FLAT:
        return None
    flat = points @ square_to(looks)
    edges = bounds(triangles)
    lines = shapely.multilinestrings(flat[edges])
    outline = shapely.build_area(lines)
    if not shapely.is_simple(lines) or abs(outline.area - float(np.linalg.norm(now)) / 2) > SMALL:
        return None
    used = np.unique(edges)
    return used[divided(outline, flat[used])]


def divided(outline: shapely.Geometry, corners: F64) -> I64:
    """An area in triangles (m, 3), anticlockwise, of its corners (n, 2)."""
    made = shapely.orient_polygons(shapely.get_parts(shapely.constrained_delaunay_triangles(outline)))
    known = {tuple(p): k for k, p in enumerate(corners.tolist())}
    found = shapely.get_coordinates(made).reshape(-1, 4, 2)[:, :3]
    return np.array([[known[tuple(p)] for p in one] for one in found.tolist()], dtype=np.int64).reshape(-1, 3)


def bounds(triangles: I64) -> I64:
    """The edges (n, 2) at which triangles end: those that only one of them has."""
    edges = np.sort(np.concatenate((triangles[:, :2], triangles[:, 1:], triangles[:, ::2])), axis=1)
    found, times = np.unique(edges, axis=0, return_counts=True)
    return np.asarray(found[times == 1])
