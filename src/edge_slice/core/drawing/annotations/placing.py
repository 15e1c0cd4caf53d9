"""What stands at the edge of a drawing or in it by rule."""

from __future__ import annotations

from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.annotations.grid import grid_lines
from edge_slice.core.drawing.annotations.levels import level_markers
from edge_slice.core.drawing.annotations.markers import Marker, placed_markers
from edge_slice.core.drawing.annotations.rooms import cut_room_labels, room_labels
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
    markers: tuple[Marker, ...],
    drawn: list[Item],
    with_markers: bool,
) -> tuple[list[Item], list[Link], list[str]]:
    """What stands at the edge of a drawing or in it by rule, its links, and findings; `drawn` is what it keeps clear
    of. Without markers, their places stay free."""
    left, base, right, top = (x / spec.scale for x in result.extents)
    frame = (left, base, right, top)
    items: list[Item] = []
    if spec.grid:
        items += grid_lines(model, result, cut, spec.scale, standard, pens, frame, spec.grid_ends)
    if result.upright and spec.levels:
        items += level_markers(model, spec.scale, standard, pens, frame, spec.written, spec.level_ends)
    plan = isinstance(cut, PlanCut)
    shown, links = placed_markers(markers, spec.scale, standard, pens["marker"], frame)
    taken = items + shown
    if with_markers:
        items = taken
    else:
        links = []
    findings: list[str] = []
    if spec.rooms if plan else (spec.section_rooms and result.upright):
        label = room_labels if plan else cut_room_labels
        texts, findings = label(model, result, spec.scale, standard, Ink.of(drawn + taken, frame), spec.written)
        items += texts
    return items, links, findings
