"""All conventions of a plan, as the standard and the drawing have them."""

from __future__ import annotations

from edge_slice.core.cut import PlanCut
from edge_slice.core.drawing.conventions.doors import doors
from edge_slice.core.drawing.conventions.openings import heads, shafts, voids, windows
from edge_slice.core.drawing.conventions.services import services
from edge_slice.core.drawing.conventions.sheet import Drawn, PlanView
from edge_slice.core.drawing.conventions.stairs import stairs
from edge_slice.core.drawing.draft import Draft

RULES = {
    "doors": doors, "stairs": stairs, "windows": windows, "heads": heads, "shafts": shafts, "voids": voids,
    "services": services,
}  # fmt: skip
ON_CEILINGS = ("services",)


def plan_conventions(draft: Draft) -> Drawn:
    """What the conventions add to a plan and take from it; nothing for other kinds of drawing, and for ceilings only
    `ON_CEILINGS`."""
    cut, spec, standard = draft.cut, draft.spec, draft.standard
    drawn = Drawn.nothing(draft.result)
    if not isinstance(cut, PlanCut):
        return drawn
    floor = next(s.elevation for s in draft.model.storeys if s.guid == cut.storey)
    view = PlanView(draft.model, draft.result, spec.scale, standard, draft.pens, floor, spec.written,
                    spec.conventions.services is True)  # fmt: skip
    for name, rule in RULES.items():
        if cut.look == "up" and name not in ON_CEILINGS:
            continue
        own = getattr(spec.conventions, name)
        if getattr(standard.conventions, name) if own is None else own:
            rule(view, drawn)
    return drawn
