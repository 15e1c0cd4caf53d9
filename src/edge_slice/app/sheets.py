"""Sheets and placements: numbers come from here, and markers, titles and lists follow."""

from __future__ import annotations

import re
import struct
from contextlib import suppress
from dataclasses import dataclass
from typing import cast

from sqlmodel import Session, col, select

from edge_slice.app.boards import board_of, drawing_display, rows_of, shape_of
from edge_slice.app.callouts import called_from
from edge_slice.app.documents import (
    PlacementEdit,
    PlacementNew,
    PlacementOut,
    SheetEdit,
    SheetFields,
    SheetNew,
    SheetOut,
    SheetPictures,
)
from edge_slice.app.drawings import drawing_out, drawing_row, project_drawings
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.markers import bubble_texts, crossings_of
from edge_slice.app.models import load_model, newest_revision
from edge_slice.app.project_state import state_of
from edge_slice.app.projects import project_row
from edge_slice.app.recent import Recent
from edge_slice.app.rows import current_row, held_row
from edge_slice.app.standards import standard_for
from edge_slice.app.strips import opened, strip_in
from edge_slice.app.view_keys import ViewKeys, key_of
from edge_slice.app.views import cached
from edge_slice.core.cut import ImpossibleCut
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.drawing import DisplayList, DrawingSpec, Marker, default_standard
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.annotations.crossings import Crossings
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.folds import folded_size
from edge_slice.core.model import Model
from edge_slice.core.render.screen import to_screen
from edge_slice.core.sheet import SHEET_SIZES, PlacedDrawing, SheetSize, SheetSpec, compose_sheet
from edge_slice.core.sheet.compose import BINDING, BLOCK, EDGE
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing, Placement, Sheet

TITLE_ROOM = 30.0  # mm below a placement that its title takes
MOST_PLACED = 60  # drawings on one sheet
NOTE_ROOM = 40.0  # mm beside a placement that level markers take


def sheet_row(session: Session, sheet_id: int) -> Sheet:
    row = session.get(Sheet, sheet_id)
    if row is None:
        raise NotFound("This sheet is not there any more.")
    return row


def _size(row: Sheet) -> SheetSize:
    return cast(SheetSize, row.size)


def sheet_extent(row: Sheet) -> tuple[float, float]:
    return SHEET_SIZES[_size(row)]


_lists: Recent[list[SheetOut]] = Recent(8)  # by the state of their project


def list_sheets(project_id: int) -> list[SheetOut]:
    with transaction() as session:
        project_row(session, project_id)
        return _lists.get(state_of(session, project_id, annotations=True), lambda: _listed(session, project_id))


def _listed(session: Session, project_id: int) -> list[SheetOut]:
    rows = session.exec(select(Sheet).where(col(Sheet.project_id) == project_id).order_by(col(Sheet.number))).all()
    around = _Around.of(session, project_id)
    return [_as_out(r, around) for r in rows]


def add_sheet(project_id: int, new: SheetNew, author: str) -> SheetOut:
    with transaction() as session:
        project_row(session, project_id)
        hold(session, project_id)
        number = new.number.strip() or _next_sheet_number(session, project_id)
        _check_sheet_number(session, project_id, number, None)
        row = Sheet(project_id=project_id, number=number, title=new.title.strip() or "Untitled sheet", size=new.size,
                    fields=SheetFields().model_dump())  # fmt: skip
        with recorded(session, project_id, "new sheet", author) as act:
            act.adds(row)
        return _out(session, row)


def edit_sheet(sheet_id: int, edit: SheetEdit, author: str) -> SheetOut:
    with transaction() as session:
        row = current_row(session, Sheet, sheet_id, edit.version, lambda newer: _out(session, newer))
        if edit.number is not None:
            _check_sheet_number(session, row.project_id, edit.number.strip(), sheet_id)
        with recorded(session, row.project_id, "edit sheet", author) as act:
            act.edits(row)
            row.number = edit.number.strip() if edit.number is not None else row.number
            row.title = edit.title.strip() if edit.title is not None else row.title
            row.size = edit.size or row.size
            row.fields = edit.fields.model_dump() if edit.fields is not None else row.fields
            session.add(row)
        return _out(session, row)


def delete_sheet(sheet_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, Sheet, sheet_id)
        with recorded(session, row.project_id, "delete sheet", author) as act:
            for placed in _placements(session, sheet_id):
                act.removes(placed)
            act.removes(row)


def place_drawing(sheet_id: int, new: PlacementNew, author: str) -> SheetOut:
    """Put a drawing on a sheet: where told, else in the first free space from the upper left."""
    with transaction() as session:
        sheet = held_row(session, Sheet, sheet_id)
        drawing = drawing_row(session, new.drawing_id)
        if drawing.project_id != sheet.project_id:
            raise Refused("The drawing belongs to another project.", "drawing_id")
        already = session.exec(select(Placement).where(col(Placement.drawing_id) == drawing.id)).first()
        if already is not None:
            where = sheet_row(session, already.sheet_id).number
            title = drawing_out(session, drawing).title
            raise Refused(f"“{title}” stands on sheet {where} already; remove it there first.", "drawing_id")
        taken = _placements(session, sheet_id)
        if len(taken) >= MOST_PLACED:
            raise Refused(f"A sheet holds {MOST_PLACED} drawings at most; place this one on another.", "drawing_id")
        around = _Around.of(session, sheet.project_id)
        wide, high = around.frame_size(drawing)
        x, y = (
            (new.x, new.y)
            if new.x is not None and new.y is not None
            else _free_place(around, sheet, taken, (wide, high), _room_around(session, drawing))
        )
        row = Placement(project_id=sheet.project_id, sheet_id=sheet_id, drawing_id=new.drawing_id,
                        number=_next_number([p.number for p in taken]), x=x, y=y)  # fmt: skip
        with recorded(session, sheet.project_id, "place drawing", author) as act:
            act.adds(row)
        return _out(session, sheet)


def edit_placement(placement_id: int, edit: PlacementEdit, author: str) -> SheetOut:
    with transaction() as session:
        row = current_row(session, Placement, placement_id, edit.version, lambda newer: _sheet_of(session, newer))
        sheet = sheet_row(session, row.sheet_id)
        number = edit.number.strip() if edit.number is not None else row.number
        if any(p.number == number and p.id != row.id for p in _placements(session, row.sheet_id)):
            raise Refused(f"Number {number} is taken on this sheet; choose another.", "number")
        with recorded(session, row.project_id, "edit placement", author) as act:
            act.edits(row)
            row.number = number
            row.x = edit.x if edit.x is not None else row.x
            row.y = edit.y if edit.y is not None else row.y
            session.add(row)
        return _out(session, sheet)


def remove_placement(placement_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, Placement, placement_id)
        with recorded(session, row.project_id, "take off sheet", author) as act:
            act.removes(row)


def sheet_screen(sheet_id: int) -> bytes:
    with transaction() as session:
        row = sheet_row(session, sheet_id)
        return _screen(session, row, _Around.of(session, row.project_id))


def sheet_screens(project_id: int, wanted: SheetPictures) -> bytes:
    """Several sheets for the screen, in the order in which they are asked for: each with its length (uint32, little
    endian) before it; length 0 for one that is not there."""
    with transaction() as session:
        project_row(session, project_id)
        around = _Around.of(session, project_id)
        found = []
        for number in wanted.ids:
            row = session.get(Sheet, number)
            mine = row is not None and row.project_id == project_id
            found.append(_screen(session, row, around) if row is not None and mine else b"")
    return b"".join(struct.pack("<I", len(data)) + data for data in found)


def _screen(session: Session, row: Sheet, around: _Around) -> bytes:
    key = key_of("sheet", around.picture(row))
    return cached(session, key, lambda: to_screen(sheet_display(session, row), {}))


@dataclass(frozen=True)
class _Around:
    """What the sheets of a project depend on, read once for all of them."""

    model: Model
    drawings: dict[int, Drawing]
    placements: dict[int, list[Placement]]
    common: str
    crossings: Crossings
    keys: ViewKeys
    session: Session

    @staticmethod
    def of(session: Session, project_id: int) -> _Around:
        revision, project = newest_revision(session, project_id), project_row(session, project_id)
        placements: dict[int, list[Placement]] = {}
        rows = select(Placement).where(col(Placement.project_id) == project_id).order_by(col(Placement.id))
        for placed in session.exec(rows).all():
            placements.setdefault(placed.sheet_id, []).append(placed)
        drawings = project_drawings(session, project_id)
        return _Around(
            load_model(session, revision),
            {d.id or 0: d for d in drawings},
            placements,
            repr((project.name, project.client)),
            crossings_of(session, project_id, drawings),
            ViewKeys(session, project_id, bubble_texts(session, project_id)),
            session,
        )

    def frame_size(self, drawing: Drawing) -> tuple[float, float]:
        """Width and height of a drawing on paper, mm."""
        cut, style = self.keys.followed.cut_of(drawing), DrawingSpec.model_validate(drawing.style)
        rule = standard_for(self.session, drawing.project_id, style.standard).breaks
        with suppress(ImpossibleCut):  # a strip that can't be laid in is said where the plan is drawn
            strip = strip_in(self.session, drawing.project_id, self.keys.followed, cut, style)
            if strip is not None:
                left, base, right, top = opened(self.model, cut, strip, rule).frame
                return right - left, top - base
        return folded_size(whole_window(leaves_of(self.model, cut)), cut.extents, style.scale, rule)

    def box(self, placed: Placement) -> Box:
        wide, high = self.frame_size(self.drawings[placed.drawing_id])
        return (placed.x, placed.y, placed.x + wide, placed.y + high)

    def markers(self, drawing: Drawing) -> tuple[Marker, ...]:
        style = DrawingSpec.model_validate(drawing.style)
        shown = standard_for(self.session, drawing.project_id, style.standard).marked(style)
        return self.crossings.on(self.model, drawing.id or 0, self.keys.followed.cut_of(drawing), shown)

    def callouts(self, drawing: Drawing) -> tuple[CalloutMark, ...]:
        cut, style = self.keys.followed.cut_of(drawing), DrawingSpec.model_validate(drawing.style)
        return self.keys.callouts_on(drawing.id, cut, style)

    def picture(self, row: Sheet) -> str:
        """Another text whenever the sheet looks different."""
        placed = self.placements.get(row.id or 0, [])
        shown = [self.drawings[p.drawing_id] for p in placed]
        said = [self.common, repr((row.id, row.number, row.title, row.size, sorted(row.fields.items())))]
        said += [repr((p.id, p.number, p.x, p.y)) for p in placed]
        said += [repr((d.letter, d.name, self._view(d))) for d in shown]
        said += [repr(self.markers(d)) for d in shown]
        said += [repr([(c.source, c.upper, c.lower) for c in self.callouts(d)]) for d in shown]
        said += [repr(called_from(self.session, d)) for d in shown]
        said += [self.keys.annotated.get(d.id or 0, "") for d in shown]
        return key_of(*said)

    def _view(self, drawing: Drawing) -> str:
        cut = self.keys.followed.cut_of(drawing)
        return self.keys.of(cut, DrawingSpec.model_validate(drawing.style), drawing.id)


def sheet_display(session: Session, row: Sheet) -> DisplayList:
    """The whole sheet as it is printed."""
    assert row.id is not None
    project = project_row(session, row.project_id)
    revision = newest_revision(session, row.project_id)
    fields = SheetFields.model_validate(row.fields)
    north = revision.facts["north"]
    spec = SheetSpec(number=row.number, title=row.title, size=_size(row), project=project.name, client=project.client,
                     north=(north[0], north[1]), **fields.model_dump())  # fmt: skip
    placed = []
    for p in _placements(session, row.id):
        drawing = drawing_row(session, p.drawing_id)
        out = drawing_out(session, drawing)
        placed.append(
            PlacedDrawing(p.drawing_id, p.id or 0, p.number, out.title, out.style.scale,
                          drawing_display(session, drawing), p.x, p.y, called_from(session, drawing))
        )  # fmt: skip
    return compose_sheet(spec, tuple(placed), default_standard())


def _sheet_of(session: Session, placed: Placement) -> SheetOut:
    return _out(session, sheet_row(session, placed.sheet_id))


def _placements(session: Session, sheet_id: int) -> list[Placement]:
    return list(
        session.exec(select(Placement).where(col(Placement.sheet_id) == sheet_id).order_by(col(Placement.id))).all()
    )


def _room_around(session: Session, drawing: Drawing) -> Box:
    """How far what stands at the edges of a drawing goes beyond them (left, base, right, top), mm: its title, its
    levels, its annotations."""
    rows = rows_of(session, drawing.id or 0)
    usual = (15.0, TITLE_ROOM, NOTE_ROOM, 15.0)
    if not rows:
        return usual
    placed = board_of(session, drawing)
    boxes = [shape.box for row in rows if (shape := shape_of(placed, row)).shown]
    left, base, right, top = placed.board.frame
    over = [(left - b[0], base - b[1], b[2] - right, b[3] - top) for b in boxes]
    sides = [max((o[k] + 5.0 for o in over), default=0.0) for k in range(4)]
    return (max(sides[0], usual[0]), max(sides[1], usual[1]), max(sides[2], usual[2]), max(sides[3], usual[3]))


def _free_place(
    around: _Around, sheet: Sheet, taken: list[Placement], size: tuple[float, float], room: Box
) -> tuple[float, float]:
    """The first place from the upper left where a drawing, with `room` for what stands around it, meets nothing."""
    sheet_wide, sheet_high = sheet_extent(sheet)
    wide, high = size
    full = []
    for placed in taken:
        box, own = around.box(placed), _room_around(around.session, around.drawings[placed.drawing_id])
        full.append((box[0] - own[0], box[1] - own[1], box[2] + own[2], box[3] + own[3]))
    full.append((sheet_wide - EDGE - BLOCK[0], 0.0, sheet_wide, EDGE + BLOCK[1]))
    left, right = BINDING + room[0], sheet_wide - EDGE - room[2] - wide
    low, top = EDGE + room[1], sheet_high - EDGE - room[3] - high
    y = top
    while y >= low - 1e-9:
        x = left
        while x <= right + 1e-9:
            mine = (x - room[0], y - room[1], x + wide + room[2], y + high + room[3])
            if not any(mine[0] < b[2] and b[0] < mine[2] and mine[1] < b[3] and b[1] < mine[3] for b in full):
                return round(x, 3), round(y, 3)
            x += 10
        y -= 10
    return left, max(low, top)


def _next_number(taken: list[str]) -> str:
    number = 1
    while str(number) in taken:
        number += 1
    return str(number)


def _next_sheet_number(session: Session, project_id: int) -> str:
    taken = set(session.exec(select(Sheet.number).where(col(Sheet.project_id) == project_id)).all())
    highest = max((int(m.group(1)) for n in taken if (m := re.fullmatch(r"A-(\d+)", n))), default=100)
    return f"A-{highest + 1}"


def _check_sheet_number(session: Session, project_id: int, number: str, own: int | None) -> None:
    other = session.exec(select(Sheet).where(col(Sheet.project_id) == project_id, col(Sheet.number) == number)).first()
    if other is not None and other.id != own:
        raise Refused(f"There is a sheet {number} already; choose another number.", "number")


def _out(session: Session, row: Sheet) -> SheetOut:
    return _as_out(row, _Around.of(session, row.project_id))


def _as_out(row: Sheet, around: _Around) -> SheetOut:
    assert row.id is not None
    wide, high = sheet_extent(row)
    placements = [
        PlacementOut(**p.model_dump(exclude={"project_id"}), box=around.box(p))
        for p in around.placements.get(row.id, [])
    ]
    return SheetOut(
        id=row.id,
        project_id=row.project_id,
        number=row.number,
        title=row.title,
        size=_size(row),
        width=wide,
        height=high,
        fields=SheetFields.model_validate(row.fields),
        version=row.version,
        placements=placements,
        picture=around.picture(row),
    )
