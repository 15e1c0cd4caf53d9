"""Of two flat faces, which is nearer wherever both could be seen; or each in a part of it; or neither, side by side."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.threads import side_by_side

F64 = NDArray[np.float64]
I8 = NDArray[np.int8]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Shapes = NDArray[np.object_]
SAME = 0.06  # mm; faces nearer to each other than this lie in one plane
PAIRS = 8192  # that are asked one after the other, others side by side with them
LEAST = 1e-6  # mm²; faces that share no more are side by side
CORNERS = 32  # of a convex face that is clipped by another; one with more is taken by its box


class Nearer(IntEnum):
    """What `nearer_of` finds of a pair."""

    FIRST = 0
    SECOND = 1
    CROSSING = 2
    APART = 3


@dataclass(frozen=True)
class Faces:
    """Flat faces as seen: shapes (f,) in drawing mm; planes (f, 3) as (a, b, c) with w = a u + b v + c; which of them
    hide (f,) what lies behind; the `body` (f,) that each is of, -1 for none."""

    shapes: Shapes
    planes: F64
    hides: Flags
    body: I64


def nearer_of(faces: Faces, first: I64, second: I64) -> I8:
    """Which of pairs of faces (p,) is nearer, as `Nearer`; faces that share no more than LEAST are apart. Of two convex
    faces it is asked at the corners of what they share; of others where both could be seen at most: their difference in
    depth lies between its least and greatest at the corners of either, and of the box that they share."""
    points, index = shapely.get_coordinates(faces.shapes, return_index=True)
    starts = np.searchsorted(index, np.arange(len(faces.shapes) + 1)).astype(np.int64)
    simple = (shapely.get_type_id(faces.shapes) == shapely.GeometryType.POLYGON) & (
        shapely.get_num_interior_rings(faces.shapes) == 0
    )
    turning = _turning(points, starts)
    turning[~simple] = 0
    boxes = shared_boxes(faces.shapes, first, second)
    found = np.empty(len(first), dtype=np.int8)

    def some(a: int, b: int) -> None:
        found[a:b] = _nearer(first[a:b], second[a:b], (points, starts, turning), faces.planes, boxes[a:b])

    side_by_side(some, len(first), PAIRS)
    asked = np.flatnonzero((turning[first] == 0) | (turning[second] == 0))
    shapely.prepare(faces.shapes)
    one, other = faces.shapes[first[asked]], faces.shapes[second[asked]]
    found[asked[~shapely.intersects(one, other) | shapely.touches(one, other)]] = Nearer.APART
    return found


def shared_boxes(shapes: Shapes, first: I64, second: I64) -> F64:
    """The boxes (p, 4) that pairs of shapes share."""
    boxes = shapely.bounds(shapes)
    a, b = boxes[first], boxes[second]
    return np.column_stack((np.maximum(a[:, :2], b[:, :2]), np.minimum(a[:, 2:], b[:, 2:])))


@njit(cache=True, nogil=True)
def _turning(points: F64, starts: I64):  # type: ignore[no-untyped-def]
    """Which way rings (f,) turn: 1 or -1; 0 of one that is not convex, or has too many corners."""
    out = np.zeros(starts.shape[0] - 1, np.int8)
    for f in range(out.shape[0]):
        first, count = starts[f], starts[f + 1] - starts[f] - 1
        if count < 3 or count > CORNERS:
            continue
        least, most = 0.0, 0.0
        for j in range(count):
            p, q, r = points[first + j], points[first + j + 1], points[first + (j + 2) % count]
            turn = (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0])
            least, most = min(least, turn), max(most, turn)
        if most > 0 and least >= -1e-9 * most:
            out[f] = 1
        elif least < 0 and most <= -1e-9 * least:
            out[f] = -1
    return out


@njit(cache=True, nogil=True)
def _nearer(first: I64, second: I64, rings, planes: F64, boxes: F64):  # type: ignore[no-untyped-def]
    points, starts, turning = rings
    out = np.empty(first.shape[0], np.int8)
    ring, kept = np.empty((2 * CORNERS, 2)), np.empty((2 * CORNERS, 2))
    for k in range(first.shape[0]):
        one, other = first[k], second[k]
        a = planes[other, 0] - planes[one, 0]
        b = planes[other, 1] - planes[one, 1]
        c = planes[other, 2] - planes[one, 2]
        low, high = np.inf, -np.inf
        if turning[one] != 0 and turning[other] != 0:
            count = starts[one + 1] - starts[one] - 1
            ring[:count] = points[starts[one] : starts[one + 1] - 1]
            count = _clipped(ring, count, kept, points[starts[other] : starts[other + 1]], turning[other])
            area = 0.0
            for j in range(count):
                p, q = ring[j], ring[(j + 1) % count]
                area += (p[0] - ring[0, 0]) * (q[1] - ring[0, 1]) - (q[0] - ring[0, 0]) * (p[1] - ring[0, 1])
                d = a * p[0] + b * p[1] + c
                low, high = min(low, d), max(high, d)
            if abs(area) <= 2 * LEAST:
                out[k] = 3
                continue
        else:
            u, v = (boxes[k, 0] + boxes[k, 2]) / 2, (boxes[k, 1] + boxes[k, 3]) / 2
            middle = a * u + b * v + c
            spread = (abs(a) * (boxes[k, 2] - boxes[k, 0]) + abs(b) * (boxes[k, 3] - boxes[k, 1])) / 2
            low, high = middle - spread, middle + spread
            for face in (one, other):
                least, most = np.inf, -np.inf
                for j in range(starts[face], starts[face + 1]):
                    d = a * points[j, 0] + b * points[j, 1] + c
                    least, most = min(least, d), max(most, d)
                low, high = max(low, least), min(high, most)
        out[k] = 0 if low >= -SAME else 1 if high <= SAME else 2
    return out


@njit(cache=True, nogil=True)
def _clipped(ring: F64, count: int, kept: F64, by: F64, turn: int):  # type: ignore[no-untyped-def]
    """A convex ring, in its place, clipped by another (Sutherland and Hodgman 1974): how many corners are left."""
    for j in range(by.shape[0] - 1):
        x, y = by[j, 0], by[j, 1]
        along, up = (by[j + 1, 0] - x) * turn, (by[j + 1, 1] - y) * turn
        left = 0
        for i in range(count):
            p, q = ring[i], ring[(i + 1) % count]
            here = along * (p[1] - y) - up * (p[0] - x)
            there = along * (q[1] - y) - up * (q[0] - x)
            if here >= 0:
                kept[left] = p
                left += 1
            if (here >= 0) != (there >= 0):
                kept[left] = p + here / (here - there) * (q - p)
                left += 1
        count = left
        ring[:count] = kept[:count]
        if count == 0:
            break
    return count
