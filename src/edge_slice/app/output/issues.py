"""Issues: dated releases of sheets, frozen as they were; and what has changed since."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.output.documents import (
    IssueChangesOut,
    IssuedSheetOut,
    IssueNew,
    IssueOut,
    IssuesOut,
    SheetChangeOut,
)
from edge_slice.app.output.exports import File
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.sheet_views import SheetsAround, screen_of
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.project.sheets import scale_of
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import PdfOutput
from edge_slice.core.render.pdf import Page, to_pdf
from edge_slice.core.render.screen import from_screen, to_screen
from edge_slice.core.sheet.comparison import SheetChanges, sheets_compared
from edge_slice.store.blobs import read_chunks, store_bytes
from edge_slice.store.database import reading
from edge_slice.store.tables import Issue, IssuedSheet, Sheet

FIRST_CODE = "P01"
MOVED = 0.05  # mm


def list_issues(project_id: int) -> IssuesOut:
    with reading() as session:
        project_row(session, project_id)
        wanted = select(Issue).where(col(Issue.project_id) == project_id).order_by(col(Issue.id).desc())
        rows = session.exec(wanted).all()
        return IssuesOut(issues=[_out(session, r) for r in rows], next_code=next_code([r.code for r in rows]))


def next_code(codes: list[str]) -> str:
    """The code after the newest one: its last figures counted on."""
    if not codes:
        return FIRST_CODE
    found = re.search(r"\d+(?=\D*$)", codes[0])
    if found is None:
        return f"{codes[0]}2"[:10]
    code = codes[0]
    while code in codes:
        counted = str(int(re.search(r"\d+(?=\D*$)", code)[0]) + 1).zfill(len(found[0]))  # type: ignore[index]
        code = f"{codes[0][: found.start()]}{counted}{codes[0][found.end() :]}"
    return code


def check_code(session: Session, project_id: int, code: str) -> None:
    """Raises `Refused` for a code that an issue of the project has already."""
    wanted = select(Issue).where(col(Issue.project_id) == project_id, col(Issue.code) == code)
    if session.exec(wanted).first() is not None:
        raise Refused(f"There is an issue {code} already; choose another code.", "issue.code")


def freeze(
    session: Session, around: SheetsAround, new: IssueNew, pages: list[tuple[Sheet, bytes, bytes]], pdf_hash: str
) -> int:
    """Keep sheets as they are: each with its picture for the screen and its PDF. The number of the issue."""
    check_code(session, around.project_id, new.code)
    issue = Issue(project_id=around.project_id, revision=around.revision.number, pdf_hash=pdf_hash, **new.model_dump())
    session.add(issue)
    session.flush()
    assert issue.id is not None
    for place, (row, screen, pdf) in enumerate(pages):
        session.add(
            IssuedSheet(
                issue_id=issue.id, sheet_id=row.id or 0, place=place, number=row.number, title=row.title,
                screen_hash=store_bytes(session, screen), pdf_hash=store_bytes(session, pdf),
                content=content_of(around, row),
            )
        )  # fmt: skip
    session.flush()
    return issue.id


def issue_file(issue_id: int) -> File:
    """The PDF of an issue, to the byte as it was issued."""
    with reading() as session:
        issue = _issue(session, issue_id)
        name = f"{project_row(session, issue.project_id).name} {issue.code}"
        return File(f"{plain_name(name)}.pdf", PdfOutput.media_type, b"".join(read_chunks(session, issue.pdf_hash)))


def issued_sheet_file(issued_id: int) -> File:
    """The PDF of one sheet of an issue."""
    with reading() as session:
        row, issue = issued_row(session, issued_id)
        name = plain_name(f"{row.number} {row.title} {issue.code}")
        return File(f"{name}.pdf", PdfOutput.media_type, b"".join(read_chunks(session, row.pdf_hash)))


def issued_screen(issued_id: int) -> bytes:
    """A sheet as it was issued, for the screen."""
    with reading() as session:
        row, _ = issued_row(session, issued_id)
        return b"".join(read_chunks(session, row.screen_hash))


def changes_since(issue_id: int) -> IssueChangesOut:
    """What became of each sheet since an issue, and which sheets are new."""
    with reading() as session:
        issue = _issue(session, issue_id)
        around = SheetsAround(session, issue.project_id)
        now = {s.id: s for s in around.sheets}
        before = {r.sheet_id: r for r in _rows(session, issue_id)}
        found = []
        for row in around.sheets:
            was = before.get(row.id or 0)
            says = differences(was.content, content_of(around, row)) if was is not None else []
            if was is not None and was.number != row.number:
                says.insert(0, f"was {was.number}")
            state = "new" if was is None else "changed" if says else "unchanged"
            found.append(_change(row.id or 0, was, row.number, row.title, state, says))
        for gone in before.values():
            if gone.sheet_id not in now:
                found.append(_change(gone.sheet_id, gone, gone.number, gone.title, "gone", []))
        return IssueChangesOut(code=issue.code, sheets=found)


def state_of_sheets(session: Session, around: SheetsAround, issue_id: int) -> dict[int, str]:
    """What has changed since an issue, in words, by sheet; of unchanged and new ones nothing."""
    before = {r.sheet_id: r for r in _rows(session, issue_id)}
    found = {}
    for row in around.sheets:
        was = before.get(row.id or 0)
        says = differences(was.content, content_of(around, row)) if was is not None else []
        if says:
            found[row.id or 0] = f"sheet {row.number}: {'; '.join(says)}"
    return found


def changes_screen(issued_id: int) -> bytes:
    """A sheet as it is now over what was issued, in the compact form; its head says where it changed (`places`)."""
    with reading() as session:
        found = compared_sheet(session, issued_id)[1]
        return to_screen(found.display, {"places": [list(box) for box in found.places]})


def changes_file(issue_id: int) -> File:
    """All changed sheets over what was issued, as one PDF."""
    with reading() as session:
        issue = _issue(session, issue_id)
        name = f"{project_row(session, issue.project_id).name} since {issue.code}"
    changed = [s for s in changes_since(issue_id).sheets if s.state == "changed" and s.issued_sheet is not None]
    if not changed:
        raise Refused(f"Nothing has changed since {issue.code}; there is nothing to show.")
    pages = []
    with reading() as session:
        for sheet in changed:
            display = compared_sheet(session, sheet.issued_sheet or 0)[1].display
            pages.append(Page(display, display.frame, f"{sheet.number} {sheet.title}"))
    return File(f"{plain_name(name)}.pdf", PdfOutput.media_type, to_pdf(pages, name))


def shifted_since(session: Session, issued_id: int, around: SheetsAround, sheet: Sheet) -> set[int]:
    """The drawings of a sheet that stood elsewhere on it, or had another scale, when it was issued."""
    was = placed_then(issued_row(session, issued_id)[0].content)
    now = placed_then(content_of(around, sheet))
    return {k for k in now if k in was and (_moved(was[k], now[k]) or was[k].scale != now[k].scale)}


def compared_sheet(session: Session, issued_id: int) -> tuple[Sheet, SheetChanges]:
    """A sheet as it is now, over what was issued. Raises `NotFound` where it is gone."""
    row, issue = issued_row(session, issued_id)
    sheet = session.get(Sheet, row.sheet_id)
    if sheet is None:
        raise NotFound(f"Sheet {row.number} is not in the register any more; its issue can still be fetched.")
    before = from_screen(b"".join(read_chunks(session, row.screen_hash)))
    after = from_screen(screen_of(sheet, SheetsAround(session, issue.project_id)))
    return sheet, sheets_compared(before, after)


@dataclass(frozen=True)
class PlacedThen:
    """What an issue keeps of a drawing on a sheet. `box`: what it takes up there, as it is trimmed; `corner`: of its
    frame, mm on its own paper. Issues of before remarks were made on them have neither."""

    title: str
    number: str
    scale: float
    x: float
    y: float
    drawn: str
    box: tuple[float, float, float, float] | None = None
    corner: tuple[float, float] | None = None


def content_of(around: SheetsAround, row: Sheet) -> dict[str, Any]:
    """What stands on a sheet, in words that can be compared."""
    drawings = {}
    for placed in around.on(row):
        drawing = around.drawings[placed.drawing_id]
        left, base, _, _ = around.drawn_as.laid(drawing).frame
        kept = PlacedThen(
            around.title(drawing), placed.number, scale_of(drawing), placed.x, placed.y, around.drawn(drawing),
            around.box(placed), (left, base),
        )  # fmt: skip
        drawings[str(placed.drawing_id)] = kept.__dict__
    fields = {k: v for k, v in row.fields.items() if k not in ("revision", "date")}  # these change by being issued
    design = around.design(row).model_dump_json(exclude={"name"})
    return {"title": row.title, "size": row.size, "design": design, "fields": fields, "drawings": drawings}


def placed_then(content: dict[str, Any]) -> dict[int, PlacedThen]:
    """The drawings of what is kept of a sheet."""
    return {int(number): PlacedThen(**kept) for number, kept in content["drawings"].items()}


def differences(before: dict[str, Any], after: dict[str, Any]) -> list[str]:
    """What changed on a sheet, in words, by what is kept of it."""
    says = []
    for key, said in (("title", "title"), ("size", "size"), ("design", "sheet design"), ("fields", "title block")):
        if before[key] != after[key]:
            says.append(f"{said} changed")
    one, two = placed_then(before), placed_then(after)
    says += [f"“{two[k].title}” added" for k in two if k not in one]
    says += [f"“{one[k].title}” taken off" for k in one if k not in two]
    for number in (k for k in two if k in one):
        says += changes_of(one[number], two[number])
    return says


def _moved(was: PlacedThen, now: PlacedThen) -> bool:
    return abs(was.x - now.x) > MOVED or abs(was.y - now.y) > MOVED


def changes_of(was: PlacedThen, now: PlacedThen) -> list[str]:
    """What became of a drawing on a sheet, in words."""
    said = f"“{now.title}”"
    found = []
    if was.title != now.title:
        found.append(f"{said} was called “{was.title}”")
    if was.number != now.number:
        found.append(f"{said} has number {now.number}, was {was.number}")
    if was.scale != now.scale:
        found.append(f"{said} is {scale_text(now.scale)}, was {scale_text(was.scale)}")
    if _moved(was, now):
        found.append(f"{said} moved")
    if was.drawn != now.drawn and was.scale == now.scale:
        found.append(f"{said} drawn otherwise")
    return found


def _change(
    sheet: int, was: IssuedSheet | None, number: str, title: str, state: Any, says: list[str]
) -> SheetChangeOut:
    issued = was.id if was is not None else None
    return SheetChangeOut(sheet_id=sheet, issued_sheet=issued, number=number, title=title, state=state, says=says)


def _issue(session: Session, issue_id: int) -> Issue:
    row = session.get(Issue, issue_id)
    if row is None:
        raise NotFound("There is no such issue.")
    return row


def issued_row(session: Session, issued_id: int) -> tuple[IssuedSheet, Issue]:
    row = session.get(IssuedSheet, issued_id)
    if row is None:
        raise NotFound("There is no such issued sheet.")
    return row, _issue(session, row.issue_id)


def _rows(session: Session, issue_id: int) -> list[IssuedSheet]:
    wanted = select(IssuedSheet).where(col(IssuedSheet.issue_id) == issue_id).order_by(col(IssuedSheet.place))
    return list(session.exec(wanted).all())


def _out(session: Session, row: Issue) -> IssueOut:
    assert row.id is not None
    there = set(session.exec(select(Sheet.id).where(col(Sheet.project_id) == row.project_id)).all())
    sheets = [
        IssuedSheetOut(id=s.id or 0, sheet_id=s.sheet_id, number=s.number, title=s.title, there=s.sheet_id in there)
        for s in _rows(session, row.id)
    ]
    fields = row.model_dump(include={"project_id", "code", "date", "purpose", "issued_by", "revision"})
    return IssueOut(id=row.id, sheets=sheets, **fields)
