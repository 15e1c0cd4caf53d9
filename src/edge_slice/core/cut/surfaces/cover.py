"""What is certainly hidden: parts that lie behind others in every cell of a grid that they touch.

Saves time and nothing else: what is seen does not depend on it."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.occluders import Grid
from edge_slice.core.cut.surfaces.parts import Parts

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Shapes = NDArray[np.object_]
MOST_CELLS = 2_000_000
CELLS_A_PART = 6
BEHIND = 0.5  # mm; what lies less far behind what covers a cell is looked at


def grid_over(points: F64, parts: int) -> Grid:
    """Cells over points (n, 2) of so many parts."""
    low, high = points.min(axis=0), points.max(axis=0)
    wide, tall = np.maximum(high - low, 1.0).tolist()
    most = min(MOST_CELLS, max(4096, CELLS_A_PART * parts))
    size = max((wide * tall / most) ** 0.5, max(wide, tall) / 8000)
    return Grid(float(low[0]), float(low[1]), size, int(wide / size) + 1, int(tall / size) + 1)


def covered_by_parts(parts: Parts, planes: F64, hides: Flags, grid: Grid) -> F64:
    """For each cell the depth behind which one of the parts that hide (k,) covers all of it; planes (k, 3) as
    (a, b, c) with w = a u + b v + c."""
    cover: F64 = _cover_by_parts(parts.points, parts.starts, planes, hides, grid)
    return cover


def hidden_parts(parts: Parts, cover: F64, grid: Grid) -> Flags:
    """Which parts (k,) lie behind what covers the cells that they touch."""
    found: Flags = _hidden(parts.points, parts.starts, cover, grid)
    return found


def hidden_faces(shapes: Shapes, planes: F64, hides: Flags, grid: Grid) -> Flags:
    """Which flat faces (f,) lie behind others that cover the cells that they touch: a whole face covers what none of
    its parts does alone."""
    rings = shapely.get_rings(shapes)
    _, owner = shapely.get_rings(shapes, return_index=True)
    points, index = shapely.get_coordinates(rings, return_index=True)
    starts = np.searchsorted(index, np.arange(len(rings) + 1)).astype(np.int64)
    first = np.searchsorted(owner, np.arange(len(shapes) + 1)).astype(np.int64)
    cover = _cover_by_faces(points, starts, first, planes, hides, grid)
    found: Flags = _hidden_faces(points, starts, first, planes, cover, grid)
    return found


@njit(cache=True, nogil=True)
def _cover_by_faces(points: F64, starts: I64, first: I64, planes: F64, hides: Flags, grid: Grid):  # type: ignore[no-untyped-def]
    """A cell lies within a face where no side of it passes through the cell and the cell's middle lies within."""
    left, base, size, columns, rows = grid
    cover = np.full(columns * rows, np.inf)
    touched = np.full(columns * rows, -1, np.int32)
    half = size / 2 * (1 + 1e-9)
    for f in range(first.shape[0] - 1):
        begin, end = starts[first[f]], starts[first[f + 1]]
        if not hides[f] or end == begin:
            continue
        ring = points[begin:end]
        if np.ptp(ring[:, 0]) < size or np.ptp(ring[:, 1]) < size:
            continue
        c0, c1, r0, r1 = _cells(ring, grid)
        crossings = np.empty(end - begin)
        for r in range(first[f], first[f + 1]):
            for n in range(starts[r], starts[r + 1] - 1):
                _touch(points[n], points[n + 1], touched, f, grid)
        deep = (abs(planes[f, 0]) + abs(planes[f, 1])) * half + planes[f, 2] + BEHIND
        for row in range(r0, r1 + 1):
            v = base + (row + 0.5) * size
            count = 0
            for r in range(first[f], first[f + 1]):
                for n in range(starts[r], starts[r + 1] - 1):
                    a, b = points[n], points[n + 1]
                    if (a[1] <= v) != (b[1] <= v):
                        crossings[count] = a[0] + (v - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
                        count += 1
            within = np.sort(crossings[:count])
            for n in range(0, count - 1, 2):
                for c in range(
                    max(c0, int((within[n] - left) / size)), min(c1, int((within[n + 1] - left) / size)) + 1
                ):
                    u = left + (c + 0.5) * size
                    cell = row * columns + c
                    if within[n] < u < within[n + 1] and touched[cell] != f:
                        cover[cell] = min(cover[cell], planes[f, 0] * u + planes[f, 1] * v + deep)
    return cover


@njit(cache=True, nogil=True)
def _touch(p: F64, q: F64, touched, face, grid: Grid):  # type: ignore[no-untyped-def]
    """Mark the cells that a side passes through, row by row."""
    left, base, size, columns, rows = grid
    a, b = (p, q) if p[1] <= q[1] else (q, p)
    r0, r1 = max(0, int((a[1] - base) / size - 1e-6)), min(rows - 1, int((b[1] - base) / size + 1e-6))
    for row in range(r0, r1 + 1):
        low, high = max(a[1], base + row * size), min(b[1], base + (row + 1) * size)
        if b[1] - a[1] > 1e-9:
            u = a[0] + (min(max(low, a[1]), b[1]) - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
            w = a[0] + (min(max(high, a[1]), b[1]) - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
        else:
            u, w = a[0], b[0]
        c0 = max(0, int((min(u, w) - left) / size - 1e-6))
        c1 = min(columns - 1, int((max(u, w) - left) / size + 1e-6))
        for c in range(c0, c1 + 1):
            touched[row * columns + c] = face


@njit(cache=True, nogil=True)
def _hidden_faces(points: F64, starts: I64, first: I64, planes: F64, cover: F64, grid: Grid):  # type: ignore[no-untyped-def]
    found = np.zeros(first.shape[0] - 1, np.bool_)
    for f in range(first.shape[0] - 1):
        ring = points[starts[first[f]] : starts[first[f + 1]]]
        if not ring.shape[0]:
            continue
        nearest = (planes[f, 0] * ring[:, 0] + planes[f, 1] * ring[:, 1] + planes[f, 2]).min()
        found[f] = _all_covered(ring, nearest, cover, grid)
    return found


@njit(cache=True, nogil=True)
def _cells(ring: F64, grid: Grid):  # type: ignore[no-untyped-def]
    """First and last column and row that a ring reaches into."""
    left, base, size, columns, rows = grid
    c0 = max(0, int((ring[:, 0].min() - left) / size))
    c1 = min(columns - 1, int((ring[:, 0].max() - left) / size))
    r0 = max(0, int((ring[:, 1].min() - base) / size))
    r1 = min(rows - 1, int((ring[:, 1].max() - base) / size))
    return c0, c1, r0, r1


@njit(cache=True, nogil=True)
def _cover_by_parts(points: F64, starts: I64, planes: F64, hides: Flags, grid: Grid):  # type: ignore[no-untyped-def]
    left, base, size, columns, rows = grid
    cover = np.full(columns * rows, np.inf)
    half = size / 2 * (1 + 1e-9)
    sides = np.empty((8, 3))
    for k in range(starts.shape[0] - 1):
        ring = points[starts[k] : starts[k + 1]]
        if not hides[k] or np.ptp(ring[:, 0]) < size or np.ptp(ring[:, 1]) < size:
            continue
        count = ring.shape[0]
        area = 0.0
        for j in range(1, count - 1):
            area += (ring[j, 0] - ring[0, 0]) * (ring[j + 1, 1] - ring[0, 1])
            area -= (ring[j, 1] - ring[0, 1]) * (ring[j + 1, 0] - ring[0, 0])
        sign = 1.0 if area > 0 else -1.0
        for j in range(count):
            p, q = ring[j], ring[(j + 1) % count]
            sides[j, 0], sides[j, 1] = -sign * (q[1] - p[1]), sign * (q[0] - p[0])
            sides[j, 2] = -(sides[j, 0] * p[0] + sides[j, 1] * p[1])
        deep = (abs(planes[k, 0]) + abs(planes[k, 1])) * half + planes[k, 2] + BEHIND
        c0, c1, r0, r1 = _cells(ring, grid)
        for r in range(r0, r1 + 1):
            v = base + (r + 0.5) * size
            for c in range(c0, c1 + 1):
                u = left + (c + 0.5) * size
                inside = True
                for j in range(count):
                    a, b = sides[j, 0], sides[j, 1]
                    if a * u + b * v + sides[j, 2] < (abs(a) + abs(b)) * half:
                        inside = False
                        break
                if inside:
                    cell = r * columns + c
                    cover[cell] = min(cover[cell], planes[k, 0] * u + planes[k, 1] * v + deep)
    return cover


@njit(cache=True, nogil=True)
def _hidden(points: F64, starts: I64, cover: F64, grid: Grid):  # type: ignore[no-untyped-def]
    found = np.zeros(starts.shape[0] - 1, np.bool_)
    for k in range(starts.shape[0] - 1):
        ring = points[starts[k] : starts[k + 1]]
        found[k] = _all_covered(ring, ring[:, 2].min(), cover, grid)
    return found


@njit(cache=True, nogil=True)
def _all_covered(ring: F64, nearest: float, cover: F64, grid: Grid):  # type: ignore[no-untyped-def]
    c0, c1, r0, r1 = _cells(ring, grid)
    for r in range(r0, r1 + 1):
        for c in range(c0, c1 + 1):
            if cover[r * grid[3] + c] > nearest:
                return False
    return True
