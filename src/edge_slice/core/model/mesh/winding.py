"""Which way triangles turn: neighbours alike, shells outside out, hollows inside out."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model.mesh.boxes import boxes_of

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
FLAT = 1e-12  # cubic metres; a shell that holds no more is flat


def outward(points: F64, corners: I32, neighbours: I32, element: I32) -> Flags:
    """Which triangles (m,) must be turned over so that all have their outside outside.

    Neighbours across an edge of two triangles are made to turn alike. A shell that turned alike and is inside out stays
    so only where it is a hollow: within another shell of its element. An open shell (shells end where three or more
    triangles meet) is taken as closed towards the middle of its rim, which is right for a hole in one plane.
    """
    if not len(corners):
        return np.zeros(0, dtype=bool)
    shell, flip, mixed = shells(corners, neighbours)
    count = int(shell.max()) + 1
    volume = _volumes(points, corners, flip, shell, _bases(points, corners, neighbours, shell, count))
    volume[np.abs(volume) < FLAT] = 0.0  # a part of a face: as the file has it
    owner = np.zeros(count, dtype=np.int64)
    owner[shell] = element
    whole = np.bincount(owner, weights=volume)
    turned = mixed & (volume < 0)  # its own word is worth nothing: taken as a body
    turned |= ~mixed & (whole[owner] < 0)
    inverted = np.flatnonzero(~mixed & (np.where(turned, -volume, volume) < 0))
    if len(inverted):
        order = np.argsort(shell, kind="stable")
        starts = np.searchsorted(shell[order], np.arange(count + 1))
        boxes = boxes_of(points, corners, shell, count)
        alike = np.where(flip[:, None], corners[:, ::-1], corners)
        for k in inverted.tolist():
            others = np.flatnonzero((owner == owner[k]) & (np.arange(count) != k))
            around = others[
                (boxes[others, 0] <= boxes[k, 0]).all(axis=1) & (boxes[others, 1] >= boxes[k, 1]).all(axis=1)
            ]
            inner = points[corners[order[starts[k]]]].mean(axis=0)
            depth = sum(_holds(points[alike[order[starts[o] : starts[o + 1]]]], inner) for o in around.tolist())
            turned[k] ^= depth % 2 == 0
    found: Flags = flip ^ turned[shell]
    return found


@njit(cache=True, nogil=True)
def shells(corners: I32, neighbours: I32):  # type: ignore[no-untyped-def]
    """Triangles that hang together by edges of two: the shell of each, which turn unlike the first of their shell, and
    which shells have any such."""
    m = corners.shape[0]
    shell = np.full(m, -1, np.int64)
    flip = np.zeros(m, np.bool_)
    mixed = np.zeros(m, np.bool_)
    stack = np.empty(m, np.int64)
    count = 0
    for first in range(m):
        if shell[first] >= 0:
            continue
        shell[first] = count
        stack[0] = first
        top = 1
        while top > 0:
            top -= 1
            t = stack[top]
            for k in range(3):
                n = neighbours[t, k]
                if n < 0 or shell[n] >= 0:
                    continue
                a, b = corners[t, k], corners[t, (k + 1) % 3]
                alike = True
                for j in range(3):
                    if corners[n, j] == a and corners[n, (j + 1) % 3] == b:
                        alike = False
                shell[n] = count
                flip[n] = flip[t] if alike else not flip[t]
                if not alike:
                    mixed[count] = True
                stack[top] = n
                top += 1
        count += 1
    return shell, flip, mixed[:count]


def _bases(points: F64, corners: I32, neighbours: I32, shell: I64, count: int) -> F64:
    """From where each shell's volume is measured (count, 3): the middle of its rim, or a point of a closed one."""
    bases = np.empty((count, 3))
    bases[shell[::-1]] = points[corners[::-1, 0]]
    triangle, side = np.nonzero(neighbours < 0)
    rim = (points[corners[triangle, side]] + points[corners[triangle, (side + 1) % 3]]) / 2
    of = shell[triangle]
    sides = np.bincount(of, minlength=count)
    sums = np.column_stack([np.bincount(of, weights=column, minlength=count) for column in rim.T])
    bases[sides > 0] = sums[sides > 0] / sides[sides > 0, None]
    return bases


@njit(cache=True, nogil=True)
def _volumes(points: F64, corners: I32, flip: Flags, shell: I64, bases: F64):  # type: ignore[no-untyped-def]
    """Signed volume of each shell, measured from near to it (shells, 3) for precision."""
    out = np.zeros(len(bases))
    for t in range(corners.shape[0]):
        s = shell[t]
        o = bases[s]
        a, b, c = points[corners[t, 0]] - o, points[corners[t, 1]] - o, points[corners[t, 2]] - o
        part = (a * np.cross(b, c)).sum() / 6.0
        out[s] += -part if flip[t] else part
    return out


def _holds(triangles: F64, point: F64) -> bool:
    """Whether a closed shell, triangles (k, 3, 3), holds a point: by the solid angle that it takes up there
    (van Oosterom and Strackee 1983)."""
    a, b, c = (triangles[:, k] - point for k in range(3))
    la, lb, lc = (np.linalg.norm(x, axis=1) for x in (a, b, c))
    top = np.einsum("ij,ij->i", a, np.cross(b, c))
    below = la * lb * lc + (a * b).sum(axis=1) * lc + (b * c).sum(axis=1) * la + (c * a).sum(axis=1) * lb
    return bool(abs(np.arctan2(top, below).sum()) > np.pi)
