"""Extents that hug what a drawing shows."""

from __future__ import annotations

from typing import Literal

import numpy as np
import shapely

from edge_slice.core.cut.pieces import Role
from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.spec import Extents, ImpossibleCut
from edge_slice.core.model import Model

AIR = 0.5  # metres around what is shown
GROUND = 1.0  # metres of ground that show beside and under what stands in it
TIGHT = 0.08  # metres around what a detail is about
Fit = Literal["building", "cut", "seen", "tight"]


def fitted(model: Model, result: CutResult, to: Fit) -> Extents:
    """Extents around the building (every side open), around what is cut, or around all that is seen; with room for
    ground, which is endless by itself. `tight`: drawn in to what is cut, nowhere wider than they are. Raises
    `ImpossibleCut` where there is nothing to fit to."""
    if to == "building":
        return Extents()
    stands = np.array([e.kind not in ("ground", "planting") for e in model.elements], dtype=bool)
    boxes = [np.array(f.polygon.bounds) for f in result.faces if stands[f.element]]
    if to == "seen":
        lines = result.lines
        seen = lines.points[(lines.role == Role.SEEN) & stands[lines.element]].reshape(-1, 2)
        if len(seen):
            boxes.append(np.concatenate((seen.min(axis=0), seen.max(axis=0))))
    if not boxes:
        what = "seen" if to == "seen" else "cut"
        raise ImpossibleCut(f"Nothing of the building is {what} here; there is nothing to fit the extents to.")
    all_boxes = np.array(boxes)
    if to == "tight":
        window = np.array(result.extents) / 1000.0
        left, base = np.maximum(all_boxes[:, :2].min(axis=0) / 1000.0 - TIGHT, window[:2]).round(3).tolist()
        right, top = np.minimum(all_boxes[:, 2:].max(axis=0) / 1000.0 + TIGHT, window[2:]).round(3).tolist()
        return Extents(left=left, base=base, right=right, top=top)
    low, high = all_boxes[:, :2].min(axis=0) / 1000.0 - AIR, all_boxes[:, 2:].max(axis=0) / 1000.0 + AIR
    ground = [f.polygon for f in result.faces if not stands[f.element]]
    if result.upright and ground:
        beside = shapely.box(*(low - GROUND) * 1000.0, *(high + GROUND) * 1000.0)
        near = shapely.intersects(np.array(ground, dtype=object), beside)
        if near.any():
            beyond = np.array([GROUND - AIR, 0.0])
            low, high = low - beyond, high + beyond
    return Extents(
        left=round(float(low[0]), 3), base=round(float(low[1]), 3),
        right=round(float(high[0]), 3), top=round(float(high[1]), 3),
    )  # fmt: skip
