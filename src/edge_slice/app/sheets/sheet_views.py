"""Sheets as they look: what they depend on, read once for all of a project, and the whole sheet for the screen."""

from __future__ import annotations

import struct

from sqlmodel import Session, col, select

from edge_slice.app.drawings.drawing_rows import homes_as_said
from edge_slice.app.errors import NotFound
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.documents import SheetPictures
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.drawing import DisplayList, DrawingSpec
from edge_slice.core.project.documents import SheetFields
from edge_slice.core.project.sheets import Sheets
from edge_slice.core.project.shown import key_of
from edge_slice.core.render.screen import to_screen
from edge_slice.core.sheet import SheetDesign
from edge_slice.store.database import reading
from edge_slice.store.kept import kept
from edge_slice.store.tables import Drawing, Placement, Sheet


def sheet_row(session: Session, sheet_id: int) -> Sheet:
    row = session.get(Sheet, sheet_id)
    if row is None:
        raise NotFound("This sheet is not there any more.")
    return row


class SheetsAround(Sheets[Sheet, Placement, Drawing]):
    """The sheets of a project of the database, for one transaction, with names for what they look like."""

    def __init__(self, session: Session, project_id: int) -> None:
        project, self.project_id, self.session = project_row(session, project_id), project_id, session
        placed = select(Placement).where(col(Placement.project_id) == project_id)
        sheets = session.exec(select(Sheet).where(col(Sheet.project_id) == project_id)).all()
        placements = session.exec(placed.order_by(col(Placement.stack), col(Placement.id))).all()
        self.keys = ViewKeys(session, project_id, homes_as_said(session, project_id))
        self.revision = self.keys.revision
        super().__init__(self.keys.drawings, sheets, placements, self.keys.source.drawings())
        # the model beside: a sheet shows its north, also where nothing stands on it
        self._common = repr((project.name, project.client, project.lengths, self.keys.source.geometry))

    def picture(self, row: Sheet) -> str:
        """Another text whenever the sheet looks different."""
        placed = self.on(row)
        shown = [self.drawings[p.drawing_id] for p in placed]
        design = self.design(row)
        fields = SheetFields.model_validate(row.fields).model_dump_json()  # in one order, however the row was read
        said = [self._common, repr((row.id, row.number, row.title, row.size)), fields]
        said += [design.model_dump_json(), repr(self.issued.get(row.id or 0, ())), self.folder_name(row)]
        said.append(f"{self.order[row.id]}/{len(self.sheets)}")
        kinds = {p.kind for p in design.parts}
        said.append(repr(self.listed) if "sheet list" in kinds else "")
        said.append(repr(self.drawings_listed) if "drawing list" in kinds else "")
        said.append(self.tables.said(row))
        said += [repr((p.id, p.number, p.x, p.y, p.trim, p.title)) for p in placed]
        said += [self.drawn(d) for d in shown]
        return key_of(*said)

    def drawn(self, drawing: Drawing) -> str:
        """Another text whenever a drawing looks different, its title and markers included."""
        found = self.keys.followed.found(drawing)
        return key_of(
            repr((drawing.letter, drawing.name, self.title(drawing))),
            self.keys.of(found, DrawingSpec.model_validate(drawing.style), drawing.id),
            repr(self.drawn_as.markers(drawing)),
            repr([(c.source, c.upper, c.lower) for c in self.drawn_as.callouts(drawing)]),
            repr(self.drawn_as.called_from(drawing)),
            self.keys.annotated.get(drawing.id or 0, ""),
        )


def sheet_display(session: Session, row: Sheet) -> DisplayList:
    """The whole sheet as it is printed."""
    return SheetsAround(session, row.project_id).display(row)


def sheet_screen(sheet_id: int) -> bytes:
    with reading() as session:
        row = sheet_row(session, sheet_id)
        return screen_of(row, SheetsAround(session, row.project_id))


def design_screen(sheet_id: int, design: SheetDesign) -> bytes:
    """A sheet by a design that is not saved, for the screen."""
    with reading() as session:
        row = sheet_row(session, sheet_id)
        return to_screen(SheetsAround(session, row.project_id).display(row, design), {})


def sheet_screens(project_id: int, wanted: SheetPictures) -> bytes:
    """Several sheets for the screen, in the order in which they are asked for: each with its length (uint32, little
    endian) before it; length 0 for one that is not there."""
    with reading() as session:
        project_row(session, project_id)
        around = SheetsAround(session, project_id)
        mine = {s.id: s for s in around.sheets}
        found = [screen_of(mine[number], around) if number in mine else b"" for number in wanted.ids]
    return b"".join(struct.pack("<I", len(data)) + data for data in found)


def screen_of(row: Sheet, around: SheetsAround) -> bytes:
    """A sheet for the screen."""
    key = key_of("sheet", around.picture(row))
    return kept(around.session, around.project_id, key, lambda: to_screen(around.display(row), {}))
