"""Triangles clipped to the depth of a view, as convex parts."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]


class Parts(NamedTuple):
    """Convex parts: points (n, 3) in drawing mm, part k from starts[k] to starts[k + 1], of triangle (k,)."""

    points: F64
    starts: I64
    triangle: I32

    def of(self, chosen: Flags) -> Parts:
        """The chosen (k,) of the parts."""
        sizes = np.diff(self.starts)
        starts = np.zeros(int(chosen.sum()) + 1, np.int64)
        np.cumsum(sizes[chosen], out=starts[1:])
        return Parts(self.points[np.repeat(chosen, sizes)], starts, self.triangle[chosen])

    @property
    def owner(self) -> I64:
        """The part (n,) of each point."""
        return np.repeat(np.arange(len(self.triangle)), np.diff(self.starts))


def parts_between(points: F64, triangles: I32, use: Flags, far: float) -> Parts:
    """The parts with 0 <= w <= far of the triangles in use (m,); points (n, 3) in drawing mm. Triangles that share a
    side share its ends here too, to the last bit."""
    return Parts(*_parts(points, triangles, use, far))


@njit(cache=True, nogil=True)
def _parts(points: F64, triangles: I32, use: Flags, far: float):  # type: ignore[no-untyped-def]
    count = 0
    for t in range(triangles.shape[0]):
        count += use[t]
    out = np.empty((5 * count, 3))
    starts = np.zeros(count + 1, np.int64)
    owner = np.empty(count, np.int32)
    whole, near, kept = np.empty((3, 3)), np.empty((4, 3)), np.empty((5, 3))
    k = n = 0
    for t in range(triangles.shape[0]):
        if not use[t]:
            continue
        low, high = np.inf, -np.inf
        for j in range(3):
            whole[j] = points[triangles[t, j]]
            low, high = min(low, whole[j, 2]), max(high, whole[j, 2])
        if high < 0 or low > far:
            continue
        if low >= 0 and high <= far:
            for j in range(3):
                out[n + j] = whole[j]
            n += 3
        else:
            some = _half(whole, 3, near, 1.0, 0.0)
            some = _half(near, some, kept, -1.0, far)
            if some < 3:
                continue
            for j in range(some):
                out[n + j] = kept[j]
            n += some
        owner[k] = t
        k += 1
        starts[k] = n
    return out[:n].copy(), starts[: k + 1].copy(), owner[:k].copy()


@njit(cache=True, nogil=True)
def _half(ring: F64, count: int, out: F64, sign: float, limit: float):  # type: ignore[no-untyped-def]
    """The part of a convex ring with sign * w + (limit where sign is negative) >= 0 (Sutherland and Hodgman 1974)."""
    n = 0
    for j in range(count):
        p, q = ring[j], ring[(j + 1) % count]
        a, b = sign * p[2] + (limit if sign < 0 else 0.0), sign * q[2] + (limit if sign < 0 else 0.0)
        if a >= 0:
            out[n] = p
            n += 1
        if (a >= 0) != (b >= 0):
            first = p[0] < q[0] or (p[0] == q[0] and (p[1] < q[1] or (p[1] == q[1] and p[2] < q[2])))
            if first:  # one way round, whichever triangle asks
                out[n] = p + a / (a - b) * (q - p)
            else:
                out[n] = q + b / (b - a) * (p - q)
            out[n, 2] = 0.0 if sign > 0 else limit
            n += 1
    return n


class Rings(NamedTuple):
    """Convex rings: points (n, 2), and the number (n,) of the ring that each belongs to; no ring has some numbers."""

    points: F64
    owner: I64


def convex_halves(lines: F64, boxes: F64) -> Rings:
    """The part with a u + b v + c >= 0, lines (k, 3), of boxes (k, 4) as left, bottom, right, top."""
    return Rings(*_halves(lines, boxes))


@njit(cache=True, nogil=True)
def _halves(lines: F64, boxes: F64):  # type: ignore[no-untyped-def]
    out, owner = np.empty((5 * len(lines), 2)), np.empty(5 * len(lines), np.int64)
    box, kept = np.empty((4, 3)), np.empty((5, 3))
    n = 0
    for k in range(len(lines)):
        for j in range(4):
            box[j, 0] = boxes[k, 0 if j in (0, 3) else 2]
            box[j, 1] = boxes[k, 1 if j < 2 else 3]
            box[j, 2] = lines[k, 0] * box[j, 0] + lines[k, 1] * box[j, 1] + lines[k, 2]
        some = _half(box, 4, kept, 1.0, 0.0)
        if some < 3:
            continue
        out[n : n + some] = kept[:some, :2]
        owner[n : n + some] = k
        n += some
    return out[:n].copy(), owner[:n].copy()
