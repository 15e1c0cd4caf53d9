"""What a convention adds to a plan, and what it takes the place of."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut import CutFace, CutResult
from edge_slice.core.drawing.display import Item, Pen
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Flags = NDArray[np.bool_]
LEVEL = 0.01  # sine of the tilt up to which a frame is level


def reading_angle(way: F64) -> float:
    """The angle, degrees, of a text along a direction (2,), turned so that it is read from below or from the right
    (ISO 129-1)."""
    angle = float(np.degrees(np.arctan2(way[1], way[0])))
    if -89.0 < angle <= 91.0:
        return angle
    return angle + (180.0 if angle < 0 else -180.0)


@dataclass(frozen=True)
class PlanView:
    """What conventions look at: the model, its cut seen from above, and how it is drawn. `scale` is the denominator;
    `everywhere`: services are drawn as lines in whatever part they are, as this drawing itself asks for it."""

    model: Model
    result: CutResult
    scale: float
    standard: DrawingStandard
    pens: dict[str, Pen]
    floor: float
    lengths: Lengths = "m"
    everywhere: bool = False

    @property
    def height(self) -> float:
        """Of the cut, metres."""
        return float(self.result.axes.origin[2])

    @property
    def below(self) -> float:
        """The lowest height that is drawn, metres."""
        return self.height - (self.result.reach or np.inf) / 1000.0

    def on_paper(self, points: F64) -> F64:
        """Points of the plan (n, 2), model metres, on paper (n, 2), mm."""
        level = np.column_stack((points, np.full(len(points), self.height)))
        return self.result.axes.to_drawing(level)[:, :2] / self.scale

    def faces_of(self, element: int) -> Flags:
        """Which cut faces (faces,) are an element's."""
        return np.array([f.element == element for f in self.result.faces], dtype=bool)

    def frame_of(self, element: int) -> tuple[F64, F64, F64] | None:
        """Origin, x and y (2,) of an element's own frame on plan, metres; None where it has none or is tilted."""
        place = self.model.elements[element].placement
        if place is None or abs(place.x[2]) > LEVEL or abs(place.y[2]) > LEVEL:
            return None
        return np.array(place.origin[:2]), np.array(place.x[:2]), np.array(place.y[:2])

    def crossed(self, kind: str) -> list[int]:
        """Elements of a kind that the cut passes through, within the extents."""
        boxes, (left, base, right, top) = self.model.boxes, self.result.extents
        inside = (boxes[:, 0, 2] <= self.height) & (boxes[:, 1, 2] >= self.height)
        inside &= (boxes[:, 1, 0] * 1000 >= left) & (boxes[:, 0, 0] * 1000 <= right)
        inside &= (boxes[:, 1, 1] * 1000 >= base) & (boxes[:, 0, 1] * 1000 <= top)
        return [k for k in np.flatnonzero(inside).tolist() if self.model.elements[k].kind == kind]


@dataclass
class Drawn:
    """`items` are added; `faces` and `lines` say which cut faces and lines of the result make room for them; `instead`
    are what is left of such faces."""

    faces: Flags
    lines: Flags
    instead: list[CutFace] = field(default_factory=list)
    items: list[Item] = field(default_factory=list)

    @staticmethod
    def nothing(result: CutResult) -> Drawn:
        return Drawn(np.zeros(len(result.faces), dtype=bool), np.zeros(len(result.lines.points), dtype=bool))

    def left_of(self, result: CutResult) -> CutResult:
        """The result without what made room."""
        rest = result.without(self.faces, self.lines)
        return replace(rest, faces=(*rest.faces, *self.instead)) if self.instead else rest
