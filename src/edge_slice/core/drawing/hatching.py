"""Hatches of cut faces: line families, scattered shapes, and figures fitted to a layer (ISO 128-50)."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Runs
from edge_slice.core.drawing.standard import Hatch, LineFamily, Scatter

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
FIT = 0.96  # of a layer's thickness that a fitted figure spans: it stays clear of the faces


@njit(cache=True, nogil=True)
def _scan(points: F64, starts: I64, cosine: float, sine: float, spacing: float, shift: float, dash: F64):  # type: ignore[no-untyped-def]
    """Pieces of parallel lines inside rings (even-odd), as (n, 4). Lines are fixed to the paper's origin."""
    n = points.shape[0]
    x, y = np.empty(n), np.empty(n)
    for i in range(n):
        x[i] = points[i, 0] * cosine + points[i, 1] * sine
        y[i] = -points[i, 0] * sine + points[i, 1] * cosine - shift
    low, high = int(np.ceil(y.min() / spacing)), int(np.floor(y.max() / spacing))
    if high < low:
        return np.empty((0, 4))
    rows = high - low + 1
    counts = np.zeros(rows + 1, np.int64)
    for phase in range(2):
        if phase == 1:
            for r in range(rows):
                counts[r + 1] += counts[r]
            crossings = np.empty(counts[rows])
            fill = counts[:rows].copy()
        for c in range(starts.shape[0] - 1):
            for i in range(starts[c], starts[c + 1]):
                j = i + 1 if i + 1 < starts[c + 1] else starts[c]
                if y[i] == y[j]:
                    continue
                a, b = (i, j) if y[i] < y[j] else (j, i)
                for r in range(max(low, int(np.ceil(y[a] / spacing))), min(high, int(np.ceil(y[b] / spacing)) - 1) + 1):
                    if phase == 0:
                        counts[r - low + 1] += 1
                    else:
                        share = (r * spacing - y[a]) / (y[b] - y[a])
                        crossings[fill[r - low]] = x[a] + share * (x[b] - x[a])
                        fill[r - low] += 1
    period = dash.sum()
    out = np.empty((64, 4))
    filled = 0
    for r in range(rows):
        row = np.sort(crossings[counts[r] : counts[r + 1]])
        level = (r + low) * spacing + shift
        offset = ((r + low) % 2) * period * 0.5
        for k in range(0, row.shape[0] - 1, 2):
            at, end = row[k], row[k + 1]
            while at < end:
                stop = end
                if period > 0:
                    phase_at = (at + offset) % period
                    inked = False
                    reach = 0.0
                    for d in range(dash.shape[0]):
                        reach += dash[d]
                        if phase_at < reach - 1e-9:
                            inked = d % 2 == 0
                            break
                    stop = min(end, at + (reach - phase_at))
                    if not inked:
                        at = stop + 1e-9
                        continue
                if stop - at > 0.12:
                    if filled == out.shape[0]:
                        bigger = np.empty((filled * 2, 4))
                        bigger[:filled] = out
                        out = bigger
                    out[filled, 0] = at * cosine - level * sine
                    out[filled, 1] = at * sine + level * cosine
                    out[filled, 2] = stop * cosine - level * sine
                    out[filled, 3] = stop * sine + level * cosine
                    filled += 1
                at = stop + (1e-9 if period > 0 else 0.0)
    return out[:filled]


def rings_of(polygon: shapely.Polygon) -> tuple[F64, I64]:
    """Points (n, 2) without closing points, and ring starts."""
    rings = [np.asarray(r.coords)[:-1] for r in (polygon.exterior, *polygon.interiors)]
    return np.concatenate(rings), np.r_[0, np.cumsum([len(r) for r in rings])].astype(np.int64)


def _lines(
    polygon: shapely.Polygon, cosine: float, sine: float, spacing: float, shift: float, dash: tuple[float, ...] = ()
) -> Runs:
    points, starts = rings_of(polygon)
    found: F64 = _scan(points, starts, cosine, sine, spacing, shift, np.array(dash, dtype=np.float64))
    return found.reshape(-1, 2), np.arange(0, 2 * len(found) + 1, 2, dtype=np.int64)


def family_lines(polygon: shapely.Polygon, family: LineFamily) -> Runs:
    """One family of hatch lines in a polygon (paper mm)."""
    angle = math.radians(family.angle)
    return _lines(polygon, math.cos(angle), math.sin(angle), family.spacing, family.shift, family.dash)


def _noise(ix: NDArray[np.int64], iy: NDArray[np.int64], salt: int) -> F64:
    """A fixed pseudo-random number in 0..1 for each lattice place (integer hash): the same drawing twice."""
    h = (ix * 374761393 + iy * 668265263 + salt * 2147483647) & 0xFFFFFFFF
    h = ((h ^ (h >> 13)) * 1274126177) & 0xFFFFFFFF
    return ((h ^ (h >> 16)) & 0xFFFFFF) / float(0x1000000)


def scatter_shapes(polygon: shapely.Polygon, rule: Scatter) -> Runs:
    """Closed outlines of small shapes that lie within the polygon."""
    x0, y0, x1, y1 = polygon.bounds
    s = rule.spacing
    columns, rows = np.meshgrid(
        np.arange(math.floor(x0 / s), math.ceil(x1 / s) + 1), np.arange(math.floor(y0 / s), math.ceil(y1 / s) + 1)
    )
    ix, iy = columns.ravel().astype(np.int64), rows.ravel().astype(np.int64)
    x = (ix + 0.5 + (_noise(ix, iy, 1) - 0.5) * 0.9) * s
    y = (iy + 0.5 + (_noise(ix, iy, 2) - 0.5) * 0.9) * s
    room = shapely.buffer(polygon, -rule.size * 0.5) if rule.shape != "dot" else polygon
    if room.is_empty:
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    shapely.prepare(room)
    keep = shapely.contains_xy(room, x, y)
    x, y, ix, iy = x[keep], y[keep], ix[keep], iy[keep]
    size = rule.size * (0.7 + 0.6 * _noise(ix, iy, 3)) / 2
    turn = 2 * math.pi * _noise(ix, iy, 4)
    corners = {"dot": 4, "triangle": 3, "pebble": 6}[rule.shape]
    k = np.arange(corners)
    radius = size[:, None] * np.ones(corners)
    if rule.shape == "pebble":
        radius = radius * (0.65 + 0.45 * _noise(ix[:, None] * 7 + k, iy[:, None], 5))
    angle = turn[:, None] + 2 * math.pi * k / corners
    shapes = np.stack((x[:, None] + radius * np.cos(angle), y[:, None] + radius * np.sin(angle)), axis=2)
    return shapes.reshape(-1, 2), np.arange(0, shapes.shape[0] * corners + 1, corners, dtype=np.int64)


def _layer_axes(
    polygon: shapely.Polygon, normal: tuple[float, float] | None, low: float, high: float
) -> tuple[F64, float, float]:
    """Unit vector along the layer, and where across it starts and ends; without a strip, the longest side."""
    if normal is not None:
        return np.array([-normal[1], normal[0]]), low, high
    box = shapely.minimum_rotated_rectangle(polygon)
    corners = (
        np.asarray(box.exterior.coords)[:4] if box.geom_type == "Polygon" else np.asarray(polygon.exterior.coords)[:4]
    )
    sides = np.roll(corners, -1, axis=0) - corners
    lengths = np.hypot(sides[:, 0], sides[:, 1])
    along = sides[int(lengths.argmax())] / lengths.max()
    across = corners @ np.array([along[1], -along[0]])
    return along, float(across.min()), float(across.max())


def fitted_lines(
    polygon: shapely.Polygon, hatch: Hatch, normal: tuple[float, float] | None, low: float, high: float
) -> Runs:
    """Batt, zigzag or long lines that follow a layer, cut to the polygon; strip values in paper mm."""
    none = (np.zeros((0, 2)), np.zeros(1, np.int64))
    along, a, b = _layer_axes(polygon, normal, low, high)
    across = np.array([along[1], -along[0]])
    if normal is not None and float(across @ np.array(normal)) < 0:
        across = -across
    thick = b - a
    if thick < 0.3:
        return none
    if hatch.along is not None:
        spacing = thick / (int(thick / hatch.along.spacing) + 1)
        side = along if float(across @ np.array([-along[1], along[0]])) > 0 else -along
        return _lines(polygon, float(side[0]), float(side[1]), spacing, a)
    reach = np.asarray(polygon.exterior.coords) @ along
    start, end = float(reach.min()), float(reach.max())
    if hatch.batt is not None:
        figure = _figure(_batt(start, end, a, b, hatch.batt.pitch * thick), along, across)
    elif hatch.zigzag is not None:
        figure = _figure(_zigzag(start, end, a, b, hatch.zigzag.pitch * thick), along, across)
    else:
        return none
    points, starts = rings_of(polygon)
    pieces: F64 = _clip(figure, points, starts)
    return _chain(pieces)


def _figure(st: F64, along: F64, across: F64) -> F64:
    figure: F64 = st[:, :1] * along + st[:, 1:] * across
    return figure


@njit(cache=True, nogil=True)
def _clip(line: F64, points: F64, starts: I64):  # type: ignore[no-untyped-def]
    """The parts of a polyline (n, 2) inside rings (even-odd), as segments (k, 4) in order."""
    out = np.empty((line.shape[0] * 2 + 16, 4))
    filled = 0
    cuts = np.empty(points.shape[0] + 2)
    for i in range(line.shape[0] - 1):
        p, d = line[i], line[i + 1] - line[i]
        count = 2
        cuts[0], cuts[1] = 0.0, 1.0
        left = 0  # ring edges that a ray from p, along the segment, meets
        for c in range(starts.shape[0] - 1):
            for j in range(starts[c], starts[c + 1]):
                a, b = points[j], points[j + 1 if j + 1 < starts[c + 1] else starts[c]]
                sa = d[0] * (a[1] - p[1]) - d[1] * (a[0] - p[0])
                sb = d[0] * (b[1] - p[1]) - d[1] * (b[0] - p[0])
                if (sa > 0) == (sb > 0):
                    continue
                share = sa / (sa - sb)
                x, y = a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])
                t = ((x - p[0]) * d[0] + (y - p[1]) * d[1]) / (d[0] * d[0] + d[1] * d[1])
                if t > 0:
                    left += 1
                    if t < 1:
                        cuts[count] = t
                        count += 1
        marks = np.sort(cuts[:count])
        inside = left % 2 == 1
        for k in range(count - 1):
            if inside and marks[k + 1] > marks[k]:
                if filled == out.shape[0]:
                    bigger = np.empty((filled * 2, 4))
                    bigger[:filled] = out
                    out = bigger
                out[filled, :2], out[filled, 2:] = p + marks[k] * d, p + marks[k + 1] * d
                filled += 1
            inside = not inside
    return out[:filled]


def _chain(segments: F64) -> Runs:
    """Consecutive segments that meet become one path."""
    if not len(segments):
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    breaks = (np.abs(segments[1:, :2] - segments[:-1, 2:]) > 1e-9).any(axis=1)
    first = np.r_[0, np.flatnonzero(breaks) + 1]
    last = np.r_[first[1:], len(segments)]
    runs = [np.vstack((segments[a:b, :2], segments[b - 1 : b, 2:])) for a, b in zip(first, last, strict=True)]
    return np.concatenate(runs), np.r_[0, np.cumsum([len(r) for r in runs])].astype(np.int64)


def _batt(start: float, end: float, a: float, b: float, pitch: float) -> F64:
    """A soft batt: rounded loops from face to face, phase fixed to the paper so that it doesn't swim."""
    first, last = math.floor(start / pitch), math.ceil(end / pitch)
    t = np.linspace(first, last, (last - first) * 16 + 1) * 2 * math.pi
    s = (t / (2 * math.pi)) * pitch - 0.13 * pitch * np.sin(2 * t)
    return np.column_stack((s, (a + b) / 2 + (b - a) * FIT / 2 * np.cos(t)))


def _zigzag(start: float, end: float, a: float, b: float, pitch: float) -> F64:
    k = np.arange(math.floor(start / pitch), math.ceil(end / pitch) + 1)
    return np.column_stack((k * pitch, np.where(k % 2 == 0, a + (b - a) * (1 - FIT) / 2, b - (b - a) * (1 - FIT) / 2)))
