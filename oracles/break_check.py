"""A second independent check of lines: the view as a field of small squares, each with what stands in front.

Where the depth jumps from one square to the next, a line must be drawn; where neither depth nor element nor the
direction of the surface changes, none may be.
"""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut import CutResult, Role
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Flags = NDArray[np.bool_]
STRONG, WEAK = 60.0, 2.0  # mm; jumps of depth that must show, and that may
NEAR = 2  # squares
CUT, NOTHING = -2, -1


@njit(cache=True)
def _fronts(corners, element, wide, high, left, base, size):  # type: ignore[no-untyped-def]
    depth = np.full((high, wide), 1e7)
    owner = np.full((high, wide), NOTHING, np.int32)
    normal = np.zeros((high, wide, 3))
    for t in range(corners.shape[0]):
        a, b, c = corners[t, 0], corners[t, 1], corners[t, 2]
        n = np.cross(b - a, c - a)
        area = n[2]
        if abs(area) < 1e-9:
            continue
        n /= np.sqrt((n * n).sum())
        x0 = max(0, int((min(a[0], b[0], c[0]) - left) / size))
        x1 = min(wide - 1, int((max(a[0], b[0], c[0]) - left) / size) + 1)
        y0 = max(0, int((min(a[1], b[1], c[1]) - base) / size))
        y1 = min(high - 1, int((max(a[1], b[1], c[1]) - base) / size) + 1)
        for y in range(y0, y1 + 1):
            v = base + (y + 0.503) * size
            for x in range(x0, x1 + 1):
                u = left + (x + 0.497) * size
                s = ((u - a[0]) * (c[1] - a[1]) - (v - a[1]) * (c[0] - a[0])) / area
                r = ((b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0])) / area
                w = a[2] + s * (b[2] - a[2]) + r * (c[2] - a[2])
                if s >= 0 and r >= 0 and s + r <= 1 and 0 < w < depth[y, x]:
                    depth[y, x], owner[y, x], normal[y, x] = w, element[t], n
    return depth, owner, normal


def _grown(field: Flags) -> Flags:
    out = np.zeros_like(field)
    high, wide = field.shape
    for dy in range(-NEAR, NEAR + 1):
        for dx in range(-NEAR, NEAR + 1):
            out[max(0, dy) : high + min(0, dy), max(0, dx) : wide + min(0, dx)] |= field[
                max(0, -dy) : high + min(0, -dy), max(0, -dx) : wide + min(0, -dx)
            ]
    return out


def _steps(field: F64, axis: int) -> tuple[F64, F64]:
    """Every square and the next one along an axis."""
    count = field.shape[axis]
    return np.take(field, range(count - 1), axis), np.take(field, range(1, count), axis)


class BreakCheck:
    """`drawn`: the share of strong breaks with a line near them; `justified`: of drawn line with a break near it."""

    def __init__(self, model: Model, result: CutResult, size: float = 8.0) -> None:
        """size: of a square, mm."""
        left, base, right, top = result.extents
        self.left, self.base, self.size = left, base, size
        self.wide, self.high = int((right - left) / size) + 1, int((top - base) / size) + 1
        corners = result.axes.to_drawing(model.mesh.vertices)[model.mesh.triangles]
        field = _fronts(corners, model.mesh.triangle_element, self.wide, self.high, left, base, size)
        self.depth, self.owner, self.normal = field
        beyond = self.depth > (result.reach or np.inf)
        self.depth[beyond], self.owner[beyond] = 1e7, NOTHING
        self._enter_cut_faces(result)
        lines = result.lines.points[result.lines.role == Role.SEEN]
        rings = [np.asarray(r.coords) for f in result.faces for r in (f.polygon.exterior, *f.polygon.interiors)]
        sides = [np.column_stack((r[:-1], r[1:])) for r in rings]
        strong = self._jumps(STRONG)
        strong[:3], strong[-3:], strong[:, :3], strong[:, -3:] = False, False, False, False
        missed = strong & ~_grown(self._squares(np.concatenate((lines, *sides)))[0])
        self.drawn = 1.0 - missed.sum() / max(1, strong.sum())
        _, rows, weight = self._squares(lines)
        good = _grown(self._any_break())[rows]
        self.justified = float((weight * good).sum() / max(weight.sum(), 1e-9)) if len(lines) else 1.0

    def _enter_cut_faces(self, result: CutResult) -> None:
        for face in result.faces:
            left, base, right, top = face.polygon.bounds
            x = np.arange(max(0, int((left - self.left) / self.size)), int((right - self.left) / self.size) + 1)
            y = np.arange(max(0, int((base - self.base) / self.size)), int((top - self.base) / self.size) + 1)
            x, y = x[x < self.wide], y[y < self.high]
            u, v = np.meshgrid(self.left + (x + 0.5) * self.size, self.base + (y + 0.5) * self.size)
            inside = shapely.contains_xy(face.polygon, u, v)
            at = np.ix_(y, x)
            self.depth[at] = np.where(inside, -1e6, self.depth[at])
            self.owner[at] = np.where(inside, CUT, self.owner[at])
            self.normal[at] = np.where(inside[:, :, None], 0.0, self.normal[at])

    def _squares(self, lines: F64) -> tuple[Flags, tuple[NDArray[np.int64], NDArray[np.int64]], F64]:
        """The squares that lines (n, 4) pass: as a field, and by points along them with their weight."""
        length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
        count = np.maximum(2, np.ceil(length / (self.size / 2)).astype(int))
        of = np.repeat(np.arange(len(lines)), count)
        share = np.concatenate([(np.arange(n) + 0.5) / n for n in count]) if len(lines) else np.zeros(0)
        at = lines[of, :2] + share[:, None] * (lines[of, 2:] - lines[of, :2])
        x = np.clip(((at[:, 0] - self.left) / self.size).astype(int), 0, self.wide - 1)
        y = np.clip(((at[:, 1] - self.base) / self.size).astype(int), 0, self.high - 1)
        field = np.zeros((self.high, self.wide), dtype=bool)
        field[y, x] = True
        return field, (y, x), (length / count)[of]

    def _jumps(self, least: float) -> Flags:
        """Squares from which the depth jumps to the next one by more than the slope of either surface explains."""
        found = np.zeros(self.depth.shape, dtype=bool)
        steep = np.abs(self.normal[:, :, :2]) / np.maximum(np.abs(self.normal[:, :, 2:]), 1e-6) * self.size
        for axis, across in ((1, 0), (0, 1)):
            a, b = _steps(self.depth, axis)
            slope = np.maximum(*_steps(np.minimum(steep[:, :, across], 1e6), axis))
            jump = np.abs(a - b) > least + 1.05 * slope
            found[: jump.shape[0], : jump.shape[1]] |= jump
        return found

    def _any_break(self) -> Flags:
        found = self._jumps(WEAK)
        for axis in (0, 1):
            a, b = _steps(self.owner, axis)
            n, m = _steps(self.normal, axis)
            other = (a != b) | ((n * m).sum(axis=-1) < 0.9999)
            found[: other.shape[0], : other.shape[1]] |= other
        return found
