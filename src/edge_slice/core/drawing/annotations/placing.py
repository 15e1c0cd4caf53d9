"""What stands at the edge of a drawing or in it by rule."""

from __future__ import annotations

from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.drawing.annotations.grid import grid_lines
from edge_slice.core.drawing.annotations.levels import level_markers
from edge_slice.core.drawing.annotations.markers import SectionMarker, section_marker
from edge_slice.core.drawing.annotations.rooms import room_labels
from edge_slice.core.drawing.display import Item, Link, Pen
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.model import Model


def annotate(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    spec: DrawingSpec,
    standard: DrawingStandard,
    pens: dict[str, Pen],
    markers: tuple[SectionMarker, ...],
) -> tuple[list[Item], list[Link]]:
    frame = tuple(x / spec.scale for x in result.extents)
    items: list[Item] = []
    links: list[Link] = []
    if spec.grid:
        items += grid_lines(model, result, cut, spec.scale, standard, pens, frame)
    if result.upright and spec.levels:
        items += level_markers(model, spec.scale, standard, pens, frame)
    if not isinstance(cut, PlanCut):
        return items, links
    if spec.rooms:
        items += room_labels(model, result, spec.scale, standard)
    for marker in markers:
        drawn, boxes = section_marker(marker, spec.scale, standard, pens["marker"], frame)
        items += drawn
        links += boxes
    return items, links
