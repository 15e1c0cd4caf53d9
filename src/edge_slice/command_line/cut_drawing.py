"""What a command has cut, before it is drawn."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.cut import AnyCut, CutResult
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.model import Model


@dataclass(frozen=True)
class CutDrawing:
    """A cut of a model as its style shows it; `callouts`: what is called out on it."""

    model: Model
    result: CutResult
    cut: AnyCut
    style: DrawingSpec
    standard: DrawingStandard
    callouts: tuple[CalloutMark, ...] = ()
