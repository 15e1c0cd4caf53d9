"""Lines by which placements are brought level and in line: levels, grid lines, cutting planes, axes of the model."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, BlankCut, ImpossibleCut, PlanCut, SectionCut
from edge_slice.core.cut.planes.leaves import Axes, Window, leaves_of, whole_window
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.rules.standard import BreakRule
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Way = Literal["x", "y"]
Add = Callable[[Way, float, str, str], None]
PARALLEL = 0.9999  # cosine, from which directions are one
STRAIGHT = 0.01  # sine, below which a line runs along a side of the drawing


@dataclass(frozen=True)
class Guide:
    """A line up ("x") or across ("y") a drawing, mm from the lower left corner of its frame. Guides of the same `of` on
    two drawings show the same thing of the building."""

    way: Way
    at: float
    of: str
    says: str


def guides_of(
    model: Model, cut: AnyCut, scale: float, rule: BreakRule, sections: Sequence[tuple[str, SectionCut]] = ()
) -> list[Guide]:
    """The guides of a drawing at its scale; `sections`: letters and cuts of others, whose planes a plan has as guides.
    None of one that can't be cut, is blank, or shows its planes unfolded round corners."""
    planes = _one_plane(model, cut)
    if planes is None:
        return []
    axes, window = planes
    fold = Fold.of(window, cut.extents, scale, rule)
    left, base = window[0] / scale, window[1] / scale
    found: list[Guide] = []

    def add(way: Way, at: float, of: str, says: str) -> None:
        """`at`: mm along the drawing, in the size of the building."""
        low, high = (window[0], window[2]) if way == "x" else (window[1], window[3])
        place = fold.u(at / scale) if way == "x" else fold.v(at / scale)
        if place is not None and low - 1e-6 <= at <= high + 1e-6:
            found.append(Guide(way, round(place - (left if way == "x" else base), 4), of, says))

    upright = abs(float(axes.v[2])) > PARALLEL
    if upright:
        for storey in model.storeys:
            add("y", (storey.elevation - float(axes.origin[2])) * 1000, f"level {storey.guid}", f"level {storey.name}")
    high = float(axes.origin[2])
    for axis in model.grid:
        ends = axes.to_drawing(np.array([(*axis.start, high), (*axis.end, high)]))
        _line(ends, upright, f"grid {axis.name}", add)
    if isinstance(cut, PlanCut):
        for letter, other in sections:
            ends = axes.to_drawing(np.array([(*point, high) for point in (other.line[0], other.line[-1])]))
            _line(ends, False, f"section {letter}", add)
    return found + [
        Guide(way, round(at, 4), f"axis {said} 1:{scale:g}", "in line")
        for way, (said, at) in _origin(axes, window, fold, scale).items()
    ]


def origin_of(model: Model, cut: AnyCut, scale: float, rule: BreakRule) -> dict[Way, tuple[str, float]]:
    """Where the model's origin lies along ("x") and up ("y") a drawing, mm from the lower left corner of its frame,
    with the name of the direction: drawings of one scale whose directions are one are in line when these are. Nothing
    of a drawing that is broken, or in perspective, which has no one such place."""
    planes = _one_plane(model, cut)
    if planes is None or getattr(cut, "perspective", None) is not None:
        return {}
    axes, window = planes
    return _origin(axes, window, Fold.of(window, cut.extents, scale, rule), scale)


def _one_plane(model: Model, cut: AnyCut) -> tuple[Axes, Window] | None:
    """The axes and the window of a drawing that shows planes of one direction."""
    if isinstance(cut, BlankCut):
        return None
    try:
        leaves = leaves_of(model, cut)
    except ImpossibleCut:
        return None
    axes = leaves[0].axes
    if any(float(leaf.axes.u @ axes.u) < PARALLEL for leaf in leaves):
        return None
    return axes, whole_window(leaves)


def _line(ends: F64, upright: bool, name: str, add: Add) -> None:
    """A line of the building (2, 3) on a drawing: up or across a plan, or where an upright drawing sees it end-on."""
    along = np.abs(ends[1] - ends[0]) / max(float(np.linalg.norm(ends[1] - ends[0])), 1e-9)
    if along[0] < STRAIGHT:
        add("x", float(ends[0][0]), name, name)
    elif along[1] < STRAIGHT and not upright:
        add("y", float(ends[0][1]), name, name)


def _origin(axes: Axes, window: Window, fold: Fold, scale: float) -> dict[Way, tuple[str, float]]:
    if fold.folds:
        return {}
    found: dict[Way, tuple[str, float]] = {}
    ways: tuple[tuple[Way, F64, float], ...] = (("x", axes.u, window[0]), ("y", axes.v, window[1]))
    for way, direction, start in ways:
        said = ",".join(f"{x:.3f}" for x in np.round(direction, 3) + 0.0)
        found[way] = said, (-float(axes.origin @ direction) * 1000 - start) / scale
    return found
