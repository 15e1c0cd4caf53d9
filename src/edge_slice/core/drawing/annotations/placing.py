"""What stands at the edge of a drawing or in it by rule."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.drawing.annotations.callouts import CalloutMark, callout_items, placed_callouts
from edge_slice.core.drawing.annotations.clear_places import Ink, faces_on_paper
from edge_slice.core.drawing.annotations.grid import grid_lines
from edge_slice.core.drawing.annotations.head_room import HeadRoom
from edge_slice.core.drawing.annotations.levels import level_markers
from edge_slice.core.drawing.annotations.markers import Marker, marker_form, placed_markers
from edge_slice.core.drawing.annotations.rooms import cut_room_labels, room_labels
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Box, Item, Link, Pen, PlacedCallout, paths_of
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.model import Model

F64 = NDArray[np.float64]


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
    room: HeadRoom | None,
    callouts: tuple[CalloutMark, ...],
    drawn: list[Item],
    folded: list[Item],
    with_markers: bool,
    fold: Fold,
    standing: Sequence[Box] = (),
) -> Annotated:
    """What stands at the edge of a drawing or in it by rule; it keeps clear of what is `drawn`, before and after the
    drawing is `folded`, and of what annotations take up on the paper (`standing`). Without markers, their places stay
    free."""
    left, base, right, top = (x / spec.scale for x in result.extents)
    frame = (left, base, right, top)
    flat: list[Item] = []
    if spec.grid:
        flat += grid_lines(model, result, cut, spec.scale, standard, pens, frame, spec.grid_ends)
    plan = isinstance(cut, PlanCut)
    markers_drawn, links = placed_markers(markers, spec.scale, standard, pens["marker"], frame, room)
    rings = [np.array(m.ring) * 1000.0 / spec.scale for m in callouts]
    regions = [paths_of("region", [ring], pens["callout"], None, True) for ring in rings]
    findings: list[str] = []
    if spec.rooms if plan else (spec.section_rooms and result.upright):
        label = room_labels if plan else cut_room_labels
        ink = Ink.of([*drawn, *flat, *markers_drawn, *regions], frame)
        for box in standing:
            ink.enter(box)
        texts, findings = label(model, result, spec.scale, standard, ink, spec.written)
        flat += texts
    items, links = fold.items(flat), fold.links(links)
    if result.upright and spec.levels:
        items += level_markers(model, spec.scale, standard, pens, fold, spec.written, spec.level_ends)
    shown = fold.items(markers_drawn)
    form = marker_form(standard)
    placed: list[PlacedCallout] = []
    if callouts:
        faces = faces_on_paper(result.faces, lambda p: fold.points(p / spec.scale))
        faces += [shapely.box(*box) for box in standing]
        taken = [*folded, *items, *shown]
        corner = standard.marker.callouts.corner
        placed = placed_callouts(
            callouts, [fold.points(ring) for ring in rings], form, corner, fold.frame, taken, faces
        )
        called, more = callout_items(callouts, placed, form, pens["callout"], pens["text"])
        shown, links = shown + called, links + more
    return Annotated(items + shown, links, findings, placed) if with_markers else Annotated(items, [], findings, placed)
