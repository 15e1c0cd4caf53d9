"""Doors: leaf and swing by the way they open (operation types of ISO 16739)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.drawing.conventions.sheet import Drawn, PlanView
from edge_slice.core.drawing.display import Item, paths_of, run_of
from edge_slice.core.drawing.strokes.dashes import stroked

F64 = NDArray[np.float64]
LINING = 0.05  # metres at either side of a door that its frame takes, at most an eighth of its width
LEAF = 0.04  # metres, thickness of a leaf
PARTS = 24  # pieces of a quarter circle
Leaf = tuple[tuple[float, float], tuple[int, ...]]
HINGED: dict[
    str, list[Leaf]
] = {  # leaves: (from, to) as shares of the clear width, hinge first, and the sides to which they open
    "SINGLE_SWING_LEFT": [((0.0, 1.0), (1,))],
    "SINGLE_SWING_RIGHT": [((1.0, 0.0), (1,))],
    "DOUBLE_SWING_LEFT": [((0.0, 1.0), (1, -1))],
    "DOUBLE_SWING_RIGHT": [((1.0, 0.0), (1, -1))],
    "DOUBLE_DOOR_SINGLE_SWING": [((0.0, 0.5), (1,)), ((1.0, 0.5), (1,))],
    "DOUBLE_DOOR_DOUBLE_SWING": [((0.0, 0.5), (1, -1)), ((1.0, 0.5), (1, -1))],
    "DOUBLE_DOOR_SINGLE_SWING_OPPOSITE_LEFT": [((0.0, 0.5), (1,)), ((1.0, 0.5), (-1,))],
    "DOUBLE_DOOR_SINGLE_SWING_OPPOSITE_RIGHT": [((0.0, 0.5), (-1,)), ((1.0, 0.5), (1,))],
    "SWING_FIXED_LEFT": [((0.0, 0.5), (1,))],
    "SWING_FIXED_RIGHT": [((1.0, 0.5), (1,))],
}
DOUBLE = "DOUBLE_PANEL_"  # IFC4.3 writes panels where earlier editions wrote doors
SLIDING = {
    "SLIDING_TO_LEFT": [(0.0, 1.0, -1)],
    "SLIDING_TO_RIGHT": [(0.0, 1.0, 1)],
    "DOUBLE_DOOR_SLIDING": [(0.0, 0.5, -1), (0.5, 1.0, 1)],
}
FOLDING = {
    "FOLDING_TO_LEFT": [(0.0, 1.0)],
    "FOLDING_TO_RIGHT": [(1.0, 0.0)],
    "DOUBLE_DOOR_FOLDING": [(0.0, 0.5), (1.0, 0.5)],
}
OVERHEAD = ("ROLLINGUP", "LIFTING_HORIZONTAL", "LIFTING_VERTICAL_LEFT", "LIFTING_VERTICAL_RIGHT")


@dataclass(frozen=True)
class _Door:
    """A door in its own frame, metres: clear from x `low` to `high`, its leaf at `y`; origin, x and y (2,) on plan."""

    element: int
    low: float
    high: float
    y: float
    origin: F64
    along: F64
    across: F64

    def at(self, x: float, y: float) -> F64:
        """A point of its frame in the model, metres (2,)."""
        point: F64 = self.origin + x * self.along + (self.y + y) * self.across
        return point

    def share(self, s: float) -> float:
        return self.low + s * (self.high - self.low)


def doors(view: PlanView, drawn: Drawn) -> None:
    """Leaf and swing of every door that the plan cuts. Where the standard says so the leaf stands open at 90 degrees in
    place of the modelled one; at larger scales the swing is added to what is modelled."""
    opened = view.scale >= view.standard.conventions.doors_open_from
    for element in view.crossed("door"):
        door = _door_of(view, element)
        operation = view.model.elements[element].operation.replace(DOUBLE, "DOUBLE_DOOR_")
        if door is None or not operation:
            continue
        items = _items(view, door, operation, opened)
        drawn.items += items
        if opened and items:
            _make_room(view, door, drawn)


def _door_of(view: PlanView, element: int) -> _Door | None:
    frame = view.frame_of(element)
    if frame is None:
        return None
    origin, along, across = frame
    points = view.model.element_triangles(element).reshape(-1, 3)[:, :2] - origin
    x, y = points @ along, points @ across
    low, high = float(x.min()), float(x.max())
    lining = min(LINING, (high - low) / 8)
    return _Door(element, low + lining, high - lining, float(np.median(y)), origin, along, across)


def _items(view: PlanView, door: _Door, operation: str, opened: bool) -> list[Item]:
    source = f"element:{view.model.elements[door.element].guid}"
    solid, fine, dashes = [], [], []
    if operation in HINGED:
        for (hinge, tip), sides in HINGED[operation]:
            wide = abs(door.share(tip) - door.share(hinge))
            for side in sides:
                fine.append(_swing(door, hinge, tip, wide, side))
            if opened:
                solid.append(_open_leaf(door, hinge, tip, wide, sides[0]))
        if operation.startswith("SWING_FIXED") and opened:
            rest = (0.5, 1.0) if operation.endswith("LEFT") else (0.0, 0.5)
            solid.append(_leaf(door, *rest, 0.0))
    elif operation in SLIDING and opened:
        for start, end, way in SLIDING[operation]:
            wide = door.share(end) - door.share(start)
            solid.append(_leaf(door, start, end, LEAF, way * wide * 0.4))
            fine += _arrow(door, (start + end) / 2, way, wide * 0.3)
    elif operation in FOLDING and opened:
        solid += [_folded(door, hinge, tip) for hinge, tip in FOLDING[operation]]
    elif operation == "REVOLVING" and opened:
        solid, fine = _revolving(door)
    elif operation in OVERHEAD and opened:
        dashes = [_leaf(door, 0.0, 1.0, 0.3)]

    items: list[Item] = []
    if solid:
        items.append(
            paths_of("door leaf", [view.on_paper(s) for s in solid], view.pens["seen near"], "#ffffff", True, source)
        )
    if fine:
        items.append(paths_of("door swing", [view.on_paper(s) for s in fine], view.pens["seen far"], source=source))
    if dashes:
        items += stroked("door swing", [run_of([view.on_paper(s) for s in dashes])], view.pens["overhead"], source)
    return items


def _swing(door: _Door, hinge: float, tip: float, wide: float, side: int) -> F64:
    """A quarter circle from the closed to the open leaf."""
    start = 0.0 if tip > hinge else np.pi
    angles = np.linspace(start, np.pi / 2, PARTS + 1)
    centre = door.share(hinge)
    return np.array([door.at(centre + wide * np.cos(a), side * wide * np.sin(a)) for a in angles])


def _open_leaf(door: _Door, hinge: float, tip: float, wide: float, side: int) -> F64:
    x = door.share(hinge)
    inner = x + LEAF * np.sign(tip - hinge)
    return np.array([door.at(x, 0), door.at(x, side * wide), door.at(inner, side * wide), door.at(inner, 0)])


def _leaf(door: _Door, start: float, end: float, off: float, shift: float = 0.0) -> F64:
    """A leaf in the plane of the door or beside it, pushed along by `shift` metres."""
    a, b = door.share(start) + shift, door.share(end) + shift
    low, high = off - LEAF / 2, off + LEAF / 2
    return np.array([door.at(a, low), door.at(b, low), door.at(b, high), door.at(a, high)])


def _arrow(door: _Door, middle: float, way: int, long: float) -> list[F64]:
    x, y, head = door.share(middle), 0.15, 0.06
    tip = door.at(x + way * long / 2, y)
    barbs = [door.at(x + way * (long / 2 - head), y + k * head / 2) for k in (1, -1)]
    return [np.array([door.at(x - way * long / 2, y), tip]), np.array([barbs[0], tip, barbs[1]])]


def _folded(door: _Door, hinge: float, tip: float) -> F64:
    """Two panels folded half open, as one closed outline."""
    a, b = door.share(hinge), door.share(tip)
    half = abs(b - a) / 2
    way = np.sign(b - a)
    reach = half * np.cos(np.pi / 3)
    line = [(a, 0.0), (a + way * reach, half * np.sin(np.pi / 3)), (a + way * 2 * reach, 0.0)]
    back = [(x + way * LEAF / 2, y) for x, y in reversed(line)]
    return np.array([door.at(x, y) for x, y in (*line, *back)])


def _revolving(door: _Door) -> tuple[list[F64], list[F64]]:
    r, x = (door.high - door.low) / 2, door.share(0.5)
    ring = np.array([door.at(x + r * np.cos(a), r * np.sin(a)) for a in np.linspace(0, 2 * np.pi, 4 * PARTS + 1)])
    d = np.array([(np.cos(a), np.sin(a)) for a in (np.pi / 4, 3 * np.pi / 4)]) * r
    wings = []
    for dx, dy in d.tolist():
        nx, ny = -dy / r * LEAF / 2, dx / r * LEAF / 2
        corners = ((-dx + nx, -dy + ny), (dx + nx, dy + ny), (dx - nx, dy - ny), (-dx - nx, -dy - ny))
        wings.append(np.array([door.at(x + px, py) for px, py in corners]))
    return wings, [ring]


def _make_room(view: PlanView, door: _Door, drawn: Drawn) -> None:
    """Of the modelled door the frame stays, the leaf and all lines go."""
    far = 10.0  # metres, beyond any door
    frame = shapely.union_all(
        [
            shapely.Polygon([door.at(x, y) * 1000.0 for x, y in ((a, -far), (b, -far), (b, far), (a, far))])
            for a, b in ((door.low - far, door.low), (door.high, door.high + far))
        ]
    )
    for k, face in enumerate(view.result.faces):
        if face.element == door.element:
            drawn.faces[k] = True
            left = polygons_in(shapely.intersection(face.polygon, frame))
            drawn.instead += [replace(face, polygon=p) for p in left]
    drawn.lines |= view.result.lines.element == door.element
