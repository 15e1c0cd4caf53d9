"""Which part of each flat face no nearer one hides: polygons, exact.

Two faces lie in planes, and the depth of a plane is linear over the drawing, also as a lens projects it; so where both
are seen, one is nearer on one side of a straight line, and the other on the other side. What hides a face is taken from
it; of faces in one plane the first keeps the place."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.lines.threads import side_by_side
from edge_slice.core.cut.surfaces.hiding import Hiding, hiding_of
from edge_slice.core.cut.surfaces.nearer import Faces
from edge_slice.core.cut.surfaces.overlay import minus, whole
from edge_slice.core.remembered import Remembered, corners_of, marks_of, mixed

I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Shapes = NDArray[np.object_]
SLIVER = 0.01  # mm²
ROUNDS = 12  # what hides is taken away one by one as often as this, then all together
PARTS = 6  # in which that is done side by side

_kept: Remembered[shapely.Geometry] = Remembered("seen of faces", 2_000_000, lambda shape: corners_of([shape]))


def seen_of(faces: Faces, wanted: Flags) -> Shapes:
    """What is seen (f,) of the `wanted` faces (f,); None of the others, and of those that are hidden."""
    seen = np.full(len(faces.shapes), None, dtype=object)
    seen[wanted] = faces.shapes[wanted]
    hiding = hiding_of(faces, wanted)
    if len(hiding.behind):
        _take_away(seen, hiding)
    gone = shapely.is_empty(seen) | (shapely.area(seen) < SLIVER)
    seen[gone] = None
    return seen


def _take_away(seen: Shapes, hiding: Hiding) -> None:
    """Take from `seen` (f,) what is before it. A face of one shape behind the same ones leaves what it left before."""
    faces, starts = np.unique(hiding.behind, return_index=True)
    ends = np.append(starts[1:], len(hiding.behind))
    marks = np.array([np.frombuffer(mark, dtype=np.uint8) for mark in marks_of(hiding.shapes)])
    told = np.column_stack((marks[hiding.before], hiding.lines.view(np.uint8)))
    keys = [
        mixed((marks[face].tobytes(), told[first:last].tobytes()))
        for face, first, last in zip(faces.tolist(), starts.tolist(), ends.tolist(), strict=True)
    ]

    def left(missing: list[int]) -> list[shapely.Geometry]:
        def some(first: int, last: int) -> list[shapely.Geometry]:
            own = np.array(missing[first:last], dtype=np.int64)
            return list(_left(seen[faces[own]], (starts[own], ends[own]), hiding))

        return [one for part in side_by_side(some, len(missing), len(missing) // PARTS + 1) for one in part]

    seen[faces] = _kept.get_all(keys, left)


def _left(own: Shapes, spans: tuple[I64, I64], hiding: Hiding) -> Shapes:
    """What is left (f,) of shapes (f,) without what hides them, each from its start to its end (f,)."""
    starts, ends = spans
    for k in range(ROUNDS):
        active = (starts + k < ends) & ~shapely.is_empty(own)
        if not active.any():
            return own
        active[active] = shapely.intersects(own[active], hiding.of(starts[active] + k).whole())
        own[active] = minus(own[active], hiding.of(starts[active] + k).parts())
    for k in np.flatnonzero((starts + ROUNDS < ends) & ~shapely.is_empty(own)).tolist():
        others = hiding.of(np.arange(starts[k] + ROUNDS, ends[k]))
        shapely.prepare(own[k])
        others = others.of(shapely.intersects(own[k], others.whole()))
        own[k] = minus(own[k], whole(others.parts()))
    return own
