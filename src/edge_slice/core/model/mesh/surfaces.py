"""What the surface of the model is made of: an element with layers shows its outermost ones on its broad sides."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.mesh.triangles import Mesh

F64 = NDArray[np.float64]
BROAD = 0.99  # cosine between a face and its layers' direction, from which on it is one of the two broad sides


@dataclass(frozen=True)
class Surfaces:
    """Of each triangle: kind (m,) int64, the material it shows (the number of materials for an unknown one), or, where
    it shows several layers, the number of materials + 1 + the build-up; skin (m,) bool: it shows layers."""

    kind: NDArray[np.int64]
    skin: NDArray[np.bool_]


@dataclass(frozen=True)
class Layering:
    """Elements' layers, as arrays: build_up (elements,) int64, -1 for none; origin, direction (elements, 3); round
    (elements,) bool: about an upright axis through the origin; outer (build-ups, 2) int64: the materials of their
    first and last layer."""

    build_up: NDArray[np.int64]
    origin: F64
    direction: F64
    round: NDArray[np.bool_]
    outer: NDArray[np.int64]


def surfaces_of(mesh: Mesh, material: NDArray[np.int64], materials: int, layering: Layering) -> Surfaces:
    """material (m,): of each triangle; `materials`: how many there are."""
    kind = material.copy()
    skin: NDArray[np.bool_] = (layering.build_up >= 0)[mesh.triangle_element]
    if not skin.any():
        return Surfaces(kind, skin)
    owner = mesh.triangle_element[skin]
    build_up = layering.build_up[owner]
    cosine = _towards_last(mesh, skin, owner, layering)
    shown = np.where(cosine < -BROAD, layering.outer[build_up, 0], materials + 1 + build_up)
    kind[skin] = np.where(cosine > BROAD, layering.outer[build_up, 1], shown)
    return Surfaces(kind, skin)


def _towards_last(mesh: Mesh, chosen: NDArray[np.bool_], owner: NDArray[np.int32], layering: Layering) -> F64:
    """Cosine between triangles and the direction in which their elements' layers follow each other."""
    direction = layering.direction[owner]
    outwards = mesh.vertices[mesh.triangles[chosen]].mean(axis=1) - layering.origin[owner]
    outwards[:, 2] = 0.0
    outwards *= (np.sign(direction[:, 0]) / np.maximum(np.linalg.norm(outwards, axis=1), 1e-12))[:, None]
    direction = np.where(layering.round[owner][:, None], outwards, direction)
    normal = mesh.normals[chosen]
    size = np.maximum(np.linalg.norm(normal, axis=1), 1e-30)
    cosine: F64 = np.einsum("ij,ij->i", normal, direction) / size
    return cosine
