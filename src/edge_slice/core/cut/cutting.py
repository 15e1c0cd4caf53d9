"""`cut_model`: the one way from a model and a cut to faces and lines."""

from __future__ import annotations

from edge_slice.core.cut.engine import cut_planes
from edge_slice.core.cut.opened.cutting import cut_opened
from edge_slice.core.cut.pieces import MaterialRules
from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.spec import AnyCut, PlaneCut
from edge_slice.core.model import Model


def cut_model(
    model: Model, spec: AnyCut, rules: MaterialRules | None = None, earlier: CutResult | None = None
) -> CutResult:
    """Cut the model and look.

    rules: what materials do to each other; without them, the earlier element wins and nothing is clear.
    earlier: a result for the same drawing, of this model or an older one; what did not change since is taken
    from it, and `CutResult.work` says what was not. The result is the same either way.
    Raises `ImpossibleCut`.
    """
    used = rules or MaterialRules.plain(len(model.materials))
    if isinstance(spec, PlaneCut) and spec.openings:
        return cut_opened(model, spec, used)
    return cut_planes(model, spec, used, earlier)
