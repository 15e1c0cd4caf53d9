"""Hatches that do not depend on the run of a layer: line families, tiles, scattered shapes, growth rings."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Paths, Pattern, PatternLine, Pen, Runs, joined, runs_of, together
from edge_slice.core.drawing.hatching.clipping import clip_lines, inside, parallel_lines, ring_boxes, rings_of
from edge_slice.core.drawing.rules.hatch_rules import LineFamily, Rings, Scatter, Tile

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
ARC = 0.8  # mm; longest side of an arc
NOTHING: Runs = (np.zeros((0, 2)), np.zeros(1, np.int64))


def pattern_line(family: LineFamily, factor: float = 1.0, variant: int = 0) -> PatternLine:
    """One family of hatch lines on paper, its sizes times `factor`. Odd variants lean the other way, or lie half a
    spacing aside where that changes nothing, so that like neighbours read as two."""
    degrees, shift = family.angle, family.shift
    if variant % 2:
        upright = degrees % 90 == 0
        degrees, shift = (degrees, shift + family.spacing / 2) if upright else (-degrees, -shift)
    dash = tuple(d * factor for d in family.dash)
    return PatternLine(degrees, family.spacing * factor, shift * factor, dash)


def pattern_strokes(polygon: shapely.Polygon, line: PatternLine) -> Runs:
    """Such lines in a polygon (paper mm)."""
    angle = math.radians(line.angle)
    return parallel_lines(polygon, math.cos(angle), math.sin(angle), line.spacing, line.shift, line.dash)


def patterned(role: str, shapes: Sequence[shapely.Polygon], lines: tuple[PatternLine, ...], pen: Pen) -> list[Paths]:
    """One item of all such lines in polygons (paper mm), with what it comes of; none where nothing is drawn."""
    strokes = [pattern_strokes(shape, line) for line in lines for shape in shapes]
    points, starts = together([rings_of(shape) for shape in shapes])
    return [replace(item, pattern=Pattern(points, starts, lines)) for item in joined(role, strokes, pen)]


def tile_lines(polygon: shapely.Polygon, tile: Tile, factor: float = 1.0, variant: int = 0) -> Runs:
    """The strokes of a tile wherever it meets the polygon, cut to it."""
    lines = [shapely.linestrings(placed) for placed in placed_strokes(polygon, tile, factor, variant)]
    if not lines:
        return NOTHING
    shapes = np.concatenate(lines)
    shapely.prepare(polygon)
    shapes = shapes[shapely.intersects(polygon, shapes)]
    inside = shapely.contains_properly(polygon, shapes)
    crossing = shapely.intersection(shapes[~inside], polygon)
    return runs_of(np.concatenate((shapes[inside], shapely.get_parts(crossing))))


def placed_strokes(polygon: shapely.Polygon, tile: Tile, factor: float = 1.0, variant: int = 0) -> list[F64]:
    """Each stroke of a tile, repeated wherever it may meet a polygon (n, p, 2)."""
    x0, y0, x1, y1 = polygon.bounds
    w, h = tile.width * factor, tile.height * factor
    reach = max(abs(c) for stroke in tile.strokes for p in stroke for c in p) * factor
    columns = np.arange(math.floor((x0 - reach - w) / w), math.ceil((x1 + reach) / w) + 1)
    rows = np.arange(math.floor((y0 - reach) / h), math.ceil((y1 + reach) / h) + 1)
    i, j = (a.ravel() for a in np.meshgrid(columns, rows))
    x = (i + (j % 2) * tile.stagger + 0.5 * (variant % 2)) * w
    corners = np.column_stack((x, j * h))
    strokes = (np.array(stroke, dtype=np.float64) * factor for stroke in tile.strokes)
    return [corners[:, None, :] + points[None, :, :] for points in strokes if len(points) > 1]


@njit(cache=True, nogil=True)
def _noise(ix, iy, salt):  # type: ignore[no-untyped-def]
    """A fixed pseudo-random number in 0..1 for each lattice place (integer hash): the same drawing twice. Numbers or
    arrays of int64."""
    h = (ix * 374761393 + iy * 668265263 + salt * 2147483647) & 0xFFFFFFFF
    h = ((h ^ (h >> 13)) * 1274126177) & 0xFFFFFFFF
    return ((h ^ (h >> 16)) & 0xFFFFFF) / 16777216.0


@njit(cache=True, nogil=True)
def _strewn(window, spacing: float, salt: int, points: F64, starts: I64):  # type: ignore[no-untyped-def]
    """Places of a jittered lattice that lie in rings: x, y (n, 2) and lattice indices (n, 2)."""
    boxes = ring_boxes(points, starts)
    i0, i1 = math.floor(window[0] / spacing), math.ceil(window[2] / spacing) + 1
    j0, j1 = math.floor(window[1] / spacing), math.ceil(window[3] / spacing) + 1
    places = np.empty(((i1 - i0) * (j1 - j0), 2))
    indices = np.empty(places.shape, np.int64)
    n = 0
    for j in range(j0, j1):
        for i in range(i0, i1):
            x = (i + 0.5 + (_noise(i, j, 1 + salt) - 0.5) * 0.9) * spacing
            y = (j + 0.5 + (_noise(i, j, 2 + salt) - 0.5) * 0.9) * spacing
            if inside(x, y, points, starts, boxes):
                places[n, 0], places[n, 1] = x, y
                indices[n, 0], indices[n, 1] = i, j
                n += 1
    return places[:n], indices[:n]


def scatter_shapes(polygon: shapely.Polygon, rule: Scatter, variant: int = 0) -> Runs:
    """Closed outlines of small shapes that lie within the polygon."""
    room = shapely.buffer(polygon, -rule.size * (0.5 if rule.shape != "dot" else 0.6))
    if room.is_empty:
        return NOTHING
    points, starts = together([rings_of(p) for p in shapely.get_parts(room)])
    places, indices = _strewn(room.bounds, rule.spacing, 10 * variant, points, starts)
    x, y = places.T
    ix, iy = indices.T
    size = rule.size * (0.7 + 0.6 * _noise(ix, iy, 3)) / 2
    turn = 2 * math.pi * _noise(ix, iy, 4)
    corners = {"dot": 6, "triangle": 3, "pebble": 7}[rule.shape]
    k = np.arange(corners)
    radius = size[:, None] * np.ones(corners)
    if rule.shape == "pebble":
        radius = radius * (0.65 + 0.45 * _noise(ix[:, None] * 7 + k, iy[:, None], 5))
    angle = turn[:, None] + 2 * math.pi * k / corners
    shapes = np.stack((x[:, None] + radius * np.cos(angle), y[:, None] + radius * np.sin(angle)), axis=2)
    return shapes.reshape(-1, 2), np.arange(0, shapes.shape[0] * corners + 1, corners, dtype=np.int64)


def ring_lines(polygon: shapely.Polygon, rule: Rings, variant: int = 0) -> Runs:
    """Growth rings about a pith beside the piece: which side differs from piece to piece, but is always the same for
    one of the same shape."""
    x0, y0, x1, y1 = polygon.bounds
    wide, high = x1 - x0, y1 - y0
    seed = round(wide * 40), round(high * 40) + variant
    side = 1.0 if _noise(*seed, 6) < 0.5 else -1.0
    pith = np.array([(x0 + x1) / 2 + side * wide * (0.15 + 0.5 * _noise(*seed, 7)), y0 - high * 0.35])
    corners = np.array([(x, y) for x in (x0, x1) for y in (y0, y1)]) - pith
    far, near = float(np.hypot(*corners.T).max()), max(float(y0 - pith[1]) * 0.9, rule.spacing)
    count = int((far - near) / rule.spacing) + 1
    index = np.arange(count, dtype=np.int64)
    radii = near + (index + 0.6 * (_noise(index, index, 8) - 0.5)) * rule.spacing
    angles = np.arctan2(corners[:, 1], corners[:, 0])
    parts = max(6, int((angles.max() - angles.min()) * far / ARC))
    a = np.linspace(angles.min(), angles.max(), parts + 1)
    arcs = pith + radii[:, None, None] * np.stack((np.cos(a), np.sin(a)), axis=1)
    return clip_lines(list(arcs), [polygon])
