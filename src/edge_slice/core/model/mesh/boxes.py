"""Boxes of what triangles are of: elements, shells."""

from __future__ import annotations

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def boxes_of(points, corners, owner, count):  # type: ignore[no-untyped-def]
    """Low and high corner (count, 2, 3) of the triangles of each owner; infinite where it has none."""
    out = np.empty((count, 2, 3))
    out[:, 0, :], out[:, 1, :] = np.inf, -np.inf
    for t in range(corners.shape[0]):
        for k in range(3):
            p = points[corners[t, k]]
            for d in range(3):
                out[owner[t], 0, d] = min(out[owner[t], 0, d], p[d])
                out[owner[t], 1, d] = max(out[owner[t], 1, d], p[d])
    return out
