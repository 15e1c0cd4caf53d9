"""Strips of sections laid into a plan, in line with what they cut: the plan is broken open along the cutting line and
the strip stands in the gap, or it covers a band of the plan, which keeps its size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import ImpossibleCut, PlanCut, SectionCut
from edge_slice.core.cut.planes.leaves import Leaf
from edge_slice.core.cut.spec import Break, Extents
from edge_slice.core.drawing.breaks.break_lines import zigzag
from edge_slice.core.drawing.breaks.cropping import without
from edge_slice.core.drawing.breaks.folds import FAR, Fold, Part
from edge_slice.core.drawing.display import Box, DisplayList, Item, Label, Link, Paths, Pen, paths_of
from edge_slice.core.drawing.rules.standard import BreakRule
from edge_slice.core.drawing.spec import DrawingSpec, InsetStrip
from edge_slice.core.drawing.texts.lettering import box_of

F64 = NDArray[np.float64]
AIR = 1.0  # mm between the break lines and the strip, and about words that stand beside it
SAME = 1e-6  # mm; so near to one another lines are one
LEAST = 0.5  # mm on paper that a strip is long at least


@dataclass(frozen=True)
class Lying:
    """How a strip lies on its plan, broken as that is: the plane of its section; the places on paper of its two ends
    (2, 2); and whether it covers a band."""

    leaf: Leaf
    ends: F64
    replaces: bool

    @property
    def axes(self) -> F64:
        """Unit vectors (rows) along the strip and up in it, on the paper of the plan."""
        return np.array([self.leaf.axes.u[:2], self.leaf.axes.w[:2]])


@dataclass(frozen=True)
class Place:
    """Where a strip stands on the opened plan: its axes along and up (rows), how far it is moved in these; the band
    (4, 2), mm on paper, that it takes up with its break lines, of the plan if it `covers` that."""

    axes: F64
    shift: F64
    band: F64
    covers: bool


@dataclass(frozen=True)
class Opening:
    """How a plan is broken open: its paper in axes along the strips and up in them (rows), folded there; the frame of
    the opened plan; and the places of the strips."""

    axes: F64
    fold: Fold
    frame: Box
    places: tuple[Place, ...]

    def points(self, points: F64) -> F64:
        """Points (n, 2) of the plan where they stand now."""
        found: F64 = self.fold.points(points @ self.axes.T) @ self.axes
        return found

    def unfolded(self, points: F64) -> F64:
        """Where points of the opened plan (n, 2) lay in the whole one."""
        found: F64 = self.fold.unfolded(points @ self.axes.T) @ self.axes
        return found

    def tears(self, start: F64, end: F64) -> list[float]:
        """Where on the way from one place of the opened plan (2,) to another it gapes, as shares of the way."""
        return self.fold.tears(self.axes @ start, self.axes @ end)

    @cached_property
    def covered(self) -> shapely.Geometry:
        """What strips cover of the plan, mm on paper."""
        return shapely.union_all([shapely.Polygon(p.band) for p in self.places if p.covers])

    @cached_property
    def bands(self) -> shapely.Geometry:
        """What strips take up, mm on paper."""
        return shapely.union_all([shapely.Polygon(p.band) for p in self.places])

    def kept_clear(self) -> list[Box]:
        """What words of the plan keep clear of, as boxes on its paper before it opens; a band that runs askew is in
        pieces about as long as it is high."""
        found: list[Box] = []
        for band in (p.band for p in self.places if p.covers):
            count = max(1, round(float(np.hypot(*(band[1] - band[0])) / np.hypot(*(band[3] - band[0])))))
            steps = np.linspace(0.0, 1.0, count + 1)[:, None]
            lower, upper = band[0] + steps * (band[1] - band[0]), band[3] + steps * (band[2] - band[3])
            for k in range(count):
                piece = self.unfolded(np.concatenate((lower[k : k + 2], upper[k : k + 2])))
                found.append((*piece.min(axis=0).tolist(), *piece.max(axis=0).tolist()))
        return found


def strip_cut(section: SectionCut, strip: InsetStrip) -> SectionCut:
    """What of a section is laid in. Raises `ImpossibleCut` for one that is no single straight cut."""
    if len(section.line) > 2 or section.perspective is not None:
        raise ImpossibleCut("Only a straight section without perspective can be laid into a plan.")
    extents = Extents(left=strip.start, right=strip.end, base=strip.base, top=strip.top)
    return section.model_copy(update={"extents": extents, "shared_extents": ""})


def strip_style(section: DrawingSpec, plan: DrawingSpec, strip: InsetStrip) -> DrawingSpec:
    """How it is shown: as its section, by the plan's standard and at its scale, with what the strip wants to say."""
    plain = {"grid": False, "frame": False, "callouts": False, "section_rooms": False, "strips": ()}
    of_plan = {"scale": plan.scale, "standard": plan.standard, "levels": strip.levels}
    return section.model_copy(update=plain | of_plan)


def broken_like(own: Fold, leaf: Leaf, scale: float) -> Extents:
    """The extents (metres) of a strip in a plan that is broken as `own`: it ends where that shows nothing, and has its
    breaks. Raises `ImpossibleCut` where it can't lie in line with it."""
    left, base, right, top = leaf.window
    whole = Extents(left=left / 1000.0, right=right / 1000.0, base=base / 1000.0, top=top / 1000.0)
    if not own.folds:
        return whole
    along, foot = leaf.axes.u[:2], leaf.axes.origin[:2] * 1000.0
    axis = int(np.abs(along).argmax())
    if abs(along[1 - axis]) > SAME:
        _in_one_part(own, (foot + np.outer((left, right), along)) / scale)
        return whole
    parts, across = (own.us, own.v) if axis == 0 else (own.vs, own.u)
    if across(float(foot[1 - axis]) / scale) is None:
        raise ImpossibleCut("The section of this strip runs in a break of the plan; move the break or the section.")
    gaps = np.array([(one.end, after.start) for one, after in pairwise(parts)]).reshape(-1, 2) * scale
    breaks = np.sort((gaps - foot[axis]) * along[axis], axis=1)
    for a, b in breaks.tolist():
        left, right = (b if a < left < b else left), (a if a < right < b else right)
    if right - left < LEAST * scale:
        raise ImpossibleCut("The strip lies in a break of the plan; move one of them.")
    inner = tuple(Break(axis="u", start=a / 1000.0, end=b / 1000.0) for a, b in breaks if left < a and b < right)
    return whole.model_copy(update={"left": left / 1000.0, "right": right / 1000.0, "breaks": inner})


def _in_one_part(own: Fold, ends: F64) -> None:
    for parts, at in ((own.us, ends[:, 0]), (own.vs, ends[:, 1])):
        if not any(part.start <= at.min() and at.max() <= part.end for part in _endless(parts)):
            raise ImpossibleCut("The strip runs askew through a break of the plan; move the break, or lay in a part.")


def _endless(parts: tuple[Part, ...]) -> list[Part]:
    first, last = replace(parts[0], start=-FAR), replace(parts[-1], end=FAR)
    return [first, *parts[1:-1], last] if len(parts) > 1 else [replace(first, end=FAR)]


def lying(cut: PlanCut, own: Fold, leaf: Leaf, replaces: bool, scale: float) -> Lying:
    """How a strip in the plane of `leaf`, as long as its window, lies on a plan that is broken as `own`. Raises
    `ImpossibleCut` where it lies beside the plan."""
    if cut.look == "up":
        raise ImpossibleCut("A ceiling plan is seen from below; lay the strip into a plan.")
    along, foot = leaf.axes.u[:2], leaf.axes.origin[:2] * 1000.0
    ends = own.points((foot + np.outer((leaf.window[0], leaf.window[2]), along)) / scale)
    if not shapely.LineString(ends).intersects(shapely.box(*own.frame)):
        raise ImpossibleCut("The strip lies outside the plan; choose a section that crosses it, or move the strip.")
    return Lying(leaf, ends, replaces)


def can_join(before: Sequence[Lying], one: Lying, titles: str) -> None:
    """Raises `ImpossibleCut` where a strip can't be laid in together with those `before` it."""
    if one.replaces:
        return
    for other in (o for o in before if not o.replaces):
        if abs(float(np.linalg.det(np.array([other.axes[0], one.axes[0]])))) > SAME:
            raise ImpossibleCut(f"Strips that open a plan run one way; let that of {titles} replace a band.")
        up, along = other.axes[1], other.axes[0]
        (a, b), (c, d) = np.sort(other.ends @ along), np.sort(one.ends @ along)
        if abs(float((one.ends[0] - other.ends[0]) @ up)) < SAME and c < b and a < d:
            raise ImpossibleCut(f"Two strips in one line overlap; say from where to where that of {titles} goes.")


def opening(own: Fold, strips: Sequence[Lying], scale: float, rule: BreakRule) -> Opening:
    """How a plan that is broken as `own` opens for strips that can be laid in together."""
    margin = rule.height + AIR
    gaps = [s for s in strips if not s.replaces]
    axes = gaps[0].axes if gaps else np.eye(2)
    high: dict[float, float] = {}  # of each gap, by where it opens
    for one in gaps:
        at = _same(high, float(one.ends[0] @ axes[1]))
        high[at] = max(high.get(at, 0.0), _height(one, scale) + 2 * margin)
    corners = _corners(own.frame) @ axes.T
    (s0, t0), (s1, t1) = corners.min(axis=0).tolist(), corners.max(axis=0).tolist()
    parts, shift, start = [], 0.0, -FAR
    for at in sorted(high):
        parts.append(Part(start, at, shift))
        start, shift = at, shift + high[at]
    fold = Fold((Part(-FAR, FAR, 0.0),), (*parts, Part(start, FAR, shift)), (s0, t0, s1, t1 + shift), rule)
    moved = fold.points(corners) @ axes
    opened = Opening(axes, fold, (*moved.min(axis=0).tolist(), *moved.max(axis=0).tolist()), ())
    return replace(opened, places=tuple(_place(opened, high, one, scale, margin) for one in strips))


def _same(high: dict[float, float], at: float) -> float:
    return next((known for known in high if abs(known - at) < SAME), at)


def _height(one: Lying, scale: float) -> float:
    return (one.leaf.window[3] - one.leaf.window[1]) / scale


def _place(opened: Opening, high: dict[float, float], one: Lying, scale: float, margin: float) -> Place:
    left, base = (x / scale for x in one.leaf.window[:2])
    axes, ends = one.axes, opened.points(one.ends) if one.replaces else one.ends
    start, long = float(ends[0] @ axes[0]), float((ends[1] - ends[0]) @ axes[0])
    room = _height(one, scale) + 2 * margin
    if one.replaces:
        low = float(ends[0] @ axes[1])
    else:
        at = _same(high, float(one.ends[0] @ opened.axes[1]))
        below, room = at + sum(gap for other, gap in high.items() if other < at), high[at]
        low = below if float(axes[1] @ opened.axes[1]) > 0 else -(below + room)
    s0, s1, t1 = start - margin, start + long + margin, low + room
    band = np.array([(s0, low), (s1, low), (s1, t1), (s0, t1)]) @ axes
    return Place(axes, np.array([start - left, low + margin - base]), band, one.replaces)


def words_beside(strips: Sequence[DisplayList], opened: Opening) -> list[Box]:
    """What the words of strips, in the order of their places, take up with a little air, as boxes on the plan's paper
    before it opens."""
    found: list[Box] = []
    for place, strip in zip(opened.places, strips, strict=True):
        laid = [_placed(i, place.axes.T, place.shift, turned=True) for i in strip.items]
        for box in (box_of(item) for item in laid if isinstance(item, Label)):
            flat = opened.unfolded(_corners(box))
            found.append((*(flat.min(axis=0) - AIR).tolist(), *(flat.max(axis=0) + AIR).tolist()))
    return found


def laid_in(plan: DisplayList, strips: Sequence[DisplayList], opened: Opening, pen: Pen) -> DisplayList:
    """The opened plan with its strips, in the order of their places, between break lines."""
    axes = opened.axes
    items = [_placed(item, axes.T) for item in opened.fold.items([_placed(i, axes) for i in plan.items])]
    laid = [
        [_placed(item, place.axes.T, place.shift, turned=True) for item in strip.items]
        for place, strip in zip(opened.places, strips, strict=True)
    ]
    hidden = shapely.union_all([opened.covered, *(_about(own) for own in laid)])
    items = without(items, hidden) + [_placed(item, axes.T) for item in opened.fold.lines(pen)]
    for place, own in zip(opened.places, laid, strict=True):
        items += (_band_lines(place.band, opened.fold.rule, pen) if place.covers else []) + own
    callouts = tuple(
        replace(c, boundary=opened.points(c.boundary), leader=opened.points(c.leader), bubble=_one(opened, c.bubble))
        for c in plan.callouts
    )
    links = tuple(link for link in (_link(opened, one) for one in plan.links) if not _hides(hidden, link.box))
    findings = plan.findings + tuple(dict.fromkeys(f for strip in strips for f in strip.findings))
    return DisplayList(tuple(items), opened.frame, links, findings, callouts, plan.images, plan.touched)


def _about(items: Sequence[Item]) -> shapely.Geometry:
    """What the words of a strip take up, with a little air."""
    boxes = np.array([box_of(item) for item in items if isinstance(item, Label)]).reshape(-1, 4)
    return shapely.union_all(shapely.box(*(boxes + np.array([-AIR, -AIR, AIR, AIR])).T))


def _hides(hidden: shapely.Geometry, box: Box) -> bool:
    return bool(shapely.intersects_xy(hidden, (box[0] + box[2]) / 2, (box[1] + box[3]) / 2))


def _band_lines(band: F64, rule: BreakRule, pen: Pen) -> list[Item]:
    """Break lines along the four sides of a band, turned into it."""
    lines = []
    plain = rule.model_copy(update={"overhang": 0.0})
    for a, b in pairwise((*band, band[0])):
        way = b - a
        long = float(np.hypot(*way))
        along = way / long
        lines.append(a + zigzag(0.0, long, plain) @ np.array([along, (-along[1], along[0])]))
    return [paths_of("break line", lines, pen)]


def _one(opening: Opening, spot: tuple[float, float]) -> tuple[float, float]:
    x, y = opening.points(np.array([spot]))[0].tolist()
    return x, y


def _link(opening: Opening, link: Link) -> Link:
    x0, y0, x1, y1 = link.box
    middle = np.array([[(x0 + x1) / 2, (y0 + y1) / 2]])
    dx, dy = (opening.points(middle) - middle)[0].tolist()
    return Link((x0 + dx, y0 + dy, x1 + dx, y1 + dy), link.target)


def _corners(box: Box) -> F64:
    left, base, right, top = box
    return np.array([(left, base), (right, base), (right, top), (left, top)])


def _placed(item: Item, axes: F64, shift: F64 | None = None, turned: bool = False) -> Item:
    """An item with its points in other axes (rows); `shift` is added before. Texts of what is turned are turned too."""
    by = np.zeros(2) if shift is None else shift
    if isinstance(item, Paths):
        return replace(item, points=(item.points + by) @ axes.T, pattern=None)
    x, y = ((np.array([item.x, item.y]) + by) @ axes.T).tolist()
    angle = item.angle + float(np.degrees(np.arctan2(axes[1, 0], axes[0, 0]))) if turned else item.angle
    return replace(item, x=x, y=y, angle=angle)
