"""Services: what runs through a building as one line or two, with the letters of its system and the way it flows."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import Role
from edge_slice.core.drawing.conventions.sheet import Drawn, PlanView, reading_angle
from edge_slice.core.drawing.display import Item, Label, paths_of, run_of
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.drawing.texts.lettering import text_width
from edge_slice.core.model import Run

F64 = NDArray[np.float64]
TOUCHING = 0.02  # metres between the end of a run and what joins it
ALONG, ACROSS, STRAIGHT = 0.99, 0.02, 0.98  # cosines to its axis of its ends, and of its sides; the share that is so
THIN = 0.001  # metres that an end may be out of square
UPRIGHT = 0.9  # cosine of the axis to the plumb line, from which a run is a stack
FACET, MOST_SIDES = 5.0, 8  # degrees between sides that count as two; what has more of them is round
EVERY, ROOM = 90.0, 5.0  # mm on paper: from letters to letters, and of line that is left at either side of them
HEAD = 1.8  # mm on paper, length of an arrow's head
GAP, SAME_LINE = 0.8, 0.5  # mm on paper: around letters; between runs that go on in each other


@dataclass(frozen=True)
class Straight:
    """A straight run of an element: the middles of its `ends` (2, 3), how `wide` it is across its axis on plan, metres;
    `round`: of a round section."""

    element: int
    ends: F64
    wide: float
    round: bool

    @property
    def upright(self) -> bool:
        way = self.ends[1] - self.ends[0]
        return bool(abs(way[2]) > UPRIGHT * np.linalg.norm(way))


@dataclass(frozen=True)
class _OnPaper:
    """A run on paper, mm: from `start` along the unit vector `way` (2,), and what shows of it: from and to along the
    way, and by which role of lines."""

    run: Straight
    start: F64
    way: F64
    shown: tuple[tuple[float, float, Role], ...]

    def at(self, along: float, aside: float = 0.0) -> F64:
        point: F64 = self.start + along * self.way + aside * np.array([-self.way[1], self.way[0]])
        return point


def straight_run(element: int, triangles: F64, flow: tuple[float, float, float] | None = None) -> Straight | None:
    """The run of a body of `triangles` (n, 3, 3), metres, that is the same all along: in the direction in which it
    flows, if that is known, else its longest; None where there is none."""
    if not len(triangles):
        return None
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    area = np.linalg.norm(normals, axis=1)
    triangles, normals, area = triangles[area > 0], normals[area > 0] / area[area > 0, None], area[area > 0]
    _, vectors = np.linalg.eigh((normals.T * area) @ normals)
    axis = vectors[:, 0 if flow is None else int(np.abs(np.array(flow) @ vectors).argmax())]
    along, place = np.abs(normals @ axis), triangles @ axis
    sides = along < ACROSS
    at_ends = (np.abs(place - place.min()) < THIN).all(axis=1) | (np.abs(place - place.max()) < THIN).all(axis=1)
    ends = (along > ALONG) & at_ends
    if area[sides | ends].sum() < STRAIGHT * area.sum():
        return None
    across = np.cross((1.0, 0.0, 0.0) if abs(axis[2]) > UPRIGHT else (0.0, 0.0, 1.0), axis)
    across /= np.linalg.norm(across)
    frame = np.array([axis, across, np.cross(axis, across)])
    own = triangles.reshape(-1, 3) @ frame.T
    low, high = own.min(axis=0), own.max(axis=0)
    if flow is None and (high - low)[0] < np.sqrt(area[ends].sum() / 4):  # areas are those of parallelograms, twice
        return None
    middle = (low + high) / 2
    points = np.array([(low[0], *middle[1:]), (high[0], *middle[1:])]) @ frame
    around = np.degrees(np.arctan2(normals[sides] @ frame[2], normals[sides] @ frame[1])) // FACET
    return Straight(element, points, float((high - low)[1]), len(np.unique(around)) > MOST_SIDES)


def services(view: PlanView, drawn: Drawn) -> None:
    """Every run that the plan shows: narrow ones as one line in place of what is modelled, wide ones as they are with
    their axis; stacks keep their section. Letters by system, and an arrow where the model says which way it flows."""
    elements = [k for k in _chosen(view) if view.model.elements[k].run is not None]
    if not elements:  # as in most plans: nothing is looked for where nothing runs
        return
    pieces = {k: straight_run(k, view.model.element_triangles(k), _run(view, k).flow) for k in elements}
    level = [_on_paper(view, piece) for piece in pieces.values() if piece is not None and not piece.upright]
    single = [one for one in level if one.run.wide * 1000.0 / view.scale < view.standard.services.single_under]
    narrow = {one.run.element for one in single}
    places = _Places(view)
    for one in sorted(level, key=lambda x: -_longest(x)):
        items, taken = _level_items(view, one, one.run.element in narrow, places)
        drawn.items += items
        if taken:
            _make_room(view, one.run.element, drawn)
    for k, piece in pieces.items():
        if piece is not None and piece.upright:
            drawn.items += _stack_items(view, piece)
        elif piece is None and (joints := _joint_lines(view, k, single)):
            drawn.items += joints
            _make_room(view, k, drawn)


def _run(view: PlanView, element: int) -> Run:
    run = view.model.elements[element].run
    assert run is not None  # no other is drawn as one
    return run


def _chosen(view: PlanView) -> list[int]:
    """Elements with something to see in the plan: of the services' parts, or of all where the drawing says so."""
    wanted = np.zeros(len(view.model.elements), dtype=bool)
    wanted[view.result.lines.element] = True
    wanted[[f.element for f in view.result.faces]] = True
    if not view.everywhere:
        wanted &= view.model.of_disciplines(["services"])
    return np.flatnonzero(wanted).tolist()


def _make_room(view: PlanView, element: int, drawn: Drawn) -> None:
    drawn.lines |= view.result.lines.element == element
    drawn.faces |= view.faces_of(element)


def _on_paper(view: PlanView, run: Straight) -> _OnPaper:
    start, end = view.on_paper(run.ends[:, :2])
    way = (end - start) / max(float(np.hypot(*(end - start))), 1e-9)
    lines = view.result.lines
    own = lines.element == run.element
    shown: list[tuple[float, float, Role]] = []
    for role in (Role.SEEN, Role.HIDDEN, Role.OVERHEAD):
        points = lines.points[own & (lines.role == role)].reshape(-1, 2) / view.scale
        if role == Role.SEEN:
            rings = [np.asarray(f.polygon.exterior.coords) for f in view.result.faces if f.element == run.element]
            points = np.concatenate([points, *(r / view.scale for r in rings)])
        if len(points):
            along = (points - start) @ way
            shown += _left_of((float(along.min()), float(along.max())), role, shown)
    return _OnPaper(run, start, way, tuple(shown))


def _left_of(span: tuple[float, float], role: Role, taken: list[tuple[float, float, Role]]) -> list[
    tuple[float, float, Role]
]:  # fmt: skip
    """Of a span along a run what is not drawn already, without crumbs."""
    left = [span]
    for a, b, _ in taken:
        left = [part for x, y in left for part in ((x, min(y, a)), (max(x, b), y)) if part[1] - part[0] > 0.1]
    return [(x, y, role) for x, y in left]


def _longest(one: _OnPaper) -> float:
    return max((b - a for a, b, _ in one.shown), default=0.0)


def _level_items(view: PlanView, one: _OnPaper, single: bool, places: _Places) -> tuple[list[Item], bool]:
    """What is drawn of a run, and whether it takes the place of what is modelled."""
    if not one.shown:
        return [], False
    element = view.model.elements[one.run.element]
    source = f"element:{element.guid}"
    pens = {Role.SEEN: view.pens["seen near"], Role.HIDDEN: view.pens["hidden"], Role.OVERHEAD: view.pens["overhead"]}
    letters, gaps = _letters(view, one, source, places)
    items: list[Item] = [*letters]
    for a, b, role in one.shown:
        pen = pens[role] if single else view.pens["grid"]
        strokes = [np.array([one.at(x), one.at(y)]) for x, y in _without_gaps((a, b), gaps)]
        items += (
            stroked("service line" if single else "service axis", [run_of(strokes)], pen, source) if strokes else []
        )
    return items + _arrows(view, one, gaps, source), single


def _letters(
    view: PlanView, one: _OnPaper, source: str, places: _Places
) -> tuple[list[Label], list[tuple[float, float]]]:
    """Letters along a run, in gaps of its line (from and to along it)."""
    text = view.standard.services.letters_of(_run(view, one.run.element))
    if not text:
        return [], []
    small = view.standard.text.small
    wide = text_width(text, small) + 2 * GAP
    angle = reading_angle(one.way)
    base = -small / 2 if np.isclose(angle, np.degrees(np.arctan2(one.way[1], one.way[0]))) else small / 2
    labels, gaps = [], []
    for a, b, _ in one.shown:
        count = max(1, round((b - a) / EVERY))
        for k in range(count if b - a >= wide + 2 * ROOM else 0):
            middle = places.found(one, text, a + (b - a) * (2 * k + 1) / (2 * count), wide, (a, b))
            if middle is not None:
                x, y = one.at(middle, base).tolist()
                labels.append(Label("service letters", text, x, y, small, view.standard.ink, "centre", angle, source))
                gaps.append((middle - wide / 2, middle + wide / 2))
    return labels, gaps


class _Places:
    """Where letters of services stand on a plan: not on what is cut, nor on each other."""

    def __init__(self, view: PlanView) -> None:
        self._cut = shapely.STRtree([f.polygon for f in view.result.faces])
        self._scale = view.scale
        self._taken: list[tuple[str, F64]] = []

    def found(self, one: _OnPaper, text: str, wanted: float, wide: float, span: tuple[float, float]) -> float | None:
        """The free place along a run that is nearest to the wanted one; None where there is none, or where letters of
        the same system stand on the same line a little further."""
        aside = np.array([-one.way[1], one.way[0]])
        near = [at - one.at(wanted) for said, at in self._taken if said == text]
        if any(abs(p @ aside) < SAME_LINE and np.hypot(*p) < EVERY / 2 for p in near):
            return None
        room = wide / 2 + ROOM
        for step in range(int((span[1] - span[0]) / wide) + 1):
            for along in (wanted + step * wide, wanted - step * wide):
                if span[0] + room <= along <= span[1] - room and self._free(one, along, wide):
                    self._taken.append((text, one.at(along)))
                    return along
        return None

    def _free(self, one: _OnPaper, along: float, wide: float) -> bool:
        point = one.at(along)
        if any(np.hypot(*(point - at)) < wide for _, at in self._taken):
            return False
        line = shapely.LineString([one.at(along - wide / 2) * self._scale, one.at(along + wide / 2) * self._scale])
        return not len(self._cut.query(line, predicate="intersects"))


def _without_gaps(span: tuple[float, float], gaps: list[tuple[float, float]]) -> list[tuple[float, float]]:
    inside = sorted(g for g in gaps if span[0] < g[0] and g[1] < span[1])
    ends = [span[0], *(x for gap in inside for x in gap), span[1]]
    return [(a, b) for a, b in zip(ends[::2], ends[1::2], strict=True)]


def _arrows(view: PlanView, one: _OnPaper, gaps: list[tuple[float, float]], source: str) -> list[Item]:
    """A head after every letters, the way it flows."""
    flow = _run(view, one.run.element).flow
    if flow is None:
        return []
    a, b = view.on_paper(np.array([(0.0, 0.0), flow[:2]]))
    ahead = float((b - a) @ one.way) > 0
    heads = []
    for low, high in gaps:
        tip = high + HEAD + GAP if ahead else low - HEAD - GAP
        back = tip - HEAD if ahead else tip + HEAD
        heads.append(np.array([one.at(tip), one.at(back, HEAD / 3), one.at(back, -HEAD / 3)]))
    return [paths_of("service flow", heads, None, view.standard.ink, True, source)] if heads else []


def _stack_items(view: PlanView, run: Straight) -> list[Item]:
    """The letters beside a stack, and a cross through a rectangular one; its section is as it is modelled."""
    element = view.model.elements[run.element]
    source, small = f"element:{element.guid}", view.standard.text.small
    box = view.model.boxes[run.element][:, :2]
    corners = view.on_paper(np.array([box[0], (box[1, 0], box[0, 1]), box[1], (box[0, 0], box[1, 1])]))
    items: list[Item] = []
    if not run.round:
        items.append(
            paths_of("service cross", [corners[[0, 2]], corners[[1, 3]]], view.pens["seen far"], source=source)
        )
    text = view.standard.services.letters_of(_run(view, run.element))
    if text:
        x, y = float(corners[:, 0].max()) + GAP, float(corners[:, 1].max()) + GAP
        items.append(Label("service letters", text, x, y, small, view.standard.ink, source=source))
    return items


def _joint_lines(view: PlanView, element: int, single: list[_OnPaper]) -> list[Item]:
    """Lines through what joins runs that are drawn as one line each: from their ends to where their axes meet."""
    low, high = view.model.boxes[element] + np.array([[-TOUCHING], [TOUCHING]])
    ends, ways = [], []
    for one in single:
        for end in one.run.ends if one.shown else ():
            if (low <= end).all() and (end <= high).all():
                ends.append(view.on_paper(end[None, :2])[0])
                ways.append(one.way)
    if len(ends) < 2:
        return []
    pen = view.pens["overhead" if _only_overhead(view, element) else "seen near"]
    middle = _meeting(ends, ways)
    lines = [np.array([end, middle]) for end in ends if np.hypot(*(end - middle)) > 1e-6]
    return list(stroked("service line", [run_of(lines)], pen, f"element:{view.model.elements[element].guid}"))


def _only_overhead(view: PlanView, element: int) -> bool:
    own = view.result.lines.element == element
    return bool((view.result.lines.role[own] == Role.OVERHEAD).all()) and not view.faces_of(element).any()


def _meeting(ends: list[F64], ways: list[F64]) -> F64:
    """Where the axes of two runs meet that are not parallel; else the middle of all ends."""
    for (p, v), (q, w) in pairwise(zip(ends, ways, strict=True)):
        turn = float(v[0] * w[1] - v[1] * w[0])
        if abs(turn) > 0.05:
            step = ((q - p)[0] * w[1] - (q - p)[1] * w[0]) / turn
            meeting: F64 = p + step * v
            return meeting
    middle: F64 = np.mean(ends, axis=0)
    return middle
