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
def _fronts(corners, boxes, element, wide, high, left, base, size, eye, distance):  # type: ignore[no-untyped-def]
    """What each square's line of sight meets first beyond the picture plane: its depth behind the plane, its element,
    the direction of its surface, and how much its depth changes from square to square, across and up.

    boxes (t, 4): what a triangle may cover of the picture. `distance` of the eye, 0 for a parallel view."""
    depth = np.full((high, wide), 1e7)
    owner = np.full((high, wide), NOTHING, np.int32)
    normal = np.zeros((high, wide, 3))
    steep = np.zeros((high, wide, 2))
    for t in range(corners.shape[0]):
        a, b, c = corners[t, 0], corners[t, 1], corners[t, 2]
        n = np.cross(b - a, c - a)
        long = np.sqrt((n * n).sum())
        if long < 1e-9 or not boxes[t, 0] <= boxes[t, 2]:
            continue
        n /= long
        n0, n1, n2 = n[0], n[1], n[2]
        # how far a point is inside a side is linear in it: the normal of a plane through the side, and its height
        sides = np.empty((3, 4))
        for k in range(3):
            p, q = corners[t, k], corners[t, (k + 1) % 3]
            sides[k, :3] = np.cross(n, q - p)
            sides[k, 3] = (sides[k, :3] * p).sum()
        height = n0 * a[0] + n1 * a[1] + n2 * a[2]
        x0, x1 = max(0, int((boxes[t, 0] - left) / size)), min(wide - 1, int((boxes[t, 2] - left) / size) + 1)
        y0, y1 = max(0, int((boxes[t, 1] - base) / size)), min(high - 1, int((boxes[t, 3] - base) / size) + 1)
        for y in range(y0, y1 + 1):
            v = base + (y + 0.503) * size
            for x in range(x0, x1 + 1):
                u = left + (x + 0.497) * size
                du, dv, dw = 0.0, 0.0, 1.0
                if distance > 0:
                    du, dv, dw = (u - eye[0]) / distance, (v - eye[1]) / distance, -eye[2] / distance
                across = n0 * du + n1 * dv + n2 * dw
                if abs(across) < 1e-9:
                    continue
                w = (height - n0 * u - n1 * v) / across
                if not 0 < w < depth[y, x]:
                    continue
                pu, pv, pw = u + w * du, v + w * dv, w * dw
                inside = True
                for k in range(3):
                    inside = inside and sides[k, 0] * pu + sides[k, 1] * pv + sides[k, 2] * pw >= sides[k, 3]
                if not inside:
                    continue
                depth[y, x], owner[y, x] = w, element[t]
                normal[y, x, 0], normal[y, x, 1], normal[y, x, 2] = n0, n1, n2
                grow = 1.0 + w / distance if distance > 0 else 1.0
                steep[y, x, 0], steep[y, x, 1] = abs(n0 * grow / across) * size, abs(n1 * grow / across) * size
    return depth, owner, normal, steep


def _covered(corners: F64, eye: F64, distance: float) -> F64:
    """The box (t, 4) in the picture of what of each triangle lies beyond the picture plane; empty: left over right."""
    following = np.roll(corners, -1, axis=1)
    beyond, next_beyond = corners[..., 2] >= 0, following[..., 2] >= 0
    with np.errstate(divide="ignore", invalid="ignore"):
        share = corners[..., 2:] / (corners[..., 2:] - following[..., 2:])
        crossing = corners + share * (following - corners)
    points = np.concatenate((corners, crossing), axis=1)
    use = np.concatenate((beyond, beyond != next_beyond), axis=1)[..., None]
    if distance > 0:
        deep = np.maximum(points[..., 2:], 0.0)
        points = eye + (points - eye) * distance / (distance + deep)
    low = np.where(use, points, np.inf).min(axis=1)[:, :2]
    high = np.where(use, points, -np.inf).max(axis=1)[:, :2]
    return np.column_stack((low, high))


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
        lens = result.lens
        distance = lens.distance if lens else 0.0
        eye = np.array([lens.u, lens.v, -distance]) if lens else np.zeros(3)
        boxes = _covered(corners, eye, distance)
        owners = model.mesh.triangle_element
        field = _fronts(corners, boxes, owners, self.wide, self.high, left, base, size, eye, distance)
        self.depth, self.owner, self.normal, self.steep = field
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
            self.steep[at] = np.where(inside[:, :, None], 0.0, self.steep[at])

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
        for axis, across in ((1, 0), (0, 1)):
            a, b = _steps(self.depth, axis)
            slope = np.maximum(*_steps(np.minimum(self.steep[:, :, across], 1e6), axis))
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
