"""Which place of the model a topic of others is about: what it means, else what is looked at."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model import Model
from edge_slice.core.model.revisions import file_guid
from edge_slice.core.topics.documents import Triple, Viewpoint

F64 = NDArray[np.float64]
SMALLEST = 1e-12  # of the volume of two sides of a triangle and a ray: less, and they are parallel


def place_of(view: Viewpoint, model: Model) -> Triple | None:
    """The middle of the elements that are meant; where the model has none of them, the first face in the middle of the
    view. Metres, as the file has them; None where there is nothing."""
    wanted = set(view.elements)
    meant = np.fromiter((file_guid(one) in wanted for one in model.elements), dtype=np.bool_)
    boxes = model.boxes[meant & np.isfinite(model.boxes[:, 0, 0])]
    found = (
        (boxes[:, 0].min(axis=0) + boxes[:, 1].max(axis=0)) / 2
        if len(boxes)
        else first_met(model, np.array(view.eye) - np.array(model.origin), np.array(view.looks))
    )
    if found is None:
        return None
    x, y, z = (found + np.array(model.origin)).round(4).tolist()
    return x, y, z


def first_met(model: Model, eye: F64, looks: F64) -> F64 | None:
    """The first place of a model that a ray from the `eye` (3,) meets, metres; None where it meets nothing. By boxes of
    elements (slabs), then triangle by triangle (Möller and Trumbore 1997)."""
    if not (np.isfinite(eye).all() and np.isfinite(looks).all() and looks.any()):
        return None
    with np.errstate(divide="ignore", invalid="ignore"):
        ways = (model.boxes - eye) / looks  # a side of a box that the ray runs along is nowhere: NaN
    near, far = np.nanmax(ways.min(axis=1), axis=1, initial=0.0), np.nanmin(ways.max(axis=1), axis=1, initial=np.inf)
    reached = np.flatnonzero(near <= far)
    distances = [_met(model.element_triangles(k), eye, looks) for k in reached.tolist()]
    nearest = min(distances, default=np.inf)
    return eye + looks * nearest if np.isfinite(nearest) else None


def _met(triangles: F64, eye: F64, looks: F64) -> float:
    """How far along a ray, in its own lengths, the first of some triangles (n, 3, 3) is met; infinity for none."""
    if not len(triangles):
        return np.inf
    one, two = triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    across = np.cross(looks, two)
    volume = (one * across).sum(axis=1)
    volume[np.abs(volume) < SMALLEST] = np.nan
    away = eye - triangles[:, 0]
    u = (away * across).sum(axis=1) / volume
    beside = np.cross(away, one)
    v = (beside * looks).sum(axis=1) / volume
    t = (beside * two).sum(axis=1) / volume
    hit = t[(u >= 0) & (v >= 0) & (u + v <= 1) & (t >= 0)]
    return float(hit.min()) if len(hit) else np.inf
