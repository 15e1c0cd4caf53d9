"""Section markers: the cutting line with its heads."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Item, Label, Link, Pen, circle, paths_of, run_of
from edge_slice.core.drawing.hatch_rules import Data
from edge_slice.core.drawing.lettering import font_size
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.drawing.strokes.dashes import stroked

F64 = NDArray[np.float64]
Point = tuple[float, float]


GROUND = "#ffffff"  # what heads are filled with


class MarkerShape(Data):
    """A path of a marker's head, mm from its centre. One that turns has its points along the cutting line and towards
    the side looked at; another stays upright."""

    role: str
    points: tuple[Point, ...]
    closed: bool
    fill: Literal["pen", "ground", "none"]
    turns: bool


class MarkerText(Data):
    """A centred text of a head: its base line, mm over the centre, the height of its capitals and its font size."""

    role: str
    y: float
    height: float
    size: float


class MarkerForm(Data):
    """A section marker in mm on paper: the heads stand `overhang` beyond the ends of the cutting line; its ends and,
    for `corner` to either side, its corners are heavy; `dash` in widths of its pen. Two texts: number and sheet."""

    radius: float
    overhang: float
    corner: float
    dash: tuple[float, ...]
    head: tuple[MarkerShape, ...]
    texts: tuple[MarkerText, ...]


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
    rule, form = standard.marker, marker_form(standard)
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
    corners = [_corner(points[k - 1 : k + 2], form.corner) for k in range(1, len(points) - 1)]
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
        items += _head(marker, form, centre, n, along, pen)
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


def _head(marker: SectionMarker, form: MarkerForm, centre: F64, n: F64, d: F64, pen: Pen) -> list[Item]:
    """One head of a marker: `n` is the look direction, `d` the direction of the line."""
    source = f"marker:{marker.drawing}"
    fine = Pen(pen.width, pen.colour)
    fills = {"pen": pen.colour, "ground": GROUND, "none": None}
    items: list[Item] = []
    for shape in form.head:
        points = np.array(shape.points)
        placed = centre + (points @ np.array([d, n]) if shape.turns else points)
        stroke = None if shape.fill == "pen" else fine
        items.append(paths_of(shape.role, [placed], stroke, fills[shape.fill], shape.closed, source))
    for text, said in zip(form.texts, (marker.upper, marker.lower), strict=True):
        x, y = float(centre[0]), float(centre[1]) + text.y
        items.append(Label(text.role, said, x, y, text.height, pen.colour, "centre", source=source))
    return items


def marker_form(standard: DrawingStandard) -> MarkerForm:
    """The parts of a marker by a standard: the one description that the drawing and the screen share."""
    rule, r = standard.marker, standard.marker.head_radius
    wedge = ((0.0, r * 1.65), (r * 0.9, r * 0.42), (-r * 0.9, r * 0.42))
    big, small = standard.text.label, standard.text.small
    return MarkerForm(
        radius=r,
        overhang=rule.overhang,
        corner=rule.overhang / 2,
        dash=standard.pens["marker"].dash,
        head=(
            MarkerShape(role="marker wedge", points=wedge, closed=True, fill="pen", turns=True),
            MarkerShape(role="marker head", points=tuple(circle(0.0, 0.0, r)), closed=True, fill="ground", turns=False),
            MarkerShape(role="marker head", points=((-r, 0.0), (r, 0.0)), closed=False, fill="none", turns=False),
        ),
        texts=(
            MarkerText(role="marker number", y=r * 0.2, height=big, size=font_size(big)),
            MarkerText(role="marker sheet", y=-r * 0.2 - small, height=small, size=font_size(small)),
        ),
    )
