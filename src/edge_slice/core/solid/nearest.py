"""How near the nearest thing is that an eye sees."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
Triple = tuple[float, float, float]
RAYS = 24  # across and up, in which faces are looked for that are larger than what is seen


def nearest_seen(model: Model, eye: F64, axes: tuple[F64, F64, F64], reach: tuple[float, float]) -> float:
    """Metres ahead of an eye (3,) to the nearest of the model in its view; infinity for nothing. axes: unit vectors
    right, up and ahead; reach: how far it sees right and up, metres in a picture a metre before it."""
    seen = (model.mesh.vertices - eye) @ np.column_stack(axes)
    ahead = seen[:, 2]
    inside = (ahead > 0) & (np.abs(seen[:, 0]) <= reach[0] * ahead) & (np.abs(seen[:, 1]) <= reach[1] * ahead)
    used = np.zeros(len(seen), dtype=bool)
    used[model.mesh.triangles.ravel()] = True
    corner = float(ahead[inside & used].min(initial=np.inf))
    return min(corner, float(_nearest_face(seen, model.mesh.triangles, reach, RAYS)))


@njit(cache=True, nogil=True)
def _nearest_face(seen: F64, triangles: I32, reach: tuple[float, float], rays: int):  # type: ignore[no-untyped-def]
    best = np.inf
    for t in range(triangles.shape[0]):
        a, b, c = seen[triangles[t, 0]], seen[triangles[t, 1]], seen[triangles[t, 2]]
        if max(a[2], b[2], c[2]) <= 0.0 or min(a[2], b[2], c[2]) >= best:
            continue
        p, q = b - a, c - a
        n0, n1, n2 = p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]
        height = n0 * a[0] + n1 * a[1] + n2 * a[2]
        for i in range(rays):
            x = reach[0] * (2 * i / (rays - 1) - 1)
            for j in range(rays):
                y = reach[1] * (2 * j / (rays - 1) - 1)
                across = n0 * x + n1 * y + n2
                if across == 0.0:
                    continue
                w = height / across
                if 0.0 < w < best and _holds((a, b, c), (x * w, y * w, w), (n0, n1, n2)):
                    best = w
    return best


@njit(cache=True, nogil=True)
def _holds(corners: tuple[F64, F64, F64], at: Triple, normal: Triple):  # type: ignore[no-untyped-def]
    """Whether a point in the plane of a triangle lies in it."""
    a, b, c = corners
    (x, y, w), (n0, n1, n2) = at, normal
    for k in range(3):
        if k == 0:
            p, q = a, b
        elif k == 1:
            p, q = b, c
        else:
            p, q = c, a
        e0, e1, e2 = q[0] - p[0], q[1] - p[1], q[2] - p[2]
        d0, d1, d2 = x - p[0], y - p[1], w - p[2]
        side = n0 * (e1 * d2 - e2 * d1) + n1 * (e2 * d0 - e0 * d2) + n2 * (e0 * d1 - e1 * d0)
        if side < 0.0:
            return False
    return True
