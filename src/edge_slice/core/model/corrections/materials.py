"""Elements, and parts of them, that are to be of another material."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from edge_slice.core.model.building import Material, Model
from edge_slice.core.model.corrections.documents import OtherMaterial
from edge_slice.core.model.corrections.wanted import Told, Wanted
from edge_slice.core.model.merging import Named

LAYERED = "It has layers, which are corrected as layers."
NOT_OF_IT = "Nothing of it is of the material that shall be another one."


def sort_material(model: Model, one: OtherMaterial, wanted: Wanted, say: Told) -> None:
    """Have elements of another material, where a newer file doesn't have them so already."""
    for n, guid in enumerate(one.elements):
        if (k := say.known(model, guid)) is None:
            continue
        now = materials_of(model, k)
        if model.elements[k].build_up >= 0:
            say.refused.append(LAYERED)
        elif one.in_place_of not in (now if one.in_place_of else ("",)):
            if one.material in now:
                say.already += 1
            else:
                say.refused.append(NOT_OF_IT)
        elif now == [one.material]:
            say.already += 1
        else:
            say.elements += 1
            say.changed += bool(one.had) and not one.in_place_of and said_of(now) != one.had[n]
            wanted.materials.append((k, one))


def materials_of(model: Model, k: int) -> list[str]:
    """The names of all materials that an element is of, each once; none where it is of an unknown one alone."""
    numbers = np.unique(model.triangle_materials[model.mesh.of_element(k)]).tolist()
    return sorted({model.materials[n].name for n in numbers if n < len(model.materials)})


def said_of(names: Sequence[str]) -> str:
    """Of what an element is, as a correction remembers it."""
    return ", ".join(names)[:300]


def with_materials(model: Model, wanted: Wanted) -> Model:
    """The model with the materials that are wanted; the same one where none are."""
    if not wanted.materials:
        return model
    named = Named(list(model.materials), list(model.build_ups))
    elements, triangles = list(model.elements), model.mesh.triangle_material.copy()
    for k, one in wanted.materials:
        number = material_number(named, one.material, one.is_a)
        rows, own = model.mesh.of_element(k), elements[k].material
        if not one.in_place_of:
            elements[k], triangles[rows] = replace(elements[k], material=number), -1
            continue
        of_it = [n for n, m in enumerate(model.materials) if m.name == one.in_place_of]
        triangles[rows] = np.where(np.isin(triangles[rows], of_it), number, triangles[rows])
        if own in of_it:
            elements[k] = replace(elements[k], material=number)
    mesh = replace(model.mesh, triangle_material=triangles)
    found = replace(model, mesh=mesh, elements=tuple(elements), materials=tuple(named.materials))
    found.__dict__["boxes"] = model.boxes  # nothing lies elsewhere
    return found


def material_number(named: Named, name: str, is_a: str) -> int:
    """The number of a material among those that there are, or that comes to them."""
    known = next((m for m in named.materials if m.name == name), Material(name, said=is_a))
    return named.number(named.materials, known)
