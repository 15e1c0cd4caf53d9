"""Break lines at the edges of a drawing: where material is cut, a little beyond it, on straight, slanted and curved
sides alike."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.spec import Edge
from edge_slice.core.drawing.display import Item, Pen, paths_of
from edge_slice.core.drawing.rules.standard import BreakRule

F64 = NDArray[np.float64]
GROUND = "#ffffff"
BEYOND = 1.0  # mm outside of the edge that is hidden with it
NEAR = 0.02  # mm; material this near to an edge ends there
TOGETHER = 2.0  # times the overhang; runs of material that are nearer to each other have one line
SHARP = np.radians(25.0)  # a corner of an outline at which a break line ends
LEAST = 0.05  # mm; less material at an edge is none


def zigzag(low: float, high: float, rule: BreakRule) -> F64:
    """A break line from `low` to `high` (mm) and its overhang at both ends, with zigzags at even distances, as mm along
    it and to its side (n, 2); on a run that is shorter than one zigzag that is as long as the run."""
    count = max(1, int((high - low) / rule.spacing))
    quarter = min(rule.width / 4, (high - low) / 4 / count)
    line: list[tuple[float, float]] = [(low - rule.overhang, 0.0)]
    for k in range(count):
        middle = low + (high - low) * (k + 0.5) / count
        for share, off in ((-2, 0.0), (-1, rule.height), (1, -rule.height), (2, 0.0)):
            line.append((middle + share * quarter, off))
    return np.array([*line, (high + rule.overhang, 0.0)])


def broken_sides(frame: shapely.Polygon, edges: Sequence[Edge]) -> list[F64]:
    """The sides of an outline (paper mm) that belong to some of its edges, by the way they face, as lines (n, 2) with
    the drawing at their left; a line runs on where the outline bends gently, and ends at corners."""
    ring = np.asarray(shapely.orient_polygons(frame).exterior.coords)
    step = np.diff(ring, axis=0)
    keep = np.hypot(*step.T) > 1e-9
    ring, step = ring[:-1][keep], step[keep]
    wanted = np.array([edge in edges for edge in _edges_of(step)])
    heading = np.arctan2(step[:, 1], step[:, 0])
    turn = (heading - np.roll(heading, 1) + np.pi) % (2 * np.pi) - np.pi
    starts = wanted & ((np.abs(turn) > SHARP) | ~np.roll(wanted, 1))
    if not wanted.any():
        return []
    first = int(starts.argmax()) if starts.any() else 0
    lines: list[list[F64]] = []
    for k in (np.arange(len(ring)) + first) % len(ring):
        if not wanted[k]:
            continue
        if starts[k] or not lines:
            lines.append([ring[k]])
        lines[-1].append(ring[(k + 1) % len(ring)])
    return [np.array(line) for line in lines]


def _edges_of(step: F64) -> list[Edge]:
    """Which edge each side (n, 2) of an outline that runs against the clock is part of."""
    across = np.abs(step[:, 0]) >= np.abs(step[:, 1])
    found: list[Edge] = []
    for (dx, dy), level in zip(step.tolist(), across.tolist(), strict=True):
        if level:
            found.append("base" if dx > 0 else "top")
        else:
            found.append("right" if dy > 0 else "left")
    return found


def edge_breaks(
    frame: shapely.Polygon, material: Sequence[shapely.Polygon], edges: Sequence[Edge], rule: BreakRule, pen: Pen,
    whole: bool = False,
) -> list[Item]:  # fmt: skip
    """Break lines at some edges of an outline (paper mm), and the white that hides what lies beyond: along each run
    of `material` (paper mm) that reaches an edge, or with `whole` along all of it."""
    items: list[Item] = []
    cut = shapely.union_all([shapely.buffer(p, NEAR) for p in material]) if len(material) else shapely.Polygon()
    for side in broken_sides(frame, edges):
        length = float(np.hypot(*np.diff(side, axis=0).T).sum())
        runs = [(0.0, length)] if whole else _runs(side, cut, length, rule)
        for low, high in runs:
            line = _bent(side, low, high, rule)
            outer = _beside(side, np.linspace(line[0][0], line[-1][0], 2 + int((high - low) / 2)), -BEYOND)
            drawn = np.array([_beside(side, np.array([s]), off)[0] for s, off in line])
            mask = np.concatenate((drawn, outer[::-1]))
            items.append(paths_of("break mask", [mask], None, GROUND, True))
            items.append(paths_of("break line", [drawn], pen))
    return items


def _runs(side: F64, cut: shapely.Geometry, length: float, rule: BreakRule) -> list[tuple[float, float]]:
    """Where material reaches a side, mm along it; what lies near together is one run."""
    line = shapely.LineString(side)
    parts = [p for p in shapely.get_parts(shapely.intersection(line, cut)) if p.length > LEAST]
    if not parts:
        return []
    ends = [sorted(line.project(shapely.Point(p.coords[k])) for k in (0, -1)) for p in parts]
    if len(side) > 2 and np.allclose(side[0], side[-1]):  # round a closed outline the start has two places
        ends = [[a, b] if abs((b - a) - p.length) < 1.0 else [b, length] for (a, b), p in zip(ends, parts, strict=True)]
    found: list[tuple[float, float]] = []
    for low, high in sorted(map(tuple, ends)):
        if found and low - found[-1][1] < TOGETHER * rule.overhang:
            found[-1] = (found[-1][0], max(found[-1][1], high))
        else:
            found.append((low, high))
    return found


def _bent(side: F64, low: float, high: float, rule: BreakRule) -> list[tuple[float, float]]:
    """A break line as places along a side and mm into the drawing: it follows the side's bends."""
    line = [(along, off) for along, off in zigzag(low, high, rule).tolist()]
    marks = np.r_[0.0, np.cumsum(np.hypot(*np.diff(side, axis=0).T))][1:-1].tolist()
    between = [(a[0], b[0]) for a, b in pairwise(line) if a[1] == b[1]]
    line += [(m, 0.0) for m in marks if any(a < m < b for a, b in between)]
    return [(s, off + rule.height) for s, off in sorted(line)]


def _beside(side: F64, at: F64, into: float) -> F64:
    """Points (n, 2) so far along a side and `into` the drawing, which lies at its left; beyond its ends it runs on."""
    steps = np.diff(side, axis=0)
    sizes = np.hypot(*steps.T)
    marks = np.r_[0.0, np.cumsum(sizes)]
    k = np.clip(np.searchsorted(marks, at, side="right") - 1, 0, len(steps) - 1)
    d = steps[k] / sizes[k][:, None]
    found: F64 = side[k] + d * (at - marks[k])[:, None] + np.column_stack((-d[:, 1], d[:, 0])) * into
    return found
