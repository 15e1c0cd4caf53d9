"""What of the linework a person points at, to touch it up: at a place, in a window, or a stretch of a line."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Any

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.cut.anchors.anchor import Anchor, held_sides
from edge_slice.core.cut.anchors.anchoring import anchor_at
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.cut.anchors.references import LineReference, line_reference
from edge_slice.core.drawing.touching.touch_ups import Act, Finder, TouchedLine, TouchedSide, TouchUp, way_of
from edge_slice.core.drawing.touching.touched_surfaces import TouchedSurface, surface_at

F64 = NDArray[np.float64]
TIE = 2000.0  # mm around a mask in which what it is tied to is looked for
STYLE = ("width", "ink", "dash", "hatch", "tint")
_Mm = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]


class Nowhere(ValueError):
    """It is not said where something is to be touched up; the message says what is missing."""


class Pointed(BaseModel):
    """A touch-up as people point at it: what lies at a place (`at`, within `reach`), in a window (`box`: left, base,
    right, top; whole or touched), a stretch of a line (`at` to `to`), or an area (`ring`); all mm in the drawing.
    `faces`: the cut face at the place rather than a line; another hatch is for the cut face there, or else for the
    surface that is seen. `style`: what of `TouchUp` says how it looks."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    act: Act
    at: tuple[_Mm, _Mm] | None = None
    to: tuple[_Mm, _Mm] | None = None
    reach: Annotated[float, Field(ge=0, le=10_000)] = 1.0
    box: tuple[_Mm, _Mm, _Mm, _Mm] | None = None
    whole: bool = True
    faces: bool = False
    ring: Annotated[tuple[tuple[_Mm, _Mm], ...], Field(max_length=500)] = ()
    style: dict[str, Any] = {}


def touched_up(features: Features, pointed: Pointed) -> TouchUp:
    """What is pointed at as a document. Raises `Nowhere` and pydantic's `ValidationError`."""
    style = {k: v for k, v in pointed.style.items() if k in STYLE}
    if pointed.act == "mask":
        tie = None
        if pointed.ring:
            u, v = (sum(p[k] for p in pointed.ring) / len(pointed.ring) for k in (0, 1))
            tie = anchor_at(features, u, v, TIE, ("corner", "vertex"))
        return TouchUp.model_validate({"act": "mask", "ring": pointed.ring, "tie": tie})
    found = _targets(features, pointed)
    return TouchUp.model_validate(
        {
            "act": pointed.act,
            "lines": found.lines,
            "sides": found.sides,
            "faces": found.faces,
            "surfaces": found.surfaces,
            **style,
        }
    )


def _targets(features: Features, pointed: Pointed) -> Targets:
    if pointed.box is not None:
        left, right = sorted((pointed.box[0], pointed.box[2]))
        base, top = sorted((pointed.box[1], pointed.box[3]))
        box = (left, base, right, top)
        found = targets_in(features, box, pointed.whole, pointed.faces or pointed.act == "hatch")
        if pointed.act == "hide" and not pointed.faces:  # what is hidden takes its fills and hatches along
            found = replace(found, faces=targets_in(features, box, pointed.whole, faces=True).faces)
        return found
    if pointed.at is None:
        raise Nowhere("Say where: a place, a window or an area.")
    if pointed.act == "cut back":
        if pointed.to is None:
            raise Nowhere("Say from where to where the line is cut back.")
        return cut_back_at(features, pointed.at, pointed.to, pointed.reach)
    found = targets_at(features, *pointed.at, pointed.reach, pointed.faces or pointed.act == "hatch")
    if pointed.act == "hatch" and not found.faces:
        surface = surface_at(features.model, features.result, *pointed.at)
        return Targets(surfaces=() if surface is None else (surface,))
    return found


@dataclass(frozen=True)
class Targets:
    """What of the linework a person points at."""

    lines: tuple[TouchedLine, ...] = ()
    sides: tuple[TouchedSide, ...] = ()
    faces: tuple[Anchor, ...] = ()
    surfaces: tuple[TouchedSurface, ...] = ()


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


def targets_in(features: Features, box: tuple[float, float, float, float], whole: bool, faces: bool = False) -> Targets:
    """The lines and sides, or with `faces` the cut faces, in a box (left, base, right, top, mm): of which some, or with
    `whole` all, lies in it."""
    area = shapely.box(*box)
    test = shapely.covers if whole else shapely.intersects
    if faces:
        return Targets(faces=tuple(_faces_in(features, area, test)))
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


def _faces_in(
    features: Features, area: shapely.Polygon, test: Callable[[shapely.Polygon, shapely.Polygon], bool]
) -> Iterator[Anchor]:
    for element in features.cut_elements:
        for face in features.faces(element):
            if test(area, face.polygon):
                middle = face.polygon.representative_point()
                found = anchor_at(features, middle.x, middle.y, 0.5, ("inside",), element)
                if found.to == "inside":
                    yield found


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
