"""Where the corners of a model lie once its elements have other layers and shapes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import LayerFrame, Model
from edge_slice.core.model.corrections.documents import BuildUpCorrection
from edge_slice.core.model.corrections.faces import MovedFace, beyond, broad_face, neighbours_moved
from edge_slice.core.model.corrections.layers import offset_of
from edge_slice.core.model.corrections.sides import Body
from edge_slice.core.model.corrections.wanted import SAME, Wanted

F64 = NDArray[np.float64]


def vertices_as_wanted(model: Model, wanted: Wanted) -> F64:
    """The vertices (n, 3) of a model where they are in the end."""
    vertices = corners_as_wanted(model, wanted)
    for k, motion in wanted.moved.items():
        own = vertices_of(model, k)
        vertices[own] = vertices[own] @ motion.turn.T + motion.shift
    return vertices


def body_as_wanted(model: Model, wanted: Wanted, k: int, vertices: F64) -> Body:
    """The body of an element as it is in the end, its corners among `vertices` of the model unless it has others."""
    if k in wanted.rebuilt:
        return wanted.rebuilt[k]
    return replace(wanted.body(model, k), points=vertices[vertices_of(model, k)])


def corners_as_wanted(model: Model, wanted: Wanted) -> F64:
    """The vertices (n, 3) of a model where some elements have another shape or other layers: theirs, and those that
    follow, move."""
    vertices = model.mesh.vertices.copy()
    for k, body in wanted.bodies.items():
        vertices[vertices_of(model, k)] = body.points
    for k, one in wanted.layers.items():
        for face in faces_that_move(model, k, one):
            for moved in (_own(model, k, face), *neighbours_moved(model, face)):
                vertices[moved] += face.normal * face.by
    return vertices


def faces_that_move(model: Model, k: int, one: BuildUpCorrection) -> list[MovedFace]:
    """The broad faces of an element that move where it has other layers."""
    element = model.elements[k]
    assert element.frame is not None
    before = model.build_ups[element.build_up].thickness
    return _faces(model, k, element.frame, before, outward_moves(before, one))


def outward_moves(before: float, one: BuildUpCorrection) -> tuple[float, float]:
    """By how much the faces of the first and the last layer move outwards, metres."""
    more = sum(layer.thickness for layer in one.layers) - before
    first = {"first": 0.0, "last": more, "middle": more / 2}[one.stays]
    return first, more - first


def _faces(model: Model, k: int, frame: LayerFrame, thick: float, by: tuple[float, float]) -> list[MovedFace]:
    """The two broad faces of an element, as far as they move outwards by so much: the first layer's, the last's."""
    normal, offset = np.array(frame.direction), offset_of(frame)
    sides = ((-normal, -offset, by[0]), (normal, offset + thick, by[1]))
    found = [broad_face(model, k, way, at, much) for way, at, much in sides if abs(much) > SAME]
    return [face for face in found if face is not None]


def _own(model: Model, k: int, face: MovedFace) -> NDArray[np.int64]:
    """The vertices of an element that lie on its face or stand out from it."""
    own = vertices_of(model, k)
    return np.asarray(own[beyond(model.mesh.vertices[own], face)], dtype=np.int64)


def vertices_of(model: Model, k: int) -> NDArray[np.int32]:
    return np.unique(model.mesh.triangles[model.mesh.of_element(k)])
