"""The register: sheets renumbered and put in order, and the list of them as a table for others."""

from __future__ import annotations

import csv
import io

from sqlmodel import Session

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.documents import Renumbered, RenumberOut, RenumberWanted, Reordered, SheetOut
from edge_slice.app.sheets.numbered_sheets import as_out, check_folder
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.project.documents import SheetFields
from edge_slice.core.project.sheets import folder_of
from edge_slice.core.tables.files import harmless
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Sheet

COLUMNS = ("Number", "Title", "Folder", "Size", "Scale", "Revision", "Date", "Drawn", "Checked", "Drawings")


def renumber(project_id: int, wanted: RenumberWanted, author: str) -> RenumberOut:
    """What numbers sheets would get in this order, counting in each folder; in one act where told to apply it."""
    with transaction() as session:
        project_row(session, project_id)
        around = SheetsAround(session, project_id)
        chosen = _chosen(around, wanted.sheets)
        after = _numbered(around, chosen, wanted.start)
        kept = {s.number: s for s in around.sheets if s not in chosen}
        clash = next((n for n in after.values() if n in kept), None)
        if clash is not None:
            raise Refused(
                f"Number {clash} is that of “{kept[clash].title}”, which is not among these; choose it too or start at"
                " another number.",
                "start",
            )
        led_to = _led_to(around)
        says = [_renumbered(around, led_to, row, after[row.id or 0]) for row in chosen]
        changed = [row for row in chosen if row.number != after[row.id or 0]]
        if wanted.apply and changed:
            with recorded(session, project_id, f"renumber {len(changed)} sheets", author) as act:
                for row in changed:
                    act.edits(row)
                    row.number = after[row.id or 0]
                    session.add(row)
        return RenumberOut(sheets=says, applied=wanted.apply)


def reorder(project_id: int, wanted: Reordered, author: str) -> list[SheetOut]:
    """Put the sheets of a folder in an order."""
    with transaction() as session:
        project_row(session, project_id)
        around = SheetsAround(session, project_id)
        check_folder(around.register, wanted.folder)
        chosen = _chosen(around, wanted.sheets)
        rest = [s for s in around.sheets if folder_of(around.register, s) == wanted.folder and s not in chosen]
        with recorded(session, project_id, "order of sheets", author) as act:
            for place, row in enumerate([*chosen, *rest], 1):
                if row.place != place or row.folder != wanted.folder:
                    act.edits(row)
                    row.place, row.folder = float(place), wanted.folder
                    session.add(row)
        newer = SheetsAround(session, project_id)
        return [as_out(row, newer) for row in newer.sheets]


def register_csv(project_id: int) -> bytes:
    """The register as CSV (RFC 4180, UTF-8 with a mark so that spreadsheets read it as such). A cell that these would
    run as a formula begins with an apostrophe."""
    with reading() as session:
        project_row(session, project_id)
        around = SheetsAround(session, project_id)
        stream = io.StringIO()
        table = csv.writer(stream)
        table.writerow(COLUMNS)
        for row in around.sheets:
            table.writerow([harmless(cell) for cell in _cells(session, around, row)])
    return stream.getvalue().encode("utf-8-sig")


def _cells(session: Session, around: SheetsAround, row: Sheet) -> list[str]:
    placed = around.on(row)
    scales = sorted({DrawingSpec.model_validate(around.drawings[p.drawing_id].style).scale for p in placed})
    fields = SheetFields.model_validate(row.fields)
    issued = around.issued.get(row.id or 0, ())
    folder = around.register.folder(folder_of(around.register, row)).name
    return [
        row.number, row.title, folder, row.size, ", ".join(scale_text(s) for s in scales), around.revision_of(row),
        issued[0].date if issued else fields.date, fields.drawn, fields.checked, str(len(placed)),
    ]  # fmt: skip


def _chosen(around: SheetsAround, wanted: list[int]) -> list[Sheet]:
    mine = {s.id: s for s in around.sheets}
    if any(number not in mine for number in wanted):
        raise NotFound("One of these sheets is not there any more; open the register again.")
    return [mine[number] for number in dict.fromkeys(wanted)]


def _numbered(around: SheetsAround, chosen: list[Sheet], start: int) -> dict[int, str]:
    counters: dict[str, int] = {}
    after: dict[int, str] = {}
    try:
        for row in chosen:
            key = folder_of(around.register, row)
            counter = counters.get(key, start)
            after[row.id or 0] = around.register.number(key, counter)
            counters[key] = counter + 1
    except ValueError as error:
        raise Refused(f"The register has no number for one of these: {error}.", "start") from error
    doubled = next((n for n in after.values() if list(after.values()).count(n) > 1), None)
    if doubled is not None:
        raise Refused(
            f"Two of these would be {doubled}: their folders begin alike. Give the folders series of their own.",
            "sheets",
        )
    return after


def _led_to(around: SheetsAround) -> list[set[int]]:
    """The drawings that the markers of each drawing lead to."""
    return [
        {m.drawing for m in around.drawn_as.markers(d)} | {c.target for c in around.drawn_as.callouts(d)}
        for d in around.drawings.values()
    ]


def _renumbered(around: SheetsAround, led_to: list[set[int]], row: Sheet, after: str) -> Renumbered:
    homes = {p.drawing_id for p in around.on(row) if p.home}
    markers = sum(bool(targets & homes) for targets in led_to)
    return Renumbered(
        sheet=row.id or 0,
        title=row.title,
        before=row.number,
        after=after,
        drawings=len(around.on(row)),
        markers=markers,
    )
