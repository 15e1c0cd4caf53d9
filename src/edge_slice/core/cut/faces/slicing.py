"""Slices welded triangles with the plane w = 0 and chains the pieces into rings.

A vertex on the plane counts as beyond it. With that one rule every crossed triangle has exactly two crossed
edges, neighbours agree on the crossing point to the last bit, and closed bodies give closed rings.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
BRIDGE = 5.0  # mm; gaps in a ring up to this are closed


@dataclass(frozen=True)
class Rings:
    """Chains of points: chain k is points[start[k]:start[k + 1]] (mm); `triangle` is one that it came from."""

    points: F64
    start: NDArray[np.int64]
    triangle: I32
    closed: NDArray[np.bool_]


@njit(cache=True, nogil=True)
def _cross(points: F64, triangles: I32, use: NDArray[np.bool_]):  # type: ignore[no-untyped-def]
    """For each crossed triangle: keys of the edges where the outline enters and leaves, and both points."""
    n = points.shape[0]
    count = 0
    for t in range(triangles.shape[0]):
        if use[t]:
            s = (
                (points[triangles[t, 0], 2] >= 0)
                + (points[triangles[t, 1], 2] >= 0)
                + (points[triangles[t, 2], 2] >= 0)
            )
            if s == 1 or s == 2:
                count += 1
    enter = np.empty(count, np.int64)
    leave = np.empty(count, np.int64)
    ends = np.empty((count, 4))
    owner = np.empty(count, np.int32)
    i = 0
    for t in range(triangles.shape[0]):
        if not use[t]:
            continue
        s = (points[triangles[t, 0], 2] >= 0) + (points[triangles[t, 1], 2] >= 0) + (points[triangles[t, 2], 2] >= 0)
        if s != 1 and s != 2:
            continue
        for k in range(3):
            a, b = triangles[t, k], triangles[t, (k + 1) % 3]
            front_a, front_b = points[a, 2] < 0, points[b, 2] < 0
            if front_a == front_b:
                continue
            low, high = min(a, b), max(a, b)
            share = points[low, 2] / (points[low, 2] - points[high, 2])
            u = points[low, 0] + share * (points[high, 0] - points[low, 0])
            v = points[low, 1] + share * (points[high, 1] - points[low, 1])
            if front_a:
                enter[i] = np.int64(low) * n + high
                ends[i, 0], ends[i, 1] = u, v
            else:
                leave[i] = np.int64(low) * n + high
                ends[i, 2], ends[i, 3] = u, v
        owner[i] = t
        i += 1
    return enter, leave, ends, owner


@njit(cache=True, nogil=True)
def _chain(enter: NDArray[np.int64], leave: NDArray[np.int64], group: I32):  # type: ignore[no-untyped-def]
    """Order pieces so that each leaves through the edge by which the next one, of the same group, enters."""
    count = enter.shape[0]
    order = np.argsort(enter)
    keys = enter[order]
    used = np.zeros(count, np.bool_)
    has_before = np.zeros(count, np.bool_)
    follow = np.full(count, -1, np.int64)
    for i in range(count):
        j = np.searchsorted(keys, leave[i])
        while j < count and keys[j] == leave[i]:
            p = order[j]
            if not has_before[p] and group[p] == group[i]:
                follow[i] = p
                has_before[p] = True
                break
            j += 1
    sequence = np.empty(count, np.int64)
    starts = np.empty(count + 1, np.int64)
    closed = np.zeros(count, np.bool_)
    chains = 0
    filled = 0
    for phase in range(2):
        for i in range(count):
            if used[i] or (phase == 0 and has_before[i]):
                continue
            starts[chains] = filled
            at = i
            while at >= 0 and not used[at]:
                used[at] = True
                sequence[filled] = at
                filled += 1
                at = follow[at]
            closed[chains] = phase == 1
            chains += 1
    starts[chains] = filled
    return sequence, starts[: chains + 1], closed[:chains]


@njit(cache=True, nogil=True)
def _thin(points: F64, starts: NDArray[np.int64], closed: NDArray[np.bool_]):  # type: ignore[no-untyped-def]
    """Drop repeated points, then points on the line between their neighbours (crossings of flat edges)."""
    out = np.empty_like(points)
    new = np.empty_like(starts)
    filled = 0
    ring = np.empty_like(points)
    for c in range(starts.shape[0] - 1):
        new[c] = filled
        n = 0
        for i in range(starts[c], starts[c + 1]):
            if n == 0 or points[i, 0] != ring[n - 1, 0] or points[i, 1] != ring[n - 1, 1]:
                ring[n] = points[i]
                n += 1
        if closed[c] and n > 1 and ring[0, 0] == ring[n - 1, 0] and ring[0, 1] == ring[n - 1, 1]:
            n -= 1
        for i in range(n):
            p = ring[i]
            if closed[c] or 0 < i < n - 1:
                a = out[filled - 1] if filled > new[c] else ring[(i - 1) % n]
                b = ring[(i + 1) % n]
                du, dv = b[0] - a[0], b[1] - a[1]
                length = np.hypot(du, dv)
                off = abs((p[0] - a[0]) * dv - (p[1] - a[1]) * du)
                along = (p[0] - a[0]) * du + (p[1] - a[1]) * dv
                if length > 0 and off <= 1e-7 * length and 0 <= along <= length * length:
                    continue
            out[filled] = p
            filled += 1
    new[starts.shape[0] - 1] = filled
    return out[:filled], new


def slice_triangles(points: F64, triangles: I32, use: NDArray[np.bool_], group: I32) -> Rings:
    """Outlines where the plane w = 0 passes through triangles.

    points (n, 3) drawing mm; triangles (m, 3); use (m,) which to cut; group (m,): chains never mix groups.
    Rings run with the body at one constant side, so holes turn against the rings around them.
    """
    enter, leave, ends, owner = _cross(points, triangles, use)
    sequence, starts, closed = _chain(enter, leave, group[owner])
    ordered = ends[sequence]
    triangle = owner[sequence[starts[:-1]]] if len(sequence) else np.zeros(0, np.int32)
    if closed.all():
        thinned, new = _thin(ordered[:, :2].copy(), starts, closed)
        return Rings(thinned, new, triangle, closed)
    # an open chain also needs the far end of its last piece
    chains = []
    for k in range(len(closed)):
        rows = ordered[starts[k] : starts[k + 1]]
        chains.append(rows[:, :2] if closed[k] else np.vstack((rows[:, :2], rows[-1:, 2:])))
    chains, triangle, closed = _bridge(chains, triangle, closed, group)
    offsets = np.r_[0, np.cumsum([len(c) for c in chains])].astype(np.int64)
    thinned, new = _thin(np.concatenate(chains), offsets, closed)
    return Rings(thinned, new, triangle, closed)


def _bridge(
    chains: list[F64], triangle: I32, closed: NDArray[np.bool_], group: I32
) -> tuple[list[F64], I32, NDArray[np.bool_]]:
    """Join open chains of one group end to start, or end to end, across gaps of at most BRIDGE."""
    result = [(c, int(t), True) for c, t, k in zip(chains, triangle, closed, strict=True) if k]
    pending: dict[int, list[tuple[F64, int]]] = {}
    for c, t, k in zip(chains, triangle, closed, strict=True):
        if not k:
            pending.setdefault(int(group[t]), []).append((c, int(t)))
    for loose in pending.values():
        while loose:
            chain, t = loose.pop()
            while True:
                gaps = [float(np.hypot(*(chain[-1] - chain[0])))]
                gaps += [float(np.hypot(*(chain[-1] - other[0]))) for other, _ in loose]
                gaps += [float(np.hypot(*(chain[-1] - other[-1]))) for other, _ in loose]
                best = int(np.argmin(gaps))
                if gaps[best] > BRIDGE:
                    result.append((chain, t, False))
                    break
                if best == 0:
                    result.append((chain, t, True))
                    break
                turned = best > len(loose)
                other, _ = loose.pop((best - 1) % len(loose))
                chain = np.vstack((chain, other[::-1] if turned else other))
    return [r[0] for r in result], np.array([r[1] for r in result], np.int32), np.array([r[2] for r in result], bool)
