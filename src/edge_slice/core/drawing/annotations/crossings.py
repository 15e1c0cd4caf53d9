"""Which other cuts show in a drawing as markers, and where: the rule behind all markers."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, UprightCut
from edge_slice.core.cut.planes.leaves import Leaf, ground_line, leaves_of, legs_of, steps_of
from edge_slice.core.drawing.annotations.markers import Marker
from edge_slice.core.drawing.spec import PLAIN, MarkerKind, MarkerStyle
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Point = tuple[float, float]
FITTING = math.sin(math.radians(45.0))  # cuts that meet at less are too slanted for a marker to say which way it looks


@dataclass(frozen=True)
class Marked:
    """A cut that others may show: the drawing it belongs to, the texts of its head, and how its marker looks."""

    drawing: int
    upper: str
    lower: str
    cut: UprightCut
    style: MarkerStyle = PLAIN


class Crossings:
    """The upright cuts of a project, looked up for one drawing after the other."""

    def __init__(self, cuts: Sequence[Marked]) -> None:
        self._marked = cuts
        self._tree = shapely.STRtree([shapely.LineString(m.cut.line) for m in cuts])

    def on(self, model: Model, drawing: int, cut: AnyCut, shown: Sequence[MarkerKind]) -> tuple[Marker, ...]:
        """What a drawing shows of the kinds `shown`. A plan shows every cut whose height it lies in; an upright drawing
        the sections that cross it at 45° or more."""
        kinds = set(shown)
        if isinstance(cut, PlanCut):
            floor = next((s.elevation for s in model.storeys if s.guid == cut.storey), 0.0)
            return tuple(
                Marker(m.drawing, m.upper, m.lower, m.cut.line, m.cut.look, m.cut.kind, m.style, steps_of(m.cut))
                for m in self._marked
                if m.cut.kind in kinds and m.drawing != drawing and _reaches(m.cut, floor + cut.height)
            )
        if not isinstance(cut, UprightCut) or "section" not in kinds or not self._marked:
            return ()
        found: list[Marker] = []
        if not self._may_cross(drawing, cut):
            return ()
        for leaf in leaves_of(model, cut):
            for k in sorted(self._tree.query(ground_line(leaf), predicate="intersects").tolist()):
                marked = self._marked[k]
                if isinstance(marked.cut, SectionCut) and marked.drawing != drawing:
                    found += _crossed(leaf, marked, marked.cut)
        return tuple(found)

    def _may_cross(self, drawing: int, cut: UprightCut) -> bool:
        """Whether any other line meets that of a cut; told without working out its planes, as most meet none."""
        if cut.extents.left is not None or cut.extents.right is not None:
            return True
        near = self._tree.query(shapely.LineString(cut.line), predicate="intersects").tolist()
        return any(self._marked[k].drawing != drawing for k in near)


def _reaches(cut: UprightCut, height: float) -> bool:
    base, top = cut.extents.base, cut.extents.top
    return (base is None or base <= height) and (top is None or height <= top)


def _crossed(leaf: Leaf, marked: Marked, cut: SectionCut) -> list[Marker]:
    """A section as an upright drawing shows it: an upright line where they cross, its head at the top."""
    _, base, _, top = (x / 1000.0 for x in leaf.window)
    low = max(base, base if cut.extents.base is None else cut.extents.base)
    high = min(top, top if cut.extents.top is None else cut.extents.top)
    found: list[Marker] = []
    if high <= low:
        return found
    own = leaf.axes.u[:2]
    for a, b, _ in legs_of(cut):
        along = np.array(b) - np.array(a)
        along = along / float(np.hypot(*along))
        slant = float(own[0] * along[1] - own[1] * along[0])
        crossing = shapely.intersection(shapely.LineString([a, b]), ground_line(leaf))
        if abs(slant) < FITTING or crossing.is_empty:
            continue
        u = float((shapely.get_coordinates(crossing)[0] - leaf.axes.origin[:2]) @ own)
        sees = np.array([-along[1], along[0]])  # legs are given as drawn, looking to their left
        look = "right" if float(sees @ own) > 0 else "left"
        upright = marked.style.model_copy(update={"heads": "last"})
        found.append(
            Marker(marked.drawing, marked.upper, marked.lower, ((u, low), (u, high)), look, "section", upright)
        )
    return found
