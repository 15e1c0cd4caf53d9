"""Where a strip that covers a band of a plan covers least of it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import CutFace, ImpossibleCut
from edge_slice.core.cut.planes.leaves import Leaf
from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import AIR

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NEAR = 1e-6  # columns; so near to the middle two places are alike


def spans_of(faces: Sequence[CutFace]) -> F64:
    """From where to where along a section (n, 2), mm, each thing that it cuts goes: pieces of one element that meet
    are one."""
    spans: list[tuple[float, float]] = []
    boxes = sorted((f.element, f.polygon.bounds[0], f.polygon.bounds[2]) for f in faces)
    before = -1
    for element, start, end in boxes:
        if element == before and start <= spans[-1][1] + NEAR:
            spans[-1] = (spans[-1][0], max(spans[-1][1], end))
        else:
            spans.append((start, end))
        before = element
    return np.array(spans, dtype=np.float64).reshape(-1, 2)


def least_covered(ink: Ink, own: Fold, leaf: Leaf, spans: F64, scale: float, long: float) -> float:
    """Where a strip that is `long` (mm) begins along its section, whose plane is `leaf`, so that it shows one of the
    things cut (`spans`, as of `spans_of`) whole and covers as little as may be of what is drawn on the plan (`ink`),
    which is broken as `own`; of places that cover alike, the one nearest to the middle. Where no thing is so short, it
    shows a part of one. Raises `ImpossibleCut` where the section cuts nothing."""
    left, right = leaf.window[0], leaf.window[2]
    if not len(spans):
        raise ImpossibleCut("The section cuts nothing between these heights; choose another base or top for the strip.")
    step = ink.size * scale
    count, wide = max(1, int((right - left) / step)), max(1, round(long / step))
    if wide >= count:
        return left
    middles = np.asarray(left + step * (np.arange(count) + 0.5), dtype=np.float64)
    sums = np.zeros(count + 1, dtype=np.int64)
    sums[1:] = _covered(ink, own, leaf, scale, middles).cumsum()
    starts = np.arange(count - wide + 1)
    covered = sums[starts + wide] - sums[starts]
    low, high = (left + step * starts)[:, None], (left + step * (starts + wide))[:, None]
    shows = ((spans[:, 0] >= low) & (spans[:, 1] <= high)).any(axis=1)
    if not shows.any():
        shows = ((spans[:, 0] < high) & (spans[:, 1] > low)).any(axis=1)
    off = np.abs(starts + wide / 2 - count / 2)
    best = np.lexsort((off, covered, ~shows))[0]
    return float(left + step * starts[best])


def _covered(ink: Ink, own: Fold, leaf: Leaf, scale: float, along: F64) -> I64:
    """How many squares of ink a strip would cover with each column of it, at places `along` its section (n), mm."""
    foot = leaf.axes.origin[:2] * 1000.0 + along[:, None] * leaf.axes.u[:2]
    room = (leaf.window[3] - leaf.window[1]) / scale + 2 * (own.rule.height + AIR)
    up = np.arange(0.0, room, ink.size)[None, :, None] * leaf.axes.w[:2]
    at = ((own.points(foot / scale)[:, None, :] + up - ink.frame[:2]) / ink.size).astype(np.int64)
    x, y = at[..., 0], at[..., 1]
    rows, columns = ink.taken.shape
    within = (x >= 0) & (y >= 0) & (x < columns) & (y < rows)
    taken: I64 = (within & ink.taken[np.clip(y, 0, rows - 1), np.clip(x, 0, columns - 1)]).sum(axis=1)
    return taken
