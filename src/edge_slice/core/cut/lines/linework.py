"""Seen, hidden and overhead lines: which edges can show, clipped to the view, and their visible parts."""

from __future__ import annotations

from typing import NamedTuple, TypeVar

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.occluders import clip_triangles, flat_mates
from edge_slice.core.cut.lines.occlusion import visible_spans
from edge_slice.core.cut.lines.seams import behind_seams, seams_of, without_seams
from edge_slice.core.cut.lines.sight import Sight
from edge_slice.core.cut.pieces import CutLines, Role
from edge_slice.core.cut.planes.leaves import Lens, Window
from edge_slice.core.model import Mesh

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
Flags = NDArray[np.bool_]
Depth = TypeVar("Depth", F64, np.float64)
SPECK = 0.3  # mm; a shorter rest of an edge between what covers it is a slip of rounding, and would be a dot
GONE = 2  # of a triangle that is not there, where others are seen from one side or the other
END_ON = 0.05  # mm; an edge no longer than this in view is seen end-on


@njit(cache=True, nogil=True)
def _borders(neighbours: I32, seen: NDArray[np.int8], use: Flags):  # type: ignore[no-untyped-def]
    """Bit k of a triangle: its side k is on the outline of what conceals, since the triangle across faces
    another way or conceals nothing."""
    bits = np.zeros(neighbours.shape[0], np.uint8)
    for t in range(neighbours.shape[0]):
        if use[t]:
            for k in range(3):
                other = neighbours[t, k]
                if other < 0 or seen[other] != seen[t] or not use[other]:
                    bits[t] |= 1 << k
    return bits


@njit(cache=True, nogil=True)
def _drawable(  # type: ignore[no-untyped-def]
    edge_triangles: I32,
    edge_sharp: Flags,
    edge_element: I32,
    seen: NDArray[np.int8],
    wanted: Flags,
    open_element: Flags,
):
    """Edges of wanted elements that may show: sharp ones with a face to the viewer, and outlines; none where an element
    passes through one that is not there: its triangles are seen as `GONE`."""
    out = np.empty(edge_element.shape[0], np.int32)
    filled = 0
    for e in range(edge_element.shape[0]):
        element = edge_element[e]
        if not wanted[element] or (edge_triangles[e, 1] >= 0 and seen[edge_triangles[e, 1]] == GONE):
            continue
        a = seen[edge_triangles[e, 0]] == 1
        b = edge_triangles[e, 1] < 0 or seen[edge_triangles[e, 1]] == 1
        if (a or b or open_element[element]) and (edge_sharp[e] or a != b):
            out[filled] = e
            filled += 1
    return out[:filled]


def _edges_in_view(sight: Sight, shown: tuple[Flags, Flags], far: float, window: Window) -> tuple[F64, I32]:
    """Edges that could be visible, as seen, clipped to depth and window: ends (e, 2, 3), edge index (e,). `shown`: the
    elements whose edges are wanted (elements,), and those that are not there (elements,)."""
    mesh = sight.mesh
    wanted, gone = shown
    seen = np.where(gone[mesh.triangle_element], np.int8(GONE), sight.seen)
    chosen: I32 = _drawable(mesh.edge_triangles, mesh.edge_sharp, mesh.edge_element, seen, wanted, sight.leaking)
    if sight.lens is None:
        keep, ends = _clip(sight.points, mesh.edges, chosen, window, 0.0, far)
        return _wide(ends[keep], chosen[keep])
    everywhere = (-np.inf, -np.inf, np.inf, np.inf)
    keep, ends = _clip(sight.points, mesh.edges, chosen, everywhere, 0.0, far)
    projected, chosen = sight.lens.project(ends[keep]), chosen[keep]
    pairs = np.arange(2 * len(projected), dtype=np.int32).reshape(-1, 2)
    rows = np.arange(len(projected), dtype=np.int32)
    keep, ends = _clip(projected.reshape(-1, 3), pairs, rows, window, -np.inf, np.inf)
    return _wide(ends[keep], chosen[keep])


def _wide(ends: F64, chosen: I32) -> tuple[F64, I32]:
    """Of edges (e, 2, 3) those that are more than a point in view; what is seen end-on is none. A perspective asks this
    of what its lens shows: there an edge that runs straight away from the viewer is long."""
    wide = np.hypot(ends[:, 1, 0] - ends[:, 0, 0], ends[:, 1, 1] - ends[:, 0, 1]) > END_ON
    return ends[wide], chosen[wide]


@njit(cache=True, nogil=True)
def _clip(points: F64, edges: I32, chosen: I32, window: Window, near: float, far: float):  # type: ignore[no-untyped-def]
    """Clip edges to a box (Liang and Barsky 1984)."""
    keep = np.zeros(chosen.shape[0], np.bool_)
    out = np.empty((chosen.shape[0], 2, 3))
    low = (window[0], window[1], near)
    high = (window[2], window[3], far)
    for i in range(chosen.shape[0]):
        first, second = points[edges[chosen[i], 0]], points[edges[chosen[i], 1]]
        t0, t1 = 0.0, 1.0
        for k in range(3):
            p, q = first[k], second[k]
            d = q - p
            if d == 0:
                if p < low[k] or p > high[k]:
                    t0, t1 = 1.0, 0.0
                continue
            s0, s1 = (low[k] - p) / d, (high[k] - p) / d
            t0, t1 = max(t0, min(s0, s1)), min(t1, max(s0, s1))
        if t0 < t1:
            for k in range(3):
                d = second[k] - first[k]
                out[i, 0, k], out[i, 1, k] = first[k] + t0 * d, first[k] + t1 * d
            keep[i] = True
    return keep, out


class Concealing(NamedTuple):
    """What hides what lies behind it: the elements that are `present` (elements,), and the cut faces."""

    present: Flags
    caps: F64


def trace_lines(
    sight: Sight, wanted: Flags, concealing: Concealing, far: float, keep_hidden: bool, role: Role = Role.SEEN
) -> CutLines:
    """What a viewer at the cut sees of the `wanted` elements (elements,), down to depth `far` (mm). Lines come in the
    order of the mesh's edges."""
    seams = seams_of(sight)
    edges, index = without_seams(*_edges_in_view(sight, (wanted, ~concealing.present), far, sight.leaf.window), seams)
    if not len(edges):
        return CutLines.empty()
    corners, bits, mates = _triangles(sight, concealing, far)
    flat = edges[:, :, :2].reshape(-1, 2)
    (u0, v0), (u1, v1) = flat.min(axis=0).tolist(), flat.max(axis=0).tolist()
    edge, span, hidden = visible_spans(edges, corners, bits, mates, (u0, v0, u1, v1), keep_hidden)
    start, step = edges[edge, 0], edges[edge, 1] - edges[edge, 0]
    whole = (span[:, 0] <= 0) & (span[:, 1] >= 1)
    keep = whole | (np.hypot(step[:, 0], step[:, 1]) * (span[:, 1] - span[:, 0]) > SPECK)
    edge, span, hidden, start, step = edge[keep], span[keep], hidden[keep], start[keep], step[keep]
    a, b = start + span[:, :1] * step, start + span[:, 1:] * step
    if seams.closed.any() and len(edge):
        piece, span, behind = behind_seams(np.stack((a, b), axis=1), seams)
        keep = ~behind | keep_hidden
        piece, span, behind = piece[keep], span[keep], behind[keep]
        a, b = a[piece] + span[:, :1] * (b - a)[piece], a[piece] + span[:, 1:] * (b - a)[piece]
        edge, hidden = edge[piece], hidden[piece] | behind
    return CutLines(
        np.column_stack((a[:, :2], b[:, :2])),
        np.where(hidden, Role.HIDDEN, role).astype(np.uint8),
        sight.mesh.edge_element[index[edge]],
        true_depth((a[:, 2] + b[:, 2]) / 2, sight.lens),
        index[edge],
    )


def true_depth(seen: Depth, lens: Lens | None) -> Depth:
    """The distance behind the cut (mm) of a depth as a lens projects it."""
    return seen if lens is None else seen / np.maximum(1.0 - seen / lens.distance, 1e-9)


def _triangles(sight: Sight, concealing: Concealing, far: float) -> tuple[F64, NDArray[np.uint8], I32]:
    """Triangles that hide, as seen, which of their sides are outlines, and their mates; the cut faces are the
    first."""
    mesh: Mesh = sight.mesh
    # Only faces turned to the viewer hide: what lies behind a far face lies in a body, behind its near face
    # or its cut face. Leaking bodies have no such order, so all of their faces hide.
    owner = mesh.triangle_element
    use = concealing.present[owner] & ((sight.seen == 1) | sight.leaking[owner]) & sight.conceals[sight.material]
    border = _borders(mesh.neighbours, sight.seen, use)
    corners, bits, whole = clip_triangles(sight.points, mesh.triangles, use, border, far)
    mates = flat_mates(sight.points, mesh.triangles, mesh.neighbours, border, whole)
    if sight.lens is not None:
        corners = sight.lens.project(corners)
    caps = concealing.caps
    count = len(caps)
    mates[:, 0] = np.where(mates[:, 0] >= 0, mates[:, 0] + count, -1)
    return (
        np.concatenate((caps, corners)),
        np.concatenate((np.zeros(count, np.uint8), bits)),
        np.concatenate((np.full((count, 3), -1, np.int32), mates)),
    )
