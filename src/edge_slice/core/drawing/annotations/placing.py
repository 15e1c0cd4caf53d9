"""What stands at the edge of a drawing or in it by rule."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.drawing.annotations.callouts import CalloutMark, callout_items, placed_callouts
from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.annotations.grid import grid_lines
from edge_slice.core.drawing.annotations.levels import level_markers
from edge_slice.core.drawing.annotations.markers import Marker, marker_form, placed_markers
from edge_slice.core.drawing.annotations.rooms import cut_room_labels, room_labels
from edge_slice.core.drawing.display import Item, Link, Pen, PlacedCallout
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.drawing.standard import DrawingStandard
from edge_slice.core.model import Model


@dataclass(frozen=True)
class Annotated:
    """Annotations of a drawing, its links, what has no place, and where markers of callouts stand."""

    items: list[Item]
    links: list[Link]
    findings: list[str]
    callouts: list[PlacedCallout]


def annotate(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    spec: DrawingSpec,
    standard: DrawingStandard,
    pens: dict[str, Pen],
    markers: tuple[Marker, ...],
    callouts: tuple[CalloutMark, ...],
    drawn: list[Item],
    with_markers: bool,
) -> Annotated:
    """What stands at the edge of a drawing or in it by rule; `drawn` is what it keeps clear of. Without markers, their
    places stay free."""
    left, base, right, top = (x / spec.scale for x in result.extents)
    frame = (left, base, right, top)
    items: list[Item] = []
    if spec.grid:
        items += grid_lines(model, result, cut, spec.scale, standard, pens, frame, spec.grid_ends)
    if result.upright and spec.levels:
        items += level_markers(model, spec.scale, standard, pens, frame, spec.written, spec.level_ends)
    plan = isinstance(cut, PlanCut)
    shown, links = placed_markers(markers, spec.scale, standard, pens["marker"], frame)
    faces = [shapely.transform(f.polygon, lambda p: p / spec.scale) for f in result.faces] if callouts else []
    form = marker_form(standard)
    placed = placed_callouts(
        callouts, spec.scale, form, standard.marker.callouts.corner, frame, drawn + items + shown, faces
    )
    called, more = callout_items(callouts, placed, form, pens["callout"], pens["text"])
    shown, links = shown + called, links + more
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
    return Annotated(items, links, findings, placed)
