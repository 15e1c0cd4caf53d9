"""Mends what keeps bodies from being closed: corners on the sides of other triangles, sheets within a body."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model.mesh.edges import Sides
from edge_slice.core.model.mesh.winding import shells

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
ON_EDGE = 2e-5  # metres; a corner nearer to an open edge lies on it
RUNS_ON = 0.999  # cosine between triangles that continue each other past a sheet's border
BORDER = 0.9  # share of a sheet's border that must lie so
RAYS = np.array(
    [(0.61, 0.67, 0.42), (-0.53, 0.32, 0.79), (0.28, -0.88, 0.38), (-0.71, -0.45, -0.54), (0.4, 0.2, -0.89)]
)


def inner_sheets(points: F64, corners: I32, element: I32, sides: Sides) -> Flags:
    """Which triangles (m,) belong to a sheet within a body: its border lies on the body's surface, which runs on there
    in one plane, and both its sides are inside. Bodies that were joined by their shells alone often keep one."""
    none = np.zeros(len(corners), dtype=bool)
    odd = np.flatnonzero((sides.sizes % 2 == 1) & (sides.sizes >= 3))
    if not len(odd):
        return none
    suspect = np.isin(element, np.unique(element[sides.order[sides.starts[odd]] // 3]))
    shell, _, _ = shells(corners, sides.neighbours())
    normal = np.cross(points[corners[:, 1]] - points[corners[:, 0]], points[corners[:, 2]] - points[corners[:, 0]])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
    count = int(shell.max()) + 1
    held, border = np.zeros(count), np.zeros(count)
    for k in np.flatnonzero(sides.sizes != 2).tolist():
        members = sides.order[sides.starts[k] : sides.starts[k + 1]]
        if not suspect[members[0] // 3]:
            continue
        a, b = points[sides.ends[members[0]]]
        length = float(np.linalg.norm(b - a))
        of = members // 3
        border[shell[of]] += length
        if len(members) == 3:
            flat = np.abs((normal[of] @ normal[of].T)[[1, 0, 0], [2, 2, 1]])
            if flat.max() > RUNS_ON:
                held[shell[of[int(flat.argmax())]]] += length
    sheet = (held > 0) & (held >= BORDER * border)
    inner = none.copy()
    for s in np.flatnonzero(sheet).tolist():
        own = np.flatnonzero(shell == s)
        body = points[corners[(element == element[own[0]]) & ~sheet[shell]]]
        middle = points[corners[own[0]]].mean(axis=0)
        off = normal[own[0]] * 10 * ON_EDGE
        if len(body) and _inside(body, middle + off) and _inside(body, middle - off):
            inner[own] = True
    return inner


def _inside(triangles: F64, point: F64) -> bool:
    """Whether most rays from a point leave the triangles (k, 3, 3) an odd number of times."""
    return 2 * sum(int(_crossed(triangles, point, ray)) % 2 for ray in RAYS) > len(RAYS)


@njit(cache=True, nogil=True)
def _crossed(triangles: F64, origin: F64, ray: F64):  # type: ignore[no-untyped-def]
    """How many triangles a ray meets (Moeller and Trumbore 1997)."""
    count = 0
    for t in range(triangles.shape[0]):
        a, e, f = triangles[t, 0], triangles[t, 1] - triangles[t, 0], triangles[t, 2] - triangles[t, 0]
        p = np.cross(ray, f)
        det = (e * p).sum()
        if abs(det) < 1e-18:
            continue
        s = origin - a
        u = (s * p).sum() / det
        q = np.cross(s, e)
        v = (ray * q).sum() / det
        if u >= 0 and v >= 0 and u + v <= 1 and (f * q).sum() / det > 0:
            count += 1
    return count


def split_at_corners(
    points: F64, corners: I32, element: I32, material: I32, sides: Sides
) -> tuple[I32, I32, I32] | None:
    """Triangles divided where a corner of their element lies on an open edge of theirs: tessellated bodies often have
    such corners, and are closed only with them. None where there is nothing to divide."""
    open_sides = sides.order[sides.starts[:-1][sides.sizes == 1]]
    if len(open_sides) < 3:
        return None
    ends = sides.ends[open_sides]
    owner = element[open_sides // 3]
    loose = np.unique(ends)
    of = np.zeros(len(points), dtype=np.int64)
    of[corners.reshape(-1)] = np.repeat(element, 3)
    segments = shapely.linestrings(points[ends][:, :, :2])
    side, at = shapely.STRtree(shapely.points(points[loose, :2])).query(segments, predicate="dwithin", distance=ON_EDGE)
    vertex = loose[at]
    same = of[vertex] == owner[side]
    side, vertex = side[same], vertex[same]
    a, b, p = points[ends[side, 0]], points[ends[side, 1]], points[vertex]
    along = b - a
    long = np.maximum(np.linalg.norm(along, axis=1), 1e-300)
    share = np.einsum("ij,ij->i", p - a, along) / long**2
    off = np.linalg.norm(p - a - share[:, None] * along, axis=1)
    on = (off < ON_EDGE) & (share * long > ON_EDGE) & ((1 - share) * long > ON_EDGE)
    if not on.any():
        return None
    order = np.lexsort((share[on], side[on]))
    inserted: dict[int, list[int]] = {}
    for s, v in zip(open_sides[side[on][order]].tolist(), vertex[on][order].tolist(), strict=True):
        inserted.setdefault(s, []).append(v)
    return _divided(corners, element, material, inserted)


def _divided(corners: I32, element: I32, material: I32, inserted: dict[int, list[int]]) -> tuple[I32, I32, I32]:
    """Triangles with corners inserted in some of their sides (triangle * 3 + side), in the order of the side."""
    chosen = sorted({s // 3 for s in inserted})
    parts: list[tuple[int, int, int]] = []
    of: list[int] = []
    for t in chosen:
        a, b, c = corners[t].tolist()
        added = [inserted.get(3 * t + k, []) for k in range(3)]
        whole = [(a, b, c)]
        for start, end, new in ((a, b, added[0]), (b, c, added[1]), (c, a, added[2])):
            if not new:
                continue
            k = next(i for i, tri in enumerate(whole) if _has_side(tri, start, end))
            apex = next(x for x in whole.pop(k) if x not in (start, end))
            marks = [start, *new, end]
            whole += [(p, q, apex) for p, q in pairwise(marks)]
        parts += whole
        of += [t] * len(whole)
    rest = np.ones(len(corners), dtype=bool)
    rest[chosen] = False
    every = np.concatenate((corners[rest], np.array(parts, dtype=np.int32)))
    source = np.concatenate((np.flatnonzero(rest), np.array(of, dtype=np.int64)))
    order = np.argsort(source, kind="stable")
    return every[order].astype(np.int32), element[source[order]], material[source[order]]


def _has_side(triangle: tuple[int, int, int], start: int, end: int) -> bool:
    return any(triangle[k] == start and triangle[(k + 1) % 3] == end for k in range(3))
