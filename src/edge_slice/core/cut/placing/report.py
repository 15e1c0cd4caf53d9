"""The cut report: what an upright cut passes through, in order, and what it just misses."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.planes.leaves import ground_line
from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
NEAR = 1.0  # metres; what stands no further from the line is nearly cut
JOIN = 0.02  # metres; parts of one element that stand closer are one passage
EXPLAINS = ("door", "window", "stair", "column")  # kinds that a section is placed for; rooms besides
ROOM = "room"
UPRIGHT = ("wall", "window", "door", "curtain wall", "railing")  # kinds that a section is meant to cross
ALONG = 2.0  # times its thickness that a line runs within something that it runs along
MOVED, FURTHEST = 0.025, 3.0  # metres: steps and reach in which a place is looked for that crosses all of them


@dataclass(frozen=True)
class Passage:
    """A stretch of the drawing, `start` to `end` along it and `base` to `top` in height (metres), that lies in one
    element (its cut faces) or room."""

    guid: str
    kind: str
    name: str
    start: float
    end: float
    base: float
    top: float
    part: str = ""


@dataclass(frozen=True)
class Miss:
    """Something that the cut would explain and does not meet: it stands `distance` metres off, on the side that is
    looked at (`behind`) or on the other (`before`), `along` metres from the drawing's origin."""

    guid: str
    kind: str
    name: str
    distance: float
    side: Literal["behind", "before"]
    along: float
    part: str = ""


@dataclass(frozen=True)
class CutReport:
    """`along`: passages in which the line runs along inside a wall or the like, rather than across it; `clear`: how far
    the line would have to move (metres, to the side that is looked at; the other way below 0) to run along in none."""

    passages: tuple[Passage, ...]
    misses: tuple[Miss, ...]
    along: tuple[Passage, ...] = ()
    clear: float | None = None


def cut_report(model: Model, result: CutResult) -> CutReport:
    """Passages from left to right, misses by distance. Of a cut that is not upright, an empty report."""
    if not result.upright:
        return CutReport((), ())
    rooms = room_passages(model, result)
    solid = _elements(model, result)
    met = {p.guid for p in (*rooms, *solid)}
    passages = sorted((*rooms, *solid), key=lambda p: (p.start, p.end, p.guid))
    misses = tuple(sorted(_misses(model, result, met), key=lambda m: (m.distance, m.guid)))
    if model.parts:
        names = {guid: model.part_name(k) for guid, k in model.element_by_guid.items()}
        passages = [replace(p, part=names.get(p.guid, "")) for p in passages]
        misses = tuple(replace(m, part=names.get(m.guid, "")) for m in misses)
    standing = _Standing(model, result)
    along = tuple(p for p in passages if standing.runs_along(p))
    return CutReport(tuple(passages), misses, along, standing.clear_place() if along else None)


class _Standing:
    """What stands upright in the reach of a cut, by its outline on plan and how thick it is."""

    def __init__(self, model: Model, result: CutResult) -> None:
        self._result = result
        low, high = result.extents[1] / 1000.0, result.extents[3] / 1000.0
        boxes = model.boxes
        kept = [
            k for k, e in enumerate(model.elements)
            if e.kind in UPRIGHT and np.isfinite(boxes[k]).all() and boxes[k, 1, 2] > low and boxes[k, 0, 2] < high
        ]  # fmt: skip
        self._outlines = np.array([model.footprint(k) for k in kept], dtype=object)
        self._thick = np.array([_thickness(o) for o in self._outlines])
        self._by_guid = {model.elements[k].guid: t for k, t in zip(kept, self._thick.tolist(), strict=True)}

    def runs_along(self, passage: Passage) -> bool:
        thick = self._by_guid.get(passage.guid)
        return thick is not None and passage.end - passage.start > ALONG * thick

    def clear_place(self) -> float | None:
        """The least shift of a straight line with which it runs along inside nothing."""
        if len(self._result.leaves) != 1:
            return None
        leaf = self._result.leaves[0]
        line, look = ground_line(leaf), leaf.axes.w[:2]
        for step in range(1, int(FURTHEST / MOVED) + 1):
            for by in (step * MOVED, -step * MOVED):
                moved = shapely.transform(line, lambda at, by=by: at + look * by)
                if not (shapely.length(shapely.intersection(self._outlines, moved)) > ALONG * self._thick).any():
                    return round(by, 3)
        return None


def _thickness(outline: shapely.Geometry) -> float:
    """The lesser side of the least rectangle about an outline, metres."""
    corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(outline))
    sides = np.hypot(*np.diff(corners[:3], axis=0).T) if len(corners) > 2 else np.zeros(1)
    return float(sides.min())


def _elements(model: Model, result: CutResult) -> list[Passage]:
    boxes: dict[int, list[tuple[float, float, float, float]]] = {}
    if result.faces:
        bounds = shapely.bounds(np.array([f.polygon for f in result.faces], dtype=object)) / 1000.0
        for face, box in zip(result.faces, bounds.tolist(), strict=True):
            boxes.setdefault(face.element, []).append(box)
    return [
        Passage(e.guid, e.kind, e.name, *_rounded(start, end, base, top))
        for index, parts in boxes.items()
        for e in (model.elements[index],)
        for start, base, end, top in _joined(parts)
    ]


def _joined(boxes: list[tuple[float, float, float, float]]) -> list[tuple[float, float, float, float]]:
    """Boxes (left, base, right, top) with those that touch along the drawing made one."""
    found: list[tuple[float, float, float, float]] = []
    for box in sorted(boxes):
        last = found[-1] if found else None
        if last is not None and box[0] <= last[2] + JOIN:
            found[-1] = (last[0], min(last[1], box[1]), max(last[2], box[2]), max(last[3], box[3]))
        else:
            found.append(box)
    return found


def room_passages(model: Model, result: CutResult) -> list[Passage]:
    """The stretches of a cut that lie in rooms."""
    found = []
    for space in model.spaces:
        if len(space.outline) < 3:
            continue
        outline = shapely.make_valid(shapely.Polygon(space.outline))
        for leaf in result.leaves:
            _, base, _, top = (x / 1000.0 for x in leaf.window)
            low, high = max(base, space.floor), min(top, space.ceiling)
            if high <= low:
                continue
            inside = shapely.get_parts(shapely.intersection(outline, ground_line(leaf)))
            name = f"{space.number} {space.name}".strip()
            for part in inside[shapely.length(inside) > JOIN]:
                along = (shapely.get_coordinates(part) - leaf.axes.origin[:2]) @ leaf.axes.u[:2]
                span = _rounded(float(along.min()), float(along.max()), low, high)
                found.append(Passage(space.guid, ROOM, name, *span))
    return found


def _misses(model: Model, result: CutResult, met: set[str]) -> list[Miss]:
    lines = np.array([ground_line(leaf) for leaf in result.leaves], dtype=object)
    heights = [(leaf.window[1] / 1000.0, leaf.window[3] / 1000.0) for leaf in result.leaves]
    low, high = min(h[0] for h in heights), max(h[1] for h in heights)
    found = []
    for guid, kind, name, outline, base, top in things(model):
        if guid in met or base >= high or top <= low:
            continue
        away = shapely.distance(lines, outline)
        nearest = int(away.argmin())
        if not 0.0 < away[nearest] <= NEAR:
            continue
        axes = result.leaves[nearest].axes
        centre = shapely.get_coordinates(outline.centroid)[0] - axes.origin[:2]
        side: Literal["behind", "before"] = "behind" if float(centre @ axes.w[:2]) > 0 else "before"
        found.append(Miss(guid, kind, name, round(float(away[nearest]), 3), side, round(float(centre @ axes.u[:2]), 3)))
    return found


def things(model: Model) -> list[tuple[str, str, str, shapely.Polygon, float, float]]:
    """What a section may be placed for: GlobalId, kind, name, outline on plan, lowest and highest point, of openings,
    stairs, columns and rooms."""
    boxes = model.boxes
    found = [
        (e.guid, e.kind, e.name, model.footprint(k), float(boxes[k, 0, 2]), float(boxes[k, 1, 2]))
        for k, e in enumerate(model.elements)
        if e.kind in EXPLAINS and np.isfinite(boxes[k]).all()
    ]
    rooms = [
        (s.guid, ROOM, f"{s.number} {s.name}".strip(), shapely.Polygon(s.outline), s.floor, s.ceiling)
        for s in model.spaces
        if len(s.outline) > 2
    ]
    return found + rooms


def _rounded(start: float, end: float, base: float, top: float) -> tuple[float, float, float, float]:
    return round(start, 3), round(end, 3), round(base, 3), round(top, 3)
