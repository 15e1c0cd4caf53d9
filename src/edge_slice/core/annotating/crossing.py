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
        own = np.split(along[order], np.searchsorted(line[order], np.arange(1, len(lines))))
        ends = [_ends(t, length) for t, length in zip(own, long.tolist(), strict=True)]
        return [a + way * t[:, None] for a, way, t in zip(lines[:, 0], ways, ends, strict=True)]

    def chain(self, a: F64, b: F64) -> Dimension | None:
        """A chain of all that a line from a to b (mm in the drawing) crosses, written at the line; None where that is
        less than two sides."""
        long = float(np.hypot(*(b - a)))
        if long < LEAST:
            return None
        way = (b - a) / long
        anchors = [found for at in self.sides(np.array([[a, b]]))[0] if (found := self._anchor(at)) is not None]
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


def _ends(crossings: F64, length: float) -> F64:
    """Where spans (that is every second stretch between the crossings of one line, in its order) begin and end on the
    line itself. Where two meet they are one."""
    spans = np.clip(crossings.reshape(-1, 2), 0.0, length)
    met = np.flatnonzero(np.diff(crossings)[1::2] < SAME)
    if len(met):
        spans = np.delete(spans.ravel(), np.concatenate((2 * met + 1, 2 * met + 2))).reshape(-1, 2)
    wide = spans[spans[:, 1] - spans[:, 0] > LEAST].ravel()
    return np.asarray(wide[(wide > LEAST) & (wide < length - LEAST)])
