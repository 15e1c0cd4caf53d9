"""Services that go through what carries or parts rooms, without an opening for them in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Model

F64 = NDArray[np.float64]
CARRIES = ("beam", "column", "member", "footing", "wall", "slab", "roof", "stair")
SHORT = 0.02  # metres of lines in which two bodies meet; where they have less together, they only touch


@dataclass(frozen=True)
class Clash:
    """An element of the services that goes through another part's element: GlobalIds, names, kinds, the parts' indexes,
    and the middle of where they meet, metres."""

    service: str
    service_name: str
    other: str
    other_name: str
    other_kind: str
    part: int
    other_part: int
    at: tuple[float, float, float]


def clashes(model: Model) -> tuple[Clash, ...]:
    """All of them, in the order of the elements. They are where the surfaces of both pass through each other, which the
    mesh knows: an opening wide enough leaves no such line."""
    if len(model.parts) < 2:
        return ()
    mesh = model.mesh
    both = (mesh.edge_triangles >= 0).all(axis=1)
    edges = np.flatnonzero(both)
    owner = mesh.triangle_element[mesh.edge_triangles[edges]]
    crossing = owner[:, 0] != owner[:, 1]
    edges, owner = edges[crossing], np.sort(owner[crossing], axis=1)
    ends: F64 = mesh.vertices[mesh.edges[edges]]
    found = []
    pairs, of = np.unique(owner, axis=0, return_inverse=True)
    for k, (a, b) in enumerate(pairs.tolist()):
        pair = _service_first(model, a, b)
        if pair is None:
            continue
        mine = ends[of == k]
        if np.linalg.norm(mine[:, 1] - mine[:, 0], axis=1).sum() < SHORT:
            continue
        service, other = (model.elements[n] for n in pair)
        points = mine.reshape(-1, 3)
        x, y, z = ((points.min(axis=0) + points.max(axis=0)) / 2).round(3).tolist()
        found.append(
            Clash(service.guid, service.name, other.guid, other.name, other.kind, service.part, other.part, (x, y, z))
        )
    return tuple(found)


def _service_first(model: Model, a: int, b: int) -> tuple[int, int] | None:
    one, other = model.elements[a], model.elements[b]
    if one.part == other.part:
        return None
    if one.kind == "services" and other.kind in CARRIES:
        return a, b
    if other.kind == "services" and one.kind in CARRIES:
        return b, a
    return None
