"""Colours of the building in three dimensions, by the materials of a drawing standard."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.model import Model
from edge_slice.core.solid.form import seen_materials


@dataclass(frozen=True)
class Tint:
    """The colour (#rrggbb) of what elements of a kind show of a material: its index, -1 for an unknown one."""

    kind: str
    material: int
    colour: str


def tints_of(model: Model, standard: DrawingStandard) -> tuple[Tint, ...]:
    """The colours of all that the model shows, each pair of kind and material once."""
    class_of = standard.face_classes(model)
    names, number = np.unique([e.kind for e in model.elements], return_inverse=True)
    owner = model.mesh.triangle_element
    pairs, first = np.unique(np.column_stack((number[owner], seen_materials(model))), axis=0, return_index=True)
    return tuple(
        Tint(str(names[kind]), material, standard.materials[class_of(model.elements[owner[at]], material, -1)].tint)
        for (kind, material), at in zip(pairs.tolist(), first.tolist(), strict=True)
    )
