"""How far seen surfaces and the depth check agree, by points strewn over the view."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult
from edge_slice.core.cut.shown import shown_elements
from edge_slice.core.cut.surfaces.regions import SeenSurfaces
from edge_slice.core.model import Model
from oracles.depth_check import DepthCheck

NEAR = 1.0  # mm; depths that differ by less are the same


def check_of(model: Model, spec: AnyCut, result: CutResult) -> DepthCheck:
    """The depths of what a cut shows, as its lens projects them."""
    mesh = model.mesh
    shown = shown_elements(model, spec)[mesh.triangle_element]
    corners = result.axes.to_drawing(mesh.vertices)[mesh.triangles[shown]]
    if result.lens is not None:
        ahead = (corners[:, :, 2] > -0.999 * result.lens.distance).all(axis=1)
        shown = np.flatnonzero(shown)[ahead]
        corners = result.lens.project(corners[ahead])
    return DepthCheck(corners, mesh.triangle_element[shown])


def surface_agreement(model: Model, spec: AnyCut, result: CutResult, seen: SeenSurfaces, count: int) -> float:
    """Share of points (one leaf of a cut, opaque surfaces) of which cut, surface and sky are what the check says."""
    rng = np.random.default_rng(2)
    left, base, right, top = result.extents
    points = rng.uniform((left, base), (right, top), (count, 2))
    if result.polygon is not None:
        points = points[shapely.contains_xy(result.polygon, *points.T)]
    check = check_of(model, spec, result)
    cut = _holding([f.polygon for f in result.faces], points)
    region = _holding([r.shape for r in seen.regions], points)
    reach = np.inf if result.reach is None else result.reach
    if result.lens is not None and np.isfinite(reach):
        reach = reach * result.lens.distance / (result.lens.distance + reach)
    right_ones = 0
    for (u, v), in_cut, number in zip(points.tolist(), cut.tolist(), region.tolist(), strict=True):
        if in_cut >= 0:
            right_ones += number < 0
            continue
        depth, _ = check.front(u, v)
        if depth > reach or not np.isfinite(depth):
            right_ones += number < 0
        elif number >= 0:
            a, b, c = seen.regions[number].plane
            right_ones += abs(a * u + b * v + c - depth) < NEAR
    return right_ones / len(points)


def _holding(shapes: list[shapely.Geometry], points: NDArray[np.float64]) -> NDArray[np.int64]:
    """Which shape holds each point (n,), -1: none."""
    found = np.full(len(points), -1, dtype=np.int64)
    if shapes:
        point, shape = shapely.STRtree(shapes).query(shapely.points(points), predicate="within")
        found[point] = shape
    return found
