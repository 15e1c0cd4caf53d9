"""Rings become polygons: bodies with their holes, whatever rings do to each other."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.slicing import Rings
from edge_slice.core.cut.planes.leaves import Window

F64 = NDArray[np.float64]
SLIVER = 0.01  # mm²; pieces smaller than this are no face


def polygons_in(geometry: shapely.Geometry) -> list[shapely.Polygon]:
    """The polygons in any geometry, slivers dropped."""
    if geometry.geom_type == "Polygon":
        return [geometry] if geometry.area > SLIVER else []
    if geometry.geom_type == "GeometryCollection":
        return [q for g in geometry.geoms for q in polygons_in(g)]
    return [p for p in shapely.get_parts(geometry) if p.geom_type == "Polygon" and p.area > SLIVER]


def close_rings(rings: Rings, key: NDArray[np.int64]) -> dict[int, list[shapely.Polygon]]:
    """Polygons with holes, by key (n,) of each ring: even where rings of one body touch or overlap."""
    sizes = np.diff(rings.start)
    usable = rings.closed & (sizes >= 3)
    if not usable.any():
        return {}
    chosen = np.flatnonzero(usable)
    rows = np.concatenate([np.arange(rings.start[k], rings.start[k + 1]) for k in chosen])
    index = np.repeat(np.arange(len(chosen)), sizes[chosen])
    linear = shapely.linearrings(rings.points[rows], indices=index)
    single = shapely.polygons(linear)
    areas = _signed_areas(rings.points[rows], index, len(chosen))
    by_key: dict[int, list[int]] = {}
    for i, k in enumerate(key[chosen].tolist()):
        by_key.setdefault(k, []).append(i)
    valid = shapely.is_valid(single)
    result = {}
    for k, members in by_key.items():
        if len(members) == 1 and valid[members[0]]:
            found = [single[members[0]]] if abs(areas[members[0]]) > SLIVER else []
        else:
            found = _nest([single[i] for i in members], areas[members])
        if found:
            result[k] = found
    return result


def ground_under(surface: F64, window: Window) -> list[shapely.Polygon]:
    """Ground given as a surface without a body is a body all the same: what lies under the line (n, 2) that an
    upright cut leaves of it, down to below the window (u0, v0, u1, v1)."""
    if len(surface) < 2:
        return []
    bottom = min(window[1], float(surface[:, 1].min())) - 1000.0
    foot = [(surface[-1, 0], bottom), (surface[0, 0], bottom)]
    return polygons_in(_repaired(shapely.Polygon(np.vstack((surface, foot)))))


def _signed_areas(points: F64, index: NDArray[np.int64], count: int) -> F64:
    starts = np.searchsorted(index, np.arange(count))
    following = np.arange(1, len(points) + 1)
    following[np.r_[starts[1:], len(points)] - 1] = starts
    base = points[starts][index]
    a, b = points - base, points[following] - base
    halves = (a[:, 0] * b[:, 1] - b[:, 0] * a[:, 1]) / 2
    return np.bincount(index, weights=halves, minlength=count).astype(np.float64)


def _nest(polygons: list[shapely.Polygon], areas: F64) -> list[shapely.Polygon]:
    """Bodies are the rings that turn like the largest one; the others are holes in them."""
    sign = np.sign(areas[int(np.abs(areas).argmax())])
    solid = [_repaired(p) for p, a in zip(polygons, areas, strict=True) if a * sign > 0]
    holes = [_repaired(p) for p, a in zip(polygons, areas, strict=True) if a * sign < 0]
    if not holes and len(solid) > 1 and not _touching(solid):
        return [q for p in solid for q in polygons_in(p)]
    bodies = []
    for body in solid:
        inside = [h for h in holes if body.contains(h.representative_point()) and h.area < body.area]
        bodies.append(shapely.difference(body, shapely.union_all(inside)) if inside else body)
    return polygons_in(shapely.union_all(bodies))


def _repaired(polygon: shapely.Polygon) -> shapely.Geometry:
    return polygon if polygon.is_valid else shapely.make_valid(polygon)


def _touching(polygons: list[shapely.Geometry]) -> bool:
    tree = shapely.STRtree(polygons)
    pairs = tree.query(polygons, predicate="intersects")
    return bool((pairs[0] != pairs[1]).any())
