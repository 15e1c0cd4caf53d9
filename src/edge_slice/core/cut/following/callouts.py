"""Callouts: an enlarged region of another drawing, whose cut is derived from that drawing's. Nothing is copied: where
the drawing moves, what is called out from it moves with it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.cut.planes.leaves import Leaf, leaf_at, leaves_of, lens_of, whole_window
from edge_slice.core.cut.spec import (
    EDGES,
    LEAST,
    AnyCut,
    BlankCut,
    Break,
    Extents,
    ImpossibleCut,
    Metres,
    Perspective,
    Place,
    SectionCut,
)
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Axis = Literal["u", "v"]
Form = Literal["plan", "wall", "detail"]
ROUND = 72  # corners of a circle's polygon
NEAR = 2.0  # metres around a region in which a face is looked for that holds it
SHARE = 0.02  # of a region that must lie in its drawing
PROBES = (0.03, 0.27, 0.51, 0.74, 0.97)  # shares of a range at which it is asked what is solid
SAME = 0.001  # metres; what moved by less has not moved
HOLDING = ("wall", "column", "footing")  # kinds that are taken to hold a region before others
LATER = 1.0  # metres; so much nearer must a face of another kind be
OWN = (
    "without", "left_out", "whole", "whole_kinds", "shown_set", "see_through", "see_through_kinds", "hidden", "glass",
)  # fmt: skip
SCALES = {"wall": 20.0, "plan": 20.0, "detail": 10.0}  # that a callout begins with, where its drawing's is smaller
USUAL_SCALES = (50.0, 20.0, 10.0, 5.0, 2.0, 1.0, 0.5, 0.2)


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class RegionAnchor(_Data):
    """What one coordinate of a region is tied to: a side of the cut face of an element (`name`: its GlobalId), the
    lower or the higher one, or a storey's level (its GlobalId); and where that was when the region was set, metres.
    `paired`: sides are those of the solid between them; without, as anchors were set before, the nearest one counts."""

    to: Literal["face", "level"]
    name: Annotated[str, Field(max_length=64)]
    side: Literal["low", "high"] = "low"
    at: Metres
    paired: bool = False


class Region(_Data):
    """Part of a drawing, metres in its axes. A rectangle has two opposite corners; a circle its middle and a point on
    it; a polygon three corners or more. `u` and `v` say what it is tied to, or null."""

    shape: Literal["rectangle", "polygon", "circle"] = "rectangle"
    points: Annotated[tuple[Place, ...], Field(min_length=2, max_length=200)]
    u: RegionAnchor | None = None
    v: RegionAnchor | None = None

    @model_validator(mode="after")
    def _encloses(self) -> Region:
        if self.shape != "polygon" and len(self.points) != 2:
            raise ValueError("region: a rectangle and a circle have two points")
        if self.shape == "polygon" and len(self.points) < 3:
            raise ValueError("region: a polygon needs three corners or more")
        shape = shapely.Polygon(self.outline)
        left, base, right, top = shape.bounds
        if right - left < LEAST or top - base < LEAST:
            raise ValueError("region: it has no size; each side must be at least 10 mm long")
        if not shape.is_valid:
            raise ValueError("region: its sides must not cross")
        return self

    @property
    def outline(self) -> F64:
        """Its corners in order (n, 2), metres."""
        points = np.array(self.points)
        if self.shape == "polygon":
            return points
        (x0, y0), (x1, y1) = points.tolist()
        if self.shape == "rectangle":
            left, right, base, top = min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1)
            return np.array([(left, base), (right, base), (right, top), (left, top)])
        turn = np.linspace(0, 2 * np.pi, ROUND, endpoint=False)
        reach = math.hypot(x1 - x0, y1 - y0)
        ring: F64 = points[0] + reach * np.column_stack((np.cos(turn), np.sin(turn)))
        return ring

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, base, right, top, metres."""
        (left, base), (right, top) = self.outline.min(axis=0).tolist(), self.outline.max(axis=0).tolist()
        return left, base, right, top

    def moved(self, du: float, dv: float) -> Region:
        points = tuple((round(u + du, 6), round(v + dv, 6)) for u, v in self.points)
        return self.model_copy(update={"points": points})


class Callout(_Data):
    """What a drawing is called out by: its region of the drawing that it was called out from. `form` decides how it is
    numbered and the scale it begins with, not what it can do. Its depth is that drawing's unless it has its own."""

    region: Region
    form: Form = "detail"
    own_depth: bool = False


@dataclass(frozen=True)
class Derived:
    """The cut of a callout, where its region is now, and what is wrong with its anchors, if anything."""

    cut: AnyCut
    region: Region
    finding: str = ""


def derived(model: Model, parent: AnyCut, own: AnyCut, callout: Callout) -> Derived:
    """The cut of a callout: its parent's in the same planes, cropped to the region, which follows its anchors; from its
    `own` cut what shows, and the depth where that is its own. Raises `ImpossibleCut` where nothing of the region lies
    in the parent's drawing."""
    if isinstance(parent, BlankCut):
        raise ImpossibleCut("A blank detail has nothing to call out.")
    region, finding = held(model, parent, callout.region)
    change: dict[str, object] = {name: getattr(own, name) for name in OWN}
    (u0, v0), (u1, v1) = callout.region.points[0], region.points[0]
    breaks = [_shifted(b, u1 - u0 if b.axis == "u" else v1 - v0) for b in own.extents.breaks]
    extents = _cropped(model, parent, region)
    lines = {"broken": own.extents.broken, "whole_edges": own.extents.whole_edges}
    change["extents"] = extents.model_copy(update={**lines, "breaks": tuple(b for b in breaks if _within(b, extents))})
    change["shared_extents"] = ""
    if callout.own_depth:
        change["depth"] = own.depth
    if isinstance(parent, SectionCut):
        change["of"] = "wall" if callout.form == "wall" else "building"
        if callout.own_depth:
            change["depths"] = ()
    perspective = getattr(parent, "perspective", None)
    if perspective is not None:
        change["perspective"] = _same_eye(model, parent)
    return Derived(parent.model_copy(update=change), region, finding)


def _shifted(one: Break, by: float) -> Break:
    return one.model_copy(update={"start": one.start + by, "end": one.end + by})


def _within(one: Break, extents: Extents) -> bool:
    """Whether something is left at both sides of a break."""
    low, high = (extents.left, extents.right) if one.axis == "u" else (extents.base, extents.top)
    return low is not None and high is not None and low + LEAST <= one.start and one.end <= high - LEAST


def _cropped(model: Model, parent: AnyCut, region: Region) -> Extents:
    left, base, right, top = (x / 1000.0 for x in whole_window(leaves_of(model, parent)))
    shown = shapely.box(left, base, right, top)
    if parent.extents.polygon:
        shown = shapely.intersection(shown, shapely.Polygon(parent.extents.polygon))
    wanted = shapely.Polygon(region.outline)
    inside = shapely.intersection(shown, wanted)
    if inside.area < SHARE * wanted.area or inside.area < LEAST * LEAST:
        raise ImpossibleCut(
            "The region lies outside the drawing that it is called out from; draw it within its extents."
        )
    u0, v0, u1, v1 = region.bounds
    polygon = () if region.shape == "rectangle" else tuple((float(u), float(v)) for u, v in region.outline.tolist())
    if parent.extents.polygon:
        polygon = _ring(inside)
    return Extents(left=max(u0, left), base=max(v0, base), right=min(u1, right), top=min(v1, top), polygon=polygon)


def _ring(shape: shapely.Geometry) -> tuple[Place, ...]:
    """The outer ring of the largest part of a shape."""
    parts = [p for p in shapely.get_parts(shape).tolist() if p.geom_type == "Polygon"]
    largest = max(parts, key=lambda p: p.area)
    return tuple((float(u), float(v)) for u, v in list(largest.exterior.coords)[:-1])


def _same_eye(model: Model, parent: AnyCut) -> Perspective:
    lens = lens_of(model, parent, leaves_of(model, parent))
    assert lens is not None
    return Perspective(distance=lens.distance / 1000.0, eye=(lens.u / 1000.0, lens.v / 1000.0))


def beginning(cut: AnyCut, form: Form) -> AnyCut:
    """What a callout begins with, of a cut that it is called out from: that cut's breaks, and in a detail break lines
    wherever material goes on beyond it."""
    broken = EDGES if form == "detail" else ()
    return cut.model_copy(update={"extents": cut.extents.model_copy(update={"broken": broken, "whole_edges": False})})


def beginning_scale(form: Form, parent: float) -> float:
    """The scale (denominator) that a callout begins with: its form's, or the next larger one than its parent's."""
    if SCALES[form] < parent:
        return SCALES[form]
    return next((s for s in USUAL_SCALES if s < parent * 0.999), parent)


def same_sides(one: Extents, other: Extents) -> bool:
    """Whether two crops are the same, whatever is broken in them."""
    plain: dict[str, object] = {"breaks": (), "broken": (), "whole_edges": False}
    return one.model_copy(update=plain) == other.model_copy(update=plain)


def region_of(extents: Extents, old: Region) -> Region:
    """The region that extents stand for, which were `old` before."""
    if extents.polygon:
        return Region(shape="polygon", points=extents.polygon)
    left, base, right, top = old.bounds
    given = [
        (left if extents.left is None else extents.left, base if extents.base is None else extents.base),
        (right if extents.right is None else extents.right, top if extents.top is None else extents.top),
    ]
    return Region(points=tuple(given))


def anchored(model: Model, parent: AnyCut, region: Region) -> Region:
    """The region tied to what is near it: `u` to a side of a cut face; `v` to a level in an upright drawing, else to a
    side of a cut face too."""
    leaf = _leaf_at(model, parent, region)
    u = _face_anchor(model, leaf, region, "u")
    if leaf.axes.v[2] > 0.999:
        v = _level_anchor(model, (region.bounds[1] + region.bounds[3]) / 2)
    else:
        v = _face_anchor(model, leaf, region, "v")
    return region.model_copy(update={"u": u, "v": v})


def held(model: Model, parent: AnyCut, region: Region) -> tuple[Region, str]:
    """The region where its anchors have it now, and what is wrong where one is lost: it then stays where it was."""
    leaf = _leaf_at(model, parent, region)
    lost: list[str] = []
    dv = _moved(model, leaf, region, "v", lost)
    du = _moved(model, leaf, region.moved(0.0, dv) if dv else region, "u", lost)
    finding = f"{' and '.join(lost)} that this callout is tied to is not there any more; it stays where it was."
    return (region.moved(du, dv) if du or dv else region), finding[:1].upper() + finding[1:] if lost else ""


def _moved(model: Model, leaf: Leaf, region: Region, axis: Axis, lost: list[str]) -> float:
    anchor = region.u if axis == "u" else region.v
    if anchor is None:
        return 0.0
    if anchor.to == "level":
        storey = next((s for s in model.storeys if s.guid == anchor.name), None)
        if storey is None:
            lost.append("the level")
            return 0.0
        return _unless_same(storey.elevation - anchor.at)
    element = model.element_by_guid.get(anchor.name, -1)
    spans = _spans(model, leaf, element, axis, _across(region, axis)) if element >= 0 else []
    if not spans:
        lost.append("the cut face")
        return 0.0
    k = 0 if anchor.side == "low" else 1
    places = [span[k] for span in spans] if anchor.paired else [at for span in spans for at in span]
    return _unless_same(min(places, key=lambda at: abs(at - anchor.at)) - anchor.at)


def _unless_same(shift: float) -> float:
    return shift if abs(shift) > SAME else 0.0


def _leaf_at(model: Model, parent: AnyCut, region: Region) -> Leaf:
    return leaf_at(leaves_of(model, parent), (region.bounds[0] + region.bounds[2]) / 2 * 1000.0)


def _level_anchor(model: Model, v: float) -> RegionAnchor | None:
    storey = min(model.storeys, key=lambda s: abs(s.elevation - v), default=None)
    return None if storey is None else RegionAnchor(to="level", name=storey.guid, at=storey.elevation)


def _face_anchor(model: Model, leaf: Leaf, region: Region, axis: Axis) -> RegionAnchor | None:
    """A side of the cut face that holds the region best: that of a wall or the like, and near its middle."""
    k = 0 if axis == "u" else 1
    low, high = np.array(region.bounds[:2]), np.array(region.bounds[2:])
    boxes = leaf_boxes(model, leaf)
    near = (boxes[:, 0, :2] < high + NEAR).all(axis=1) & (boxes[:, 1, :2] > low - NEAR).all(axis=1)
    near &= model.standing & (boxes[:, 0, 2] < 0) & (boxes[:, 1, 2] > 0)
    middle = (low[k] + high[k]) / 2
    best: tuple[float, RegionAnchor] | None = None
    for element in np.flatnonzero(near).tolist():
        kind = model.elements[element].kind
        for span in _spans(model, leaf, element, axis, _across(region, axis)):
            for side, at in zip(("low", "high"), span, strict=True):
                cost = abs(at - middle) + (0.0 if kind in HOLDING else LATER)
                if best is None or cost < best[0] - 1e-9:
                    name = model.elements[element].guid
                    anchor = {"to": "face", "name": name, "side": side, "at": at, "paired": True}
                    best = (cost, RegionAnchor.model_validate(anchor))
    return best[1] if best is not None else None


def leaf_boxes(model: Model, leaf: Leaf) -> F64:
    """The boxes of all elements in the axes of a leaf (elements, 2, 3), metres."""
    middles, halves = model.boxes.mean(axis=1), (model.boxes[:, 1] - model.boxes[:, 0]) / 2
    frame = np.column_stack((leaf.axes.u, leaf.axes.v, leaf.axes.w))
    with np.errstate(invalid="ignore"):  # an element without a body has no box
        centre, reach = (middles - leaf.axes.origin) @ frame, halves @ np.abs(frame)
    found: F64 = np.nan_to_num(np.stack((centre - reach, centre + reach), axis=1), nan=np.inf)
    return found


def _across(region: Region, axis: Axis) -> tuple[float, float]:
    """The region's reach along the other axis, metres."""
    left, base, right, top = region.bounds
    return (base, top) if axis == "u" else (left, right)


def _spans(
    model: Model, leaf: Leaf, element: int, axis: Axis, between: tuple[float, float]
) -> list[tuple[float, float]]:
    """Where an element is cut by a leaf, along one axis, within a range of the other one: disjoint spans of what is
    solid, metres, by probes across the range; a body that is not closed is taken to be solid where it is cut."""
    corners = model.element_triangles(element).reshape(-1, 3)
    points = (leaf.axes.to_drawing(corners) / 1000.0).reshape(-1, 3, 3)
    ends = _crossed(points)
    k = 0 if axis == "u" else 1
    along, other = ends[:, :, k], ends[:, :, 1 - k]
    within = (other.max(axis=1) >= between[0]) & (other.min(axis=1) <= between[1])
    if not within.any():
        return []
    solid = _probed(along[within], other[within], between)
    if solid is None:
        solid = list(zip(along.min(axis=1)[within].tolist(), along.max(axis=1)[within].tolist(), strict=True))
    found: list[tuple[float, float]] = []
    for low, high in sorted(solid):
        if found and low <= found[-1][1] + SAME:
            found[-1] = (found[-1][0], max(found[-1][1], high))
        else:
            found.append((low, high))
    return [(round(a, 6), round(b, 6)) for a, b in found]


def _probed(along: F64, other: F64, between: tuple[float, float]) -> list[tuple[float, float]] | None:
    """What lies inside along straight probes across a range, by the segments (n, 2) of an outline that each crosses;
    None where a probe enters and does not leave."""
    low, high = max(between[0], float(other.min())), min(between[1], float(other.max()))
    found: list[tuple[float, float]] = []
    for share in PROBES:
        at = low + share * (high - low)
        a, b = other[:, 0], other[:, 1]
        crossed = (a < at) != (b < at)
        t = (at - a[crossed]) / (b[crossed] - a[crossed])
        places = np.sort(along[crossed, 0] + t * (along[crossed, 1] - along[crossed, 0]))
        if len(places) % 2:
            return None
        found += list(zip(places[::2].tolist(), places[1::2].tolist(), strict=True))
    return found


def _crossed(triangles: F64) -> F64:
    """Where triangles (n, 3, 3) cross w = 0: the ends of a segment each (m, 2, 2)."""
    beyond = triangles[:, :, 2] >= 0
    crossed = triangles[beyond.any(axis=1) & ~beyond.all(axis=1)]
    beyond = crossed[:, :, 2] >= 0
    lone = np.where(beyond.sum(axis=1) == 1, beyond.argmax(axis=1), (~beyond).argmax(axis=1))  # alone on its side
    rows = np.arange(len(crossed))
    a = crossed[rows, lone]
    found = np.empty((len(crossed), 2, 2))
    for k in (1, 2):
        b = crossed[rows, (lone + k) % 3]
        share = a[:, 2] / (a[:, 2] - b[:, 2])
        found[:, k - 1] = a[:, :2] + share[:, None] * (b - a)[:, :2]
    return found
