"""Setting anchors: what an annotation is tied to at a place of a drawing."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.anchors.anchor import (
    SAME,
    Anchor,
    Looked,
    Spot,
    To,
    alike_spots,
    box_corner,
    layer_material,
    on_grid,
    on_side,
    place_now,
    spots_of,
    survey_place,
    triple,
)
from edge_slice.core.cut.anchors.features import Features, Spots
from edge_slice.core.cut.anchors.references import own_frame

F64 = NDArray[np.float64]


def anchor_at(
    features: Features, u: float, v: float, reach: float, only: tuple[To, ...] = (), element: int | None = None
) -> Anchor:
    """What lies at a place of the drawing (mm): a corner of a cut face, a vertex or a side within `reach` mm, else the
    cut face there, else the place itself; of the kinds in `only`, if any are named, and of one element, if it is."""
    at = np.array([u, v])
    for kind in ("corner", "vertex", "side", "inside"):
        if only and kind not in only:
            continue
        found = _FINDERS[kind](features, at, reach, element)
        if found is not None:
            return found
    return point_anchor(features, u, v)


def point_anchor(features: Features, u: float, v: float) -> Anchor:
    """The place itself, wherever the drawing's cut goes."""
    return Anchor(to="point", world=survey_place(features, u, v), at=(u, v))


def level_anchor(features: Features, storey: str, u: float) -> Anchor:
    """A storey's level (GlobalId) at `u` mm along an upright drawing."""
    found = next(s for s in features.model.storeys if s.guid == storey)
    v = found.elevation * 1000.0
    return Anchor(to="level", name=storey, world=survey_place(features, u, v), at=(u, v))


def grid_anchor(features: Features, name: str, u: float, v: float) -> Anchor:
    """The point of a grid line that is nearest to a place of the drawing."""
    at = on_grid(features, name, u, v) or (u, v)
    return Anchor(to="grid", name=name, world=survey_place(features, *at), at=at)


def room_anchor(features: Features, room: str, u: float, v: float) -> Anchor:
    """A room (GlobalId), at a place of the drawing."""
    return Anchor(to="room", name=room, world=survey_place(features, u, v), at=(u, v))


def settled(features: Features, anchor: Anchor, at: Spot) -> Anchor:
    """An anchor that is accepted where it is now, or was given a new place: what it is tied to is found anew there, of
    its own kind if there is one."""
    if anchor.to in ("level", "grid", "room", "point"):
        return anchor.model_copy(update={"world": survey_place(features, *at), "at": at})
    found = anchor_at(features, *at, SAME, (anchor.to,))
    return found if found.to != "point" else anchor_at(features, *at, SAME)


def _nearest(places: F64, at: F64, reach: float) -> int | None:
    if not len(places):
        return None
    away = np.hypot(*(places - at).T)
    best = int(away.argmin())
    return best if away[best] <= reach else None


def _corner_at(features: Features, at: F64, reach: float, element: int | None) -> Anchor | None:
    return _cut_spot(features, "corner", at, reach, element, lambda spots: np.hypot(*(spots.at - at).T))


def _side_at(features: Features, at: F64, reach: float, element: int | None) -> Anchor | None:
    def away(spots: Spots) -> F64:
        ends = spots.ends.reshape(-1, 2, 2)
        near = ((ends.min(axis=1) <= at + reach) & (ends.max(axis=1) >= at - reach)).all(axis=1)
        far = np.full(len(ends), np.inf)
        start, step = ends[near, 0], ends[near, 1] - ends[near, 0]
        share = ((at - start) * step).sum(axis=1) / np.maximum((step * step).sum(axis=1), 1e-12)
        far[near] = np.hypot(*(start + np.clip(share, 0.0, 1.0)[:, None] * step - at).T)
        return far

    return _cut_spot(features, "side", at, reach, element, away)


def _cut_spot(
    features: Features, to: To, at: F64, reach: float, of: int | None, away: Callable[[Spots], F64]
) -> Anchor | None:
    best: tuple[float, int, int] | None = None
    for element in (k for k in features.cut_near(at, reach) if of in (None, k)):
        spots = spots_of(features, to, element)
        if not len(spots.at):
            continue
        far = away(spots)
        k = int(far.argmin())
        if far[k] <= reach and (best is None or far[k] < best[0] - 1e-6):
            best = (float(far[k]), element, k)
    if best is None:
        return None
    _, element, k = best
    spots = spots_of(features, to, element)
    where = spots.at[k] if to == "corner" else on_side(spots.ends[k], at)
    return _spot_anchor(features, to, element, spots, k, where)


def _vertex_at(features: Features, at: F64, reach: float, of: int | None) -> Anchor | None:
    places, element, vertex = features.lit
    if of is not None:
        places, element, vertex = (x[features.lit[1] == of] for x in features.lit)
    k = _nearest(places, at, reach)
    if k is None:
        return None
    spots = features.vertices(int(element[k]))
    origin, axes = own_frame(features.model, int(element[k]))
    own = (features.model.mesh.vertices[int(vertex[k])] - origin) @ axes.T * 1000.0
    row = int(np.linalg.norm(spots.own - own, axis=1).argmin())
    return _spot_anchor(features, "vertex", int(element[k]), spots, row, spots.at[row])


def _inside_at(features: Features, at: F64, reach: float, of: int | None) -> Anchor | None:
    point = shapely.Point(at)
    for element in features.cut_elements if of is None else [of]:
        for face in features.faces(element):
            if face.polygon.covers(point):
                frame = features.frame(element, face)
                own = frame.own(at[None, :])[0]
                return Anchor(
                    to="inside",
                    name=features.model.elements[element].guid,
                    layer=face.layer,
                    material=layer_material(features.model, element, face.layer),
                    own=triple(np.array([*own, 0.0])),
                    place=triple(frame.place, 6),
                    world=survey_place(features, *at.tolist()),
                    at=(round(float(at[0]), 4), round(float(at[1]), 4)),
                )
    return None


_FINDERS = {"corner": _corner_at, "side": _side_at, "vertex": _vertex_at, "inside": _inside_at}


def _spot_anchor(features: Features, to: To, element: int, spots: Spots, k: int, where: F64) -> Anchor:
    model = features.model
    layer, facing = int(spots.layer[k]), int(spots.facing[k])
    alike = alike_spots(features, spots, Looked(to, element, layer, layer_material(model, element, layer), facing))
    order = alike[np.lexsort(np.round(spots.own[alike], 3).T)]
    own = np.zeros(3)
    own[: spots.own.shape[1]] = spots.own[k]
    if to == "vertex":
        world = own_frame(model, element)
        survey = world[0] + own @ world[1] / 1000.0 + np.array(model.origin)
    else:
        survey = features.model_point(*where.tolist()) + np.array(model.origin)
    return Anchor(
        to=to,
        name=model.elements[element].guid,
        layer=layer,
        material=layer_material(model, element, layer),
        facing=facing,
        own=triple(own),
        off=triple(own - box_corner(spots, facing, to)),
        rank=int(np.flatnonzero(order == k)[0]) if (order == k).any() else 0,
        of=len(order),
        place=triple(place_now(features, element), 6),
        world=triple(survey, 6),
        at=(round(float(where[0]), 4), round(float(where[1]), 4)),
    )
