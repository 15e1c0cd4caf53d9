"""Cut ground: a band under its surface, and strokes that sit along the surface."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.clipping import clip_lines
from edge_slice.core.drawing.display import Runs
from edge_slice.core.drawing.hatches import EdgeStrokes

F64 = NDArray[np.float64]
Window = tuple[float, float, float, float]


def ground_band(
    polygon: shapely.Polygon, window: Window, depth: float, upright: bool
) -> tuple[shapely.Geometry, list[F64]]:
    """Cut ground shows as a band `depth` mm thick under its surface. Returns the band and the surface lines, which
    have the ground at their right.

    In a section (`upright`) the surface is what faces up or sideways; on plan, every edge but the crop's.
    """
    u0, v0, u1, v1 = window
    lines: list[F64] = []
    polygon = shapely.orient_polygons(polygon, exterior_cw=True)
    for ring in (polygon.exterior, *polygon.interiors):
        p = np.asarray(ring.coords)
        a, b = p[:-1], p[1:]
        on_crop = (
            ((np.abs(a[:, 0] - u0) < 1) & (np.abs(b[:, 0] - u0) < 1))
            | ((np.abs(a[:, 0] - u1) < 1) & (np.abs(b[:, 0] - u1) < 1))
            | ((np.abs(a[:, 1] - v0) < 1) & (np.abs(b[:, 1] - v0) < 1))
            | ((np.abs(a[:, 1] - v1) < 1) & (np.abs(b[:, 1] - v1) < 1))
        )
        surface = ~on_crop & ((b[:, 0] - a[:, 0] > -1) if upright else True)
        lines += [np.array([a[i], b[i]]) for i in np.flatnonzero(surface)]
    if not lines:
        return polygon, []
    joined = shapely.line_merge(shapely.multilinestrings([shapely.linestrings(np.array(lines))]), directed=True)
    merged = joined[0] if isinstance(joined, np.ndarray) else joined
    band = shapely.intersection(polygon, shapely.buffer(merged, depth, cap_style="flat", join_style="round"))
    return band, [np.asarray(g.coords) for g in shapely.get_parts(merged)]


def edge_strokes(surface: list[F64], bands: list[shapely.Polygon], rule: EdgeStrokes) -> Runs:
    """Strokes that hang from surface lines (paper mm, the ground at their right), cut to the bands."""
    if not surface or not bands:
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    strokes = [stroke for line in surface for stroke in _strokes(line, rule)]
    return clip_lines(strokes, bands)


def _strokes(line: F64, rule: EdgeStrokes) -> F64:
    """The strokes (k, 2, 2) along one line: groups in even steps, 45° to the line, leaning to and fro."""
    steps = np.hypot(*np.diff(line, axis=0).T)
    marks = np.r_[0.0, np.cumsum(steps)]
    groups = max(1, int(marks[-1] / rule.every))
    first = (marks[-1] - (groups - 1) * rule.every) / 2
    g, k = (a.ravel() for a in np.meshgrid(np.arange(groups), np.arange(rule.strokes), indexing="ij"))
    s = first + g * rule.every + (k - (rule.strokes - 1) / 2) * rule.apart
    on_line = (s >= 0) & (s <= marks[-1])
    s, lean = s[on_line], np.where(g[on_line] % 2 == 1, -1.0, 1.0)
    i = np.clip(np.searchsorted(marks, s, side="right") - 1, 0, len(steps) - 1)
    d = (line[i + 1] - line[i]) / np.maximum(steps[i], 1e-9)[:, None]
    start = line[i] + d * (s - marks[i])[:, None]
    into = np.column_stack((d[:, 1], -d[:, 0]))
    return np.stack((start, start + (into + lean[:, None] * d) * rule.length / np.sqrt(2)), axis=1)
