"""Lines of dense bodies (plants, grilles, fine metalwork) thinned to what can be told apart on paper."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
APART = 0.7  # mm on paper between lines that are told apart; finer hatches are turned off too (ISO 128-50)
DENSE = 0.55  # mm on paper; where lines of one element lie closer than this on average, they are a heap of ink
FREE = 0.75  # share of a line that must lie apart from those that stay
LEAST_LINES = 24  # an element with fewer is never a heap


def thinned(segments: F64, element: NDArray[np.int32]) -> Flags:
    """Which segments (n, 4), mm on paper, of elements (n,) are drawn: all of most elements; of one whose lines lie
    closer than `DENSE` on average, the longest, and others only where they keep apart from these."""
    keep = np.ones(len(segments), dtype=bool)
    if not len(segments):
        return keep
    length = np.hypot(segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1])
    count = np.bincount(element)
    total = np.bincount(element, weights=length)
    order = np.argsort(element, kind="stable")
    starts = np.searchsorted(element[order], np.arange(len(count) + 1))
    for k in np.flatnonzero((count >= LEAST_LINES) & (total > 0)).tolist():
        rows = order[starts[k] : starts[k + 1]]
        ends = segments[rows].reshape(-1, 2)
        low, high = ends.min(axis=0), ends.max(axis=0)
        wide, tall = (high - low).tolist()
        if wide * tall / total[k] >= DENSE:
            continue
        longest = rows[np.argsort(-length[rows], kind="stable")]
        kept = _apart(segments[longest], low, int(wide / APART) + 2, int(tall / APART) + 2, APART, FREE)
        keep[longest[~kept]] = False
    return keep


@njit(cache=True, nogil=True)
def _apart(segments, corner, columns, rows, size, free):  # type: ignore[no-untyped-def]
    """Of segments (n, 4), taken in order, those of which at least a share lies in squares that none before has."""
    left, base = corner[0], corner[1]
    taken = np.zeros((rows, columns), np.bool_)
    kept = np.zeros(segments.shape[0], np.bool_)
    for i in range(segments.shape[0]):
        x0, y0, x1, y1 = segments[i]
        steps = int(max(abs(x1 - x0), abs(y1 - y0)) / (size / 2)) + 1
        clear = 0
        for k in range(steps + 1):
            column = int((x0 + (x1 - x0) * k / steps - left) / size)
            row = int((y0 + (y1 - y0) * k / steps - base) / size)
            if not taken[row, column]:
                clear += 1
        if clear < free * (steps + 1):
            continue
        kept[i] = True
        for k in range(steps + 1):
            row = int((y0 + (y1 - y0) * k / steps - base) / size)
            taken[row, int((x0 + (x1 - x0) * k / steps - left) / size)] = True
    return kept
