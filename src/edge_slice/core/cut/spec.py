"""What to cut and how far to look: the document behind every drawing.

Lengths are metres in model coordinates. The classes are also the API's and the database's description of a cut.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Metres = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]
Depth = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
MARGIN = 1.0  # metres of air shown around an unlimited drawing


class ImpossibleCut(ValueError):
    """The cut can't be made; the message says why and what to do."""


class Extents(BaseModel):
    """The crop of a drawing in its own axes, metres; None: as far as the cutting line or the building goes."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    left: Metres | None = None
    right: Metres | None = None
    base: Metres | None = None
    top: Metres | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Extents:
        for low, high, names in ((self.left, self.right, "left and right"), (self.base, self.top, "base and top")):
            if low is not None and high is not None and high - low < 0.01:
                raise ValueError(f"extents: {names} must be at least 10 mm apart, in this order")
        return self


class _Cut(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")
    depth: Depth | None = Field(default=None, description="How far behind the cut things are drawn; null: unlimited")
    extents: Extents = Extents()
    without: tuple[str, ...] = Field(default=(), description="Kinds of element that are left out")
    hidden: Literal["off", "dashed"] = "off"


class SectionCut(_Cut):
    """A vertical cut along a line on plan; `look` is the side drawn, seen walking from the first point."""

    kind: Literal["section"] = "section"
    line: tuple[tuple[Metres, Metres], tuple[Metres, Metres]]
    look: Literal["left", "right"] = "left"

    @model_validator(mode="after")
    def _has_length(self) -> SectionCut:
        (x0, y0), (x1, y1) = self.line
        if math.hypot(x1 - x0, y1 - y0) < 0.01:
            raise ValueError("the cutting line has no length: put its ends at least 10 mm apart")
        return self


class PlanCut(_Cut):
    """A horizontal cut `height` above a storey's finished floor, looking down; `overhead` is the range above
    the cut that is drawn dashed."""

    kind: Literal["plan"] = "plan"
    storey: str = Field(description="GlobalId of the storey")
    height: Annotated[float, Field(ge=-100, le=1000, allow_inf_nan=False)] = 1.2
    overhead: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = 0.0


CutSpec = Annotated[SectionCut | PlanCut, Field(discriminator="kind")]


@dataclass(frozen=True)
class Axes:
    """Drawing axes in the model: origin (3,) metres and unit vectors u right, v up, w away from the viewer.
    A drawing point (mm) is origin + (u·U + v·V) / 1000."""

    origin: F64
    u: F64
    v: F64
    w: F64

    def to_drawing(self, points: F64) -> F64:
        """Model points (n, 3) in metres to drawing coordinates (n, 3) in millimetres."""
        frame = np.column_stack((self.u, self.v, self.w)) * 1000.0
        return np.ascontiguousarray((points - self.origin) @ frame)

    def to_model(self, points: F64) -> F64:
        """Drawing points (n, 2) in millimetres back to model points (n, 3) in metres."""
        return self.origin + (points[:, :1] * self.u + points[:, 1:2] * self.v) / 1000.0


def axes_of(model: Model, spec: SectionCut | PlanCut) -> Axes:
    """The drawing axes of a cut. Raises `ImpossibleCut` for a storey that the model does not have."""
    if isinstance(spec, PlanCut):
        storey = next((s for s in model.storeys if s.guid == spec.storey), None)
        if storey is None:
            raise ImpossibleCut("The storey of this plan is not in the model; choose another storey.")
        z = storey.elevation + spec.height
        return Axes(np.array([0.0, 0.0, z]), np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), np.array([0, 0, -1.0]))
    (x0, y0), (x1, y1) = spec.line
    length = math.hypot(x1 - x0, y1 - y0)
    dx, dy = (x1 - x0) / length, (y1 - y0) / length
    up = np.array([0.0, 0.0, 1.0])
    if spec.look == "left":
        return Axes(np.array([x0, y0, 0.0]), np.array([dx, dy, 0.0]), up, np.array([-dy, dx, 0.0]))
    return Axes(np.array([x1, y1, 0.0]), np.array([-dx, -dy, 0.0]), up, np.array([dy, -dx, 0.0]))


def extents_of(model: Model, spec: SectionCut | PlanCut) -> tuple[float, float, float, float]:
    """The drawing's crop (left, base, right, top) in drawing millimetres, with every open side filled in."""
    low, high = model.bounds
    if isinstance(spec, PlanCut):
        start = (low[0] - MARGIN, low[1] - MARGIN, high[0] + MARGIN, high[1] + MARGIN)
    else:
        (x0, y0), (x1, y1) = spec.line
        start = (0.0, low[2] - MARGIN / 2, math.hypot(x1 - x0, y1 - y0), high[2] + MARGIN)
    e = spec.extents
    given = (e.left, e.base, e.right, e.top)
    left, base, right, top = (float(s if g is None else g) for s, g in zip(start, given, strict=True))
    if right - left < 0.01 or top - base < 0.01:
        raise ImpossibleCut("The extents enclose nothing: right must lie right of left, and top above base.")
    return left * 1000, base * 1000, right * 1000, top * 1000
