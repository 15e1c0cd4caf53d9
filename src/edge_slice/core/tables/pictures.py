"""Small pictures of elements for tables: one element alone, from the front or as a plan."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import PlaneCut, cut_model
from edge_slice.core.cut.pieces import Role
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.remembered import Remembered

F64 = NDArray[np.float64]
View = Literal["front", "plan"]
ABOVE = 1.1  # metres over the foot of an element at which its plan is cut


@dataclass(frozen=True)
class Picture:
    """Lines (n, 4) in mm of the element, from its lower left corner on; its width and height, mm."""

    lines: F64
    wide: float
    high: float


def svg_path(lines: Iterable[F64], high: float) -> str:
    """Lines (n, 2) of a picture so high as an SVG path, whole mm from its upper left corner down."""
    return "".join("M" + "L".join(f"{x:.0f} {high - y:.0f}" for x, y in line.tolist()) for line in lines)


_kept: Remembered[Picture] = Remembered("pictures in tables", 400_000, lambda picture: len(picture.lines) * 2 + 1)


def picture_of(model: Model, element: int, view: View) -> Picture:
    """The seen and cut lines of an element alone; from the front along its own y axis, else across its longer side."""
    return _kept.get((model.digests[element], view), lambda: _made(model, element, view))


def _made(model: Model, element: int, view: View) -> Picture:
    alone = element_alone(model, element)
    low, high = alone.boxes[0]
    middle = (low + high) / 2
    if view == "plan":
        at = min(float(low[2]) + ABOVE, float(middle[2]))
        normal, point = (0.0, 0.0, 1.0), (float(middle[0]), float(middle[1]), at)
    else:
        x, y = _towards(model, element, high - low)
        reach = float(np.hypot(*(high - low)[:2])) + 1.0
        normal = (x, y, 0.0)
        point = (float(middle[0]) + x * reach, float(middle[1]) + y * reach, float(middle[2]))
    result = cut_model(alone, PlaneCut(point=point, normal=normal), default_standard().cut_rules(alone))
    seen = result.lines.points[result.lines.role == Role.SEEN]
    rings = [np.asarray(ring.coords) for f in result.faces for ring in (f.polygon.exterior, *f.polygon.interiors)]
    cut = [np.column_stack((ring[:-1], ring[1:])) for ring in rings]
    lines = np.concatenate([seen.reshape(-1, 4), *cut])
    if not len(lines):
        return Picture(np.zeros((0, 4)), 0.0, 0.0)
    points = lines.reshape(-1, 2)
    corner = points.min(axis=0)
    wide, tall = (points.max(axis=0) - corner).tolist()
    return Picture((points - corner).reshape(-1, 4), wide, tall)


def element_alone(model: Model, element: int, layers: bool = False) -> Model:
    """A model of one element, with its layers if they are wanted."""
    triangles = model.element_triangles(element)
    count = len(triangles)
    mesh = build_mesh(
        triangles.reshape(-1, 3),
        np.arange(3 * count, dtype=np.int32).reshape(-1, 3),
        np.zeros(count, np.int32),
        np.full(count, -1, np.int32),
    )
    only = replace(model.elements[element], storey=0, part=0)
    if not layers:
        only = replace(only, build_up=-1, frame=None)
    return Model("", mesh, (only,), model.materials, model.build_ups, storeys=model.storeys[:1])


def _towards(model: Model, element: int, size: F64) -> tuple[float, float]:
    """From which side an element is looked at, a unit vector on plan."""
    placement = model.elements[element].placement
    if placement is not None and abs(placement.y[2]) < 0.5:
        x, y = -placement.y[0], -placement.y[1]
        length = float(np.hypot(x, y))
        return x / length, y / length
    axis = model.long_axis(element)
    if axis is not None and abs(axis[2]) < 0.5:
        length = float(np.hypot(axis[0], axis[1]))
        return float(axis[1]) / length, float(-axis[0]) / length
    return (0.0, -1.0) if size[0] >= size[1] else (1.0, 0.0)
