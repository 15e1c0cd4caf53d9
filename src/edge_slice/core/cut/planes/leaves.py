"""Where a cut lies in the model: one plane, or one for each leg of a cutting line, unfolded into one drawing."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.spec import (
    LEAST,
    AnyCut,
    BlankCut,
    ImpossibleCut,
    Place,
    PlanCut,
    PlaneCut,
    SectionCut,
    Triple,
    UprightCut,
)
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Window = tuple[float, float, float, float]
MARGIN = 1.0  # metres of air shown around an unlimited drawing
EYE_HEIGHT = 1600.0  # mm over the floor
STOREY = 2.0  # metres; what is lower up to the next level is no storey that people stand in
AT_ZERO = -0.5  # metres; a floor from here upwards is at or over the building's zero
UPRIGHT = 0.99  # of the vertical, from which a view counts as upright
RIGHT_ANGLE = math.sin(math.radians(1.0))
UP = np.array([0.0, 0.0, 1.0])


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


NOWHERE = Axes(np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), -UP)  # of a drawing of nothing


@dataclass(frozen=True)
class Lens:
    """A perspective: the eye stands `distance` mm before (u, v) of the picture plane w = 0."""

    u: float
    v: float
    distance: float

    def project(self, points: F64) -> F64:
        """Points (..., 3) with w >= 0 as seen from the eye. The map is projective, in depth too: straight lines
        stay straight, planes plane, and nearer stays nearer, so that hidden lines are found as in a parallel
        view; the plane w = 0 stays as it is."""
        share = self.distance / (self.distance + points[..., 2:])
        centre = np.array([self.u, self.v, 0.0])
        projected: F64 = centre + (points - centre) * share
        return projected


@dataclass(frozen=True)
class Leaf:
    """One plane of a cut. The axes of all leaves measure u from the drawing's origin, so that their parts fit
    side by side; `window` (left, base, right, top) in mm is what the leaf shows, `far` its depth in mm."""

    axes: Axes
    window: Window
    far: float


def ground_line(leaf: Leaf) -> shapely.LineString:
    """Where a plane of the cut stands on plan, as far as its window goes, metres."""
    left, right = leaf.window[0] / 1000.0, leaf.window[2] / 1000.0
    return shapely.LineString([(leaf.axes.origin + leaf.axes.u * at)[:2] for at in (left, right)])


def steps_of(spec: UprightCut) -> tuple[bool, ...]:
    """Which stretches of a cutting line join its legs without cutting anything: of those at right angles to the leg
    before them all but the last, unless the line turns there."""
    stretches = list(pairwise(spec.line))
    found: list[bool] = []
    before: tuple[Place, Place] | None = None
    for k, stretch in enumerate(stretches):
        steps = isinstance(spec, SectionCut) and spec.corners == "steps" and k < len(stretches) - 1
        found.append(steps and before is not None and _is_step(before, stretch))
        before = before if found[-1] else stretch
    return tuple(found)


def legs_of(spec: SectionCut) -> list[tuple[Place, Place, float | None]]:
    """The cutting legs of a line, in the order in which they are drawn from left to right, with their depths."""
    legs: list[tuple[Place, Place]] = []
    for leg, step in zip(pairwise(spec.line), steps_of(spec), strict=True):
        if step:
            continue
        if legs and _direction(*legs[-1]) @ _direction(*leg) < -0.5:
            raise ImpossibleCut("The cutting line turns back on itself; let its legs run on in one direction.")
        legs.append(leg)
    depths = spec.depths or (spec.depth,) * len(legs)
    if len(depths) != len(legs):
        raise ImpossibleCut(f"The line has {len(legs)} cutting legs but {len(depths)} depths; give one for each leg.")
    found = [(a, b, d) for (a, b), d in zip(legs, depths, strict=True)]
    return found if spec.look == "left" else [(b, a, d) for a, b, d in reversed(found)]


def _direction(a: Place, b: Place) -> F64:
    d = np.array([b[0] - a[0], b[1] - a[1]])
    return d / float(np.hypot(*d))


def _is_step(before: tuple[Place, Place], leg: tuple[Place, Place]) -> bool:
    return abs(float(_direction(*before) @ _direction(*leg))) < RIGHT_ANGLE


def _upright(a: Place, b: Place, at: float) -> Axes:
    """The vertical plane through a and b, looking left of their direction; a lies `at` metres from the origin."""
    dx, dy = _direction(a, b)
    return Axes(np.array([a[0] - at * dx, a[1] - at * dy, 0.0]), np.array([dx, dy, 0.0]), UP, np.array([-dy, dx, 0.0]))


def _level(model: Model, spec: PlanCut) -> Axes:
    storey = next((s for s in model.storeys if s.guid == spec.storey), None)
    if storey is None:
        raise ImpossibleCut("The storey of this plan is not in the model; choose another storey.")
    origin = np.array([0.0, 0.0, storey.elevation + spec.height])
    return Axes(origin, np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), -UP if spec.look == "down" else UP)


def axes_square_to(point: Triple, normal: Triple) -> Axes:
    """The axes of a plane whose normal points to the viewer. Up is the model's up as far as it lies in the plane; in a
    level plane it is the model's y axis."""
    w = -np.array(normal) / math.hypot(*normal)
    steep = UP - (UP @ w) * w
    if float(np.linalg.norm(steep)) < 1e-6:
        steep = np.array([0.0, 1.0, 0.0]) - w[1] * w
    v = steep / np.linalg.norm(steep)
    return Axes(np.array(point), np.cross(w, v), v, w)


def leaves_of(model: Model, spec: AnyCut) -> tuple[Leaf, ...]:
    """The planes of a cut, from left to right. Raises `ImpossibleCut` for a storey that is not in the model, a
    line that turns back, or extents that enclose nothing."""
    if isinstance(spec, BlankCut):
        return (Leaf(NOWHERE, _window(spec, (0.0, 0.0, spec.width, spec.height)), 0.0),)
    if isinstance(spec, SectionCut):
        legs = legs_of(spec)
    elif isinstance(spec, PlanCut | PlaneCut):
        axes = _level(model, spec) if isinstance(spec, PlanCut) else axes_square_to(spec.point, spec.normal)
        return (Leaf(axes, _window(spec, _around(model, axes)), _mm(spec.depth)),)
    else:
        a, b = spec.line if spec.look == "left" else spec.line[::-1]
        legs = [(a, b, spec.depth)]
    marks = np.cumsum([0.0] + [math.hypot(b[0] - a[0], b[1] - a[1]) for a, b, _ in legs])
    base, top = _heights(model, spec, legs, marks)
    whole = _window(spec, (0.0, base - MARGIN / 2, float(marks[-1]), top + MARGIN))
    found = []
    for k, (a, b, depth) in enumerate(legs):
        left = whole[0] if k == 0 else max(whole[0], float(marks[k]) * 1000)
        right = whole[2] if k == len(legs) - 1 else min(whole[2], float(marks[k + 1]) * 1000)
        if right > left:
            found.append(Leaf(_upright(a, b, float(marks[k])), (left, whole[1], right, whole[3]), _mm(depth)))
    return tuple(found)


def _heights(
    model: Model, spec: UprightCut, legs: list[tuple[Place, Place, float | None]], marks: F64
) -> tuple[float, float]:
    """Lowest and highest point of the building's elements of which something may show in an upright cut, in metres; of
    the whole building where there are none. Elements are taken for their boxes, cut away or not."""
    boxes = model.boxes[model.standing & np.isfinite(model.boxes[:, 0, 0])]
    middles, halves = boxes.mean(axis=1)[:, :2], (boxes[:, 1] - boxes[:, 0])[:, :2] / 2
    open_left, open_right = spec.extents.left, spec.extents.right
    show = np.zeros(len(boxes), dtype=bool)
    for k, (a, b, depth) in enumerate(legs):
        along = _direction(a, b)
        look = np.array([-along[1], along[0]])
        u, u_half = (middles - np.array(a)) @ along + marks[k], halves @ np.abs(along)
        w, w_half = (middles - np.array(a)) @ look, halves @ np.abs(look)
        left = marks[k] if k > 0 or open_left is None else open_left
        right = marks[k + 1] if k < len(legs) - 1 or open_right is None else open_right
        beside = (u + u_half > left) & (u - u_half < right)
        show |= beside & (w + w_half > 0) & (w - w_half < (math.inf if depth is None else depth))
    found = boxes[show] if show.any() else boxes
    return float(found[:, 0, 2].min()), float(found[:, 1, 2].max())


def _mm(depth: float | None) -> float:
    return math.inf if depth is None else depth * 1000.0


def _around(model: Model, axes: Axes) -> tuple[float, float, float, float]:
    """What the building takes up in a plane, with some air, in metres."""
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)])
    low, high = model.bounds
    flat = axes.to_drawing(low + corners * (high - low))[:, :2] / 1000.0
    (u0, v0), (u1, v1) = flat.min(axis=0).tolist(), flat.max(axis=0).tolist()
    return u0 - MARGIN, v0 - MARGIN, u1 + MARGIN, v1 + MARGIN


def _window(spec: AnyCut, start: tuple[float, float, float, float]) -> Window:
    """The crop (left, base, right, top) in mm, with every open side filled in from `start` (metres)."""
    e = spec.extents
    given = (e.left, e.base, e.right, e.top)
    left, base, right, top = (float(s if g is None else g) for s, g in zip(start, given, strict=True))
    if e.polygon:
        u0, v0, u1, v1 = shapely.Polygon(e.polygon).bounds
        left, base = max(left, u0), max(base, v0)
        right, top = min(right, u1), min(top, v1)
    if right - left < 0.01 or top - base < 0.01:
        raise ImpossibleCut("The extents enclose nothing: right must lie right of left, and top above base.")
    return left * 1000, base * 1000, right * 1000, top * 1000


def whole_window(leaves: tuple[Leaf, ...]) -> Window:
    """The crop of a drawing whose leaves stand side by side."""
    first, last = leaves[0].window, leaves[-1].window
    return first[0], first[1], last[2], last[3]


def leaf_at(leaves: tuple[Leaf, ...], u: float) -> Leaf:
    """The leaf that shows a place along the drawing, mm; beside all of them, the first."""
    return next((leaf for leaf in leaves if leaf.window[0] <= u <= leaf.window[2]), leaves[0])


def check_breaks(spec: AnyCut, leaves: tuple[Leaf, ...]) -> None:
    """Raises `ImpossibleCut` for a break that leaves nothing of a drawing at one of its sides."""
    left, base, right, top = (x / 1000.0 for x in whole_window(leaves))
    for one in spec.extents.breaks:
        low, high = (left, right) if one.axis == "u" else (base, top)
        if one.start < low + LEAST or one.end > high - LEAST:
            raise ImpossibleCut(
                f"The break from {one.start:g} to {one.end:g} m is wider than the drawing, which goes from {low:.3g} to"
                f" {high:.3g} m there; something must be left at both sides of it."
            )


def lens_of(model: Model, spec: AnyCut, leaves: tuple[Leaf, ...]) -> Lens | None:
    """The eye of a perspective before its picture plane, the cut."""
    perspective = getattr(spec, "perspective", None)
    if perspective is None:
        return None
    window = whole_window(leaves)
    u, v = _eye(model, leaves[0], window)
    if perspective.eye is not None:
        u, v = perspective.eye[0] * 1000.0, perspective.eye[1] * 1000.0
    if perspective.distance is not None:
        return Lens(u, v, perspective.distance * 1000.0)
    angle = math.radians(perspective.field_of_view or 60.0)
    return Lens(u, v, (window[2] - window[0]) / 2 / math.tan(angle / 2))


def _eye(model: Model, leaf: Leaf, window: Window) -> Place:
    """Where the eye stands that nobody placed, mm: in an upright view on the floor of the storey that is cut, which is
    the lowest one from the building's zero upwards that the extents hold, else the highest below; in other views in
    the middle of what is seen."""
    left, base, right, top = window
    axes = leaf.axes
    if axes.v[2] < UPRIGHT:
        return _middle_of_seen(model, leaf, window)
    floors = sorted(s.elevation for s in model.storeys)
    high = [f for f, above in zip(floors, [*floors, math.inf][1:], strict=True) if above - f >= STOREY]
    eyes = [(f - float(axes.origin[2])) * 1000.0 + EYE_HEIGHT for f in high]
    held = [(f, v) for f, v in zip(high, eyes, strict=True) if base < v < top]
    over = [v for f, v in held if f >= AT_ZERO]
    v = over[0] if over else held[-1][1] if held else base + min(EYE_HEIGHT, (top - base) / 2)
    return (left + right) / 2, v


def _middle_of_seen(model: Model, leaf: Leaf, window: Window) -> Place:
    """The middle of the boxes of the building's elements beyond a plane, within its window, mm."""
    boxes = model.boxes[model.standing & np.isfinite(model.boxes[:, 0, 0])]
    low, high = boxes[:, 0], boxes[:, 1]
    corners = np.stack([np.where([x, y, z], high, low) for x in (0, 1) for y in (0, 1) for z in (0, 1)], axis=1)
    seen = leaf.axes.to_drawing(corners)
    least, most = seen.min(axis=1), seen.max(axis=1)
    left, base, right, top = window
    show = (most[:, 2] > 0) & (least[:, 2] < leaf.far) & (most[:, 0] > left) & (least[:, 0] < right)
    show &= (most[:, 1] > base) & (least[:, 1] < top)
    if not show.any():
        return (left + right) / 2, (base + top) / 2
    u = max(left, least[show, 0].min()) + min(right, most[show, 0].max())
    v = max(base, least[show, 1].min()) + min(top, most[show, 1].max())
    return float(u / 2), float(v / 2)
