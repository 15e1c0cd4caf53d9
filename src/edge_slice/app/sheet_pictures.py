"""Sheets as they look: what they depend on, read once for all of a project, and the whole sheet as it is printed."""

from __future__ import annotations

import struct
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import cast

from sqlmodel import Session, col, select

from edge_slice.app.boards import drawing_display
from edge_slice.app.callouts import called_from
from edge_slice.app.drawings import project_drawings, title_of
from edge_slice.app.errors import NotFound
from edge_slice.app.markers import bubble_texts, crossings_of
from edge_slice.app.models import load_model, newest_revision, written
from edge_slice.app.projects import project_row
from edge_slice.app.recent import Recent
from edge_slice.app.sheet_designs import design_for
from edge_slice.app.sheet_documents import PlacementTitle, SheetFields, SheetPictures, Trim
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
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.model import Model
from edge_slice.core.render.screen import to_screen
from edge_slice.core.sheet import (
    IssuedRow,
    KeyOutline,
    ListedDrawing,
    ListedSheet,
    PlacedDrawing,
    SheetDesign,
    SheetSize,
    SheetSpec,
    TitleStyle,
    compose_sheet,
    trimmed_box,
)
from edge_slice.core.sheet.key_plan import F64, building_outline, key_outline
from edge_slice.core.sheet.numbering import Register
from edge_slice.store.blobs import read_chunks
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing, Issue, IssuedSheet, Placement, Revision, Sheet

_outlines: Recent[tuple[F64, ...]] = Recent(8)  # by geometry


def sheet_row(session: Session, sheet_id: int) -> Sheet:
    row = session.get(Sheet, sheet_id)
    if row is None:
        raise NotFound("This sheet is not there any more.")
    return row


def size_of(row: Sheet) -> SheetSize:
    return cast(SheetSize, row.size)


def scale_of(row: Drawing) -> float:
    return DrawingSpec.model_validate(row.style).scale


def folder_of(register: Register, row: Sheet) -> str:
    """The folder of a sheet: the one that it was put into, else the one that its number belongs to, else the first."""
    keys = [f.key for f in register.folders]
    if row.folder in keys:
        return row.folder
    return next((k for k in keys if register.counter(k, row.number) is not None), keys[0])


def in_order(register: Register, rows: list[Sheet]) -> list[Sheet]:
    """Sheets as the register has them."""
    keys = [f.key for f in register.folders]
    return sorted(rows, key=lambda r: (keys.index(folder_of(register, r)), r.place, r.number))


@dataclass(frozen=True)
class SheetsAround:
    """What the sheets of a project depend on, read once for all of them."""

    session: Session
    project_id: int
    revision: Revision
    model: Model
    register: Register
    sheets: list[Sheet]
    drawings: dict[int, Drawing]
    placements: dict[int, list[Placement]]
    crossings: Crossings
    keys: ViewKeys
    common: str
    issued: dict[int, tuple[IssuedRow, ...]] = field(repr=False)

    @staticmethod
    def of(session: Session, project_id: int) -> SheetsAround:
        revision, project = newest_revision(session, project_id), project_row(session, project_id)
        placements: dict[int, list[Placement]] = {}
        rows = select(Placement).where(col(Placement.project_id) == project_id)
        for placed in session.exec(rows.order_by(col(Placement.stack), col(Placement.id))).all():
            placements.setdefault(placed.sheet_id, []).append(placed)
        drawings = project_drawings(session, project_id)
        register = Register.model_validate(project.sheet_register)
        sheets = list(session.exec(select(Sheet).where(col(Sheet.project_id) == project_id)).all())
        return SheetsAround(
            session,
            project_id,
            revision,
            load_model(session, revision),
            register,
            in_order(register, sheets),
            {d.id or 0: d for d in drawings},
            placements,
            crossings_of(session, project_id, drawings),
            ViewKeys(session, project_id, bubble_texts(session, project_id)),
            repr((project.name, project.client, project.lengths)),
            issued_rows(session, project_id),
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

    def title(self, drawing: Drawing) -> str:
        return title_of(drawing, self.keys)

    def whole_box(self, placed: Placement) -> Box:
        wide, high = self.frame_size(self.drawings[placed.drawing_id])
        return (placed.x, placed.y, placed.x + wide, placed.y + high)

    def box(self, placed: Placement) -> Box:
        return trimmed_box(self.whole_box(placed), trim_of(placed))

    def on(self, row: Sheet) -> list[Placement]:
        """The placements of a sheet, the one on top last."""
        return self.placements.get(row.id or 0, [])

    def design(self, row: Sheet) -> SheetDesign:
        return design_for(self.session, self.project_id, row.design)

    def markers(self, drawing: Drawing) -> tuple[Marker, ...]:
        style = DrawingSpec.model_validate(drawing.style)
        shown = standard_for(self.session, drawing.project_id, style.standard).marked(style)
        return self.crossings.on(self.model, drawing.id or 0, self.keys.followed.cut_of(drawing), shown)

    def callouts(self, drawing: Drawing) -> tuple[CalloutMark, ...]:
        cut, style = self.keys.followed.cut_of(drawing), DrawingSpec.model_validate(drawing.style)
        return self.keys.callouts_on(drawing.id, cut, style)

    @cached_property
    def _order(self) -> dict[int | None, int]:
        return {s.id: k for k, s in enumerate(self.sheets)}

    @cached_property
    def listed(self) -> tuple[ListedSheet, ...]:
        """The register as sheets show it."""
        return tuple(ListedSheet(s.number, s.title, self.revision_of(s), f"sheet:{s.id}") for s in self.sheets)

    @cached_property
    def drawings_listed(self) -> tuple[ListedDrawing, ...]:
        """All drawings at their homes, in the order of the register."""
        found = []
        for sheet in self.sheets:
            for placed in sorted((p for p in self.on(sheet) if p.home), key=lambda p: (len(p.number), p.number)):
                drawing = self.drawings[placed.drawing_id]
                number, scale = f"{placed.number}/{sheet.number}", scale_text(scale_of(drawing))
                found.append(ListedDrawing(number, self.title(drawing), scale, f"drawing:{drawing.id}"))
        return tuple(found)

    def revision_of(self, row: Sheet) -> str:
        """The code of the newest issue that a sheet was in, before that what was typed."""
        rows = self.issued.get(row.id or 0, ())
        return rows[0].code if rows else SheetFields.model_validate(row.fields).revision

    def key_plan(self, row: Sheet) -> KeyOutline:
        outline = _outlines.get(self.revision.geometry_hash, lambda: building_outline(self.model))
        cuts = [self.keys.followed.cut_of(self.drawings[p.drawing_id]) for p in self.on(row)]
        return key_outline(self.model, outline, cuts)

    def picture(self, row: Sheet) -> str:
        """Another text whenever the sheet looks different."""
        placed = self.on(row)
        shown = [self.drawings[p.drawing_id] for p in placed]
        design = self.design(row)
        said = [self.common, repr((row.id, row.number, row.title, row.size, sorted(row.fields.items())))]
        said += [design.model_dump_json(), repr(self.issued.get(row.id or 0, ())), folder_of(self.register, row)]
        said.append(f"{self._order[row.id]}/{len(self.sheets)}")
        kinds = {p.kind for p in design.parts}
        said.append(repr(self.listed) if "sheet list" in kinds else "")
        said.append(repr(self.drawings_listed) if "drawing list" in kinds else "")
        said += [repr((p.id, p.number, p.x, p.y, p.trim, p.title)) for p in placed]
        said += [self.drawn(d) for d in shown]
        return key_of(*said)

    def drawn(self, drawing: Drawing) -> str:
        """Another text whenever a drawing looks different, its title and markers included."""
        cut = self.keys.followed.cut_of(drawing)
        return key_of(
            repr((drawing.letter, drawing.name)),
            self.keys.of(cut, DrawingSpec.model_validate(drawing.style), drawing.id),
            repr(self.markers(drawing)),
            repr([(c.source, c.upper, c.lower) for c in self.callouts(drawing)]),
            repr(called_from(self.session, drawing)),
            self.keys.annotated.get(drawing.id or 0, ""),
        )

    def with_issue(self, sheets: set[int], row: IssuedRow) -> SheetsAround:
        """The same once these sheets were issued."""
        issued = {**self.issued, **{s: (row, *self.issued.get(s, ())) for s in sheets}}
        return replace(self, issued=issued)

    def display(self, row: Sheet, design: SheetDesign | None = None) -> DisplayList:
        """The whole sheet as it is printed, by a `design` that is not saved if one is given."""
        project = project_row(self.session, self.project_id)
        north = self.revision.facts["north"]
        design = design or self.design(row)
        kinds = {p.kind for p in design.parts}
        pictures = {p.picture: b"".join(read_chunks(self.session, p.picture)) for p in design.parts if p.kind == "logo"}
        spec = SheetSpec(
            number=row.number, title=row.title, size=size_of(row), project=project.name, client=project.client,
            north=(north[0], north[1]), folder=self.register.folder(folder_of(self.register, row)).name,
            sheet=self._order[row.id] + 1, sheets=len(self.sheets), lengths=written(project), design=design,
            issued=self.issued.get(row.id or 0, ()), register=self.listed,
            drawings=self.drawings_listed if "drawing list" in kinds else (),
            key=self.key_plan(row) if "key plan" in kinds else None, pictures=pictures,
            **SheetFields.model_validate(row.fields).model_dump(),
        )  # fmt: skip
        return compose_sheet(spec, tuple(self._placed(p) for p in self.on(row)), default_standard())

    def _placed(self, placed: Placement) -> PlacedDrawing:
        drawing = self.drawings[placed.drawing_id]
        return PlacedDrawing(
            placed.drawing_id, placed.id or 0, placed.number, self.title(drawing), scale_of(drawing),
            drawing_display(self.session, drawing), placed.x, placed.y, called_from(self.session, drawing),
            trim_of(placed), TitleStyle(**PlacementTitle.model_validate(placed.title).model_dump()),
        )  # fmt: skip


def trim_of(placed: Placement) -> Box:
    trim = Trim.model_validate(placed.trim)
    return (trim.left, trim.base, trim.right, trim.top)


def issued_rows(session: Session, project_id: int) -> dict[int, tuple[IssuedRow, ...]]:
    """The rows of revision tables by sheet, the newest issue first."""
    wanted = (
        select(IssuedSheet.sheet_id, Issue)
        .where(col(Issue.project_id) == project_id, col(IssuedSheet.issue_id) == col(Issue.id))
        .order_by(col(Issue.id).desc())
    )
    found: dict[int, tuple[IssuedRow, ...]] = {}
    for sheet, issue in session.exec(wanted).all():
        row = IssuedRow(issue.code, issue.date, issue.purpose, issue.issued_by)
        found[sheet] = (*found.get(sheet, ()), row)
    return found


def sheet_display(session: Session, row: Sheet) -> DisplayList:
    """The whole sheet as it is printed."""
    return SheetsAround.of(session, row.project_id).display(row)


def sheet_screen(sheet_id: int) -> bytes:
    with transaction() as session:
        row = sheet_row(session, sheet_id)
        return screen_of(row, SheetsAround.of(session, row.project_id))


def design_screen(sheet_id: int, design: SheetDesign) -> bytes:
    """A sheet by a design that is not saved, for the screen."""
    with transaction() as session:
        row = sheet_row(session, sheet_id)
        return to_screen(SheetsAround.of(session, row.project_id).display(row, design), {})


def sheet_screens(project_id: int, wanted: SheetPictures) -> bytes:
    """Several sheets for the screen, in the order in which they are asked for: each with its length (uint32, little
    endian) before it; length 0 for one that is not there."""
    with transaction() as session:
        project_row(session, project_id)
        around = SheetsAround.of(session, project_id)
        mine = {s.id: s for s in around.sheets}
        found = [screen_of(mine[number], around) if number in mine else b"" for number in wanted.ids]
    return b"".join(struct.pack("<I", len(data)) + data for data in found)


def screen_of(row: Sheet, around: SheetsAround) -> bytes:
    """A sheet for the screen."""
    key = key_of("sheet", around.picture(row))
    return cached(around.session, key, lambda: to_screen(around.display(row), {}))
