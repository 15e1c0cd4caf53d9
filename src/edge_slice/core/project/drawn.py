"""Drawings composed with what other drawings of their project add to them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import composed, with_annotations
from edge_slice.core.annotating.sets import layer_notes
from edge_slice.core.cut import CutResult, ImpossibleCut
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.drawing import DisplayList
from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.annotations.strip_places import least_covered, spans_of
from edge_slice.core.drawing.annotations.surroundings import ALONE, Surroundings
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import laid_in, words_beside
from edge_slice.core.drawing.compose import Linework, lettered, linework_of
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.paper import check_paper
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.memory import bytes_of
from edge_slice.core.model import Model
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.shown import Shown, cut_key, cut_of, key_of, shown_as
from edge_slice.core.project.source import Source
from edge_slice.core.project.strips import Strip, Strips, laid_out, strips_in
from edge_slice.core.recent import Recent

_linework: Recent[Linework] = Recent(
    "linework of drawings", 8, lambda one: bytes_of(one, (Model, CutResult, DrawingStandard))
)


def composed_view(shown: Shown, around: Surroundings = ALONE) -> tuple[CutResult, DisplayList]:
    """The cut of a drawing, and the drawing in its surroundings. Raises `Refused` where it can't be cut or would be
    too large on paper."""
    try:
        check_paper(whole_window(leaves_of(shown.model, shown.cut)), shown.style.scale)
    except ImpossibleCut as error:
        raise Refused(str(error), "style.scale") from error
    result = cut_of(shown)
    if shown.reach is not None and result.reach is not None:
        result = replace(result, reach=shown.reach * 1000.0)
    return result, lettered(_linework_of(shown, result, around), around)


def _linework_of(shown: Shown, result: CutResult, around: Surroundings) -> Linework:
    """The linework of a drawing; it stays what it is while annotations, markers and callouts come and go."""

    def make() -> Linework:
        return linework_of(shown.model, result, shown.cut, shown.style, shown.standard, around.touch_ups)

    if shown.in_hand:
        return make()
    said = [(source, touch_up.model_dump_json()) for source, touch_up in around.touch_ups]
    key = key_of("linework", cut_key(shown), str(result.reach), shown.style.model_dump_json(),
                 shown.standard.model_dump_json(), repr(said))  # fmt: skip
    return _linework.get(key, make)


def strips_of(source: Source, followed: Followed, shown: Shown) -> Strips:
    """The strips of a plan, and how it opens for them."""
    wanted = strips_in(source, followed, shown.cut, shown.style)
    return laid_out(shown.model, shown.cut, wanted, shown.style.scale, shown.standard.breaks)


@dataclass(frozen=True)
class DrawnStrips:
    """The strips of a plan as they lie in it, and each as it is drawn."""

    strips: Strips
    drawn: tuple[DisplayList, ...]

    @property
    def kept_clear(self) -> tuple[Box, ...]:
        """What the rest of the plan keeps clear of: bands that are covered, and words that stand in or beside strips;
        mm on its paper before it opens."""
        opened = self.strips.opening
        return () if opened is None else (*self.strips.kept_clear, *words_beside(self.drawn, opened))


def drawn_strips(source: Source, followed: Followed, shown: Shown) -> DrawnStrips:
    """The strips of a plan; none, with what is wrong, where one can't be cut."""
    strips = strips_of(source, followed, shown)
    try:
        return DrawnStrips(strips, tuple(_strip(source, strip) for strip in strips.strips))
    except Refused as error:
        return DrawnStrips(Strips((), None, (*strips.findings, str(error))), ())


def with_strips(shown: Shown, display: DisplayList, laid: DrawnStrips) -> DisplayList:
    """A plan with its strips laid in, and what is wrong with those that can't be."""
    if laid.strips.opening is not None:
        pen = pens_of(shown.standard, shown.style.scale)["frame fine"]
        display = laid_in(display, laid.drawn, laid.strips.opening, pen)
    return replace(display, findings=(*display.findings, *laid.strips.findings))


def least_covered_by(source: Source, followed: Followed, shown: Shown, number: int, long: float) -> tuple[float, float]:
    """From where to where, metres along its section, the strip of this `number` (from 0 on) of a plan covers least of
    it, where it is `long` metres. Raises `Refused` where it can't be laid in."""
    plan = replace(shown, style=shown.style.model_copy(update={"strips": ()}))
    wanted = shown.style.strips[number].model_copy(update={"start": None, "end": None, "replaces": True})
    alone = replace(shown, style=shown.style.model_copy(update={"strips": (wanted,)}))
    found = strips_of(source, followed, alone)
    if not found.strips:
        raise Refused(found.findings[0] if found.findings else "Only a plan has strips.", "number")
    (strip,) = found.strips
    others = [s for k, s in enumerate(shown.style.strips) if k != number and s.replaces]
    beside = replace(shown, style=shown.style.model_copy(update={"strips": tuple(others)}))
    result, display = composed_view(plan)
    fold = Fold.of(result.extents, plan.cut.extents, plan.style.scale, plan.standard.breaks)
    ink = Ink.of(list(display.items), fold.frame)
    for box in strips_of(source, followed, beside).kept_clear:
        ink.enter(box)
    section = shown_as(source, (strip.cut, ""), strip.style)
    (leaf,) = leaves_of(section.model, section.cut)
    try:
        start = least_covered(ink, fold, leaf, spans_of(cut_of(section).faces), plan.style.scale, long * 1000.0)
    except ImpossibleCut as error:
        raise Refused(str(error), "number") from error
    start = round(start / 1000.0, 2)
    return start, round(min(start + long, leaf.window[2] / 1000.0), 2)


def _strip(source: Source, strip: Strip) -> DisplayList:
    """A strip as it is drawn, with notes of the layers that it cuts. Raises `Refused` where it can't be cut."""
    shown = shown_as(source, (strip.cut, ""), strip.style)
    result, display = composed_view(shown)
    if not strip.wanted.layer_notes:
        return display
    board = Board.of(shown.model, result, shown.cut, shown.style, shown.standard)
    notes = layer_notes(board, display.items, only="left").annotations  # levels stand at the right
    return with_annotations(display, [composed(board, note, "") for note in notes])
