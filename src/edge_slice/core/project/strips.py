"""Strips of sections that are laid into plans."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.cut import AnyCut, ImpossibleCut, PlanCut, SectionCut, leaves_of
from edge_slice.core.cut.planes.leaves import whole_window
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.insets import Opening, opening, strip_cut, strip_style
from edge_slice.core.drawing.standard import BreakRule
from edge_slice.core.model import Model
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.source import Source


@dataclass(frozen=True)
class Strip:
    """What is laid into a plan: the cut of the strip and its style."""

    cut: SectionCut
    style: DrawingSpec


def strip_in(source: Source, followed: Followed, cut: AnyCut, style: DrawingSpec) -> Strip | None:
    """The strip of a plan; None where it has none. Raises `ImpossibleCut` where there is nothing to lay in."""
    if style.strip is None or not isinstance(cut, PlanCut):
        return None
    row = source.drawing(style.strip.drawing)
    if row is None:
        raise ImpossibleCut("The section of this plan's strip is not there any more; choose another one.")
    section = followed.cut_of(row)
    if not isinstance(section, SectionCut):
        raise ImpossibleCut("Only a section can be laid into a plan as a strip.")
    laid = style.strip
    shown_as = DrawingSpec.model_validate(row.style)
    return Strip(strip_cut(section, laid), strip_style(shown_as, style))


def opened(model: Model, cut: AnyCut, strip: Strip, rule: BreakRule) -> Opening:
    """How a plan opens for its strip. Raises `ImpossibleCut` where the strip lies beside it."""
    assert isinstance(cut, PlanCut)
    left, base, right, top = (x / strip.style.scale for x in whole_window(leaves_of(model, cut)))
    (leaf,) = leaves_of(model, strip.cut)
    return opening(cut, (left, base, right, top), leaf, strip.style.scale, rule)
