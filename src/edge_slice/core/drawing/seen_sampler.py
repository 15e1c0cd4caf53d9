"""A hatch as the pattern of a seen side: on a wall, on a slope, and in perspective."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import ElevationCut, Extents, Perspective, SectionCut, cut_model
from edge_slice.core.drawing.compose import compose_drawing
from edge_slice.core.drawing.display import DisplayList
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec, SurfaceStyle
from edge_slice.core.model import Model
from edge_slice.core.model.mesh.bodies import box, model_of_bodies

WALL, ROOF, DEEP = (
    (64.0, 34.0),
    26.0,
    40.0,
)  # mm on paper: the wall, the slope of the roof, how far the building reaches
SLOPE = np.radians(40.0)
AIR = 14.0  # mm between the two drawings
PLAIN = SurfaceStyle(shadow="none", fade=0.0, profile=0.25)


def seen_sample(standard: DrawingStandard, name: str, scale: float) -> DisplayList:
    """A wall under a roof, all of one material that has the hatch of this `name` as its pattern; beside it the same in
    perspective."""
    rule = standard.materials["other"].model_copy(update={"pattern": name})
    local = standard.model_copy(update={"materials": {**standard.materials, "other": rule}})
    model = _house(scale / 1000.0)
    wide, high = WALL[0] * scale / 1000.0, (WALL[1] + ROOF) * scale / 1000.0
    extents = Extents(base=-0.02 * high, top=high)
    front = ElevationCut(line=((-0.05 * wide, -wide / 2), (1.05 * wide, -wide / 2)), extents=extents)
    aslant = SectionCut(
        line=((-0.9 * wide, 0.35 * wide), (0.45 * wide, -1.0 * wide)), extents=extents,
        perspective=Perspective(distance=1.2 * wide, eye=(0.95 * wide, 0.45 * high)),
    )  # fmt: skip
    left, right = (_drawn(model, cut, local, scale) for cut in (front, aslant))
    right = right.moved(left.frame[2] + AIR - right.frame[0], left.frame[1] - right.frame[1])
    (x0, y0, _, y1), (_, _, x1, y2) = left.frame, right.frame
    return DisplayList((*left.items, *right.items), (x0, y0, x1, max(y1, y2)))


def _drawn(model: Model, cut: ElevationCut | SectionCut, standard: DrawingStandard, scale: float) -> DisplayList:
    spec = DrawingSpec(scale=scale, levels=False, grid=False, appearance="presentation", surfaces=PLAIN)
    return compose_drawing(model, cut_model(model, cut, standard.cut_rules(model)), cut, spec, standard)


def _house(mm: float) -> Model:
    """Its front wall stands along x; `mm`: a millimetre of paper in metres of the building."""
    wide, high, deep = WALL[0] * mm, WALL[1] * mm, DEEP * mm
    roof, triangles = box((-0.03 * wide, 0.0, 0.0), (1.03 * wide, ROOF / np.sin(SLOPE) * mm, 0.01 * wide))
    turn = np.array([[1, 0, 0], [0, np.cos(SLOPE), -np.sin(SLOPE)], [0, np.sin(SLOPE), np.cos(SLOPE)]])
    sloped: NDArray[np.float64] = roof @ turn.T + np.array([0.0, -0.02 * wide, high])
    walls = box((0, 0, 0), (wide, deep, high))
    return model_of_bodies("Sample", [("Wall", "Sample", *walls), ("Roof", "Sample", sloped, triangles)])
