"""What it takes to make one ground of another: earth that is cut away, and earth that is filled in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.ground.relief import Laid, Polygons, Relief, height_of

F64 = NDArray[np.float64]


@dataclass(frozen=True)
class Earthworks:
    """Volumes of `cut` and `fill` in cubic metres over the plan `area` in square metres that both grounds cover."""

    cut: float
    fill: float
    area: float


@dataclass(frozen=True)
class Rise:
    """How much higher one ground is than another where both are: cells (n,) of the plan, in each of which it is higher
    or lower throughout, and the plane (n, 3) of the difference over each."""

    cells: Polygons
    planes: F64


def rise_of(laid: Laid) -> Rise:
    """How much the ground rises where the one on top takes the place of the base."""
    both = laid.both
    return Rise(both.cells, laid.by.planes[both.over] - laid.base.planes[both.under])


def earthworks(rise: Rise, within: shapely.Geometry | None = None) -> Earthworks:
    """Cut and fill, or only `within` an area of the plan. Exact: the sum of the prisms between the planes of both."""
    cells, planes = rise.cells, rise.planes
    if within is not None:
        shapely.prepare(within)
        meets = shapely.intersects(within, cells)
        cells, planes = shapely.intersection(cells[meets], within), planes[meets]
    parts, of = shapely.get_parts(shapely.constrained_delaunay_triangles(cells), return_index=True)
    if not len(parts):
        return Earthworks(0.0, 0.0, 0.0)
    corners = shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]
    heights = height_of(np.repeat(planes[of], 3, axis=0), corners.reshape(-1, 2)).reshape(-1, 3)
    areas = shapely.area(parts)
    return Earthworks(_above(-heights, areas), _above(heights, areas), float(areas.sum()))


def profile_areas(rise: Rise, line: tuple[F64, F64]) -> tuple[float, float]:
    """Areas cut and filled, in square metres, in an upright plane over a `line` on plan (two places)."""
    pieces = Relief.of(rise.cells, rise.planes).along(line)
    if not len(pieces):
        return 0.0, 0.0
    spans = np.round(np.sort(pieces[:, :, 0], axis=1), 6)
    pieces = pieces[np.unique(spans, axis=0, return_index=True)[1]]  # along a border both cells have the same piece
    widths = np.abs(pieces[:, 1, 0] - pieces[:, 0, 0])
    first, last = pieces[:, 0, 1], pieces[:, 1, 1]
    return _strip(-first, -last, widths), _strip(first, last, widths)


def _above(heights: F64, areas: F64) -> float:
    """The volume above zero of prisms over triangles, with heights (k, 3) at their corners."""
    total = areas * heights.mean(axis=1)
    count = (heights > 0).sum(axis=1)
    low, middle, top = np.sort(heights, axis=1).T
    one = areas * top**3 / (3 * np.maximum((top - middle) * (top - low), 1e-30))
    sunk = areas * low**3 / (3 * np.maximum((low - middle) * (low - top), 1e-30))  # below zero, where one corner is
    return float(np.select([count == 3, count == 2, count == 1], [total, total - sunk, one], 0.0).sum())


def _strip(first: F64, last: F64, widths: F64) -> float:
    """The area above zero under straight lines from height `first` to `last`."""
    high, low = np.maximum(first, last), np.minimum(first, last)
    crossing = high**2 / (2 * np.maximum(high - low, 1e-30))
    return float((widths * np.select([low >= 0, high > 0], [(high + low) / 2, crossing], 0.0)).sum())
