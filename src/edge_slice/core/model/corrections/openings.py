"""Openings of windows and doors, of another size or elsewhere in what they go through."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.documents import OtherOpening
from edge_slice.core.model.corrections.faces import NEAR
from edge_slice.core.model.corrections.fillings import FILLS, HELD_BY
from edge_slice.core.model.corrections.sides import NONE, Body, with_corners
from edge_slice.core.model.corrections.wanted import LEAKS, SAME, Sides, Stretch, Told, Wanted
from edge_slice.core.model.parts.places import Vector

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
GAP = 0.15  # metres that the sides of an opening may lie beside those of the window in it
THICK = 0.6  # metres that the middle of a side may lie before or behind the window
BOARD = 0.3  # metres that what belongs to an opening may stand out beyond the window
BESIDE = ("covering", "accessory", "member", "object", "beam")  # kinds of sills, boards, lintels
DEEP = 0.1  # cosine between a side of an opening and the way that one looks through it
NO_FILLING = "It is no window and no door."
NO_OPENING = "There is no opening around it that goes through a wall."
OUTSIDE = "Its opening would not lie in the wall, or run into another one."
NOTHING_LEFT = "Nothing would be left of it."


def sort_opening(model: Model, one: OtherOpening, wanted: Wanted, say: Told) -> None:
    """Move the sides of an opening, and of the window in it, from where they lie now to where they shall lie."""
    k = say.known(model, one.element)
    if k is None:
        return
    now = sides_of(model, k, one.looks)
    was = now if one.stood is None else one.stood
    left, right, sill, head = (a - b for a, b in zip(was, now, strict=True))
    by = (left + one.left, right + one.right, sill + one.sill, head + one.head)
    other = max(abs(a - b) for a, b in zip(now, was, strict=True)) >= NEAR
    if other and max(map(abs, by)) < NEAR:
        say.already += 1
        return
    why = "" if model.elements[k].kind in FILLS else NO_FILLING
    shall = [a + b for a, b in zip(now, by, strict=True)]
    if not why and (shall[1] - shall[0] < GAP or shall[3] - shall[2] < GAP):
        why = NOTHING_LEFT
    away = model.element_triangles(k).reshape(-1, 3) @ np.array(one.looks)
    deep = float(away.min()), float(away.max())
    opening = Stretch(axes_of(one.looks), _here(model, now, one.looks), by, deep)
    bodies = why or _around(model, k, opening, wanted)
    if isinstance(bodies, str):
        say.refused.append(bodies)
        return
    say.elements += 1
    say.changed += other
    wanted.bodies.update(bodies)
    wanted.openings[k] = opening


def axes_of(looks: Vector) -> F64:
    """To the right, up, and the way one looks: unit vectors (3, 3), a row each. Who looks straight up or down has x to
    the right."""
    way = np.array(looks)
    right = np.cross(way, (0.0, 0.0, 1.0))
    size = float(np.linalg.norm(right))
    right = right / size if size > SAME else np.array((1.0, 0.0, 0.0))
    return np.array((right, np.cross(right, way), way))


def sides_of(model: Model, k: int, looks: Vector) -> Sides:
    """Where the four sides of an element lie, metres as surveyed, seen along a unit vector."""
    points = (model.element_triangles(k).reshape(-1, 3) + np.array(model.origin)) @ axes_of(looks).T
    (left, sill, _), (right, head, _) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return left, right, sill, head


def looks_at(model: Model, k: int) -> Vector | None:
    """The way one looks through a window or door (unit vector): of the axes of its place in the file, or of the model
    and its own on plan, that along which it is thinnest; None where it is none, or has no body."""
    element = model.elements[k]
    if element.kind not in FILLS or not np.isfinite(model.boxes[k]).all():
        return None
    ways = [np.array(way) for way in ((0.0, 1.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))]
    if element.placement is not None:
        x, y = np.array(element.placement.x), np.array(element.placement.y)
        ways = [y, np.cross(x, y), x, *ways]
    points = model.element_triangles(k).reshape(-1, 3)
    if element.placement is None:
        ring = shapely.get_coordinates(shapely.oriented_envelope(shapely.multipoints(points[:, :2])))
        if len(ring) > 3 and (side := float(np.hypot(*(ring[1] - ring[0])))) > SAME:
            across, along = (ring[1] - ring[0]) / side
            ways = [*ways, np.array((across, along, 0.0)), np.array((-along, across, 0.0))]
    x, y, z = min(ways, key=lambda way: round(float(np.ptp(points @ way)), 4)).tolist()
    return x, y, z


def reveals_of(model: Model, k: int, axes: F64, sides: Sides, deep: tuple[float, float]) -> Sides | None:
    """The sides of the opening that a window (its own `sides` and depth) stands in, as its walls have it; None where
    nothing has one around it."""
    low, high = model.boxes[k, 0] - GAP, model.boxes[k, 1] + GAP
    near = (model.boxes[:, 0] <= high).all(axis=1) & (model.boxes[:, 1] >= low).all(axis=1)
    at = Stretch(axes, sides, (0.0, 0.0, 0.0, 0.0), deep)
    for n in np.flatnonzero(near).tolist():
        if model.elements[n].kind in HELD_BY:
            body = Body.of(model, n)
            if len(reveals := _reveals(body, at)):
                found = body.points[reveals] @ axes.T
                (left, sill, _), (right, head, _) = found.min(axis=0).tolist(), found.max(axis=0).tolist()
                return left, right, sill, head
    return None


def _here(model: Model, sides: Sides, looks: Vector) -> Sides:
    """Sides as surveyed, measured as the model is."""
    across, up, _ = (axes_of(looks) @ np.array(model.origin)).tolist()
    left, right, sill, head = sides
    return left - across, right - across, sill - up, head - up


def _around(model: Model, k: int, opening: Stretch, wanted: Wanted) -> dict[int, Body] | str:
    """The bodies of a window and of all that its opening goes through, with its sides moved; or why that can't be."""
    low, high = model.boxes[k, 0] - GAP, model.boxes[k, 1] + GAP
    near = (model.boxes[:, 0] <= high).all(axis=1) & (model.boxes[:, 1] >= low).all(axis=1)
    found: dict[int, Body] = {}
    goes_through = False
    for n in np.flatnonzero(near).tolist():
        kind, body = model.elements[n].kind, wanted.body(model, n)
        if n == k or (kind in BESIDE and _within(body, opening)):
            found[n] = Body(opening.applied(body.points), body.triangles, body.materials)
        elif kind in HELD_BY and len(reveals := _reveals(body, opening)):
            if n in model.leaking:
                return LEAKS
            points = body.points.copy()
            points[reveals] = opening.applied(points[reveals])
            made = with_corners(body, points)
            if made is None:
                return OUTSIDE
            found[n], goes_through = made, True
    return found if goes_through else NO_OPENING


def _within(body: Body, opening: Stretch) -> bool:
    """Whether a body is no larger than an opening, and lies at it: a sill, a lintel, a frame."""
    left, right, sill, head = opening.sides
    at = (body.points @ opening.axes.T)[:, :2]
    low, high = np.array((left, sill)) - BOARD, np.array((right, head)) + BOARD
    return bool(((at > low) & (at < high)).all())


def _reveals(body: Body, opening: Stretch) -> I64:
    """The corners of those sides of a body that look into an opening; none where it is not on both sides of it."""
    axes, (left, right, sill, head) = opening.axes, opening.sides
    middles, normals = body.corners.mean(axis=1) @ axes.T, body.normals @ axes.T
    reach = np.array((GAP, GAP, THICK))
    low, high = np.array((left, sill, opening.deep[0])) - reach, np.array((right, head, opening.deep[1])) + reach
    within = ((middles > low) & (middles < high)).all(axis=1)
    middle = (low + high) / 2
    inwards = np.einsum("ij,ij->i", normals[:, :2], (middle - middles)[:, :2]) > 0
    square = np.abs(normals[:, 2]) < DEEP * np.linalg.norm(normals, axis=1)
    found = within & inwards & square
    upright = np.abs(normals[:, 0]) > np.abs(normals[:, 1])
    aside = middles[found & upright, 0] - middle[0]
    return np.unique(body.triangles[found]) if aside.min(initial=0.0) < 0 < aside.max(initial=0.0) else NONE
