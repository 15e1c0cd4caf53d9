"""Which part of each flat face no nearer one hides: polygons, exact.

Two faces lie in planes, and the depth of a plane is linear over the drawing, also as a lens projects it; so where both
are seen, one is nearer on one side of a straight line, and the other on the other side. What hides a face is taken from
it; of faces in one plane the first keeps the place."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum
from hashlib import blake2b
from typing import NamedTuple

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.threads import side_by_side
from edge_slice.core.cut.surfaces.overlay import common, minus, whole
from edge_slice.core.cut.surfaces.parts import convex_halves
from edge_slice.core.remembered import Remembered, corners_of, marks_of

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Shapes = NDArray[np.object_]
SAME = 0.06  # mm; faces nearer to each other than this lie in one plane
SLIVER = 0.01  # mm²
FINE = np.array([1e-12, 1e-12, 1e-6])  # of lines where faces cross: moved cuts find the same ones, to the last bit
ROUNDS = 12  # what hides is taken away one by one as often as this, then all together
PARTS = 6  # in which that is done side by side

_kept: Remembered[shapely.Geometry] = Remembered("seen of faces", 2_000_000, lambda shape: corners_of([shape]))


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
    apart = shapely.touches(faces.shapes[first], faces.shapes[second])
    hiding = _hiding(faces, first[~apart], second[~apart], wanted)
    if len(hiding.behind):
        _take_away(seen, hiding, faces.shapes)
    gone = shapely.is_empty(seen) | (shapely.area(seen) < SLIVER)
    seen[gone] = None
    return seen


class _Hiding(NamedTuple):
    """Which faces (h,) are `behind` which others (h,), wherever `lines` (h, 3), a u + b v + c > 0, where the two cross:
    0, 0, 0 where they don't."""

    behind: I64
    before: I64
    lines: F64

    def of(self, chosen: I64 | Flags) -> _Hiding:
        return _Hiding(self.behind[chosen], self.before[chosen], self.lines[chosen])

    @property
    def crossing(self) -> Flags:
        found: Flags = (self.lines != 0).any(axis=1)
        return found

    def shapes(self, shapes: Shapes) -> Shapes:
        """What hides (h,)."""
        found = shapes[self.before]
        cut = self.crossing
        if cut.any():
            boxes = _shared_boxes(shapes, self.behind[cut], self.before[cut])
            found[cut] = common(found[cut], _half_planes(self.lines[cut], boxes))
        return found


def _hiding(faces: Faces, first: I64, second: I64, wanted: Flags) -> _Hiding:
    """What hides what, of pairs of faces (p,); of each face the whole ones before those that cross it, the largest
    first: most of what is hidden is gone soon."""
    points, index = shapely.get_coordinates(faces.shapes, return_index=True)
    starts = np.searchsorted(index, np.arange(len(faces.shapes) + 1)).astype(np.int64)
    nearer = _nearer(first, second, points, starts, faces.planes, _shared_boxes(faces.shapes, first, second))
    found = []
    for near, far, code, sign in ((first, second, Nearer.FIRST, 1.0), (second, first, Nearer.SECOND, -1.0)):
        matters = faces.hides[near] & wanted[far] & ((nearer == code) | (nearer == Nearer.CROSSING))
        apart = sign * (faces.planes[second] - faces.planes[first])
        apart[nearer != Nearer.CROSSING] = 0.0
        apart = np.round(apart / FINE) * FINE
        found.append(_Hiding(far, near, apart).of(matters))
    whole = _Hiding(*(np.concatenate(parts) for parts in zip(*found, strict=True)))
    return whole.of(np.lexsort((-shapely.area(faces.shapes)[whole.before], whole.crossing, whole.behind)))


def _shared_boxes(shapes: Shapes, first: I64, second: I64) -> F64:
    """The boxes (p, 4) that pairs of shapes share."""
    boxes = shapely.bounds(shapes)
    a, b = boxes[first], boxes[second]
    return np.column_stack((np.maximum(a[:, :2], b[:, :2]), np.minimum(a[:, 2:], b[:, 2:])))


def _half_planes(lines: F64, boxes: F64) -> Shapes:
    """Of half planes a u + b v + c > 0, (p, 3), what lies in boxes (p, 4), grown a little."""
    rings = convex_halves(lines, boxes + np.array([-1.0, -1.0, 1.0, 1.0]))
    found = np.full(len(lines), shapely.Polygon(), dtype=object)
    held, owner = np.unique(rings.owner, return_inverse=True)
    if len(held):
        found[held] = shapely.polygons(shapely.linearrings(rings.points, indices=owner))
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


def _take_away(seen: Shapes, hiding: _Hiding, shapes: Shapes) -> None:
    """Take from `seen` (f,) what is before it. A face of one shape behind the same ones leaves what it left before."""
    faces, starts = np.unique(hiding.behind, return_index=True)
    ends = np.append(starts[1:], len(hiding.behind))
    marks = np.array([np.frombuffer(mark, dtype=np.uint8) for mark in marks_of(shapes)])
    told = np.column_stack((marks[hiding.before], hiding.lines.view(np.uint8)))
    keys = [
        blake2b(marks[face].tobytes() + told[first:last].tobytes(), digest_size=16).digest()
        for face, first, last in zip(faces.tolist(), starts.tolist(), ends.tolist(), strict=True)
    ]

    def left(missing: list[int]) -> list[shapely.Geometry]:
        def some(first: int, last: int) -> list[shapely.Geometry]:
            own = np.array(missing[first:last], dtype=np.int64)
            return list(_left(seen[faces[own]], (starts[own], ends[own]), hiding, shapes))

        return [one for part in side_by_side(some, len(missing), len(missing) // PARTS + 1) for one in part]

    seen[faces] = _kept.get_all(keys, left)


def _left(own: Shapes, spans: tuple[I64, I64], hiding: _Hiding, shapes: Shapes) -> Shapes:
    """What is left (f,) of shapes (f,) without what hides them, each from its start to its end (f,)."""
    starts, ends = spans
    for k in range(ROUNDS):
        active = (starts + k < ends) & ~shapely.is_empty(own)
        if not active.any():
            return own
        active[active] = shapely.intersects(own[active], shapes[hiding.before[starts[active] + k]])
        own[active] = minus(own[active], hiding.of(starts[active] + k).shapes(shapes))
    for k in np.flatnonzero((starts + ROUNDS < ends) & ~shapely.is_empty(own)).tolist():
        others = hiding.of(np.arange(starts[k] + ROUNDS, ends[k]))
        shapely.prepare(own[k])
        others = others.of(shapely.intersects(own[k], shapes[others.before]))
        own[k] = minus(own[k], whole(others.shapes(shapes)))
    return own
