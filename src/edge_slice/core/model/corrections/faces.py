"""Faces of layered bodies that move, and what moves with them: ends of neighbours that meet them, and neighbours that
lie on them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Model
from edge_slice.core.model.mesh.directions import square_to
from edge_slice.core.model.mesh.pieces import joined
from edge_slice.core.model.mesh.triangles import Mesh

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NEAR = 1e-3  # metres from a face within which something lies on it
PARALLEL = 0.99  # cosine between directions of layers from which on two bodies lie side by side
FOLLOW = ("wall", "slab", "roof", "covering", "plate", "beam")  # kinds that are built up to a face
LONG = ("beam",)  # those of which only what is across their length is an end


@dataclass(frozen=True)
class MovedFace:
    """A broad face of an element: the unit vector (3,) that it looks along, how far along that from the zero it lies,
    its outline in its plane (by `across`, (3, 2)), and by how much it moves outwards, metres."""

    element: int
    normal: F64
    offset: float
    across: F64
    outline: shapely.Geometry
    by: float


def beyond(points: F64, face: MovedFace) -> NDArray[np.bool_]:
    """Which points (n, 3) lie on a face, or out from it: of its own body these move with it."""
    return np.asarray(points @ face.normal - face.offset >= -NEAR)


def broad_face(model: Model, element: int, normal: F64, offset: float, by: float) -> MovedFace | None:
    """The face of an element that looks along `normal`, `offset` metres along it from the zero; None where it has none
    there."""
    triangles = model.element_triangles(element)
    turned = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    size = np.linalg.norm(turned, axis=1)
    on = (np.abs(triangles @ normal - offset) <= NEAR).all(axis=1) & (turned @ normal > PARALLEL * size)
    if not on.any():
        return None
    across = square_to(normal)
    outline = shapely.union_all(shapely.polygons(triangles[on] @ across), grid_size=1e-6)
    return MovedFace(element, normal, offset, across, outline, by)


def neighbours_moved(model: Model, face: MovedFace) -> list[I64]:
    """Of each neighbour of a face that moves those vertices (k,) that move with it: where one ends at it, or flush with
    it, that end; where one lies on it side by side, all of it."""
    low, high = _box(face)
    boxes = model.boxes
    near = (boxes[:, 0] <= high + NEAR).all(axis=1) & (boxes[:, 1] >= low - NEAR).all(axis=1)
    shapely.prepare(face.outline)
    others = [k for k in np.flatnonzero(near).tolist() if k != face.element and model.elements[k].kind in FOLLOW]
    return [_of_neighbour(model.mesh, k, model.elements[k], face) for k in others]


def _of_neighbour(mesh: Mesh, k: int, element: Element, face: MovedFace) -> I64:
    triangles = mesh.triangles[mesh.of_element(k)]
    away = mesh.vertices[triangles] @ face.normal - face.offset
    on = (np.abs(away) <= NEAR).all(axis=1)
    flat = triangles[on]
    if not len(flat):
        return np.zeros(0, np.int64)
    ends = joined(flat)
    shapes = shapely.polygons(mesh.vertices[flat] @ face.across)
    touches = shapely.dwithin(shapes, face.outline, NEAR)
    if _beside(mesh.vertices[triangles], element, face):
        inside = shapely.area(shapely.intersection(shapes, face.outline)) > NEAR * NEAR
        return np.unique(triangles) if inside.any() and away.min() > -NEAR else np.zeros(0, np.int64)
    return np.unique(flat[np.isin(ends, ends[touches])])


def _beside(triangles: F64, element: Element, face: MovedFace) -> bool:
    """Whether a body lies along a face rather than ends at it: its layers do, or it is thinnest that way."""
    if element.frame is not None:
        return abs(float(np.array(element.frame.direction) @ face.normal)) > PARALLEL
    deep, *wide = np.ptp(triangles.reshape(-1, 3) @ np.column_stack((face.normal, face.across)), axis=0).tolist()
    return bool(deep < (max(wide) if element.kind in LONG else min(wide)))


def _box(face: MovedFace) -> tuple[F64, F64]:
    corners = shapely.get_coordinates(face.outline) @ face.across.T + face.normal * face.offset
    return corners.min(axis=0), corners.max(axis=0)
