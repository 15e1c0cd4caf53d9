"""Seams: where two elements make one surface, their edges need no line, and what lies behind does not show."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.collinear import line_groups
from edge_slice.core.cut.lines.sight import Sight

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
LEAST = 0.25  # mm; what is left of an edge beside a seam must be longer, and what is behind one deeper


@dataclass(frozen=True)
class Seams:
    """Stretches of edges in view that need no line: edge (k,) ascending; ends (k, 2, 3) as seen; closed (k,) bool:
    the surface there is turned to the viewer and hides what lies behind."""

    edge: I64
    ends: F64
    closed: NDArray[np.bool_]


def seams_of(sight: Sight) -> Seams:
    """The joints whose seen faces all run on in another element."""
    joints, mesh = sight.joints, sight.mesh
    faces = mesh.edge_triangles[joints.edge]
    seen = (sight.seen[faces] == 1) & (faces >= 0)
    chosen = ~(seen & ~(joints.runs_on | joints.meets)).any(axis=1)
    closed = (seen & joints.runs_on & sight.conceals[sight.material[faces]]).any(axis=1)[chosen]
    ends = sight.leaf.axes.to_drawing(joints.ends[chosen].reshape(-1, 3)).reshape(-1, 2, 3)
    beyond, ends = _beyond_the_cut(ends)
    if sight.lens is not None:
        ends = sight.lens.project(ends)
    return Seams(joints.edge[chosen][beyond], ends, closed[beyond])


def without_seams(edges: F64, index: I32, seams: Seams) -> tuple[F64, I32]:
    """What is left of edges in view, as seen (e, 2, 3) with their indices (e,) ascending, without the seams."""
    if not len(index):
        return edges, index
    at = np.minimum(np.searchsorted(index, seams.edge), len(index) - 1)
    rows = np.flatnonzero(index[at] == seams.edge)
    if not len(rows):
        return edges, index
    at, ends = at[rows], seams.ends[rows]
    start, step = edges[at, 0, :2], edges[at, 1, :2] - edges[at, 0, :2]
    share = np.einsum("ikj,ij->ik", ends[:, :, :2] - start[:, None], step) / np.einsum("ij,ij->i", step, step)[:, None]
    share = np.sort(share, axis=1)
    order = np.lexsort((share[:, 0], at))
    pieces, of = _left(edges, at[order], share[order])
    return pieces, index[of]


def behind_seams(pieces: F64, seams: Seams) -> tuple[I64, F64, NDArray[np.bool_]]:
    """Divides visible pieces (n, 2, 3), as seen, where they run exactly along a closed seam: whatever conceals is taken
    to show what lies along its outline, but there the surface runs on. Which piece (m,), from and to (m, 2) as shares
    of it, and whether it lies behind a seam (m,)."""
    closed = seams.ends[seams.closed]
    every = np.concatenate((closed, pieces))
    group, t0, t1, turned = line_groups(every[:, :, :2].reshape(-1, 4))
    flipped = (turned[:, :2] != every[:, 0, :2]).any(axis=1)
    depth = np.where(flipped[:, None], every[:, ::-1, 2], every[:, :, 2])
    order = np.lexsort((t0, np.arange(len(every)) >= len(closed), group))
    order = order[~_behind_another(group, t0, t1, depth, len(closed))[order]]
    index, span, behind = _divided(order, group, t0, t1, depth, len(closed))
    span = np.where(flipped[len(closed) + index][:, None], 1.0 - span[:, ::-1], span)
    rows = np.lexsort((span[:, 0], index))
    return index[rows], span[rows], behind[rows]


def _behind_another(group: I64, t0: F64, t1: F64, depth: F64, seams: int) -> NDArray[np.bool_]:
    """Which of the first `seams` segments have the same place as another before them: of a row of like bodies in depth
    the first one covers."""
    g, a, b, d = group[:seams], np.rint(t0[:seams] / LEAST), np.rint(t1[:seams] / LEAST), depth[:seams]
    order = np.lexsort((d.sum(axis=1), b, a, g))
    first = np.ones(seams, dtype=bool)
    first[1:] = (np.diff(np.stack((g, a, b))[:, order]) != 0).any(axis=0)
    nearest = order[np.maximum.accumulate(np.where(first, np.arange(seams), 0))]
    hidden = np.zeros(len(group), dtype=bool)
    hidden[order] = ~first & (d[order] >= d[nearest]).all(axis=1)
    return hidden


def _beyond_the_cut(ends: F64) -> tuple[NDArray[np.bool_], F64]:
    """Which stretches (k, 2, 3) reach beyond the cut, and the parts of these that lie there: what lies before it is
    not drawn, and what lies before the eye has no place in a perspective."""
    w = ends[:, :, 2]
    beyond = np.asarray((w >= 0).any(axis=1), dtype=bool)
    ends, w = ends[beyond].copy(), w[beyond]
    step = w[:, 1] - w[:, 0]
    meets = ends[:, 0] - (w[:, 0] / np.where(step == 0, 1.0, step))[:, None] * (ends[:, 1] - ends[:, 0])
    for k in range(2):
        ends[w[:, k] < 0, k] = meets[w[:, k] < 0]
    return beyond, ends


@njit(cache=True, nogil=True)
def _left(edges: F64, at: I64, share: F64):  # type: ignore[no-untyped-def]
    """Edges less the stretches (k, 2) taken from them, which come in the order of edges and along them."""
    out = np.empty((edges.shape[0] + at.shape[0], 2, 3))
    of = np.empty(out.shape[0], np.int64)
    filled, k = 0, 0
    for e in range(edges.shape[0]):
        if k >= at.shape[0] or at[k] != e:
            out[filled], of[filled] = edges[e], e
            filled += 1
            continue
        step = edges[e, 1] - edges[e, 0]
        least = LEAST / np.hypot(step[0], step[1])
        begin = 0.0
        while k < at.shape[0] and at[k] == e:
            if share[k, 0] - begin > least:
                out[filled, 0], out[filled, 1] = edges[e, 0] + begin * step, edges[e, 0] + min(1.0, share[k, 0]) * step
                of[filled] = e
                filled += 1
            begin = max(begin, share[k, 1])
            k += 1
        if 1.0 - begin > least:
            out[filled, 0], out[filled, 1] = edges[e, 0] + begin * step, edges[e, 1]
            of[filled] = e
            filled += 1
    return out[:filled], of[:filled]


@njit(cache=True, nogil=True)
def _divided(order: I64, group: I64, t0: F64, t1: F64, depth: F64, seams: int):  # type: ignore[no-untyped-def]
    """Pieces (from index `seams` on) divided where a seam of their group lies before them; order: by group, its seams
    first, along the line."""
    size, filled = order.shape[0] + 16, 0
    index = np.empty(size, np.int64)
    span = np.empty((size, 2))
    behind = np.empty(size, np.bool_)
    first = 0
    while first < order.shape[0]:
        last = first
        while last < order.shape[0] and group[order[last]] == group[order[first]]:
            last += 1
        pieces = first  # where the pieces of this line begin, after its seams
        while pieces < last and order[pieces] < seams:
            pieces += 1
        for x in range(pieces, last):
            i = order[x]
            at, long = t0[i], t1[i] - t0[i]
            for y in range(first, pieces + 1):
                low, high = t1[i], t1[i]
                if y < pieces:
                    k = order[y]
                    if t1[k] <= at + LEAST or t0[k] >= t1[i] - LEAST:
                        continue
                    low, high = max(at, t0[k]), min(t1[i], t1[k])
                    middle = (low + high) / 2
                    own = depth[i, 0] + (middle - t0[i]) / long * (depth[i, 1] - depth[i, 0])
                    its = depth[k, 0] + (middle - t0[k]) / (t1[k] - t0[k]) * (depth[k, 1] - depth[k, 0])
                    if own < its + LEAST:
                        continue
                if filled + 2 > size:
                    size *= 2
                    index = np.concatenate((index, np.empty_like(index)))
                    span = np.concatenate((span, np.empty_like(span)))
                    behind = np.concatenate((behind, np.empty_like(behind)))
                if low > at:
                    index[filled], behind[filled] = i - seams, False
                    span[filled, 0], span[filled, 1] = (at - t0[i]) / long, (low - t0[i]) / long
                    filled += 1
                if high > low:
                    index[filled], behind[filled] = i - seams, True
                    span[filled, 0], span[filled, 1] = (low - t0[i]) / long, (high - t0[i]) / long
                    filled += 1
                at = high
        first = last
    return index[:filled], span[:filled], behind[:filled]
