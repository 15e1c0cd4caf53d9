"""Shared extents: a box in the model that several drawings take their extents and depth from."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.cut.planes.leaves import MARGIN, Axes, Leaf, leaves_of
from edge_slice.core.cut.spec import LEAST, AnyCut, Extents, ImpossibleCut, PlanCut, SectionCut, Triple
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Side = Literal["left", "right", "base", "top", "depth"]
PARALLEL = math.cos(math.radians(1.0))
STRAIGHT = 1e-6  # degrees off the model's axes that are none
TIDY = 4  # decimals of a metre


class ExtentsBox(BaseModel):
    """From `low` to `high`, metres in axes that are turned by `turn` degrees against the clock about the model's
    upright axis."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    low: Triple
    high: Triple
    turn: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0

    @model_validator(mode="after")
    def _encloses(self) -> ExtentsBox:
        if any(b - a < LEAST for a, b in zip(self.low, self.high, strict=True)):
            raise ValueError("the box encloses nothing: each of its sides must be at least 10 mm long")
        return self

    @property
    def axes(self) -> F64:
        """The box's axes in the model, a row each (3, 3)."""
        c, s = math.cos(math.radians(self.turn)), math.sin(math.radians(self.turn))
        return np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]])

    @property
    def corners(self) -> F64:
        """In the model, metres (8, 3)."""
        low, high = np.array(self.low), np.array(self.high)
        shares = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)])
        found: F64 = (low + shares * (high - low)) @ self.axes
        return found


def boxed(model: Model, cut: AnyCut, box: ExtentsBox) -> AnyCut:
    """The cut with the extents and the depth that a box gives it: as far to either side as the box is seen, from its
    base to its top, and as deep as its far side. Raises `ImpossibleCut` where the cut does not look into the box."""
    if isinstance(cut, PlanCut):
        return _boxed_plan(model, cut, box)
    leaves = leaves_of(model, cut.model_copy(update={"extents": Extents()}))
    seen = [_seen(leaf, box, first=k == 0, last=k == len(leaves) - 1) for k, leaf in enumerate(leaves)]
    found = [s for s in seen if s is not None]
    if not found:
        raise ImpossibleCut(
            "The shared extents lie behind this cut or beside its line; move the line or turn it round."
        )
    base, top = min(s[1] for s in found), max(s[3] for s in found)
    extents = _extents(cut, min(s[0] for s in found), base, max(s[2] for s in found), top)
    change: dict[str, object] = {"extents": extents, "depth": max(s[4] for s in found)}
    if isinstance(cut, SectionCut):
        change["depths"] = tuple(LEAST if s is None else s[4] for s in seen) if len(leaves) > 1 else ()
    return cut.model_copy(update=change)


def _seen(leaf: Leaf, box: ExtentsBox, first: bool, last: bool) -> tuple[float, float, float, float, float] | None:
    """What a plane of a cut shows of a box, metres: left, base, right, top, depth; None for nothing."""
    points = leaf.axes.to_drawing(box.corners) / 1000.0
    (left, base, _), (right, top, deep) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    if not first:
        left = max(left, leaf.window[0] / 1000.0)
    if not last:
        right = min(right, leaf.window[2] / 1000.0)
    return (left, base, right, top, round(deep, TIDY)) if deep >= LEAST and right - left >= LEAST else None


def _boxed_plan(model: Model, cut: PlanCut, box: ExtentsBox) -> PlanCut:
    (leaf,) = leaves_of(model, cut.model_copy(update={"extents": Extents()}))
    z = float(leaf.axes.origin[2])
    down, up = round(z - box.low[2], TIDY), round(box.high[2] - z, TIDY)
    if down < LEAST or up < LEAST:
        raise ImpossibleCut("The shared extents lie above or below the height that this plan is cut at.")
    ground = box.corners[:, :2][[0, 2, 6, 4]]
    (left, base), (right, top) = ground.min(axis=0).tolist(), ground.max(axis=0).tolist()
    extents = _extents(cut, left, base, right, top)
    if abs((box.turn + 45) % 90 - 45) > STRAIGHT:
        corners = [(round(x, TIDY), round(y, TIDY)) for x, y in ground.tolist()]
        extents = extents.model_copy(update={"polygon": tuple(corners)})
    looks_down = cut.look == "down"
    change = {"extents": extents, "depth": down if looks_down else up, "overhead": up if looks_down else cut.overhead}
    return cut.model_copy(update=change)


def _extents(cut: AnyCut, left: float, base: float, right: float, top: float) -> Extents:
    """Sides from a box; breaks are a drawing's own."""
    left, base, right, top = (round(x, TIDY) for x in (left, base, right, top))
    own = cut.extents
    return Extents(left=left, base=base, right=right, top=top, breaks=own.breaks, broken=own.broken,
                   whole_edges=own.whole_edges)  # fmt: skip


def around_building(model: Model) -> ExtentsBox:
    """The whole building with some air, and room for the ground that it stands in."""
    low, high = (np.round(corner, 3) for corner in model.bounds)
    return ExtentsBox(low=_triple(low - (MARGIN, MARGIN, MARGIN / 2)), high=_triple(high + MARGIN))


def box_of(model: Model, cut: AnyCut) -> ExtentsBox:
    """The box that a drawing shows, along its own line; where it is unlimited, as far as the building goes."""
    leaves = leaves_of(model, cut)
    u = leaves[0].axes.u
    turn = 0.0 if isinstance(cut, PlanCut) else math.degrees(math.atan2(float(u[1]), float(u[0])))
    turn = round((turn + 45) % 90 - 45, 6) + 0.0
    points = np.concatenate([_volume(model, leaf, cut) for leaf in leaves])
    own = points @ ExtentsBox(low=(0, 0, 0), high=(1, 1, 1), turn=turn).axes.T
    low, high = np.round(own.min(axis=0), 3), np.round(own.max(axis=0), 3)
    return ExtentsBox(low=_triple(low), high=_triple(high), turn=turn)


def _volume(model: Model, leaf: Leaf, cut: AnyCut) -> F64:
    """The corners, in the model, of what a plane of a cut looks at (8, 3)."""
    left, base, right, top = leaf.window
    flat = np.array([(left, base), (right, base), (right, top), (left, top)])
    near = leaf.axes.to_model(flat)
    bounds = np.array(model.bounds)
    grid = np.array([[bounds[i, 0], bounds[j, 1], bounds[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
    furthest = float(leaf.axes.to_drawing(grid)[:, 2].max()) / 1000.0 + MARGIN
    deep = max(LEAST, leaf.far / 1000.0 if math.isfinite(leaf.far) else furthest)
    before = max(LEAST, cut.overhead) if isinstance(cut, PlanCut) else 0.0
    found: F64 = np.concatenate((near - leaf.axes.w * before, near + leaf.axes.w * deep))
    return found


def with_side(model: Model, cut: AnyCut, box: ExtentsBox, side: Side, to: float) -> ExtentsBox:
    """The box with the face moved that a side of a drawing shows, so that the side comes to lie at `to`, metres in the
    drawing. Raises `ImpossibleCut` where that face is not square to the drawing, or would pass the opposite one."""
    leaves = leaves_of(model, cut.model_copy(update={"extents": Extents()}))
    leaf = leaves[-1] if side == "right" else leaves[0]
    direction, point = _towards(leaf.axes, side, to)
    own = box.axes @ direction
    k = int(np.abs(own).argmax())
    if abs(own[k]) < PARALLEL:
        raise ImpossibleCut("The shared extents are turned against this drawing; give their size in numbers.")
    value = round(float((box.axes @ point)[k]), TIDY)
    low, high = list(box.low), list(box.high)
    (high if own[k] > 0 else low)[k] = value
    if high[k] - low[k] < LEAST:
        raise ImpossibleCut("This side would pass the opposite one.")
    return ExtentsBox(low=_triple(low), high=_triple(high), turn=box.turn)


def _towards(axes: Axes, side: Side, to: float) -> tuple[F64, F64]:
    """The direction out of the drawing at a side, and a point in the model that lies at `to` there."""
    direction = {"left": -axes.u, "right": axes.u, "base": -axes.v, "top": axes.v, "depth": axes.w}[side]
    along = {"left": axes.u, "right": axes.u, "base": axes.v, "top": axes.v, "depth": axes.w}[side]
    return direction, axes.origin + along * to


def _triple(values: F64 | list[float]) -> Triple:
    x, y, z = (float(v) for v in values)
    return x, y, z
