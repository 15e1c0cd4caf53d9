"""Joints: where a surface runs on as the same in another element, or another part of one, which may need no line."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.model.mesh.edges import Sides
from edge_slice.core.model.mesh.surfaces import Surfaces
from edge_slice.core.model.mesh.triangles import Mesh
from edge_slice.core.model.mesh.winding import shells

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
NEAR = 1e-4  # metres; edges nearer to a line than this lie on it
ONE_PLANE = 0.9999  # cosine between faces that continue each other
SIDE = np.array([0.5773, 0.7391, 0.3478])  # a direction that no edge is square to, to give lines one sense


@dataclass(frozen=True)
class Joints:
    """Stretches of edges with a face that runs on in another element or part, sorted by edge.

    edge (k,) int64 into the mesh's edges; other (k,) int64: the other element, or the same for a part of it; ends
    (k, 2, 3) metres; runs_on, skin, meets (k, 2) bool: which of the edge's two faces run on in one of the other's, for
    which of these both show layers, and which look into one of the other's.
    """

    edge: I64
    other: I64
    ends: F64
    runs_on: Flags
    skin: Flags
    meets: Flags

    def pick(self, chosen: Flags) -> Joints:
        rows = (self.runs_on[chosen], self.skin[chosen], self.meets[chosen])
        return Joints(self.edge[chosen], self.other[chosen], self.ends[chosen], *rows)


class _Edges(NamedTuple):
    """Of each edge: the foot of the origin on its line, the line's direction, its element and its triangles."""

    foot: F64
    along: F64
    element: NDArray[np.int32]
    triangles: NDArray[np.int32]


class _Faces(NamedTuple):
    """Of each triangle: its surface, whether it is skin, and its corners."""

    surface: I64
    skin: Flags
    vertices: F64
    triangles: NDArray[np.int32]


def joints_of(mesh: Mesh, surfaces: Surfaces) -> Joints:
    """All joints of a model."""
    foot, along, t, key = _lines(mesh.vertices, mesh.edges)
    beside = _beside(_in_runs(key), key, t, foot)
    part = _shells_at(mesh, beside)
    edges = _Edges(foot, along, mesh.edge_element, mesh.edge_triangles)
    faces = _Faces(surfaces.kind, surfaces.skin, mesh.vertices, mesh.triangles)
    edge, other, low, high, bits = _shared(beside, t, part, edges, faces)
    rows = np.lexsort((low, edge))
    edge, other, low, high, bits = edge[rows], other[rows], low[rows], high[rows], bits[rows]
    ends = foot[edge][:, None, :] + np.stack((low, high), axis=1)[:, :, None] * along[edge][:, None, :]
    flags = (bits[:, None] >> np.arange(6, dtype=np.uint8)) & 1 > 0
    return Joints(edge, other, ends, flags[:, :2], flags[:, 2:4], flags[:, 4:])


def _in_runs(key: NDArray[np.uint64]) -> I64:
    """The edges whose key others have too, those of one key after the other."""
    order = np.argsort(key)
    ranked = key[order]
    alike = ranked[1:] == ranked[:-1]
    return np.asarray(order[np.append(alike, False) | np.append(False, alike)], dtype=np.int64)


def _shells_at(mesh: Mesh, beside: I64) -> I64:
    """The shell that each edge is of, for edges of the elements that pairs (n, 2) of edges are of."""
    chosen = np.zeros(int(mesh.triangle_element.max(initial=-1)) + 1, dtype=bool)
    chosen[mesh.triangle_element[mesh.edge_triangles[beside.ravel(), 0]]] = True
    rows = np.flatnonzero(chosen[mesh.triangle_element])
    triangles = mesh.triangles[rows]
    shell = np.full(len(mesh.triangles), -1, dtype=np.int64)
    shell[rows] = shells(triangles, Sides.of(triangles, len(mesh.vertices)).neighbours())[0]
    return shell[mesh.edge_triangles[:, 0]]


@njit(cache=True, nogil=True)
def _lines(vertices: F64, edges: NDArray[np.int32]):  # type: ignore[no-untyped-def]
    """Of each edge: the foot of the origin on its line, the line's direction in one sense, where on it the edge begins
    and ends, and a number that edges on one line have in common."""
    n = edges.shape[0]
    foot, along, t = np.empty((n, 3)), np.empty((n, 3)), np.empty((n, 2))
    key = np.zeros(n, np.uint64)
    factor = np.uint64(0x9E3779B97F4A7C15)
    for i in range(n):
        a, b = vertices[edges[i, 0]], vertices[edges[i, 1]]
        x, y, z = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        size = max(np.sqrt(x * x + y * y + z * z), 1e-12)
        if x * SIDE[0] + y * SIDE[1] + z * SIDE[2] < 0:
            size = -size
        x, y, z = x / size, y / size, z / size
        start = a[0] * x + a[1] * y + a[2] * z
        end = b[0] * x + b[1] * y + b[2] * z
        t[i, 0], t[i, 1] = min(start, end), max(start, end)
        along[i, 0], along[i, 1], along[i, 2] = x, y, z
        foot[i, 0], foot[i, 1], foot[i, 2] = a[0] - start * x, a[1] - start * y, a[2] - start * z
        for k in range(3):
            key[i] = (key[i] ^ np.uint64(np.int64(np.rint(along[i, k] / (NEAR / 10))))) * factor
        for k in range(3):
            key[i] = (key[i] ^ np.uint64(np.int64(np.rint(foot[i, k] / NEAR)))) * factor
    return foot, along, t, key


@njit(cache=True, nogil=True)
def _beside(order: I64, key: NDArray[np.uint64], t: F64, foot: F64):  # type: ignore[no-untyped-def]
    """Pairs (n, 2) of edges on one line that have a stretch of it in common; `order` has those of one key together."""
    size, filled, first = 64, 0, 0
    found = np.empty((size, 2), np.int64)
    while first < order.shape[0]:
        last = first + 1
        while last < order.shape[0] and key[order[last]] == key[order[first]]:
            last += 1
        run = np.sort(order[first:last])
        run = run[np.argsort(t[run, 0], kind="mergesort")]  # by place, then by number
        for x in range(run.shape[0]):
            i = run[x]
            for y in range(x + 1, run.shape[0]):
                j = run[y]
                if t[j, 0] > t[i, 1] - NEAR:
                    break
                if min(t[i, 1], t[j, 1]) - t[j, 0] < NEAR or np.abs(foot[i] - foot[j]).max() > 2 * NEAR:
                    continue
                if filled == size:
                    size *= 2
                    found = np.concatenate((found, np.empty_like(found)))
                found[filled, 0], found[filled, 1] = i, j
                filled += 1
        first = last
    return found[:filled]


@njit(cache=True, nogil=True)
def _shared(beside: I64, t: F64, part: I64, edges: _Edges, faces: _Faces):  # type: ignore[no-untyped-def]
    """Stretches that edges of two parts share: edge, the other's element, from, to, faces as `_held` has them."""
    element = edges.element
    filled, size = 0, 2 * beside.shape[0]
    rows = np.empty((size, 2), np.int64)
    spans = np.empty((size, 2))
    masks = np.empty(size, np.uint8)
    for k in range(beside.shape[0]):
        i, j = beside[k]
        if part[i] == part[j]:
            continue
        mine, theirs = _held(i, j, edges, faces)
        if not mine:
            continue
        rows[filled, 0], rows[filled, 1], masks[filled] = i, element[j], mine
        rows[filled + 1, 0], rows[filled + 1, 1], masks[filled + 1] = j, element[i], theirs
        spans[filled : filled + 2, 0], spans[filled : filled + 2, 1] = t[j, 0], min(t[i, 1], t[j, 1])
        filled += 2
    return rows[:filled, 0], rows[:filled, 1], spans[:filled, 0], spans[:filled, 1], masks[:filled]


@njit(cache=True, nogil=True)
def _held(i, j, edges, faces):  # type: ignore[no-untyped-def]
    """Which faces of two edges on a line run on (first two bits), as layers (next two), or look into one of the other
    (last two), for either edge; none unless one runs on."""
    on_line, along = edges.foot[i], edges.along[i]
    edge_triangles, surface, skin = edges.triangles, faces.surface, faces.skin
    mine, theirs = 0, 0
    runs_on = False
    for p in range(2):
        for q in range(2):
            s, r = edge_triangles[i, p], edge_triangles[j, q]
            if s < 0 or r < 0:
                continue
            n, m = _normal(s, faces), _normal(r, faces)
            cosine = (n * m).sum()
            on = False
            if cosine > ONE_PLANE and surface[s] == surface[r]:
                across = np.cross(along, n)
                on = _side(s, on_line, across, faces) * _side(r, on_line, across, faces) < 0
            if on or cosine < -ONE_PLANE:
                way = 16 if not on else 5 if skin[s] and skin[r] else 1
                mine |= way << p
                theirs |= way << q
                runs_on |= on
    return (mine, theirs) if runs_on else (0, 0)


@njit(cache=True, nogil=True)
def _normal(t, faces):  # type: ignore[no-untyped-def]
    vertices, triangles = faces.vertices, faces.triangles
    a = vertices[triangles[t, 0]]
    n = np.cross(vertices[triangles[t, 1]] - a, vertices[triangles[t, 2]] - a)
    return n / max(np.sqrt((n * n).sum()), 1e-30)


@njit(cache=True, nogil=True)
def _side(t, on_line, across, faces):  # type: ignore[no-untyped-def]
    """On which side of a line in its plane a triangle lies."""
    vertices, triangles = faces.vertices, faces.triangles
    middle = (vertices[triangles[t, 0]] + vertices[triangles[t, 1]] + vertices[triangles[t, 2]]) / 3.0
    return ((middle - on_line) * across).sum()
