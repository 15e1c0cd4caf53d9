"""Where an annotation is to be tied to the model, as people say it: a place of the drawing, a level, a grid line, a
room; and annotations given so."""

from __future__ import annotations

from typing import Annotated, Any

import shapely
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.annotating.documents import ANNOTATION, AnyAnnotation
from edge_slice.core.cut import PlanCut
from edge_slice.core.cut.anchors.anchor import Anchor, To
from edge_slice.core.cut.anchors.anchoring import anchor_at, grid_anchor, level_anchor, point_anchor, room_anchor
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.cut.spec import AnyCut

Mm = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]
MARGIN = 0.01  # metres under the floor and over the ceiling of a room that still are in it


class NothingThere(ValueError):
    """What a spot names is not in the model; the message says what."""


class Spot(BaseModel):
    """A place of a drawing (mm in its axes) that an annotation is to be tied to: to what lies within `reach` mm of it,
    of the kinds in `only`, if any are named; or to a level or room (GlobalId) or a grid line (name)."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    at: tuple[Mm, Mm]
    reach: Annotated[float, Field(ge=0, le=10_000)] = 1.0
    only: Annotated[tuple[To, ...], Field(max_length=8)] = ()
    level: Annotated[str, Field(max_length=64)] = ""
    grid: Annotated[str, Field(max_length=64)] = ""
    room: Annotated[str, Field(max_length=64)] = ""


def tied(features: Features, spot: Spot) -> Anchor:
    """The anchor of a spot. Raises `NothingThere`."""
    u, v = spot.at
    model = features.model
    if spot.level:
        if not any(s.guid == spot.level for s in model.storeys):
            raise NothingThere("This level is not in the model any more.")
        return level_anchor(features, spot.level, u)
    if spot.grid:
        if not any(a.name == spot.grid for a in model.grid):
            raise NothingThere("This grid line is not in the model any more.")
        return grid_anchor(features, spot.grid, u, v)
    if spot.room:
        if not any(s.guid == spot.room for s in model.spaces):
            raise NothingThere("This room is not in the model any more.")
        return room_anchor(features, spot.room, u, v)
    return point_anchor(features, u, v) if spot.only == ("point",) else anchor_at(features, u, v, spot.reach, spot.only)


def annotation_at(features: Features, cut: AnyCut, spots: list[Spot], document: dict[str, Any]) -> AnyAnnotation:
    """An annotation (its document without anchors) tied to spots. A label names the element that it stands on, or else
    the room about it. Raises `NothingThere` and pydantic's `ValidationError`."""
    anchors = tuple(tied(features, spot) for spot in spots)
    given: dict[str, Any] = {}
    if document.get("kind") == "label":
        if anchors[0].to == "point":
            anchors = (_room_about(features, cut, anchors[0]),)
        given["subject"] = anchors[0].name
        if anchors[0].to == "room" and document.get("says", ["name"]) == ["name"]:
            document = {**document, "says": ["number", "name", "area"]}
    return ANNOTATION.validate_python({**given, **document, "anchors": anchors, "rule": "", "by_hand": False})


def _room_about(features: Features, cut: AnyCut, place: Anchor) -> Anchor:
    """The room about a place of a plan, or the place itself."""
    if not isinstance(cut, PlanCut):
        return place
    x, y, z = features.model_point(*place.at).tolist()
    for space in features.model.spaces:
        inside = space.floor - MARGIN <= z <= space.ceiling + MARGIN and len(space.outline) > 2
        if inside and shapely.Polygon(space.outline).covers(shapely.Point(x, y)):
            return room_anchor(features, space.guid, *place.at)
    return place
