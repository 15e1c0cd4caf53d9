"""What conceals, made ready for the walk of `occlusion`: triangles beyond the cut, measured, ordered from front to
back and binned in a uniform grid on the drawing plane. A cell that lies wholly within a triangle, or within two that
share a plane, knows the depth behind which everything in it is covered."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
FLAT = 0.01  # mm; triangles that leave a common plane by less lie in it
TOUCH = 0.01  # mm; an edge this near the outline of a nearer triangle is not behind it
BEHIND = 0.05  # mm; nearer by less than this counts as touching
DEPTH_STEPS = 16384


class Grid(NamedTuple):
    """Square cells over the drawing: their lower left corner (mm), size, and how many."""

    left: float
    base: float
    size: float
    columns: int
    rows: int


class Seen(NamedTuple):
    """Triangles as seen: the lines of their sides (n, 3, 3), their depth as a plane (n, 4), their boxes (n, 4)."""

    sides: F64
    plane: F64
    box: F64


class Cells(NamedTuple):
    """Of each cell the depth behind which it is covered; its triangles are items[start[c]:start[c + 1]]."""

    cover: F64
    start: NDArray[np.int64]
    items: I32


@njit(cache=True, nogil=True)
def clip_triangles(points: F64, triangles: I32, use: NDArray[np.bool_], border: NDArray[np.uint8], far: float):  # type: ignore[no-untyped-def]
    """The parts of triangles with w >= 0, as corners (k, 3, 3), border bits (k,) and the triangle (k,) that a part
    is the whole of, else -1; those wholly beyond `far` are left out.

    border (m,): bit j is set where side j (corner j to j + 1) is on the outline of what can be seen, so that
    lines that run exactly along it stay visible; sides made by clipping are never on the outline.
    """
    count = 0
    for t in range(triangles.shape[0]):
        if use[t]:
            a, b, c = points[triangles[t, 0], 2], points[triangles[t, 1], 2], points[triangles[t, 2], 2]
            s = (a >= 0) + (b >= 0) + (c >= 0)
            if s > 0 and min(a, b, c) < far:
                count += 2 if s == 2 else 1
    out = np.empty((count, 3, 3))
    bits = np.zeros(count, np.uint8)
    whole = np.full(count, -1, np.int32)
    poly = np.empty((4, 3))
    flag = np.zeros(4, np.bool_)
    i = 0
    for t in range(triangles.shape[0]):
        if not use[t]:
            continue
        if min(points[triangles[t, 0], 2], points[triangles[t, 1], 2], points[triangles[t, 2], 2]) >= far:
            continue
        n = 0
        for k in range(3):
            p, q = points[triangles[t, k]], points[triangles[t, (k + 1) % 3]]
            edge_flag = (border[t] >> k) & 1
            if p[2] >= 0:
                poly[n], flag[n] = p, edge_flag
                n += 1
            if (p[2] >= 0) != (q[2] >= 0):
                share = p[2] / (p[2] - q[2])
                poly[n] = p + share * (q - p)
                poly[n, 2] = 0.0
                flag[n] = edge_flag if p[2] < 0 else False
                n += 1
        if n < 3:
            continue
        for k in range(1, n - 1):
            out[i, 0], out[i, 1], out[i, 2] = poly[0], poly[k], poly[k + 1]
            b = 0
            if k == 1 and flag[0]:
                b |= 1
            if flag[k]:
                b |= 2
            if k == n - 2 and flag[n - 1]:
                b |= 4
            bits[i] = b
            if n == 3 and min(points[triangles[t, 0], 2], points[triangles[t, 1], 2], points[triangles[t, 2], 2]) >= 0:
                whole[i] = t
            i += 1
    return out[:i], bits[:i], whole[:i]


@njit(cache=True, nogil=True)
def _off_plane(points: F64, corners: I32, p: F64):  # type: ignore[no-untyped-def]
    """Distance of a point from a triangle's plane."""
    a, b, c = points[corners[0]], points[corners[1]], points[corners[2]]
    u0, u1, u2 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    v0, v1, v2 = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    n0, n1, n2 = u1 * v2 - u2 * v1, u2 * v0 - u0 * v2, u0 * v1 - u1 * v0
    off = (p[0] - a[0]) * n0 + (p[1] - a[1]) * n1 + (p[2] - a[2]) * n2
    return off / max(np.sqrt(n0 * n0 + n1 * n1 + n2 * n2), 1e-9)


@njit(cache=True, nogil=True)
def flat_mates(points: F64, triangles: I32, neighbours: I32, border: NDArray[np.uint8], whole: I32):  # type: ignore[no-untyped-def]
    """For each part (k,) from `clip_triangles` the part that continues it in one plane across its longest inner
    side, with the sides that they share in either: (k, 3) int32, -1 for none. Two triangles of a rectangle cover
    together what neither does alone."""
    mates = np.full((whole.shape[0], 3), -1, np.int32)
    part_of = np.full(triangles.shape[0], -1, np.int32)
    for i in range(whole.shape[0]):
        if whole[i] >= 0:
            part_of[whole[i]] = i
    for i in range(whole.shape[0]):
        t = whole[i]
        if t < 0:
            continue
        best, side = 0.0, -1
        for k in range(3):
            p, q = points[triangles[t, k]], points[triangles[t, (k + 1) % 3]]
            length = (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2
            if not (border[t] >> k) & 1 and neighbours[t, k] >= 0 and length > best:
                best, side = length, k
        if side < 0:
            continue
        n = neighbours[t, side]
        if part_of[n] < i:  # each pair once, from its first part
            continue
        for k in range(3):
            if neighbours[n, k] == t:
                off = _off_plane(points, triangles[t], points[triangles[n, (k + 2) % 3]])
                if abs(off) <= FLAT:
                    mates[i, 0], mates[i, 1], mates[i, 2] = part_of[n], side, k
                break
    return mates


@njit(cache=True, nogil=True)
def measured(corners: F64, bits: NDArray[np.uint8], window: F64):  # type: ignore[no-untyped-def]
    """What the walk needs of each triangle that meets the window (left, base, right, top): three inward side lines
    (a, b, c with the touch margin), its plane w = g0 u + g1 v + g2 + g3 with the behind margin in g3, the box that
    bounds what it may cover, its nearest depth, and its place (corners,) among those that are kept, else -1."""
    n = corners.shape[0]
    sides = np.empty((n, 3, 3))
    plane = np.empty((n, 4))
    box = np.empty((n, 4))
    nearest = np.empty(n)
    kept = np.full(n, -1, np.int32)
    m = 0
    for t in range(n):
        a, b, c = corners[t, 0], corners[t, 1], corners[t, 2]
        outside = False
        for k in range(2):
            box[m, k] = min(a[k], b[k], c[k]) - TOUCH
            box[m, k + 2] = max(a[k], b[k], c[k]) + TOUCH
            outside = outside or box[m, k] > window[k + 2] or box[m, k + 2] < window[k]
        if outside:
            continue
        area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
        longest = max(
            np.hypot(b[0] - a[0], b[1] - a[1]),
            max(np.hypot(c[0] - b[0], c[1] - b[1]), np.hypot(a[0] - c[0], a[1] - c[1])),
        )
        if abs(area) <= 2e-3 * longest:  # seen edge-on: it hides nothing
            continue
        sign = 1.0 if area > 0 else -1.0
        for k in range(3):
            p, q = corners[t, k], corners[t, (k + 1) % 3]
            length = np.hypot(q[0] - p[0], q[1] - p[1])
            if length == 0:
                length = 1.0
            na, nb = -sign * (q[1] - p[1]) / length, sign * (q[0] - p[0]) / length
            margin = -TOUCH if (bits[t] >> k) & 1 else TOUCH
            sides[m, k, 0], sides[m, k, 1] = na, nb
            sides[m, k, 2] = -(na * p[0] + nb * p[1]) + margin
        du1, dv1, dw1 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        du2, dv2, dw2 = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        plane[m, 0] = (dw1 * dv2 - dw2 * dv1) / area
        plane[m, 1] = (du1 * dw2 - du2 * dw1) / area
        plane[m, 2] = a[2] - plane[m, 0] * a[0] - plane[m, 1] * a[1]
        plane[m, 3] = BEHIND + TOUCH * (abs(plane[m, 0]) + abs(plane[m, 1]))
        nearest[m] = min(a[2], b[2], c[2])
        kept[t] = m
        m += 1
    return sides[:m], plane[:m], box[:m], nearest[:m], kept


@njit(cache=True, nogil=True)
def front_to_back(nearest: F64):  # type: ignore[no-untyped-def]
    """An order of triangles by depth in steps, and the depth at the beginning of each one's step: a counting sort."""
    n = nearest.shape[0]
    low, high = nearest.min(), nearest.max()
    size = max((high - low) / DEPTH_STEPS, 1e-6)
    start = np.zeros(DEPTH_STEPS + 2, np.int64)
    for t in range(n):
        start[int((nearest[t] - low) / size) + 1] += 1
    for k in range(DEPTH_STEPS + 1):
        start[k + 1] += start[k]
    order = np.empty(n, np.int32)
    floor = np.empty(n)
    for t in range(n):
        k = int((nearest[t] - low) / size)
        order[start[k]] = t
        start[k] += 1
        floor[t] = low + k * size
    return order, floor


@njit(cache=True, nogil=True)
def covered_behind(  # type: ignore[no-untyped-def]
    seen: Seen, mates: I32, kept: I32, grid: Grid
):
    """For each cell the depth behind which all of it is covered by one triangle, or by one and its mate."""
    sides, plane, box = seen
    cover = np.full(grid.columns * grid.rows, np.inf)
    for t in range(sides.shape[0]):
        _cover_cells(cover, sides[t], plane[t], box[t], grid)
    lines = np.empty((4, 3))
    both = np.empty(4)
    for i in range(mates.shape[0]):
        t = kept[i]
        m = kept[mates[i, 0]] if mates[i, 0] >= 0 else -1
        if t < 0 or m < 0:
            continue
        n = 0
        for k in range(3):
            if k != mates[i, 1]:
                lines[n] = sides[t, k]
                n += 1
            if k != mates[i, 2]:
                lines[n] = sides[m, k]
                n += 1
        for k in range(2):
            both[k], both[k + 2] = min(box[t, k], box[m, k]), max(box[t, k + 2], box[m, k + 2])
        slope = plane[t] if plane[t, 3] >= plane[m, 3] else plane[m]
        _cover_cells(cover, lines, slope, both, grid)
    return cover


@njit(cache=True, nogil=True)
def _cover_cells(  # type: ignore[no-untyped-def]
    cover: F64, s: F64, g: F64, box: F64, grid: Grid
):
    """Enter the depth of a plane g in the cells of `box` that lie wholly within the lines s (n, 3)."""
    low_u, low_v, size, columns, rows = grid
    if box[2] - box[0] < size or box[3] - box[1] < size:
        return
    half = size / 2
    c0, c1 = max(0, int((box[0] - low_u) / size)), min(columns - 1, int((box[2] - low_u) / size))
    r0, r1 = max(0, int((box[1] - low_v) / size)), min(rows - 1, int((box[3] - low_v) / size))
    deep = (abs(g[0]) + abs(g[1])) * half + g[2] + g[3] + 2 * FLAT * (1.0 + abs(g[0]) + abs(g[1]))
    for r in range(r0, r1 + 1):
        v = low_v + (r + 0.5) * size
        for c in range(c0, c1 + 1):
            u = low_u + (c + 0.5) * size
            inside = True
            for k in range(s.shape[0]):
                if s[k, 0] * u + s[k, 1] * v + s[k, 2] < (abs(s[k, 0]) + abs(s[k, 1])) * half:
                    inside = False
                    break
            if inside:
                cell = r * columns + c
                cover[cell] = min(cover[cell], g[0] * u + g[1] * v + deep)


@njit(cache=True, nogil=True)
def binned(  # type: ignore[no-untyped-def]
    box: F64, floor: F64, order: I32, cover: F64, grid: Grid
):
    """Triangles by grid cell, the nearest first: cell c holds items[start[c]:start[c + 1]]. Boxes are taken a little
    larger than what a triangle may cover. What lies behind a cell's cover is left out."""
    low_u, low_v, size, columns, rows = grid
    start = np.zeros(columns * rows + 1, np.int64)
    for phase in range(2):
        if phase == 1:
            for c in range(columns * rows):
                start[c + 1] += start[c]
            fill = start[:-1].copy()
            items = np.empty(start[-1], np.int32)
        for i in range(order.shape[0]):
            t = order[i]
            c0 = max(0, int((box[t, 0] - TOUCH - low_u) / size))
            r0 = max(0, int((box[t, 1] - TOUCH - low_v) / size))
            c1 = min(columns - 1, int((box[t, 2] + TOUCH - low_u) / size))
            r1 = min(rows - 1, int((box[t, 3] + TOUCH - low_v) / size))
            for r in range(r0, r1 + 1):
                for c in range(c0, c1 + 1):
                    cell = r * columns + c
                    if floor[t] >= cover[cell]:
                        continue
                    if phase == 0:
                        start[cell + 1] += 1
                    else:
                        items[fill[cell]] = t
                        fill[cell] += 1
    return start, items
