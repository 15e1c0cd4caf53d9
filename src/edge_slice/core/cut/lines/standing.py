"""Where the model's points lie before a plane of a cut."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.planes.leaves import Axes
from edge_slice.core.cut.shown import whole_elements
from edge_slice.core.cut.spec import AnyCut
from edge_slice.core.model import Model

F64 = NDArray[np.float64]


def points_before(model: Model, spec: AnyCut, axes: Axes) -> tuple[F64, F64]:
    """The vertices (n, 3) in drawing mm, and how far elements (elements,) were moved behind the plane for it, mm: those
    that are drawn whole, where it goes through them, until they touch it."""
    points = axes.to_drawing(model.mesh.vertices)
    moved = np.zeros(len(model.elements))
    mesh = model.mesh
    for element in np.flatnonzero(whole_elements(model, spec)).tolist():
        start, end = np.searchsorted(mesh.edge_element, [element, element + 1])
        of = np.unique(np.r_[mesh.triangles[mesh.of_element(element)].ravel(), mesh.edges[start:end].ravel()])
        if len(of) and points[of, 2].min() < 0.0 < points[of, 2].max():
            moved[element] = -float(points[of, 2].min())
            points[of, 2] += moved[element]
    return points, moved
