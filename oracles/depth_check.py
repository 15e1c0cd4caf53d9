"""An independent check of hidden lines: the depth of everything in front of a point, by brute force.

It knows nothing of the cut's grid, of cut faces or facing: a point is hidden when any triangle crosses its line of
sight between the cut and the point, or when the sight begins inside a body, behind its cut face: then it crosses that
body's faces an odd number of times.
"""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
ASIDE = (0.3, 0.03)  # mm; a point of a line counts as visible if it is to one side or the other, a little away
# from it, or very little, as in the crease between two steep faces
IN_PLANE = 1e-5  # mm; what lies in the plane of the cut is beyond it
NEARER = 0.6  # mm; what is nearer by less is touching


@njit(cache=True)
def _hidden(corners, element, near, point, odd):  # type: ignore[no-untyped-def]
    """Whether a point (u, v, depth) is hidden by the triangles `near` it; `odd` (elements,): none, before and after."""
    u, v, depth = point
    nearer = False
    for t in near:
        w, inside = _crossed(corners[t], u, v)
        if inside and w > -IN_PLANE:
            nearer |= w < depth - NEARER
            odd[element[t]] = not odd[element[t]]
    within = False
    for t in near:
        within |= odd[element[t]]
        odd[element[t]] = False
    return nearer or within


@njit(cache=True)
def _first(corners, near, u, v):  # type: ignore[no-untyped-def]
    """Depth of the nearest of some triangles beyond the cut at a point, and which it is."""
    least, first = np.inf, -1
    for t in near:
        w, inside = _crossed(corners[t], u, v)
        if inside and -IN_PLANE < w < least:
            least, first = w, t
    return least, first


@njit(cache=True)
def _crossed(corners, u, v):  # type: ignore[no-untyped-def]
    """Depth of a triangle's plane at a point, and whether it lies in the triangle."""
    a, b, d = corners[0], corners[1], corners[2]
    area = (b[0] - a[0]) * (d[1] - a[1]) - (b[1] - a[1]) * (d[0] - a[0])
    if abs(area) < 1e-9:
        return 0.0, False
    s = ((u - a[0]) * (d[1] - a[1]) - (v - a[1]) * (d[0] - a[0])) / area
    t = ((b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0])) / area
    return a[2] + s * (b[2] - a[2]) + t * (d[2] - a[2]), s >= 0 and t >= 0 and s + t <= 1


class DepthCheck:
    def __init__(self, corners: F64, element: NDArray[np.int32]) -> None:
        """corners (m, 3, 3): all triangles in drawing coordinates; element (m,): whose they are."""
        self.corners = corners
        self.element = element
        low, high = corners[:, :, :2].min(axis=1), corners[:, :, :2].max(axis=1)
        self.boxes = shapely.STRtree(shapely.box(*low.T, *high.T))
        self._odd = np.zeros(int(element.max(initial=0)) + 1, dtype=np.bool_)

    def hides(self, u: float, v: float, depth: float) -> bool:
        near = self.boxes.query(shapely.Point(u, v))
        return bool(_hidden(self.corners, self.element, near, (u, v, depth), self._odd))

    def front(self, u: float, v: float) -> tuple[float, int]:
        """Depth of the nearest surface beyond the cut and whose it is; infinity and -1 where there is none."""
        near = np.sort(self.boxes.query(shapely.Point(u, v)))
        depth, first = _first(self.corners, near, u, v)
        return float(depth), int(self.element[first]) if first >= 0 else -1

    def sees(self, u: float, v: float, depth: float, across: tuple[float, float]) -> bool:
        steps = [side * far for far in ASIDE for side in (1, -1)]
        return any(not self.hides(u + s * across[0], v + s * across[1], depth) for s in steps)
