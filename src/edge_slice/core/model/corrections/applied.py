"""A model as it is corrected."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import BuildUp, Element, Layer, LayerFrame, Material, Model
from edge_slice.core.model.corrections.becoming import SAME, Corrected, Motion, Wanted, offset_of, sorted_out
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction, WantedLayer
from edge_slice.core.model.corrections.faces import MovedFace, beyond, broad_face, neighbours_moved
from edge_slice.core.model.merging import Named
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.model.parts.places import Vector, element_at

F64 = NDArray[np.float64]


def corrected(model: Model, corrections: Sequence[Correction]) -> tuple[Model, tuple[Corrected, ...]]:
    """The model with its corrections, and what became of each. Where nothing is to be changed, the same model."""
    wanted, told = sorted_out(model, corrections)
    return (_changed(model, wanted) if wanted else model), told


def _changed(model: Model, wanted: Wanted) -> Model:
    """The model with other layers of some elements and what follows from these, with others elsewhere, and without
    those that are left out."""
    named = Named(list(model.materials), list(model.build_ups))
    elements, vertices = list(model.elements), corners_with_layers(model, wanted)
    for k, one in wanted.layers.items():
        elements[k] = _layered_anew(model, k, one, named)
    for k, motion in wanted.moved.items():
        elements[k] = _elsewhere(model, k, elements[k], motion, vertices)
    mesh = model.mesh
    stays = np.ones(len(elements), dtype=bool)
    stays[list(wanted.left_out)] = False
    number, rows = (np.cumsum(stays) - 1).astype(np.int32), stays[mesh.triangle_element]
    made = build_mesh(vertices, mesh.triangles[rows], number[mesh.triangle_element[rows]], mesh.triangle_material[rows])
    return replace(
        model, mesh=made, elements=tuple(e for e, kept in zip(elements, stays.tolist(), strict=True) if kept),
        materials=tuple(named.materials), build_ups=tuple(named.build_ups), leaking=tuple(made.open_elements.tolist()),
    )  # fmt: skip


def corners_with_layers(model: Model, wanted: Wanted) -> F64:
    """The vertices (n, 3) of a model where some elements have other layers: theirs, and those that follow, move."""
    vertices = model.mesh.vertices.copy()
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


def _layered_anew(model: Model, k: int, one: BuildUpCorrection, named: Named) -> Element:
    """An element with other layers."""
    element = model.elements[k]
    assert element.frame is not None
    first, _ = outward_moves(model.build_ups[element.build_up].thickness, one)
    x, y, z = (np.array(element.frame.origin) - np.array(element.frame.direction) * first).tolist()
    build_up, main = _build_up(named, model.build_ups[element.build_up].name, one)
    return replace(element, frame=replace(element.frame, origin=(x, y, z)), build_up=build_up, material=main)


def _elsewhere(model: Model, k: int, element: Element, motion: Motion, vertices: F64) -> Element:
    """An element elsewhere; its `vertices` move."""
    own = _vertices_of(model, k)
    vertices[own] = vertices[own] @ motion.turn.T + motion.shift

    def at(point: Vector) -> Vector:
        x, y, z = (motion.turn @ np.array(point) + motion.shift).tolist()
        return x, y, z

    def along(direction: Vector) -> Vector:
        x, y, z = (motion.turn @ np.array(direction)).tolist()
        return x, y, z

    return element_at(element, at, along)


def _faces(model: Model, k: int, frame: LayerFrame, thick: float, by: tuple[float, float]) -> list[MovedFace]:
    """The two broad faces of an element, as far as they move outwards by so much: the first layer's, the last's."""
    normal, offset = np.array(frame.direction), offset_of(frame)
    sides = ((-normal, -offset, by[0]), (normal, offset + thick, by[1]))
    found = [broad_face(model, k, way, at, much) for way, at, much in sides if abs(much) > SAME]
    return [face for face in found if face is not None]


def _own(model: Model, k: int, face: MovedFace) -> NDArray[np.int64]:
    """The vertices of an element that lie on its face or stand out from it."""
    own = _vertices_of(model, k)
    return np.asarray(own[beyond(model.mesh.vertices[own], face)], dtype=np.int64)


def _vertices_of(model: Model, k: int) -> NDArray[np.int32]:
    return np.unique(model.mesh.triangles[model.mesh.of_element(k)])


def _build_up(named: Named, name: str, one: BuildUpCorrection) -> tuple[int, int]:
    """The number of the build-up with the layers of a correction, and of the material of its thickest one."""
    layers = tuple(Layer(_material(named, layer), layer.thickness) for layer in one.layers)
    return named.number(named.build_ups, BuildUp(name, layers)), max(layers, key=lambda layer: layer.thickness).material


def _material(named: Named, layer: WantedLayer) -> int:
    known = next((m for m in named.materials if m.name == layer.material), Material(layer.material, said=layer.is_a))
    return named.number(named.materials, known)
