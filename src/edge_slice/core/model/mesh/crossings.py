"""Lines where two elements pass through each other: no edge of either, but a line that a viewer sees."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
OVERLAP = 1e-3  # metres; elements whose boxes overlap by less only touch
SHORT = 1e-3  # metres; shorter crossings are left out
ALONG = 1e-5  # metres; a crossing this near to a triangle's side lies on it
FLAT = 1e-9  # metres; a corner nearer to a plane counts as on its far side


def crossing_edges(points: F64, triangles: I32, element: I32, count: int) -> tuple[F64, I32]:
    """Segments (k, 2, 3) in metres where triangles of different elements cross, and the two triangles (k, 2) of each,
    the one of the earlier element first (triangle-triangle test after Moeller 1997)."""
    if not len(triangles):
        return np.zeros((0, 2, 3)), np.zeros((0, 2), np.int32)
    boxes = _boxes(points, triangles, element, count)
    flat = _on_plan(boxes)
    first, second = shapely.STRtree(flat).query(flat, predicate="intersects")
    once = first < second
    return _of_pairs(points, triangles, element, boxes, (first[once], second[once]))


def crossings_between(points: F64, triangles: I32, element: I32, first: int) -> tuple[F64, I32]:
    """The same where triangles from number `first` on, of elements after all others, cross earlier ones; those from
    `first` on stand first."""
    count = int(element.max()) + 1 if len(element) else 0
    if not 0 < first < len(triangles):
        return np.zeros((0, 2, 3)), np.zeros((0, 2), np.int32)
    boxes = _boxes(points, triangles, element, count)
    flat = _on_plan(boxes)
    added = np.unique(element[first:])
    own, other = shapely.STRtree(flat).query(flat[added], predicate="intersects")
    earlier = other < added[0]
    return _of_pairs(points, triangles, element, boxes, (added[own[earlier]], other[earlier]))


def _on_plan(boxes: F64) -> NDArray[np.object_]:
    """Boxes (n, 2, 3) of elements on plan, nothing for those without triangles."""
    flat = shapely.box(boxes[:, 0, 0], boxes[:, 0, 1], boxes[:, 1, 0], boxes[:, 1, 1])
    return np.asarray(np.where(boxes[:, 0, 0] < 1e299, flat, shapely.Polygon()))


def _of_pairs(
    points: F64, triangles: I32, element: I32, boxes: F64, pairs: tuple[NDArray[np.int64], NDArray[np.int64]]
) -> tuple[F64, I32]:
    """The crossings of pairs of elements."""
    first, second = pairs
    starts = np.searchsorted(element, np.arange(len(boxes) + 1)).astype(np.int64)
    low = np.maximum(boxes[first, 0], boxes[second, 0])
    high = np.minimum(boxes[first, 1], boxes[second, 1])
    deep = ((high - low) > OVERLAP).all(axis=1)
    order = np.lexsort((second[deep], first[deep]))
    rows = np.column_stack((first[deep], second[deep]))[order].astype(np.int64)
    shared = np.stack((low[deep], high[deep]), axis=1)[order]
    found: tuple[F64, I32] = _crossings(points, triangles, starts, rows, shared)
    return found


@njit(cache=True, nogil=True)
def _boxes(points: F64, triangles: I32, element: I32, count: int):  # type: ignore[no-untyped-def]
    boxes = np.zeros((count, 2, 3))
    boxes[:, 0, :] = 1e300
    boxes[:, 1, :] = 1e299
    fresh = np.ones(count, np.bool_)
    for t in range(triangles.shape[0]):
        e = element[t]
        for k in range(3):
            p = points[triangles[t, k]]
            for d in range(3):
                if fresh[e]:
                    boxes[e, 0, d], boxes[e, 1, d] = p[d], p[d]
                else:
                    boxes[e, 0, d], boxes[e, 1, d] = min(boxes[e, 0, d], p[d]), max(boxes[e, 1, d], p[d])
            fresh[e] = False
    return boxes


@njit(cache=True, nogil=True)
def _within(points: F64, triangles: I32, first: int, last: int, box: F64):  # type: ignore[no-untyped-def]
    """Triangles first to last whose box meets another box (2, 3)."""
    out = np.empty(last - first, np.int32)
    n = 0
    for t in range(first, last):
        a, b, c = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
        meets = True
        for d in range(3):
            if max(a[d], b[d], c[d]) < box[0, d] or min(a[d], b[d], c[d]) > box[1, d]:
                meets = False
                break
        if meets:
            out[n] = t
            n += 1
    return out[:n]


@njit(cache=True, nogil=True)
def _crossings(points: F64, triangles: I32, starts: NDArray[np.int64], pairs: NDArray[np.int64], shared: F64):  # type: ignore[no-untyped-def]
    out = np.empty((256, 2, 3))
    owner = np.empty((256, 2), np.int32)
    filled = 0
    line = np.empty((2, 3))
    for i in range(pairs.shape[0]):
        e, f = pairs[i, 0], pairs[i, 1]
        ours = _within(points, triangles, starts[e], starts[e + 1], shared[i])
        if ours.shape[0] == 0:
            continue
        theirs = _within(points, triangles, starts[f], starts[f + 1], shared[i])
        for s in ours:
            p = points[triangles[s, 0]], points[triangles[s, 1]], points[triangles[s, 2]]
            for t in theirs:
                q = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
                apart = False
                for d in range(3):
                    if max(p[0][d], p[1][d], p[2][d]) < min(q[0][d], q[1][d], q[2][d]) or max(
                        q[0][d], q[1][d], q[2][d]
                    ) < min(p[0][d], p[1][d], p[2][d]):
                        apart = True
                        break
                if apart or not _crossing(p, q, line):
                    continue
                if filled == out.shape[0]:
                    out2, owner2 = np.empty((2 * filled, 2, 3)), np.empty((2 * filled, 2), np.int32)
                    out2[:filled], owner2[:filled] = out, owner
                    out, owner = out2, owner2
                out[filled] = line
                owner[filled, 0], owner[filled, 1] = s, t
                filled += 1
    return out[:filled], owner[:filled]


@njit(cache=True, nogil=True)
def _normal(p):  # type: ignore[no-untyped-def]
    a, b, c = p
    u0, u1, u2 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    v0, v1, v2 = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    x, y, z = u1 * v2 - u2 * v1, u2 * v0 - u0 * v2, u0 * v1 - u1 * v0
    size = np.sqrt(x * x + y * y + z * z)
    if size == 0:
        size = 1.0
    return x / size, y / size, z / size


@njit(cache=True, nogil=True)
def _chord(p, n, base, ends):  # type: ignore[no-untyped-def]
    """Where a triangle crosses a plane: both ends into `ends` (2, 3); whether it does."""
    count = 0
    for k in range(3):
        a, b = p[k], p[(k + 1) % 3]
        da = (a[0] - base[0]) * n[0] + (a[1] - base[1]) * n[1] + (a[2] - base[2]) * n[2]
        db = (b[0] - base[0]) * n[0] + (b[1] - base[1]) * n[1] + (b[2] - base[2]) * n[2]
        if (da >= FLAT) == (db >= FLAT) or count == 2:
            continue
        share = da / (da - db)
        for d in range(3):
            ends[count, d] = a[d] + share * (b[d] - a[d])
        count += 1
    return count == 2


@njit(cache=True, nogil=True)
def _crossing(p, q, line):  # type: ignore[no-untyped-def]
    """The segment that two triangles share, into `line` (2, 3); whether there is one."""
    n, m = _normal(p), _normal(q)
    x, y, z = n[1] * m[2] - n[2] * m[1], n[2] * m[0] - n[0] * m[2], n[0] * m[1] - n[1] * m[0]
    size = np.sqrt(x * x + y * y + z * z)
    if size < 1e-4:  # parallel
        return False
    x, y, z = x / size, y / size, z / size
    ours, theirs = np.empty((2, 3)), np.empty((2, 3))
    if not _chord(p, m, q[0], ours) or not _chord(q, n, p[0], theirs):
        return False
    a0 = ours[0, 0] * x + ours[0, 1] * y + ours[0, 2] * z
    a1 = ours[1, 0] * x + ours[1, 1] * y + ours[1, 2] * z
    b0 = theirs[0, 0] * x + theirs[0, 1] * y + theirs[0, 2] * z
    b1 = theirs[1, 0] * x + theirs[1, 1] * y + theirs[1, 2] * z
    low, high = max(min(a0, a1), min(b0, b1)), min(max(a0, a1), max(b0, b1))
    if high - low < SHORT:
        return False
    for k in range(2):
        t = (low if k == 0 else high) - a0
        line[k, 0], line[k, 1], line[k, 2] = ours[0, 0] + t * x, ours[0, 1] + t * y, ours[0, 2] + t * z
    return not _on_side(p, line) and not _on_side(q, line)


@njit(cache=True, nogil=True)
def _on_side(p, line):  # type: ignore[no-untyped-def]
    """Whether a segment lies on a side of a triangle: then it is an edge already, where it is one at all."""
    for k in range(3):
        a, b = p[k], p[(k + 1) % 3]
        d0, d1, d2 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        size = np.sqrt(d0 * d0 + d1 * d1 + d2 * d2)
        near = size > 0
        for end in range(2):
            if near:
                v0, v1, v2 = line[end, 0] - a[0], line[end, 1] - a[1], line[end, 2] - a[2]
                x, y, z = v1 * d2 - v2 * d1, v2 * d0 - v0 * d2, v0 * d1 - v1 * d0
                near = np.sqrt(x * x + y * y + z * z) <= ALONG * size
        if near:
            return True
    return False
