"""Exact hidden-line removal: which spans of each edge no nearer triangle covers.

Triangles are binned in a uniform grid on the drawing plane; each edge walks the cells that it crosses and
subtracts the span that each nearer triangle covers. All coordinates are drawing millimetres with w away from
the viewer.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.threads import side_by_side

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
TOUCH = 0.01  # mm; an edge this near the outline of a nearer triangle is not behind it
CHUNK = 8000  # edges that one thread takes at a time
BEHIND = 0.05  # mm; nearer by less than this counts as touching


@njit(cache=True, nogil=True)
def clip_triangles(points: F64, triangles: I32, use: NDArray[np.bool_], border: NDArray[np.uint8], far: float):  # type: ignore[no-untyped-def]
    """The parts of triangles with w >= 0, as corners (k, 3, 3) and border bits (k,); those wholly beyond `far`
    are left out.

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
            i += 1
    return out[:i], bits[:i]


@njit(cache=True, nogil=True)
def _touches_window(corners: F64, low_u: float, low_v: float, high_u: float, high_v: float):  # type: ignore[no-untyped-def]
    inside = np.empty(corners.shape[0], np.bool_)
    for t in range(corners.shape[0]):
        u, v = corners[t, :, 0], corners[t, :, 1]
        inside[t] = u.max() >= low_u and u.min() <= high_u and v.max() >= low_v and v.min() <= high_v
    return inside


@njit(cache=True, nogil=True)
def _bin(corners: F64, low_u: float, low_v: float, size: float, columns: int, rows: int):  # type: ignore[no-untyped-def]
    """Triangles by grid cell: cell c holds items[start[c]:start[c + 1]]. Boxes are taken a little larger than what
    a triangle may cover, so that the grid has no influence on the result."""
    start = np.zeros(columns * rows + 1, np.int64)
    boxes = np.empty((corners.shape[0], 4), np.int64)
    for t in range(corners.shape[0]):
        u0, u1 = corners[t, :, 0].min() - 2 * TOUCH, corners[t, :, 0].max() + 2 * TOUCH
        v0, v1 = corners[t, :, 1].min() - 2 * TOUCH, corners[t, :, 1].max() + 2 * TOUCH
        boxes[t, 0] = max(0, int((u0 - low_u) / size))
        boxes[t, 1] = min(columns - 1, int((u1 - low_u) / size))
        boxes[t, 2] = max(0, int((v0 - low_v) / size))
        boxes[t, 3] = min(rows - 1, int((v1 - low_v) / size))
        for c in range(boxes[t, 0], boxes[t, 1] + 1):
            for r in range(boxes[t, 2], boxes[t, 3] + 1):
                start[r * columns + c + 1] += 1
    for c in range(columns * rows):
        start[c + 1] += start[c]
    fill = start[:-1].copy()
    items = np.empty(start[-1], np.int32)
    for t in range(corners.shape[0]):
        for c in range(boxes[t, 0], boxes[t, 1] + 1):
            for r in range(boxes[t, 2], boxes[t, 3] + 1):
                items[fill[r * columns + c]] = t
                fill[r * columns + c] += 1
    return start, items


@njit(cache=True, nogil=True)
def _side_lines(corners: F64, bits: NDArray[np.uint8]):  # type: ignore[no-untyped-def]
    """Per triangle three inward side lines (a, b, c with the touch margin), its plane w = g0 u + g1 v + g2, and the
    box (left, base, right, top) that bounds what it may cover."""
    n = corners.shape[0]
    box = np.empty((n, 4))
    sides = np.empty((n, 3, 3))
    plane = np.empty((n, 3))
    solid = np.zeros(n, np.bool_)
    for t in range(n):
        a, b, c = corners[t, 0], corners[t, 1], corners[t, 2]
        for k in range(2):
            box[t, k] = min(a[k], b[k], c[k]) - TOUCH
            box[t, k + 2] = max(a[k], b[k], c[k]) + TOUCH
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
            sides[t, k, 0], sides[t, k, 1] = na, nb
            sides[t, k, 2] = -(na * p[0] + nb * p[1]) + margin
        du1, dv1, dw1 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        du2, dv2, dw2 = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        plane[t, 0] = (dw1 * dv2 - dw2 * dv1) / area
        plane[t, 1] = (du1 * dw2 - du2 * dw1) / area
        plane[t, 2] = a[2] - plane[t, 0] * a[0] - plane[t, 1] * a[1]
        solid[t] = True
    return sides, plane, solid, box


@njit(cache=True, nogil=True)
def _covered(p: F64, q: F64, sides: F64, plane: F64, box: F64):  # type: ignore[no-untyped-def]
    """The span of parameters of edge p–q that lies behind one triangle; (1, 0) when none does."""
    t0, t1 = 0.0, 1.0
    for k in range(2):  # sharp corners reach far with the touch margin: the box ends them
        if max(p[k], q[k]) < box[k] or min(p[k], q[k]) > box[k + 2]:
            return 1.0, 0.0
        d = q[k] - p[k]
        if d != 0:
            s0, s1 = (box[k] - p[k]) / d, (box[k + 2] - p[k]) / d
            t0, t1 = max(t0, min(s0, s1)), min(t1, max(s0, s1))
    if t0 >= t1:
        return 1.0, 0.0
    for k in range(3):
        d0 = sides[k, 0] * p[0] + sides[k, 1] * p[1] + sides[k, 2]
        d1 = sides[k, 0] * q[0] + sides[k, 1] * q[1] + sides[k, 2]
        if d0 < 0 and d1 < 0:
            return 1.0, 0.0
        if d0 < 0:
            t0 = max(t0, d0 / (d0 - d1))
        elif d1 < 0:
            t1 = min(t1, d0 / (d0 - d1))
        if t0 >= t1:
            return 1.0, 0.0
    margin = BEHIND + TOUCH * (abs(plane[0]) + abs(plane[1]))
    h0 = p[2] - (plane[0] * p[0] + plane[1] * p[1] + plane[2]) - margin
    h1 = q[2] - (plane[0] * q[0] + plane[1] * q[1] + plane[2]) - margin
    if h0 <= 0 and h1 <= 0:
        return 1.0, 0.0
    if h0 <= 0:
        t0 = max(t0, h0 / (h0 - h1))
    elif h1 <= 0:
        t1 = min(t1, h0 / (h0 - h1))
    if t0 >= t1:
        return 1.0, 0.0
    return t0, t1


@njit(cache=True, nogil=True)
def _visible(  # type: ignore[no-untyped-def]
    edges: F64,
    sides: F64,
    plane: F64,
    box: F64,
    solid: NDArray[np.bool_],
    nearest: F64,
    start: NDArray[np.int64],
    items: I32,
    low_u: float,
    low_v: float,
    size: float,
    columns: int,
    rows: int,
    keep_hidden: bool,
):
    out_edge = np.empty(edges.shape[0] * 2 + 16, np.int32)
    out_span = np.empty((out_edge.shape[0], 2))
    out_hidden = np.zeros(out_edge.shape[0], np.bool_)
    filled = 0
    stamp = np.full(sides.shape[0], -1, np.int32)
    spans = np.empty((64, 2))
    for e in range(edges.shape[0]):
        p, q = edges[e, 0], edges[e, 1]
        count = 0
        far = max(p[2], q[2])
        along_u = abs(q[0] - p[0]) >= abs(q[1] - p[1])
        a, b = (0, 1) if along_u else (1, 0)
        la, lb = (low_u, low_v) if along_u else (low_v, low_u)
        na, nb = (columns, rows) if along_u else (rows, columns)
        first, last = (p, q) if p[a] <= q[a] else (q, p)
        c0, c1 = max(0, int((first[a] - la) / size)), min(na - 1, int((last[a] - la) / size))
        run = last[a] - first[a]
        slope = (last[b] - first[b]) / run if run > 0 else 0.0
        whole = False
        for c in range(c0, c1 + 1):
            x0, x1 = max(first[a], la + c * size), min(last[a], la + (c + 1) * size)
            y0, y1 = first[b] + slope * (x0 - first[a]), first[b] + slope * (x1 - first[a])
            if y0 > y1:
                y0, y1 = y1, y0
            for r in range(max(0, int((y0 - TOUCH - lb) / size)), min(nb - 1, int((y1 + TOUCH - lb) / size)) + 1):
                cell = r * columns + c if along_u else c * columns + r
                for i in range(start[cell], start[cell + 1]):
                    t = items[i]
                    if stamp[t] == e or not solid[t]:
                        continue
                    stamp[t] = e
                    if nearest[t] >= far:
                        continue
                    t0, t1 = _covered(p, q, sides[t], plane[t], box[t])
                    if t0 >= t1:
                        continue
                    if t0 <= 1e-9 and t1 >= 1 - 1e-9:
                        whole = True
                        break
                    if count == spans.shape[0]:
                        wider = np.empty((count * 2, 2))
                        wider[:count] = spans
                        spans = wider
                    spans[count, 0], spans[count, 1] = t0, t1
                    count += 1
                if whole:
                    break
            if whole:
                break
        if filled + 2 * count + 4 > out_edge.shape[0]:
            bigger = (filled + count + 4) * 3
            edge2, span2, hidden2 = np.empty(bigger, np.int32), np.empty((bigger, 2)), np.zeros(bigger, np.bool_)
            edge2[:filled], span2[:filled], hidden2[:filled] = out_edge[:filled], out_span[:filled], out_hidden[:filled]
            out_edge, out_span, out_hidden = edge2, span2, hidden2
        if whole:
            if keep_hidden:
                out_edge[filled], out_span[filled, 0], out_span[filled, 1], out_hidden[filled] = e, 0.0, 1.0, True
                filled += 1
            continue
        length = np.hypot(q[0] - p[0], q[1] - p[1])
        least = TOUCH / length if length > 0 else 1.0
        order = np.argsort(spans[:count, 0])
        at = 0.0
        for i in range(count + 1):
            s0 = spans[order[i], 0] if i < count else 1.0
            s1 = spans[order[i], 1] if i < count else 1.0
            if s0 - at > 3 * least:
                out_edge[filled], out_span[filled, 0], out_span[filled, 1], out_hidden[filled] = e, at, s0, False
                filled += 1
            if keep_hidden and s1 > max(at, s0) + 3 * least:
                out_edge[filled], out_span[filled, 0], out_span[filled, 1], out_hidden[filled] = (
                    e,
                    max(at, s0),
                    s1,
                    True,
                )
                filled += 1
            at = max(at, s1)
    return out_edge[:filled], out_span[:filled], out_hidden[:filled]


def visible_spans(
    edges: F64, corners: F64, bits: NDArray[np.uint8], window: tuple[float, float, float, float], keep_hidden: bool
) -> tuple[I32, F64, NDArray[np.bool_]]:
    """Spans of edges (e, 2, 3) that triangles corners (m, 3, 3) leave visible, within window (u0, v0, u1, v1).

    Returns the edge of each span (k,), its parameters (k, 2), and whether it is hidden (k,) (only with
    `keep_hidden`).
    """
    low_u, low_v, high_u, high_v = window
    if len(corners):
        inside = _touches_window(corners, low_u, low_v, high_u, high_v)
        corners, bits = corners[inside], bits[inside]
    wide, high = max(high_u - low_u, 1.0), max(high_v - low_v, 1.0)
    cells = min(1_000_000, max(1024, 2 * len(corners)))
    size = max((wide * high / cells) ** 0.5, max(wide, high) / 4000)
    columns, rows = int(wide / size) + 1, int(high / size) + 1
    start, items = _bin(corners, low_u, low_v, size, columns, rows)
    sides, plane, solid, box = _side_lines(corners, bits)
    nearest = np.minimum(np.minimum(corners[:, 0, 2], corners[:, 1, 2]), corners[:, 2, 2])

    def part(first: int, last: int) -> tuple[I32, F64, NDArray[np.bool_]]:
        edge, span, hidden = _visible(
            edges[first:last], sides, plane, box, solid, nearest, start, items, low_u, low_v, size, columns, rows,
            keep_hidden,
        )  # fmt: skip
        return edge + np.int32(first), span, hidden

    parts = side_by_side(part, len(edges), CHUNK)
    return (
        np.concatenate([p[0] for p in parts]),
        np.concatenate([p[1] for p in parts]),
        np.concatenate([p[2] for p in parts]),
    )
