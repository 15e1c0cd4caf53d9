"""A model as it is corrected."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import BuildUp, Layer, LayerFrame, Material, Model
from edge_slice.core.model.corrections.documents import BuildUpCorrection, WantedLayer
from edge_slice.core.model.corrections.faces import NEAR, MovedFace, broad_face, neighbours_moved
from edge_slice.core.model.merging import Named
from edge_slice.core.model.mesh.triangles import build_mesh

F64 = NDArray[np.float64]
SAME = 1e-6  # metres; thicknesses nearer to each other are one


@dataclass(frozen=True)
class Corrected:
    """What became of a correction: how many elements have it now, how many have it in their file already, and of those
    that can't why not, with how many there are of each."""

    of: BuildUpCorrection
    elements: int
    already: int
    refused: tuple[tuple[str, int], ...]

    @property
    def lost(self) -> bool:
        """Whether the model has nothing any more that it is a correction of."""
        return not self.elements and not self.already and not self.refused


def why_not(model: Model, k: int) -> str:
    """Why the build-up of an element can't be corrected; empty where it can."""
    element = model.elements[k]
    if element.build_up < 0 or element.frame is None:
        return "It has no layers in its file."
    if element.frame.radius > 0:
        return "It is curved."
    if k in model.leaking:
        return "Its body is not closed."
    normal, offset = np.array(element.frame.direction), _offset(element.frame)
    thick = model.build_ups[element.build_up].thickness
    if broad_face(model, k, -normal, -offset, 0.0) is None or broad_face(model, k, normal, offset + thick, 0.0) is None:
        return "Its layers don't add up to its body."
    return ""


def corrected(model: Model, corrections: Sequence[BuildUpCorrection]) -> tuple[Model, tuple[Corrected, ...]]:
    """The model with its corrections, and what became of each. Where nothing is to be changed, the same model."""
    changes, told = _sorted_out(model, corrections)
    return (_changed(model, changes) if changes else model), told


def became(model: Model, corrections: Sequence[BuildUpCorrection]) -> tuple[Corrected, ...]:
    """What becomes of corrections, without a model that has them."""
    return _sorted_out(model, corrections)[1]


def _sorted_out(
    model: Model, corrections: Sequence[BuildUpCorrection]
) -> tuple[dict[int, BuildUpCorrection], tuple[Corrected, ...]]:
    """The corrections that change something, by the number of the element, and what became of each."""
    told = {one.of: _Told() for one in corrections}
    changes: dict[int, BuildUpCorrection] = {}
    for k, one in _wanted(model, corrections).items():
        if reason := why_not(model, k):
            told[one.of].refused.append(reason)
        elif _is_so(model, model.build_ups[model.elements[k].build_up], one.layers):
            told[one.of].already += 1
        else:
            told[one.of].elements += 1
            changes[k] = one
    return changes, tuple(told[one.of].of(one) for one in corrections)


class _Told:
    def __init__(self) -> None:
        self.elements = self.already = 0
        self.refused: list[str] = []

    def of(self, one: BuildUpCorrection) -> Corrected:
        reasons = tuple((why, self.refused.count(why)) for why in dict.fromkeys(self.refused))
        return Corrected(one, self.elements, self.already, reasons)


def _wanted(model: Model, corrections: Iterable[BuildUpCorrection]) -> dict[int, BuildUpCorrection]:
    """The correction of each element that there is one of, by its number."""
    by_element = {one.element: one for one in corrections if one.element}
    by_name = {one.build_up: one for one in corrections if one.build_up}
    found = {}
    for k, element in enumerate(model.elements):
        name = model.build_ups[element.build_up].name if element.build_up >= 0 else None
        one = by_element.get(element.guid) or (by_name.get(name) if name is not None else None)
        if one is not None:
            found[k] = one
    return found


def _is_so(model: Model, build_up: BuildUp, layers: Sequence[WantedLayer]) -> bool:
    """Whether a build-up has these layers."""
    return len(build_up.layers) == len(layers) and all(
        model.materials[is_.material].name == shall.material and abs(is_.thickness - shall.thickness) < SAME
        for is_, shall in zip(build_up.layers, layers, strict=True)
    )


def _changed(model: Model, changes: dict[int, BuildUpCorrection]) -> Model:
    """The model with other layers of some elements, and what follows from these."""
    named = Named(list(model.materials), list(model.build_ups))
    elements, vertices = list(model.elements), model.mesh.vertices.copy()
    for k, one in changes.items():
        element = elements[k]
        assert element.frame is not None
        before = model.build_ups[element.build_up].thickness
        more = sum(layer.thickness for layer in one.layers) - before
        first = {"first": 0.0, "last": more, "middle": more / 2}[one.stays]  # by how much it moves outwards
        for face in _faces(model, k, element.frame, before, (first, more - first)):
            for moved in (_own(model, k, face), *neighbours_moved(model, face)):
                vertices[moved] += face.normal * face.by
        x, y, z = (np.array(element.frame.origin) - np.array(element.frame.direction) * first).tolist()
        build_up, main = _build_up(named, model.build_ups[element.build_up].name, one)
        frame = replace(element.frame, origin=(x, y, z))
        elements[k] = replace(element, frame=frame, build_up=build_up, material=main)
    mesh = model.mesh
    made = build_mesh(vertices, mesh.triangles, mesh.triangle_element, mesh.triangle_material)
    return replace(
        model, mesh=made, elements=tuple(elements), materials=tuple(named.materials), build_ups=tuple(named.build_ups),
        leaking=tuple(made.open_elements.tolist()),
    )  # fmt: skip


def _offset(frame: LayerFrame) -> float:
    return float(np.array(frame.origin) @ np.array(frame.direction))


def _faces(model: Model, k: int, frame: LayerFrame, thick: float, by: tuple[float, float]) -> list[MovedFace]:
    """The two broad faces of an element, as far as they move outwards by so much: the first layer's, the last's."""
    normal, offset = np.array(frame.direction), _offset(frame)
    sides = ((-normal, -offset, by[0]), (normal, offset + thick, by[1]))
    found = [broad_face(model, k, way, at, much) for way, at, much in sides if abs(much) > SAME]
    return [face for face in found if face is not None]


def _own(model: Model, k: int, face: MovedFace) -> NDArray[np.int64]:
    """The vertices of an element that lie on its face or stand out from it."""
    own = np.unique(model.mesh.triangles[model.mesh.of_element(k)])
    away = model.mesh.vertices[own] @ face.normal - face.offset
    return np.asarray(own[away >= -NEAR], dtype=np.int64)


def _build_up(named: Named, name: str, one: BuildUpCorrection) -> tuple[int, int]:
    """The number of the build-up with the layers of a correction, and of the material of its thickest one."""
    layers = tuple(Layer(_material(named, layer), layer.thickness) for layer in one.layers)
    return named.number(named.build_ups, BuildUp(name, layers)), max(layers, key=lambda layer: layer.thickness).material


def _material(named: Named, layer: WantedLayer) -> int:
    known = next((m for m in named.materials if m.name == layer.material), Material(layer.material, said=layer.is_a))
    return named.number(named.materials, known)
