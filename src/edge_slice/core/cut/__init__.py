"""Cuts a model: from `(Model, CutSpec)` to cut faces and lines. No pens, no paper."""

from edge_slice.core.cut.engine import cut_model
from edge_slice.core.cut.result import CutFace, CutLines, CutResult, Role
from edge_slice.core.cut.spec import Axes, CutSpec, Extents, ImpossibleCut, PlanCut, SectionCut, axes_of

__all__ = [
    "Axes",
    "CutFace",
    "CutLines",
    "CutResult",
    "CutSpec",
    "Extents",
    "ImpossibleCut",
    "PlanCut",
    "Role",
    "SectionCut",
    "axes_of",
    "cut_model",
]
