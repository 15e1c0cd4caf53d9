"""Heights over a plan: polygons without overlap, each with a plane. Lengths are metres, z up."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Polygons = NDArray[np.object_]
GRID = 1e-5  # metres; what mesh corners are welded to
STEP = 1e-3  # metres; heights nearer than this are one
SPECK = 1e-6  # square metres; smaller cells are none
UPRIGHT = 0.02  # upwards part of the normal of a face below which it is upright, and no height over a plan


@dataclass(frozen=True)
class Relief:
    """cells (n,): polygons on plan without overlap; planes (n, 3): height = p0 + p1 x + p2 y of each; source (n,): a
    number that says what each comes from."""

    cells: Polygons
    planes: F64
    source: I64

    @staticmethod
    def of(cells: Polygons, planes: F64, source: int = 0) -> Relief:
        return Relief(np.asarray(cells, dtype=object), planes, np.full(len(planes), source, dtype=np.int64))

    @property
    def outline(self) -> shapely.Geometry:
        return shapely.union_all(self.cells, grid_size=GRID)

    @property
    def span(self) -> tuple[float, float]:
        """Its least and its greatest height."""
        corners, cell = shapely.get_coordinates(self.cells, return_index=True)
        heights = height_of(self.planes[cell], corners)
        return float(heights.min()), float(heights.max())

    def heights(self, places: F64) -> F64:
        """Heights (k,) at places (k, 2); nan beside the relief."""
        found = self.cell_at(places)
        heights: F64 = np.where(found >= 0, height_of(self.planes[found], places), np.nan)
        return heights

    def cell_at(self, places: F64) -> I64:
        """The cell (k,) that holds each of the places (k, 2), -1 for none; of two that touch there the first."""
        found = np.full(len(places), -1, dtype=np.int64)
        if len(self.cells) and len(places):
            at, cell = shapely.STRtree(self.cells).query(shapely.points(places), predicate="intersects")
            order = np.lexsort((cell, at))[::-1]
            found[at[order]] = cell[order]
        return found

    @property
    def digest(self) -> bytes:
        """The same for reliefs that say the same."""
        return hashlib.blake2b(b"".join((*shapely.to_wkb(self.cells), self.planes.tobytes())), digest_size=16).digest()

    def along(self, line: tuple[F64, F64]) -> F64:
        """Its profile over a line on plan, as pieces (k, 2, 2): distance from the line's start, height."""
        a, b = line
        whole = shapely.LineString([a, b])
        pieces, of = shapely.get_parts(shapely.intersection(self.cells, whole), return_index=True)
        straight = (shapely.get_type_id(pieces) == shapely.GeometryType.LINESTRING) & ~shapely.is_empty(pieces)
        first, last = shapely.get_point(pieces[straight], 0), shapely.get_point(pieces[straight], -1)
        ends = shapely.get_coordinates(np.column_stack((first, last)))
        cell = np.repeat(of[straight], 2)
        rows = np.column_stack(((ends - a) @ (b - a) / whole.length, height_of(self.planes[cell], ends)))
        found: F64 = rows.reshape(-1, 2, 2)
        return found

    def raised(self, by: float) -> Relief:
        return Relief(self.cells, self.planes + np.array([by, 0.0, 0.0]), self.source)

    def within(self, area: shapely.Geometry) -> Relief:
        """The part of a relief that lies in an area."""
        whole = arranged([self.cells, shapely.get_parts(shapely.get_rings(area))])
        inside = shapely.contains_properly(area, shapely.point_on_surface(whole))
        cells = whole[inside]
        of = self.cell_at(_inner(cells))
        return Relief(cells[of >= 0], self.planes[of[of >= 0]], self.source[of[of >= 0]])


def height_of(planes: F64, places: F64) -> F64:
    """The heights (k,) of planes (k, 3) at places (k, 2)."""
    heights: F64 = planes[:, 0] + planes[:, 1] * places[:, 0] + planes[:, 2] * places[:, 1]
    return heights


def planes_of(triangles: F64) -> F64:
    """The planes (k, 3) of triangles (k, 3, 3), none of which is upright."""
    a = triangles[:, 0]
    n = np.cross(triangles[:, 1] - a, triangles[:, 2] - a)
    slopes = -n[:, :2] / n[:, 2:]
    return np.column_stack((a[:, 2] - (slopes * a[:, :2]).sum(axis=1), slopes))


def arranged(parts: list[Polygons]) -> Polygons:
    """The cells (n,) that the borders of shapes divide the plan into, the same corners on both sides of each border."""
    borders = shapely.union_all(np.concatenate([shapely.boundary(p) if len(p) else p for p in parts]), grid_size=GRID)
    cells = shapely.get_parts(shapely.polygonize(shapely.get_parts(borders)))
    found: Polygons = cells[shapely.area(cells) > SPECK]
    return found


def upper_side(triangles: F64) -> F64:
    """The triangles (k, 3, 3) that face upwards, of those of closed or open bodies; of a body without an outside all
    that are not upright."""
    a = triangles[:, 0]
    n = np.cross(triangles[:, 1] - a, triangles[:, 2] - a)
    up = n[:, 2] / np.maximum(np.linalg.norm(n, axis=1), 1e-30)
    found: F64 = triangles[up > UPRIGHT] if (up > UPRIGHT).any() else triangles[np.abs(up) > UPRIGHT]
    return found


def highest(triangles: F64, lowest: bool = False) -> Relief:
    """The relief that is seen of triangles (k, 3, 3) from above, or (`lowest`) from below; `source` is the triangle."""
    flat = shapely.polygons(triangles[:, :, :2]) if len(triangles) else np.zeros(0, dtype=object)
    planes = planes_of(triangles) if len(triangles) else np.zeros((0, 3))
    shapes = [flat]
    lapping = _lapping(flat)
    if not len(lapping):
        return Relief(flat, planes, np.arange(len(flat)))
    shapes.append(_level_lines(flat, planes, lapping))
    cells = arranged(shapes)
    inner = _inner(cells)
    at, of = shapely.STRtree(flat).query(shapely.points(inner), predicate="within")
    heights = height_of(planes[of], inner[at])
    order = np.lexsort((heights if lowest else -heights, at))
    first = order[np.diff(at[order], prepend=-1) > 0]
    return Relief(cells[at[first]], planes[of[first]], of[first])


def _inner(cells: Polygons) -> F64:
    """A place (n, 2) inside each cell."""
    places: F64 = shapely.get_coordinates(shapely.point_on_surface(cells))
    return places


def _lapping(flat: Polygons) -> I64:
    """Pairs (k, 2) of shapes that overlap on plan."""
    if not len(flat) or shapely.area(flat).sum() - shapely.union_all(flat, grid_size=GRID).area < SPECK * len(flat):
        return np.zeros((0, 2), dtype=np.int64)
    first, second = shapely.STRtree(flat).query(flat, predicate="intersects")
    pairs = np.column_stack((first, second))[first < second]
    found: I64 = pairs[shapely.area(shapely.intersection(flat[pairs[:, 0]], flat[pairs[:, 1]])) > SPECK]
    return found


def _level_lines(flat: Polygons, planes: F64, pairs: I64) -> Polygons:
    """Where the planes of pairs of shapes (k, 2) have one height, as slim shapes whose borders are these lines."""
    return equal_lines(
        shapely.intersection(flat[pairs[:, 0]], flat[pairs[:, 1]]), planes[pairs[:, 0]] - planes[pairs[:, 1]]
    )


def equal_lines(shapes: Polygons, differences: F64) -> Polygons:
    """The parts of shapes (k,) where differences (k, 3) of two planes are below zero: their borders hold the lines
    where both are equal."""
    steep = np.hypot(differences[:, 1], differences[:, 2]) > 1e-9
    shapes, differences = shapes[steep], differences[steep]
    if not len(shapes):
        return np.zeros(0, dtype=object)
    slope = np.hypot(differences[:, 1], differences[:, 2])
    down = -differences[:, 1:] / slope[:, None]
    low = shapely.bounds(shapes)
    middle = (low[:, :2] + low[:, 2:]) / 2
    size = np.hypot(*(low[:, 2:] - low[:, :2]).T) + 1.0
    foot = middle + down * (height_of(differences, middle) / slope)[:, None]
    along = np.column_stack((-down[:, 1], down[:, 0])) * size[:, None] * 2
    away = down * size[:, None] * 2
    near = np.abs(height_of(differences, middle)) / slope < size
    halves = shapely.polygons(np.stack((foot - along, foot + along, foot + along + away, foot - along + away), axis=1))
    below = shapely.intersection(shapes[near], halves[near])
    parts = shapely.get_parts(below)
    found: Polygons = parts[
        (shapely.get_type_id(parts) == shapely.GeometryType.POLYGON) & (shapely.area(parts) > SPECK)
    ]
    return found


@dataclass(frozen=True)
class Laid:
    """One relief over another: the cells (n,) of both together, divided where both have one height, and the cell of
    each that they lie in (`under` of the base, `over` of the other), -1 for none."""

    base: Relief
    by: Relief
    cells: Polygons
    under: I64
    over: I64

    def pick(self, chosen: NDArray[np.bool_]) -> Laid:
        return Laid(self.base, self.by, self.cells[chosen], self.under[chosen], self.over[chosen])

    @cached_property
    def both(self) -> Laid:
        """Where both are."""
        return self.pick((self.under >= 0) & (self.over >= 0))

    def chosen(self, other: NDArray[np.bool_]) -> Relief:
        """The other relief in some of the cells (n,), in the rest the base."""
        planes = np.where(other[:, None], self.by.planes[self.over], self.base.planes[self.under])
        return Relief(self.cells, planes, np.where(other, self.by.source[self.over], self.base.source[self.under]))


def overlaid(base: Relief, by: Relief) -> Laid:
    """Two reliefs over each other."""
    laid = _laid(base, by, [base.cells, by.cells])
    lines = equal_lines(laid.both.cells, base.planes[laid.both.under] - by.planes[laid.both.over])
    if len(lines):
        laid = _laid(base, by, [laid.cells, lines])
    return laid.pick((laid.under >= 0) | (laid.over >= 0))


def _laid(base: Relief, by: Relief, parts: list[Polygons]) -> Laid:
    cells = arranged(parts)
    inner = _inner(cells)
    return Laid(base, by, cells, base.cell_at(inner), by.cell_at(inner))


def departing(laid: Laid) -> Relief:
    """Where both reliefs are and have other heights: the base there."""
    both = laid.both
    corners, cell = shapely.get_coordinates(both.cells, return_index=True)
    differences = laid.base.planes[both.under[cell]] - laid.by.planes[both.over[cell]]
    rises = np.zeros(len(both.cells), dtype=bool)
    rises[cell[np.abs(height_of(differences, corners)) > STEP]] = True
    return both.pick(rises).chosen(np.zeros(int(rises.sum()), dtype=bool))


def replaced(laid: Laid) -> Relief:
    """The relief on top where it is, else the base."""
    return laid.chosen(laid.over >= 0)


def lowered(base: Relief, pits: Relief) -> Relief:
    """`base`, but no higher than `pits` where these are."""
    if not len(pits.cells):
        return base
    whole = overlaid(base, pits)
    laid = whole.pick(whole.under >= 0)
    inner = _inner(laid.cells)
    heights = height_of(base.planes[laid.under], inner)
    kept = laid.chosen((laid.over >= 0) & (height_of(pits.planes[laid.over], inner) < heights))
    return Relief(kept.cells, kept.planes, base.source[laid.under])
