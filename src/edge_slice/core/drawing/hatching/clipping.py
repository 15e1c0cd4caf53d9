"""Lines cut to polygons (even-odd), compiled: the ground work of hatching."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Runs, run_of, together

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]


@njit(cache=True, nogil=True)
def _scan(points: F64, starts: I64, way: tuple[float, float], spacing: float, shift: float, dash: F64):  # type: ignore[no-untyped-def]
    """Pieces of parallel lines inside rings (even-odd), as (n, 4). Lines run along the unit vector `way` and are fixed
    to the paper's origin."""
    cosine, sine = way
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
    if not polygon.interiors:
        points = shapely.get_coordinates(polygon)[:-1]
        return points, np.array([0, len(points)], dtype=np.int64)
    return run_of([np.asarray(r.coords)[:-1] for r in (polygon.exterior, *polygon.interiors)])


def parallel_lines(
    polygon: shapely.Polygon, cosine: float, sine: float, spacing: float, shift: float, dash: tuple[float, ...] = ()
) -> Runs:
    """Parallel lines in a polygon, along the direction (cosine, sine), `spacing` apart and moved `shift` across."""
    points, starts = rings_of(polygon)
    found: F64 = _scan(points, starts, (cosine, sine), spacing, shift, np.array(dash, dtype=np.float64))
    return found.reshape(-1, 2), np.arange(0, 2 * len(found) + 1, 2, dtype=np.int64)


@njit(cache=True, nogil=True)
def ring_boxes(points: F64, starts: I64):  # type: ignore[no-untyped-def]
    """Left, base, right and top of rings (r, 4)."""
    boxes = np.empty((starts.shape[0] - 1, 4))
    for c in range(starts.shape[0] - 1):
        ring = points[starts[c] : starts[c + 1]]
        boxes[c, 0], boxes[c, 1] = ring[:, 0].min(), ring[:, 1].min()
        boxes[c, 2], boxes[c, 3] = ring[:, 0].max(), ring[:, 1].max()
    return boxes


@njit(cache=True, nogil=True)
def inside(x: float, y: float, points: F64, starts: I64, boxes: F64):  # type: ignore[no-untyped-def]
    """Whether a point lies in rings (even-odd); boxes (r, 4) of the rings."""
    odd = False
    for c in range(starts.shape[0] - 1):
        if x > boxes[c, 2] or y < boxes[c, 1] or y > boxes[c, 3]:
            continue
        for j in range(starts[c], starts[c + 1]):
            k = j + 1 if j + 1 < starts[c + 1] else starts[c]
            y0, y1 = points[j, 1], points[k, 1]
            if (y0 > y) != (y1 > y) and points[j, 0] + (y - y0) / (y1 - y0) * (points[k, 0] - points[j, 0]) > x:
                odd = not odd
    return odd


@njit(cache=True, nogil=True)
def _cuts(px: float, py: float, qx: float, qy: float, points: F64, starts: I64, boxes: F64, cuts: F64):  # type: ignore[no-untyped-def]  # noqa: PLR0913
    """Where a line from p to q crosses rings, in order, from 0 to 1, both of them too: how many; into `cuts`."""
    d0, d1 = qx - px, qy - py
    size = d0 * d0 + d1 * d1
    left, right = min(px, qx), max(px, qx)
    base, top = min(py, qy), max(py, qy)
    count = 2
    cuts[0], cuts[1] = 0.0, 1.0
    for c in range(starts.shape[0] - 1):
        if boxes[c, 2] < left or boxes[c, 0] > right or boxes[c, 3] < base or boxes[c, 1] > top:
            continue
        for j in range(starts[c], starts[c + 1]):
            k = j + 1 if j + 1 < starts[c + 1] else starts[c]
            ax, ay, bx, by = points[j, 0], points[j, 1], points[k, 0], points[k, 1]
            if max(ax, bx) < left or min(ax, bx) > right or max(ay, by) < base or min(ay, by) > top:
                continue
            sa = d0 * (ay - py) - d1 * (ax - px)
            sb = d0 * (by - py) - d1 * (bx - px)
            if (sa > 0) == (sb > 0):
                continue
            share = sa / (sa - sb)
            x, y = ax + share * (bx - ax), ay + share * (by - ay)
            t = ((x - px) * d0 + (y - py) * d1) / size
            if 0 < t < 1:
                cuts[count] = t
                count += 1
    if count > 2:
        cuts[:count] = np.sort(cuts[:count])
    return count


@njit(cache=True, nogil=True)
def _clip(lines: F64, line_starts: I64, points: F64, starts: I64):  # type: ignore[no-untyped-def]
    out = np.empty((lines.shape[0] * 2 + 16, 2))
    begins = np.empty(lines.shape[0] + 16, np.int64)
    n = m = 0
    cuts = np.empty(points.shape[0] + 2)
    boxes = ring_boxes(points, starts)
    for line in range(line_starts.shape[0] - 1):
        open_end = False
        for i in range(line_starts[line], line_starts[line + 1] - 1):
            px, py, qx, qy = lines[i, 0], lines[i, 1], lines[i + 1, 0], lines[i + 1, 1]
            d0, d1 = qx - px, qy - py
            if d0 * d0 + d1 * d1 == 0:
                continue
            count = _cuts(px, py, qx, qy, points, starts, boxes, cuts)
            for k in range(count - 1):
                t0, t1 = cuts[k], cuts[k + 1]
                middle = (t0 + t1) / 2
                if t1 <= t0 or not inside(px + middle * d0, py + middle * d1, points, starts, boxes):
                    open_end = False
                    continue
                if n + 2 > out.shape[0]:
                    wider = np.empty((2 * out.shape[0], 2))
                    wider[:n] = out[:n]
                    out = wider
                if not open_end:
                    if m + 2 > begins.shape[0]:
                        longer = np.empty(2 * begins.shape[0], np.int64)
                        longer[:m] = begins[:m]
                        begins = longer
                    begins[m] = n
                    m += 1
                    out[n, 0], out[n, 1] = px + t0 * d0, py + t0 * d1
                    n += 1
                out[n, 0], out[n, 1] = px + t1 * d0, py + t1 * d1
                n += 1
                open_end = True
    begins[m] = n
    return out[:n], begins[: m + 1]


def clip_lines(lines: list[F64], polygons: list[shapely.Polygon]) -> Runs:
    """The parts of polylines (n, 2) inside polygons (even-odd); parts that meet on a line are one path."""
    if not lines or not polygons:
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    return clip_runs(run_of(lines), polygons)


def clip_runs(lines: Runs, polygons: list[shapely.Polygon]) -> Runs:
    """`clip_lines` of polylines that are runs already."""
    points, starts = together([rings_of(p) for p in polygons])
    found: Runs = _clip(np.ascontiguousarray(lines[0]), lines[1], points, starts)
    return found


def spans_inside(lines: F64, shapes: NDArray[np.object_], pairs: tuple[I64, I64]) -> tuple[I64, F64]:
    """Which parts of straight lines (n, 2, 2) lie in polygons (even-odd), of `pairs` (p,), (p,) of a line and a shape:
    the pair (k,) of each part, in order, and from where to where along its line (k, 2), 0 to 1."""
    _, points, offsets = shapely.to_ragged_array(np.append(shapes, shapely.MultiPolygon()))
    rings, polygons, whole = (np.asarray(o, dtype=np.int64) for o in offsets)
    found: tuple[I64, F64] = _inside(lines.reshape(-1, 4), pairs, points, rings, polygons[whole])
    return found


@njit(cache=True, nogil=True)
def _inside(lines: F64, pairs: tuple[I64, I64], points: F64, rings: I64, shapes: I64):  # type: ignore[no-untyped-def]
    pair, spans = np.empty(2 * len(pairs[0]) + 16, np.int64), np.empty((2 * len(pairs[0]) + 16, 2))
    boxes = ring_boxes(points, rings)
    cuts = np.empty(points.shape[0] + 2)
    n = 0
    for k in range(len(pairs[0])):
        px, py, qx, qy = lines[pairs[0][k]]
        first, last = shapes[pairs[1][k]], shapes[pairs[1][k] + 1]
        starts, own = rings[first : last + 1], boxes[first:last]
        count = _cuts(px, py, qx, qy, points, starts, own, cuts)
        opened = False
        for j in range(count - 1):
            middle = (cuts[j] + cuts[j + 1]) / 2
            held = cuts[j + 1] > cuts[j]
            held = held and inside(px + middle * (qx - px), py + middle * (qy - py), points, starts, own)
            if held and opened:
                spans[n - 1, 1] = cuts[j + 1]
            elif held:
                if n == len(pair):
                    pair, spans = np.append(pair, np.empty_like(pair)), np.concatenate((spans, np.empty_like(spans)))
                pair[n], spans[n, 0], spans[n, 1] = k, cuts[j], cuts[j + 1]
                n += 1
            opened = held
    return pair[:n], spans[:n]
