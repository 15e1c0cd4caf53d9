"""Exact hidden-line removal: which spans of each edge no nearer triangle covers.

Triangles are binned in a grid, the nearest first; each edge walks the cells that it crosses and subtracts the span
that each nearer triangle covers. Where a cell is covered as a whole, what stands far back costs next to nothing. The
grid only saves time: the result does not depend on it. All coordinates are drawing millimetres with w away from the
viewer.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.occluders import (
    TOUCH,
    Cells,
    Grid,
    Seen,
    binned,
    covered_behind,
    front_to_back,
    measured,
)
from edge_slice.core.cut.lines.threads import side_by_side

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
CHUNK, PARTS = 4000, 16  # edges that one thread takes at least, and parts at most: each part costs some memory
MOST_CELLS = 5_000_000
JOIN = 1e-12  # of an edge; spans this near to each other are one


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
    for k in range(4):
        if k < 3:
            d0 = sides[k, 0] * p[0] + sides[k, 1] * p[1] + sides[k, 2]
            d1 = sides[k, 0] * q[0] + sides[k, 1] * q[1] + sides[k, 2]
        else:
            d0 = p[2] - (plane[0] * p[0] + plane[1] * p[1] + plane[2]) - plane[3]
            d1 = q[2] - (plane[0] * q[0] + plane[1] * q[1] + plane[2]) - plane[3]
        if d0 <= 0 and d1 <= 0:
            return 1.0, 0.0
        if d0 < 0:
            t0 = max(t0, d0 / (d0 - d1))
        elif d1 < 0:
            t1 = min(t1, d0 / (d0 - d1))
        if t0 >= t1:
            return 1.0, 0.0
    return t0, t1


@njit(cache=True, nogil=True)
def _add(spans: F64, count: int, s0: float, s1: float):  # type: ignore[no-untyped-def]
    """Take a span into an ascending list of disjoint ones. Returns the list (it may have grown) and its length."""
    i = 0
    while i < count and spans[i, 1] < s0 - JOIN:
        i += 1
    j = i
    while j < count and spans[j, 0] <= s1 + JOIN:
        s0, s1 = min(s0, spans[j, 0]), max(s1, spans[j, 1])
        j += 1
    if j == i:
        if count == spans.shape[0]:
            wider = np.empty((2 * count, 2))
            wider[:count] = spans
            spans = wider
        for k in range(count, i, -1):
            spans[k, 0], spans[k, 1] = spans[k - 1, 0], spans[k - 1, 1]
        count += 1
    elif j > i + 1:
        for k in range(j, count):
            spans[k - j + i + 1, 0], spans[k - j + i + 1, 1] = spans[k, 0], spans[k, 1]
        count -= j - i - 1
    spans[i, 0], spans[i, 1] = s0, s1
    return spans, count


@njit(cache=True, nogil=True)
def _holds(spans: F64, count: int, s0: float, s1: float):  # type: ignore[no-untyped-def]
    held = False
    for i in range(count):
        held = held or (spans[i, 0] <= s0 + JOIN and spans[i, 1] >= s1 - JOIN)
    return held


@njit(cache=True, nogil=True)
def _visible(  # type: ignore[no-untyped-def]
    edges: F64, seen: Seen, floor: F64, cells: Cells, grid: Grid, keep_hidden: bool
):
    sides, plane, box = seen
    cover, start, items = cells
    low_u, low_v, size, columns, rows = grid
    out_edge = np.empty(edges.shape[0] * 2 + 16, np.int32)
    out_span = np.empty((out_edge.shape[0], 2))
    out_hidden = np.zeros(out_edge.shape[0], np.bool_)
    filled = 0
    stamp = np.full(sides.shape[0], -1, np.int32)
    spans = np.empty((64, 2))
    for e in range(edges.shape[0]):
        p, q = edges[e, 0], edges[e, 1]
        count = 0
        along_u = abs(q[0] - p[0]) >= abs(q[1] - p[1])
        a, b = (0, 1) if along_u else (1, 0)
        la, lb = (low_u, low_v) if along_u else (low_v, low_u)
        na, nb = (columns, rows) if along_u else (rows, columns)
        run, rise = q[a] - p[a], q[b] - p[b]
        c0, c1 = int((min(p[a], q[a]) - la) / size), int((max(p[a], q[a]) - la) / size)
        whole = False
        for c in range(max(0, c0), min(na - 1, c1) + 1):
            ta, tb = (la + c * size - p[a]) / run, (la + (c + 1) * size - p[a]) / run
            if ta > tb:
                ta, tb = tb, ta
            ta, tb = max(ta, 0.0), min(tb, 1.0)
            ya, yb = p[b] + ta * rise, p[b] + tb * rise
            if ya > yb:
                ya, yb = yb, ya
            r0, r1 = int((ya - lb) / size), int((yb - lb) / size)
            for r in range(max(0, r0), min(nb - 1, r1) + 1):
                cell = r * columns + c if along_u else c * columns + r
                sa, sb = ta, tb
                if r1 > r0:
                    ka, kb = (lb + r * size - p[b]) / rise, (lb + (r + 1) * size - p[b]) / rise
                    sa, sb = max(sa, min(ka, kb)), min(sb, max(ka, kb))
                wa, wb = p[2] + sa * (q[2] - p[2]), p[2] + sb * (q[2] - p[2])
                if min(wa, wb) > cover[cell]:
                    spans, count = _add(spans, count, sa, sb)
                    continue
                far = max(wa, wb)
                full = _holds(spans, count, sa, sb)
                for i in range(start[cell], start[cell + 1]):
                    t = items[i]
                    if full or floor[t] >= far:
                        break
                    if stamp[t] == e:
                        continue
                    stamp[t] = e
                    t0, t1 = _covered(p, q, sides[t], plane[t], box[t])
                    if t0 < t1:
                        spans, count = _add(spans, count, t0, t1)
                        full = _holds(spans, count, sa, sb)
            whole = count == 1 and spans[0, 0] <= JOIN and spans[0, 1] >= 1 - JOIN
            if whole:
                break
        if whole and not keep_hidden:
            continue
        if filled + 2 * count + 4 > out_edge.shape[0]:
            bigger = (filled + count + 4) * 3
            edge2, span2, hidden2 = np.empty(bigger, np.int32), np.empty((bigger, 2)), np.zeros(bigger, np.bool_)
            edge2[:filled], span2[:filled], hidden2[:filled] = out_edge[:filled], out_span[:filled], out_hidden[:filled]
            out_edge, out_span, out_hidden = edge2, span2, hidden2
        length = np.hypot(q[0] - p[0], q[1] - p[1])
        least = 3 * TOUCH / length if length > 0 else 3.0
        at = 0.0
        for i in range(count + 1):
            s0 = spans[i, 0] if i < count else 1.0
            s1 = spans[i, 1] if i < count else 1.0
            if s0 - at > least:
                out_edge[filled], out_span[filled, 0], out_span[filled, 1], out_hidden[filled] = e, at, s0, False
                filled += 1
            if keep_hidden and s1 > max(at, s0) + least:
                out_edge[filled], out_span[filled, 0], out_span[filled, 1] = e, max(at, s0), s1
                out_hidden[filled] = True
                filled += 1
            at = max(at, s1)
    return out_edge[:filled], out_span[:filled], out_hidden[:filled]


def visible_spans(
    edges: F64,
    corners: F64,
    bits: NDArray[np.uint8],
    mates: I32,
    window: tuple[float, float, float, float],
    keep_hidden: bool,
) -> tuple[I32, F64, NDArray[np.bool_]]:
    """Spans of edges (e, 2, 3) that triangles corners (m, 3, 3) leave visible, within window (u0, v0, u1, v1);
    mates (m, 3) as from `flat_mates`.

    Returns the edge of each span (k,), its parameters (k, 2), and whether it is hidden (k,) (only with
    `keep_hidden`).
    """
    low_u, low_v, high_u, high_v = window
    sides, plane, box, nearest, kept = measured(corners, bits, np.array(window))
    if not len(nearest):
        count = len(edges)
        return np.arange(count, dtype=np.int32), np.tile([0.0, 1.0], (count, 1)), np.zeros(count, dtype=bool)
    wide, high = max(high_u - low_u, 1.0), max(high_v - low_v, 1.0)
    most = min(MOST_CELLS, max(1024, len(nearest)))
    size = max((wide * high / most) ** 0.5, max(wide, high) / 8000)
    grid = Grid(low_u, low_v, size, int(wide / size) + 1, int(high / size) + 1)
    seen = Seen(sides, plane, box)
    order, floor = front_to_back(nearest)
    cover = covered_behind(seen, mates, kept, grid)
    cells = Cells(cover, *binned(box, floor, order, cover, grid))

    def part(first: int, last: int) -> tuple[I32, F64, NDArray[np.bool_]]:
        edge, span, hidden = _visible(edges[first:last], seen, floor, cells, grid, keep_hidden)
        return edge + np.int32(first), span, hidden

    parts = side_by_side(part, len(edges), max(CHUNK, len(edges) // PARTS + 1))
    return (
        np.concatenate([p[0] for p in parts]),
        np.concatenate([p[1] for p in parts]),
        np.concatenate([p[2] for p in parts]),
    )
