"""Composed drawings, each stage cached by what it depends on."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from threading import Lock
from typing import Any, Generic, TypeVar

from sqlmodel import Session, col, delete, select

from edge_slice.app.drawings import CUT, drawing_row, placement_of, project_drawings
from edge_slice.app.errors import Refused
from edge_slice.app.models import load_model, newest_revision
from edge_slice.core.cut import AnyCut, CutResult, ImpossibleCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, SectionMarker, compose_drawing, default_standard
from edge_slice.core.render.screen import to_screen
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing, Revision
from edge_slice.store.tables import ViewCache as CachedView

FORMAT = "3"  # part of every key: raise it when the same input is drawn differently
T = TypeVar("T")
KEPT_CUTS, KEPT_ROWS = 24, 400


class _Recent(Generic[T]):
    """The values used last, by key."""

    def __init__(self, size: int) -> None:
        self.size, self.values, self.lock = size, OrderedDict[str, T](), Lock()

    def get(self, key: str) -> T | None:
        with self.lock:
            if key in self.values:
                self.values.move_to_end(key)
            return self.values.get(key)

    def put(self, key: str, value: T) -> None:
        with self.lock:
            self.values[key] = value
            while len(self.values) > self.size:
                self.values.popitem(last=False)


_cuts: _Recent[CutResult] = _Recent(KEPT_CUTS)


def _key(*parts: str) -> str:
    return hashlib.sha256("\0".join((FORMAT, *parts)).encode()).hexdigest()


def cut_for(session: Session, revision: Revision, cut: AnyCut) -> CutResult:
    """The cut of a revision; recomputed only for another model, cut or standard."""
    standard = default_standard()
    key = _key("cut", revision.geometry_hash, cut.model_dump_json(), standard.name)
    found = _cuts.get(key)
    if found is None:
        model = load_model(session, revision)
        try:
            found = cut_model(model, cut, standard.cut_rules(model))
        except ImpossibleCut as error:
            raise Refused(str(error), "cut") from error
        _cuts.put(key, found)
    return found


def display_of(session: Session, revision: Revision, cut: AnyCut, style: DrawingSpec,
               markers: tuple[SectionMarker, ...] = ()) -> DisplayList:  # fmt: skip
    result = cut_for(session, revision, cut)
    return compose_drawing(load_model(session, revision), result, cut, style, default_standard(), markers)


def screen_view(project_id: int, cut: AnyCut, style: DrawingSpec) -> bytes:
    """A drawing that is not saved (yet), for the screen. Markers are not in it: the screen has live ones."""
    with transaction() as session:
        return _screen(session, newest_revision(session, project_id), cut, style)


def view_of(drawing_id: int) -> bytes:
    """A saved drawing for the screen, from the database if nothing that it depends on changed."""
    with transaction() as session:
        row = drawing_row(session, drawing_id)
        revision = newest_revision(session, row.project_id)
        cut, style = CUT.validate_python(row.cut), DrawingSpec.model_validate(row.style)
        key = _key(
            "view", revision.geometry_hash, cut.model_dump_json(), style.model_dump_json(), default_standard().name
        )
        cached = session.get(CachedView, key)
        if cached is not None:
            return cached.data
        data = _screen(session, revision, cut, style)
        session.merge(CachedView(key=key, data=data))
        session.flush()
        newest = select(CachedView.key).order_by(col(CachedView.created_at).desc()).limit(KEPT_ROWS)
        session.exec(delete(CachedView).where(col(CachedView.key).not_in(newest)))
        return data


def _screen(session: Session, revision: Revision, cut: AnyCut, style: DrawingSpec) -> bytes:
    result = cut_for(session, revision, cut)
    model = load_model(session, revision)
    display = compose_drawing(model, result, cut, style, default_standard())
    facts: dict[str, Any] = {
        "scale": style.scale,
        "empty": result.is_empty,
        "axes": _axes(result),
        "leaking": [model.elements[e].name for e, _ in result.open_chains],
    }
    return to_screen(display, facts)


def _axes(result: CutResult) -> dict[str, list[float]]:
    axes = result.axes
    return {"origin": axes.origin.tolist(), "u": axes.u.tolist(), "v": axes.v.tolist(), "w": axes.w.tolist()}


def markers_on(session: Session, plan: Drawing) -> tuple[SectionMarker, ...]:
    """The section markers that a plan shows: number over sheet where placed, else the letter over a dash."""
    markers = []
    for row in project_drawings(session, plan.project_id):
        cut = CUT.validate_python(row.cut)
        if not isinstance(cut, SectionCut) or row.id is None:
            continue
        placed = placement_of(session, row.id)
        upper, lower = (placed[0].number, placed[1].number) if placed else (row.letter, "–")
        markers.append(SectionMarker(row.id, upper, lower, cut.line, cut.look))
    return tuple(markers)


def drawing_display(session: Session, row: Drawing) -> DisplayList:
    """A saved drawing as it is printed, with its markers."""
    revision = newest_revision(session, row.project_id)
    cut, style = CUT.validate_python(row.cut), DrawingSpec.model_validate(row.style)
    markers = markers_on(session, row) if isinstance(cut, PlanCut) else ()
    return display_of(session, revision, cut, style, markers)


def json_document(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
