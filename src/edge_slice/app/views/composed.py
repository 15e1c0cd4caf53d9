"""Composed drawings, each stage cached by what it depends on."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from contextlib import ExitStack
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from sqlmodel import Session

from edge_slice.app.drawings.drawing_rows import drawing_row
from edge_slice.app.models.corrections import said_of_model
from edge_slice.app.models.in_memory import IN_THE_FILE, corrections_of, numbered_revision
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.views.in_hand import keys_in_hand
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.cut import AnyCut, CutResult, PlanCut
from edge_slice.core.cut.placing.report import CutReport, cut_report
from edge_slice.core.cut.planes.leaves import Axes
from edge_slice.core.drawing import DrawingSpec, Marker
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.annotations.surroundings import Surroundings
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.breaks.insets import Opening
from edge_slice.core.drawing.display import Box
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.documents import Correction
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.drawn import composed_view, drawn_strips, with_strips
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.moving import moving
from edge_slice.core.project.shown import Shown, cut_of, saved, shown_as
from edge_slice.core.recent import Recent
from edge_slice.core.render.cut_json import cut_document
from edge_slice.core.render.screen import to_screen
from edge_slice.core.stages import stage
from edge_slice.store.database import reading
from edge_slice.store.kept import kept
from edge_slice.store.tables import Drawing, Project, Revision

KEPT_SCREENS = 24
_screens: Recent[bytes] = Recent("screens", KEPT_SCREENS)


@dataclass(frozen=True)
class ScreenView:
    """A drawing in the compact form, and its name."""

    key: str  # none of what nobody asks for again
    data: bytes


def screen_view(
    project_id: int, cut: AnyCut, style: DrawingSpec, drawing_id: int | None = None, in_hand: bool = False
) -> ScreenView:
    """A drawing that is not saved (yet), for the screen; `drawing_id`: the one of which it is a change. Markers are not
    in it, the screen has live ones; but their places are free. `in_hand`: only what a hand that moves it must see at
    once; that is gone in a moment, and not kept."""
    if in_hand:
        return ScreenView("", _in_hand(project_id, cut, style, drawing_id))
    with reading() as session:
        with stage("rows"):
            keys = ViewKeys(session, project_id)
            found = keys.followed.of(cut)
            key = keys.of(found, style, drawing_id)
        return ScreenView(
            key, _screens.get(key, lambda: _screen(keys, drawing_id, shown_as(keys.source, found, style)))
        )


def _in_hand(project_id: int, cut: AnyCut, style: DrawingSpec, drawing_id: int | None) -> bytes:
    with reading() as session, ExitStack() as until:
        with stage("rows"):
            keys = until.enter_context(keys_in_hand(session, project_id))
            shown = shown_as(keys.source, keys.followed.of(cut), style)
        return _screen(keys, drawing_id, moving(shown))


def view_of(drawing_id: int, number: int | None = None) -> ScreenView:
    """A saved drawing for the screen, by the newest revision of the model or another one; from the database if nothing
    that it depends on changed."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        with stage("rows"):
            revision = None if number is None else numbered_revision(session, row.project_id, number)
            source = ProjectSource(session, row.project_id, revision, corrections=() if number == IN_THE_FILE else None)
            key, make = _view_by(session, row, source)

        return ScreenView(key, kept(session, row.project_id, key, lambda: _screens.get(key, make)))


def tried_view(drawing_id: int, corrections: list[Correction], in_hand: bool = False) -> ScreenView:
    """A saved drawing as it would be with other corrections of the model than its project's. Raises `Refused` where
    they can't be. `in_hand`: of a face that is dragged, only what it is of, alone."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        now = ProjectSource(session, row.project_id)
        if in_hand and (dragged := now.while_dragged(corrections)) is not None:
            shown = saved(dragged, Followed(now), row)
            result, display = composed_view(replace(shown, in_hand=True))
            return ScreenView("", to_screen(display, screen_facts(shown, result)))
        before = corrections_of(session.get_one(Project, row.project_id))
        said = said_of_model(session, row.project_id, corrections, before)
        key, make = _view_by(session, row, ProjectSource(session, row.project_id, corrections=said))
        return ScreenView(key, _screens.get(key, make))


def _view_by(session: Session, row: Drawing, source: ProjectSource) -> tuple[str, Callable[[], bytes]]:
    """The name of the view of a saved drawing by what a source has, and what makes it."""
    keys = ViewKeys(session, row.project_id, source=source)
    found, style = keys.followed.found(row), DrawingSpec.model_validate(row.style)
    key = keys.of(found, style, row.id)
    return key, lambda: _screen(keys, row.id, shown_as(keys.source, found, style))


def report_of(project_id: int, cut: AnyCut, style: DrawingSpec) -> CutReport:
    """What a cut passes through and just misses; the cut of a view that is shown is not computed again."""
    with reading() as session:
        shown = unsaved(session, project_id, cut, style)
        return cut_report(shown.model, cut_of(shown))


def unsaved(session: Session, project_id: int, cut: AnyCut, style: DrawingSpec) -> Shown:
    """A drawing that is not saved (yet)."""
    source = ProjectSource(session, project_id)
    return shown_as(source, Followed(source).of(cut), style)


def shown_cut_of(project_id: int, cut: AnyCut, style: DrawingSpec) -> tuple[Model, AnyCut, CutResult]:
    """The model, what is shown of it, and the cut of a view."""
    with reading() as session:
        shown = unsaved(session, project_id, cut, style)
        return shown.model, shown.cut, cut_of(shown)


def saved_as(
    session: Session, row: Drawing, revision: Revision | None = None, corrections: Sequence[Correction] | None = None
) -> Shown:
    """A saved drawing by a revision of its project's model, the newest one where none is named; with other
    `corrections` than the project's."""
    source = ProjectSource(session, row.project_id, revision, corrections=corrections)
    return saved(source, Followed(source), row)


def _screen(keys: ViewKeys, drawing_id: int | None, shown: Shown) -> bytes:
    row = keys.source.drawing(drawing_id)
    markers: tuple[Marker, ...] = ()
    callouts: tuple[CalloutMark, ...] = ()
    standing: tuple[Box, ...] = ()
    if row is not None:
        with stage("surroundings"):
            callouts = keys.callouts_on(row.id, shown.cut, shown.style)
            standing = keys.drawings.standing(row)
        if isinstance(shown.cut, PlanCut) and shown.style.rooms:
            crossings = Drawings(keys.source, keys.followed).crossings
            markers = crossings.on(shown.model, row.id or 0, shown.cut, shown.standard.marked(shown.style))
    touched = keys.source.touch_ups(drawing_id) if keys.touched.get(drawing_id or 0) else ()
    if shown.in_hand:
        touched = tuple((source, one) for source, one in touched if not one.surfaces)
    strips = drawn_strips(keys.source, keys.followed, shown)
    around = Surroundings(markers, callouts, touched, (*standing, *strips.kept_clear), draws_markers=False)
    result, display = composed_view(shown, around)
    display = with_strips(shown, display, strips)
    facts = screen_facts(shown, result) | {
        "touched": [
            {
                "source": t.source,
                "state": t.state,
                "finding": t.finding,
                "ghost": [np.round(g, 3).tolist() for g in t.ghost],
            }
            for t in display.touched
        ],
        "findings": [shown.finding, *display.findings] if shown.finding else list(display.findings),
    }
    if strips.strips.opening is not None:
        facts["folds"].append(_opened(strips.strips.opening))
    with stage("encode"):
        return to_screen(display, facts)


def screen_facts(shown: Shown, result: CutResult) -> dict[str, Any]:
    """What the screen knows of a drawing beside what is drawn."""
    return {
        "scale": shown.style.scale,
        "empty": result.is_empty,
        "axes": _axes(result.axes),
        "leaves": [
            {**_axes(leaf.axes), "left": round(leaf.window[0] / shown.style.scale, 4)} for leaf in result.leaves
        ],
        "window": [round(x / shown.style.scale, 4) for x in result.extents],
        "folds": _folds(shown, result),
        "leaking": [shown.model.elements[e].name for e, _ in result.open_chains],
    }


def _folds(shown: Shown, result: CutResult) -> list[dict[str, Any]]:
    """How the parts of a drawing are moved by its breaks: none where it is whole."""
    fold = Fold.of(result.extents, shown.cut.extents, shown.style.scale, shown.standard.breaks)
    return [_parts(fold)] if fold.folds else []


def _opened(opening: Opening) -> dict[str, Any]:
    """How the parts of an opened plan are moved, in axes along its strips and up in them."""
    return _parts(opening.fold) | {"axes": opening.axes.tolist()}


def _parts(fold: Fold) -> dict[str, Any]:
    """Start, end and shift of each part along both axes, mm on paper."""
    return {
        name: [[round(x, 4) for x in (p.start, p.end, p.shift)] for p in parts]
        for name, parts in (("u", fold.us), ("v", fold.vs))
    }


def _axes(axes: Axes) -> dict[str, Any]:
    return {"origin": axes.origin.tolist(), "u": axes.u.tolist(), "v": axes.v.tolist(), "w": axes.w.tolist()}


def drawing_cut(session: Session, row: Drawing) -> dict[str, Any]:
    """The cut of a saved drawing as a JSON document."""
    shown = saved_as(session, row)
    return cut_document(shown.model, cut_of(shown), shown.style.scale, shown.standard)


def json_document(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
