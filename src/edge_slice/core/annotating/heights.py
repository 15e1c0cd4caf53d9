"""How high lies what a drawing shows at a place."""

from __future__ import annotations

import numpy as np

from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.cut.planes.leaves import leaf_at


def surface_height(features: Features, u: float, v: float) -> float | None:
    """The height (metres) of the nearest surface under a place of a level drawing (mm), as its cut looks at it; None
    where it meets nothing. Only elements whose boxes hold the place are looked at."""
    model, leaf = features.model, leaf_at(features.result.leaves, u)
    axes = leaf.axes
    if abs(axes.w[2]) < 0.999:
        return None
    x, y, z = (axes.origin + (u * axes.u + v * axes.v) / 1000.0).tolist()
    boxes = model.boxes
    over = (boxes[:, 0, :2] <= (x, y)).all(axis=1) & (boxes[:, 1, :2] >= (x, y)).all(axis=1)
    best: float | None = None
    for element in np.flatnonzero(over).tolist():
        if model.elements[element].kind in ("space", "opening"):
            continue
        t = model.element_triangles(element)
        a, b, c = t[:, 0, :], t[:, 1, :], t[:, 2, :]
        area = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
        flat = np.abs(area) > 1e-12
        with np.errstate(divide="ignore", invalid="ignore"):
            s = ((x - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (y - a[:, 1])) / area
            r = ((b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (x - a[:, 0]) * (b[:, 1] - a[:, 1])) / area
            high = a[:, 2] + s * (b[:, 2] - a[:, 2]) + r * (c[:, 2] - a[:, 2])
            hit = flat & (s >= -1e-9) & (r >= -1e-9) & (s + r <= 1 + 1e-9)
            hit &= high <= z + 1e-6 if axes.w[2] < 0 else high >= z - 1e-6
        if hit.any():
            nearest = float(high[hit].max() if axes.w[2] < 0 else high[hit].min())
            if best is None or (nearest > best if axes.w[2] < 0 else nearest < best):
                best = nearest
    return best
