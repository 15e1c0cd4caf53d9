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
    a, b = mesh.vertices[mesh.edges[:, 0]], mesh.vertices[mesh.edges[:, 1]]
    along = b - a
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-12)
    along *= np.where(along @ SIDE < 0, -1.0, 1.0)[:, None]
    t = np.sort(np.column_stack((np.einsum("ij,ij->i", a, along), np.einsum("ij,ij->i", b, along))), axis=1)
    foot = a - np.einsum("ij,ij->i", a, along)[:, None] * along
    key = np.zeros(len(a), dtype=np.uint64)
    for column in (*np.rint(along / (NEAR / 10)).astype(np.int64).T, *np.rint(foot / NEAR).astype(np.int64).T):
        key = (key ^ column.astype(np.uint64)) * np.uint64(0x9E3779B97F4A7C15)
    order = np.lexsort((t[:, 0], key))
    by_two = Sides.of(mesh.triangles, len(mesh.vertices)).neighbours()
    part = shells(mesh.triangles, by_two)[0][mesh.edge_triangles[:, 0]]
    edges = _Edges(foot, along, mesh.edge_element, mesh.edge_triangles)
    faces = _Faces(surfaces.kind, surfaces.skin, mesh.vertices, mesh.triangles)
    edge, other, low, high, bits = _pairs(order, key, t, part, edges, faces)
    rows = np.lexsort((low, edge))
    edge, other, low, high, bits = edge[rows], other[rows], low[rows], high[rows], bits[rows]
    ends = foot[edge][:, None, :] + np.stack((low, high), axis=1)[:, :, None] * along[edge][:, None, :]
    flags = (bits[:, None] >> np.arange(6, dtype=np.uint8)) & 1 > 0
    return Joints(edge, other, ends, flags[:, :2], flags[:, 2:4], flags[:, 4:])


@njit(cache=True, nogil=True)
def _pairs(  # type: ignore[no-untyped-def]
    order: I64, key: NDArray[np.uint64], t: F64, part: I64, edges: _Edges, faces: _Faces
):
    """Stretches that edges of two parts share: edge, the other's element, from, to, faces as `_held` has them."""
    foot, element = edges.foot, edges.element
    size, filled = 64, 0
    rows = np.empty((size, 2), np.int64)
    spans = np.empty((size, 2))
    masks = np.empty(size, np.uint8)
    for x in range(order.shape[0]):
        i = order[x]
        for y in range(x + 1, order.shape[0]):
            j = order[y]
            if key[j] != key[i] or t[j, 0] > t[i, 1] - NEAR:
                break
            low, high = t[j, 0], min(t[i, 1], t[j, 1])
            if part[i] == part[j] or high - low < NEAR or np.abs(foot[i] - foot[j]).max() > 2 * NEAR:
                continue
            mine, theirs = _held(i, j, edges, faces)
            if not mine:
                continue
            if filled + 2 > size:
                size *= 2
                rows = np.concatenate((rows, np.empty_like(rows)))
                spans = np.concatenate((spans, np.empty_like(spans)))
                masks = np.concatenate((masks, np.empty_like(masks)))
            rows[filled, 0], rows[filled, 1], masks[filled] = i, element[j], mine
            rows[filled + 1, 0], rows[filled + 1, 1], masks[filled + 1] = j, element[i], theirs
            spans[filled : filled + 2, 0], spans[filled : filled + 2, 1] = low, high
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
