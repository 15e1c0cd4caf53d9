"""Markers of a project's drawings on one another: what their heads say, and where they show."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session

from edge_slice.app.drawings.callout_documents import CalloutOut
from edge_slice.app.drawings.drawing_rows import drawing_row, homes_as_said
from edge_slice.app.drawings.placing_documents import DrawingMarkersOut, MarkerOut, MarkerPieceOut
from edge_slice.app.errors import Refused
from edge_slice.app.projects.state import state_of
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.cut import AnyCut
from edge_slice.core.drawing import DrawingSpec, Marker
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.annotations.head_room import HeadRoom
from edge_slice.core.drawing.annotations.markers import Laid, laid_out, marker_form
from edge_slice.core.drawing.spec import CalloutStyle
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.drawn import drawn_strips
from edge_slice.core.project.shown import Shown, cut_key, cut_of, key_of, shown_as
from edge_slice.core.recent import Recent
from edge_slice.store.database import reading
from edge_slice.store.tables import CalloutReference, Drawing

_shown_on: Recent[list[DrawingMarkersOut]] = Recent("markers", 16)  # by the state of their project


def markers_on_screen(project_id: int, drawings: Sequence[int]) -> list[DrawingMarkersOut]:
    """The markers of several drawings of a project; of one that is not there, none."""
    with reading() as session:
        key = f"{state_of(session, project_id)} {list(drawings)}"
        return _shown_on.get(key, lambda: _markers_of_all(session, project_id, drawings))


def _markers_of_all(session: Session, project_id: int, drawings: Sequence[int]) -> list[DrawingMarkersOut]:
    keys = ViewKeys(session, project_id, homes_as_said(session, project_id))
    found = []
    for number in dict.fromkeys(drawings):
        row = session.get(Drawing, number)
        if row is None or row.project_id != project_id:
            continue
        where, style = keys.followed.found(row), DrawingSpec.model_validate(row.style)
        cut = where[0]
        markers = _shown(keys.drawings, row, cut, style)
        called = [_callout_out(session, number, mark) for mark in keys.callouts_on(number, cut, style)]
        view = keys.of(where, style, number)
        found.append(DrawingMarkersOut(id=number, version=row.version, view=view, markers=markers, callouts=called))
    return found


def _callout_out(session: Session, drawing: int, mark: CalloutMark) -> CalloutOut:
    kind, number = mark.source.split(":")
    if kind == "drawing":
        row = drawing_row(session, int(number))
        own, version, style = row.parent_id == drawing, row.version, DrawingSpec.model_validate(row.style).callout
    else:
        reference = session.get_one(CalloutReference, int(number))
        own, version = reference.drawing_id == drawing, reference.version
        style = CalloutStyle.model_validate(reference.marker)
    return CalloutOut(
        source=mark.source,
        target=mark.target,
        upper=mark.upper,
        lower=mark.lower,
        ring=[(round(u, 4), round(v, 4)) for u, v in mark.ring],
        own=own,
        style=style,
        version=version,
    )


def _shown(drawings: Drawings, row: Drawing, cut: AnyCut, style: DrawingSpec) -> list[MarkerOut]:
    source, crossings = drawings.source, drawings.crossings
    shown = shown_as(source, (cut, ""), style)
    markers = crossings.on(shown.model, row.id or 0, cut, shown.standard.marked(style))
    if not markers:
        return []
    try:
        left, base, right, top = (x / style.scale for x in cut_of(shown).extents)
        standing = (*drawings.standing(row), *drawn_strips(source, drawings.followed, shown).kept_clear)
    except Refused:
        return []  # the drawing itself says what is wrong with it
    frame, form = (left, base, right, top), marker_form(shown.standard)
    laid = laid_out(markers, style.scale, form, frame, _room_in(shown).with_boxes(standing))
    return [_out(m, place, style.scale) for m, place in zip(markers, laid, strict=True)]


_rooms: Recent[HeadRoom] = Recent("room for heads", 24)


def _room_in(shown: Shown) -> HeadRoom:
    """Where heads find room in a drawing."""
    style = shown.style
    key = key_of(
        cut_key(shown), str(style.scale), str(style.grid), style.grid_ends.model_dump_json(), str(shown.standard.text)
    )
    return _rooms.get(key, lambda: HeadRoom.of(shown.model, cut_of(shown), shown.cut, style, shown.standard))


def _out(marker: Marker, laid: Laid, scale: float) -> MarkerOut:
    at = laid.heads[0].centre * scale / 1000 if laid.heads else None
    return MarkerOut(
        drawing=marker.drawing,
        kind=marker.kind,
        upper=marker.upper,
        lower=marker.lower,
        line=list(marker.line),
        look="left" if marker.look == "left" else "right",
        style=marker.style,
        pieces=[
            MarkerPieceOut(
                line=[(round(x, 4), round(y, 4)) for x, y in (piece.line * scale / 1000).tolist()],
                ends=piece.ends,
                aside=piece.aside,
            )
            for piece in laid.pieces
        ],
        at=None if at is None or marker.kind == "section" else (round(float(at[0]), 4), round(float(at[1]), 4)),
    )
