"""Which triangles meet at which edge, and which edges may be drawn."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
CREASE_COSINE = float(np.cos(np.radians(20.0)))  # sharper folds are feature edges from every side
FLAT_COSINE = float(np.cos(np.radians(0.02)))  # flatter folds are no edge at all: any other may be an outline
ONE_WAY = 1e-3  # radians; triangles that leave an edge at angles less apart lie on each other


@dataclass(frozen=True)
class Sides:
    """The sides of all triangles by the edge that they lie on: `order` (3 m,) are side numbers (triangle * 3 + side),
    edge k has order[starts[k]:starts[k + 1]]; ends (3 m, 2): the corners of each side as the triangle turns."""

    ends: I32
    order: I64
    starts: I64

    @staticmethod
    def of(corners: I32, points: int) -> Sides:
        ends = np.stack((corners, np.roll(corners, -1, axis=1)), axis=2).reshape(-1, 2)
        key = ends.min(axis=1).astype(np.int64) * (points + 1) + ends.max(axis=1)
        order = np.argsort(key, kind="stable")
        starts = np.flatnonzero(np.r_[True, np.diff(key[order]) != 0]) if len(order) else np.zeros(0, np.int64)
        return Sides(ends, order.astype(np.int64), np.r_[starts, len(order)].astype(np.int64))

    @property
    def sizes(self) -> I64:
        """How many triangles each edge bounds."""
        return np.diff(self.starts)

    def neighbours(self) -> I32:
        """The triangle across each side (m, 3), -1 where the edge bounds another number than two."""
        found = np.full(len(self.order), -1, dtype=np.int32)
        pair = np.flatnonzero(self.sizes == 2)
        first, second = self.order[self.starts[pair]], self.order[self.starts[pair] + 1]
        found[first], found[second] = second // 3, first // 3
        return found.reshape(-1, 3)


def drawable_edges(points: F64, corners: I32, material: I32, sides: Sides) -> tuple[I32, I32, I32, Flags]:
    """The triangle that continues the surface across each side (m, 3), -1 for none; edges that may be drawn: ends
    (e, 2), their two triangles (e, 2), and which of them are sharp.

    An edge that bounds more than two triangles is several edges in one place, one for each wedge of the body there;
    triangles that lie on each other, back to back, are the inside of the body and no part of any."""
    if not len(corners):
        none = np.zeros((0, 2), dtype=np.int32)
        return np.zeros((0, 3), dtype=np.int32), none, none, np.zeros(0, dtype=bool)
    normal = np.cross(points[corners[:, 1]] - points[corners[:, 0]], points[corners[:, 2]] - points[corners[:, 0]])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
    pairs = _paired(points, normal, sides.ends, sides.order, sides.starts)
    t0, t1 = pairs[:, 0] // 3, np.where(pairs[:, 1] >= 0, pairs[:, 1] // 3, -1)
    pair = t1 >= 0
    across = np.full(len(sides.order), -1, dtype=np.int32)
    across[pairs[pair, 0]], across[pairs[pair, 1]] = t1[pair], t0[pair]
    cosine = np.einsum("ij,ij->i", normal[t0], normal[t1])
    sharp = ~pair | (cosine < CREASE_COSINE) | (material[t0] != material[t1])
    keep = sharp | (cosine < FLAT_COSINE)
    triangles = np.column_stack((t0, t1))[keep].astype(np.int32)
    return across.reshape(-1, 3), sides.ends[pairs[keep, 0]], triangles, sharp[keep]


def odd_triangles(sides: Sides) -> I32:
    """A triangle at each edge that bounds an odd number of them, where a body leaks."""
    found: I32 = (sides.order[sides.starts[:-1][sides.sizes % 2 == 1]] // 3).astype(np.int32)
    return found


@njit(cache=True, nogil=True)
def _paired(points: F64, normal: F64, ends: I32, order: I64, starts: I64):  # type: ignore[no-untyped-def]
    """The edges as pairs of sides (e, 2), -1 for a second one that is not there."""
    pairs = np.empty((order.shape[0], 2), np.int64)
    filled = 0
    for k in range(starts.shape[0] - 1):
        first, last = starts[k], starts[k + 1]
        if last - first <= 2:
            pairs[filled, 0] = order[first]
            pairs[filled, 1] = order[last - 1] if last - first == 2 else -1
            filled += 1
            continue
        around, count = _around(points, normal, ends, order[first:last])
        for i in range(0, count, 2):
            pairs[filled, 0] = around[i]
            pairs[filled, 1] = around[i + 1] if i + 1 < count else -1
            filled += 1
    return pairs[:filled]


@njit(cache=True, nogil=True)
def _around(points: F64, normal: F64, ends: I32, members: I64):  # type: ignore[no-untyped-def]
    """Sides about one edge in the order of their angles, each body's two after each other, without those that lie back
    to back; which of them run against the edge, and how many there are."""
    low, high = min(ends[members[0], 0], ends[members[0], 1]), max(ends[members[0], 0], ends[members[0], 1])
    axis = points[high] - points[low]
    axis = axis / max(np.sqrt((axis * axis).sum()), 1e-300)
    count = members.shape[0]
    angle = np.empty(count)
    against = np.empty(count, np.bool_)
    u = np.zeros(3)
    v = np.zeros(3)
    for i in range(count):
        against[i] = ends[members[i], 0] != low
        into = np.cross(normal[members[i] // 3], -axis if against[i] else axis)
        if i == 0:
            u, v = into, np.cross(axis, into)
        angle[i] = np.arctan2((into * v).sum(), (into * u).sum())
        if angle[i] < -ONE_WAY:
            angle[i] += 2 * np.pi
    rank = np.argsort(angle)
    kept = np.ones(count, np.bool_)
    for i in range(count):
        a = rank[i]
        for j in range(i + 1, count):
            b = rank[j]
            if angle[b] - angle[a] > ONE_WAY or not kept[a]:
                break
            if kept[b] and against[a] != against[b]:
                kept[a] = kept[b] = False
    out = np.empty(count, np.int64)
    way = np.empty(count, np.bool_)
    filled = 0
    for i in range(count):
        if kept[rank[i]]:
            out[filled], way[filled] = members[rank[i]], against[rank[i]]
            filled += 1
    # A body lies between a side that runs against the edge and the next one that runs along it (outsides out, angles
    # against the clock about the edge): begin there.
    if filled > 1 and not way[0]:
        first = 0
        for i in range(filled):
            if way[i]:
                first = i
                break
        turned = out.copy()
        for i in range(filled):
            out[i] = turned[(first + i) % filled]
    return out, filled
