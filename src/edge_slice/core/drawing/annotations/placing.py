"""What stands at the edge of a drawing or in it by rule."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import PlanCut
from edge_slice.core.drawing.annotations.callouts import Paper, callout_items, placed_callouts
from edge_slice.core.drawing.annotations.clear_places import Ink, faces_on_paper
from edge_slice.core.drawing.annotations.grid import grid_lines
from edge_slice.core.drawing.annotations.head_room import HeadRoom
from edge_slice.core.drawing.annotations.levels import level_markers
from edge_slice.core.drawing.annotations.markers import marker_form, placed_markers
from edge_slice.core.drawing.annotations.rooms import cut_room_labels, room_labels
from edge_slice.core.drawing.annotations.surroundings import Surroundings
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Item, Link, PlacedCallout, paths_of
from edge_slice.core.drawing.draft import Draft

F64 = NDArray[np.float64]


@dataclass(frozen=True)
class Annotated:
    """Annotations of a drawing, its links, what has no place, and where markers of callouts stand."""

    items: list[Item]
    links: list[Link]
    findings: list[str]
    callouts: list[PlacedCallout]


def annotate(
    draft: Draft, around: Surroundings, room: HeadRoom | None, drawn: list[Item], folded: list[Item], fold: Fold
) -> Annotated:
    """What stands at the edge of a drawing or in it by rule; it keeps clear of what is `drawn`, before and after the
    drawing is `folded`, and of what stands there already."""
    result, spec, standard, pens, frame = draft.result, draft.spec, draft.standard, draft.pens, draft.frame
    callouts, standing = around.callouts, around.standing
    flat: list[Item] = []
    if spec.grid:
        flat += grid_lines(draft)
    plan = isinstance(draft.cut, PlanCut)
    markers_drawn, links = placed_markers(around.markers, spec.scale, standard, pens["marker"], frame, room)
    rings = [np.array(m.ring) * 1000.0 / spec.scale for m in callouts]
    regions = [paths_of("region", [ring], pens["callout"], None, True) for ring in rings]
    findings: list[str] = []
    if spec.rooms if plan else (spec.section_rooms and result.upright):
        label = room_labels if plan else cut_room_labels
        ink = Ink.of([*drawn, *flat, *markers_drawn, *regions], frame)
        for box in standing:
            ink.enter(box)
        texts, findings = label(draft.model, result, spec.scale, standard, ink, spec.written)
        flat += texts
    items, links = fold.items(flat), fold.links(links)
    if result.upright and spec.levels:
        items += level_markers(draft, fold)
    shown = fold.items(markers_drawn)
    form = marker_form(standard)
    placed: list[PlacedCallout] = []
    if callouts:
        faces = faces_on_paper(result.faces, lambda p: fold.points(p / spec.scale))
        faces += [shapely.box(*box) for box in standing]
        taken = [*folded, *items, *shown]
        corner = standard.marker.callouts.corner
        paper = Paper(fold.frame, taken, faces)
        placed = placed_callouts(callouts, [fold.points(ring) for ring in rings], form, corner, paper)
        called, more = callout_items(callouts, placed, form, pens["callout"], pens["text"])
        shown, links = shown + called, links + more
    if not around.draws_markers:
        shown, links = [], []
    return Annotated(items + shown, links, findings, placed)
