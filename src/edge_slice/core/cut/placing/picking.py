"""Which elements a person points at in a drawing: at a point, from the nearest to what lies behind; or in a box."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.lines.standing import points_before
from edge_slice.core.cut.planes.leaves import Leaf
from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Picked:
    """An element, the layer that was cut (-1: none, or seen from outside), and how far behind the cut it lies, mm."""

    element: int
    layer: int
    depth: float


def pick_at(model: Model, result: CutResult, shown: Iterable[bool], u: float, v: float, reach: float) -> list[Picked]:
    """Everything at a point of the drawing (mm), nearest first: cut faces within `reach` mm, then surfaces that a
    straight look meets, then lines within `reach` mm. `shown` (elements,): which elements the drawing shows."""
    point = shapely.Point(u, v)
    found: dict[int, Picked] = {}
    for face in result.faces:
        if face.polygon.distance(point) <= reach:
            found.setdefault(face.element, Picked(face.element, face.layer, 0.0))
    leaf = next((k for k in result.leaves if k.window[0] <= u <= k.window[2]), None)
    visible = np.fromiter(shown, dtype=bool, count=len(model.elements))
    if leaf is not None:
        for element, depth in _met(model, result, leaf, visible, u, v):
            found.setdefault(element, Picked(element, -1, depth))
    near = _distance(result.lines.points, u, v) <= reach
    for k in np.flatnonzero(near)[np.argsort(result.lines.depth[near], kind="stable")].tolist():
        element = int(result.lines.element[k])
        found.setdefault(element, Picked(element, -1, float(result.lines.depth[k])))
    return sorted(found.values(), key=lambda p: (p.depth < 0, p.depth, p.element))


def _met(
    model: Model, result: CutResult, leaf: Leaf, shown: NDArray[np.bool_], u: float, v: float
) -> list[tuple[int, float]]:
    """Elements whose surface lies at (u, v) beyond the cut, each with the least depth, mm."""
    mesh = model.mesh
    points = leaf.axes.to_drawing(mesh.vertices)
    if result.memory is not None:
        points, _ = points_before(model, result.memory.spec, leaf.axes)
    if result.lens is not None:
        behind = points[:, 2] >= 0
        points = np.where(behind[:, None], result.lens.project(np.maximum(points, (-np.inf, -np.inf, 0.0))), points)
    a, b, c = (points[mesh.triangles[:, k]] for k in range(3))
    p = np.array([u, v])
    ab, ac, ap = b[:, :2] - a[:, :2], c[:, :2] - a[:, :2], p - a[:, :2]
    area = ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (ap[:, 0] * ac[:, 1] - ap[:, 1] * ac[:, 0]) / area
        t = (ab[:, 0] * ap[:, 1] - ab[:, 1] * ap[:, 0]) / area
        depth = a[:, 2] + s * (b[:, 2] - a[:, 2]) + t * (c[:, 2] - a[:, 2])
        if result.lens is not None:  # back from the projective depth, in which the picture is flat, to the true one
            depth = depth * result.lens.distance / (result.lens.distance - depth)
        hit = (s >= 0) & (t >= 0) & (s + t <= 1) & (depth >= 0) & (depth <= leaf.far) & shown[mesh.triangle_element]
    least: dict[int, float] = {}
    for element, at in zip(mesh.triangle_element[hit].tolist(), depth[hit].tolist(), strict=True):
        least[element] = min(at, least.get(element, np.inf))
    return sorted(least.items(), key=lambda row: (row[1], row[0]))


def _distance(lines: F64, u: float, v: float) -> F64:
    """Distance (n,) of a point from segments (n, 4)."""
    a, d = lines[:, :2], lines[:, 2:] - lines[:, :2]
    length = np.maximum((d * d).sum(axis=1), 1e-12)
    share = np.clip(((np.array([u, v]) - a) * d).sum(axis=1) / length, 0.0, 1.0)
    away: F64 = np.hypot(*(a + d * share[:, None] - (u, v)).T)
    return away


def pick_in(result: CutResult, box: Box, whole: bool) -> list[int]:
    """The elements of which something shows in a box (left, base, right, top, mm); with `whole`, those of which all
    that shows lies in it. In the order of the model."""
    area = shapely.box(*box)
    shapes = [f.polygon for f in result.faces] + list(shapely.linestrings(result.lines.points.reshape(-1, 2, 2)))
    owner = np.concatenate(
        [np.array([f.element for f in result.faces], np.int64), result.lines.element.astype(np.int64)]
    )
    if not len(owner):
        return []
    drawn = np.array(shapes, dtype=object)
    if whole:
        return sorted(set(owner.tolist()) - set(owner[~shapely.covers(area, drawn)].tolist()))
    return sorted(set(owner[shapely.intersects(area, drawn)].tolist()))


def drawn_of(result: CutResult, element: int) -> list[F64]:
    """What shows of an element, as point lists (n, 2) in mm: outlines of its cut faces, then its lines."""
    rings = [
        shapely.get_coordinates(ring)
        for f in result.faces
        if f.element == element
        for ring in (f.polygon.exterior, *f.polygon.interiors)
    ]
    return rings + list(result.lines.points[result.lines.element == element].reshape(-1, 2, 2))
