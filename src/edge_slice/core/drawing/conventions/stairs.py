"""Stairs: a break where the plan cuts the flight, a walking line, and what the steps measure."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import Role
from edge_slice.core.drawing.conventions.sheet import Drawn, PlanView, reading_angle
from edge_slice.core.drawing.display import Item, Label, Paths, circle, paths_of, run_of
from edge_slice.core.drawing.measures import Lengths, length_text
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.drawing.texts.lettering import text_width
from edge_slice.core.model.flights import Flight, flight_of

STEPS: dict[Lengths, Lengths] = {"ft-in": "ft-in"}  # rise and going are in mm otherwise
F64 = NDArray[np.float64]
DOT, ARROW = 0.9, 2.6  # mm on paper: radius of the dot, length of the arrow's head
ZIG = 1.6  # mm on paper: half the height of the break's zigzag
BELOW = 0.35  # metres under the floor at which a flight of this storey may begin


def stairs(view: PlanView, drawn: Drawn) -> None:
    """Every flight that begins at the plan's floor; its cut face gives way to the break, and what is seen of it from
    below to its treads, dashed."""
    boxes, (left, base, right, top) = view.model.boxes, np.array(view.result.extents) / 1000.0
    for k, element in enumerate(view.model.elements):
        if element.kind != "stair" or not view.floor - BELOW <= boxes[k, 0, 2] <= view.height:
            continue
        if boxes[k, 1, 0] < left or boxes[k, 0, 0] > right or boxes[k, 1, 1] < base or boxes[k, 0, 1] > top:
            continue
        flight = flight_of(view.model, k)
        if flight is not None:
            drawn.items += _items(view, flight, f"element:{element.guid}", drawn.items)
            drawn.faces |= view.faces_of(k)
            lines = view.result.lines
            drawn.lines |= (lines.element == k) & (lines.role == Role.OVERHEAD)


def _items(view: PlanView, flight: Flight, source: str, others: list[Item]) -> list[Item]:
    pen = view.pens["level"]
    line = view.on_paper(_walking_line(flight))
    last = (line[-1] - line[-2]) / max(float(np.hypot(*(line[-1] - line[-2]))), 1e-9)
    side = np.array([-last[1], last[0]])
    head = [line[-1] - last * ARROW + side * ARROW / 3, line[-1], line[-1] - last * ARROW - side * ARROW / 3]
    items: list[Item] = [
        paths_of("walking line", [line, np.array(head)], pen, source=source),
        paths_of(
            "walking line dot", [circle(float(line[0, 0]), float(line[0, 1]), DOT)], None, pen.colour, True, source
        ),
    ]
    above = shapely.union_all(
        [shapely.boundary(o) for o, h in zip(flight.outlines, flight.heights, strict=True) if h > view.height]
    )
    treads = [view.on_paper(np.asarray(g.coords)) for g in shapely.get_parts(shapely.line_merge(above))]
    if treads:
        items += stroked("tread above", [run_of(treads)], view.pens["overhead"], source)
    broken = _break(view, flight)
    if broken is not None:
        items.append(paths_of("stair break", [broken], pen, source=source))
    return [*items, _measures(view, flight, line, source, others)]


def _walking_line(flight: Flight) -> F64:
    """From half a going before the first tread's middle through the middles of all treads to the end of the last."""
    middles = flight.middles
    first, last = middles[1] - middles[0], middles[-1] - middles[-2]
    before = first / max(float(np.hypot(*first)), 1e-9) * flight.going / 2
    after = last / max(float(np.hypot(*last)), 1e-9) * min(flight.going, float(np.hypot(*last))) / 2
    line: F64 = np.vstack((middles[0] - before, middles, middles[-1] + after))
    return line


def _break(view: PlanView, flight: Flight) -> F64 | None:
    """A zigzag across the flight, aslant, where it passes through the cut."""
    above = np.flatnonzero(flight.heights > view.height)
    if not len(above) or above[0] == 0:
        return None
    k = int(above[0])
    way = flight.middles[k] - flight.middles[k - 1]
    way = way / max(float(np.hypot(*way)), 1e-9)
    across = np.array([-way[1], way[0]])
    corners = (shapely.get_coordinates(flight.outlines[k - 1]) - flight.middles[k - 1]) @ across
    at = (flight.middles[k] + flight.middles[k - 1]) / 2
    slant = way * flight.going * 0.5
    ends = view.on_paper(np.array([at + across * corners.min() - slant, at + across * corners.max() + slant]))
    run = (ends[1] - ends[0]) / max(float(np.hypot(*(ends[1] - ends[0]))), 1e-9)
    over = np.array([-run[1], run[0]]) * ZIG
    middle = (ends[0] + ends[1]) / 2
    zigzag = [ends[0] - run * ZIG, middle - run * ZIG, middle - run * ZIG / 2 + over, middle + run * ZIG / 2 - over]
    return np.array([*zigzag, middle + run * ZIG, ends[1] + run * ZIG])


def _measures(view: PlanView, flight: Flight, line: F64, source: str, others: list[Item]) -> Label:
    """Number of risers, rise and going in mm, beside the flight or before it, where least is covered, readable from
    below or from the right (ISO 129-1)."""
    angle = reading_angle(line[2] - line[1])
    turned = np.radians(angle)
    up = np.array([-np.sin(turned), np.cos(turned)])
    small = view.standard.text.small
    count = flight.risers([s.elevation for s in view.model.storeys])
    rise, going = (length_text(m, STEPS.get(view.lengths, "mm")) for m in (flight.rise, flight.going))
    text = f"{count} × {rise} / {going}"
    wide = text_width(text, small)
    along = np.array([np.cos(turned), np.sin(turned)])
    middle, first = (line[1] + line[min(len(line) - 1, 4)]) / 2, (line[1] - line[0]) / np.hypot(*(line[1] - line[0]))
    reach = (view.on_paper(shapely.get_coordinates(flight.outlines[1])) - middle) @ up
    places = [middle + up * base for base in (float(reach.max()) + small * 0.6, float(reach.min()) - small * 1.6)]
    places.append(line[0] - first * (wide / 2 + 2 * DOT) - up * small / 2)
    places.append(line[0] - first * 3 * small + along * (wide / 2 + small) - up * small / 2)
    labels = [
        Label("stair measures", text, float(x), float(y), small, view.standard.ink, "centre", angle, source)
        for x, y in places
    ]
    cut = shapely.union_all([f.polygon for f in view.result.faces if not _is_stair(view, f.element)])
    seen = shapely.linestrings(view.result.lines.points.reshape(-1, 2, 2))
    signs = [
        shapely.linestrings(item.points[a:b] * view.scale)
        for item in others
        if isinstance(item, Paths)
        for a, b in pairwise(item.starts.tolist())
        if b - a > 1
    ]
    lines = shapely.STRtree([*seen, *signs])

    def covered(label: Label) -> tuple[bool, int]:
        place = _place_of(view, label)
        return bool(shapely.intersects(cut, place)), len(lines.query(place, predicate="intersects"))

    return min(labels, key=covered)


def _is_stair(view: PlanView, element: int) -> bool:
    return view.model.elements[element].kind == "stair"


def _place_of(view: PlanView, label: Label) -> shapely.Polygon:
    """What a text covers, in mm of the building."""
    wide, turn = text_width(label.text, label.height), np.radians(label.angle)
    along, up = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    at = np.array([label.x, label.y])
    ring = [at - along * wide / 2, at + along * wide / 2]
    return shapely.Polygon(np.array([*ring, ring[1] + up * label.height, ring[0] + up * label.height]) * view.scale)
