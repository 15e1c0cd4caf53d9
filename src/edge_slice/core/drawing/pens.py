"""The pens of a drawing, from its standard and scale."""

from __future__ import annotations

from edge_slice.core.drawing.display import Pen
from edge_slice.core.drawing.rules.standard import DrawingStandard


def pens_of(standard: DrawingStandard, scale: float) -> dict[str, Pen]:
    """The pens in use at a scale, by role; dashes in mm."""
    k = standard.scale_class(scale)
    return {
        role: Pen(
            rule.width[k],
            rule.colour or (standard.hatch_ink if role in ("hatch", "surface pattern") else standard.ink),
            tuple(d * rule.width[k] for d in rule.dash),
        )
        for role, rule in standard.pens.items()
    }
