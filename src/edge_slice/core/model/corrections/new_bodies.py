"""What comes beside what the file has: copies of its elements, and bodies that are in no file."""

from __future__ import annotations

import uuid
from dataclasses import replace

import ifcopenshell.guid
import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Model
from edge_slice.core.model.corrections.documents import CopiedElements
from edge_slice.core.model.corrections.faces import NEAR
from edge_slice.core.model.corrections.new_documents import NewBody, NewRun, NewThing
from edge_slice.core.model.corrections.sides import Body, divided
from edge_slice.core.model.corrections.wanted import LEAKS, Copy, Told, Wanted
from edge_slice.core.model.parts.places import Vector, element_at

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
ROUND = 24  # sides of what is round
TIGHT = "It turns nearer to another turn than it is wide."
NAMES = uuid.UUID("6c0c1d4e-5d0b-5a53-9a0e-2f1f1a3f7b11")  # of GlobalIds that are made from others


def sort_copies(model: Model, one: CopiedElements, wanted: Wanted, say: Told) -> None:
    """Put elements there once more, where a newer file doesn't have them so already."""
    for guid in one.elements:
        if (k := say.known(model, guid)) is None:
            continue
        if k in model.leaking:
            say.refused.append(LEAKS)
            continue
        copies = [Copy(k, np.array(by), guid_of_copy(guid, by)) for by in one.copies]
        kind, box = model.elements[k].kind, model.boxes[k]
        missing = [c for c in copies if c.guid not in model.element_by_guid and not _is_there(model, kind, box + c.by)]
        say.elements += bool(missing)
        say.already += not missing
        wanted.copies += missing


def sort_new(model: Model, one: NewThing, wanted: Wanted, say: Told) -> None:
    """Have a body that is in no file, where a newer file doesn't have it after all."""
    body = body_of(model, one)
    if one.body in model.element_by_guid:  # the file has taken it over, and may have made something else of it since
        say.found.append(model.element_by_guid[one.body])
        say.already += 1
        return
    if isinstance(body, str):
        say.refused.append(body)
        return
    if _is_there(model, one.kind, np.array((body.points.min(axis=0), body.points.max(axis=0)))):
        say.already += 1
        return
    say.elements += 1
    wanted.new.append((one, body))


def new_guid() -> str:
    """A GlobalId (ISO 16739) that nothing has yet."""
    return str(ifcopenshell.guid.new())


def guid_of_copy(guid: str, by: Vector) -> str:
    """The GlobalId of a copy, which is always the same for the same one."""
    return str(ifcopenshell.guid.compress(uuid.uuid5(NAMES, f"{guid} {by}").hex))


def body_of(model: Model, one: NewThing) -> Body | str:
    """The body of what is new, in the model's coordinates, all of it of the element's material; or why it has none."""
    if isinstance(one, NewBody):
        return _extruded(model, one)
    assert isinstance(one, NewRun)
    return _swept(np.array(one.path) - np.array(model.origin), _profile(one))


def _profile(one: NewRun) -> F64:
    """The outline (n, 2) of a run, anticlockwise as it comes towards one: to the left of it, and up."""
    half = np.array((one.wide, one.high)) / 2
    if one.round:
        turns = 2 * np.pi * np.arange(ROUND) / ROUND
        return np.column_stack((np.cos(turns), np.sin(turns))) * half
    return np.array([(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)]) * half


def _swept(path: F64, profile: F64) -> Body | str:
    """An outline (m, 2) along a path (n, 3), mitred where that turns; or why that can't be."""
    steps = np.diff(path, axis=0)
    ways = steps / np.linalg.norm(steps, axis=1)[:, None]
    planes = np.vstack((ways[:1], ways[:-1] + ways[1:], ways[-1:]))
    left = np.cross((0.0, 0.0, 1.0), ways[0])
    size = float(np.linalg.norm(left))
    left = left / size if size > NEAR else np.array((1.0, 0.0, 0.0))
    ring = path[0] + profile @ np.vstack((left, np.cross(ways[0], left)))
    rings = [ring]
    for k, way in enumerate(ways):
        normal = planes[k + 1]
        far = ((path[k + 1] - ring) @ normal) / float(way @ normal)
        if far.min() < NEAR:
            return TIGHT
        ring = ring + far[:, None] * way
        rings.append(ring)
    return body_between(rings, profile)


def _extruded(model: Model, one: NewBody) -> Body:
    outline = shapely.Polygon(one.outline)
    ring = np.asarray(shapely.get_coordinates(shapely.orient_polygons(outline).exterior))[:-1]
    x, y = np.array(one.x), np.array(one.y)
    flat = ring @ np.vstack((x, y)) + np.array(one.at) - np.array(model.origin)
    way = np.cross(x, y)
    return body_between([flat + way * one.start, flat + way * one.end], ring)


def body_between(rings: list[F64], outline: F64) -> Body:
    """The body between rings (m, 3) that follow each other, closed at both ends as their outline (m, 2), which is
    anticlockwise as it comes towards one."""
    count = len(outline)
    here = np.arange(count)
    following = np.roll(here, -1)
    side = np.concatenate(
        (
            np.column_stack((here, following, following + count)),
            np.column_stack((here, following + count, here + count)),
        )
    )
    cap, last = divided(shapely.Polygon(outline), outline), count * (len(rings) - 1)
    sides = [side + count * k for k in range(len(rings) - 1)]
    triangles = np.concatenate((cap[:, ::-1], *sides, cap + last))
    return Body(np.concatenate(rings), triangles, np.full(len(triangles), -1, dtype=np.int64))


def copy_of(model: Model, element: Element, copy: Copy) -> Element:
    """An element (as it shall be) as its copy says, in the storey that is as far above its own."""

    def at(point: Vector) -> Vector:
        x, y, z = (np.array(point) + copy.by).tolist()
        return x, y, z

    storey = element.storey
    if storey >= 0 and abs(copy.by[2]) > NEAR:
        shall = model.storeys[storey].elevation + float(copy.by[2])
        storey = storey_at(model, shall)
    return replace(element_at(element, at, lambda way: way), guid=copy.guid, storey=storey, properties=(), content="")


def storey_at(model: Model, height: float) -> int:
    """The storey whose floor is nearest to a height, metres; -1 where there is none."""
    levels = [abs(storey.elevation - height) for storey in model.storeys]
    return levels.index(min(levels)) if levels else -1


def new_element(model: Model, one: NewThing, material: int, body: Body) -> Element:
    """The element of a body that is in no file, in the highest storey whose floor is not above its foot."""
    foot = float(body.points[:, 2].min())
    below = [storey.elevation for storey in model.storeys if storey.elevation <= foot + NEAR]
    storey = storey_at(model, max(below, default=foot))
    return Element(guid=one.body, name=one.name, kind=one.kind, storey=storey, material=material)


def _is_there(model: Model, kind: str, box: F64) -> bool:
    """Whether the model has an element of a kind with a box (2, 3)."""
    with np.errstate(invalid="ignore"):
        same = (np.abs(model.boxes - box) < NEAR).all(axis=(1, 2))
    return any(model.elements[k].kind == kind for k in np.flatnonzero(same).tolist())
