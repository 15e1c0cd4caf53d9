"""A relief as a closed body: its upper side, upright faces where it has steps, and a level underside."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.ground.relief import GRID, Relief, height_of

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
SAME = 5e-4  # metres; corners of cells over one place that are nearer than this meet


class _Corners:
    """The corners of a relief's cells, numbered over their places on plan and their heights."""

    def __init__(self, relief: Relief) -> None:
        turned = shapely.orient_polygons(relief.cells, exterior_cw=False)
        rings, of = shapely.get_rings(turned, return_index=True)
        points, ring = shapely.get_coordinates(rings, return_index=True)
        closing = np.flatnonzero(np.diff(ring, append=-1) != 0)  # the last point of a ring is its first one
        first = np.searchsorted(ring, np.arange(len(rings)))
        following = np.arange(1, len(points) + 1)
        following[closing - 1] = first
        real = np.ones(len(points), dtype=bool)
        real[closing] = False
        number = np.cumsum(real) - 1
        self.cell: I64 = of[ring][real]
        self.next: I64 = number[following[real]]
        places = points[real]
        grid, self.place = np.unique(np.rint(places / GRID).astype(np.int64), axis=0, return_inverse=True)
        self.place = self.place.reshape(-1)
        self.places: F64 = grid * GRID
        heights = height_of(relief.planes[self.cell], self.places[self.place])
        order = np.lexsort((heights, self.place))
        new = (np.diff(self.place[order], prepend=-1) != 0) | (np.diff(heights[order], prepend=0.0) > SAME)
        self.node = np.empty(len(order), dtype=np.int64)
        self.node[order] = np.cumsum(new) - 1
        lowest = order[new]
        self.nodes: F64 = np.column_stack((self.places[self.place[lowest]], heights[lowest]))
        self.place_of: I64 = self.place[lowest]

    def node_in(self, cells: I64, places: F64) -> I64:
        """The nodes (k,) of cells at places (k, 2) that are corners of theirs."""
        width = np.int64(len(self.places))
        base = np.rint(places / GRID).astype(np.int64)
        grid = np.rint(self.places / GRID).astype(np.int64)
        low, span = grid.min(axis=0), np.ptp(grid, axis=0) + 1
        keys = (grid - low) @ (span[1], 1)
        sorted_keys = np.argsort(keys)
        at = sorted_keys[np.searchsorted(keys[sorted_keys], (base - low) @ (span[1], 1))]
        own = self.cell * width + self.place
        order = np.argsort(own)
        found: I64 = self.node[order[np.searchsorted(own[order], cells * width + at)]]
        return found


def body_of(relief: Relief, bottom: float) -> tuple[F64, I64, I64]:
    """Corners (n, 3) and triangles (m, 3) of the closed body under a relief, down to a height that is below all of it,
    and the source (m,) of each triangle; with several sources each has a closed body of its own. Metres."""
    parts = []
    for source in np.unique(relief.source).tolist():
        own = relief.source == source
        parts.append((source, *_closed(Relief(relief.cells[own], relief.planes[own], relief.source[own]), bottom)))
    offsets = np.cumsum([0, *(len(corners) for _, corners, _ in parts)])
    return (
        np.concatenate([corners for _, corners, _ in parts]),
        np.concatenate([triangles + o for (_, _, triangles), o in zip(parts, offsets[:-1], strict=True)]),
        np.concatenate([np.full(len(triangles), source, dtype=np.int64) for source, _, triangles in parts]),
    )


def _closed(relief: Relief, bottom: float) -> tuple[F64, I64]:
    corners = _Corners(relief)
    tops, of = shapely.get_parts(shapely.constrained_delaunay_triangles(relief.cells), return_index=True)
    tops = shapely.orient_polygons(tops, exterior_cw=False)
    places = shapely.get_coordinates(tops).reshape(-1, 4, 2)[:, :3]
    top = corners.node_in(np.repeat(of, 3), places.reshape(-1, 2)).reshape(-1, 3)
    under = len(corners.nodes)
    base = under + corners.place_of[top][:, ::-1]
    low = np.column_stack((corners.places, np.full(len(corners.places), bottom)))
    walls, extra = _walls(corners, under, len(corners.nodes) + len(low))
    return np.concatenate((corners.nodes, low, extra)), np.concatenate((top, base, walls))


def _walls(corners: _Corners, under: int, fresh: int) -> tuple[I64, F64]:
    """The upright faces between cells, and round all of them down to the bottom, whose corners are numbered from
    `under`; and the corners, numbered from `fresh`, where the borders of two cells cross over one another."""
    a, b = corners.place, corners.place[corners.next]
    width = np.int64(len(corners.places))
    key, back = a * width + b, b * width + a
    order = np.argsort(key)
    at = np.searchsorted(key[order], back)
    at[at == len(order)] = 0
    other = order[at]
    paired = key[other] == back
    outer = ~paired
    quads = [np.column_stack((corners.node, corners.node[corners.next], under + b, under + a))[outer]]
    mine = paired & (a < b)
    p, q = corners.node[mine], corners.node[corners.next[mine]]
    r, s = corners.node[corners.next[other[mine]]], corners.node[other[mine]]  # over the same places as p and q
    z = corners.nodes[:, 2]
    rise, fall = z[p] - z[r], z[q] - z[s]
    crossing = (rise * fall < 0) & (p != r) & (q != s)
    quads.append(np.column_stack((p, q, s, r))[~crossing])
    share = (rise / np.where(crossing, rise - fall, 1.0))[crossing, None]
    p, q, r, s = p[crossing], q[crossing], r[crossing], s[crossing]
    meeting = corners.nodes[p] + share * (corners.nodes[q] - corners.nodes[p])
    middle = fresh + np.arange(len(p))
    faces = np.concatenate(quads)
    triangles = np.concatenate(
        (faces[:, :3], faces[:, [0, 2, 3]], np.column_stack((p, middle, r)), np.column_stack((q, s, middle)))
    )
    alike = [triangles[:, i] == triangles[:, j] for i, j in ((0, 1), (1, 2), (2, 0))]
    return triangles[~np.logical_or.reduce(alike)], meeting
