"""What it takes to make one ground of another: earth that is cut away, and earth that is filled in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.ground.relief import Relief, height_of, overlaid

F64 = NDArray[np.float64]


@dataclass(frozen=True)
class Earthworks:
    """Volumes of `cut` and `fill` in cubic metres over the plan `area` in square metres that both grounds cover."""

    cut: float
    fill: float
    area: float


def earthworks(existing: Relief, proposed: Relief, within: shapely.Geometry | None = None) -> Earthworks:
    """Cut and fill from one ground to another, where both are, or only `within` an area of the plan. Exact: the sum of
    the prisms between the planes of both."""
    existing, proposed = _near(existing, proposed, within), _near(proposed, existing, within)
    cells, of_a, of_b = overlaid(existing, proposed)
    both = (of_a >= 0) & (of_b >= 0)
    cells, rise = cells[both], proposed.planes[of_b[both]] - existing.planes[of_a[both]]
    if within is not None:
        cells = shapely.intersection(cells, within)
    parts, of = shapely.get_parts(shapely.constrained_delaunay_triangles(cells), return_index=True)
    if not len(parts):
        return Earthworks(0.0, 0.0, 0.0)
    corners = shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]
    heights = height_of(np.repeat(rise[of], 3, axis=0), corners.reshape(-1, 2)).reshape(-1, 3)
    areas = shapely.area(parts)
    return Earthworks(_above(-heights, areas), _above(heights, areas), float(areas.sum()))


def _near(relief: Relief, other: Relief, within: shapely.Geometry | None) -> Relief:
    """The cells that may lie over another relief, and in an area."""
    bounds = [shapely.total_bounds(other.cells), *([] if within is None else [within.bounds])]
    meets = np.logical_and.reduce([shapely.intersects(relief.cells, shapely.box(*b)) for b in bounds])
    return Relief(relief.cells[meets], relief.planes[meets], relief.source[meets])


def _above(heights: F64, areas: F64) -> float:
    """The volume above zero of prisms over triangles, with heights (k, 3) at their corners."""
    total = areas * heights.mean(axis=1)
    count = (heights > 0).sum(axis=1)
    high = np.sort(heights, axis=1)
    low, middle, top = high.T
    one = areas * top**3 / (3 * np.maximum((top - middle) * (top - low), 1e-30))
    sunk = areas * low**3 / (3 * np.maximum((low - middle) * (low - top), 1e-30))  # below zero, where one corner is
    return float(np.select([count == 3, count == 2, count == 1], [total, total - sunk, one], 0.0).sum())


def profile_areas(existing: Relief, proposed: Relief, line: tuple[F64, F64]) -> tuple[float, float]:
    """Areas cut and filled, in square metres, in an upright plane over a `line` on plan (two places)."""
    a, b = np.asarray(line[0]), np.asarray(line[1])
    whole = shapely.LineString([a, b])
    length = whole.length
    marks = [0.0, length]
    for relief in (existing, proposed):
        crossing = shapely.intersection(shapely.boundary(relief.cells), whole)
        places = shapely.get_coordinates(crossing)
        marks += ((places - a) @ (b - a) / length).tolist()
    stops = np.unique(np.clip(np.array(marks), 0.0, length))
    stops = stops[np.r_[True, np.diff(stops) > 1e-6]]
    middles = (stops[1:] + stops[:-1]) / 2
    places = a + middles[:, None] / length * (b - a)
    of_a, of_b = existing.cell_at(places), proposed.cell_at(places)
    both = (of_a >= 0) & (of_b >= 0)
    if not both.any():
        return 0.0, 0.0
    rise = proposed.planes[of_b[both]] - existing.planes[of_a[both]]
    starts, ends = stops[:-1][both], stops[1:][both]
    first = height_of(rise, a + starts[:, None] / length * (b - a))
    last = height_of(rise, a + ends[:, None] / length * (b - a))
    return _strip(-first, -last, ends - starts), _strip(first, last, ends - starts)


def _strip(first: F64, last: F64, widths: F64) -> float:
    """The area above zero under straight lines from height `first` to `last`."""
    high, low = np.maximum(first, last), np.minimum(first, last)
    crossing = high**2 / (2 * np.maximum(high - low, 1e-30))
    return float((widths * np.select([low >= 0, high > 0], [(high + low) / 2, crossing], 0.0)).sum())
