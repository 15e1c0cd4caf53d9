"""What a project says of the material of single elements or build-ups, and of the hatch of one material: a model in
which that is so."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Annotated

import numpy as np
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.model.building import BuildUp, Material, Model

Said = Annotated[str, Field(max_length=300)]
Key = Annotated[str, Field(max_length=60)]
MOST = 5000  # that are said in one project


class MaterialHere(BaseModel):
    """What a material is (`is_a`, a class, or empty: as usual) and by which hatch it is cut (`hatch`, or empty: as its
    class): in one `element` (GlobalId), where a `material` without a name is what the file says nothing of; in one
    `build_up`; or, with neither, everywhere, and then the hatch alone."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    material: Said = ""
    element: Said = ""
    build_up: Said = ""
    is_a: Key = ""
    hatch: Key = ""

    @model_validator(mode="after")
    def _meant(self) -> MaterialHere:
        if self.element and self.build_up:
            raise ValueError("materials_here: say one element or one build-up, not both")
        if not self.is_a and not self.hatch:
            raise ValueError("materials_here: say a class, a hatch, or both")
        if not self.element and not self.material:
            raise ValueError("materials_here: say which material")
        if not self.element and not self.build_up and self.is_a:
            raise ValueError("materials_here: what a material is everywhere stands in `materials`, by its name")
        return self

    @property
    def where(self) -> tuple[str, str, str]:
        """What it is said of; there is one that is said of the same."""
        return self.element, self.build_up, self.material


def _each_once(said: list[MaterialHere]) -> list[MaterialHere]:
    """Raises ValueError where two are said of the same."""
    if len({one.where for one in said}) < len(said):
        raise ValueError("materials_here: two are said of the same material in the same place")
    return said


MaterialsHere = Annotated[list[MaterialHere], Field(max_length=MOST), AfterValidator(_each_once)]


def is_there(model: Model, one: MaterialHere) -> bool:
    """Whether a model has what something is said of: the element or the build-up, with that material in it."""
    if one.element:
        k = model.element_by_guid.get(one.element)
        if k is None:
            return False
        if not one.material and model.elements[k].material < 0:
            return True
        found: Iterable[int] = _own(model, k)
    elif one.build_up:
        found = [layer.material for b in model.build_ups if b.name == one.build_up for layer in b.layers]
    else:
        found = range(len(model.materials))
    return any(model.materials[k].name == one.material for k in found)


def with_said(model: Model, said: Sequence[MaterialHere]) -> Model:
    """The model with materials of their own where something is said of them: an element's goes before its build-up's,
    that before what is said of everywhere. What the model does not have changes nothing. The mesh stays the same."""
    found = _Changed(model)
    for one in (one for one in said if not one.element and not one.build_up):
        found.everywhere(one)
    for one in (one for one in said if one.build_up):
        found.in_build_up(one)
    for one in (one for one in said if one.element in model.element_by_guid):
        found.in_element(one, model.element_by_guid[one.element])
    return found.model()


def _own(model: Model, element: int) -> set[int]:
    """The known materials (`Model.materials` index) of an element."""
    one = model.elements[element]
    layers = model.build_ups[one.build_up].layers if one.build_up >= 0 else ()
    triangles = np.unique(model.mesh.triangle_material[model.mesh.of_element(element)]).tolist()
    return {one.material, *(layer.material for layer in layers), *triangles} - {-1}


class _Changed:
    """A model's materials, build-ups and elements while they change."""

    def __init__(self, model: Model) -> None:
        self._before = model
        self._materials = list(model.materials)
        self._build_ups = list(model.build_ups)
        self._elements = list(model.elements)
        self._triangles = model.mesh.triangle_material.copy()
        self._at = {material: k for k, material in enumerate(self._materials)}

    def everywhere(self, one: MaterialHere) -> None:
        self._materials = [_said(m, one) if m.name == one.material else m for m in self._materials]
        self._at = {material: k for k, material in enumerate(self._materials)}

    def in_build_up(self, one: MaterialHere) -> None:
        changed = {k for k, b in enumerate(self._before.build_ups) if b.name == one.build_up}
        for k in changed:
            self._build_ups[k] = self._layered(self._build_ups[k], one)
        for k, element in enumerate(self._before.elements):
            if element.build_up in changed:
                self._bodies(k, one)

    def in_element(self, one: MaterialHere, k: int) -> None:
        element = self._elements[k]
        if element.build_up >= 0:
            layered = self._layered(self._build_ups[element.build_up], one)
            if layered != self._build_ups[element.build_up]:
                self._build_ups.append(layered)
                self._elements[k] = replace(element, build_up=len(self._build_ups) - 1)
        self._bodies(k, one)

    def _bodies(self, k: int, one: MaterialHere) -> None:
        """What of an element's own material and of its triangles is meant."""
        element = self._elements[k]
        if element.material < 0 and not one.material:
            self._elements[k] = replace(element, material=self._index(_said(Material(""), one)))
        elif self._means(element.material, one):
            self._elements[k] = replace(element, material=self._index(_said(self._materials[element.material], one)))
        own = self._triangles[self._before.mesh.of_element(k)]
        for material in np.unique(own).tolist():
            if self._means(material, one):
                own[own == material] = self._index(_said(self._materials[material], one))

    def _layered(self, build_up: BuildUp, one: MaterialHere) -> BuildUp:
        layers = tuple(
            replace(layer, material=self._index(_said(self._materials[layer.material], one)))
            if self._means(layer.material, one)
            else layer
            for layer in build_up.layers
        )
        return replace(build_up, layers=layers)

    def _means(self, material: int, one: MaterialHere) -> bool:
        return material >= 0 and self._materials[material].name == one.material

    def _index(self, material: Material) -> int:
        if material not in self._at:
            self._at[material] = len(self._materials)
            self._materials.append(material)
        return self._at[material]

    def model(self) -> Model:
        before = self._before
        found = replace(
            before, mesh=replace(before.mesh, triangle_material=self._triangles), elements=tuple(self._elements),
            materials=tuple(self._materials), build_ups=tuple(self._build_ups),
        )  # fmt: skip
        if len(self._materials) == len(before.materials):
            found.__dict__["joints"] = before.joints  # nothing is told apart that was alike before
        return found


def _said(material: Material, one: MaterialHere) -> Material:
    return replace(material, said=one.is_a or material.said, hatch=one.hatch or material.hatch)
