"""Dimensions around a plan, of buildings with a grid or without: on each side openings, breaks of the façade, overall.

They are measured at the outline of what is cut, as it is seen from that side. Tiers that would say the same are one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import Dimension
from edge_slice.core.annotating.outlines import edges_of, joined
from edge_slice.core.cut.anchors.anchor import Anchor
from edge_slice.core.cut.anchors.anchoring import anchor_at
from edge_slice.core.drawing.display import Item, Label, Paths
from edge_slice.core.drawing.texts.lettering import box_of

F64 = NDArray[np.float64]
Shapes = NDArray[np.object_]
ENCLOSING = ("wall", "curtain wall", "window", "door", "column")  # kinds whose cut faces make the outline
OPENINGS = ("window", "door")
JOINT = 1.0  # mm; between parts that are one
GAP = 20.0  # mm; parts of the outline that are no further apart are one
BREAK = 300.0  # mm; a façade that steps back by less has no break there: reveals, plinths, downpipes
SAME = 2.0  # mm; corners that lie so near to each other along a side are one
ALIKE = 0.05  # degrees; sides of the outline that differ by less have one direction
SIDES = ("base", "right", "top", "left")
FIRST, APART, TRIED = 12.0, 9.0, 32  # mm on paper: first tier from the building, tiers from each other; steps of 1 mm
CLEAR = 1.0  # mm on paper on either side of a line
HEADS = ("marker head", "marker wedge", "callout bubble", "grid bubble")
VALUE = (8.0, 1.0, 5.0)  # mm that a value takes on either side of its middle, under its line and over it


@dataclass(frozen=True)
class _Side:
    """A side of the outline: its corners (c, 2) as distance along the side and outwards, mm, each with the element that
    it belongs to; `along` and `out` (2,) in the drawing."""

    name: str
    along: F64
    out: F64
    corners: F64
    elements: list[int]
    outline: shapely.Polygon

    @property
    def reads(self) -> F64:
        """The direction (2,) in which what is written along it is read: to the right, or up."""
        across, up = self.along.tolist()
        return self.along if across > 1e-9 or (abs(across) <= 1e-9 and up > 0) else -self.along

    def tiers(self) -> list[list[int]]:
        """The corners that are measured, by tier from the building out, each from left to right."""
        xs = np.unique(np.round(shapely.get_coordinates(self.outline.exterior)[:, 0], 1))
        middles = (xs[:-1] + xs[1:]) / 2
        reach = self._reach(middles)
        steps = [float(xs[k + 1]) for k in np.flatnonzero(np.abs(np.diff(reach)) > BREAK).tolist()]
        ends = [float(xs[0]), float(xs[-1])]
        openings = self._one_each(self._on_outline())
        breaks = self._one_each(self._at([*ends, *steps]))
        overall = self._one_each(self._at(ends))
        found: list[list[int]] = []
        for tier in (openings, breaks, overall):
            if len(tier) > 1 and (not found or len(tier) < len(found[-1])):
                found.append(tier)
        return found

    def _reach(self, xs: F64) -> F64:
        """How far out the outline comes at places (n,) along the side; NaN beside it."""
        edges = edges_of(self.outline)
        (x, y), (dx, dy) = edges[:, 0].T, (edges[:, 1] - edges[:, 0]).T
        share = (xs[:, None] - x) / np.where(dx == 0, np.nan, dx)  # an upright edge ends where others do
        met = (share >= 0) & (share <= 1)
        found = np.where(met, y + np.where(met, share, 0.0) * dy, -np.inf).max(axis=1)
        return np.where(met.any(axis=1), found, np.nan)

    def _on_outline(self) -> list[int]:
        """The corners at which the outline is seen, to their left or to their right."""
        x, y = self.corners.T
        seen = [np.abs(self._reach(x + by) - y) < GAP for by in (-SAME, SAME)]
        return np.flatnonzero(seen[0] | seen[1]).tolist()

    def _at(self, places: Sequence[float]) -> list[int]:
        return [k for k in range(len(self.corners)) if np.abs(self.corners[k, 0] - np.array(places)).min() < SAME]

    def _one_each(self, corners: list[int]) -> list[int]:
        """Of corners at one place along the side the outermost."""
        found: list[int] = []
        for k in sorted(corners, key=lambda k: (self.corners[k, 0], -self.corners[k, 1], k)):
            if not found or self.corners[k, 0] - self.corners[found[-1], 0] > SAME:
                found.append(k)
            elif self.corners[k, 1] > self.corners[found[-1], 1]:
                found[-1] = k
        return found


class Chains(NamedTuple):
    dimensions: list[Dimension]
    findings: list[str]


def outside_chains(board: Board, drawn: Sequence[Item]) -> Chains:
    """The tiers of all sides, each clear of what is `drawn` (paper) and of those before it."""
    taken = boxes_of(drawn)
    found = Chains([], [])
    for side in _sides(board):
        _, _, _, far = side.outline.bounds
        out = FIRST
        for number, tier in enumerate(side.tiers()):
            place = _clear(board, side, (far, out), tier, taken)
            if place is None:
                found.findings.append(f"Dimensions at the {side.name} have no clear place; they stand where they are.")
                place = out
            anchors = tuple(_anchor(board, side, k) for k in tier)
            line = _unturned(side, np.array([side.corners[tier[0], 0], far + place * board.scale]))
            angle = float(np.degrees(np.arctan2(side.reads[1], side.reads[0])))
            found.dimensions.append(
                Dimension(anchors=anchors, points=((round(float(line[0]), 2), round(float(line[1]), 2)),),
                          direction=round(angle, 6) + 0.0, rule="outside", subject=f"{side.name} {number}")
            )  # fmt: skip
            taken += _values(board, side, (far, place), tier).tolist()
            out = place + APART
    return found


def way_of(board: Board) -> F64:
    """The direction (2,) in which most of what is cut runs, nearest to the drawing's u."""
    faces = [f.polygon for f in board.result.faces if board.model.elements[f.element].kind in ENCLOSING]
    return _way(faces)


def _sides(board: Board) -> list[_Side]:
    """The sides of the largest thing that is cut, square to it."""
    features, model = board.features, board.model
    cut = [k for k in features.cut_elements if model.elements[k].kind in ENCLOSING]
    standing = [k for k in cut if model.elements[k].kind not in OPENINGS]
    if not standing:
        return []
    parts = [f.polygon for k in standing for f in features.faces(k)]
    filled = [shapely.MultiPolygon([f.polygon for f in features.faces(k)]).convex_hull for k in set(cut) - {*standing}]
    whole = shapely.get_parts(joined([*parts, *filled], GAP))
    largest = max(whole, key=lambda part: float(shapely.Polygon(part.exterior).area))
    outline = shapely.Polygon(largest.exterior)
    points, elements = _corners(board, standing, joined(parts, JOINT))
    way = _way([outline])
    sides = []
    for number, name in enumerate(SIDES):
        turn = np.deg2rad(90.0 * number)
        along = np.array([way[0] * np.cos(turn) - way[1] * np.sin(turn), way[0] * np.sin(turn) + way[1] * np.cos(turn)])
        out = np.array([along[1], -along[0]])
        basis = np.column_stack((along, out))
        turned = shapely.transform(outline, lambda at, basis=basis: at @ basis)
        sides.append(_Side(name, along, out, points @ basis, elements, turned))
    return sides


def _corners(board: Board, elements: list[int], whole: shapely.Geometry) -> tuple[F64, list[int]]:
    """The corners (c, 2) of what stands there as a whole, each with the element that it belongs to."""
    ends = shapely.STRtree(shapely.points(shapely.get_coordinates(whole.simplify(JOINT))))
    found, owner = [np.zeros((0, 2))], []
    for k in elements:
        at = board.features.corners(k).at
        if len(at):
            held = np.unique(ends.query(shapely.points(at), predicate="dwithin", distance=SAME)[0])
            found.append(at[held])
            owner += [k] * len(held)
    return np.concatenate(found), owner


def _way(shapes: Sequence[shapely.Polygon]) -> F64:
    """The direction (2,) that most of their sides have, or square to it, nearest to the drawing's u; u for none."""
    at, ring = shapely.get_coordinates(shapely.get_exterior_ring(shapes), return_index=True)
    steps = np.diff(at, axis=0)[np.diff(ring) == 0]
    if not len(steps):
        return np.array([1.0, 0.0])
    turns, side = np.unique(np.degrees(np.arctan2(steps[:, 1], steps[:, 0])).round(4) % 90.0, return_inverse=True)
    apart = np.abs(turns[:, None] - turns[None, :])
    alike = np.minimum(apart, 90.0 - apart) < ALIKE
    angle = float(turns[int((alike @ np.bincount(side, np.hypot(*steps.T))).argmax())])
    angle = np.deg2rad(angle - 90.0 if angle > 45.0 else angle)
    return np.array([1.0, 0.0]) if abs(angle) < 1e-6 else np.array([np.cos(angle), np.sin(angle)])


def _unturned(side: _Side, at: F64) -> F64:
    return np.asarray(at[0] * side.along + at[1] * side.out)


def _anchor(board: Board, side: _Side, k: int) -> Anchor:
    u, v = _unturned(side, side.corners[k]).tolist()
    return anchor_at(board.features, u, v, 1.0, ("corner",), side.elements[k])


def boxes_of(drawn: Sequence[Item]) -> list[shapely.Geometry]:
    """The boxes on paper of texts, and of heads of markers."""
    boxes = [box_of(i) for i in drawn if isinstance(i, Label)]
    for item in drawn:
        if isinstance(item, Paths) and item.role in HEADS:
            rings = np.split(item.points, item.starts[1:-1])
            boxes += [(*ring.min(axis=0).tolist(), *ring.max(axis=0).tolist()) for ring in rings if len(ring)]
    return [shapely.box(*box) for box in boxes]


def _clear(
    board: Board, side: _Side, place: tuple[float, float], tier: list[int], taken: list[shapely.Geometry]
) -> float | None:
    """How far out (mm on paper) the values of a tier first meet nothing that is taken."""
    far, first = place
    tree = shapely.STRtree(taken)
    for out in (first + np.arange(TRIED)).tolist():
        if not len(tree.query(_values(board, side, (far, out), tier), predicate="intersects")[0]):
            return float(out)
    return None


def _values(board: Board, side: _Side, place: tuple[float, float], tier: list[int]) -> Shapes:
    """What the values of a tier take on paper, and its line."""
    far, out = place
    wide, under, over = VALUE
    xs = side.corners[tier, 0]
    up = np.array([-side.reads[1], side.reads[0]])  # values stand over their line as it is read
    middles = ((xs[:-1] + xs[1:]) / 2)[:, None] * side.along + far * side.out
    at = board.on_paper(middles) + side.out * out
    corners = ((-1, -under), (1, -under), (1, over), (-1, over))
    found: Shapes = shapely.polygons(np.stack([at + side.along * s * wide + up * t for s, t in corners], axis=1))
    ends = board.on_paper(xs[[0, -1], None] * side.along + far * side.out) + side.out * out
    return np.append(found, shapely.LineString(ends).buffer(CLEAR))
