"""What the parts of a model hold differently, and what of one goes through what another has; each with the drawing that
shows it best."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from edge_slice.app.sheets.check_documents import Severity
from edge_slice.app.sheets.section_advice import AROUND, on_paper
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.cut import ImpossibleCut
from edge_slice.core.cut.planes.leaves import Leaf, leaves_of, whole_window
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Box
from edge_slice.core.model import Model
from edge_slice.core.model.building import Twice
from edge_slice.core.model.parts.clashes import Clash, clashes
from edge_slice.core.recent import Recent

BEFORE = 2500.0  # mm before a cut that still belong to its drawing: what hangs over a plan
MOST_TOLD = 300  # of one kind, of one model
TWICE, THROUGH = "held twice, but otherwise", "services through what is built"
Spot = tuple[float, float, float]
_clashes: Recent[tuple[Clash, ...]] = Recent("services through what is built", 8)


class Apart(NamedTuple):
    """What is told, and where it is seen: a drawing, and a box on its paper."""

    severity: Severity
    rule: str
    says: str
    help: str
    which: str
    drawing: int | None
    box: Box | None


def apart(around: SheetsAround, off: set[str]) -> Iterator[Apart]:
    """All that parts of a model don't agree about; nothing in a model of one file."""
    model = around.source.model
    if not model.parts:
        return
    views = list(_views(around, model))
    for twice in [t for t in model.twice if t.differs][:MOST_TOLD] if TWICE not in off else ():
        where = _where(views, _middle(model, twice))
        which = f"{twice.drawn} {twice.left_out} {twice.on_plan} {twice.in_height} {twice.holes}"
        help_with = "One of both is to be put right where it is made; drawn is the part that leads for its kind."
        yield Apart("serious", TWICE, _said_twice(model, twice), help_with, which, *where)
    if THROUGH in off:
        return
    for clash in _clashes.get(around.source.geometry, lambda: clashes(model))[:MOST_TOLD]:
        says = (
            f"“{clash.service_name or 'services'}” of {model.parts[clash.part].name} goes through the"
            f" {clash.other_kind} “{clash.other_name}” of {model.parts[clash.other_part].name}, which has no opening"
            " for it."
        )
        help_with = "Lead it elsewhere, or have an opening made in the model of the other part."
        yield Apart("serious", THROUGH, says, help_with, f"{clash.service} {clash.other}", *_where(views, clash.at))


def _said_twice(model: Model, twice: Twice) -> str:
    drawn = model.elements[model.element_by_guid[twice.drawn]]
    ways = []
    if twice.on_plan:
        ways.append(f"goes {twice.on_plan * 1000:.0f} mm beyond it on plan")
    if twice.in_height:
        ways.append(f"goes {twice.in_height * 1000:.0f} mm beyond it in height")
    if twice.holes:
        ways.append(f"differs in openings of {twice.holes:.2f} m²")
    own, other = model.parts[drawn.part].name, model.parts[twice.part].name
    name = drawn.name or drawn.kind
    return f"“{name}” is in {own} and {other}. What {other} has of it {' and '.join(ways)}."


def _middle(model: Model, twice: Twice) -> Spot:
    if twice.hole_at is not None:
        return twice.hole_at
    x, y, z = model.boxes[model.element_by_guid[twice.drawn]].mean(axis=0).tolist()
    return x, y, z


class _View(NamedTuple):
    drawing: int
    leaf: Leaf
    fold: Fold
    scale: float


def _views(around: SheetsAround, model: Model) -> Iterator[_View]:
    """The plans and upright drawings in which something can be shown."""
    for number, row in around.drawings.items():
        if row.callout is not None:
            continue
        cut, style = around.keys.followed.cut_of(row), DrawingSpec.model_validate(row.style)
        try:
            leaves = leaves_of(model, cut)
        except ImpossibleCut:  # its own finding
            continue
        rule = around.source.standard(style.standard).breaks
        fold = Fold.of(whole_window(leaves), cut.extents, style.scale, rule)
        for leaf in leaves:
            if leaf.far > 0:
                yield _View(number, leaf, fold, style.scale)


def _where(views: Sequence[_View], spot: Spot) -> tuple[int | None, Box | None]:
    """The drawing whose cut comes nearest to a place of the model that lies in what it shows, and a box about it."""
    best: tuple[float, int, tuple[float, float]] | None = None
    for view in views:
        u, v, w = view.leaf.axes.to_drawing(np.array([spot]))[0].tolist()
        left, base, right, top = view.leaf.window
        if not (left <= u <= right and base <= v <= top and -BEFORE <= w <= view.leaf.far):
            continue
        at, away = on_paper(view.fold, np.array((u, v)) / view.scale), w if w >= 0 else -2.0 * w
        if at is not None and (best is None or away < best[0]):
            best = (away, view.drawing, at)
    if best is None:
        return None, None
    _, drawing, (x, y) = best
    return drawing, (x - AROUND, y - AROUND, x + AROUND, y + AROUND)
