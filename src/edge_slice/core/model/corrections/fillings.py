"""What stands in the openings of elements, and goes where they go."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from edge_slice.core.model.building import Model

FILLS = ("window", "door")
HELD_BY = ("wall", "roof", "slab", "plate", "covering")
BESIDE = 0.1  # metres that the middle of a window may lie beside its wall


def with_fillings(model: Model, elements: Sequence[str]) -> tuple[str, ...]:
    """Elements (GlobalIds), and after them the windows and doors whose middle lies in one of them."""
    known = [model.element_by_guid[guid] for guid in elements if guid in model.element_by_guid]
    holders = [k for k in known if model.elements[k].kind in HELD_BY]
    fills = [k for k, e in enumerate(model.elements) if e.kind in FILLS and np.isfinite(model.boxes[k]).all()]
    if not holders or not fills:
        return tuple(elements)
    middles = model.boxes[fills].mean(axis=1)
    stands = np.zeros(len(fills), dtype=bool)
    for k in holders:
        low, high = model.boxes[k, :, 2]
        on_plan = shapely.dwithin(model.footprint(k), shapely.points(middles[:, :2]), BESIDE)
        stands |= on_plan & (middles[:, 2] > low) & (middles[:, 2] < high)
    found = [model.elements[k].guid for k, in_it in zip(fills, stands.tolist(), strict=True) if in_it]
    return (*elements, *(guid for guid in found if guid not in elements))
