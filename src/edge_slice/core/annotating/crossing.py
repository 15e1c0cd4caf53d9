"""Dimensions along a line: everything that it crosses."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.cut.anchors.anchor import Anchor
from edge_slice.core.cut.anchors.anchoring import anchor_at
from edge_slice.core.cut.shown import LOOSE

F64 = NDArray[np.float64]
NO_PARTS = (*LOOSE, "window", "door", "ground", "railing", "services")  # kinds that are not measured to
JOINT = 1.0  # mm; between parts that are one
NEAR = 3.0  # mm about a crossing in which the side of a part is measured to
LEAST = 1.0  # mm; crossings no further apart are one


class Crossed:
    """What is cut in a drawing, without its joints, for lines that cross it."""

    def __init__(self, board: Board) -> None:
        self._board = board
        kinds = [board.model.elements[f.element].kind for f in board.result.faces]
        parts = [f.polygon for f, kind in zip(board.result.faces, kinds, strict=True) if kind not in NO_PARTS]
        joined = shapely.union_all(parts).buffer(JOINT, join_style="mitre")
        self._parts = shapely.get_parts(joined.buffer(-JOINT, join_style="mitre"))
        self._tree = shapely.STRtree(self._parts)

    def spans(self, a: F64, b: F64) -> list[tuple[float, float]]:
        """From where to where along a line from a to b it lies in something that is cut, mm."""
        way = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
        line = shapely.LineString([a, b])
        met = self._parts[self._tree.query(line, predicate="intersects")]
        parts = shapely.get_parts(shapely.intersection(met, line))
        lines = parts[(shapely.get_type_id(parts) == shapely.GeometryType.LINESTRING) & ~shapely.is_empty(parts)]
        ends = [(shapely.get_coordinates(line) - a) @ way for line in lines]
        return sorted((float(t.min()), float(t.max())) for t in ends if np.ptp(t) > LEAST)

    def sides(self, a: F64, b: F64) -> list[F64]:
        """The places (2,) at which a line from a to b crosses sides, in its order."""
        long = float(np.hypot(*(b - a)))
        way = (b - a) / max(long, 1e-9)
        return [a + way * t for span in self.spans(a, b) for t in span if LEAST < t < long - LEAST]

    def chain(self, a: F64, b: F64) -> Dimension | None:
        """A chain of all that a line from a to b (mm in the drawing) crosses, written at the line; None where that is
        less than two sides."""
        long = float(np.hypot(*(b - a)))
        if long < LEAST:
            return None
        way = (b - a) / long
        anchors = [found for at in self.sides(a, b) if (found := self._anchor(at)) is not None]
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
