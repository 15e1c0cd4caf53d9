"""Anchors: what an annotation is tied to in the model. After a change of the model each is found again, exactly; or
near, where its feature has moved or changed, and says so; or it is lost, and stays where it was."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, NamedTuple

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.cut.anchors.features import Features, Spots
from edge_slice.core.cut.anchors.references import own_frame
from edge_slice.core.cut.pieces import CutFace
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
State = Literal["exact", "near", "lost"]
To = Literal["corner", "side", "vertex", "inside", "level", "grid", "room", "point"]
SAME = 0.5  # mm; what moved by less has not moved
NEAR = 100.0  # mm; how far the like feature that is taken for one may lie from where that was
NEARER = 1e-7  # of how far away a side is: of those in one line, which openings part, the nearest is the one
CLEAR = 2.0  # times further away must every other one be
FAR = 2000.0  # mm; how far the only like feature may have moved
_Mm = Annotated[float, Field(allow_inf_nan=False, ge=-1e9, le=1e9)]
Spot = tuple[_Mm, _Mm]
Triple = tuple[_Mm, _Mm, _Mm]


class Anchor(BaseModel):
    """`name` is the GlobalId of the element, storey or room, or the name of a grid line. Of a feature of an element:
    the layer and its material, which way it faces, where it is in the element's own frame (`own`, mm), and from the
    corner of what is seen of the element that lies that way (`off`, mm), the how manieth of how many alike it is
    (`rank`, `of`), and where the frame stood (`place`). `world` (metres, survey) and `at` (mm in the drawing) say where
    it was last."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    to: To = "point"
    name: Annotated[str, Field(max_length=64)] = ""
    layer: Annotated[int, Field(ge=-1, le=10_000)] = -1
    material: Annotated[str, Field(max_length=300)] = ""
    facing: Annotated[int, Field(ge=0, le=360)] = 0
    own: Triple = (0.0, 0.0, 0.0)
    off: Triple = (0.0, 0.0, 0.0)
    rank: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    of: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    place: Triple = (0.0, 0.0, 0.0)
    world: Triple = (0.0, 0.0, 0.0)
    at: Spot = (0.0, 0.0)


@dataclass(frozen=True)
class Held:
    """Where an anchor is now, mm in the drawing; of a lost one where it was, and the likeliest new place, if any."""

    state: State
    at: Spot
    guess: Spot | None = None


def held(features: Features, anchor: Anchor) -> Held:
    """Where an anchor is now."""
    model = features.model
    if anchor.to == "point":
        return Held("exact", from_survey(features, anchor.world))
    if anchor.to == "level":
        return _held_level(features, anchor)
    if anchor.to == "grid":
        at = on_grid(features, anchor.name, *from_survey(features, anchor.world))
        return _lost(features, anchor) if at is None else _moved_or_not(features, anchor, at)
    if anchor.to == "room":
        return _held_room(features, anchor)
    element = model.element_by_guid.get(anchor.name, -1)
    if element < 0:
        return _lost(features, anchor)
    if anchor.to == "inside":
        return _held_inside(features, anchor, element)
    return _held_spot(features, anchor, element)


def held_sides(features: Features, anchor: Anchor) -> tuple[Held, F64]:
    """Where a side is now, and all stretches (n, 4) of it, mm in the drawing."""
    now = held(features, anchor)
    element = features.model.element_by_guid.get(anchor.name, -1)
    if now.state == "lost" or element < 0:
        return now, np.zeros((0, 4))
    spots = features.sides(element)
    alike = alike_spots(features, spots, Looked("side", element, anchor.layer, anchor.material, anchor.facing))
    ends = spots.ends[alike]
    along = ends[:, 2:] - ends[:, :2]
    away = np.array(now.at) - ends[:, :2]
    off = np.abs(along[:, 0] * away[:, 1] - along[:, 1] * away[:, 0]) / np.hypot(along[:, 0], along[:, 1])
    return now, ends[off <= SAME]


def survey_place(features: Features, u: float, v: float) -> Triple:
    return triple(features.model_point(u, v) + np.array(features.model.origin), 6)


def from_survey(features: Features, world: Triple) -> Spot:
    point = np.array(world) - np.array(features.model.origin)
    u, v = np.round(features.drawn(point[None, :])[0], 4).tolist()
    return u, v


def triple(values: F64, digits: int = 3) -> Triple:
    x, y, z = (np.round(values, digits) + 0.0).tolist()
    return x, y, z


def _lost(features: Features, anchor: Anchor, guess: Spot | None = None) -> Held:
    return Held("lost", from_survey(features, anchor.world), guess)


def _moved_or_not(features: Features, anchor: Anchor, at: Spot) -> Held:
    before = from_survey(features, anchor.world)
    return Held("exact" if np.hypot(at[0] - before[0], at[1] - before[1]) <= SAME else "near", at)


def moved_alike(features: Features, anchors: Sequence[Anchor], now: Sequence[Held]) -> Triple | None:
    """By how much anchors moved in the model, as far as the drawing shows it, whole mm, where all did by one and the
    same; None where some did not, or are lost."""
    if not anchors or any(h.state == "lost" for h in now):
        return None
    before = np.array([from_survey(features, anchor.world) for anchor in anchors])
    shifts = np.array([h.at for h in now]) - before
    if np.abs(shifts - shifts[0]).max() > SAME:
        return None
    leaves = features.result.leaves
    axes = next((leaf.axes for leaf in leaves if leaf.window[0] <= before[0, 0] <= leaf.window[2]), leaves[0].axes)
    return triple(np.rint(shifts[0, 0] * axes.u + shifts[0, 1] * axes.v), 0)


def _held_level(features: Features, anchor: Anchor) -> Held:
    storey = next((s for s in features.model.storeys if s.guid == anchor.name), None)
    if storey is None:
        return _lost(features, anchor)
    u, _ = from_survey(features, anchor.world)
    return _moved_or_not(features, anchor, (u, storey.elevation * 1000.0))


def _held_room(features: Features, anchor: Anchor) -> Held:
    """A place in a room; where it does not lie in the room any more, the room's middle, which is near."""
    space = next((s for s in features.model.spaces if s.guid == anchor.name), None)
    if space is None:
        return _lost(features, anchor)
    x, y, z = (np.array(anchor.world) - np.array(features.model.origin)).tolist()
    outline = shapely.Polygon(space.outline) if len(space.outline) > 2 else shapely.Polygon()
    if outline.is_empty or outline.covers(shapely.Point(x, y)):
        return Held("exact", from_survey(features, anchor.world))
    middle = outline.representative_point()
    u, v = features.drawn(np.array([[middle.x, middle.y, z]]))[0].round(4).tolist()
    return Held("near", (u, v))


def on_grid(features: Features, name: str, u: float, v: float) -> Spot | None:
    axis = next((a for a in features.model.grid if a.name == name), None)
    if axis is None:
        return None
    axes = features.result.leaves[0].axes
    if abs(axes.w[2]) > 0.7:  # a plan
        ends = axes.to_drawing(np.array([(*axis.start, 0.0), (*axis.end, 0.0)]))[:, :2]
        line = shapely.LineString(ends)
        near = line.interpolate(line.project(shapely.Point(u, v)))
        return round(near.x, 4), round(near.y, 4)
    (x0, y0), (x1, y1) = axis.start, axis.end
    d, n = np.array([x1 - x0, y1 - y0]), axes.w[:2]
    if abs(d @ n) < 1e-9:
        return None
    share = float((axes.origin[:2] - np.array([x0, y0])) @ n / (d @ n))
    at = np.array([x0, y0]) + share * d
    return round(float((at - axes.origin[:2]) @ axes.u[:2] * 1000.0), 4), v


# --- features of elements ---------------------------------------------------------------------------------------------


def spots_of(features: Features, to: str, element: int) -> Spots:
    if to == "vertex":
        return features.vertices(element)
    return features.corners(element) if to == "corner" else features.sides(element)


def layer_material(model: Model, element: int, layer: int) -> str:
    build_up = model.elements[element].build_up
    if layer < 0 or build_up < 0:
        return ""
    return model.materials[model.build_ups[build_up].layers[layer].material].name[:300]


def box_corner(spots: Spots, facing: int, to: str) -> F64:
    """The corner (3,) of the box around all features of an element, in its own frame, that lies where one faces."""
    found = np.zeros(3)
    if to == "side":
        same = spots.facing == facing
        found[0] = spots.own[same, 0].max() if same.any() else 0.0
        return found
    low, high = spots.own.min(axis=0), spots.own.max(axis=0)
    bits = [(facing >> k) & 1 for k in range(spots.own.shape[1])]
    found[: len(bits)] = np.where(bits, high, low)
    return found


class Looked(NamedTuple):
    """What a feature is looked for by: corner, side or vertex, its element, layer and material, where it faces."""

    to: str
    element: int
    layer: int
    material: str
    facing: int


def alike_spots(features: Features, spots: Spots, wanted: Looked) -> I64:
    """The features of an element that could be one: facing that way, of that layer; where the build-up is another one,
    of a layer of the same material, or of the same place in as many layers."""
    to, element, layer, material, facing = wanted
    if to == "side":
        turn = np.abs((spots.facing - facing + 180) % 360 - 180)
        facing_that = turn <= 1
    else:
        facing_that = spots.facing == facing
    if to == "vertex" or not len(spots.at):
        return np.flatnonzero(facing_that)
    names = {k: layer_material(features.model, element, k) for k in sorted(set(spots.layer.tolist()))}
    same_layer = spots.layer == layer
    same_material = np.array([names[k] == material for k in spots.layer.tolist()], dtype=bool)
    for those in (facing_that & same_layer & same_material, facing_that & same_material):
        if those.any():
            return np.flatnonzero(those)
    return np.zeros(0, np.int64)


def _held_spot(features: Features, anchor: Anchor, element: int) -> Held:
    spots = spots_of(features, anchor.to, element)
    alike = alike_spots(features, spots, Looked(anchor.to, element, anchor.layer, anchor.material, anchor.facing))
    if not len(alike):
        return _lost(features, anchor)
    width = spots.own.shape[1]
    own, wanted = spots.own[alike], np.array(anchor.own[:width])
    before = np.array(from_survey(features, anchor.world))
    if anchor.to == "side":
        away_world = _side_offsets(spots.ends[alike], before)
    else:
        away_world = np.hypot(*(spots.at[alike] - before).T)
    away_own = np.linalg.norm(own - wanted, axis=1)
    if anchor.to == "side":
        away_own = away_own + NEARER * away_world
    off = np.array(anchor.off[:width])
    corner = box_corner(spots, anchor.facing, anchor.to)[:width]
    away_off = np.linalg.norm(own - corner - off, axis=1)
    stood = _stands(features, element, anchor)
    picked = _picked(away_world, away_own, away_off, stood, anchor, own)
    if picked is None:
        best = int(away_own.argmin())
        at = _spot_place(spots, int(alike[best]), anchor, before)
        return _lost(features, anchor, at)
    state, row = picked
    if state == "exact" and anchor.to != "side" and away_world[row] > SAME and not _cut_moved(features, anchor):
        state = "near"
    return Held(state, _spot_place(spots, int(alike[row]), anchor, before))


def _cut_moved(features: Features, anchor: Anchor) -> bool:
    """Whether the plane of the cut went away from where an anchor was set in it."""
    point = np.array(anchor.world) - np.array(features.model.origin)
    return anchor.to != "vertex" and all(
        abs(leaf.axes.to_drawing(point[None, :])[0, 2]) > SAME for leaf in features.result.leaves
    )


def place_now(features: Features, element: int) -> F64:
    return np.asarray(own_frame(features.model, element)[0] + np.array(features.model.origin))


def _stands(features: Features, element: int, anchor: Anchor) -> bool:
    """Whether an element's frame stands where it stood."""
    return bool(np.linalg.norm(place_now(features, element) - np.array(anchor.place)) * 1000.0 <= SAME)


def _picked(world: F64, own: F64, off: F64, stood: bool, anchor: Anchor, places: F64) -> tuple[State, int] | None:
    """Which of the like features (n,) one is, by how far each is from where it was: in the building, in the own frame,
    and from the corner of the element."""
    row = int(own.argmin())
    same_own, same_world = own[row] <= SAME, world.min() <= SAME
    if same_own and stood:
        return "exact", row
    if same_own and (not same_world or int(world.argmin()) == row or _as_large(off, row)):
        return "near", row  # moved with its element
    if same_world:
        return "exact", int(world.argmin())  # the element grew elsewhere, and its frame with it
    if same_own:
        return "near", row
    fits = np.flatnonzero(off <= SAME)
    if len(fits) == 1:
        return "near", int(fits[0])
    order = np.argsort(own, kind="stable")
    if own[order[0]] <= NEAR and (len(order) == 1 or own[order[1]] >= CLEAR * own[order[0]]):
        return "near", int(order[0])
    if len(own) == anchor.of and anchor.of > 0:
        ranked = np.lexsort(np.round(places, 3).T)
        row = int(ranked[anchor.rank]) if anchor.rank < len(ranked) else -1
        if row >= 0 and own[row] <= FAR and (len(own) == 1 or row == int(order[0])):
            return "near", row
    return None


def _as_large(off: F64, row: int) -> bool:
    """Whether one feature lies from the element's corner as it did: the element is as large as it was."""
    return bool(off[row] <= SAME)


def _side_offsets(ends: F64, at: F64) -> F64:
    """How far a point (2,) lies from the lines of sides (n, 4), and from the sides themselves where it lies beside
    their ends."""
    return np.asarray(shapely.distance(shapely.linestrings(ends.reshape(-1, 2, 2)), shapely.Point(at)))


def on_side(ends: F64, at: F64) -> F64:
    line = shapely.LineString(ends.reshape(2, 2))
    near = line.interpolate(line.project(shapely.Point(at)))
    return np.array([near.x, near.y])


def _spot_place(spots: Spots, row: int, anchor: Anchor, before: F64) -> Spot:
    at = spots.at[row] if anchor.to != "side" else on_side(spots.ends[row], before)
    return round(float(at[0]), 4), round(float(at[1]), 4)


def _held_inside(features: Features, anchor: Anchor, element: int) -> Held:
    faces = [f for f in features.faces(element) if layer_material(features.model, element, f.layer) == anchor.material]
    faces = [f for f in faces if f.layer == anchor.layer] or faces
    if not faces:
        return _lost(features, anchor)
    before = np.array(from_survey(features, anchor.world))
    if _stands(features, element, anchor) and any(f.polygon.covers(shapely.Point(before)) for f in faces):
        return Held("exact", (float(before[0]), float(before[1])))
    wanted = [(f, features.frame(element, f).drawn(np.array([anchor.own[:2]]))[0]) for f in faces]
    return Held("near", _into(min(wanted, key=lambda row: row[0].polygon.distance(shapely.Point(row[1])))))


def _into(found: tuple[CutFace, F64]) -> Spot:
    """A place, or the nearest one of a face where it lies outside of it."""
    face, at = found
    point = shapely.Point(at)
    if not face.polygon.covers(point):
        inner = face.polygon.buffer(-1.0)
        point = shapely.ops.nearest_points(inner if not inner.is_empty else face.polygon, point)[0]
    return round(point.x, 4), round(point.y, 4)
