"""Dimensions inside of a plan: chains through its rooms in both directions, so that each room is measured in both."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import compress
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.crossing import Crossed
from edge_slice.core.annotating.dimensions import chain_values
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.annotating.outlines import edges_of
from edge_slice.core.annotating.outside import Chains, boxes_of, way_of
from edge_slice.core.annotating.rooms_shown import rooms_shown
from edge_slice.core.drawing.display import Item, Label
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.model import Space

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Span = tuple[float, float]
SHARES = (0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8, 0.1, 0.9)  # of a room's depth where a chain is tried
MEASURED = 0.6  # of a room's width that a line must run in it to have measured it
FINISH = 80.0  # mm that what is cut may stand beyond the outline of a room
LINE = 0.6  # mm on paper that a dimension's line keeps clear of texts
THERE = 0.01  # mm by which a place that is measured to may lie beside the one where a line crosses
WHOLE = 1000.0  # mm that a line through the building begins before its rooms
ALONE = (50.0, 1500.0, 4000.0)  # mm that one through a room alone begins before it: it may have no wall there


class _Room(NamedTuple):
    space: Space
    shape: shapely.Geometry  # turned: along the chain, and across it


class _Taken:
    """What stands on the paper already: texts, which everything keeps clear of, and lines of chains, which only texts
    do: lines may cross."""

    def __init__(self, texts: list[shapely.Geometry]) -> None:
        self._shapes: tuple[list[shapely.Geometry], list[shapely.Geometry]] = (texts, [])
        self._texts = self._all = shapely.STRtree(texts)

    def add(self, shapes: list[shapely.Geometry]) -> None:
        """What a chain takes: its values, and last its line."""
        texts, lines = self._shapes
        self._shapes = ([*texts, *shapes[:-1]], [*lines, shapes[-1]])
        self._texts, self._all = shapely.STRtree(self._shapes[0]), shapely.STRtree([*self._shapes[0], *self._shapes[1]])

    def leaves_lines(self, lines: NDArray[np.object_]) -> NDArray[np.bool_]:
        """Whether lines (n,) stand clear of all texts."""
        clear = np.ones(len(lines), dtype=bool)
        clear[self._texts.query(lines, predicate="dwithin", distance=LINE)[0]] = False
        return clear

    def leaves(self, shapes: list[shapely.Geometry]) -> bool:
        """Whether the values of a chain (all but the last shape, its line) meet nothing, nor one another, and its line
        no text."""
        *values, line = shapes
        if not self.leaves_lines(np.array([line])).all() or len(self._all.query(values, predicate="intersects")[0]):
            return False
        one, other = shapely.STRtree(values).query(values, predicate="intersects")
        return bool((one == other).all())


def inside_chains(board: Board, drawn: Sequence[Item]) -> Chains:
    """Chains in both directions of the building, clear of what is `drawn` (paper) and of one another; what of the rooms
    found no clear place is said."""
    rooms = [(space, shape) for space, shape in rooms_shown(board) if shape.area > 0]
    found = Chains([], [])
    if not rooms:
        return found
    crossed, taken = Crossed(board), _Taken(list(boxes_of(drawn)))
    way = way_of(board)
    for name, along in (("along", way), ("across", np.array([-way[1], way[0]]))):
        basis = np.column_stack((along, [-along[1], along[0]]))
        turned = [_Room(space, shapely.transform(shape, lambda at, b=basis: at @ b)) for space, shape in rooms]
        for placed, subject in _through(board, crossed, turned, basis, taken):
            if placed is None:
                said = f"{subject.space.number} {subject.space.name}".strip() or "A room"
                found.findings.append(f"{said} has no clear place for its dimension {name}.")
                continue
            found.dimensions.append(
                placed.chain.model_copy(update={"rule": "inside", "subject": f"{subject.space.guid} {name}"[:64]})
            )
            taken.add(placed.takes)
    return found


class _Placed(NamedTuple):
    """A chain, the rooms that it measures, and what it takes on paper."""

    chain: Dimension
    measures: set[int]
    takes: list[shapely.Geometry]


def _through(
    board: Board, crossed: Crossed, rooms: list[_Room], basis: F64, taken: _Taken
) -> Iterator[tuple[_Placed | None, _Room]]:
    """Chains through rooms that stand clear of what is taken, the largest first, until each room is measured; with the
    room that each begins with, None for one that has no place. A chain runs through the whole building where that is
    clear, else in its room alone."""
    rooms = sorted(rooms, key=lambda room: (-room.shape.area, room.space.guid))
    left, lines = set(range(len(rooms))), _lines(crossed, rooms, basis)
    while left:
        k = min(left)
        low, high = rooms[k].shape.bounds[0], rooms[k].shape.bounds[2]
        found, across = None, lines(k)
        for reach in ((-np.inf, np.inf), *((low - more, high + more) for more in ALONE)):
            found = _best(board, (k, left), across, reach, taken)
            if found is not None:
                break
        yield found, rooms[k]
        left -= {k} if found is None else found.measures


def _lines(crossed: Crossed, rooms: list[_Room], basis: F64) -> Callable[[int], list[_Line]]:
    """Lines through the whole building at places across a room, by its number."""
    left, low, right, high = shapely.bounds(np.array([room.shape for room in rooms])).T
    start, end = left.min() - WHOLE, right.max() + WHOLE
    at = (low[:, None] + (high - low)[:, None] * np.array(SHARES)).ravel()
    ends = np.stack([np.column_stack((np.full(len(at), x), at)) for x in (start, end)], axis=1)
    sides = crossed.sides(ends @ basis.T)
    runs = [_runs(room.shape, at) for room in rooms]
    spans, long = np.array([span for span, _ in runs]), np.array([length for _, length in runs])  # by room and line
    wide = long >= MEASURED * (right - left)[:, None]
    wide &= (low[:, None] < at) & (at < high[:, None])

    def across(room: int) -> list[_Line]:
        return [
            _Line(crossed, basis, float(at[k]), sides[k], np.flatnonzero(wide[:, k]), spans[wide[:, k], k])
            for k in range(room * len(SHARES), (room + 1) * len(SHARES))
        ]

    return across


def _runs(shape: shapely.Geometry, at: F64) -> tuple[F64, F64]:
    """From where to where (n, 2) lines along x at places across (n,) run in a shape, and how far (n,) inside of it."""
    edges = edges_of(shape)
    (x, y), (dx, dy) = edges[:, 0].T, (edges[:, 1] - edges[:, 0]).T
    crosses = (y > at[:, None]) != (y + dy > at[:, None])
    share = (at[:, None] - y) / np.where(dy == 0, 1.0, dy)
    met = np.sort(np.where(crosses, x + share * dx, np.inf), axis=1)  # an even number of each line, then none
    pairs = np.where(np.isfinite(met), met, 0.0)[:, : 2 * (met.shape[1] // 2)].reshape(len(at), -1, 2)
    ends = np.where(np.isfinite(met), met, -np.inf).max(axis=1)
    return np.column_stack((met[:, 0], ends)), np.diff(pairs, axis=2).sum(axis=(1, 2))


class _Line:
    """A line through the building `at` a place across it, the `sides` (s, 2) that it crosses, the numbers (r,) of the
    `rooms` that it runs through far enough to measure them, and from where to where (r, 2) it does."""

    def __init__(self, crossed: Crossed, basis: F64, at: float, sides: F64, rooms: I64, spans: F64) -> None:
        self._crossed, self._basis, self._at = crossed, basis, at
        self._sides, self._along = sides, sides @ basis[:, 0]
        self._whole: list[tuple[int, Span, Span]] = []  # rooms from wall to wall: not those it enters by an opening
        if len(sides) > 1 and len(rooms):
            gaps = np.abs(spans[:, :, None] - self._along)
            whole = (gaps.min(axis=2) <= FINISH).all(axis=1)
            walls = self._along[gaps.argmin(axis=2)]  # (r, 2): the sides that its runs begin and end at
            ends = np.column_stack((walls, spans))[whole].tolist()
            for room, (wall, other, start, end) in zip(rooms[whole].tolist(), ends, strict=True):
                self._whole.append((room, (min(wall, other), max(wall, other)), (min(start, end), max(start, end))))

    def _ends(self, reach: Span) -> tuple[F64, F64]:
        a, b = (np.array([x, self._at]) @ self._basis.T for x in reach)
        return a, b

    def _inside(self, reach: Span) -> NDArray[np.bool_]:
        return np.asarray((self._along > reach[0]) & (self._along < reach[1]))

    def within(self, reach: Span) -> F64:
        """The places (n, 2) of sides in a reach."""
        return self._sides[self._inside(reach)]

    def measured(self, reach: Span) -> set[int]:
        """The rooms that it crosses from wall to wall within a reach."""
        low, high = reach
        return {
            room
            for room, walls, run in self._whole
            if walls[0] > low and walls[1] < high and run[0] >= low and run[1] <= high
        }

    def chain(self, reach: Span) -> Dimension | None:
        inside = self._inside(reach)
        along = self._along[inside]
        ends = self._ends((float(along.min()) - 2.0, float(along.max()) + 2.0))
        return self._crossed.chain_of(self._sides[inside], *ends)


def _best(board: Board, rooms: tuple[int, set[int]], lines: list[_Line], reach: Span, taken: _Taken) -> _Placed | None:
    """The chain within a reach that stands clear and measures a room and most of those that are left."""
    room, left = rooms
    tried = [(line, line.measured(reach) & left) for line in lines]
    tried = sorted((one for one in tried if room in one[1]), key=lambda one: -len(one[1]))
    if not tried:
        return None
    places = [list(line.within(reach)) for line, _ in tried]
    shown = _drawn_lines(board, places)
    clear = taken.leaves_lines(shown)
    for (line, measured), sides, drawn in compress(zip(tried, places, shown, strict=True), clear.tolist()):
        takes = _taken_by(board, sides, drawn)
        if not taken.leaves(takes):
            continue
        chain = line.chain(reach)
        if chain is None or len(chain.anchors) != len(sides):
            continue
        ends = [np.array(anchor.at) for anchor in chain.anchors]
        if np.abs(np.array(ends) - np.array(sides)).max() > THERE:
            takes = _taken_by(board, ends, _drawn_lines(board, [ends])[0])
            if not taken.leaves(takes):
                continue
        return _Placed(chain, measured, takes)
    return None


def _taken_by(board: Board, sides: Sequence[F64], drawn: shapely.LineString) -> list[shapely.Geometry]:
    """What the values and the line, as it is `drawn`, of a chain through places of the drawing take on paper."""
    feet = board.on_paper(np.array(sides))
    if feet[-1, 0] < feet[0, 0] - 1e-6 or (abs(feet[-1, 0] - feet[0, 0]) <= 1e-6 and feet[-1, 1] < feet[0, 1]):
        feet, sides = feet[::-1], list(sides)[::-1]  # as the chain reads: to the right, or up
    way = (feet[-1] - feet[0]) / max(float(np.hypot(*(feet[-1] - feet[0]))), 1e-9)
    values = np.hypot(*np.diff(np.array(sides), axis=0).T).tolist()
    items = chain_values(board, list(feet), values, way)
    boxes = [shapely.box(*box_of(item)) for item in items if isinstance(item, Label)]
    return [*boxes, drawn]


def _drawn_lines(board: Board, chains: Sequence[Sequence[F64]]) -> NDArray[np.object_]:
    """The line on paper of each of some chains through places of the drawing."""
    ends = np.array([end for sides in chains for end in (sides[0], sides[-1])])
    return np.asarray(shapely.linestrings(board.on_paper(ends).reshape(-1, 2, 2)))
