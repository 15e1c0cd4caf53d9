"""Composed drawings, each stage cached by what it depends on."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime
from typing import Any

import numpy as np
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, delete, select

from edge_slice.app.drawings import drawing_row
from edge_slice.app.errors import Refused
from edge_slice.app.followed import Followed
from edge_slice.app.markers import bubble_texts, markers_of
from edge_slice.app.models import newest_revision, numbered_revision
from edge_slice.app.recent import Recent
from edge_slice.app.shown_cuts import Shown, cut_of, saved, shown_as
from edge_slice.app.strips import opened, strip_in
from edge_slice.app.touched import TouchUps, touch_ups_of
from edge_slice.app.view_keys import ViewKeys
from edge_slice.core.cut import AnyCut, CutResult, ImpossibleCut, PlanCut
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.cut.report import CutReport, cut_report
from edge_slice.core.drawing import DisplayList, DrawingSpec, Marker, compose_drawing
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.folds import Fold
from edge_slice.core.drawing.insets import Opening, laid_in
from edge_slice.core.drawing.paper import check_paper
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.render.cut_json import cut_document
from edge_slice.core.render.screen import to_screen
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing
from edge_slice.store.tables import ViewCache as CachedView

KEPT_SCREENS, KEPT_ROWS = 24, 400
_screens: Recent[bytes] = Recent(KEPT_SCREENS)


def _composed(
    shown: Shown,
    markers: tuple[Marker, ...],
    callouts: tuple[CalloutMark, ...],
    with_markers: bool,
    touch_ups: TouchUps = (),
) -> tuple[CutResult, DisplayList]:
    try:
        check_paper(whole_window(leaves_of(shown.model, shown.cut)), shown.style.scale)
    except ImpossibleCut as error:
        raise Refused(str(error), "style.scale") from error
    result = cut_of(shown)
    display = compose_drawing(
        shown.model, result, shown.cut, shown.style, shown.standard, markers, with_markers, callouts, touch_ups
    )
    return result, display


@dataclass(frozen=True)
class ScreenView:
    """A drawing in the compact form, and its name."""

    key: str
    data: bytes


def screen_view(project_id: int, cut: AnyCut, style: DrawingSpec, drawing_id: int | None = None) -> ScreenView:
    """A drawing that is not saved (yet), for the screen; `drawing_id`: the one of which it is a change. Markers are not
    in it, the screen has live ones; but their places are free."""
    with transaction() as session:
        keys = ViewKeys(session, project_id)
        found = keys.followed.of(cut)
        key = keys.of(found[0], style, drawing_id)

        def make() -> bytes:
            return _screen(keys, session, drawing_id, shown_as(session, keys.revision, found, style))

        return ScreenView(key, _screens.get(key, make))


def view_of(drawing_id: int, number: int | None = None) -> ScreenView:
    """A saved drawing for the screen, by the newest revision of the model or another one; from the database if nothing
    that it depends on changed."""
    with transaction() as session:
        row = drawing_row(session, drawing_id)
        revision = None if number is None else numbered_revision(session, row.project_id, number)
        keys = ViewKeys(session, row.project_id, revision=revision)
        found, style = keys.followed.found(row), DrawingSpec.model_validate(row.style)
        key = keys.of(found[0], style, row.id)

        def make() -> bytes:
            return _screen(keys, session, row.id, shown_as(session, keys.revision, found, style))

        return ScreenView(key, cached(session, key, lambda: _screens.get(key, make)))


def report_of(project_id: int, cut: AnyCut, style: DrawingSpec) -> CutReport:
    """What a cut passes through and just misses; the cut of a view that is shown is not computed again."""
    with transaction() as session:
        found = Followed(session, project_id).of(cut)
        shown = shown_as(session, newest_revision(session, project_id), found, style)
        return cut_report(shown.model, cut_of(shown))


def known(session: Session, keys: list[str]) -> set[str]:
    """Those of these keys under which something is kept."""
    return set(session.exec(select(CachedView.key).where(col(CachedView.key).in_(keys))).all())


def cached(session: Session, key: str, make: Callable[[], bytes]) -> bytes:
    """What was made under a key before, by whichever process; else it is made and kept."""
    found = session.get(CachedView, key)
    if found is not None:
        return found.data
    data = make()
    session.connection().execute(
        insert(CachedView).values(key=key, data=data, created_at=datetime.now(UTC)).on_conflict_do_nothing()
    )
    newest = select(CachedView.key).order_by(col(CachedView.created_at).desc()).limit(KEPT_ROWS)
    session.exec(delete(CachedView).where(col(CachedView.key).not_in(newest)))
    return data


def _screen(keys: ViewKeys, session: Session, drawing_id: int | None, shown: Shown) -> bytes:
    row = session.get(Drawing, drawing_id) if drawing_id is not None else None
    markers: tuple[Marker, ...] = ()
    callouts: tuple[CalloutMark, ...] = ()
    if row is not None and row.project_id == shown.revision.project_id:
        callouts = keys.callouts_on(row.id, shown.cut, shown.style)
        if isinstance(shown.cut, PlanCut) and shown.style.rooms:
            markers = markers_of(session, row, shown.model, shown.cut, shown.style)
    touched = touch_ups_of(session, drawing_id)
    result, display = _composed(shown, markers, callouts, with_markers=False, touch_ups=touched)
    display, opening = _with_strip(session, keys, shown, display)
    facts = screen_facts(shown, result) | {
        "work": asdict(result.work),
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
    if opening is not None:
        facts["folds"] = _opened(opening)
    return to_screen(display, facts)


def screen_facts(shown: Shown, result: CutResult) -> dict[str, Any]:
    """What the screen knows of a drawing beside what is drawn."""
    return {
        "scale": shown.style.scale,
        "empty": result.is_empty,
        "axes": _axes(result),
        "window": [round(x / shown.style.scale, 4) for x in result.extents],
        "folds": _folds(shown, result),
        "leaking": [shown.model.elements[e].name for e, _ in result.open_chains],
    }


def _with_strip(
    session: Session, keys: ViewKeys, shown: Shown, display: DisplayList
) -> tuple[DisplayList, Opening | None]:
    """A plan with the strip of a section laid in, where it has one; where that can't be, with what is wrong."""
    try:
        strip = strip_in(session, shown.revision.project_id, keys.followed, shown.cut, shown.style)
        if strip is None:
            return display, None
        opening = opened(shown.model, shown.cut, strip, shown.standard.breaks)
        own = shown_as(session, shown.revision, (strip.cut, ""), strip.style)
        drawn = _composed(own, (), (), with_markers=False)[1]
    except (ImpossibleCut, Refused) as error:
        return replace(display, findings=(*display.findings, str(error))), None
    pen = pens_of(shown.standard, shown.style.scale)["frame fine"]
    return laid_in(display, drawn, opening, pen), opening


def opening_in(session: Session, shown: Shown) -> Opening | None:
    """How a plan is broken open for the strip of a section, if it is."""
    followed = Followed(session, shown.revision.project_id, shown.revision)
    try:
        strip = strip_in(session, shown.revision.project_id, followed, shown.cut, shown.style)
        return None if strip is None else opened(shown.model, shown.cut, strip, shown.standard.breaks)
    except (ImpossibleCut, Refused):
        return None  # it is said where the plan is drawn


def _opened(opening: Opening) -> dict[str, Any]:
    """How the two parts of an opened plan are moved, mm on paper, in axes along the strip and up in it."""
    (below, above) = opening.fold.vs
    return {
        "u": [[below.start, above.end, 0.0]],
        "v": [[round(x, 4) for x in (p.start, p.end, p.shift)] for p in (below, above)],
        "axes": opening.axes.tolist(),
    }


def _folds(shown: Shown, result: CutResult) -> dict[str, list[list[float]]] | None:
    """How the parts of a broken drawing are moved, mm on paper: start, end and shift; null where it is whole."""
    fold = Fold.of(result.extents, shown.cut.extents, shown.style.scale, shown.standard.breaks)
    if not fold.folds:
        return None
    return {
        name: [[round(x, 4) for x in (p.start, p.end, p.shift)] for p in parts]
        for name, parts in (("u", fold.us), ("v", fold.vs))
    }


def _axes(result: CutResult) -> dict[str, list[float]]:
    axes = result.axes
    return {"origin": axes.origin.tolist(), "u": axes.u.tolist(), "v": axes.v.tolist(), "w": axes.w.tolist()}


def plain_display(session: Session, row: Drawing) -> DisplayList:
    """A saved drawing as it is printed, with its markers, without its annotations."""
    shown = saved(session, row)
    keys = ViewKeys(session, row.project_id, bubble_texts(session, row.project_id))
    callouts = keys.callouts_on(row.id, shown.cut, shown.style)
    markers = markers_of(session, row, shown.model, shown.cut, shown.style)
    touched = touch_ups_of(session, row.id)
    display = _composed(shown, markers, callouts, with_markers=True, touch_ups=touched)[1]
    return _with_strip(session, keys, shown, display)[0]


def drawing_cut(session: Session, row: Drawing) -> dict[str, Any]:
    """The cut of a saved drawing as a JSON document."""
    shown = saved(session, row)
    return cut_document(shown.model, cut_of(shown), shown.style.scale, shown.standard)


def json_document(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
