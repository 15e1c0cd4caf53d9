"""What of an element can be held on to in a cut: corners and sides of its cut faces, vertices of its edges.

Places are given twice: in the drawing, and in the element's own frame as the drawing sees it, so that they stay the
same where the element is moved whole, seen from the other side, or cut somewhere else along its length.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.anchors.references import own_frame
from edge_slice.core.cut.pieces import CutFace
from edge_slice.core.cut.planes.leaves import Leaf, leaf_at
from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
BEND = np.sin(np.radians(20.0))  # a smaller turn is part of a curve, no corner
ON_EDGE = 0.05  # mm; what is that near to the extents is cut off by them
SHORT = 0.5  # mm; a shorter side is none
UPRIGHT = 0.9  # a projected axis this long lies in the drawing


@dataclass(frozen=True)
class Seen:
    """An element's own frame as a plane of the cut sees it: `origin` (2,) mm in the drawing and two unit vectors
    (2, 2), rows; `place` (3,) is where the frame stands in the building, metres."""

    origin: F64
    basis: F64
    place: F64

    def own(self, points: F64) -> F64:
        """Points (n, 2) of the drawing in the own frame."""
        return np.asarray((points - self.origin) @ self.basis.T)

    def drawn(self, points: F64) -> F64:
        """Points (n, 2) of the own frame in the drawing."""
        return np.asarray(points @ self.basis + self.origin)


def seen_frame(model: Model, element: int, leaf: Leaf) -> Seen:
    """The first axis is the own axis that lies best in the drawing, z before x before y; the second stands square to
    it, towards where the next best axis points."""
    origin, axes = own_frame(model, element)
    flat = axes @ np.column_stack((leaf.axes.u, leaf.axes.v))  # (3, 2)
    size = np.hypot(flat[:, 0], flat[:, 1])
    first = next((k for k in (2, 0, 1) if size[k] > UPRIGHT), int(size.argmax()))
    e1 = flat[first] / max(float(size[first]), 1e-9)
    e2 = np.array([-e1[1], e1[0]])
    across = flat @ e2
    across[first] = 0.0
    if across[int(np.abs(across).argmax())] < 0:
        e2 = -e2
    at = leaf.axes.to_drawing(origin[None, :])[0, :2]
    return Seen(at, np.array([e1, e2]), origin + np.array(model.origin))


@dataclass(frozen=True)
class Spots:
    """Features of one kind: where they are in the drawing (n, 2) and in the own frame (n, 2 or 3), mm; the layer (n,)
    that they belong to (-1: none); which way they face (n,): a corner's or vertex's quarter or eighth, a side's
    direction in whole degrees; and of sides their ends in the drawing (n, 4)."""

    at: F64
    own: F64
    layer: I64
    facing: I64
    ends: F64

    @staticmethod
    def none(width: int = 2) -> Spots:
        no = np.zeros(0, np.int64)
        return Spots(np.zeros((0, 2)), np.zeros((0, width)), no, no, np.zeros((0, 4)))


class Features:
    """The features of a cut, found element by element when they are asked for."""

    def __init__(self, model: Model, result: CutResult) -> None:
        self.model, self.result = model, result
        self._faces: dict[int, list[CutFace]] = {}
        for face in result.faces:
            self._faces.setdefault(face.element, []).append(face)
        self._corners: dict[int, Spots] = {}
        self._sides: dict[int, Spots] = {}
        self._vertices: dict[int, Spots] = {}
        self._edge_of = shapely.boundary(result.frame)
        shapely.prepare(self._edge_of)

    def faces(self, element: int) -> list[CutFace]:
        return self._faces.get(element, [])

    @property
    def cut_elements(self) -> list[int]:
        """The elements that have a cut face."""
        return sorted(self._faces)

    @cached_property
    def _face_boxes(self) -> tuple[F64, I64]:
        """The boxes (n, 4) of all cut faces: low u, low v, high u, high v; and their elements."""
        boxes = shapely.bounds(np.array([face.polygon for face in self.result.faces], dtype=object)).reshape(-1, 4)
        return boxes, np.array([face.element for face in self.result.faces], dtype=np.int64)

    def cut_near(self, at: F64, reach: float) -> list[int]:
        """The elements with a cut face whose box, made larger by `reach` mm, holds a place (2,), in their order."""
        (u0, v0, u1, v1), element = self._face_boxes[0].T, self._face_boxes[1]
        u, v = at.tolist()
        near = (u0 <= u + reach) & (u1 >= u - reach) & (v0 <= v + reach) & (v1 >= v - reach)
        return sorted(set(element[near].tolist()))

    def frame(self, element: int, face: CutFace) -> Seen:
        return seen_frame(self.model, element, self.result.leaves[face.leaf])

    def corners(self, element: int) -> Spots:
        """Corners of its cut faces, but for those that the extents make."""
        if element not in self._corners:
            self._corners[element] = self._found(element, self._face_corners)
        return self._corners[element]

    def sides(self, element: int) -> Spots:
        """Straight sides of its cut faces; `own` is their offset along the direction they face, and zero."""
        if element not in self._sides:
            self._sides[element] = self._found(element, self._face_sides)
        return self._sides[element]

    def _found(self, element: int, of_face) -> Spots:  # type: ignore[no-untyped-def]
        found = [of_face(element, face) for face in self.faces(element)]
        return _joined(found) if found else Spots.none()

    def _face_corners(self, element: int, face: CutFace) -> Spots:
        points, before, after = _turns(face.polygon)
        kept = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]) > BEND
        kept &= ~shapely.dwithin(self._edge_of, shapely.points(points), ON_EDGE)
        points, before, after = points[kept], before[kept], after[kept]
        frame = self.frame(element, face)
        out = (before - after) @ frame.basis.T  # away from where both sides lead
        facing = (out[:, 0] > 0).astype(np.int64) + 2 * (out[:, 1] > 0)
        return Spots(points, frame.own(points), np.full(len(points), face.layer), facing, np.zeros((len(points), 4)))

    def _face_sides(self, element: int, face: CutFace) -> Spots:
        rings = [np.asarray(r.coords) for r in (face.polygon.exterior, *face.polygon.interiors)]
        ends = np.concatenate([np.column_stack((r[:-1], r[1:])) for r in rings])
        along = ends[:, 2:] - ends[:, :2]
        length = np.hypot(along[:, 0], along[:, 1])
        middle = (ends[:, :2] + ends[:, 2:]) / 2
        kept = (length > SHORT) & ~shapely.dwithin(self._edge_of, shapely.points(middle), ON_EDGE)
        ends, along, middle = ends[kept], along[kept] / length[kept, None], middle[kept]
        frame = self.frame(element, face)
        turn = 1.0 if face.polygon.exterior.is_ccw else -1.0
        out = turn * np.column_stack((along[:, 1], -along[:, 0]))
        own_out = out @ frame.basis.T
        facing = np.rint(np.degrees(np.arctan2(own_out[:, 1], own_out[:, 0]))).astype(np.int64) % 360
        offset = (frame.own(middle) * own_out).sum(axis=1)
        own = np.column_stack((offset, np.zeros(len(offset))))
        return Spots(middle, own, np.full(len(middle), face.layer), facing, ends)

    def vertices(self, element: int) -> Spots:
        """The vertices of all its edges; `own` (n, 3) in its own frame."""
        if element not in self._vertices:
            self._vertices[element] = self._edge_vertices(element)
        return self._vertices[element]

    def _edge_vertices(self, element: int) -> Spots:
        mesh, model = self.model.mesh, self.model
        first, last = np.searchsorted(mesh.edge_element, [element, element + 1])
        if self.result.lens is not None or last == first:
            return Spots.none(3)
        points = np.unique(np.round(mesh.vertices[mesh.edges[first:last].reshape(-1)], 6), axis=0)
        origin, axes = own_frame(model, element)
        own = (points - origin) @ axes.T * 1000.0
        middle = (own.min(axis=0) + own.max(axis=0)) / 2
        facing = ((own > middle) * np.array([1, 2, 4])).sum(axis=1)
        return Spots(self.drawn(points), own, np.full(len(points), -1), facing, np.zeros((len(points), 4)))

    def drawn(self, points: F64) -> F64:
        """Where points (n, 3) of the model, metres, are in the drawing (n, 2), mm: in the plane of the cut before which
        they lie, the nearest one of those that could be."""
        best = np.full(len(points), np.inf)
        found = np.zeros((len(points), 2))
        for leaf in self.result.leaves:
            at = leaf.axes.to_drawing(points)
            off = np.maximum(leaf.window[0] - at[:, 0], 0.0) + np.maximum(at[:, 0] - leaf.window[2], 0.0)
            nearer = off + 1e-6 * np.abs(at[:, 2]) < best
            best = np.where(nearer, off + 1e-6 * np.abs(at[:, 2]), best)
            found[nearer] = at[nearer, :2]
        return found

    def model_point(self, u: float, v: float) -> F64:
        """The point (3,) of the building under a place of the drawing, in the plane of its cut, metres."""
        leaf = leaf_at(self.result.leaves, u)
        return np.asarray(leaf.axes.to_model(np.array([[u, v]]))[0])

    @cached_property
    def lit(self) -> tuple[F64, I64, I64]:
        """Ends of seen lines that are vertices of their edge: where in the drawing (n, 2), of which element (n,) and
        which vertex of the mesh (n,)."""
        lines, mesh = self.result.lines, self.model.mesh
        if not len(lines.points) or self.result.lens is not None:
            return np.zeros((0, 2)), np.zeros(0, np.int64), np.zeros(0, np.int64)
        at, element, vertex = [], [], []
        for k in (0, 1):
            index = mesh.edges[lines.edge, k].astype(np.int64)
            where = self.drawn(mesh.vertices[index])
            ends = lines.points.reshape(-1, 2, 2)
            near = (np.hypot(*np.moveaxis(ends - where[:, None, :], 2, 0)) < SHORT).any(axis=1)
            at.append(where[near])
            element.append(lines.element[near].astype(np.int64))
            vertex.append(index[near])
        return np.concatenate(at), np.concatenate(element), np.concatenate(vertex)


def _turns(polygon: shapely.Polygon) -> tuple[F64, F64, F64]:
    """The corners of all rings (n, 2), and the unit vectors that lead to and from each (n, 2)."""
    points, before, after = [], [], []
    for ring in (polygon.exterior, *polygon.interiors):
        corners = np.asarray(ring.coords)[:-1]
        to = corners - np.roll(corners, 1, axis=0)
        to = to / np.maximum(np.hypot(to[:, 0], to[:, 1]), 1e-9)[:, None]
        points.append(corners)
        before.append(to)
        after.append(np.roll(to, -1, axis=0))
    return np.concatenate(points), np.concatenate(before), np.concatenate(after)


def _joined(spots: list[Spots]) -> Spots:
    return Spots(
        np.concatenate([s.at for s in spots]),
        np.concatenate([s.own for s in spots]),
        np.concatenate([s.layer for s in spots]).astype(np.int64),
        np.concatenate([s.facing for s in spots]),
        np.concatenate([s.ends for s in spots]),
    )
