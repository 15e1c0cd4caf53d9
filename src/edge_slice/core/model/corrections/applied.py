"""A model as it is corrected."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import BuildUp, Element, Layer, Model
from edge_slice.core.model.corrections.becoming import sorted_out
from edge_slice.core.model.corrections.corners import body_as_wanted, outward_moves, vertices_as_wanted
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction
from edge_slice.core.model.corrections.materials import material_number, with_materials
from edge_slice.core.model.corrections.new_bodies import copy_of, new_element
from edge_slice.core.model.corrections.sides import Body
from edge_slice.core.model.corrections.wanted import Corrected, Motion, Wanted
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
    model = with_materials(model, wanted)
    named = Named(list(model.materials), list(model.build_ups))
    elements, vertices = list(model.elements), vertices_as_wanted(model, wanted)
    for k, one in wanted.layers.items():
        elements[k] = _layered_anew(model, k, one, named)
    for k, motion in wanted.moved.items():
        elements[k] = _elsewhere(elements[k], motion)
    shaped = {*wanted.bodies, *wanted.rebuilt}
    bodies = {k: body_as_wanted(model, wanted, k, vertices) for k in {*shaped, *(c.of for c in wanted.copies)}}
    more: list[tuple[Element, Body]] = []
    for copy in wanted.copies:
        body = bodies[copy.of]
        more.append((copy_of(model, elements[copy.of], copy), replace(body, points=body.points + copy.by)))
    for new, body in wanted.new:
        material = material_number(named, new.material, new.is_a)
        more.append((new_element(model, new, material, body), body))
    stays = np.ones(len(elements), dtype=bool)
    stays[list(wanted.left_out)] = False
    kept = [elements[k] for k in np.flatnonzero(stays).tolist()]
    number = np.full(len(elements), -1, dtype=np.int64)
    number[stays], beside = _in_order(kept, [e for e, _ in more])
    for at, (element, _) in sorted(zip(beside, more, strict=True), key=lambda pair: pair[0]):
        kept.insert(at, element)
    other = [(int(number[k]), bodies[k]) for k in shaped if stays[k]]
    other += [(at, body) for at, (_, body) in zip(beside, more, strict=True)]
    made = _built(model, vertices, np.where(np.isin(np.arange(len(elements)), list(shaped)), -1, number), other)
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


def _layered_anew(model: Model, k: int, one: BuildUpCorrection, named: Named) -> Element:
    """An element with other layers."""
    element = model.elements[k]
    assert element.frame is not None
    first, _ = outward_moves(model.build_ups[element.build_up].thickness, one)
    x, y, z = (np.array(element.frame.origin) - np.array(element.frame.direction) * first).tolist()
    build_up, main = _build_up(named, model.build_ups[element.build_up].name, one)
    return replace(element, frame=replace(element.frame, origin=(x, y, z)), build_up=build_up, material=main)


def _elsewhere(element: Element, motion: Motion) -> Element:
    """An element elsewhere."""

    def at(point: Vector) -> Vector:
        x, y, z = (motion.turn @ np.array(point) + motion.shift).tolist()
        return x, y, z

    def along(direction: Vector) -> Vector:
        x, y, z = (motion.turn @ np.array(direction)).tolist()
        return x, y, z

    return element_at(element, at, along)


def _build_up(named: Named, name: str, one: BuildUpCorrection) -> tuple[int, int]:
    """The number of the build-up with the layers of a correction, and of the material of its thickest one."""
    layers = tuple(Layer(material_number(named, layer.material, layer.is_a), layer.thickness) for layer in one.layers)
    return named.number(named.build_ups, BuildUp(name, layers)), max(layers, key=lambda layer: layer.thickness).material
