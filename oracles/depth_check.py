"""An independent check of hidden lines: the depth of everything in front of a point, by brute force.

It knows nothing of the cut's grid, of cut faces or facing: a point is hidden when any triangle crosses its line of
sight between the cut and the point, or when the sight begins inside a body, behind its cut face: then it crosses that
body's faces an odd number of times.
"""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

F64 = NDArray[np.float64]
ASIDE = (0.3, 0.03)  # mm; a point of a line counts as visible if it is to one side or the other, a little away
# from it, or very little, as in the crease between two steep faces
IN_PLANE = 1e-5  # mm; what lies in the plane of the cut is beyond it
NEARER = 0.6  # mm; what is nearer by less is touching


class DepthCheck:
    def __init__(self, corners: F64, element: NDArray[np.int32]) -> None:
        """corners (m, 3, 3): all triangles in drawing coordinates; element (m,): whose they are."""
        self.corners = corners
        self.element = element
        low, high = corners[:, :, :2].min(axis=1), corners[:, :, :2].max(axis=1)
        self.boxes = shapely.STRtree(shapely.box(*low.T, *high.T))

    def hides(self, u: float, v: float, depth: float) -> bool:
        near = self._near(u, v)
        c = self.corners[near]
        if not len(c):
            return False
        w, inside = self._depth(c, u, v)
        beyond = inside & (w > -IN_PLANE)
        if (beyond & (w < depth - NEARER)).any():
            return True
        return bool((np.bincount(self.element[near][beyond]) % 2).any())

    def _near(self, u: float, v: float) -> NDArray[np.int64]:
        """Triangles whose box holds a point."""
        return np.sort(self.boxes.query(shapely.Point(u, v)))

    @staticmethod
    def _depth(c: F64, u: float, v: float) -> tuple[F64, NDArray[np.bool_]]:
        """Depth of the planes of triangles (k, 3, 3) at a point, and whether it lies in them."""
        a, b, d = c[:, 0], c[:, 1], c[:, 2]
        area = (b[:, 0] - a[:, 0]) * (d[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (d[:, 0] - a[:, 0])
        flat = np.abs(area) < 1e-9
        area = np.where(flat, 1.0, area)
        s = ((u - a[:, 0]) * (d[:, 1] - a[:, 1]) - (v - a[:, 1]) * (d[:, 0] - a[:, 0])) / area
        t = ((b[:, 0] - a[:, 0]) * (v - a[:, 1]) - (b[:, 1] - a[:, 1]) * (u - a[:, 0])) / area
        inside = ~flat & (s >= 0) & (t >= 0) & (s + t <= 1)
        return a[:, 2] + s * (b[:, 2] - a[:, 2]) + t * (d[:, 2] - a[:, 2]), inside

    def front(self, u: float, v: float) -> tuple[float, int]:
        """Depth of the nearest surface beyond the cut and whose it is; infinity and -1 where there is none."""
        rows = self._near(u, v)
        depth, inside = self._depth(self.corners[rows], u, v)
        inside &= depth > -IN_PLANE
        if not inside.any():
            return np.inf, -1
        first = np.flatnonzero(inside)[depth[inside].argmin()]
        return float(depth[first]), int(self.element[rows[first]])

    def sees(self, u: float, v: float, depth: float, across: tuple[float, float]) -> bool:
        steps = [side * far for far in ASIDE for side in (1, -1)]
        return any(not self.hides(u + s * across[0], v + s * across[1], depth) for s in steps)
