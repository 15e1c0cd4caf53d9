"""A sheet laid over an earlier state of it: what of its lines and texts went, and what came."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.comparison import (
    ADDED,
    ADDED_WIDTH,
    REMOVED,
    REMOVED_DASH,
    REMOVED_WIDTH,
    faint,
    stretches_alone,
)
from edge_slice.core.drawing.display import Box, DisplayList, Item, Label, Paths, Pen
from edge_slice.core.drawing.strokes.chains import chained
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.drawing.texts.lettering import box_of

F64 = NDArray[np.float64]
LEAST = 0.3  # mm of line that must differ
NEAR = 6.0  # mm; changes closer to each other are one place
QUIET = ("title block line", "revision mark")  # what changes with every issue and is no change of what is drawn


@dataclass(frozen=True)
class SheetChanges:
    """The sheet as it is now, faint, with what went (dashed) and came (heavy) over it; the places, from the top on."""

    display: DisplayList
    places: tuple[Box, ...]


def sheets_compared(before: DisplayList, after: DisplayList) -> SheetChanges:
    """Lines are compared by where they lie, texts by what they say and where."""
    one, two = _segments(before), _segments(after)
    pieces, index = stretches_alone(one, two, LEAST)
    gone, came = pieces[index < len(one)], pieces[index >= len(one)]
    lost, new = _texts_alone(before, after)
    items: list[Item] = [faint(item) for item in after.items]
    if len(gone):
        items += stroked("removed", [chained(np.round(gone, 3))], Pen(REMOVED_WIDTH, REMOVED, REMOVED_DASH))
    if len(came):
        items += stroked("added", [chained(np.round(came, 3))], Pen(ADDED_WIDTH, ADDED))
    items += [replace(label, role="removed", colour=REMOVED) for label in lost]
    items += [replace(label, role="added", colour=ADDED) for label in new]
    return SheetChanges(
        replace(after, items=tuple(items), images=()), _places(np.concatenate((gone, came)), lost + new)
    )


def _segments(display: DisplayList) -> F64:
    found = [np.zeros((0, 4))]
    for item in display.items:
        if not isinstance(item, Paths) or item.pen is None or item.role in QUIET or len(item.points) < 2:
            continue
        points, starts = item.points, item.starts
        joined = np.column_stack((points[:-1], points[1:]))
        within = np.ones(len(joined), dtype=bool)
        within[starts[1:-1] - 1] = False
        found.append(joined[within])
        if item.closed:
            found.append(np.column_stack((points[starts[1:] - 1], points[starts[:-1]])))
    segments = np.concatenate(found)
    long = np.hypot(segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1]) > 1e-3
    return np.ascontiguousarray(segments[long])


def _texts_alone(before: DisplayList, after: DisplayList) -> tuple[list[Label], list[Label]]:
    def key(label: Label) -> tuple[object, ...]:
        return label.text, round(label.x, 1), round(label.y, 1), round(label.height, 2), round(label.angle, 1)

    one = [i for i in before.items if isinstance(i, Label)]
    two = [i for i in after.items if isinstance(i, Label)]
    known_one, known_two = Counter(map(key, one)), Counter(map(key, two))
    return [i for i in one if key(i) not in known_two], [i for i in two if key(i) not in known_one]


def _places(pieces: F64, texts: list[Label]) -> tuple[Box, ...]:
    """Boxes about changes that lie close together."""
    boxes = [shapely.box(min(a, c), min(b, d), max(a, c), max(b, d)) for a, b, c, d in pieces.tolist()]
    boxes += [shapely.box(*box_of(label)) for label in texts]
    if not boxes:
        return ()
    grown = shapely.buffer(np.array(boxes, dtype=object), NEAR / 2, quad_segs=1, cap_style="square", join_style="mitre")
    merged = shapely.get_parts(shapely.union_all(grown))
    found = [(*g.bounds,) for g in merged.tolist()]
    return tuple(sorted(found, key=lambda b: (-round(b[3], 1), b[0])))
