"""Section markers: the cutting line with its heads."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Item, Label, Link, Pen, circle, paths_of, run_of
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.drawing.strokes.dashes import stroked

F64 = NDArray[np.float64]
Point = tuple[float, float]


@dataclass(frozen=True)
class SectionMarker:
    """A cutting line to be shown on a plan: upper and lower text of its head, ends in model metres."""

    drawing: int
    upper: str
    lower: str
    line: tuple[Point, ...]
    look: str


def section_marker(
    marker: SectionMarker, scale: float, standard: DrawingStandard, pen: Pen, frame: tuple[float, ...]
) -> tuple[list[Item], list[Link]]:
    """Cutting line with heavier ends and corners (ISO 128-40), and at both ends a head: number over sheet, wedge to
    the side looked at.

    A line that runs out of the drawing's `frame` ends there; one that lies outside is not shown.
    """
    rule = standard.marker
    shown = shapely.intersection(shapely.LineString(np.array(marker.line) * 1000 / scale), shapely.box(*frame))
    if shown.geom_type != "LineString" or shown.is_empty:
        return [], []
    points = np.asarray(shown.coords)
    source = f"marker:{marker.drawing}"
    heavy = Pen(rule.heavy, pen.colour)
    tips = []
    for end, inner in ((points[0], points[1]), (points[-1], points[-2])):
        out = (end - inner) / max(float(np.hypot(*(end - inner))), 1e-9)
        tips.append((end, end + out * rule.overhang, out))
    corners = [_corner(points[k - 1 : k + 2], rule.overhang / 2) for k in range(1, len(points) - 1)]
    ends = [[tuple(end), tuple(tip)] for end, tip, _ in tips]
    whole = [tuple(tips[0][1]), *(tuple(p) for p in points), tuple(tips[1][1])]
    items: list[Item] = [
        *stroked("cutting line", [run_of([whole])], pen, source),
        paths_of("cutting line end", [*ends, *corners], heavy, source=source),
    ]
    links = []
    r = rule.head_radius
    for index, (_, tip, out) in enumerate(tips):
        along = out if index == 1 else -out
        n = np.array([-along[1], along[0]]) * (1 if marker.look == "left" else -1)
        centre = tip + out * r
        items += _head(marker, centre, n, along, standard, pen)
        x, y = float(centre[0]), float(centre[1])
        links.append(Link((x - r, y - r, x + r, y + r), f"drawing:{marker.drawing}"))
    return items, links


def _corner(points: F64, length: float) -> list[Point]:
    """The heavy part of a cutting line about one of its corners."""
    before, corner, after = points
    ends = []
    for p in (before, after):
        d = p - corner
        far = float(np.hypot(*d))
        ends.append(corner + d / max(far, 1e-9) * min(length, far / 2))
    return [(float(q[0]), float(q[1])) for q in (ends[0], corner, ends[1])]


def _head(marker: SectionMarker, centre: F64, n: F64, d: F64, standard: DrawingStandard, pen: Pen) -> list[Item]:
    """One head of a marker: `n` is the look direction, `d` the direction of the line."""
    r, source = standard.marker.head_radius, f"marker:{marker.drawing}"
    wedge = [centre + n * r * 1.65, centre + (n * 0.42 + d * 0.9) * r, centre + (n * 0.42 - d * 0.9) * r]
    x, y = float(centre[0]), float(centre[1])
    fine, big, small = Pen(pen.width, pen.colour), standard.text.label, standard.text.small
    return [
        paths_of("marker wedge", [[(float(p[0]), float(p[1])) for p in wedge]], None, pen.colour, True, source),
        paths_of("marker head", [circle(x, y, r)], fine, "#ffffff", True, source),
        paths_of("marker head", [[(x - r, y), (x + r, y)]], fine, source=source),
        Label("marker number", marker.upper, x, y + r * 0.2, big, pen.colour, "centre", source=source),
        Label("marker sheet", marker.lower, x, y - r * 0.2 - small, small, pen.colour, "centre", source=source),
    ]
