"""A drawing trimmed on its sheet: what lies beyond the sides that were taken in is cut away."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Box, DisplayList, Image, Item, Label, Link, Paths, Pattern, run_of, runs_of
from edge_slice.core.sheet.spec import trimmed_box

F64 = NDArray[np.float64]
FAR = 1e6  # mm; where a side was not taken in, what stands beyond the frame stays


def trimmed(display: DisplayList, trim: Box) -> DisplayList:
    """A drawing less `trim` mm at its left, base, right, top. On a side that is not trimmed, levels, grid bubbles and
    annotations beyond the frame stay. Texts stay where their point does; pictures and links where their middle does."""
    if not any(trim):
        return display
    left, base, right, top = display.frame
    kept = trimmed_box(display.frame, trim)
    window: Box = (
        kept[0] if trim[0] else left - FAR,
        kept[1] if trim[1] else base - FAR,
        kept[2] if trim[2] else right + FAR,
        kept[3] if trim[3] else top + FAR,
    )
    items: list[Item] = []
    for item in display.items:
        if isinstance(item, Label):
            if _inside((item.x, item.y), window):
                items.append(item)
        else:
            items += _paths(item, window)
    links = tuple(link for link in display.links if _inside(_middle(link), window))
    images = tuple(image for image in display.images if _inside(_middle(image), window))
    return replace(display, items=tuple(items), frame=kept, links=links, images=images)


def _inside(at: tuple[float, float], window: Box) -> bool:
    return window[0] <= at[0] <= window[2] and window[1] <= at[1] <= window[3]


def _middle(of: Link | Image) -> tuple[float, float]:
    return (of.box[0] + of.box[2]) / 2, (of.box[1] + of.box[3]) / 2


def _paths(item: Paths, window: Box) -> list[Item]:
    if not len(item.points):
        return []
    low, high = item.points.min(axis=0), item.points.max(axis=0)
    if (low >= window[:2]).all() and (high <= window[2:]).all():
        return [item]
    if (high < window[:2]).any() or (low > window[2:]).any():
        return []
    found: list[Item] = []
    runs = [item.points[a:b] for a, b in zip(item.starts[:-1], item.starts[1:], strict=True)]
    if item.fill is not None:
        rings = [ring for run in runs if len(ring := _clipped_ring(run, window)) > 2]
        if rings:
            points, starts = run_of(rings)
            found.append(replace(item, points=points, starts=starts, closed=True, pen=None))
    if item.pen is not None:
        if item.closed:
            runs = [np.concatenate((run, run[:1])) for run in runs]
        lines = shapely.linestrings(
            np.concatenate(runs), indices=np.repeat(np.arange(len(runs)), [len(r) for r in runs])
        )
        points, starts = runs_of(shapely.clip_by_rect(lines, *window))
        if len(points):
            pattern = _clipped_pattern(item.pattern, window) if item.pattern is not None else None
            found.append(replace(item, points=points, starts=starts, closed=False, fill=None, pattern=pattern))
    return found


def _clipped_pattern(pattern: Pattern, window: Box) -> Pattern:
    rings = [pattern.points[a:b] for a, b in pairwise(pattern.starts)]
    points, starts = run_of([ring for whole in rings if len(ring := _clipped_ring(whole, window)) > 2])
    return replace(pattern, points=points, starts=starts)


def _clipped_ring(ring: F64, window: Box) -> F64:
    """A ring within a box (Sutherland and Hodgman 1974): even-odd filling of several rings stays right, since what is
    added runs along the box to and fro."""
    for axis, limit, above in (
        (0, window[0], True),
        (1, window[1], True),
        (0, window[2], False),
        (1, window[3], False),
    ):
        if not len(ring):
            return ring
        inside = ring[:, axis] >= limit if above else ring[:, axis] <= limit
        if inside.all():
            continue
        following, after = np.roll(ring, -1, axis=0), np.roll(inside, -1)
        step = following[:, axis] - ring[:, axis]
        share = np.divide(limit - ring[:, axis], step, out=np.zeros(len(ring)), where=step != 0)
        crossing = ring + share[:, None] * (following - ring)
        crossing[:, axis] = limit
        both = np.stack((ring, crossing), axis=1).reshape(-1, 2)
        ring = both[np.stack((inside, inside != after), axis=1).ravel()]
    return ring
