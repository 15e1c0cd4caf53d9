"""Composes a drawing: from `(CutResult, DrawingSpec, DrawingStandard)` to a `DisplayList` in paper millimetres.
The only place where graphic rules live."""

from edge_slice.core.drawing.annotations.markers import Marker
from edge_slice.core.drawing.annotations.surroundings import Surroundings
from edge_slice.core.drawing.compose import compose_drawing
from edge_slice.core.drawing.display import DisplayList, Label, Link, Paths, Pen
from edge_slice.core.drawing.rules.standard import SHIPPED, DrawingStandard, default_standard, shipped_standard
from edge_slice.core.drawing.spec import DrawingSpec, MaterialException

__all__ = [
    "SHIPPED",
    "DisplayList",
    "DrawingSpec",
    "DrawingStandard",
    "Label",
    "Link",
    "Marker",
    "MaterialException",
    "Paths",
    "Pen",
    "Surroundings",
    "compose_drawing",
    "default_standard",
    "shipped_standard",
]
