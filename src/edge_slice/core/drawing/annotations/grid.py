"""Grid lines and their bubbles."""

from __future__ import annotations

import math

import numpy as np
import shapely

from edge_slice.core.cut import PlanCut
from edge_slice.core.cut.planes.leaves import Leaf
from edge_slice.core.drawing.annotations.levels import STAND_OFF
from edge_slice.core.drawing.display import Item, Label, Pen, circle, paths_of, run_of
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.strokes.dashes import stroked

Point = tuple[float, float]
BUBBLE = 4.0  # mm, radius of a grid bubble


def grid_lines(draft: Draft) -> list[Item]:
    """Grid lines with bubbles at their ends: on a plan at both, usually; in an upright drawing at the base."""
    result, cut, scale, ends = draft.result, draft.cut, draft.scale, draft.spec.grid_ends
    standard, pens = draft.standard, draft.pens
    left, base, right, top = draft.frame
    lines: list[list[Point]] = []
    bubbles: list[tuple[Point, str]] = []
    reach = STAND_OFF + ends.offset
    away = reach + BUBBLE
    side = ends.side if ends.side != "usual" else "both" if isinstance(cut, PlanCut) else "start"
    start, end = side in ("start", "both"), side in ("end", "both")
    for axis in draft.model.grid:
        if axis.name in ends.hidden:
            continue
        if isinstance(cut, PlanCut):
            whole = np.array(sorted((axis.start, axis.end))) * 1000 / scale
            piece = shapely.intersection(shapely.LineString(whole), shapely.box(left, base, right, top))
            if piece.geom_type != "LineString" or piece.is_empty:
                continue
            a, b = np.asarray(piece.coords)[0], np.asarray(piece.coords)[-1]
            d = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
            lines.append([tuple(a - d * reach * start), tuple(b + d * reach * end)])
            bubbles += [(tuple(a - d * away), axis.name)] * start + [(tuple(b + d * away), axis.name)] * end
            continue
        for leaf in result.leaves if result.upright else ():
            u = _crossing(leaf, axis.start, axis.end)
            if u is not None and leaf.window[0] <= u <= leaf.window[2]:
                lines.append([(u / scale, base - reach), (u / scale, top + (reach if end else STAND_OFF))])
                places = [base - away] * start + [top + away] * end
                bubbles += [((u / scale, y), axis.name) for y in places]
    if not lines:
        return []
    items: list[Item] = list(stroked("grid", [run_of(lines)], pens["grid"]))
    pen = Pen(pens["grid"].width, pens["grid"].colour)
    items.append(paths_of("grid bubble", [circle(x, y, BUBBLE) for (x, y), _ in bubbles], pen, None, True))
    h = standard.text.heading
    items += [Label("grid name", name, x, y - h / 2, h, standard.ink, "centre") for (x, y), name in bubbles]
    return items


def _crossing(leaf: Leaf, start: Point, end: Point) -> float | None:
    """Where a grid line within 30° of the view direction meets the cut, in mm along the drawing."""
    axes = leaf.axes
    a = (np.array([*start, 0.0]) - axes.origin) * 1000
    d = np.array([end[0] - start[0], end[1] - start[1], 0.0])
    toward = float(d @ axes.w) / max(float(np.linalg.norm(d)), 1e-9)
    if abs(toward) < math.cos(math.radians(30)):
        return None
    share = -float(a @ axes.w) / (float(d @ axes.w) * 1000)
    return float(a @ axes.u + share * 1000 * (d @ axes.u))
