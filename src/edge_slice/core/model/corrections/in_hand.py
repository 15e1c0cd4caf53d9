"""A model while a face of one of its elements is dragged: what a hand must see at once. The rest comes when it
rests."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.becoming import sorted_out
from edge_slice.core.model.corrections.documents import Correction, FaceElsewhere, wish_of
from edge_slice.core.model.mesh.triangles import build_mesh


def dragged_faces(said: Sequence[Correction], before: Sequence[Correction]) -> list[FaceElsewhere]:
    """The faces that lie elsewhere than they did before, by what is said now; none where something else is
    said, too."""
    known = {wish_of(one) for one in before}
    new = [one for one in said if wish_of(one) not in known]
    faces = [one for one in new if isinstance(one, FaceElsewhere)]
    subjects = {subject for one in new for subject in one.subjects}
    now = {wish_of(one) for one in said}
    gone = [one for one in before if wish_of(one) not in now and not subjects & set(one.subjects)]
    return faces if len(faces) == len(new) and not gone else []


def dragged_alone(drawn: Model, bare: Model, said: Sequence[Correction], faces: Sequence[FaceElsewhere]) -> Model:
    """Of the model as it is `drawn` those elements alone whose `faces` are dragged, with the bodies that they have by
    what is `said` of the `bare` one."""
    wanted, _ = sorted_out(bare, said)
    numbers = [bare.element_by_guid.get(guid, -1) for guid in dict.fromkeys(one.element for one in faces)]
    moved = [k for k in numbers if k in wanted.bodies and bare.elements[k].guid in drawn.element_by_guid]
    none = np.zeros(0, dtype=np.int64)
    points, triangles, owner, material = [np.zeros((0, 3))], [none.reshape(0, 3)], [none], [none]
    for n, k in enumerate(moved):
        body = wanted.bodies[k]
        triangles.append(body.triangles + sum(map(len, points)))
        points.append(body.points)
        owner.append(np.full(len(body.triangles), n))
        material.append(body.materials)
    rows = (np.concatenate(each).astype(np.int32) for each in (triangles, owner, material))
    mesh = build_mesh(np.concatenate(points), *rows)
    elements = tuple(drawn.elements[drawn.element_by_guid[bare.elements[k].guid]] for k in moved)
    return replace(drawn, mesh=mesh, elements=elements, leaking=(), spaces=(), grid=(), former_ground=None)
