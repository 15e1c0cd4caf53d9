"""How far lit surfaces and rays to the sun agree, by points strewn over the view: every triangle is asked."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import CutResult
from edge_slice.core.cut.surfaces.lit import lit_shapes
from edge_slice.core.cut.surfaces.regions import Region, seen_surfaces
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
GRAZING = 1e-3  # sine; light along a face lights nothing
OFF = 0.5  # mm; nearer triangles are those of the face itself


class Rays:
    """Whether what stands before the viewer, or is cut, is in the way of light to a point, drawing mm."""

    def __init__(self, model: Model, result: CutResult, light: F64) -> None:
        assert result.memory is not None
        axes, mesh = result.axes, model.mesh
        shown = result.memory.shown[mesh.triangle_element] & ~result.memory.rules.clear[model.triangle_materials]
        corners = axes.to_drawing(mesh.vertices)[mesh.triangles[shown]]
        self._origin = corners[:, 0]
        self._sides = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        self._way = -np.array([light @ axes.u, light @ axes.v, light @ axes.w])
        self._reach = np.inf if result.reach is None else result.reach
        self._caps = shapely.union_all([f.polygon for f in result.faces])
        shapely.prepare(self._caps)

    def stopped(self, point: F64) -> bool:
        """By Möller and Trumbore (1997)."""
        one, other = self._sides
        across = np.cross(self._way, other)
        size = (one * across).sum(axis=1)
        with np.errstate(all="ignore"):
            apart = point - self._origin
            s = (apart * across).sum(axis=1) / size
            turned = np.cross(apart, one)
            t = turned @ self._way / size
            far = (other * turned).sum(axis=1) / size
            deep = point[2] + far * self._way[2]
            hit = (np.abs(size) > 1e-9) & (s >= 0) & (t >= 0) & (s + t <= 1) & (far > OFF)
            if (hit & (deep >= 0) & (deep <= self._reach)).any():
                return True
        if self._way[2] >= 0:
            return False
        at = point - point[2] / self._way[2] * self._way
        return bool(shapely.contains_xy(self._caps, at[0], at[1]))


def sun_agreement(model: Model, result: CutResult, light: F64, count: int) -> tuple[float, float]:
    """Share of points on seen surfaces that are lit, or not, as rays say; and the share that is lit."""
    regions, lit = seen_surfaces(result).regions, lit_shapes(result, light)
    left, base, right, top = result.extents
    points = np.random.default_rng(7).uniform((left, base), (right, top), (count, 2))
    place, number = shapely.STRtree([r.shape for r in regions]).query(shapely.points(points), predicate="within")
    rays = Rays(model, result, light)
    agree = bright = 0
    for (u, v), k in zip(points[place].tolist(), number.tolist(), strict=True):
        region, shape = regions[k], lit[k]
        turned = float(region.normal @ light) * (-1.0 if region.back else 1.0)
        dark = turned >= -GRAZING or rays.stopped(_in_space(region, result, u, v))
        found = shape is not None and bool(shapely.contains_xy(shape, u, v))
        agree += found != dark
        bright += found
    return agree / len(place), bright / len(place)


def _in_space(region: Region, result: CutResult, u: float, v: float) -> F64:
    a, b, c = region.plane
    w = a * u + b * v + c
    if result.lens is None:
        return np.array([u, v, w])
    share = 1.0 - w / result.lens.distance
    middle = np.array([result.lens.u, result.lens.v, 0.0])
    return middle + (np.array([u, v, w]) - middle) / share
