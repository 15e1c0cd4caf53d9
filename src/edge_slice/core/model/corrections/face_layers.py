"""Layers on faces of what the file has: they go where the face goes, and round what is cut out of it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.corners import body_as_wanted
from edge_slice.core.model.corrections.documents import Correction, FaceElsewhere
from edge_slice.core.model.corrections.new_documents import NewLayer
from edge_slice.core.model.corrections.pushing import NO_FACE, face_of, plane_here
from edge_slice.core.model.corrections.sides import Body
from edge_slice.core.model.corrections.wanted import Told, Wanted

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]


def sort_face_layer(
    model: Model, one: NewLayer, others: Sequence[Correction], wanted: Wanted, vertices: F64, say: Told
) -> None:
    """Have a layer on a face, wherever other corrections have that. `vertices`: those of the model in the end."""
    if one.body in model.element_by_guid:  # the file has taken it over
        say.found.append(model.element_by_guid[one.body])
        say.already += 1
        return
    k = say.known(model, one.element)
    if k is None:
        return
    looks, at = plane_here(model, one.on)
    there, as_said = face_of(Body.of(model, k), looks, at)
    on_it = (o for o in others if isinstance(o, FaceElsewhere) and o.element == one.element)
    moved = next((o.to for o in on_it if o.face == one.on), None)
    if moved is not None:
        looks, at = plane_here(model, moved)
    if (motion := wanted.moved.get(k)) is not None:
        looks = motion.turn @ looks
        at += float(looks @ motion.shift)
    body = body_as_wanted(model, wanted, k, vertices)
    found, _ = face_of(body, looks, at)
    if not len(there) or not len(found):
        say.refused.append(NO_FACE)
        return
    say.elements += 1
    say.changed += not as_said
    wanted.new.append((one, layer_on(body, found, looks * one.thickness)))


def layer_on(body: Body, face: I64, thick: F64) -> Body:
    """The body between a face (these triangles of a body) and where it comes when it is moved by (3,) metres."""
    own, inverse = np.unique(body.triangles[face], return_inverse=True)
    triangles, count = inverse.reshape(-1, 3).astype(np.int64), len(own)
    edges = np.concatenate((triangles[:, :2], triangles[:, 1:], triangles[:, [2, 0]]))
    known = {(a, b) for a, b in edges.tolist()}
    a, b = np.array([(a, b) for a, b in edges.tolist() if (b, a) not in known], dtype=np.int64).T
    sides = np.concatenate((np.column_stack((a, b, b + count)), np.column_stack((a, b + count, a + count))))
    made = np.concatenate((triangles[:, ::-1], triangles + count, sides))
    points = body.points[own]
    return Body(np.concatenate((points, points + thick)), made, np.full(len(made), -1, dtype=np.int64))
