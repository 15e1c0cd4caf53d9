"""A model while a face of one of its elements is dragged: what a hand must see at once. The rest comes when it
rests."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from edge_slice.core.model.building import Model
from edge_slice.core.model.corrections.becoming import sorted_out
from edge_slice.core.model.corrections.documents import Correction, FaceElsewhere, wish_of
from edge_slice.core.model.corrections.sides import Body
from edge_slice.core.model.mesh.joining import together, without
from edge_slice.core.model.mesh.triangles import build_mesh


def dragged_faces(said: Sequence[Correction], before: Sequence[Correction]) -> list[FaceElsewhere]:
    """The faces that lie elsewhere than they did before, by what is said now;
    none where something else is said, too."""
    known = {wish_of(one) for one in before}
    new = [one for one in said if wish_of(one) not in known]
    faces = [one for one in new if isinstance(one, FaceElsewhere)]
    subjects = {subject for one in new for subject in one.subjects}
    now = {wish_of(one) for one in said}
    gone = [one for one in before if wish_of(one) not in now and not subjects & set(one.subjects)]
    return faces if len(faces) == len(new) and not gone else []


def with_dragged(drawn: Model, bare: Model, said: Sequence[Correction], faces: Sequence[FaceElsewhere]) -> Model:
    """The model as it is `drawn`, with the bodies that elements have by what is `said` of the `bare` one, if their
    `faces` are dragged. Surfaces of them that run on in others do not say so meanwhile. Elements have other numbers:
    these come last."""
    wanted, _ = sorted_out(bare, said)
    found = drawn
    for guid in dict.fromkeys(one.element for one in faces):
        k, n = bare.element_by_guid.get(guid, -1), drawn.element_by_guid.get(guid, -1)
        if k in wanted.bodies and n >= 0:
            found = _with_body(found, n, wanted.bodies[k])
    return found


def _with_body(model: Model, k: int, body: Body) -> Model:
    """The model with another body of an element, which is its last one then."""
    mesh, joints = without(model.mesh, model.joints, [k])
    owner, last = np.zeros(len(body.triangles), dtype=np.int32), np.int32(len(model.elements))
    added = build_mesh(body.points, body.triangles.astype(np.int32), owner, body.materials.astype(np.int32))
    added = replace(
        added, triangle_element=added.triangle_element + last, edge_element=added.edge_element + last,
        open_elements=added.open_elements + last,
    )  # fmt: skip
    found = replace(model, mesh=together(mesh, added), elements=(*model.elements, model.elements[k]))
    found.__dict__["joints"] = joints
    found.__dict__["digests"] = _digests(model, found, k)
    for name in ("_axes", "_footprints"):
        found.__dict__[name] = {n: known for n, known in getattr(model, name).items() if n != k}
    return found


def _digests(before: Model, after: Model, k: int) -> tuple[bytes, ...]:
    """The digests of elements, of which one is the last one now, and some had lines where they passed through it."""
    mesh, names = before.mesh, [repr(m) for m in after.materials] + [""]
    own, other = mesh.edge_triangles.T
    lines = (mesh.triangle_element[own] == k) | ((other >= 0) & (mesh.triangle_element[other] == k))
    others = np.unique(np.append(mesh.edge_element[lines], k)).tolist()
    found = [*before.digests, after.digest_of(len(after.elements) - 1, names)]
    for n in others:
        found[n] = after.digest_of(n, names)
    return tuple(found)
