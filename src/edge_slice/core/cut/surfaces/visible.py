"""Which part of each flat face no nearer one hides: polygons, exact.

Two faces lie in planes, and the depth of a plane is linear over the drawing, also as a lens projects it; so where both
are seen, one is nearer on one side of a straight line, and the other on the other side. What hides a face is taken from
it; of faces in one plane the first keeps the place."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.threads import side_by_side
from edge_slice.core.cut.surfaces.overlay import common, minus, whole

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Shapes = NDArray[np.object_]
SAME = 0.06  # mm; faces nearer to each other than this lie in one plane
SLIVER = 0.01  # mm²
ROUNDS = 12  # what hides is taken away one by one as often as this, then all together
PARTS = 16  # in which that is done side by side


@dataclass(frozen=True)
class Faces:
    """Flat faces as seen: shapes (f,) in drawing mm; planes (f, 3) as (a, b, c) with w = a u + b v + c; which of them
    hide (f,) what lies behind."""

    shapes: Shapes
    planes: F64
    hides: Flags


class Nearer(IntEnum):
    """Of two faces, which is nearer wherever both could be seen; or each in a part of it."""

    FIRST = 0
    SECOND = 1
    CROSSING = 2


def seen_of(faces: Faces, wanted: Flags) -> Shapes:
    """What is seen (f,) of the `wanted` faces (f,); None of the others, and of those that are hidden."""
    seen = np.full(len(faces.shapes), None, dtype=object)
    seen[wanted] = faces.shapes[wanted]
    shapely.prepare(faces.shapes)
    asked = np.flatnonzero(wanted)
    one, other = shapely.STRtree(faces.shapes).query(faces.shapes[asked], predicate="intersects")
    one = asked[one]
    use = (one != other) & (~wanted[other] | (one < other)) & (faces.hides[other] | (wanted[other] & faces.hides[one]))
    first, second = np.minimum(one, other)[use], np.maximum(one, other)[use]
    behind, before = _hiding(faces, first, second, wanted)
    if len(behind):
        _take_away(seen, behind, before)
    gone = shapely.is_empty(seen) | (shapely.area(seen) < SLIVER)
    seen[gone] = None
    return seen


def _hiding(faces: Faces, first: I64, second: I64, wanted: Flags) -> tuple[I64, Shapes]:
    """Of pairs of faces (p,) which face (h,) is behind what shape (h,)."""
    points, index = shapely.get_coordinates(faces.shapes, return_index=True)
    starts = np.searchsorted(index, np.arange(len(faces.shapes) + 1)).astype(np.int64)
    boxes = _shared_boxes(faces.shapes, first, second)
    nearer = _nearer(first, second, points, starts, faces.planes, boxes)
    behind, before = [], []
    for near, far, code, sign in ((first, second, Nearer.FIRST, 1.0), (second, first, Nearer.SECOND, -1.0)):
        matters = faces.hides[near] & wanted[far]
        whole = matters & (nearer == code)
        behind.append(far[whole])
        before.append(faces.shapes[near[whole]])
        crossing = np.flatnonzero(matters & (nearer == Nearer.CROSSING))
        if len(crossing):
            a, b = first[crossing], second[crossing]
            halves = _half_planes(sign * (faces.planes[b] - faces.planes[a]), boxes[crossing])
            behind.append(far[crossing])
            before.append(common(faces.shapes[near[crossing]], halves))
    return np.concatenate(behind), np.concatenate(before)


def _shared_boxes(shapes: Shapes, first: I64, second: I64) -> F64:
    """The boxes (p, 4) that pairs of shapes share."""
    boxes = shapely.bounds(shapes)
    a, b = boxes[first], boxes[second]
    return np.column_stack((np.maximum(a[:, :2], b[:, :2]), np.minimum(a[:, 2:], b[:, 2:])))


def _half_planes(lines: F64, boxes: F64) -> Shapes:
    """Of half planes a u + b v + c > 0, (p, 3), squares (p,) that reach over boxes (p, 4), cut to these."""
    middle = (boxes[:, :2] + boxes[:, 2:]) / 2
    reach = 2 * np.hypot(*(boxes[:, 2:] - boxes[:, :2]).T)[:, None] + 1.0
    steep = np.maximum(np.hypot(lines[:, 0], lines[:, 1]), 1e-30)[:, None]
    across = lines[:, :2] / steep
    along = np.column_stack((-across[:, 1], across[:, 0]))
    off = ((lines[:, :2] * middle).sum(axis=1, keepdims=True) + lines[:, 2:]) / steep
    at = middle - across * off
    corners = np.stack((at - along * reach, at + along * reach), axis=1)
    far = corners[:, ::-1] + (across * (reach + np.abs(off)))[:, None]
    squares = shapely.polygons(np.concatenate((corners, far), axis=1))
    grown = boxes + np.array([-1.0, -1.0, 1.0, 1.0])
    found: Shapes = common(squares, shapely.box(*grown.T))
    return found


@njit(cache=True, nogil=True)
def _nearer(first: I64, second: I64, points: F64, starts: I64, planes: F64, boxes: F64):  # type: ignore[no-untyped-def]
    """Where both of two faces could be seen, their difference in depth lies between its least and greatest at the
    corners of either, and of the box that they share."""
    out = np.empty(first.shape[0], np.int8)
    for k in range(first.shape[0]):
        a = planes[second[k], 0] - planes[first[k], 0]
        b = planes[second[k], 1] - planes[first[k], 1]
        c = planes[second[k], 2] - planes[first[k], 2]
        u, v = (boxes[k, 0] + boxes[k, 2]) / 2, (boxes[k, 1] + boxes[k, 3]) / 2
        middle = a * u + b * v + c
        spread = (abs(a) * (boxes[k, 2] - boxes[k, 0]) + abs(b) * (boxes[k, 3] - boxes[k, 1])) / 2
        low, high = middle - spread, middle + spread
        for face in (first[k], second[k]):
            least, most = np.inf, -np.inf
            for j in range(starts[face], starts[face + 1]):
                d = a * points[j, 0] + b * points[j, 1] + c
                least, most = min(least, d), max(most, d)
            low, high = max(low, least), min(high, most)
        out[k] = 0 if low >= -SAME else 1 if high <= SAME else 2
    return out


def _take_away(seen: Shapes, behind: I64, before: Shapes) -> None:
    """Take from seen[behind] what is before it, the largest first: most of what is hidden is gone soon."""
    order = np.lexsort((-shapely.area(before), behind))
    behind, before = behind[order], before[order]
    faces, starts = np.unique(behind, return_index=True)
    ends = np.append(starts[1:], len(behind))
    for k in range(ROUNDS):
        active = (starts + k < ends) & ~shapely.is_empty(seen[faces])
        if not active.any():
            return
        seen[faces[active]] = minus(seen[faces[active]], before[starts[active] + k])
    more = np.flatnonzero((starts + ROUNDS < ends) & ~shapely.is_empty(seen[faces]))

    def rest(first: int, last: int) -> None:
        for k in more[first:last].tolist():
            face, others = faces[k], before[starts[k] + ROUNDS : ends[k]]
            shapely.prepare(seen[face])
            others = others[shapely.intersects(seen[face], others)]
            seen[face] = minus(seen[face], whole(others))

    side_by_side(rest, len(more), len(more) // PARTS + 1)
