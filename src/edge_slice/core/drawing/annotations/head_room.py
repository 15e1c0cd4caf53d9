"""Where heads of markers stand clear of what is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult
from edge_slice.core.drawing.annotations.clear_places import Ink, faces_on_paper
from edge_slice.core.drawing.annotations.grid import grid_lines
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Flags = NDArray[np.bool_]
MARGIN = 60.0  # mm of paper around a drawing in which heads may stand
SQUARE = 1.0  # mm
NAMES_OF_GRID = ("grid bubble", "grid name")


@dataclass(frozen=True)
class HeadRoom:
    """Of a drawing in paper mm: what a head must not stand on where it can be helped (cut faces, bubbles of the grid),
    and with that all lines, which it avoids where it need not go far for it."""

    solid: Ink
    all: Ink

    def with_boxes(self, boxes: Sequence[Box]) -> HeadRoom:
        """With places of texts, paper mm, taken too."""
        shapes = [shapely.box(*box) for box in boxes]
        return HeadRoom(self.solid.with_shapes(shapes), self.all.with_shapes(shapes)) if shapes else self

    @staticmethod
    def of(model: Model, result: CutResult, cut: AnyCut, spec: DrawingSpec, standard: DrawingStandard) -> HeadRoom:
        """Of a cut by its model, before anything is touched up: so it is the same for all who place heads."""
        draft = Draft(model, result, cut, spec, standard, pens_of(standard, spec.scale))
        left, base, right, top = draft.frame
        around = (left - MARGIN, base - MARGIN, right + MARGIN, top + MARGIN)
        grid = [item for item in grid_lines(draft) if item.role in NAMES_OF_GRID] if spec.grid else []
        faces = faces_on_paper(result.faces, lambda p: p / spec.scale)
        solid = Ink.of(grid, around, SQUARE).with_shapes(faces)
        return HeadRoom(solid, solid.with_segments(result.lines.points / spec.scale))
