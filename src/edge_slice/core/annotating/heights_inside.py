"""Heights inside of a section: of each room that is cut its clear height; at each cut window or door sill and head."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.cut.anchors.anchor import Anchor
from edge_slice.core.cut.anchors.anchoring import anchor_at
from edge_slice.core.cut.shown import LOOSE
from edge_slice.core.drawing.annotations.clear_places import Ink, faces_on_paper
from edge_slice.core.drawing.annotations.rooms import CutRoom, rooms_cut
from edge_slice.core.drawing.display import Item

F64 = NDArray[np.float64]
OPENINGS = ("window", "door")
NO_SOLIDS = (*LOOSE, "services", "railing")
NEAR = 5.0  # mm about a place in which a side or corner of a cut face is measured to
LOW, FAR = 300.0, 1500.0  # mm; lower gaps are none, and how far beyond a room its floor and ceiling are looked for
BESIDE = 700.0  # mm; a room that begins no further from an opening is the one inside of it
VALUE = (6.0, 10.0)  # mm on paper that the line of a dimension and its value take
IN = 7.0  # mm on paper from an opening at which its heights are written
EDGE = 2.0  # mm on paper that values stay clear of walls


def heights_inside(board: Board, drawn: Sequence[Item]) -> list[Dimension]:
    """Chains of heights, each where it is clear of what is `drawn` (paper); a room without a floor or ceiling in the
    drawing has none."""
    if not board.upright:
        return []
    kinds = [e.kind for e in board.model.elements]
    solid = [f.polygon for f in board.result.faces if kinds[f.element] not in (*NO_SOLIDS, *OPENINGS)]
    gaps = _Gaps(solid)
    left, base, right, top = board.frame
    ink = Ink.of(list(drawn), (left, base, right, top)).with_shapes(faces_on_paper(board.result.faces, board.on_paper))
    rooms = rooms_cut(board.model, board.result)
    found = [
        d for number, faces in _openings(board) if (d := _at_opening(board, gaps, rooms, number, faces)) is not None
    ]
    found += [d for room in rooms if (d := _in_room(board, gaps, room, ink)) is not None]
    return found


class _Gaps:
    """Where nothing is cut, up and down."""

    def __init__(self, solid: list[shapely.Polygon]) -> None:
        self._shapes = np.array(solid, dtype=object)
        self._tree = shapely.STRtree(self._shapes)

    def at(self, u: float, low: float, high: float, over: float) -> tuple[float, float] | None:
        """The foot and head of the gap about a height `over`, between solids at `u`, from low to high."""
        probe = shapely.LineString([(u, low), (u, high)])
        near = self._shapes[self._tree.query(probe, predicate="intersects")]
        bounds = [shapely.bounds(part) for part in shapely.get_parts(shapely.intersection(near, probe))]
        feet = [b[3] for b in bounds if b[3] <= over]
        heads = [b[1] for b in bounds if b[1] >= over]
        if not feet or not heads or any(b[1] < over < b[3] for b in bounds):
            return None
        foot, head = float(max(feet)), float(min(heads))
        return (foot, head) if head - foot >= LOW else None


def _openings(board: Board) -> Iterator[tuple[int, list[shapely.Polygon]]]:
    """Cut windows and doors, by the number of their element, with their faces."""
    found: dict[int, list[shapely.Polygon]] = {}
    for face in board.result.faces:
        if board.model.elements[face.element].kind in OPENINGS:
            found.setdefault(face.element, []).append(face.polygon)
    yield from sorted(found.items())


def _anchor(board: Board, u: float, v: float) -> Anchor | None:
    found = anchor_at(board.features, u, v, NEAR, ("side", "corner"))
    return found if found.to != "point" else None


def _chain(board: Board, u: float, places: list[tuple[float, float]], subject: str) -> Dimension | None:
    """A chain through places (u, v) of cut faces, written at `u`; none where one is nothing that it can be tied to."""
    anchors = [_anchor(board, *place) for place in places]
    tied = [a for a in anchors if a is not None]
    if len(tied) < len(anchors) or len(tied) < 2:
        return None
    line = (round(u, 2), round(tied[0].at[1], 2))
    return Dimension(anchors=tuple(tied), points=(line,), direction=90.0, rule="heights", subject=subject[:64])


def _in_room(board: Board, gaps: _Gaps, room: CutRoom, ink: Ink) -> Dimension | None:
    """The clear height, where its value stands clear."""
    over = (room.low + room.high) / 2
    span = shapely.box(room.left, room.low, room.right, room.high)
    area = shapely.buffer(shapely.transform(span, lambda p: p / board.scale), -EDGE)
    place = ink.place(area, *VALUE) if not area.is_empty else None
    us = [room.left + share * (room.right - room.left) for share in (0.5, 0.4, 0.6, 0.25, 0.75)]
    for u in [place[0] * board.scale, *us] if place is not None else us:
        gap = gaps.at(u, room.low - FAR, room.high + FAR, over)
        if gap is not None:
            chain = _chain(board, u, [(u, gap[0]), (u, gap[1])], room.space.guid)
            if chain is not None:
                y = over / board.scale
                x = u / board.scale
                ink.enter((x - VALUE[0] / 2, y - VALUE[1] / 2, x + VALUE[0] / 2, y + VALUE[1] / 2))
                return chain
    return None


def _at_opening(
    board: Board, gaps: _Gaps, rooms: list[CutRoom], element: int, faces: list[shapely.Polygon]
) -> Dimension | None:
    """Floor, sill, head, ceiling at an opening, in the room beside it; without a room its sill and head."""
    left, base, right, top = shapely.unary_union(faces).bounds
    u, over = (left + right) / 2, (base + top) / 2
    opening = gaps.at(u, base - FAR, top + FAR, over)
    if opening is None:
        return None
    subject = board.model.elements[element].guid
    for room in rooms:
        inside = 1.0 if 0 <= room.left - left <= BESIDE else -1.0 if 0 <= right - room.right <= BESIDE else 0.0
        if not inside or not room.low - FAR < over < room.high + FAR:
            continue
        at = (room.left if inside > 0 else room.right) + inside * IN * board.scale
        gap = gaps.at(at, room.low - FAR, room.high + FAR, (room.low + room.high) / 2)
        if gap is None or not room.left < at < room.right:
            continue
        places = [(at, gap[0]), (u, opening[0]), (u, opening[1]), (at, gap[1])]
        apart = [p for k, p in enumerate(places) if k in (0, 3) or min(abs(p[1] - gap[0]), abs(p[1] - gap[1])) > 1.0]
        return _chain(board, at, apart, subject)
    return _chain(board, right + IN * board.scale, [(u, opening[0]), (u, opening[1])], subject)
