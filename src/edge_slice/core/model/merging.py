"""A state of a model in which some elements are as another state has them."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field, replace
from typing import TypeVar

import numpy as np

from edge_slice.core.model.building import BuildUp, Element, Material, Model
from edge_slice.core.model.mesh.triangles import build_mesh

T = TypeVar("T", Material, BuildUp)


@dataclass
class Named:
    """Materials and build-ups of both states, each once."""

    materials: list[Material]
    build_ups: list[BuildUp]
    _at: dict[Material | BuildUp, int] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        self._at = {}
        for k, material in enumerate(self.materials):
            self._at.setdefault(material, k)
        for k, build_up in enumerate(self.build_ups):
            self._at.setdefault(build_up, k)

    def material(self, of: Model, index: int) -> int:
        if index < 0:
            return -1
        return self.number(self.materials, of.materials[index])

    def build_up(self, of: Model, index: int) -> int:
        if index < 0:
            return -1
        one = of.build_ups[index]
        layers = tuple(replace(layer, material=self.material(of, layer.material)) for layer in one.layers)
        return self.number(self.build_ups, replace(one, layers=layers))

    def number(self, known: list[T], one: T) -> int:
        """The number of a material among `materials`, or of a build-up among `build_ups`: a new one comes last."""
        if one not in self._at:
            self._at[one] = len(known)
            known.append(one)
        return self._at[one]


def with_elements(model: Model, other: Model, guids: Collection[str]) -> Model:
    """The model with the elements of these GlobalIds as the other state has them: those that it does not have are gone,
    those that only it has come last. Storeys, grid and rooms stay the model's own."""
    wanted = set(guids)
    named = Named(list(model.materials), list(model.build_ups))
    storeys = {s.guid: k for k, s in enumerate(model.storeys)}
    rows: list[tuple[Model, int]] = [
        (other, other.element_by_guid[e.guid]) if e.guid in wanted else (model, k)
        for k, e in enumerate(model.elements)
        if e.guid not in wanted or e.guid in other.element_by_guid
    ]
    rows += [(other, k) for k, e in enumerate(other.elements) if e.guid in wanted - set(model.element_by_guid)]

    def element(of: Model, k: int) -> Element:
        one = of.elements[k]
        if of is model:
            return one
        storey = storeys.get(of.storeys[one.storey].guid, -1) if one.storey >= 0 else -1
        return replace(
            one, storey=storey, material=named.material(of, one.material), build_up=named.build_up(of, one.build_up)
        )

    elements = tuple(element(of, k) for of, k in rows)
    vertices, triangles, owner, material = [], [], [], []
    count = 0
    for number, (of, k) in enumerate(rows):
        mesh = of.mesh
        rows_of = mesh.of_element(k)
        used, corners = np.unique(mesh.triangles[rows_of], return_inverse=True)
        vertices.append(mesh.vertices[used])
        triangles.append(corners.reshape(-1, 3) + count)
        own = mesh.triangle_material[rows_of]
        owner.append(np.full(len(own), number))
        material.append(own if of is model else np.array([named.material(of, m) for m in own.tolist()], dtype=np.int64))
        count += len(used)
    mesh = build_mesh(
        np.concatenate(vertices), np.concatenate(triangles).astype(np.int32), np.concatenate(owner).astype(np.int32),
        np.concatenate(material).astype(np.int32),
    )  # fmt: skip
    return replace(
        model, mesh=mesh, elements=elements, materials=tuple(named.materials), build_ups=tuple(named.build_ups),
        leaking=tuple(mesh.open_elements.tolist()),
    )  # fmt: skip
