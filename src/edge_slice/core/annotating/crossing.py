"""Dimensions along a line: everything that it crosses."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.annotating.outlines import edges_of, joined
from edge_slice.core.cut.anchors.anchor import Anchor
from edge_slice.core.cut.anchors.anchoring import anchor_at
from edge_slice.core.cut.shown import LOOSE

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NO_PARTS = (*LOOSE, "window", "door", "ground", "railing", "services")  # kinds that are not measured to
JOINT = 1.0  # mm; between parts that are one
NEAR = 3.0  # mm about a crossing in which the side of a part is measured to
LEAST = 1.0  # mm; crossings no further apart are one
SAME = 1e-6  # mm; spans that meet are one
MOST = 4_000_000  # sides by lines that are looked at in one go


class Crossed:
    """What is cut in a drawing, without its joints, for lines that cross it."""

    def __init__(self, board: Board) -> None:
        self._board = board
        kinds = [board.model.elements[f.element].kind for f in board.result.faces]
        parts = [f.polygon for f, kind in zip(board.result.faces, kinds, strict=True) if kind not in NO_PARTS]
        self._edges = edges_of(joined(parts, JOINT))

    def sides(self, lines: F64) -> list[F64]:
        """The places (n, 2) at which each of the lines (k, 2, 2), from its first to its second end, crosses sides of
        what is cut, in its order. A side that lies in a line counts as beside it."""
        step = max(1, MOST // max(1, len(self._edges)))
        return [found for k in range(0, len(lines), step) for found in self._crossed(lines[k : k + step])]

    def _crossed(self, lines: F64) -> list[F64]:
        steps = lines[:, 1] - lines[:, 0]
        long = np.hypot(*steps.T)
        ways = steps / np.maximum(long, 1e-9)[:, None]
        across = np.column_stack((-ways[:, 1], ways[:, 0]))
        at = np.sum(across * lines[:, 0], axis=1)[:, None]
        # no matrix product: it may round a corner to another side of a line in each of its edges
        first, last = (across[:, :1] * e[:, 0] + across[:, 1:] * e[:, 1] - at for e in np.moveaxis(self._edges, 1, 0))
        line, edge = np.nonzero((first > 0) != (last > 0))
        share = first[line, edge] / (first[line, edge] - last[line, edge])
        met = self._edges[edge, 0] + (self._edges[edge, 1] - self._edges[edge, 0]) * share[:, None]
        along = np.sum((met - lines[line, 0]) * ways[line], axis=1)
        order = np.lexsort((along, line))
        of, t = _ends(line[order], along[order], long)
        places = lines[of, 0] + ways[of] * t[:, None]
        return np.split(places, np.searchsorted(of, np.arange(1, len(lines))))

    def chain(self, a: F64, b: F64) -> Dimension | None:
        """A chain of all that a line from a to b (mm in the drawing) crosses, written at the line; None where that is
        less than two sides."""
        if float(np.hypot(*(b - a))) < LEAST:
            return None
        return self.chain_of(self.sides(np.array([[a, b]]))[0], a, b)

    def chain_of(self, places: F64, a: F64, b: F64) -> Dimension | None:
        """A chain of places (n, 2) at which a line from a to b crosses sides, as `sides` finds them."""
        way = (b - a) / float(np.hypot(*(b - a)))
        anchors = [found for at in places if (found := self._anchor(at)) is not None]
        kept: list[Anchor] = []
        for anchor in sorted(anchors, key=lambda one: float(np.array(one.at) @ way)):
            if not kept or float((np.array(anchor.at) - np.array(kept[-1].at)) @ way) > LEAST:
                kept.append(anchor)
        if len(kept) < 2:
            return None
        angle = math.degrees(math.atan2(way[1], way[0]))
        angle = angle - 180.0 if angle > 90.0 + 1e-6 else angle + 180.0 if angle <= -90.0 + 1e-6 else angle
        point = (round(float(a[0]), 2), round(float(a[1]), 2))
        return Dimension(anchors=tuple(kept), points=(point,), direction=round(angle, 6) + 0.0)

    def _anchor(self, at: F64) -> Anchor | None:
        found = anchor_at(self._board.features, float(at[0]), float(at[1]), NEAR, ("side", "corner"))
        return found if found.to != "point" else None


def _ends(line: I64, crossings: F64, length: F64) -> tuple[I64, F64]:
    """Where spans (that is every second stretch between the crossings (c,) of one `line` (c,), in its order) begin and
    end on the line itself, from 0 to its length (lines,); and the line of each. Where two meet they are one."""
    of = line[::2]
    apart = (of[1:] != of[:-1]) | (crossings[2::2] - crossings[1:-1:2] >= SAME)
    begins, ends = (np.append(True, apart), np.append(apart, True)) if len(of) else (of > 0, of > 0)
    of = of[begins]
    spans = np.clip(np.column_stack((crossings[::2][begins], crossings[1::2][ends])), 0.0, length[of, None])
    wide = spans[:, 1] - spans[:, 0] > LEAST
    found, of = spans[wide].ravel(), np.repeat(of[wide], 2)
    kept = (found > LEAST) & (found < length[of] - LEAST)
    return of[kept], found[kept]
