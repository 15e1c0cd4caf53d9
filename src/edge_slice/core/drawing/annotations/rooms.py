"""Labels of rooms: number, name and area, in the largest clear place of their room."""

from __future__ import annotations

from itertools import pairwise
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import CutResult, Role
from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.display import Item, Label
from edge_slice.core.drawing.measures import Lengths, area_text
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.texts.lettering import text_width
from edge_slice.core.model import Model, Space

F64 = NDArray[np.float64]
Line = tuple[str, str, float]  # role, text, height
GAP = 0.6  # of the larger text's height, between the lines of a label: descenders stand in it
STANDING = ("furniture", "services", "vehicle", "person", "planting", "stair", "lift")  # what no label stands upon
LEAST_CUT = 0.3  # metres; a section names no room that it cuts by less


def room_labels(
    model: Model, result: CutResult, scale: float, standard: DrawingStandard, ink: Ink, lengths: Lengths = "m"
) -> tuple[list[Item], list[str]]:
    """The labels of all rooms that a plan passes through, and a finding for each that had no clear place."""
    z = float(result.axes.origin[2])
    window = shapely.box(*result.extents)
    rooms = []
    for space in model.spaces:
        if len(space.outline) < 3 or not space.floor - 0.01 <= z <= space.ceiling + 0.01:
            continue
        points = result.axes.to_drawing(np.array([(x, y, z) for x, y in space.outline]))[:, :2]
        room = shapely.Polygon(points)
        if room.is_valid and not (shown := shapely.intersection(room, window)).is_empty:
            rooms.append((space, shown, room.area / 1e6))
    on_paper = [(s, shapely.transform(g, lambda p: p / scale), a) for s, g, a in rooms]
    return _placed(on_paper, standard, lengths, [ink.with_shapes(_things(model, result, scale)), ink])


def cut_room_labels(
    model: Model, result: CutResult, scale: float, standard: DrawingStandard, ink: Ink, lengths: Lengths = "m"
) -> tuple[list[Item], list[str]]:
    """The names of the rooms that an upright cut passes through."""
    rooms = [
        (r.space, shapely.box(*(side / scale for side in (r.left, r.low, r.right, r.high))), 0.0)
        for r in rooms_cut(model, result)
    ]
    return _placed(rooms, standard, lengths, [ink.with_shapes(_things(model, result, scale)), ink])


class CutRoom(NamedTuple):
    """A stretch of a room in an upright drawing, mm, as far as it shows."""

    space: Space
    left: float
    low: float
    right: float
    high: float


def rooms_cut(model: Model, result: CutResult) -> list[CutRoom]:
    """The rooms that an upright cut passes through, leg by leg."""
    found = []
    for space in model.spaces:
        if len(space.outline) < 3 or not shapely.Polygon(space.outline).is_valid:
            continue
        for leaf in result.leaves:
            axes, (left, base, right, top) = leaf.axes, leaf.window
            a, b = (axes.origin[:2] + axes.u[:2] * u / 1000.0 for u in (left, right))
            inside = shapely.intersection(shapely.LineString([a, b]), shapely.Polygon(space.outline))
            for piece in shapely.get_parts(inside):
                if piece.geom_type != "LineString" or piece.length < LEAST_CUT:
                    continue
                us = (np.asarray(piece.coords) - axes.origin[:2]) @ axes.u[:2] * 1000.0
                low, high = max(space.floor * 1000.0, base), min(space.ceiling * 1000.0, top)
                if high > low:
                    found.append(CutRoom(space, float(us.min()), low, float(us.max()), high))
    return found


def _things(model: Model, result: CutResult, scale: float) -> list[shapely.Geometry]:
    """The outlines, on paper, of what stands in rooms."""
    stands = np.array([e.kind in STANDING for e in model.elements], dtype=bool)
    lines = result.lines.pick((result.lines.role == Role.SEEN) & stands[result.lines.element])
    order = np.argsort(lines.element, kind="stable")
    points = lines.points[order].reshape(-1, 2) / scale
    marks = np.flatnonzero(np.diff(lines.element[order])) + 1
    return [shapely.convex_hull(shapely.multipoints(p)) for p in np.split(points, 2 * marks) if len(p)]


def _placed(
    rooms: list[tuple[Space, shapely.Geometry, float]], standard: DrawingStandard, lengths: Lengths, inks: list[Ink]
) -> tuple[list[Item], list[str]]:
    """Labels, the larger rooms first; shorter ones where a long one has no place. Each is tried clear of things first,
    then between their lines."""
    items: list[Item] = []
    findings = []
    for space, area, size in sorted(rooms, key=lambda row: -row[1].area):
        for ink, lines in ((ink, lines) for ink in inks for lines in _wordings(space, size, standard, lengths)):
            wide, high = _size(lines)
            at = ink.place(area, wide, high)
            if at is not None:
                items += _label(space, lines, at, high, standard)
                for field in inks:
                    field.enter((at[0] - wide / 2, at[1] - high / 2, at[0] + wide / 2, at[1] + high / 2))
                break
        else:
            name = f"{space.number} {space.name}".strip() or space.guid
            findings.append(f"Room {name} has no clear place for its label at this scale; it was left out.")
    return items, findings


def _wordings(space: Space, size: float, standard: DrawingStandard, lengths: Lengths) -> list[list[Line]]:
    big, small = standard.text.label, standard.text.small
    number: list[Line] = [("room number", space.number, small)] if space.number else []
    name: list[Line] = [("room name", space.name, big)] if space.name else []
    area: list[Line] = [("room area", area_text(size, lengths), small)] if size else []
    little: list[Line] = [("room name", space.name, small)] if space.name else []
    wanted = [number + name + area, number + name, number + little, name, little, number]
    return [lines for k, lines in enumerate(wanted) if lines and lines not in wanted[:k]]


def _size(lines: list[Line]) -> tuple[float, float]:
    wide = max(text_width(text, height) for _, text, height in lines)
    return wide, sum(h for _, _, h in lines) + sum(_gaps(lines))


def _gaps(lines: list[Line]) -> list[float]:
    """The gap above each line."""
    return [0.0] + [max(above[2], line[2]) * GAP for above, line in pairwise(lines)]


def _label(
    space: Space, lines: list[Line], at: tuple[float, float], high: float, standard: DrawingStandard
) -> list[Item]:
    x, y = at[0], at[1] + high / 2
    items: list[Item] = []
    for (role, text, height), gap in zip(lines, _gaps(lines), strict=True):
        y -= height + gap
        items.append(Label(role, text, x, y, height, standard.ink, "centre", source=f"space:{space.guid}"))
    return items
