"""Drawings composed with what other drawings of their project add to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from edge_slice.core.cut import CutResult, ImpossibleCut
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.drawing import DisplayList, Marker, compose_drawing
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.insets import Opening, laid_in
from edge_slice.core.drawing.paper import check_paper
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.shown import Shown, cut_of, shown_as
from edge_slice.core.project.source import Source, TouchUps
from edge_slice.core.project.strips import opened, strip_in


def composed_view(
    shown: Shown,
    markers: tuple[Marker, ...],
    callouts: tuple[CalloutMark, ...],
    with_markers: bool,
    touch_ups: TouchUps = (),
    standing: Sequence[Box] = (),
) -> tuple[CutResult, DisplayList]:
    """The cut of a drawing, and the drawing, clear of what annotations take up (`standing`, mm on paper).
    Raises `Refused` where it can't be cut or would be too large on paper."""
    try:
        check_paper(whole_window(leaves_of(shown.model, shown.cut)), shown.style.scale)
    except ImpossibleCut as error:
        raise Refused(str(error), "style.scale") from error
    result = cut_of(shown)
    display = compose_drawing(
        shown.model, result, shown.cut, shown.style, shown.standard, markers, with_markers, callouts, touch_ups,
        standing,
    )  # fmt: skip
    return result, display


def with_strip(
    source: Source, followed: Followed, shown: Shown, display: DisplayList
) -> tuple[DisplayList, Opening | None]:
    """A plan with the strip of a section laid in, where it has one; where that can't be, with what is wrong."""
    try:
        strip = strip_in(source, followed, shown.cut, shown.style)
        if strip is None:
            return display, None
        opening = opened(shown.model, shown.cut, strip, shown.standard.breaks)
        own = shown_as(source, (strip.cut, ""), strip.style)
        drawn = composed_view(own, (), (), with_markers=False)[1]
    except (ImpossibleCut, Refused) as error:
        return replace(display, findings=(*display.findings, str(error))), None
    pen = pens_of(shown.standard, shown.style.scale)["frame fine"]
    return laid_in(display, drawn, opening, pen), opening


def opening_in(source: Source, followed: Followed, shown: Shown) -> Opening | None:
    """How a plan is broken open for the strip of a section, if it is."""
    try:
        strip = strip_in(source, followed, shown.cut, shown.style)
        return None if strip is None else opened(shown.model, shown.cut, strip, shown.standard.breaks)
    except (ImpossibleCut, Refused):
        return None  # it is said where the plan is drawn
