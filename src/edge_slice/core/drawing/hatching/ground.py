"""Cut ground: a band under its surface, and strokes that sit along the surface."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Runs
from edge_slice.core.drawing.hatch_rules import EdgeStrokes
from edge_slice.core.drawing.hatching.clipping import clip_lines
from edge_slice.core.drawing.strokes.borders import on_frame

F64 = NDArray[np.float64]
OVERHANG = 0.5  # sine of the angle by which a side may face downwards and still be a surface


def ground_band(
    polygon: shapely.Polygon, frame: shapely.Geometry, depth: float, rises: bool, ends: tuple[float, float]
) -> tuple[shapely.Geometry, list[F64]]:
    """Cut ground shows as a band `depth` mm thick under its surface. Returns the band and the surface lines, which
    have the ground at their right; neither follows `frame`, what the drawing is cropped to.

    Where up in the drawing leads upwards (`rises`) the surface is what faces up or sideways, except at the `ends`, the
    least and greatest u of all ground, where the model of it ends; on plan it is every edge.
    """
    polygon = shapely.orient_polygons(polygon, exterior_cw=True)
    rings = [np.asarray(ring.coords) for ring in (polygon.exterior, *polygon.interiors)]
    sides = np.concatenate([np.column_stack((p[:-1], p[1:])) for p in rings])
    surface = ~on_frame(sides, frame)
    if rises:
        at_end = [(np.abs(sides[:, [0, 2]] - end) < 1).all(axis=1) for end in ends]
        across, along = (sides[:, 2:] - sides[:, :2]).T
        surface &= (across > -OVERHANG * np.hypot(across, along)) & ~at_end[0] & ~at_end[1]
    if not surface.any():
        return (polygon if not rises else shapely.Polygon()), []
    lines = shapely.linestrings(sides[surface].reshape(-1, 2, 2))
    merged = shapely.line_merge(shapely.multilinestrings([lines]), directed=True)[0]
    surfaces = [np.asarray(g.coords) for g in shapely.get_parts(merged)]
    spines = [shapely.LineString(_led_on(line, ends, depth) if rises else line) for line in surfaces]
    around = shapely.buffer(shapely.MultiLineString(spines), depth, cap_style="flat", join_style="round")
    return shapely.intersection(polygon, around), surfaces


def _led_on(line: F64, ends: tuple[float, float], by: float) -> F64:
    """A surface that runs to an end of the ground, led on level beyond it, so that a band along it ends upright."""
    before = [line[0] - (by, 0.0)] if abs(line[0, 0] - ends[0]) < 1 else []
    after = [line[-1] + (by, 0.0)] if abs(line[-1, 0] - ends[1]) < 1 else []
    return np.array([*before, *line, *after])


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
