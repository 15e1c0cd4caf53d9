"""Where the model's points lie before a plane of a cut."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.planes.leaves import Axes
from edge_slice.core.cut.shown import whole_elements
from edge_slice.core.cut.spec import AnyCut
from edge_slice.core.model import Mesh, Model

F64 = NDArray[np.float64]
Flags = NDArray[np.bool_]


def points_before(model: Model, spec: AnyCut, axes: Axes) -> tuple[F64, F64]:
    """The vertices (n, 3) in drawing mm, and how far elements (elements,) were moved behind the plane for it, mm: those
    that are drawn whole, where it goes through them, until they touch it."""
    points = axes.to_drawing(model.mesh.vertices)
    moved = np.zeros(len(model.elements))
    mesh = model.mesh
    for element in _passed(mesh, points, whole_elements(model, spec)):
        start, end = np.searchsorted(mesh.edge_element, [element, element + 1])
        of = np.unique(np.r_[mesh.triangles[mesh.of_element(element)].ravel(), mesh.edges[start:end].ravel()])
        if len(of) and points[of, 2].min() < 0.0 < points[of, 2].max():
            moved[element] = -float(points[of, 2].min())
            points[of, 2] += moved[element]
    return points, moved


def _passed(mesh: Mesh, points: F64, wanted: Flags) -> list[int]:
    """Of the wanted elements (elements,) those with triangles or edges on both sides of the plane: a model has
    thousands of chairs, and a plane goes through few."""
    if not wanted.any():
        return []
    low, high = np.full(len(wanted), np.inf), np.full(len(wanted), -np.inf)
    for corners, of in ((mesh.triangles, mesh.triangle_element), (mesh.edges, mesh.edge_element)):
        chosen = wanted[of]
        depths, element = points[corners[chosen], 2], of[chosen]
        np.minimum.at(low, element, depths.min(axis=1))
        np.maximum.at(high, element, depths.max(axis=1))
    return np.flatnonzero((low < 0.0) & (high > 0.0)).tolist()
