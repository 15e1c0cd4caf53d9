"""A drawing while its cut is being moved: what a hand must see at once. The rest comes when it rests."""

from __future__ import annotations

from dataclasses import replace

from edge_slice.core.cut import AnyCut, PlaneCut, SectionCut
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.drawing.spec import AS_IT_IS
from edge_slice.core.project.shown import Shown

LEAST = 1.0  # metres behind the cut that always show


def moving(shown: Shown) -> Shown:
    """The drawing without its hatches and seen surfaces and, of a section, without names of rooms and what lies beyond
    the nearest band of distance; what shows has the pens that it has in the whole drawing."""
    cut, standard = shown.cut, shown.standard
    style = _unhatched(shown.style, standard).model_copy(update={"section_rooms": False})
    return replace(shown, cut=_near(cut, standard), style=style, reach=cut.depth, in_hand=True)


def _near(cut: AnyCut, standard: DrawingStandard) -> AnyCut:
    if not isinstance(cut, (SectionCut, PlaneCut)) or cut.perspective is not None or cut.depth is None:
        return cut
    if isinstance(cut, SectionCut) and any(depth is not None for depth in cut.depths):
        return cut
    near = min(cut.depth, max(LEAST, standard.near_share[0] * cut.depth))
    return cut.model_copy(update={"depth": near})


def _unhatched(style: DrawingSpec, standard: DrawingStandard) -> DrawingSpec:
    style = style.model_copy(update={"appearance": "lines", "surfaces": AS_IT_IS})
    if style.fill != "material" or standard.content_of(style) == "solid":
        return style
    return style.model_copy(update={"fill": "colour"})
