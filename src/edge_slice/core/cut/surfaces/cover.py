"""What is certainly hidden, found in cells of a grid. That saves time and nothing else: what is seen stays the same.

First each cell tells which part lies nearest behind its middle. What is seen of these alone, exactly, covers most cells
as a whole; what lies behind what covers all the cells that it touches is hidden."""

from __future__ import annotations

import math

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
GAP = 1e-3  # mm²; a cell of which less is free is covered


def grid_over(points: F64, parts: int) -> Grid:
    """Cells over points (n, 2) of so many parts; they lie the same where a cut moves and the points all but stay."""
    low, high = points.min(axis=0), points.max(axis=0)
    wide, tall = np.maximum(high - low, 1.0).tolist()
    most = min(MOST_CELLS, max(4096, CELLS_A_PART * parts))
    size = max((wide * tall / most) ** 0.5, max(wide, tall) / 8000)
    size = 2.0 ** (math.ceil(2.0 * math.log2(size)) / 2.0)
    left, base = (np.floor(low / size) * size).tolist()
    return Grid(left, base, size, int((high[0] - left) / size) + 1, int((high[1] - base) / size) + 1)


def nearest_parts(parts: Parts, planes: F64, hides: Flags, grid: Grid) -> Flags:
    """Which parts (k,) are the nearest of those that hide behind the middle of some cell; planes (k, 3) as (a, b, c)
    with w = a u + b v + c."""
    found = np.zeros(len(parts.triangle), dtype=bool)
    first = _nearest(parts.points, parts.starts, planes, hides, grid)
    found[first[first >= 0]] = True
    return found


def covered_by(seen: Shapes, planes: F64, grid: Grid) -> F64:
    """For each cell the depth behind which seen shapes (s,), of which none overlaps another, cover all of it together;
    infinity where they don't. planes (s, 3)."""
    polygons, of = shapely.get_parts(shapely.orient_polygons(seen), return_index=True)
    rings, owner = shapely.get_rings(polygons, return_index=True)
    points, index = shapely.get_coordinates(rings, return_index=True)
    starts = np.searchsorted(index, np.arange(len(rings) + 1)).astype(np.int64)
    first = np.searchsorted(owner, np.arange(len(polygons) + 1)).astype(np.int64)
    area = _areas(points, starts, grid)
    deep = _deepest(points, starts, first, planes[of], grid)
    return np.where(area >= grid.size**2 - GAP, deep + BEHIND, np.inf)


def hidden_parts(parts: Parts, cover: F64, grid: Grid) -> Flags:
    """Which parts (k,) lie behind what covers the cells that they touch."""
    found: Flags = _hidden(parts.points, parts.starts, cover, grid)
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
def _nearest(points: F64, starts: I64, planes: F64, hides: Flags, grid: Grid):  # type: ignore[no-untyped-def]
    left, base, size, columns, rows = grid
    depth = np.full(columns * rows, np.inf)
    first = np.full(columns * rows, -1, np.int64)
    for k in range(starts.shape[0] - 1):
        if not hides[k]:
            continue
        ring = points[starts[k] : starts[k + 1]]
        _, _, r0, r1 = _cells(ring, grid)
        for row in range(r0, r1 + 1):
            v = base + (row + 0.5) * size
            low, high = np.inf, -np.inf  # where the row's middle passes through: parts are convex
            for j in range(ring.shape[0]):
                p, q = ring[j], ring[(j + 1) % ring.shape[0]]
                if (p[1] <= v) != (q[1] <= v):
                    u = p[0] + (v - p[1]) / (q[1] - p[1]) * (q[0] - p[0])
                    low, high = min(low, u), max(high, u)
            if low > high:
                continue
            c0 = max(0, int(np.ceil((low - left) / size - 0.5)))
            c1 = min(columns - 1, int(np.floor((high - left) / size - 0.5)))
            for c in range(c0, c1 + 1):
                w = planes[k, 0] * (left + (c + 0.5) * size) + planes[k, 1] * v + planes[k, 2]
                if w < depth[row * columns + c]:
                    depth[row * columns + c], first[row * columns + c] = w, k
    return first


@njit(cache=True, nogil=True)
def _areas(points: F64, starts: I64, grid: Grid):  # type: ignore[no-untyped-def]
    """How much of each cell lies within rings (outer ones counter-clockwise), mm²: what each of their sides has at its
    left within a row, summed along the row."""
    left, base, size, columns, rows = grid
    here = np.zeros(columns * rows)  # beside the side, in its cell
    on = np.zeros((columns + 1) * rows)  # and in all cells further right
    for r in range(starts.shape[0] - 1):
        for n in range(starts[r], starts[r + 1] - 1):
            x0, y0 = (points[n, 0] - left) / size, (points[n, 1] - base) / size
            x1, y1 = (points[n + 1, 0] - left) / size, (points[n + 1, 1] - base) / size
            if y0 == y1:
                continue
            sign = -1.0 if y1 > y0 else 1.0
            if y0 > y1:
                x0, y0, x1, y1 = x1, y1, x0, y0
            slope = (x1 - x0) / (y1 - y0)
            for row in range(max(0, int(y0)), min(rows - 1, int(y1)) + 1):
                a, b = max(y0, float(row)), min(y1, float(row + 1))
                if b > a:
                    _row_area(here, on, row, (x0 + (a - y0) * slope, x0 + (b - y0) * slope, b - a, sign), columns)
    for row in range(rows):
        total = 0.0
        for c in range(columns):
            total += on[row * (columns + 1) + c]
            here[row * columns + c] += total
    return np.abs(here) * size * size


@njit(cache=True, nogil=True)
def _row_area(here: F64, on: F64, row: int, side, columns: int):  # type: ignore[no-untyped-def]
    """One side within a row, from xa to xb, `high` of the row's height."""
    xa, xb, high, sign = side
    low, up = min(xa, xb), max(xa, xb)
    c0, c1 = min(max(int(np.floor(low)), 0), columns - 1), min(max(int(np.floor(up)), 0), columns - 1)
    for c in range(c0, c1 + 1):
        if c1 == c0:
            share, middle = 1.0, (low + up) / 2
        else:
            p, q = max(low, float(c)), min(up, float(c + 1))
            share, middle = (q - p) / (up - low), (p + q) / 2
        part = sign * high * share
        here[row * columns + c] += part * min(max(c + 1 - middle, 0.0), 1.0)
        on[row * (columns + 1) + c + 1] += part


@njit(cache=True, nogil=True)
def _deepest(points: F64, starts: I64, first: I64, planes: F64, grid: Grid):  # type: ignore[no-untyped-def]
    """The greatest depth, over each cell, of the planes of shapes that reach into it."""
    left, base, size, columns, rows = grid
    deep = np.full(columns * rows, -np.inf)
    for f in range(first.shape[0] - 1):
        begin, end = starts[first[f]], starts[first[f + 1]]
        if begin == end:
            continue
        most = (abs(planes[f, 0]) + abs(planes[f, 1])) * size / 2 + planes[f, 2]
        _, _, r0, r1 = _cells(points[begin:end], grid)
        crossings = np.empty(end - begin)
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
                c0, c1 = int((within[n] - left) / size), int((within[n + 1] - left) / size)
                for c in range(max(c0, 0), min(c1, columns - 1) + 1):
                    w = planes[f, 0] * (left + (c + 0.5) * size) + planes[f, 1] * v + most
                    deep[row * columns + c] = max(deep[row * columns + c], w)
        for r in range(first[f], first[f + 1]):
            for n in range(starts[r], starts[r + 1] - 1):
                _along(points[n], points[n + 1], (planes[f, 0], planes[f, 1], most), deep, grid)
    return deep


@njit(cache=True, nogil=True)
def _along(p: F64, q: F64, plane, deep: F64, grid: Grid):  # type: ignore[no-untyped-def]
    """The same for the cells that a side passes through, row by row."""
    left, base, size, columns, rows = grid
    a, b = (p, q) if p[1] <= q[1] else (q, p)
    r0, r1 = max(0, int((a[1] - base) / size - 1e-6)), min(rows - 1, int((b[1] - base) / size + 1e-6))
    for row in range(r0, r1 + 1):
        u, w = a[0], b[0]
        if b[1] - a[1] > 1e-9:
            low, high = max(a[1], base + row * size), min(b[1], base + (row + 1) * size)
            u = a[0] + (min(max(low, a[1]), b[1]) - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
            w = a[0] + (min(max(high, a[1]), b[1]) - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
        c0 = max(0, int((min(u, w) - left) / size - 1e-6))
        c1 = min(columns - 1, int((max(u, w) - left) / size + 1e-6))
        for c in range(c0, c1 + 1):
            at = plane[0] * (left + (c + 0.5) * size) + plane[1] * (base + (row + 0.5) * size) + plane[2]
            deep[row * columns + c] = max(deep[row * columns + c], at)


@njit(cache=True, nogil=True)
def _hidden(points: F64, starts: I64, cover: F64, grid: Grid):  # type: ignore[no-untyped-def]
    found = np.zeros(starts.shape[0] - 1, np.bool_)
    for k in range(starts.shape[0] - 1):
        ring = points[starts[k] : starts[k + 1]]
        nearest = ring[:, 2].min()
        c0, c1, r0, r1 = _cells(ring, grid)
        hidden = True
        for r in range(r0, r1 + 1):
            for c in range(c0, c1 + 1):
                if cover[r * grid[3] + c] > nearest:
                    hidden = False
                    break
            if not hidden:
                break
        found[k] = hidden
    return found
