"""Segments joined into polylines, so that dashes run on round corners and pens are set down seldom."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.lines.chains import walk
from edge_slice.core.drawing.display import Runs

F64 = NDArray[np.float64]


def chained(segments: F64) -> Runs:
    """Segments (n, 4) joined into polylines where exactly two meet in the very same point; those that close come last,
    and end where they begin. Segments of no length are left out."""
    segments = segments[(segments[:, :2] != segments[:, 2:]).any(axis=1)]
    ends = segments.reshape(-1, 2)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    new = np.zeros(len(ends), dtype=np.int64)
    new[1:] = (ends[order[1:]] != ends[order[:-1]]).any(axis=1)
    node = np.empty(len(ends), dtype=np.int64)
    node[order] = np.cumsum(new)
    index, turned, starts = walk(node.reshape(-1, 2))
    directed = np.where(turned[:, None], segments[index][:, [2, 3, 0, 1]], segments[index])
    last = np.zeros(len(directed), dtype=bool)
    last[starts[1:] - 1] = True
    points = np.insert(directed[:, :2], np.flatnonzero(last) + 1, directed[last, 2:], axis=0)
    return points, starts + np.arange(len(starts))
