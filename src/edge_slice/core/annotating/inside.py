"""Dimensions inside of a plan: chains through its rooms in both directions, so that each room is measured in both."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.crossing import Crossed
from edge_slice.core.annotating.dimensions import chain_values
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.annotating.outside import Chains, boxes_of, way_of
from edge_slice.core.annotating.rooms_shown import rooms_shown
from edge_slice.core.drawing.display import Item, Label
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.model import Space

F64 = NDArray[np.float64]
Span = tuple[float, float]
SHARES = (0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8, 0.1, 0.9)  # of a room's depth where a chain is tried
MEASURED = 0.6  # of a room's width that a line must run in it to have measured it
FINISH = 80.0  # mm that what is cut may stand beyond the outline of a room
LINE = 0.6  # mm on paper that a dimension's line keeps clear of texts
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

    def leaves_line(self, line: shapely.Geometry) -> bool:
        """Whether a line stands clear."""
        return len(self._texts.query(line, predicate="dwithin", distance=LINE)) == 0

    def leaves(self, shapes: list[shapely.Geometry]) -> bool:
        """Whether the values of a chain (all but the last shape, its line) meet nothing, nor one another, and its line
        no text."""
        *values, line = shapes
        if not self.leaves_line(line) or len(self._all.query(values, predicate="intersects")[0]):
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
        for chain, subject in _through(board, crossed, turned, basis, taken):
            if chain is None:
                said = f"{subject.space.number} {subject.space.name}".strip() or "A room"
                found.findings.append(f"{said} has no clear place for its dimension {name}.")
                continue
            found.dimensions.append(
                chain.model_copy(update={"rule": "inside", "subject": f"{subject.space.guid} {name}"[:64]})
            )
            taken.add(_taken_by(board, _places(chain)))
    return found


def _through(
    board: Board, crossed: Crossed, rooms: list[_Room], basis: F64, taken: _Taken
) -> Iterator[tuple[Dimension | None, _Room]]:
    """Chains through rooms that stand clear of what is taken, the largest first, until each room is measured; with the
    room that each begins with, None for one that has no place. A chain runs through the whole building where that is
    clear, else in its room alone."""
    left = sorted(rooms, key=lambda room: (-room.shape.area, room.space.guid))
    start, _, end, _ = shapely.total_bounds([room.shape for room in rooms]).tolist()
    while left:
        room = left[0]
        low, high = room.shape.bounds[0], room.shape.bounds[2]
        found, met = None, [room]
        reaches = [(start - WHOLE, end + WHOLE), *((low - more, high + more) for more in ALONE)]
        for reach in reaches:
            for line, measured in _lines((room, left), basis, reach):
                chain = _clear_chain(board, crossed, line, taken)
                whole = [one for one in measured if chain is not None and _is_measured(one, chain, basis)]
                if room in whole:
                    found, met = chain, whole
                    break
            if found is not None:
                break
        yield found, room
        left = [one for one in left if one not in met]


def _lines(rooms: tuple[_Room, list[_Room]], basis: F64, reach: Span) -> list[tuple[tuple[F64, F64], list[_Room]]]:
    """Lines through a room, from one end of a reach to the other, with those of the rooms left that each measures: the
    one that measures most first."""
    (room, left), (start, end) = rooms, reach
    _, low, _, high = room.shape.bounds
    within = [one for one in left if start < one.shape.bounds[0] and one.shape.bounds[2] < end]
    found = []
    for share in SHARES:
        at = low + (high - low) * share
        if _measures(room, at):
            a, b = (np.array([x, at]) @ basis.T for x in reach)
            found.append(((a, b), [one for one in within if _measures(one, at)]))
    return sorted(found, key=lambda one: -len(one[1]))


def _clear_chain(board: Board, crossed: Crossed, line: tuple[F64, F64], taken: _Taken) -> Dimension | None:
    """The chain along a line; None where there is none, or it does not stand clear."""
    sides = crossed.sides(*line)
    if len(sides) < 2 or not taken.leaves_line(_drawn_line(board, sides)):
        return None
    if not taken.leaves(_taken_by(board, sides)):
        return None
    chain = crossed.chain(*line)
    clear = chain is not None and taken.leaves(_taken_by(board, _places(chain)))  # some sides may be nobody's
    return chain if clear else None


def _places(chain: Dimension) -> list[F64]:
    return [np.array(anchor.at) for anchor in chain.anchors]


def _is_measured(room: _Room, chain: Dimension, basis: F64) -> bool:
    """Whether a chain begins and ends a room where its line enters and leaves it: not where that is an opening."""
    places = np.array(_places(chain)) @ basis
    at = float(np.array(chain.points[0]) @ basis[:, 1])
    left, _, right, _ = room.shape.bounds
    line = shapely.LineString([(left - 1.0, at), (right + 1.0, at)])
    start, _, end, _ = shapely.intersection(room.shape, line).bounds
    return all(np.abs(places[:, 0] - edge).min() <= FINISH for edge in (start, end))


def _measures(room: _Room, at: float) -> bool:
    """Whether a line at a place across it runs in most of a room's width."""
    left, low, right, high = room.shape.bounds
    if not low < at < high:
        return False
    line = shapely.LineString([(left - 1.0, at), (right + 1.0, at)])
    return bool(shapely.length(shapely.intersection(room.shape, line)) >= MEASURED * (right - left))


def _taken_by(board: Board, sides: Sequence[F64]) -> list[shapely.Geometry]:
    """What the values and the line of a chain through places of the drawing take on paper."""
    feet = board.on_paper(np.array(sides))
    if feet[-1, 0] < feet[0, 0] - 1e-6 or (abs(feet[-1, 0] - feet[0, 0]) <= 1e-6 and feet[-1, 1] < feet[0, 1]):
        feet, sides = feet[::-1], list(sides)[::-1]  # as the chain reads: to the right, or up
    way = (feet[-1] - feet[0]) / max(float(np.hypot(*(feet[-1] - feet[0]))), 1e-9)
    values = np.hypot(*np.diff(np.array(sides), axis=0).T).tolist()
    items = chain_values(board, list(feet), values, way)
    boxes = [shapely.box(*box_of(item)) for item in items if isinstance(item, Label)]
    return [*boxes, _drawn_line(board, sides)]


def _drawn_line(board: Board, sides: Sequence[F64]) -> shapely.LineString:
    return shapely.LineString(board.on_paper(np.array([sides[0], sides[-1]])))
