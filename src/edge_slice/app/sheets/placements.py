"""Drawings on sheets: placed, moved, trimmed, titled, stacked, arranged."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session, col, select

from edge_slice.app.drawings.drawing_rows import drawing_of
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import Refused, Stale
from edge_slice.app.projects.standards import standard_for
from edge_slice.app.row_lookup import current_row, held_row
from edge_slice.app.sheets.documents import (
    ArrangedOut,
    Arrangement,
    GuideOut,
    LeftOver,
    PlacementEdit,
    PlacementNew,
    PlacementsMoved,
    SheetOut,
)
from edge_slice.app.sheets.numbered_sheets import as_out, give_home_on, remove, sheet_out
from edge_slice.app.sheets.sheet_views import SheetsAround, sheet_row
from edge_slice.core.cut import SectionCut
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.project.sheets import size_of
from edge_slice.core.project.tables import table_boxes
from edge_slice.core.sheet.arranging import (
    Place,
    Wanted,
    areas_of,
    arranged,
    beside_their_own,
    centred,
    free_place,
    largest_scale,
    reading_order,
    scale_that_fits,
    smallest_size,
)
from edge_slice.core.sheet.design import SheetDesign, overlap
from edge_slice.core.sheet.guides import guides_of
from edge_slice.core.sheet.numbering import free_number
from edge_slice.store.changes import Act, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, Placement, Sheet

MOST_PLACED = 60  # drawings on one sheet


def place_drawing(sheet_id: int, new: PlacementNew, author: str) -> SheetOut:
    """Put a drawing on a sheet: where told, else in the first free drawing area, else in the first free space from the
    upper left. The first sheet that a drawing stands on is its home."""
    with transaction() as session:
        sheet = held_row(session, Sheet, sheet_id)
        drawing = drawing_of(session, sheet.project_id, new.drawing_id)
        around = SheetsAround(session, sheet.project_id)
        _check_free(session, sheet, drawing, around)
        taken = around.on(sheet)
        x, y = _told(session, around, sheet, new, drawing) or _found(session, around, sheet, taken, drawing)
        with recorded(session, sheet.project_id, "place drawing", author) as act:
            put(session, act, sheet, drawing, (x, y), [p.number for p in taken])
        return sheet_out(session, sheet)


def edit_placement(placement_id: int, edit: PlacementEdit, author: str) -> SheetOut:
    with transaction() as session:
        row = current_row(session, Placement, placement_id, edit.version, lambda newer: _sheet_of(session, newer))
        sheet = sheet_row(session, row.sheet_id)
        others = [p for p in _placements(session, row.sheet_id) if p.id != row.id]
        number = edit.number.strip() if edit.number is not None else row.number
        if any(p.number == number for p in others):
            raise Refused(f"Number {number} is taken on this sheet; choose another.", "number")
        if edit.trim is not None:
            _check_trim(session, sheet, row, edit)
        other = _for_exchange(session, sheet, row, edit.drawing_id) if edit.drawing_id is not None else None
        place = (edit.x if edit.x is not None else row.x, edit.y if edit.y is not None else row.y)
        if edit.area is not None:
            around = SheetsAround(session, sheet.project_id)
            place = _in_area(session, around, sheet, edit.area, around.drawings[row.drawing_id])
        what = "edit placement" if other is None else "exchange drawing"
        with recorded(session, row.project_id, what, author) as act:
            act.edits(row)
            if other is not None:
                _exchange(session, act, row, other)
            row.number, row.x, row.y = number, place[0], place[1]
            row.trim = edit.trim.model_dump() if edit.trim is not None else row.trim
            row.title = edit.title.model_dump() if edit.title is not None else row.title
            if edit.stack is not None:
                stacks = [p.stack for p in others]
                row.stack = max(stacks, default=0) + 1 if edit.stack == "front" else min(stacks, default=0) - 1
            if edit.home and not row.home:
                _move_home(session, act, row)
            session.add(row)
        return sheet_out(session, sheet)


def move_placements(sheet_id: int, moved: PlacementsMoved, author: str) -> SheetOut:
    """Move several placements of a sheet in one act."""
    with transaction() as session:
        sheet = held_row(session, Sheet, sheet_id)
        mine = {p.id: p for p in _placements(session, sheet_id)}
        for move in moved.moves:
            if move.id not in mine:
                raise Refused("One of these drawings is not on this sheet any more; choose again.", "moves")
            if mine[move.id].version != move.version:
                raise Stale("One of these was moved in another window; its newer place is shown.",
                            sheet_out(session, sheet))  # fmt: skip
        with recorded(session, sheet.project_id, f"move {len(moved.moves)} placements", author) as act:
            for move in moved.moves:
                row = mine[move.id]
                act.edits(row)
                row.x, row.y = move.x, move.y
                session.add(row)
        return sheet_out(session, sheet)


def remove_placement(placement_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, Placement, placement_id)
        with recorded(session, row.project_id, "take off sheet", author) as act:
            remove(session, act, row)


def arrange(sheet_id: int, wanted: Arrangement, author: str) -> ArrangedOut:
    """Place several drawings in reading order in one act, those that stand there anew if told; what finds no room is
    left over, with the scale that would."""
    with transaction() as session:
        sheet = held_row(session, Sheet, sheet_id)
        around = SheetsAround(session, sheet.project_id)
        standing = around.on(sheet)
        new = [drawing_of(session, sheet.project_id, number) for number in dict.fromkeys(wanted.drawings)]
        for drawing in new:
            _check_free(session, sheet, drawing, around)
        if len(standing) + len(new) > MOST_PLACED:
            raise Refused(f"A sheet holds {MOST_PLACED} drawings at most; choose fewer.", "drawings")
        order = reading_order([around.box(p) for p in standing])
        moved = [standing[k] for k in order] if wanted.all else []
        drawings = [around.drawings[p.drawing_id] for p in moved] + new
        sizes = [around.wanted(p) for p in moved] + [around.drawn_as.wanted(d) for d in new]
        design, size = around.design(sheet), size_of(sheet)
        if wanted.smallest:
            if standing and not wanted.all:
                raise Refused(
                    "Another size moves all drawings of the sheet; arrange those that stand there too.", "all"
                )
            size = smallest_size(sizes, design, size) or size
        areas = areas_of(design, size)
        taken = [*design.taken(size), *table_boxes(sheet)]
        scale = _one_scale(wanted, sizes, areas, taken, len(standing)) if wanted.largest else None
        if scale is not None:
            sizes = [one.at_scale(scale) for one in sizes]
        if not wanted.all:
            taken += [around.wanted(p).at((p.x, p.y)) for p in standing]
        index = {d.id: k for k, d in enumerate(drawings)}
        order = beside_their_own([index.get(d.parent_id) if d.callout is not None else None for d in drawings])
        laid = arranged([sizes[k] for k in order], areas, taken)
        places = [laid[order.index(k)] for k in range(len(drawings))]
        left_over = [
            _left_over(session, drawings, sizes, k, areas, taken) for k, place in enumerate(places) if place is None
        ]
        with recorded(session, sheet.project_id, "arrange sheet", author) as act:
            if size != sheet.size:
                act.edits(sheet)
                sheet.size = size
                session.add(sheet)
            for drawing in drawings if scale is not None else ():
                act.edits(drawing)
                drawing.style = {**drawing.style, "scale": scale}
                session.add(drawing)
            _carry_out(session, act, sheet, moved, new, places)
            if wanted.numbers:
                session.flush()
                _number_all(session, act, sheet)
        return ArrangedOut(sheet=sheet_out(session, sheet), left_over=left_over)


def _one_scale(wanted: Arrangement, sizes: list[Wanted], areas: list[Box], taken: list[Box], standing: int) -> float:
    """The largest scale at which all drawings of a sheet find room. Raises `Refused`."""
    if standing and not wanted.all:
        raise Refused("Another scale changes all drawings of the sheet; arrange those that stand there too.", "all")
    if len({one.scale for one in sizes}) != 1:
        raise Refused("The drawings of this sheet have several scales; give them one first.", "largest")
    found = largest_scale(sizes, areas, taken)
    if found is None:
        raise Refused("There is no usual scale at which all of them find room; choose a larger sheet.", "largest")
    return found


def guides_on(sheet_id: int) -> list[GuideOut]:
    """The lines of the placements of a sheet that others can be brought level or in line with."""
    with reading() as session:
        sheet = sheet_row(session, sheet_id)
        around = SheetsAround(session, sheet.project_id)
        sections = [
            (d.letter, cut)
            for d in around.drawings.values()
            if d.letter and isinstance(cut := around.keys.followed.cut_of(d), SectionCut)
        ]
        found = []
        for placed in around.on(sheet):
            drawing = around.drawings[placed.drawing_id]
            cut, style = around.keys.followed.cut_of(drawing), DrawingSpec.model_validate(drawing.style)
            rule = standard_for(session, sheet.project_id, style.standard).breaks
            own = [(drawing.letter, cut)] if isinstance(cut, SectionCut) else sections
            for guide in guides_of(around.source.model, cut, style.scale, rule, own):
                at = guide.at + (placed.x if guide.way == "x" else placed.y)
                found.append(GuideOut(placement=placed.id or 0, way=guide.way, at=at, of=guide.of, says=guide.says))
        return found


def _told(session: Session, around: SheetsAround, sheet: Sheet, new: PlacementNew, drawing: Drawing) -> Place | None:
    if new.x is not None and new.y is not None:
        return new.x, new.y
    return _in_area(session, around, sheet, new.area, drawing) if new.area is not None else None


def _in_area(session: Session, around: SheetsAround, sheet: Sheet, name: str, drawing: Drawing) -> Place:
    """The middle of a drawing area. Raises `Refused` where it is too small, and says what would fit."""
    design = around.design(sheet)
    area = design.area_boxes(size_of(sheet)).get(name)
    if area is None:
        raise Refused(f"The design of this sheet has no drawing area “{name}”.", "area")
    wanted = around.drawn_as.wanted(drawing)
    place = centred(wanted, area)
    if place is None:
        wide, high = wanted.outer
        fits = scale_that_fits([wanted], 0, [area])
        title = drawing_out(session, drawing).title
        raise Refused(
            f"“{title}” takes {wide:.0f} × {high:.0f} mm with what stands around it; the drawing area “{name}” has"
            f" {area[2] - area[0]:.0f} × {area[3] - area[1]:.0f}."
            + (f" At {scale_text(fits)} it would fit." if fits else ""),
            "area",
        )
    return place


def _found(session: Session, around: SheetsAround, sheet: Sheet, taken: list[Placement], drawing: Drawing) -> Place:
    """The middle of the first free drawing area, else the first free place; on a full sheet its lower left corner."""
    wanted, design = around.drawn_as.wanted(drawing), around.design(sheet)
    full = [around.wanted(p).at((p.x, p.y)) for p in taken] + around.taken(sheet)
    for area in design.area_boxes(size_of(sheet)).values():
        place = centred(wanted, area)
        if place is not None and not any(overlap(area, box) for box in full):
            return place
    for area in [*areas_of(design, size_of(sheet)), design.frame(size_of(sheet))]:
        place = free_place(wanted, area, full)
        if place is not None:
            return place
    return _corner(design, sheet, wanted)


def _corner(design: SheetDesign, sheet: Sheet, wanted: Wanted) -> Place:
    left, base, _, top = design.frame(size_of(sheet))
    return left + wanted.room[0], max(base + wanted.room[1], top - wanted.room[3] - wanted.high)


def _check_free(session: Session, sheet: Sheet, drawing: Drawing, around: SheetsAround) -> None:
    taken = around.on(sheet)
    if any(p.drawing_id == drawing.id for p in taken):
        title = drawing_out(session, drawing).title
        raise Refused(f"“{title}” stands on sheet {sheet.number} already; move it there.", "drawing_id")
    if len(taken) >= MOST_PLACED:
        raise Refused(f"A sheet holds {MOST_PLACED} drawings at most; place this one on another.", "drawing_id")


def _check_trim(session: Session, sheet: Sheet, row: Placement, edit: PlacementEdit) -> None:
    assert edit.trim is not None
    around = SheetsAround(session, sheet.project_id)
    wide, high = around.drawn_as.frame_size(around.drawings[row.drawing_id])
    trim = edit.trim
    if trim.left + trim.right > wide - 1 or trim.base + trim.top > high - 1:
        raise Refused(f"That would leave nothing of the drawing, which is {wide:.0f} × {high:.0f} mm large.", "trim")


def put(session: Session, act: Act, sheet: Sheet, drawing: Drawing, place: Place, numbers: list[str]) -> Placement:
    """A placement of a drawing as part of an act; its home, if it has none yet."""
    assert sheet.id is not None
    assert drawing.id is not None
    settled = session.exec(select(Placement.id).where(col(Placement.drawing_id) == drawing.id)).first()
    number = free_number(numbers)
    row = Placement(project_id=sheet.project_id, sheet_id=sheet.id, drawing_id=drawing.id, number=number,
                    x=place[0], y=place[1], home=settled is None)  # fmt: skip
    act.adds(row)
    return row


def put_all(
    session: Session,
    act: Act,
    sheet: Sheet,
    drawings: list[Drawing],
    places: Sequence[Place | None],
    numbers: list[str],
) -> None:
    """Placements of drawings that have a place, numbered after those that are there."""
    taken = list(numbers)
    for drawing, place in zip(drawings, places, strict=True):
        if place is not None:
            taken.append(put(session, act, sheet, drawing, place, taken).number)


def _move_home(session: Session, act: Act, row: Placement) -> None:
    homes = select(Placement).where(col(Placement.drawing_id) == row.drawing_id, col(Placement.home))
    for other in session.exec(homes).all():
        act.edits(other)
        other.home = False
        session.add(other)
    row.home = True


def _carry_out(
    session: Session, act: Act, sheet: Sheet, moved: list[Placement], new: list[Drawing], places: list[Place | None]
) -> None:
    numbers = [p.number for p in _placements(session, sheet.id or 0)]
    for row, place in zip(moved, places, strict=False):
        if place is not None:
            act.edits(row)
            row.x, row.y = place
            session.add(row)
    put_all(session, act, sheet, new, places[len(moved) :], numbers)


def _number_all(session: Session, act: Act, sheet: Sheet) -> None:
    """Number the drawings of a sheet by reading order."""
    around = SheetsAround(session, sheet.project_id)
    rows = around.on(sheet)
    for n, k in enumerate(reading_order([around.box(p) for p in rows]), 1):
        row = rows[k]
        if row.number != str(n):
            if not any(row is known for known, _, _ in act.rows):
                act.edits(row)
            row.number = str(n)
            session.add(row)


def _left_over(
    session: Session, drawings: list[Drawing], sizes: list[Wanted], k: int, areas: list[Box], taken: list[Box]
) -> LeftOver:
    wide, high = sizes[k].outer
    scale = scale_that_fits(sizes, k, areas, taken)
    says = f"needs {wide:.0f} × {high:.0f} mm"
    says += f"; at {scale_text(scale)} it would fit" if scale else "; no usual scale would fit, use another sheet"
    return LeftOver(drawing=drawings[k].id or 0, title=drawing_out(session, drawings[k]).title, says=says)


def _for_exchange(session: Session, sheet: Sheet, row: Placement, drawing_id: int) -> Drawing | None:
    """The drawing that shall take a place; None where it has it. Raises `Refused`."""
    drawing = drawing_of(session, sheet.project_id, drawing_id)
    if drawing.id == row.drawing_id:
        return None
    if any(p.drawing_id == drawing.id for p in _placements(session, row.sheet_id)):
        title = drawing_out(session, drawing).title
        raise Refused(f"“{title}” stands on sheet {sheet.number} already; exchange it for another one.", "drawing_id")
    return drawing


def _exchange(session: Session, act: Act, row: Placement, drawing: Drawing) -> None:
    """Another drawing in a place; homes stay one for each drawing that stands anywhere."""
    give_home_on(session, act, row)
    settled = session.exec(select(Placement.id).where(col(Placement.drawing_id) == drawing.id)).first()
    row.drawing_id = drawing.id or 0
    row.home = settled is None


def _sheet_of(session: Session, placed: Placement) -> SheetOut:
    sheet = sheet_row(session, placed.sheet_id)
    return as_out(sheet, SheetsAround(session, sheet.project_id))


def _placements(session: Session, sheet_id: int) -> list[Placement]:
    wanted = select(Placement).where(col(Placement.sheet_id) == sheet_id).order_by(col(Placement.id))
    return list(session.exec(wanted).all())
