"""A drawing laid over its earlier state: what was there only before, what is new, and what has moved."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut import CutResult
from edge_slice.core.cut.lines.collinear import line_groups
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Box, DisplayList, Item, Label, Paths, Pen, paths_of
from edge_slice.core.drawing.strokes.chains import chained
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.model import Model
from edge_slice.core.model.revisions import ModelChanges

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
REMOVED, ADDED, MOVED = "#a8442a", "#1f6b4f", "#7a5b16"  # ink of what went, came and moved; never by colour alone
REMOVED_DASH, ADDED_WIDTH, REMOVED_WIDTH = (2.4, 1.2), 0.5, 0.35
FAINT = "#b4b8b3"
LEAST = 0.8  # mm on paper of line that must differ before an element is named
SHORT = 0.05  # mm on paper; a shorter piece that differs is none
ROOM = 3.0  # mm around what changed
BEFORE, AFTER = 1, 2


@dataclass(frozen=True)
class Place:
    """A place where a drawing changed: the element, what became of it, and the box around it, mm on paper."""

    guid: str
    name: str
    kind: str
    what: Literal["added", "removed", "moved", "changed", "seen otherwise"]
    box: Box


@dataclass(frozen=True)
class Compared:
    """The drawing as it is now, faint, with what was removed (dashed) and added (heavy) over it; and where."""

    display: DisplayList
    places: tuple[Place, ...]


@njit(cache=True, nogil=True)
def _alone(order: I64, group: I64, t0: F64, t1: F64, state: I64, least: float):  # type: ignore[no-untyped-def]
    """Along every line the stretches where segments of one state alone lie: index of a segment, from, to."""
    index = np.empty(4 * order.shape[0] + 16, np.int64)
    span = np.empty((index.shape[0], 2))
    filled = 0
    first = 0
    while first < order.shape[0]:
        last = first
        while last < order.shape[0] and group[order[last]] == group[order[first]]:
            last += 1
        marks = np.empty(2 * (last - first))
        for k in range(first, last):
            marks[2 * (k - first)], marks[2 * (k - first) + 1] = t0[order[k]], t1[order[k]]
        marks = np.sort(marks)
        for m in range(1, marks.shape[0]):
            if marks[m] - marks[m - 1] < least:
                continue
            middle = (marks[m - 1] + marks[m]) / 2
            one, found = -1, 0
            for k in range(first, last):
                s = order[k]
                if t0[s] > middle:
                    break
                if t1[s] >= middle:
                    found |= state[s]
                    one = s
            if one >= 0 and found != 3 and filled < index.shape[0]:
                index[filled], span[filled, 0], span[filled, 1] = one, marks[m - 1], marks[m]
                filled += 1
        first = last
    return index[:filled], span[:filled]


def _drawn(result: CutResult) -> tuple[F64, list[int]]:
    """All that a cut draws as segments (n, 4), mm of the building, and the element of each."""
    segments, owner = [result.lines.points], [result.lines.element.astype(np.int64)]
    if result.faces:
        polygons = np.array([f.polygon for f in result.faces], dtype=object)
        rings, index = shapely.get_rings(polygons, return_index=True)
        points, ring = shapely.get_coordinates(rings, return_index=True)
        same = ring[1:] == ring[:-1]
        segments.append(np.column_stack((points[:-1], points[1:]))[same])
        element = np.array([f.element for f in result.faces], dtype=np.int64)
        owner.append(element[index[ring[:-1][same]]])
    found = np.concatenate(segments)
    owners = np.concatenate(owner)
    long = np.hypot(found[:, 2] - found[:, 0], found[:, 3] - found[:, 1]) > 1e-3
    return found[long], owners[long].tolist()


def differences(before: CutResult, after: CutResult, least: float) -> tuple[F64, list[int], F64, list[int]]:
    """Stretches (n, 4) of lines that are drawn only before, and only after, each with the element it belongs to in the
    model of its own time; shorter ones than `least` mm are left out."""
    one, owner_one = _drawn(before)
    two, owner_two = _drawn(after)
    pieces, index = stretches_alone(one, two, least)
    owners = np.array([*owner_one, *owner_two], dtype=np.int64)[index]
    old = index < len(one)
    return pieces[old], owners[old].tolist(), pieces[~old], owners[~old].tolist()


def stretches_alone(one: F64, two: F64, least: float) -> tuple[F64, I64]:
    """Stretches (k, 4) where segments of one set (n, 4) lie and none of the other (m, 4) does, longer than `least`; and
    of which segment each is part (k,): those of the second set are counted from n on."""
    segments = np.concatenate((one, two))
    if not len(segments):
        return segments, np.zeros(0, dtype=np.int64)
    state = np.concatenate((np.full(len(one), BEFORE), np.full(len(two), AFTER)))
    group, t0, t1, turned = line_groups(segments)
    order = np.lexsort((t0, group))
    index, span = _alone(order, group, t0, t1, state, least)
    length = np.maximum(t1[index] - t0[index], 1e-9)
    start = turned[index, :2]
    step = (turned[index, 2:] - start) / length[:, None]
    a = start + (span[:, :1] - t0[index][:, None]) * step
    b = start + (span[:, 1:] - t0[index][:, None]) * step
    return np.column_stack((a, b)), index


class CutModel(NamedTuple):
    """A revision of the model, and the drawing's cut of it."""

    model: Model
    result: CutResult


class States(NamedTuple):
    """The same cut, in the same axes, of an earlier revision and of the newer one."""

    before: CutModel
    after: CutModel


def compared(states: States, drawing: DisplayList, changes: ModelChanges, fold: Fold, scale: float) -> Compared:
    """`drawing` is the drawing as it is now."""
    (old_model, before), (new_model, after) = states
    gone, gone_of, came, came_of = differences(before, after, SHORT * scale)
    paper_gone, paper_came = _on_paper(gone, fold, scale), _on_paper(came, fold, scale)
    items: list[Item] = [faint(item) for item in drawing.items]
    if len(gone):
        pen = Pen(REMOVED_WIDTH, REMOVED, REMOVED_DASH)
        items += stroked("removed", [chained(np.round(paper_gone, 4))], pen)
    if len(came):
        items += stroked("added", [chained(np.round(paper_came, 4))], Pen(ADDED_WIDTH, ADDED))
    by_guid: dict[str, list[F64]] = {}
    names: dict[str, tuple[str, str]] = {}
    for model, pieces, owners in ((old_model, paper_gone, gone_of), (new_model, paper_came, came_of)):
        for piece, owner in zip(pieces, owners, strict=True):
            element = model.elements[owner]
            by_guid.setdefault(element.guid, []).append(piece)
            names[element.guid] = element.name, element.kind
    places = []
    what = {c.guid: c for c in changes.elements if c.what != "renamed"}
    for guid, parts in by_guid.items():
        stretch = np.array(parts)
        if float(np.hypot(stretch[:, 2] - stretch[:, 0], stretch[:, 3] - stretch[:, 1]).sum()) < LEAST:
            continue
        change = what.get(guid)
        said = "seen otherwise" if change is None else "moved" if change.how == ("moved",) else change.what
        places.append(Place(guid, *names[guid], said, _around(stretch)))  # type: ignore[arg-type]
        if said == "moved":
            items += _arrow(states, guid, fold, scale)
    return Compared(replace(drawing, items=tuple(items)), tuple(sorted(places, key=_order)))


def _order(place: Place) -> tuple[int, float, float]:
    """Elements that changed themselves first; from the upper left on."""
    return int(place.what == "seen otherwise"), -round(place.box[3], 1), place.box[0]


def faint(item: Item) -> Item:
    if isinstance(item, Label):
        return replace(item, colour=FAINT)
    pen = Pen(item.pen.width, FAINT, item.pen.dash) if item.pen is not None else None
    fill = item.fill
    if fill is not None and fill.lower() != "#ffffff":
        fill = "#f3f3f0"
    return replace(item, pen=pen, fill=fill)


def _on_paper(segments: F64, fold: Fold, scale: float) -> F64:
    return np.asarray(fold.points(segments.reshape(-1, 2) / scale).reshape(-1, 4))


def _around(segments: F64) -> Box:
    points = segments.reshape(-1, 2)
    (x0, y0), (x1, y1) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return x0 - ROOM, y0 - ROOM, x1 + ROOM, y1 + ROOM


def _middle(state: CutModel, guid: str) -> F64 | None:
    """The middle of what is drawn of an element, mm of the building."""
    segments, owners = _drawn(state.result)
    mine = segments[np.array(owners, dtype=np.int64) == state.model.element_by_guid.get(guid, -1)]
    if not len(mine):
        return None
    points = mine.reshape(-1, 2)
    return np.asarray((points.min(axis=0) + points.max(axis=0)) / 2)


def _arrow(states: States, guid: str, fold: Fold, scale: float) -> list[Item]:
    """From where an element was to where it is."""
    start, end = _middle(states.before, guid), _middle(states.after, guid)
    if start is None or end is None:
        return []
    a, b = fold.points(np.array([start, end]) / scale)
    far = float(np.hypot(*(b - a)))
    if far < 1.0:
        return []
    d = (b - a) / far
    n = np.array([-d[1], d[0]])
    head = min(2.5, far / 2)
    tip = np.array([b, b - d * head + n * head / 4, b - d * head - n * head / 4])
    return [
        paths_of("moved", [np.array([a, b])], Pen(0.35, MOVED)),
        paths_of("moved", [tip], None, MOVED, True),
    ]


def revision_regions(places: Sequence[Place]) -> list[Box]:
    """Boxes around places that lie close together, in which marks of a revision are proposed: only those of elements
    that changed themselves."""
    boxes = [shapely.box(*p.box) for p in places if p.what != "seen otherwise"]
    if not boxes:
        return []
    merged = shapely.get_parts(shapely.union_all(boxes)).tolist()
    found = [shapely.box(*g.bounds) for g in merged]
    while True:
        joined = [shapely.box(*g.bounds) for g in shapely.get_parts(shapely.union_all(found)).tolist()]
        if len(joined) == len(found):
            return sorted(((*g.bounds,) for g in joined), key=lambda b: (-b[3], b[0]))
        found = joined


__all__ = ["Compared", "Paths", "Place", "compared", "differences", "faint", "revision_regions", "stretches_alone"]
