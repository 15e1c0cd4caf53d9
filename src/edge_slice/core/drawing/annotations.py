"""What stands at the edge of a drawing or in it by rule: levels, grid, room names, section markers."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.cut.leaves import Leaf
from edge_slice.core.drawing.dashes import stroked
from edge_slice.core.drawing.display import Label, Link, Paths, Pen, circle, paths_of, run_of
from edge_slice.core.drawing.lettering import text_width
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.model import Model

Item = Paths | Label
F64 = NDArray[np.float64]
Point = tuple[float, float]
BUBBLE = 4.0  # mm, radius of a grid bubble
STAND_OFF = 3.0  # mm between the extents and what stands at their edge


@dataclass(frozen=True)
class SectionMarker:
    """A cutting line to be shown on a plan: upper and lower text of its head, ends in model metres."""

    drawing: int
    upper: str
    lower: str
    line: tuple[Point, ...]
    look: str


def annotate(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    spec: DrawingSpec,
    standard: DrawingStandard,
    pens: dict[str, Pen],
    markers: tuple[SectionMarker, ...],
) -> tuple[list[Item], list[Link]]:
    frame = tuple(x / spec.scale for x in result.extents)
    items: list[Item] = []
    links: list[Link] = []
    if spec.grid:
        items += _grid(model, result, cut, spec.scale, standard, pens, frame)
    if result.upright and spec.levels:
        items += _levels(model, spec.scale, standard, pens, frame)
    if not isinstance(cut, PlanCut):
        return items, links
    if spec.rooms:
        items += _rooms(model, result, spec.scale, standard)
    for marker in markers:
        drawn, boxes = section_marker(marker, spec.scale, standard, pens["marker"], frame)
        items += drawn
        links += boxes
    return items, links


def level_text(height: float) -> str:
    """Height over the datum in metres, as on drawings: +3.300, ±0.000, −0.900."""
    sign = "±" if abs(height) < 0.0005 else "+" if height > 0 else "−"
    return f"{sign}{abs(height):.3f}"


def fan_out(heights: list[float], gap: float) -> list[float]:
    """Places for texts at ascending heights, at least `gap` apart, moved as little as possible together
    (pool adjacent violators)."""
    blocks: list[tuple[float, int]] = []  # (mean of height - index * gap, size)
    for i, h in enumerate(heights):
        mean, size = h - i * gap, 1
        while blocks and blocks[-1][0] > mean:
            other, n = blocks.pop()
            mean, size = (mean * size + other * n) / (size + n), size + n
        blocks.append((mean, size))
    flat = [mean for mean, size in blocks for _ in range(size)]
    return [m + i * gap for i, m in enumerate(flat)]


def _levels(
    model: Model, scale: float, standard: DrawingStandard, pens: dict[str, Pen], frame: tuple[float, ...]
) -> list[Item]:
    """Level markers at the right edge of the extents; crowded ones fan out with a kinked line."""
    _, base, right, top = frame
    inside = sorted((s.elevation * 1000 / scale, s) for s in model.storeys if base <= s.elevation * 1000 / scale <= top)
    if not inside:
        return []
    text = standard.text.label
    places = fan_out([h for h, _ in inside], text * 3.2)
    x = right + STAND_OFF
    items: list[Item] = []
    lines, marks = [], []
    for (height, storey), y in zip(inside, places, strict=True):
        wide = max(text_width(storey.name, text), text_width(level_text(storey.elevation), text)) + 4
        lines.append([(right - 4, height), (x, height), (x + 5, y), (x + 5 + wide, y)])
        marks.append([(x + 5.2, y + 0.2), (x + 7.2, y + 2.4), (x + 3.2 + 0.0, y + 2.4)])
        items.append(
            Label("level name", storey.name, x + 8.2, y + 0.9, text, standard.ink, source=f"storey:{storey.guid}")
        )
        items.append(
            Label(
                "level height",
                level_text(storey.elevation),
                x + 8.2,
                y - 0.9 - text,
                text,
                standard.ink,
                source=f"storey:{storey.guid}",
            )
        )
    return [paths_of("level", lines, pens["level"]), paths_of("level mark", marks, pens["level"], None, True), *items]


def _grid(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    scale: float,
    standard: DrawingStandard,
    pens: dict[str, Pen],
    frame: tuple[float, ...],
) -> list[Item]:
    left, base, right, top = frame
    lines: list[list[Point]] = []
    bubbles: list[tuple[Point, str]] = []
    away = STAND_OFF + BUBBLE
    for axis in model.grid:
        if isinstance(cut, PlanCut):
            ends = np.array([axis.start, axis.end]) * 1000 / scale
            piece = shapely.intersection(shapely.LineString(ends), shapely.box(left, base, right, top))
            if piece.geom_type != "LineString" or piece.is_empty:
                continue
            a, b = np.asarray(piece.coords)[0], np.asarray(piece.coords)[-1]
            d = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
            lines.append([tuple(a - d * STAND_OFF), tuple(b + d * STAND_OFF)])
            bubbles += [(tuple(a - d * away), axis.name), (tuple(b + d * away), axis.name)]
            continue
        for leaf in result.leaves if result.upright else ():
            u = _crossing(leaf, axis.start, axis.end)
            if u is not None and leaf.window[0] <= u <= leaf.window[2]:
                lines.append([(u / scale, base - STAND_OFF), (u / scale, top + STAND_OFF)])
                bubbles.append(((u / scale, base - away), axis.name))
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


def _rooms(model: Model, result: CutResult, scale: float, standard: DrawingStandard) -> list[Item]:
    """Number, name and area of the rooms that the plan passes through."""
    z = float(result.axes.origin[2])
    items: list[Item] = []
    u0, v0, u1, v1 = result.extents
    window = shapely.box(u0, v0, u1, v1)
    big, small = standard.text.label, standard.text.small
    for space in model.spaces:
        if len(space.outline) < 3 or not space.floor - 0.01 <= z <= space.ceiling + 0.01:
            continue
        room = shapely.Polygon(np.array(space.outline) * 1000)
        shown = shapely.intersection(room, window)
        if shown.is_empty or not room.is_valid:
            continue
        at = (
            shapely.maximum_inscribed_circle(shown, 100.0).coords[0]
            if shown.geom_type == "Polygon"
            else shown.representative_point().coords[0]
        )
        x, y = at[0] / scale, at[1] / scale
        wide = max(text_width(space.name, big), text_width(space.number, small)) / 2 + 0.8
        low, high = y - big * 0.5 - small * 2.2, y + big * 1.1 + small * 1.4
        mask = [(x - wide, low), (x + wide, low), (x + wide, high), (x - wide, high)]
        items += [
            paths_of("label mask", [mask], None, "#ffffff", True, f"space:{space.guid}"),
            Label(
                "room number",
                space.number,
                x,
                y + big * 1.1,
                small,
                standard.ink,
                "centre",
                source=f"space:{space.guid}",
            ),
            Label("room name", space.name, x, y - big * 0.5, big, standard.ink, "centre", source=f"space:{space.guid}"),
            Label(
                "room area",
                f"{room.area / 1e6:.1f} m²",
                x,
                y - big * 0.5 - small * 1.7,
                small,
                standard.ink,
                "centre",
                source=f"space:{space.guid}",
            ),
        ]
    return items


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
