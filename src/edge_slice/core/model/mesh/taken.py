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


def mesh_less(mesh: Mesh, spaces: Sequence[Space], takes: Flags) -> tuple[Mesh, I32]:
    """What spaces leave of a mesh, where they take from elements (elements,), and of which edge before each of its
    edges is a part. Elements keep their numbers; edges that the spaces make are none of its."""
    parts = np.arange(len(mesh.edges), dtype=np.int32)
    for space in spaces:
        mesh, of = _less(mesh, space, takes)
        parts = parts[of]
    return mesh, parts


def _less(mesh: Mesh, space: Space, takes: Flags) -> tuple[Mesh, I32]:
    heights = space.heights(mesh.vertices)
    reached = takes[mesh.triangle_element] & (heights[mesh.triangles].max(axis=1) > 0).all(axis=1)
    touched = np.zeros(len(takes), dtype=bool)
    touched[mesh.triangle_element[reached]] = True
    if not touched.any():
        return mesh, np.arange(len(mesh.edges), dtype=np.int32)
    rows = np.flatnonzero(touched[mesh.triangle_element])
    pieces = Pieces(mesh.vertices, mesh.triangles[rows].astype(np.int64), rows)
    for normal, offset in zip(space.normal, space.offset, strict=True):
        pieces = parted(pieces, normal, float(offset))
    middles = pieces.points[pieces.triangles].mean(axis=1)
    left = ~((middles @ space.normal.T - space.offset) > 0).all(axis=1)
    others = np.flatnonzero(~touched[mesh.triangle_element])
    of = np.concatenate((others, pieces.of[left]))
    corners = np.concatenate((mesh.triangles[others], pieces.triangles[left].astype(np.int32)))
    order = np.argsort(of, kind="stable")
    of, corners = of[order], corners[order]
    place = np.full(len(mesh.triangles), -1, dtype=np.int32)  # one piece of each triangle: all look the same way
    place[of[::-1]] = np.arange(len(of), dtype=np.int32)[::-1]
    points, edges, between, parts = _edges_left(mesh, pieces.points, (space, touched), place)
    made = replace(
        mesh,
        vertices=points,
        triangles=corners,
        triangle_element=mesh.triangle_element[of],
        triangle_material=mesh.triangle_material[of],
        neighbours=_neighbours(mesh, corners, of, place, touched),
        edges=edges,
        edge_triangles=between,
        edge_sharp=mesh.edge_sharp[parts],
        edge_element=mesh.edge_element[parts],
    )
    return made, parts


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


def _neighbours(mesh: Mesh, corners: I32, of: I64, place: I32, touched: Flags) -> I32:
    """The triangle across each side (m, 3): as before, where an element is as before."""
    found = mesh.neighbours[of].copy()
    found[found >= 0] = place[found[found >= 0]]
    rows = np.flatnonzero(touched[mesh.triangle_element[of]])
    beside = Sides.of(corners[rows], int(corners.max(initial=0)) + 1).neighbours()
    found[rows] = np.where(beside >= 0, rows[beside], -1)
    return found


def _edges_left(mesh: Mesh, points: F64, by: tuple[Space, Flags], place: I32) -> tuple[F64, I32, I32, I32]:
    """Points with those where edges end now; edges (e, 2), their triangles (e, 2), and of which edge each is a part."""
    space, touched = by
    mine = np.flatnonzero(touched[mesh.edge_element])
    start, end = (mesh.vertices[mesh.edges[mine, k]] for k in (0, 1))
    first, last = space.heights(start), space.heights(end)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = first / (first - last)
    into = np.where((first <= 0) & (last > 0), share, np.where(first <= 0, np.inf, 0.0)).max(axis=1)
    out = np.where((first > 0) & (last <= 0), share, np.where(last <= 0, -np.inf, 1.0)).min(axis=1)
    taken = into < out - SHORT
    kept = np.ones(len(mesh.edges), dtype=bool)
    kept[mine[taken]] = False
    parts, ends = [np.flatnonzero(kept)], [mesh.edges[kept]]
    count = len(points)
    added = []
    for whole, at, corner in ((taken & (into > SHORT), into, 0), (taken & (out < 1 - SHORT), out, 1)):
        rows, k = mine[whole], np.arange(count, count + int(whole.sum()), dtype=np.int32)
        added.append(start[whole] + at[whole, None] * (end[whole] - start[whole]))
        pair = (mesh.edges[rows, 0], k) if corner == 0 else (k, mesh.edges[rows, 1])
        ends.append(np.column_stack(pair).astype(np.int32))
        parts.append(rows)
        count += len(rows)
    part = np.concatenate(parts)
    order = np.argsort(part, kind="stable")
    part, edges = part[order], np.concatenate(ends)[order]
    before = mesh.edge_triangles[part]
    between = np.where(before >= 0, place[before], -1)
    between = np.where((between[:, :1] < 0) & (between[:, 1:] >= 0), between[:, ::-1], between)
    there = between[:, 0] >= 0
    return (
        np.concatenate((points, *added)), edges[there], between[there].astype(np.int32), part[there].astype(np.int32)
    )  # fmt: skip
