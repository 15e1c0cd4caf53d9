"""Cut faces as what hides lines."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.pieces import CutFace

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
CAP_DEPTH = -1.0  # mm; a little before the cut, so that faces flush with the cut lie behind


def cap_triangles(faces: list[CutFace]) -> F64:
    """Cut faces as triangles (k, 3, 3): they hide what lies behind them, and what lies flush in the cut."""
    polygons = np.array([f.polygon for f in faces])
    whole = np.flatnonzero(shapely.get_num_interior_rings(polygons) == 0) if len(faces) else np.zeros(0, np.int64)
    points, index = shapely.get_coordinates(polygons[whole], return_index=True)
    convex, fans = _fans(points, np.searchsorted(index, np.arange(len(whole) + 1)).astype(np.int64))
    rest = np.ones(len(faces), dtype=bool)
    rest[whole[convex]] = False
    parts = shapely.get_parts(shapely.constrained_delaunay_triangles(polygons[rest]))
    flat = np.concatenate((fans, shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]))
    return np.concatenate((flat, np.full((len(flat), 3, 1), CAP_DEPTH)), axis=2)


@njit(cache=True, nogil=True)
def _fans(points: F64, starts: I64):  # type: ignore[no-untyped-def]
    """Which closed rings are convex, and these as triangles (k, 3, 2) about their first corners."""
    convex = np.zeros(starts.shape[0] - 1, np.bool_)
    out = np.empty((points.shape[0], 3, 2))
    filled = 0
    for r in range(starts.shape[0] - 1):
        a, n = starts[r], starts[r + 1] - starts[r] - 1
        left = right = False
        for k in range(n):
            p, q, s = points[a + k], points[a + (k + 1) % n], points[a + (k + 2) % n]
            turn = (q[0] - p[0]) * (s[1] - q[1]) - (q[1] - p[1]) * (s[0] - q[0])
            left, right = left or turn > 0, right or turn < 0
        if left and right:
            continue
        convex[r] = True
        for k in range(1, n - 1):
            out[filled, 0], out[filled, 1], out[filled, 2] = points[a], points[a + k], points[a + k + 1]
            filled += 1
    return convex, out[:filled]
