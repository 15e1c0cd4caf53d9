"""The model's triangles, and what depends on them alone: welding, neighbours, feature edges, volumes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.crossings import crossing_edges

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]

WELD = 1e-5  # metres; points of one element closer than this become one
CREASE_COSINE = float(np.cos(np.radians(20.0)))  # sharper folds are feature edges from every side
FLAT_COSINE = float(np.cos(np.radians(0.02)))  # flatter folds are no edge at all: any other may be an outline


@dataclass(frozen=True)
class Mesh:
    """Welded triangles of all elements.

    vertices (n, 3) float64 metres; triangles (m, 3) int32, counter-clockwise seen from outside, grouped by
    element; triangle_element, triangle_material (m,) int32 (material -1: the element's own);
    neighbours (m, 3) int32: the triangle across edge k (from corner k to k+1), -1 where there is none;
    edges (e, 2) int32 vertex pairs that may be drawn, element by element, also those where two elements pass through
    each other (then the triangles are one of each); edge_triangles (e, 2) int32 (-1: none);
    edge_sharp (e,) bool: drawn from every side, else only as an outline; edge_element (e,) int32;
    open_elements (k,) int32: elements with an edge that bounds an odd number of triangles.
    """

    vertices: F64
    triangles: I32
    triangle_element: I32
    triangle_material: I32
    neighbours: I32
    edges: I32
    edge_triangles: I32
    edge_sharp: NDArray[np.bool_]
    edge_element: I32
    open_elements: I32

    @cached_property
    def normals(self) -> F64:
        """Triangle normals (m, 3), length twice the area."""
        a, b, c = (self.vertices[self.triangles[:, k]] for k in range(3))
        return np.cross(b - a, c - a)

    def volumes(self, count: int) -> F64:
        """Enclosed volume of each of `count` elements in cubic metres (true for closed ones)."""
        return _signed_volumes(self.vertices, self.triangles, self.triangle_element, count)


def _signed_volumes(vertices: F64, triangles: I32, element: I32, count: int) -> F64:
    a, b, c = (vertices[triangles[:, k]] for k in range(3))
    first = np.zeros((count, 3))
    first[element[::-1]] = a[::-1]  # measured from a point of the element, for precision far from the origin
    base = first[element]
    parts = np.einsum("ij,ij->i", a - base, np.cross(b - base, c - base)) / 6.0
    return np.bincount(element, weights=parts, minlength=count).astype(np.float64)


def build_mesh(vertices: F64, triangles: I32, element: I32, material: I32) -> Mesh:
    """Weld, drop slivers without area and triangles that stand twice, turn inverted elements outside out, and find
    neighbours and edges.

    vertices (n, 3) float64 metres; triangles (m, 3); element, material (m,) with elements in ascending order.
    """
    points, corners = _weld(vertices, triangles, element)
    distinct = (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    distinct[distinct] = _once(corners[distinct], element[distinct])
    corners, element, material = corners[distinct], element[distinct], material[distinct]
    count = int(element.max()) + 1 if len(element) else 0
    inverted = _signed_volumes(points, corners, element, count) < 0
    flip = inverted[element] if count else np.zeros(0, dtype=bool)
    corners[flip] = corners[flip][:, ::-1]
    neighbours, edges, edge_triangles, sharp, odd = _edges(points, corners, material)
    crossings, crossed = crossing_edges(points, corners, element, count)
    if len(crossings):
        ends = np.arange(len(points), len(points) + 2 * len(crossings), dtype=np.int32).reshape(-1, 2)
        points = np.concatenate((points, crossings.reshape(-1, 3)))
        edges, edge_triangles = np.concatenate((edges, ends)), np.concatenate((edge_triangles, crossed))
        sharp = np.concatenate((sharp, np.ones(len(ends), dtype=bool)))
        order = np.argsort(element[edge_triangles[:, 0]], kind="stable")
        edges, edge_triangles, sharp = edges[order], edge_triangles[order], sharp[order]
    edge_element = element[edge_triangles[:, 0]] if len(edges) else np.zeros(0, dtype=np.int32)
    leaking = np.unique(element[odd])
    return Mesh(points, corners, element, material, neighbours, edges, edge_triangles, sharp, edge_element, leaking)


def _once(corners: I32, element: I32) -> NDArray[np.bool_]:
    """Which triangles stay: of those that stand twice in an element the same way round, the first; of a whole element
    that stands twice, once inside out, the first half. (Two parts that share a face have it both ways round, and need
    both.)"""
    low, high = corners.min(axis=1).astype(np.uint64), corners.max(axis=1).astype(np.uint64)
    middle = corners.sum(axis=1, dtype=np.int64).astype(np.uint64) - low - high
    following = np.take_along_axis(np.roll(corners, -1, axis=1), corners.argmin(axis=1)[:, None], axis=1)[:, 0]
    turned = following.astype(np.uint64) != middle
    mixed = (low * np.uint64(0x9E3779B97F4A7C15)) ^ (middle * np.uint64(0xC2B2AE3D27D4EB4F)) ^ high
    order = np.lexsort((turned, mixed))
    rows = np.column_stack((mixed, low, middle, high))[order]
    same = (rows[1:] == rows[:-1]).all(axis=1) if len(rows) else np.zeros(0, dtype=bool)
    alike = turned[order][1:] == turned[order][:-1] if len(rows) else np.zeros(0, dtype=bool)
    keep = np.ones(len(corners), dtype=bool)
    keep[order[1:][same & alike]] = False
    opposite = np.zeros(len(corners), dtype=bool)
    first, second = order[:-1][same & ~alike], order[1:][same & ~alike]
    opposite[first] = opposite[second] = True
    if opposite.any():
        count = int(element.max()) + 1
        whole = np.bincount(element[keep & opposite], minlength=count) == np.bincount(element[keep], minlength=count)
        keep[np.maximum(first, second)[whole[element[first]]]] = False
    return keep


def _weld(vertices: F64, triangles: I32, element: I32) -> tuple[F64, I32]:
    if not len(triangles):
        return vertices[:0], triangles.astype(np.int32)
    owner = np.zeros(len(vertices), dtype=np.int64)
    owner[triangles.reshape(-1)] = np.repeat(element, 3)
    snapped = np.rint(vertices / WELD).astype(np.int64)
    order = np.lexsort((snapped[:, 2], snapped[:, 1], snapped[:, 0], owner))
    keys = np.column_stack((owner, snapped))[order]
    new = np.ones(len(keys), dtype=bool)
    new[1:] = (keys[1:] != keys[:-1]).any(axis=1)
    target = np.empty(len(vertices), dtype=np.int32)
    target[order] = np.cumsum(new) - 1
    return vertices[order[new]], target[triangles].astype(np.int32)


def _edges(points: F64, corners: I32, material: I32) -> tuple[I32, I32, I32, NDArray[np.bool_], I32]:
    """Neighbour table, drawable edges with their two triangles, which of them are sharp, and triangles at
    an edge that bounds an odd number of them (where a body leaks)."""
    m = len(corners)
    if not m:
        none = np.zeros((0, 2), dtype=np.int32)
        return np.zeros((0, 3), dtype=np.int32), none, none, np.zeros(0, dtype=bool), none[:, 0]
    ends = np.stack((corners, np.roll(corners, -1, axis=1)), axis=2).reshape(-1, 2)
    low, high = ends.min(axis=1).astype(np.int64), ends.max(axis=1).astype(np.int64)
    key = low * (len(points) + 1) + high
    order = np.argsort(key, kind="stable")
    starts = np.flatnonzero(np.r_[True, np.diff(key[order]) != 0])
    sizes = np.diff(np.r_[starts, len(order)])
    first = order[starts]
    second = np.where(sizes >= 2, order[np.minimum(starts + 1, len(order) - 1)], -1)

    neighbours = np.full(3 * m, -1, dtype=np.int32)
    pair = sizes == 2
    neighbours[first[pair]] = second[pair] // 3
    neighbours[second[pair]] = first[pair] // 3

    normal = np.cross(points[corners[:, 1]] - points[corners[:, 0]], points[corners[:, 2]] - points[corners[:, 0]])
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    normal = normal / np.where(length > 0, length, 1.0)
    t0, t1 = first // 3, np.where(second >= 0, second // 3, -1)
    cosine = np.einsum("ij,ij->i", normal[t0], normal[t1])
    same = ends[first] == ends[second]
    turned = pair & same.all(axis=1)  # neighbours with opposite winding: compare as if one were turned
    cosine = np.where(turned, -cosine, cosine)
    sharp = ~pair | (cosine < CREASE_COSINE) | (material[t0] != material[t1])
    keep = sharp | (cosine < FLAT_COSINE)
    # Edges with three or more triangles keep two of them: enough to be drawn and to skip their own faces.
    edge_triangles = np.column_stack((t0, t1)).astype(np.int32)
    odd = t0[sizes % 2 == 1].astype(np.int32)
    return neighbours.reshape(m, 3), ends[first][keep].astype(np.int32), edge_triangles[keep], sharp[keep], odd
