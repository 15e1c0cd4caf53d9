"""Broken drawings: a part of the middle is taken out, the rest closes up to a gap with a break line at both sides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.planes.leaves import Window
from edge_slice.core.cut.spec import Break, Extents
from edge_slice.core.drawing.breaks.break_lines import GROUND, zigzag
from edge_slice.core.drawing.display import Box, Item, Label, Link, Paths, Pen, paths_of, run_of, runs_of, together
from edge_slice.core.drawing.rules.standard import BreakRule

F64 = NDArray[np.float64]
FAR = 1e6  # mm; beyond everything that stands at the edge of a drawing
LEAST = 0.01  # mm on paper that must be left between breaks
TOUCH = 1e-6  # mm
# what is moved in one piece: half a head says nothing
WHOLE = ("marker head", "marker wedge", "cutting line end", "grid bubble", "level mark", "callout bubble")
ONCE = ("cutting line",)  # a line that runs along a break stands at one side of it
NEAR_HEAD = 30.0  # mm from the middle of a head within which what is part of its marker moves with it
NO_HEADS: F64 = np.zeros((0, 2))


@dataclass(frozen=True)
class Part:
    """A stretch of an axis that is shown, mm on paper before it is moved, and by how much it is."""

    start: float
    end: float
    shift: float


@dataclass(frozen=True)
class Fold:
    """How the parts of a broken drawing stand on paper: along each axis the parts that are shown, in order; the first
    one stays where it is. The outermost ones reach to infinity: what stands at the edge moves with its part."""

    us: tuple[Part, ...]
    vs: tuple[Part, ...]
    frame: Box
    rule: BreakRule

    @staticmethod
    def of(window: Window, extents: Extents, scale: float, rule: BreakRule) -> Fold:
        """window: left, base, right, top, mm of the building. Breaks that do not lie within it take nothing out."""
        left, base, right, top = (x / scale for x in window)
        us = _parts([b for b in extents.breaks if b.axis == "u"], left, right, scale, rule.gap)
        vs = _parts([b for b in extents.breaks if b.axis == "v"], base, top, scale, rule.gap)
        frame = (left, base, right + us[-1].shift, top + vs[-1].shift)
        return Fold(us, vs, frame, rule)

    @property
    def folds(self) -> bool:
        """Whether anything is taken out."""
        return len(self.us) + len(self.vs) > 2

    def u(self, x: float) -> float | None:
        """Where a place along u stands on paper, mm; None where it is taken out."""
        return _moved(self.us, x)

    def v(self, y: float) -> float | None:
        return _moved(self.vs, y)

    def points(self, points: F64) -> F64:
        """Points (n, 2) moved with their parts; those taken out go to the nearest side of their break."""
        found: F64 = np.column_stack((_clamped(self.us, points[:, 0]), _clamped(self.vs, points[:, 1])))
        return found

    def unfolded(self, points: F64) -> F64:
        """Where points on paper (n, 2) lay before; those in a break go to its nearest side."""
        found: F64 = np.column_stack((_unclamped(self.us, points[:, 0]), _unclamped(self.vs, points[:, 1])))
        return found

    def tears(self, start: F64, end: F64) -> list[float]:
        """Where on the way from one place on paper (2,) to another the middles of gaps lie, as shares of the way."""
        found: list[float] = []
        for parts, a, b in ((self.us, float(start[0]), float(end[0])), (self.vs, float(start[1]), float(end[1]))):
            for one, after in pairwise(parts):
                at = (one.end + one.shift + after.start + after.shift) / 2
                if min(a, b) < at < max(a, b):
                    found.append((at - a) / (b - a))
        return found

    def items(self, items: Sequence[Item]) -> list[Item]:
        """What is drawn, part for part: cut off at the breaks, a little beyond them where the break lines hide it."""
        if not self.folds:
            return list(items)
        found: list[Item] = []
        heads = _heads(items)
        for item in items:
            about = heads.get(item.source, NO_HEADS)
            if isinstance(item, Label):
                at = np.array([item.x, item.y])
                middle = _nearest(about, at)
                x, y = self.u(float(middle[0])), self.v(float(middle[1]))
                if x is not None and y is not None:
                    dx, dy = (at - middle).tolist()
                    found.append(replace(item, x=x + dx, y=y + dy))
            elif item.role in WHOLE:
                found += self._whole(item, about)
            else:
                found += self._paths(item)
        return found

    def _whole(self, item: Paths, heads: F64 = NO_HEADS) -> list[Paths]:
        paths = np.split(item.points, item.starts[1:-1])
        middles = np.array([_nearest(heads, (p.min(axis=0) + p.max(axis=0)) / 2) for p in paths])
        moved = [(self.u(x), self.v(y)) for x, y in middles.tolist()]
        kept = [p + (np.array(to) - m) for p, m, to in zip(paths, middles, moved, strict=True) if None not in to]
        if not kept:
            return []
        points, starts = run_of(kept)
        return [replace(item, points=points, starts=starts, pattern=None)]

    def links(self, links: Sequence[Link]) -> list[Link]:
        found = []
        for link in links:
            x0, y0, x1, y1 = link.box
            x, y = self.u((x0 + x1) / 2), self.v((y0 + y1) / 2)
            if x is not None and y is not None:
                dx, dy = x - (x0 + x1) / 2, y - (y0 + y1) / 2
                found.append(Link((x0 + dx, y0 + dy, x1 + dx, y1 + dy), link.target))
        return found

    def lines(self, pen: Pen) -> list[Item]:
        """The break lines, and the white that hides what lies beyond them."""
        left, base, right, top = self.frame
        items: list[Item] = []
        for parts, upright, (low, high) in ((self.us, True, (base, top)), (self.vs, False, (left, right))):
            for one, after in pairwise(parts):
                first = _across(one.end + one.shift, low, high, upright, self.rule)
                second = _across(after.start + after.shift, low, high, upright, self.rule)
                items.append(paths_of("break mask", [np.concatenate((first, second[::-1]))], None, GROUND, True))
                items.append(paths_of("break line", [first, second], pen))
        return items

    def _paths(self, item: Paths) -> list[Paths]:
        found: list[Paths] = []
        for kind in ("fill", "stroke"):
            if (item.fill is None) if kind == "fill" else (item.pen is None):
                continue
            parts = [self._panel(item, kind == "fill", u, v) for u in range(len(self.us)) for v in range(len(self.vs))]
            points, starts = together(parts)
            if not len(points):
                continue
            filled = kind == "fill"
            found.append(
                replace(
                    item, points=points, starts=starts, closed=filled,
                    pen=None if filled else item.pen, fill=item.fill if filled else None, pattern=None,
                )
            )  # fmt: skip
        return found

    def _panel(self, item: Paths, filled: bool, iu: int, iv: int) -> tuple[F64, NDArray[np.int64]]:
        """What one part shows of some paths."""
        u, v = self.us[iu], self.vs[iv]
        h = -TOUCH if item.role in ONCE else self.rule.height  # what lies in a break is part of the side before it
        left = -FAR if iu == 0 else u.start - h
        right = FAR if iu == len(self.us) - 1 else u.end + abs(h)
        base = -FAR if iv == 0 else v.start - h
        top = FAR if iv == len(self.vs) - 1 else v.end + abs(h)
        shapes = _rings(item) if filled else _lines(item)
        clipped = shapely.clip_by_rect(shapes, left, base, right, top)
        if filled:
            clipped = shapely.get_exterior_ring(shapely.get_parts(clipped))
        points, starts = runs_of(clipped) if not filled else _ring_runs(clipped)
        dots = np.zeros((0, 2)) if filled else _dots(item, (left, base, right, top))
        if len(dots):
            points = np.concatenate((points, np.repeat(dots, 2, axis=0)))
            starts = np.concatenate((starts, starts[-1] + 2 * np.arange(1, len(dots) + 1)))
        return points + np.array([u.shift, v.shift]), starts


def _heads(items: Sequence[Item]) -> dict[str, F64]:
    """The middles (n, 2) of the heads of each marker."""
    found: dict[str, list[F64]] = {}
    for item in items:
        if isinstance(item, Paths) and item.role == "marker head" and item.closed and item.source:
            for path in np.split(item.points, item.starts[1:-1]):
                found.setdefault(item.source, []).append((path.min(axis=0) + path.max(axis=0)) / 2)
    return {source: np.array(middles) for source, middles in found.items()}


def _nearest(heads: F64, at: F64) -> F64:
    """The middle of the head that a place belongs to; the place itself where none is near."""
    if not len(heads):
        return at
    away = np.hypot(*(heads - at).T)
    k = int(away.argmin())
    return np.asarray(heads[k]) if away[k] <= NEAR_HEAD else at


def _parts(breaks: list[Break], low: float, high: float, scale: float, gap: float) -> tuple[Part, ...]:
    found: list[Part] = []
    start, shift = low, 0.0
    for one in sorted(breaks, key=lambda b: b.start):
        a, b = one.start * 1000.0 / scale, one.end * 1000.0 / scale
        if a < start + LEAST or b > high - LEAST or b - a <= gap:
            continue
        found.append(Part(start, a, shift))
        shift -= b - a - gap
        start = b
    return (*found, Part(start, high, shift))


def _moved(parts: tuple[Part, ...], at: float) -> float | None:
    for k, part in enumerate(parts):
        if (k == 0 or at >= part.start - TOUCH) and (k == len(parts) - 1 or at <= part.end + TOUCH):
            return at + part.shift
    return None


def _clamped(parts: tuple[Part, ...], at: F64) -> F64:
    found = at + parts[0].shift
    for before, part in pairwise(parts):
        between = (at > before.end) & (at < part.start)
        nearer = np.where(at - before.end < part.start - at, before.end + before.shift, part.start + part.shift)
        found = np.where(between, nearer, np.where(at >= part.start, at + part.shift, found))
    return np.asarray(found, dtype=np.float64)


def _unclamped(parts: tuple[Part, ...], at: F64) -> F64:
    found = at - parts[0].shift
    for before, part in pairwise(parts):
        middle = (before.end + before.shift + part.start + part.shift) / 2
        found = np.where(at < middle, np.minimum(found, before.end), np.maximum(at - part.shift, part.start))
    return np.asarray(found, dtype=np.float64)


def _across(at: float, low: float, high: float, upright: bool, rule: BreakRule) -> F64:
    """A break line across a drawing (n, 2)."""
    along, aside = zigzag(low, high, rule).T
    return np.column_stack((at + aside, along) if upright else (along, at + aside))


def _indexed(item: Paths) -> NDArray[np.int64]:
    return np.repeat(np.arange(len(item.starts) - 1), np.diff(item.starts))


def _lines(item: Paths) -> NDArray[np.object_]:
    """Paths as lines; closed ones run back to their start. Those of one point, or of no length, are left to `_dots`."""
    lengths = np.diff(item.starts)
    if item.closed:
        pieces = [np.concatenate((r, r[:1])) for r in np.split(item.points, item.starts[1:-1]) if len(r) > 1]
        return np.array([shapely.linestrings(r) for r in pieces], dtype=object)
    keep = np.repeat(lengths > 1, lengths)
    index = np.unique(_indexed(item)[keep], return_inverse=True)[1]
    found = shapely.linestrings(item.points[keep], indices=index) if keep.any() else np.array([], dtype=object)
    return np.asarray(found[shapely.length(found) > 0])


def _rings(item: Paths) -> NDArray[np.object_]:
    lengths = np.diff(item.starts)
    keep = np.repeat(lengths > 2, lengths)
    if not keep.any():
        return np.array([], dtype=object)
    index = np.unique(_indexed(item)[keep], return_inverse=True)[1]
    return np.asarray(shapely.polygons(shapely.linearrings(item.points[keep], indices=index)))


def _ring_runs(rings: NDArray[np.object_]) -> tuple[F64, NDArray[np.int64]]:
    """Points and starts of rings, each without its repeated first point."""
    points, index = shapely.get_coordinates(rings, return_index=True)
    starts = np.searchsorted(index, np.arange(len(rings) + 1)).astype(np.int64)
    if not len(points):
        return points, np.zeros(1, dtype=np.int64)
    keep = np.ones(len(points), dtype=bool)
    keep[starts[1:] - 1] = False
    return points[keep], starts - np.arange(len(starts))


def _dots(item: Paths, box: Box) -> F64:
    """Paths of no length that lie in a box (n, 2)."""
    first, last = item.points[item.starts[:-1]], item.points[item.starts[1:] - 1]
    dot = (first == last).all(axis=1) & (np.diff(item.starts) <= 2)
    inside = (first >= box[:2]).all(axis=1) & (first <= box[2:]).all(axis=1)
    return np.asarray(first[dot & inside])
