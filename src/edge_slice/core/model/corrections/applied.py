"""A model as it is corrected."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import BuildUp, Element, Layer, LayerFrame, Material, Model
from edge_slice.core.model.corrections.becoming import offset_of, sorted_out
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction, WantedLayer
from edge_slice.core.model.corrections.faces import MovedFace, beyond, broad_face, neighbours_moved
from edge_slice.core.model.corrections.new_bodies import copy_of, new_element
from edge_slice.core.model.corrections.sides import Body
from edge_slice.core.model.corrections.wanted import SAME, Corrected, Motion, Wanted
from edge_slice.core.model.merging import Named
from edge_slice.core.model.mesh.triangles import Mesh, build_mesh
from edge_slice.core.model.parts.places import Vector, element_at
from edge_slice.core.model.revisions import file_guid

F64 = NDArray[np.float64]


def corrected(model: Model, corrections: Sequence[Correction]) -> tuple[Model, tuple[Corrected, ...]]:
    """The model with its corrections, and what became of each. Where nothing is to be changed, the same model."""
    wanted, told = sorted_out(model, corrections)
    return (changed(model, wanted) if wanted else model), told


def changed(model: Model, wanted: Wanted) -> Model:
    """The model with other layers of some elements and what follows from these, with others of another shape or
    elsewhere, with those that are copied or new, and without those that are left out."""
    named = Named(list(model.materials), list(model.build_ups))
    elements, vertices = list(model.elements), corners_as_wanted(model, wanted)
    for k, one in wanted.layers.items():
        elements[k] = _layered_anew(model, k, one, named)
    for k, motion in wanted.moved.items():
        elements[k] = _elsewhere(model, k, elements[k], motion, vertices)
    bodies = {k: _as_wanted(model, wanted, k, vertices) for k in {*wanted.bodies, *(c.of for c in wanted.copies)}}
    more: list[tuple[Element, Body]] = []
    for copy in wanted.copies:
        body = bodies[copy.of]
        more.append((copy_of(model, elements[copy.of], copy), replace(body, points=body.points + copy.by)))
    for new, body in wanted.new:
        material = _material(named, WantedLayer(material=new.material, thickness=0.0, is_a=new.is_a))
        more.append((new_element(model, new, material, body), body))
    stays = np.ones(len(elements), dtype=bool)
    stays[list(wanted.left_out)] = False
    kept = [elements[k] for k in np.flatnonzero(stays).tolist()]
    number = np.full(len(elements), -1, dtype=np.int64)
    number[stays], beside = _in_order(kept, [e for e, _ in more])
    for at, (element, _) in sorted(zip(beside, more, strict=True), key=lambda pair: pair[0]):
        kept.insert(at, element)
    other = [(int(number[k]), bodies[k]) for k in wanted.bodies if stays[k]]
    other += [(at, body) for at, (_, body) in zip(beside, more, strict=True)]
    made = _built(model, vertices, np.where(np.isin(np.arange(len(elements)), list(wanted.bodies)), -1, number), other)
    return replace(
        model, mesh=made, elements=tuple(kept),
        materials=tuple(named.materials), build_ups=tuple(named.build_ups), leaking=tuple(made.open_elements.tolist()),
    )  # fmt: skip


def _in_order(kept: Sequence[Element], more: Sequence[Element]) -> tuple[list[int], list[int]]:
    """The numbers of elements that there are already, and of more: among those of their part by GlobalId, as readers of
    files have them, so that a file in which they are is drawn alike; at the end where no order can be told."""
    names = [(e.part, file_guid(e)) for e in kept]
    told = names == sorted(names)
    at = [bisect_left(names, (e.part, file_guid(e))) if told else len(names) for e in more]
    order = sorted(range(len(more)), key=lambda n: (at[n], file_guid(more[n])))
    beside = {n: at[n] + rank for rank, n in enumerate(order)}
    before = np.searchsorted(np.sort(np.array(at, dtype=np.int64)), np.arange(len(kept)), side="right")
    return (np.arange(len(kept)) + before).tolist(), [beside[n] for n in range(len(more))]


def _built(model: Model, vertices: F64, number: NDArray[np.int64], other: Sequence[tuple[int, Body]]) -> Mesh:
    """The mesh of elements with their new numbers (-1: not there, or among the others), and of other bodies."""
    mesh = model.mesh
    rows = number[mesh.triangle_element] >= 0
    points, triangles = [vertices], [mesh.triangles[rows].astype(np.int64)]
    owner, material = [number[mesh.triangle_element[rows]]], [mesh.triangle_material[rows].astype(np.int64)]
    count = len(vertices)
    for k, body in other:
        points.append(body.points)
        triangles.append(body.triangles + count)
        owner.append(np.full(len(body.triangles), k))
        material.append(body.materials)
        count += len(body.points)
    whose = np.concatenate(owner)
    order = np.argsort(whose, kind="stable")
    return build_mesh(
        np.concatenate(points), np.concatenate(triangles)[order].astype(np.int32), whose[order].astype(np.int32),
        np.concatenate(material)[order].astype(np.int32),
    )  # fmt: skip


def _as_wanted(model: Model, wanted: Wanted, k: int, vertices: F64) -> Body:
    """The body of an element with its corners where they are among `vertices` of the model."""
    return replace(wanted.body(model, k), points=vertices[_vertices_of(model, k)])


def corners_as_wanted(model: Model, wanted: Wanted) -> F64:
    """The vertices (n, 3) of a model where some elements have another shape or other layers: theirs, and those that
    follow, move."""
    vertices = model.mesh.vertices.copy()
    for k, body in wanted.bodies.items():
        vertices[_vertices_of(model, k)] = body.points
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
