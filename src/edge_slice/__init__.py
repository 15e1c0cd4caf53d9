"""Edge Slice cuts drawings from a building's model. As a library:

>>> import edge_slice
>>> hut = edge_slice.model_of([("west wall", "Brick", *edge_slice.box((0, 0, 0), (0.3, 5, 3)))])
>>> section = edge_slice.SectionCut(line=((-1, 2), (2, 2)), look="left", depth=3)
>>> drawing = edge_slice.draw(hut, section, scale=20)
>>> drawing.file("svg")[:5]
b'<svg '

A notebook shows a drawing as it is; `drawing.save("section.pdf")` writes it. docs/library.md has more."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from edge_slice.core.cut import (
        CutResult,
        ElevationCut,
        Extents,
        ImpossibleCut,
        Opening,
        Perspective,
        PlanCut,
        PlaneCut,
        SectionCut,
    )
    from edge_slice.core.drawing import DrawingSpec, DrawingStandard, default_standard, shipped_standard
    from edge_slice.core.model import Model, UnreadableModel
    from edge_slice.core.render.outputs import OUTPUTS, TooManyPixels
    from edge_slice.library import (
        Drawing,
        box,
        cut_as_shown,
        draw,
        elevations,
        model_of,
        plans,
        read,
        view_of,
        wall_section,
    )

__all__ = [
    "OUTPUTS", "CutResult", "Drawing", "DrawingSpec", "DrawingStandard", "ElevationCut", "Extents", "ImpossibleCut",
    "Model", "Opening", "Perspective", "PlanCut", "PlaneCut", "SectionCut", "TooManyPixels", "UnreadableModel", "box",
    "cut_as_shown", "default_standard", "draw", "elevations", "model_of", "plans", "read", "shipped_standard",
    "view_of", "wall_section",
]  # fmt: skip
_HOMES = ("core.model", "core.cut", "core.drawing", "core.render.outputs", "library")  # each loads those before it


def __getattr__(name: str) -> Any:
    """What is named, from where it lives: nothing is loaded that nobody asks for, as commands are short."""
    if name in __all__:
        for home in _HOMES:
            found = vars(importlib.import_module(f"edge_slice.{home}"))
            if name in found:
                return found[name]
    raise AttributeError(f"edge_slice has no {name}")


def __dir__() -> list[str]:
    return sorted(__all__)
