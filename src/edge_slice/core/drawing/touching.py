"""What of the linework a person points at, to touch it up: at a place, in a window, or a stretch of a line."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.anchoring import anchor_at
from edge_slice.core.cut.anchors import Anchor, held_sides
from edge_slice.core.cut.features import Features
from edge_slice.core.cut.references import LineReference, line_reference
from edge_slice.core.drawing.touch_ups import Finder, TouchedLine, TouchedSide, way_of

F64 = NDArray[np.float64]


@dataclass(frozen=True)
class Targets:
    """What of the linework a person points at."""

    lines: tuple[TouchedLine, ...] = ()
    sides: tuple[TouchedSide, ...] = ()
    faces: tuple[Anchor, ...] = ()


def targets_at(features: Features, u: float, v: float, reach: float, faces: bool) -> Targets:
    """The line or side at a place (mm), the nearest one within `reach`; or, with `faces`, or where there is none, the
    cut face there."""
    at = np.array([u, v])
    if not faces:
        row = _nearest_line(features, at, reach)
        side = anchor_at(features, u, v, reach, ("side",))
        beside = float(np.hypot(*(np.array(side.at) - at))) if side.to == "side" else np.inf
        if side.to == "side" and (row is None or beside <= row[0] + 1e-6):
            return Targets(sides=(TouchedSide(anchor=side),))
        if row is not None:
            return Targets(lines=(_touched_line(features, row[1]),))
    face = anchor_at(features, u, v, reach, ("inside",))
    return Targets(faces=(face,)) if face.to == "inside" else Targets()


def targets_in(features: Features, box: tuple[float, float, float, float], whole: bool) -> Targets:
    """The lines and sides in a box (left, base, right, top, mm): of which some, or with `whole` all, lies in it."""
    area = shapely.box(*box)
    test = shapely.covers if whole else shapely.intersects
    lines = features.result.lines
    drawn = shapely.linestrings(lines.points.reshape(-1, 2, 2)) if len(lines.points) else np.array([], dtype=object)
    rows = np.flatnonzero(test(area, drawn)) if len(drawn) else np.zeros(0, np.int64)
    rows = rows[np.unique(lines.edge[rows], return_index=True)[1]] if len(rows) else rows
    sides: list[TouchedSide] = []
    for element in features.cut_elements:
        ends = features.sides(element).ends
        if not len(ends):
            continue
        for k in np.flatnonzero(test(area, shapely.linestrings(ends.reshape(-1, 2, 2)))):
            middle = (ends[k, :2] + ends[k, 2:]) / 2
            found = anchor_at(features, float(middle[0]), float(middle[1]), 0.5, ("side",), element)
            if found.to == "side":
                sides.append(TouchedSide(anchor=found))
    unique = {s.anchor.model_dump_json(exclude={"at", "world"}): s for s in sides}
    return Targets(tuple(_touched_line(features, int(k)) for k in rows), tuple(unique.values()))


def cut_back_at(features: Features, start: tuple[float, float], end: tuple[float, float], reach: float) -> Targets:
    """The line or side at `start`, with the stretch from there to below `end` to be taken out."""
    at, to = np.array(start), np.array(end)
    found = targets_at(features, *start, reach, faces=False)
    if found.lines:
        finder = Finder(features)
        row = _nearest_line(features, at, reach)
        assert row is not None
        a, b = finder.drawn_edge(row[1])
        d = b - a
        size = max(float(d @ d), 1e-12)
        span = sorted((float((at - a) @ d / size), float((to - a) @ d / size)))
        line = found.lines[0].model_copy(update={"span": (round(span[0], 6), round(span[1], 6))})
        return Targets(lines=(line,))
    if found.sides:
        anchor = found.sides[0].anchor
        _, ends = held_sides(features, anchor)
        d = way_of(ends)
        reach_to = float((to - np.array(anchor.at)) @ d)
        span = sorted((0.0, round(reach_to, 3)))
        return Targets(sides=(TouchedSide(anchor=anchor, span=(span[0], span[1])),))
    return Targets()


def _nearest_line(features: Features, at: F64, reach: float) -> tuple[float, int] | None:
    lines = features.result.lines.points
    if not len(lines):
        return None
    a, d = lines[:, :2], lines[:, 2:] - lines[:, :2]
    share = np.clip(((at - a) * d).sum(axis=1) / np.maximum((d * d).sum(axis=1), 1e-12), 0.0, 1.0)
    away = np.hypot(*(a + d * share[:, None] - at).T)
    k = int(away.argmin())
    return (float(away[k]), k) if away[k] <= reach else None


def _touched_line(features: Features, row: int) -> TouchedLine:
    found: LineReference = line_reference(features.model, features.result, row)
    return TouchedLine(element=found.element, ends=found.ends, at=found.at)
