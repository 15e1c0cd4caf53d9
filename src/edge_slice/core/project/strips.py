"""Strips of sections that are laid into plans."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.cut import AnyCut, ImpossibleCut, PlanCut, SectionCut, leaves_of
from edge_slice.core.cut.planes.leaves import whole_window
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import (
    Lying,
    Opening,
    broken_like,
    can_join,
    lying,
    opening,
    strip_cut,
    strip_style,
)
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.rules.standard import BreakRule
from edge_slice.core.drawing.spec import InsetStrip
from edge_slice.core.model import Model
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.source import Source

GONE = "The section of this plan's strip is not there any more; choose another one."


@dataclass(frozen=True)
class Strip:
    """What is laid into a plan: the cut of the strip, its style, what is wanted of it; the letter of its section."""

    cut: SectionCut
    style: DrawingSpec
    wanted: InsetStrip
    letter: str


@dataclass(frozen=True)
class Strips:
    """The strips that can be laid into a plan, as they are cut there; how it opens for them (None: there are none);
    and what is wrong with the others."""

    strips: tuple[Strip, ...]
    opening: Opening | None
    findings: tuple[str, ...]

    @property
    def kept_clear(self) -> tuple[Box, ...]:
        """The bands that they cover, mm on the plan's paper before it opens."""
        return () if self.opening is None else tuple(self.opening.kept_clear())


def strips_in(source: Source, followed: Followed, cut: AnyCut, style: DrawingSpec) -> list[Strip | str]:
    """The strips that a plan wants, or what is wrong with one."""
    if not isinstance(cut, PlanCut):
        return []
    return [_strip(source, followed, style, wanted) for wanted in style.strips]


def _strip(source: Source, followed: Followed, style: DrawingSpec, wanted: InsetStrip) -> Strip | str:
    row = source.drawing(wanted.drawing)
    if row is None:
        return GONE
    section = followed.cut_of(row)
    if not isinstance(section, SectionCut):
        return "Only a section can be laid into a plan as a strip."
    try:
        own = strip_cut(section, wanted)
    except ImpossibleCut as error:
        return str(error)
    return Strip(own, strip_style(DrawingSpec.model_validate(row.style), style, wanted), wanted, row.letter)


def laid_out(model: Model, cut: AnyCut, wanted: list[Strip | str], scale: float, rule: BreakRule) -> Strips:
    """How strips lie in their plan, each with the plan's breaks; one that can't be laid in is said, and left out."""
    if not wanted:
        return Strips((), None, ())
    assert isinstance(cut, PlanCut)
    fold = Fold.of(whole_window(leaves_of(model, cut)), cut.extents, scale, rule)
    found: list[Strip] = []
    lain: list[Lying] = []
    findings: list[str] = []
    for strip in wanted:
        if isinstance(strip, str):
            findings.append(strip)
            continue
        try:
            (leaf,) = leaves_of(model, strip.cut)
            extents = broken_like(fold, leaf, scale)
            own = strip.cut.model_copy(update={"extents": extents})
            (leaf,) = leaves_of(model, own)
            one = lying(cut, fold, leaf, strip.wanted.replaces, scale)
            can_join(lain, one, f"section {strip.letter}")
        except ImpossibleCut as error:
            findings.append(str(error))
            continue
        lain.append(one)
        found.append(Strip(own, strip.style, strip.wanted, strip.letter))
    opened = opening(fold, lain, scale, rule) if lain else None
    return Strips(tuple(found), opened, tuple(dict.fromkeys(findings)))
