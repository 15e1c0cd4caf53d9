"""What the surface of the model is made of: an element with layers shows its outermost ones on its broad sides."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from edge_slice.core.model.building import Model

F64 = NDArray[np.float64]
BROAD = 0.99  # cosine between a face and its layers' direction, from which on it is one of the two broad sides


@dataclass(frozen=True)
class Surfaces:
    """Of each triangle: kind (m,) int64, the material it shows (the number of materials for an unknown one), or, where
    it shows several layers, the number of materials + 1 + the build-up; skin (m,) bool: it shows layers."""

    kind: NDArray[np.int64]
    skin: NDArray[np.bool_]


def surfaces_of(model: Model) -> Surfaces:
    kind = model.triangle_materials.copy()
    layered = np.array([e.build_up >= 0 and e.frame is not None for e in model.elements], dtype=bool)
    skin = layered[model.mesh.triangle_element]
    if not skin.any():
        return Surfaces(kind, skin)
    owner = model.mesh.triangle_element[skin]
    build_up = np.array([e.build_up for e in model.elements], dtype=np.int64)[owner]
    outer = np.array([(b.layers[0].material, b.layers[-1].material) for b in model.build_ups], dtype=np.int64)
    cosine = _towards_last(model, skin, owner)
    shown = np.where(cosine < -BROAD, outer[build_up, 0], len(model.materials) + 1 + build_up)
    kind[skin] = np.where(cosine > BROAD, outer[build_up, 1], shown)
    return Surfaces(kind, skin)


def _towards_last(model: Model, chosen: NDArray[np.bool_], owner: NDArray[np.int32]) -> F64:
    """Cosine between triangles and the direction in which their elements' layers follow each other."""
    mesh = model.mesh
    frames = [e.frame for e in model.elements]
    direction = np.array([f.direction if f else (0.0, 0.0, 0.0) for f in frames])[owner]
    origin = np.array([f.origin if f else (0.0, 0.0, 0.0) for f in frames])[owner]
    round_ = np.array([f is not None and f.radius > 0 for f in frames], dtype=bool)[owner]
    outwards = mesh.vertices[mesh.triangles[chosen]].mean(axis=1) - origin
    outwards[:, 2] = 0.0
    outwards *= (np.sign(direction[:, 0]) / np.maximum(np.linalg.norm(outwards, axis=1), 1e-12))[:, None]
    direction = np.where(round_[:, None], outwards, direction)
    normal = mesh.normals[chosen]
    size = np.maximum(np.linalg.norm(normal, axis=1), 1e-30)
    cosine: F64 = np.einsum("ij,ij->i", normal, direction) / size
    return cosine
