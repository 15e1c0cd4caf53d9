"""Triangles and edges less what lies in convex spaces: nothing closes them again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.mesh.edges import Sides
from edge_slice.core.model.mesh.triangles import Mesh

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
ON = 1e-7  # metres; a corner nearer to a plane lies on it
SHORT = 1e-6  # of an edge's length; less of it is nothing


@dataclass(frozen=True)
class Space:
    """What lies before all of some planes: normal (k, 3) unit vectors, offset (k,) metres, so that it is where
    normal · x > offset."""

    normal: F64
    offset: F64

    def heights(self, points: F64) -> F64:
        """How far points (n, 3) lie before each plane (n, k), metres; 0 on it."""
        found: F64 = points @ self.normal.T - self.offset
        found[np.abs(found) < ON] = 0.0
        return found


@dataclass(frozen=True)
class Pieces:
    """Triangles (m, 3) of points (n, 3), each with the one `of` (m,) which it is a piece."""

    points: F64
    triangles: I64
    of: I64


@dataclass(frozen=True)
class Stretches:
    """What is left of edges: `edge` (s,) ascending, from `start` to `end` (s,), shares of its length."""

    edge: I64
    start: F64
    end: F64


def mesh_less(mesh: Mesh, spaces: Sequence[Space], takes: Flags) -> tuple[Mesh, I64]:
    """What spaces leave of a mesh, where they take from elements (elements,), and of which edge of it each edge that is
    left is a stretch (edges,). Elements keep their numbers; the edges that the spaces make are none of its."""
    pieces = Pieces(mesh.vertices, mesh.triangles.astype(np.int64), np.arange(len(mesh.triangles)))
    edges = Stretches(np.arange(len(mesh.edges)), np.zeros(len(mesh.edges)), np.ones(len(mesh.edges)))
    touched = np.zeros(len(takes), dtype=bool)
    for space in spaces:
        owner = mesh.triangle_element[pieces.of]
        heights = space.heights(pieces.points)
        reached = np.zeros(len(takes), dtype=bool)
        reached[owner[takes[owner] & (heights[pieces.triangles].max(axis=1) > 0).all(axis=1)]] = True
        if reached.any():
            pieces = _pieces_less(pieces, space, reached[owner])
            edges = _stretches_less(mesh, edges, space, reached)
            touched |= reached
    return _joined(mesh, pieces, edges, touched) if touched.any() else (mesh, edges.edge)


def _pieces_less(pieces: Pieces, space: Space, mine: Flags) -> Pieces:
    """What a space leaves of those triangles (m,) that are `mine`, and all others."""
    own = Pieces(pieces.points, pieces.triangles[mine], pieces.of[mine])
    for normal, offset in zip(space.normal, space.offset, strict=True):
        own = parted(own, normal, float(offset))
    middles = own.points[own.triangles].mean(axis=1)
    left = ~((middles @ space.normal.T - space.offset) > 0).all(axis=1)
    return Pieces(
        own.points,
        np.concatenate((pieces.triangles[~mine], own.triangles[left])),
        np.concatenate((pieces.of[~mine], own.of[left])),
    )


def _stretches_less(mesh: Mesh, edges: Stretches, space: Space, reached: Flags) -> Stretches:
    """What a space leaves of the edges of elements (elements,) that it has reached, and all others."""
    first, last = (space.heights(mesh.vertices[mesh.edges[edges.edge, k]]) for k in (0, 1))
    with np.errstate(divide="ignore", invalid="ignore"):
        share = first / (first - last)
    into = np.where((first <= 0) & (last > 0), share, np.where(first <= 0, np.inf, -np.inf)).max(axis=1)
    out = np.where((first > 0) & (last <= 0), share, np.where(last <= 0, -np.inf, np.inf)).min(axis=1)
    into, out = np.maximum(into, edges.start), np.minimum(out, edges.end)
    taken = (into < out - SHORT) & reached[mesh.edge_element[edges.edge]]
    before, after = taken & (into > edges.start + SHORT), taken & (out < edges.end - SHORT)
    edge = np.concatenate((edges.edge[~taken], edges.edge[before], edges.edge[after]))
    order = np.argsort(edge, kind="stable")
    start = np.concatenate((edges.start[~taken], edges.start[before], out[after]))
    end = np.concatenate((edges.end[~taken], into[before], edges.end[after]))
    return Stretches(edge[order], start[order], end[order])


def _joined(mesh: Mesh, pieces: Pieces, left: Stretches, touched: Flags) -> tuple[Mesh, I64]:
    """A mesh of pieces of triangles and stretches of edges of another one."""
    order = np.argsort(pieces.of, kind="stable")
    of, corners = pieces.of[order], pieces.triangles[order].astype(np.int32)
    place = np.full(len(mesh.triangles), -1, dtype=np.int32)  # one piece of each triangle: all look the same way
    place[of[::-1]] = np.arange(len(of), dtype=np.int32)[::-1]
    before = mesh.edge_triangles[left.edge]
    between = np.where(before >= 0, place[before], -1)
    between = np.where((between[:, :1] < 0) & (between[:, 1:] >= 0), between[:, ::-1], between)
    there = between[:, 0] >= 0
    points, edges = _ends(mesh, pieces.points, left)
    joined = replace(
        mesh,
        vertices=points,
        triangles=corners,
        triangle_element=mesh.triangle_element[of],
        triangle_material=mesh.triangle_material[of],
        neighbours=_neighbours(mesh, corners, (of, place), touched),
        edges=edges[there],
        edge_triangles=between[there].astype(np.int32),
        edge_sharp=mesh.edge_sharp[left.edge[there]],
        edge_element=mesh.edge_element[left.edge[there]],
    )
    return joined, left.edge[there]


def _ends(mesh: Mesh, points: F64, left: Stretches) -> tuple[F64, I32]:
    """Points with those where edges end now, and the ends (s, 2) of stretches."""
    edges = mesh.edges[left.edge].copy()
    start, way = mesh.vertices[edges[:, 0]], mesh.vertices[edges[:, 1]] - mesh.vertices[edges[:, 0]]
    for k, share, moved in ((0, left.start, left.start > 0), (1, left.end, left.end < 1)):
        edges[moved, k] = np.arange(len(points), len(points) + int(moved.sum()))
        points = np.concatenate((points, start[moved] + share[moved, None] * way[moved]))
    return points, edges


def parted(pieces: Pieces, normal: F64, offset: float) -> Pieces:
    """Triangles parted along a plane, on both sides of it. Those that share a side share its parts, too."""
    points, triangles, of = pieces.points, pieces.triangles, pieces.of
    height = points @ normal - offset
    height[np.abs(height) < ON] = 0.0
    side = np.sign(height)[triangles]
    crossed = (side.max(axis=1) > 0) & (side.min(axis=1) < 0)
    if not crossed.any():
        return pieces
    rows, sides = triangles[crossed], side[crossed]
    on = (sides == 0).any(axis=1)
    alone = np.where(on, (sides == 0).argmax(axis=1), (sides * sides.sum(axis=1, keepdims=True)).argmin(axis=1))
    turned = np.take_along_axis(rows, (alone[:, None] + np.arange(3)) % 3, axis=1)
    a, b, c = turned.T
    # through a corner: across the side before it; else across both sides at the corner that is alone
    pairs = np.sort(
        np.concatenate((np.column_stack((b, c))[on], turned[~on][:, [0, 1]], turned[~on][:, [0, 2]])), axis=1
    )
    ends, index = np.unique(pairs, axis=0, return_inverse=True)
    low, high = ends.T
    share = (height[low] / (height[low] - height[high]))[:, None]
    index = index.ravel() + len(points)
    points = np.concatenate((points, points[low] + share * (points[high] - points[low])))
    count = int(on.sum())
    middle, one, other = index[:count], *np.split(index[count:], 2)
    parts = [np.column_stack((a[on], b[on], middle)), np.column_stack((a[on], middle, c[on]))]
    a, b, c = a[~on], b[~on], c[~on]
    parts += [np.column_stack((a, one, other)), np.column_stack((one, b, c)), np.column_stack((one, c, other))]
    own = of[crossed]
    owners = [own[on], own[on], own[~on], own[~on], own[~on]]
    return Pieces(points, np.concatenate((triangles[~crossed], *parts)), np.concatenate((of[~crossed], *owners)))


def _neighbours(mesh: Mesh, corners: I32, pieces: tuple[I64, I32], touched: Flags) -> I32:
    """The triangle across each side (m, 3) of pieces: as before, where an element is as before. `pieces`: of which
    triangle each is, and one of each triangle."""
    of, place = pieces
    found = mesh.neighbours[of].copy()
    found[found >= 0] = place[found[found >= 0]]
    rows = np.flatnonzero(touched[mesh.triangle_element[of]])
    beside = Sides.of(corners[rows], int(corners.max(initial=0)) + 1).neighbours()
    found[rows] = np.where(beside >= 0, rows[beside], -1)
    return found
