"""Flat faces of bodies pushed and pulled: the faces beside them stay in their planes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.documents import FaceElsewhere
from edge_slice.core.model.corrections.faces import NEAR, PARALLEL
from edge_slice.core.model.corrections.saying import FacePlane
from edge_slice.core.model.corrections.sides import Body, with_corners
from edge_slice.core.model.corrections.wanted import LEAKS, Told, Wanted

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
ALONG = 0.9999  # cosine between two directions that are one
ASIDE = 1.0  # metres from where it lay within which a face that a newer file has elsewhere is the same
FARTHER = 30.0  # times as far as a face is moved its corners may move
NO_FACE = "It has no such face any more."
THROUGH = "It would go through its own body."
BESIDE = "The faces beside it can't stay in their planes."
OF_LAYERS = "It is the face of its layers, which are corrected as layers."


def sort_face(model: Model, one: FaceElsewhere, wanted: Wanted, say: Told) -> None:
    """Move a face from where it lies now to where it shall lie."""
    k = say.known(model, one.element)
    if k is None:
        return
    if k in model.leaking:
        say.refused.append(LEAKS)
        return
    body, to = wanted.body(model, k), plane_here(model, one.to)
    found, at = face_of(body, *plane_here(model, one.face))
    if not at and len(_in_plane(body, *to)):
        say.already += 1
        return
    why = NO_FACE if not len(found) else OF_LAYERS if of_layers(model, k, plane_here(model, one.face)[0]) else ""
    pushed = why or pushed_to(body, found, *to)
    if isinstance(pushed, str):
        say.refused.append(pushed)
        return
    say.elements += 1
    say.changed += not at
    wanted.bodies[k] = pushed


def face_of(body: Body, looks: F64, at: float) -> tuple[I64, bool]:
    """The triangles of the face of a body that looks along a unit vector and lies `at` metres along it, and whether it
    does; else of the nearest one that looks so, which may be none."""
    if len(found := _in_plane(body, looks, at)):
        return found, True
    facing = _facing(body, looks)
    if not len(facing):
        return facing, False
    offsets = (body.corners[facing] @ looks).mean(axis=1)
    nearest = offsets[np.abs(offsets - at).argmin()]
    return (_in_plane(body, looks, float(nearest)) if abs(nearest - at) <= ASIDE else facing[:0]), False


def pushed_to(body: Body, face: I64, looks: F64, at: float) -> Body | str:
    """A body with a face (of these triangles) in another plane, or why that can't be."""
    rest = np.ones(len(body.triangles), dtype=bool)
    rest[face] = False
    normals = body.normals
    size = np.linalg.norm(normals, axis=1)
    units = normals / np.maximum(size, 1e-300)[:, None]
    points = body.points.copy()
    for v in np.unique(body.triangles[face]).tolist():
        beside = units[rest & (body.triangles == v).any(axis=1) & (size > 0)]
        far = at - float(body.points[v] @ looks)
        rows = np.vstack((looks, beside))
        shall = np.concatenate(([far], np.zeros(len(beside))))
        step = np.linalg.lstsq(rows, shall, rcond=1e-9)[0]
        if np.abs(rows @ step - shall).max() > 1e-6 or np.linalg.norm(step) > FARTHER * abs(far) + NEAR:
            return BESIDE
        points[v] += step
    return with_corners(body, points, face) or THROUGH


def plane_here(model: Model, plane: FacePlane) -> tuple[F64, float]:
    """A plane as surveyed, measured as the model is."""
    looks = np.array(plane.looks)
    return looks, plane.at - float(looks @ np.array(model.origin))


def _facing(body: Body, looks: F64) -> I64:
    normals = body.normals
    return np.flatnonzero(normals @ looks > ALONG * np.linalg.norm(normals, axis=1))


def _in_plane(body: Body, looks: F64, at: float) -> I64:
    facing = _facing(body, looks)
    near = np.abs(body.corners[facing] @ looks - at) <= NEAR
    return facing[near.all(axis=1)]


def of_layers(model: Model, k: int, looks: F64) -> bool:
    """Whether a face of an element that looks along a unit vector is one of its layers: these are corrected as such."""
    element = model.elements[k]
    if element.frame is None or element.build_up < 0:
        return False
    if element.frame.radius > 0:
        return bool(abs(looks[2]) < PARALLEL)
    return bool(abs(looks @ np.array(element.frame.direction)) > PARALLEL)
