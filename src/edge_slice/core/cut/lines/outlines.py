"""Lines that lie on each other are drawn once: the stronger role keeps the place, then what begins first."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.collinear import line_groups
from edge_slice.core.cut.pieces import CutFace, CutLines

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NEAR = 0.02  # mm; pieces that overlap or remain by less are not told apart


def face_borders(faces: list[CutFace]) -> F64:
    """Every side (n, 4) of the faces' rings."""
    return sides_of([f.polygon for f in faces])


def sides_of(polygons: list[shapely.Polygon]) -> F64:
    """Every side (n, 4) of the rings of polygons."""
    if not polygons:
        return np.zeros((0, 4))
    rings = shapely.get_rings(np.array(polygons))
    points, ring = shapely.get_coordinates(rings, return_index=True)
    sides: F64 = np.column_stack((points[:-1], points[1:]))[ring[1:] == ring[:-1]]
    return sides


def drawn_once(lines: CutLines, borders: F64) -> CutLines:
    """The lines without what an earlier role or a border (b, 4) of a cut face already draws."""
    if not len(lines.points):
        return lines
    count = len(borders)
    rank = np.r_[np.zeros(count, np.int64), lines.role.astype(np.int64) + 1]
    group, t0, t1, turned = line_groups(np.concatenate((borders, lines.points)))
    order = np.lexsort((t0, rank, group))
    index, start, end = _sweep(order, group, rank, t0, t1)
    step = (turned[index, 2:] - turned[index, :2]) / (t1[index] - t0[index])[:, None]
    points = np.column_stack(
        (turned[index, :2] + (start - t0[index])[:, None] * step, turned[index, :2] + (end - t0[index])[:, None] * step)
    )
    ranked = np.argsort(index, kind="stable")
    chosen = index[ranked] - count
    return CutLines(points[ranked], lines.role[chosen], lines.element[chosen], lines.depth[chosen], lines.edge[chosen])


@njit(cache=True, nogil=True)
def _sweep(order: I64, group: I64, rank: I64, t0: F64, t1: F64):  # type: ignore[no-untyped-def]
    """Along each line, rank after rank: a piece keeps what no earlier one covers. Rank 0 covers but is not kept."""
    index = np.empty(order.shape[0] + 16, np.int64)
    span = np.empty((index.shape[0], 2))
    filled = 0
    first = 0
    while first < order.shape[0]:
        last = first
        while last < order.shape[0] and group[order[last]] == group[order[first]]:
            last += 1
        taken = np.empty((2 * (last - first) + 1, 2))  # disjoint, ascending
        count = 0
        a = first
        while a < last:
            b = a
            while b < last and rank[order[b]] == rank[order[a]]:
                b += 1
            own = np.empty((b - a, 2))
            owned = 0
            reach = -np.inf
            j = 0
            for k in range(a, b):
                i = order[k]
                start, end = max(t0[i], reach), t1[i]
                if end <= start + NEAR:
                    continue
                reach = end
                if owned > 0 and start <= own[owned - 1, 1] + NEAR:
                    own[owned - 1, 1] = end
                else:
                    own[owned, 0], own[owned, 1] = start, end
                    owned += 1
                if rank[i] == 0:
                    continue
                while j < count and taken[j, 1] <= start:
                    j += 1
                at, m = start, j
                while at < end:
                    stop = end
                    if m < count and taken[m, 0] < end:
                        stop = max(at, taken[m, 0])
                    if stop > at + NEAR:
                        if filled == index.shape[0]:
                            index2, span2 = np.empty(2 * filled, np.int64), np.empty((2 * filled, 2))
                            index2[:filled], span2[:filled] = index, span
                            index, span = index2, span2
                        index[filled], span[filled, 0], span[filled, 1] = i, at, stop
                        filled += 1
                    if m >= count or taken[m, 0] >= end:
                        break
                    at = max(at, taken[m, 1])
                    m += 1
            if b < last:
                taken, count = _merged(taken, count, own, owned)
            a = b
        first = last
    return index[:filled], span[:filled, 0], span[:filled, 1]


@njit(cache=True, nogil=True)
def _merged(a: F64, count: int, b: F64, more: int):  # type: ignore[no-untyped-def]
    """The union of two ascending lists of disjoint spans."""
    out = np.empty((a.shape[0] + b.shape[0], 2))
    filled = 0
    i = j = 0
    while i < count or j < more:
        if j >= more or (i < count and a[i, 0] <= b[j, 0]):
            low, high = a[i, 0], a[i, 1]
            i += 1
        else:
            low, high = b[j, 0], b[j, 1]
            j += 1
        if filled > 0 and low <= out[filled - 1, 1] + NEAR:
            out[filled - 1, 1] = max(out[filled - 1, 1], high)
        else:
            out[filled, 0], out[filled, 1] = low, high
            filled += 1
    return out, filled
