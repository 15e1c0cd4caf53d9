"""Cuts a model: from `(Model, CutSpec)` to cut faces and lines. No pens, no paper."""

from edge_slice.core.cut.cutting import cut_model
from edge_slice.core.cut.pieces import CutFace, CutLines, MaterialRules, Role, Strip
from edge_slice.core.cut.planes.leaves import Axes, Leaf, Lens, leaves_of
from edge_slice.core.cut.result import CutResult, Work
from edge_slice.core.cut.spec import (
    AnyCut,
    BlankCut,
    CutSpec,
    ElevationCut,
    Extents,
    ImpossibleCut,
    Opening,
    Perspective,
    PlanCut,
    PlaneCut,
    SectionCut,
    UprightCut,
)

__all__ = [
    "AnyCut",
    "Axes",
    "BlankCut",
    "CutFace",
    "CutLines",
    "CutResult",
    "CutSpec",
    "ElevationCut",
    "Extents",
    "ImpossibleCut",
    "Leaf",
    "Lens",
    "MaterialRules",
    "Opening",
    "Perspective",
    "PlanCut",
    "PlaneCut",
    "Role",
    "SectionCut",
    "Strip",
    "UprightCut",
    "Work",
    "cut_model",
    "leaves_of",
]
