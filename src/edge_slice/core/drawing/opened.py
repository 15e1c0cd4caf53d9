"""Cut faces of an opened view: drawn in their own plane as a section there would be, and seen as the view shows it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import CutLines, CutResult, Leaf
from edge_slice.core.cut.opened.standing import SeenFaces
from edge_slice.core.drawing.breaks.cropping import cropped
from edge_slice.core.drawing.display import Item, Paths
from edge_slice.core.drawing.draft import Draft

F64 = NDArray[np.float64]
AIR = 1000.0  # mm round the faces: nothing of them lies on a frame
BORDER = 0.02  # mm on paper by which what is seen is widened, so that lines along its border are drawn

Faces = Callable[[Draft], tuple[list[Item], list[str]]]


def opened_items(draft: Draft, faces: Faces) -> tuple[list[Item], list[str]]:
    """What is seen of all standing faces, and findings of hatches; `faces` draws those of a cut in one plane."""
    items: list[Item] = []
    findings: list[str] = []
    for one in draft.result.standing:
        away = draft.scale * one.smaller  # hatches are as wide on paper as at the scale that they have there
        own = draft.spec.model_copy(update={"scale": away})
        drawn, coarse = faces(replace(draft, result=_flat(one), spec=own))
        items += _as_seen(drawn, one, (away, draft.scale))
        findings += coarse
    return items, list(dict.fromkeys(findings))


def _flat(one: SeenFaces) -> CutResult:
    """The faces as the cut that they would be in their own plane."""
    left, base, right, top = one.standing.shape.bounds
    window = (left - AIR, base - AIR, right + AIR, top + AIR)
    leaf = Leaf(one.standing.axes, window, 0.0)
    return CutResult((leaf,), window, one.standing.faces, CutLines.empty())


def _as_seen(items: list[Item], one: SeenFaces, scales: tuple[float, float]) -> list[Item]:
    """Items on the paper of the faces as the view shows them, without what is hidden; scales of both."""
    away, scale = scales
    moved = [
        replace(item, points=one.to_drawing(item.points * away) / scale, pattern=None)
        for item in items
        if isinstance(item, Paths) and len(item.points)
    ]
    seen = shapely.transform(one.seen, lambda at: at / scale)
    return cropped(moved, shapely.buffer(seen, BORDER, join_style="mitre"))
