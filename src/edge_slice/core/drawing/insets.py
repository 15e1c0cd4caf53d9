"""A strip of a section laid into a plan: the plan is broken open along the cutting line, and the strip stands in the
gap, in line with what it cuts."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import ImpossibleCut, PlanCut, SectionCut
from edge_slice.core.cut.planes.leaves import Leaf
from edge_slice.core.cut.spec import Extents
from edge_slice.core.drawing.display import Box, DisplayList, Item, Link, Paths, Pen
from edge_slice.core.drawing.folds import FAR, Fold, Part
from edge_slice.core.drawing.spec import DrawingSpec, InsetStrip
from edge_slice.core.drawing.standard import BreakRule

F64 = NDArray[np.float64]
AIR = 1.0  # mm between the break lines and the strip


@dataclass(frozen=True)
class Opening:
    """How a plan is broken open: its paper in axes along the strip and up in it (rows), folded there; how far the strip
    is moved in these axes; and the frame of the opened plan."""

    axes: F64
    fold: Fold
    shift: F64
    frame: Box

    def points(self, points: F64) -> F64:
        """Points (n, 2) of the plan where they stand now."""
        found: F64 = self.fold.points(points @ self.axes.T) @ self.axes
        return found

    def unfolded(self, points: F64) -> F64:
        """Where points of the opened plan (n, 2) lay in the whole one."""
        found: F64 = self.fold.unfolded(points @ self.axes.T) @ self.axes
        return found


def strip_cut(section: SectionCut, strip: InsetStrip) -> SectionCut:
    """What of a section is laid in. Raises `ImpossibleCut` for one that is no single straight cut."""
    if len(section.line) > 2 or section.perspective is not None:
        raise ImpossibleCut("Only a straight section without perspective can be laid into a plan.")
    extents = Extents(left=strip.start, right=strip.end, base=strip.base, top=strip.top)
    return section.model_copy(update={"extents": extents, "shared_extents": ""})


def strip_style(section: DrawingSpec, plan: DrawingSpec) -> DrawingSpec:
    """How it is shown: as its section, at the plan's scale, without what stands at its edge."""
    plain = {"levels": False, "grid": False, "frame": False, "callouts": False, "section_rooms": False, "strip": None}
    return section.model_copy(update={**plain, "scale": plan.scale})


def opening(cut: PlanCut, frame: Box, leaf: Leaf, scale: float, rule: BreakRule) -> Opening:
    """How a plan with a frame (mm on paper) opens for a strip in the plane of `leaf`, as high and long as its window.
    Raises `ImpossibleCut` where the strip lies beside the plan."""
    if cut.look == "up":
        raise ImpossibleCut("A ceiling plan is seen from below; lay the strip into a plan.")
    if cut.extents.breaks:
        raise ImpossibleCut("This plan is broken already; close its breaks to lay a strip into it.")
    along, up = leaf.axes.u[:2], leaf.axes.w[:2]
    axes = np.array([along, up])
    left, base, right, top = (x / scale for x in leaf.window)
    foot = leaf.axes.origin[:2] * 1000.0 / scale
    ends = foot + np.array([[left], [right]]) * along
    if not shapely.LineString(ends).intersects(shapely.box(*frame)):
        raise ImpossibleCut("The strip lies outside the plan; choose a section that crosses it, or move the strip.")
    margin = rule.height + AIR
    at, gap = float(foot @ up), top - base + 2 * margin
    corners = _corners(frame) @ axes.T
    (s0, t0), (s1, t1) = corners.min(axis=0).tolist(), corners.max(axis=0).tolist()
    fold = Fold((Part(-FAR, FAR, 0.0),), (Part(-FAR, at, 0.0), Part(at, FAR, gap)), (s0, t0, s1, t1 + gap), rule)
    moved = fold.points(corners) @ axes
    box = (*moved.min(axis=0).tolist(), *moved.max(axis=0).tolist())
    return Opening(axes, fold, np.array([float(foot @ along), at + margin - base]), box)


def laid_in(plan: DisplayList, strip: DisplayList, opened: Opening, pen: Pen) -> DisplayList:
    """The opened plan with the strip in it, between break lines."""
    axes = opened.axes
    items = [_placed(item, axes.T) for item in opened.fold.items([_placed(i, axes) for i in plan.items])]
    items += [_placed(item, axes.T) for item in opened.fold.lines(pen)]
    items += [_placed(item, axes.T, opened.shift, turned=True) for item in strip.items]
    callouts = tuple(
        replace(c, boundary=opened.points(c.boundary), leader=opened.points(c.leader), bubble=_one(opened, c.bubble))
        for c in plan.callouts
    )
    links = tuple(_link(opened, link) for link in plan.links)
    return DisplayList(
        tuple(items), opened.frame, links, plan.findings + strip.findings, callouts, plan.images, plan.touched
    )


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
