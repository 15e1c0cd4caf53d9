"""Layers of a cut face: square to the build-up, whatever the angle of the cut."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.cut.pieces import CutFace, Strip
from edge_slice.core.cut.planes.leaves import Axes
from edge_slice.core.model import Layer, LayerFrame, Model
from edge_slice.core.remembered import Remembered, corners_of, marks_of

F64 = NDArray[np.float64]


def _weight(pieces: list[list[shapely.Polygon]]) -> int:
    return corners_of([p for polygons in pieces for p in polygons])


_kept: Remembered[list[list[shapely.Polygon]]] = Remembered("layers", 1_000_000, _weight)
FAR = 1e7  # mm; half the length of the band that stands for an endless layer


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
    places = np.r_[-FAR, positions[1:-1], FAR]
    (mark,) = marks_of([face.polygon])
    key = mark, normal.tobytes(), places.tobytes()
    pieces = _kept.get(key, lambda: _in_bands(face.polygon, normal, places))
    return [
        replace(face, material=layers[k].material, layer=k, polygon=polygon, strip=strips[k])
        for k, polygons in enumerate(pieces)
        for polygon in polygons
    ]


def _in_bands(polygon: shapely.Polygon, normal: F64, positions: F64) -> list[list[shapely.Polygon]]:
    return [polygons_in(piece) for piece in shapely.intersection(polygon, _bands(normal, positions))]


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


def _bands(normal: F64, positions: F64) -> NDArray[np.object_]:
    """The endless bands between positions (n + 1,) along a normal (2,): polygons (n,)."""
    along = np.array([-normal[1], normal[0]]) * FAR
    a, b = (positions[k, None] * normal for k in (slice(None, -1), slice(1, None)))
    found: NDArray[np.object_] = shapely.polygons(np.stack((a - along, b - along, b + along, a + along), axis=1))
    return found
