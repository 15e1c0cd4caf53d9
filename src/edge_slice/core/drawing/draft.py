"""A drawing that is being made."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.cut import AnyCut, CutResult
from edge_slice.core.drawing.display import Box, Pen
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.model import Model


@dataclass(frozen=True)
class Draft:
    """What all steps of composing look at: the model, its cut (faces and lines, mm), how it is shown, by which standard
    and with which pens."""

    model: Model
    result: CutResult
    cut: AnyCut
    spec: DrawingSpec
    standard: DrawingStandard
    pens: dict[str, Pen]

    @property
    def scale(self) -> float:
        return self.spec.scale

    @property
    def frame(self) -> Box:
        """Its extents: left, base, right, top; mm on paper before it is broken."""
        left, base, right, top = (x / self.spec.scale for x in self.result.extents)
        return left, base, right, top
