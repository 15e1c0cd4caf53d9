"""Reliefs of what a project says of its ground, and of the ground that a model has."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model
from edge_slice.core.model.ground.documents import (
    ElementGround,
    Ground,
    LevelGround,
    PointsGround,
    ProfileGround,
)
from edge_slice.core.model.ground.relief import SPECK, Relief, highest, planes_of, upper_side

F64 = NDArray[np.float64]
FLOORS = ("slab",)
LYING = 0.5  # upwards part of the normal of the upper side of a floor
ON_RIM = 1e-6  # metres; points this near to the outline of all lie on it
FAR = 2_000.0  # metres; ground that is farther from the building is in other coordinates


class GroundProblem(ValueError):
    """Ground that can't be made of what is said; the message says why and what to do."""


def relief_of(model: Model, ground: Ground) -> Relief:
    """The relief that a document says, as far as it reaches. Raises `GroundProblem`."""
    shape = ground.shape
    if isinstance(shape, ElementGround):
        return _cropped(_on_element(model, shape), ground.area)
    points = np.array(shape.points) if isinstance(shape, PointsGround) else np.zeros((0, 3))
    area = _area(model, ground, points)
    if isinstance(shape, LevelGround):
        return Relief.of(np.array([area]), np.array([[shape.height, 0.0, 0.0]]))
    if isinstance(shape, ProfileGround):
        return _along(shape, area)
    return _cropped(_through(points, area), ground.area)


def _area(model: Model, ground: Ground, points: F64) -> shapely.Polygon:
    """What ground reaches over on plan: round the building and its points, or what is said."""
    low, high = model.bounds
    if len(points) and (np.maximum(low[:2] - points[:, :2], points[:, :2] - high[:2]).max(axis=1) > FAR).any():
        away = float(np.maximum(low[:2] - points[:, :2], points[:, :2] - high[:2]).max())
        raise GroundProblem(
            f"points: some lie {away / 1000:,.0f} km from the building; say whether they are in the coordinates of the "
            "model or in those of its file"
        )
    if ground.area and isinstance(ground.shape, LevelGround | ProfileGround):
        area = shapely.Polygon(ground.area)
        if not area.is_valid or area.area < 1.0:
            raise GroundProblem("area: the outline of ground is smaller than a square metre, or its sides cross")
        return area
    corners = np.array([(x, y) for x in (low[0], high[0]) for y in (low[1], high[1])])
    places = np.concatenate((points[:, :2], corners))
    hull = shapely.convex_hull(shapely.multipoints(places))
    return shapely.buffer(hull, max(ground.reach, 0.1), join_style="mitre", mitre_limit=2.0)


def _cropped(relief: Relief, ring: tuple[tuple[float, float], ...]) -> Relief:
    if not ring:
        return relief
    area = shapely.Polygon(ring)
    found = relief.within(area) if area.is_valid else relief.within(shapely.Polygon())
    if not len(found.cells):
        raise GroundProblem("area: nothing of the ground lies in its outline, or the outline's sides cross")
    return found


def _along(shape: ProfileGround, area: shapely.Polygon) -> Relief:
    """A profile carried across an area, level beyond its ends."""
    start = np.array(shape.start)
    along = shape.along
    across = np.array([-along[1], along[0]])
    corners = shapely.get_coordinates(area) - start
    u, v = corners @ along, corners @ across
    marks = np.array(shape.heights)
    first = np.r_[min(u.min(), marks[0, 0]) - 1.0, marks[:, 0]]
    last = np.r_[marks[:, 0], max(u.max(), marks[-1, 0]) + 1.0]
    low = np.r_[marks[0, 1], marks[:, 1]]
    slope = np.r_[0.0, np.diff(marks[:, 1]) / np.diff(marks[:, 0]), 0.0]
    base = np.r_[marks[0, 0], marks[:, 0]]
    strips = []
    for a, b in zip(first, last, strict=True):
        strips.append(
            [
                start + s * along + t * across
                for s, t in ((a, v.min() - 1), (b, v.min() - 1), (b, v.max() + 1), (a, v.max() + 1))
            ]
        )
    cells = shapely.intersection(shapely.polygons(np.array(strips)), area)
    planes = np.column_stack((low - slope * (base + start @ along), slope[:, None] * along))
    parts, of = shapely.get_parts(cells, return_index=True)
    kept = (shapely.get_type_id(parts) == shapely.GeometryType.POLYGON) & (shapely.area(parts) > SPECK)
    return Relief.of(parts[kept], planes[of[kept]])


def _through(points: F64, area: shapely.Polygon) -> Relief:
    """Points triangulated, and level ground from their outline on to the outline of the area around them."""
    hull = shapely.convex_hull(shapely.multipoints(points[:, :2])).exterior
    placed = shapely.points(points[:, :2])
    rim = points[shapely.distance(hull, placed) < ON_RIM]
    marks = shapely.line_locate_point(hull, shapely.points(rim[:, :2]))
    rim, marks = rim[np.argsort(marks)], np.sort(marks)
    ring = shapely.get_coordinates(shapely.segmentize(area.exterior, max(area.length / 64, 1.0)))[:-1]
    at = shapely.line_locate_point(hull, shapely.points(ring))
    run_out = np.interp(at, np.r_[marks, hull.length + marks[0]], np.r_[rim[:, 2], rim[0, 2]])
    around = shapely.Polygon(ring, [rim[:, :2]])
    outer = np.concatenate((rim, np.column_stack((ring, run_out))))
    triangles = np.concatenate((_delaunay(points), _lifted(shapely.constrained_delaunay_triangles(around), outer)))
    return Relief.of(shapely.polygons(triangles[:, :, :2]), planes_of(triangles))


def _delaunay(points: F64) -> F64:
    """The triangles (k, 3, 3) between points (n, 3)."""
    return _lifted(shapely.delaunay_triangles(shapely.multipoints(points[:, :2])), points)


def _lifted(flat: shapely.Geometry, points: F64) -> F64:
    """Triangles on plan with the heights (k, 3, 3) of points (n, 3) that are their corners."""
    parts = shapely.get_parts(flat)
    corners = shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]
    height = {(x, y): z for x, y, z in points.tolist()}
    z = np.array([height[x, y] for x, y in corners.reshape(-1, 2).tolist()]).reshape(-1, 3, 1)
    triangles: F64 = np.concatenate((corners, z), axis=2)[shapely.area(parts) > SPECK]
    return triangles


def _on_element(model: Model, shape: ElementGround) -> Relief:
    element = model.element_by_guid.get(shape.guid)
    if element is None:
        raise GroundProblem(f"guid: the model has no element {shape.guid}; pick one that the ground lies on")
    return _plain(highest(upper_side(model.element_triangles(element)))).raised(shape.offset)


def model_ground(model: Model) -> Relief | None:
    """The upper side of what the model has of ground; None where it has none."""
    own = [k for k, e in enumerate(model.elements) if e.kind == "ground" and np.isfinite(model.boxes[k, 0, 0])]
    tops = _upper_sides(model, own, 0.0)
    return _plain(highest(tops)) if len(tops) else None


def pits_of(model: Model, top: float) -> Relief:
    """How far the building's floors lie into ground that is highest at `top`: the lowest of their upper sides."""
    floors = [k for k in np.flatnonzero(model.standing).tolist() if model.elements[k].kind in FLOORS]
    tops = _upper_sides(model, [k for k in floors if model.boxes[k, 0, 2] < top], LYING)
    tops = tops[tops[:, :, 2].min(axis=1) < top]
    return _plain(highest(tops, lowest=True))


def _upper_sides(model: Model, elements: Iterable[int], least: float) -> F64:
    tops = [upper_side(model.element_triangles(k)) for k in elements]
    found = np.concatenate([*tops, np.zeros((0, 3, 3))])
    n = np.cross(found[:, 1] - found[:, 0], found[:, 2] - found[:, 0])
    kept: F64 = found[np.abs(n[:, 2]) > least * np.linalg.norm(n, axis=1)]
    return kept


def _plain(relief: Relief) -> Relief:
    return Relief.of(relief.cells, relief.planes)
