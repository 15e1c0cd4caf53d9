"""All conventions of a plan, as the standard and the drawing have them."""

from __future__ import annotations

from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.drawing.conventions.doors import doors
from edge_slice.core.drawing.conventions.openings import heads, shafts, voids, windows
from edge_slice.core.drawing.conventions.sheet import Drawn, PlanView
from edge_slice.core.drawing.conventions.stairs import stairs
from edge_slice.core.drawing.display import Pen
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.model import Model

RULES = {"doors": doors, "stairs": stairs, "windows": windows, "heads": heads, "shafts": shafts, "voids": voids}


def plan_conventions(
    model: Model, result: CutResult, cut: AnyCut, spec: DrawingSpec, standard: DrawingStandard, pens: dict[str, Pen]
) -> Drawn:
    """What the conventions add to a plan and take from it; nothing for other kinds of drawing, and ceilings."""
    drawn = Drawn.nothing(result)
    if not isinstance(cut, PlanCut) or cut.look == "up":
        return drawn
    floor = next(s.elevation for s in model.storeys if s.guid == cut.storey)
    view = PlanView(model, result, spec.scale, standard, pens, floor, spec.written)
    for name, rule in RULES.items():
        own = getattr(spec.conventions, name)
        if getattr(standard.conventions, name) if own is None else own:
            rule(view, drawn)
    return drawn
