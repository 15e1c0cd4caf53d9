"""Dashed lines as strokes: every line begins and ends on ink (ISO 128-2), its pattern stretched a little to fit."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Paths, Pen, Runs, joined

F64 = NDArray[np.float64]
FINEST = 0.4  # mm; no pattern repeats in less
MOST = 300_000  # repeats in one set of lines
I64 = NDArray[np.int64]


@njit(cache=True, nogil=True)
def _dashes(points: F64, starts: I64, pattern: F64, closed: bool):  # type: ignore[no-untyped-def]
    out = np.empty((256, 2))
    begins = np.empty(64, np.int64)
    n = m = 0
    whole = pattern.sum()
    for c in range(starts.shape[0] - 1):
        a, b = starts[c], starts[c + 1]
        corners = b - a + (1 if closed else 0)
        total = 0.0
        for i in range(1, corners):
            p, q = points[a + i - 1], points[a + i if a + i < b else a]
            total += np.hypot(q[0] - p[0], q[1] - p[1])
        repeats = max(0.0, np.rint((total - pattern[0]) / whole))
        stretch = total / (repeats * whole + pattern[0])
        if repeats == 0:
            stretch = 1e12  # too short for a gap: one stroke
        k, left, inked = 0, pattern[0] * stretch, True
        fresh = True
        for i in range(1, corners):
            p, q = points[a + i - 1], points[a + i if a + i < b else a]
            length = np.hypot(q[0] - p[0], q[1] - p[1])
            at = 0.0
            while True:
                stop = min(length, at + left)
                if inked and (stop > at or fresh):
                    if n + 2 > out.shape[0]:
                        wider = np.empty((2 * out.shape[0], 2))
                        wider[:n] = out[:n]
                        out = wider
                    if m + 1 >= begins.shape[0]:
                        longer = np.empty(2 * begins.shape[0], np.int64)
                        longer[:m] = begins[:m]
                        begins = longer
                    share = 1.0 / length if length > 0 else 0.0
                    if fresh:
                        begins[m] = n
                        m += 1
                        out[n, 0] = p[0] + (q[0] - p[0]) * at * share
                        out[n, 1] = p[1] + (q[1] - p[1]) * at * share
                        n += 1
                        fresh = False
                    out[n, 0] = p[0] + (q[0] - p[0]) * stop * share
                    out[n, 1] = p[1] + (q[1] - p[1]) * stop * share
                    n += 1
                left -= stop - at
                at = stop
                if left > 1e-9:
                    break
                k = (k + 1) % pattern.shape[0]
                left = pattern[k] * stretch
                inked = k % 2 == 0
                fresh = inked
                if at >= length - 1e-9:
                    break
    begins[m] = n
    return out[:n], begins[: m + 1]


def dashed(runs: Runs, pattern: tuple[float, ...], closed: bool = False) -> Runs:
    """Paths (points, starts) as the strokes of a pattern of dashes and gaps in mm; lines too short for a gap stay
    whole. Dashes run on round corners."""
    points, starts = runs
    if not len(points) or not pattern:
        return runs
    lengths = np.array(pattern, dtype=np.float64)
    inked = float(np.hypot(*np.diff(points, axis=0).T).sum())
    least = max(FINEST, inked / MOST)  # a pattern so fine that nobody sees its gaps would only cost time
    lengths *= max(1.0, least / max(float(lengths.sum()), 1e-12))
    found: Runs = _dashes(np.ascontiguousarray(points), starts, lengths, closed)
    return found


def stroked(role: str, runs: list[Runs], pen: Pen, source: str = "") -> list[Paths]:
    """Strokes of a pen; dashed lines as their dashes, so that every one begins and ends on ink."""
    if pen.width <= 0:
        return []
    if pen.dash:
        runs, pen = [dashed(r, pen.dash) for r in runs], Pen(pen.width, pen.colour)
    return joined(role, runs, pen, source=source)
