"""The model's triangles, and what depends on them alone: welding, neighbours, feature edges, volumes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.mesh.crossings import crossing_edges
from edge_slice.core.model.mesh.edges import Sides, drawable_edges, odd_triangles
from edge_slice.core.model.mesh.healing import inner_sheets, split_at_corners
from edge_slice.core.model.mesh.winding import outward
from edge_slice.core.remembered import Remembered

F64 = NDArray[np.float64]
I32 = NDArray[np.int32]

WELD = 1e-5  # metres; points of one element closer than this become one


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

    @cached_property
    def looks(self) -> Remembered[NDArray[np.int8]]:
        """Which way the triangles turn, by the last directions of view."""
        return Remembered("ways that triangles look", 8)

    def of_element(self, element: int) -> slice:
        """The triangles of an element."""
        return _rows_of(self.triangle_element, element)

    def edges_of_element(self, element: int) -> slice:
        """The edges of an element."""
        return _rows_of(self.edge_element, element)

    def volumes(self, count: int) -> F64:
        """Enclosed volume of each of `count` elements in cubic metres (true for closed ones)."""
        return _signed_volumes(self.vertices, self.triangles, self.triangle_element, count)


def _rows_of(owner: I32, element: int) -> slice:
    first, last = np.searchsorted(owner, np.array([element, element + 1], dtype=owner.dtype))  # no copy of all
    return slice(int(first), int(last))


def _signed_volumes(vertices: F64, triangles: I32, element: I32, count: int) -> F64:
    a, b, c = (vertices[triangles[:, k]] for k in range(3))
    first = np.zeros((count, 3))
    first[element[::-1]] = a[::-1]  # measured from a point of the element, for precision far from the origin
    base = first[element]
    parts = np.einsum("ij,ij->i", a - base, np.cross(b - base, c - base)) / 6.0
    return np.bincount(element, weights=parts, minlength=count).astype(np.float64)


def build_mesh(vertices: F64, triangles: I32, element: I32, material: I32) -> Mesh:
    """Weld, drop slivers without area and triangles that stand twice, divide sides at corners that lie on them,
    turn all outside out, and find neighbours and edges.

    vertices (n, 3) float64 metres; triangles (m, 3); element, material (m,) with elements in ascending order.
    """
    points, corners = _weld(vertices, triangles, element)
    distinct = (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    distinct[distinct] = _once(corners[distinct], element[distinct])
    corners, element, material = corners[distinct], element[distinct], material[distinct]
    count = int(element.max()) + 1 if len(element) else 0
    sides = Sides.of(corners, len(points))
    if (divided := split_at_corners(points, corners, element, material, sides)) is not None:
        corners, element, material = divided
        sides = Sides.of(corners, len(points))
    if (inner := inner_sheets(points, corners, element, sides)).any():
        corners, element, material = corners[~inner], element[~inner], material[~inner]
        sides = Sides.of(corners, len(points))
    flip = outward(points, corners, sides.neighbours(), element)
    if flip.any():
        corners[flip] = corners[flip][:, ::-1]
        sides = Sides.of(corners, len(points))
    neighbours, edges, edge_triangles, sharp = drawable_edges(points, corners, material, sides)
    crossings, crossed = crossing_edges(points, corners, element, count)
    if len(crossings):
        ends = np.arange(len(points), len(points) + 2 * len(crossings), dtype=np.int32).reshape(-1, 2)
        points = np.concatenate((points, crossings.reshape(-1, 3)))
        edges, edge_triangles = np.concatenate((edges, ends)), np.concatenate((edge_triangles, crossed))
        sharp = np.concatenate((sharp, np.ones(len(ends), dtype=bool)))
        order = np.argsort(element[edge_triangles[:, 0]], kind="stable")
        edges, edge_triangles, sharp = edges[order], edge_triangles[order], sharp[order]
    edge_element = element[edge_triangles[:, 0]] if len(edges) else np.zeros(0, dtype=np.int32)
    leaking = np.unique(element[odd_triangles(sides)])
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
