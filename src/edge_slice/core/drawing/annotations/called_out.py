"""Which callouts show in a drawing: those of it, and those that enlarge the same place, seen in the same direction."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.planes.leaves import Leaf, leaf_at, leaves_of, whole_window
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.rules.standard import CalloutRule
from edge_slice.core.drawing.spec import FREE, CalloutStyle
from edge_slice.core.model import Model

SHOWN = 0.5  # share of a region that must lie in a drawing's extents
_Plane = tuple[float, ...]


@dataclass(frozen=True)
class CalledOut:
    """A callout that a project has. `parent` is the drawing in which its region lies: `cut` is that drawing's, `ring`
    (n, 2) the region in its axes, metres. `target` is the drawing that enlarges it, at `scale`."""

    source: str
    target: int
    parent: int
    upper: str
    lower: str
    cut: AnyCut
    ring: tuple[tuple[float, float], ...]
    shape: Literal["rectangle", "polygon", "circle"]
    scale: float
    style: CalloutStyle = FREE


class CalledOuts:
    """The callouts of a project by the plane that they lie in, looked up for one drawing after the other."""

    def __init__(self, model: Model, called: Sequence[CalledOut]) -> None:
        self._by_plane: dict[_Plane, list[tuple[CalledOut, Leaf]]] = {}
        for one in called:
            leaf = _leaf_of(model, one)
            self._by_plane.setdefault(_plane(leaf), []).append((one, leaf))

    def on(self, model: Model, drawing: int, cut: AnyCut, scale: float, rule: CalloutRule) -> tuple[CalloutMark, ...]:
        """The markers that a drawing of the model shows: of callouts of its own, and of others where it shows the
        place, in the same plane and direction, at a smaller scale than theirs, but not too small."""
        if not self._by_plane:
            return ()
        leaves = leaves_of(model, cut)
        window = whole_window(leaves)
        found: dict[str, CalloutMark] = {}
        for leaf in leaves:
            for one, own in self._by_plane.get(_plane(leaf), ()):
                mine = one.parent == drawing
                most = one.style.shown_up_to or rule.shown_up_to
                if one.target == drawing or scale > most or one.source in found:
                    continue
                if not mine and not one.scale * 1.001 < scale <= one.scale * rule.reach * 1.001:
                    continue
                ring = _moved(one.ring, own, leaf)
                if mine or _shown(ring, window):
                    style = one.style if mine else one.style.model_copy(update={"bubble": None})
                    found[one.source] = CalloutMark(
                        one.source, one.target, one.upper, one.lower, ring, one.shape, style
                    )
        return tuple(found[key] for key in sorted(found, key=_order))


def _order(source: str) -> tuple[str, int]:
    """Callouts in the order in which they were made: "drawing:9" before "drawing:10"."""
    kind, _, number = source.partition(":")
    return kind, int(number)


def _leaf_of(model: Model, one: CalledOut) -> Leaf:
    return leaf_at(leaves_of(model, one.cut), float(np.array(one.ring)[:, 0].mean()) * 1000.0)


def _plane(leaf: Leaf) -> _Plane:
    """The same for leaves in one plane that look the same way with the same side up."""
    axes = leaf.axes
    off = float(axes.origin @ axes.w)
    numbers = (*axes.u, *axes.w, off)
    return tuple(round(float(x), 3) + 0.0 for x in numbers)


def _moved(ring: tuple[tuple[float, float], ...], own: Leaf, other: Leaf) -> tuple[tuple[float, float], ...]:
    """A ring in the axes of another leaf of the same plane."""
    away = own.axes.origin - other.axes.origin
    du, dv = float(away @ other.axes.u), float(away @ other.axes.v)
    return tuple((u + du, v + dv) for u, v in ring)


def _shown(ring: tuple[tuple[float, float], ...], window: tuple[float, float, float, float]) -> bool:
    region = shapely.Polygon(ring)
    inside = shapely.intersection(region, shapely.box(*(x / 1000.0 for x in window)))
    return bool(inside.area >= SHOWN * region.area)
