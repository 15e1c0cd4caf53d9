"""Borders of cut pieces, each drawn once and classed: between like neighbours none, between layers of one
element a layer line, everywhere else an outline.

Segments are grouped by the straight line that they lie on; along each line a sweep finds which pieces touch
every stretch. So coincident borders need no overlay of polygons.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.collinear import line_groups

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NEAR = 0.05  # mm; what is that near to the side of a region lies on it
NONE, LAYER, OTHER, STRUCTURE = 0, 1, 2, 3


class Lines(NamedTuple):
    """Of each segment (n,): its line, and where on it it begins and ends."""

    group: I64
    t0: F64
    t1: F64


class Pieces(NamedTuple):
    """Of each segment (n,) its piece; of each piece (p,) its element, what it merges with, and its weight."""

    piece: I64
    element: I64
    like: I64
    structure: NDArray[np.bool_]


@njit(cache=True, nogil=True)
def _sweep(  # type: ignore[no-untyped-def]
    order: I64, lines: Lines, pieces: Pieces, least: float
):
    """Stretches of every line with their class: index of a segment that holds it, from, to, class."""
    group, t0, t1 = lines
    piece, element, like, structure = pieces
    index = np.empty(4 * order.shape[0] + 16, np.int64)
    span = np.empty((index.shape[0], 2))
    kind = np.empty(index.shape[0], np.int8)
    filled = 0
    first = 0
    while first < order.shape[0]:
        last = first
        while last < order.shape[0] and group[order[last]] == group[order[first]]:
            last += 1
        marks = np.empty(2 * (last - first))
        for k in range(first, last):
            marks[2 * (k - first)], marks[2 * (k - first) + 1] = t0[order[k]], t1[order[k]]
        marks = np.sort(marks)
        at = marks[0]
        for m in range(1, marks.shape[0]):
            if marks[m] - at < least:
                continue
            middle = (at + marks[m]) / 2
            a, b = -1, -1
            for k in range(first, last):
                s = order[k]
                if t0[s] > middle:
                    break
                if t1[s] < middle:
                    continue
                if a < 0:
                    a = s
                elif b < 0 and piece[s] != piece[a]:
                    b = s
            if a >= 0:
                if b < 0:
                    c = STRUCTURE if structure[piece[a]] else OTHER
                elif like[piece[a]] == like[piece[b]]:
                    c = NONE
                elif element[piece[a]] == element[piece[b]]:
                    c = LAYER
                else:
                    c = STRUCTURE if structure[piece[a]] or structure[piece[b]] else OTHER
                if c != NONE:
                    if filled == index.shape[0]:
                        index2, span2, kind2 = (
                            np.empty(2 * filled, np.int64),
                            np.empty((2 * filled, 2)),
                            np.empty(2 * filled, np.int8),
                        )
                        index2[:filled], span2[:filled], kind2[:filled] = index, span, kind
                        index, span, kind = index2, span2, kind2
                    index[filled], span[filled, 0], span[filled, 1], kind[filled] = a, at, marks[m], c
                    filled += 1
            at = marks[m]
        first = last
    return index[:filled], span[:filled], kind[:filled]


def classed_borders(
    polygons: list[shapely.Polygon], element: I64, like: I64, structure: NDArray[np.bool_]
) -> dict[int, F64]:
    """Border segments (n, 4) by class.

    polygons (p) in mm; element, like (p,): which element a piece belongs to, and which pieces merge;
    structure (p,): drawn with the heavier pen.
    """
    if not polygons:
        return {}
    rings, owner = shapely.get_rings(np.array(polygons), return_index=True)
    points, ring = shapely.get_coordinates(rings, return_index=True)
    same = ring[1:] == ring[:-1]
    segments = np.column_stack((points[:-1], points[1:]))[same]
    piece = owner[ring[:-1][same]].astype(np.int64)
    long = np.hypot(segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1]) > 1e-3
    segments, piece = segments[long], piece[long]
    group, t0, t1, turned = line_groups(segments)
    order = np.lexsort((t0, group))
    index, span, kind = _sweep(order, Lines(group, t0, t1), Pieces(piece, element, like, structure), 0.02)
    start, length = turned[index, :2], t1[index] - t0[index]
    step = (turned[index, 2:] - start) / length[:, None]
    a = start + (span[:, :1] - t0[index][:, None]) * step
    b = start + (span[:, 1:] - t0[index][:, None]) * step
    pieces = np.column_stack((a, b))
    return {int(k): pieces[kind == k] for k in np.unique(kind)}


def on_frame(segments: F64, frame: shapely.Geometry) -> NDArray[np.bool_]:
    """Which segments (n, 4) lie on the sides of a region, such as the extents of a drawing."""
    rings = shapely.get_rings(shapely.get_parts(frame))
    sides = np.concatenate([np.column_stack((r[:-1], r[1:])) for r in map(shapely.get_coordinates, rings)])
    middles = (segments[:, :2] + segments[:, 2:]) / 2
    points = np.concatenate((segments[:, :2], middles, segments[:, 2:]))
    found: NDArray[np.bool_] = _beside(points, sides).reshape(3, -1).all(axis=0)
    return found


@njit(cache=True, nogil=True)
def _beside(points: F64, sides: F64):  # type: ignore[no-untyped-def]
    """Which points (n, 2) lie on one of some segments (m, 4)."""
    found = np.zeros(points.shape[0], np.bool_)
    for i in range(points.shape[0]):
        x, y = points[i]
        for k in range(sides.shape[0]):
            dx, dy = sides[k, 2] - sides[k, 0], sides[k, 3] - sides[k, 1]
            px, py = x - sides[k, 0], y - sides[k, 1]
            t = min(1.0, max(0.0, (px * dx + py * dy) / max(dx * dx + dy * dy, 1e-30)))
            if np.hypot(px - t * dx, py - t * dy) <= NEAR:
                found[i] = True
                break
    return found
