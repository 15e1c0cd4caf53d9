"""Details that look alike: one of them, a typical detail, can stand for the places of all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from edge_slice.core.cut.result import CutResult

SIZE = 25.0  # mm by which the windows of like details may differ
APART = 0.02  # of what both cut may lie elsewhere, or be something else, in the other one
GRID = 0.1  # mm to which shapes are compared


@dataclass(frozen=True)
class CutDetail:
    """What a detail cuts: the width and height of its window, mm, and for each class of material what it covers,
    measured from the lower left of the window."""

    size: tuple[float, float]
    shapes: dict[str, shapely.Geometry]


def cut_detail(result: CutResult, classes: Sequence[str]) -> CutDetail | None:
    """`classes`: of each material, and one more for an unknown one. None of a detail that cuts nothing, or isn't
    upright."""
    if not result.upright or not result.faces or len(result.leaves) != 1:
        return None
    left, base, right, top = result.extents
    parts: dict[str, list[shapely.Geometry]] = {}
    for face in result.faces:
        parts.setdefault(classes[face.material], []).append(face.polygon)
    corner = np.array([left, base])
    shapes = {
        name: shapely.set_precision(shapely.transform(shapely.union_all(of), lambda at: at - corner), GRID)
        for name, of in sorted(parts.items())
    }
    return CutDetail((right - left, top - base), shapes)


def alike(one: CutDetail, other: CutDetail) -> bool:
    """Whether two details cut the same, or one what the other does in a mirror."""
    if np.abs(np.subtract(one.size, other.size)).max() > SIZE or set(one.shapes) != set(other.shapes):
        return False
    return _share_apart(one, other.shapes) <= APART or _share_apart(one, _mirrored(other)) <= APART


def _mirrored(detail: CutDetail) -> dict[str, shapely.Geometry]:
    wide = detail.size[0]

    def turned(at: np.ndarray) -> np.ndarray:
        return np.column_stack((wide - at[:, 0], at[:, 1]))

    return {name: shapely.transform(shape, turned) for name, shape in detail.shapes.items()}


def _share_apart(one: CutDetail, shapes: dict[str, shapely.Geometry]) -> float:
    apart = sum(shapely.symmetric_difference(shape, shapes[name]).area for name, shape in one.shapes.items())
    return float(apart / max(sum(shape.area for shape in one.shapes.values()), 1e-9))
