"""Cut faces: rings to polygons, polygons to layers, overlaps to the stronger material."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.leaves import Axes, Window
from edge_slice.core.cut.pieces import CutFace, Strip
from edge_slice.core.cut.slicing import Rings
from edge_slice.core.model import Layer, LayerFrame, Model

F64 = NDArray[np.float64]
FAR = 1e7  # mm; half the length of the band that stands for an endless layer
SLIVER = 0.01  # mm²; pieces smaller than this are no face


def polygons_in(geometry: shapely.Geometry) -> list[shapely.Polygon]:
    """The polygons in any geometry, slivers dropped."""
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


def split_layers(model: Model, axes: Axes, face: CutFace) -> list[CutFace]:
    """The layers of a face, square to its build-up, at whatever angle the cut meets it."""
    element = model.elements[face.element]
    if element.build_up < 0 or element.frame is None:
        return [face]
    layers = model.build_ups[element.build_up].layers
    if element.frame.radius > 0:
        return _split_rings(face, axes, element.frame, layers)
    direction = np.array(element.frame.direction)
    slope = np.array([axes.u @ direction, axes.v @ direction])  # layer distance per unit of drawing
    at_origin = float((axes.origin - np.array(element.frame.origin)) @ direction) * 1000.0
    bounds = np.cumsum([0.0] + [layer.thickness * 1000.0 for layer in layers])
    steep = float(np.hypot(*slope))
    if steep < 1e-6:
        k = int(np.clip(np.searchsorted(bounds, at_origin, side="right") - 1, 0, len(layers) - 1))
        return [replace(face, material=layers[k].material, layer=k)]
    normal = slope / steep
    positions = (bounds - at_origin) / steep
    strips = [
        Strip((float(normal[0]), float(normal[1])), float(positions[k]), float(positions[k + 1]))
        for k in range(len(layers))
    ]
    bands = [
        _band(normal, -FAR if k == 0 else s.low, FAR if k == len(layers) - 1 else s.high) for k, s in enumerate(strips)
    ]
    pieces = shapely.intersection(face.polygon, np.array(bands))
    return [
        replace(face, material=layers[k].material, layer=k, polygon=polygon, strip=strips[k])
        for k, piece in enumerate(pieces)
        for polygon in polygons_in(piece)
    ]


def _split_rings(face: CutFace, axes: Axes, frame: LayerFrame, layers: tuple[Layer, ...]) -> list[CutFace]:
    """The layers of a curved wall: what lies within one radius about its upright axis and not within another."""
    sign = 1.0 if frame.direction[0] > 0 else -1.0
    bounds = frame.radius + sign * np.cumsum([0.0] + [layer.thickness for layer in layers])
    pieces = []
    for k, layer in enumerate(layers):
        inner, outer = sorted((float(bounds[k]), float(bounds[k + 1])))
        first, last = (k == 0, k == len(layers) - 1) if sign > 0 else (k == len(layers) - 1, k == 0)
        shape = face.polygon
        if not last:
            shape = shapely.intersection(shape, _within(axes, frame, outer))
        if not first:
            shape = shapely.difference(shape, _within(axes, frame, inner))
        pieces += [replace(face, material=layer.material, layer=k, polygon=p) for p in polygons_in(shape)]
    return pieces


def _within(axes: Axes, frame: LayerFrame, radius: float) -> shapely.Geometry:
    """Where a plane lies within an upright cylinder (metres): between two lines where the plane is upright, else an
    ellipse, drawn with sides that miss the curve by less than 0.05 mm at 10 m."""
    flat = np.array([axes.w[0], axes.w[1]])
    origin = np.array(frame.origin)
    if abs(axes.w[2]) < 1e-6:
        off = float((origin - axes.origin)[:2] @ flat)
        if radius <= abs(off):
            return shapely.Polygon()
        middle = float((origin - axes.origin) @ axes.u) * 1000.0
        half = float(np.sqrt(radius**2 - off**2)) * 1000.0
        return shapely.box(middle - half, -FAR, middle + half, FAR)
    a = np.linspace(0.0, 2 * np.pi, 1024, endpoint=False)
    ring = origin[:2] + radius * np.column_stack((np.cos(a), np.sin(a)))
    height = axes.origin[2] - (ring - axes.origin[:2]) @ flat / axes.w[2]
    return shapely.Polygon(axes.to_drawing(np.column_stack((ring, height)))[:, :2])


def _band(normal: F64, low: float, high: float) -> shapely.Polygon:
    along = np.array([-normal[1], normal[0]]) * FAR
    a, b = normal * low, normal * high
    return shapely.Polygon([a - along, b - along, b + along, a + along])


def resolve_overlaps(faces: list[CutFace], strength: F64) -> list[CutFace]:
    """Where faces overlap, the stronger material keeps the place; among equals, the earlier element.

    strength (materials + 1,): by material index, the last one for unknown material.
    """
    if len(faces) < 2:
        return faces
    shapes = np.array([f.polygon for f in faces])
    rank = np.array([strength[f.material] for f in faces])
    tree = shapely.STRtree(shapes)
    first, second = tree.query(shapes, predicate="intersects")
    once = first < second
    first, second = first[once], second[once]
    shared = shapely.area(shapely.intersection(shapes[first], shapes[second]))
    overlap = shared > SLIVER
    first, second = first[overlap], second[overlap]
    first_wins = rank[first] >= rank[second]
    winner, loser = np.where(first_wins, first, second), np.where(first_wins, second, first)
    result: list[CutFace] = []
    for i, face in enumerate(faces):
        over = winner[loser == i]
        if not len(over):
            result.append(face)
            continue
        rest = shapely.difference(face.polygon, shapely.union_all(shapes[over]))
        result += [replace(face, polygon=p) for p in polygons_in(rest)]
    return result


def crop(faces: list[CutFace], window: Window, polygon: shapely.Polygon | None) -> list[CutFace]:
    """Faces within a window, and within a polygon too if there is one."""
    if not faces:
        return []
    area = shapely.box(*window) if polygon is None else shapely.intersection(shapely.box(*window), polygon)
    shapes = np.array([f.polygon for f in faces])
    if polygon is None:
        box = shapely.bounds(shapes)
        u0, v0, u1, v1 = window
        inside = (box[:, 0] >= u0) & (box[:, 1] >= v0) & (box[:, 2] <= u1) & (box[:, 3] <= v1)
    else:
        shapely.prepare(area)
        inside = shapely.contains_properly(area, shapes)
    outside = np.flatnonzero(~inside)
    cropped = dict(zip(outside.tolist(), shapely.intersection(shapes[outside], area), strict=True))
    result = []
    for i, face in enumerate(faces):
        if inside[i]:
            result.append(face)
        else:
            result += [replace(face, polygon=p) for p in polygons_in(cropped[i])]
    return result


def across_steps(faces: list[CutFace]) -> list[CutFace]:
    """Pieces of one layer that meet where the cut steps become one face, if the layer runs on straight."""
    groups: dict[tuple[int, int, int, Strip | None], list[CutFace]] = {}
    for face in faces:
        groups.setdefault((face.element, face.material, face.layer, _rounded(face.strip)), []).append(face)
    joined: list[CutFace] = []
    for members in groups.values():
        if len({f.leaf for f in members}) < 2:
            joined += members
            continue
        whole = shapely.union_all([f.polygon for f in members])
        joined += [replace(members[0], polygon=p) for p in polygons_in(whole)]
    return joined


def _rounded(strip: Strip | None) -> Strip | None:
    if strip is None:
        return None
    nu, nv = (round(x, 9) + 0.0 for x in strip.normal)
    return Strip((nu, nv), round(strip.low, 4), round(strip.high, 4))
