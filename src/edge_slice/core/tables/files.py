"""Tables as files: CSV and XLSX (openpyxl) out, and own columns in again from XLSX."""

from __future__ import annotations

import csv
import io
import zipfile
from dataclasses import dataclass

import openpyxl
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.utils.exceptions import InvalidFileException

from edge_slice.core.tables.content import TableContent, WrongTable
from edge_slice.core.tables.documents import TableDocument

ROW_HEAD = "Row"  # of the hidden first column, by which rows are known again
FORMULA = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet takes a cell for a formula by
MOST_BYTES = 20_000_000
MOST_ROWS = 100_000
WIDEST = 60


def to_csv(content: TableContent) -> bytes:
    """UTF-8 with a byte order mark, as spreadsheets want it; what is grouped stands in the columns, without totals."""
    stream = io.StringIO()
    writer = csv.writer(stream)
    shown = _shown(content)
    writer.writerow([content.spec.columns[k].head for k in shown])
    for line in content.lines:
        if line.what == "row":
            writer.writerow([_plain(line.cells[k].text) for k in shown])
    return stream.getvalue().encode("utf-8-sig")


def to_xlsx(content: TableContent) -> bytes:
    """Numbers as numbers, lengths in metres as the model has them; the first column, hidden, says which row it is."""
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "".join(c for c in content.spec.name if c not in "[]:*?/\\")[:31] or "Table"
    shown = _shown(content)
    sheet.append([ROW_HEAD, *(_headed(content, k) for k in shown)])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    for line in content.lines:
        values = [
            line.cells[k].number
            if content.units[k] and line.cells[k].number is not None
            else _plain(line.cells[k].text)
            for k in shown
        ]
        sheet.append([line.target, *values])
        if line.what != "row":
            for cell in sheet[sheet.max_row]:
                cell.font = Font(bold=True)
    sheet.column_dimensions["A"].hidden = True
    for n, k in enumerate(shown):
        longest = max((len(line.cells[k].text) for line in content.lines if line.what == "row"), default=0)
        wide = min(max(longest, len(content.spec.columns[k].head) * 0.7, 6) + 2, WIDEST)
        sheet.column_dimensions[get_column_letter(n + 2)].width = wide
    sheet.freeze_panes = "B2"
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def _shown(content: TableContent) -> list[int]:
    return [k for k, column in enumerate(content.spec.columns) if column.shows != "picture"]


def _headed(content: TableContent, k: int) -> str:
    unit = {"length": " (m)", "height": " (m)", "area": " (m²)", "volume": " (m³)"}.get(content.units[k], "")
    return content.spec.columns[k].head + unit


def harmless(text: str) -> str:
    """A text that no spreadsheet runs as a formula (OWASP, CSV injection): after an apostrophe where it would."""
    return f"'{text}" if text.startswith(FORMULA) else text


def _plain(text: str) -> str:
    """The same of cells that may be numbers, which stay."""
    return text if text[1:].replace(".", "", 1).isdigit() else harmless(text)


@dataclass(frozen=True)
class OwnChange:
    """A cell of an own column that a file has otherwise."""

    column: str
    target: str
    before: str
    after: str


def own_changes(data: bytes, document: TableDocument, targets: set[str]) -> tuple[list[OwnChange], list[str]]:
    """What an XLSX file has otherwise in own columns, and what was not understood, in words. Raises `WrongTable` for a
    file that is none, or not of a table."""
    rows = _rows(data)
    head = [str(h or "").strip() for h in next(iter(rows), [])]
    if not head or head[0] != ROW_HEAD:
        raise WrongTable(f"The first column is not “{ROW_HEAD}”: send a file that was made from this table.")
    own = [c for c in document.spec.columns if c.shows == "own"]
    at = {c.key: head.index(c.head) for c in own if c.head in head}
    if not at:
        raise WrongTable("The file has none of the table's own columns; only these are taken.")
    notes = [f"Column “{c.head}” is not in the file; it stays." for c in own if c.key not in at]
    changes, unknown, seen = [], 0, set[str]()
    for row in rows[1:]:
        target = str(row[0] or "")
        if not target:
            continue
        if target not in targets or target in seen:
            unknown += 1
            continue
        seen.add(target)
        for key, place in at.items():
            after = _said(row[place] if place < len(row) else None)
            before = document.own.get(key, {}).get(target, "")
            if after != before:
                changes.append(OwnChange(key, target, before, after))
    if unknown:
        notes.append(f"{unknown} rows of the file are not in the table, or there twice; they are left.")
    return changes, notes


def _rows(data: bytes) -> list[list[object]]:
    if len(data) > MOST_BYTES:
        raise WrongTable("The file is larger than 20 MB; a table never is.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > 10 * MOST_BYTES:
                raise WrongTable("The file unpacks to more than a table ever holds.")
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        found: list[list[object]] = []
        for row in sheet.iter_rows(values_only=True):
            found.append(list(row))
            if len(found) > MOST_ROWS:
                raise WrongTable(f"The file has more than {MOST_ROWS} rows.")
        return found
    except WrongTable:
        raise
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError, OSError, IndexError, TypeError) as error:
        raise WrongTable("This is not an XLSX file that can be read; save it as XLSX and send it again.") from error


def _said(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value):
        return str(int(value))
    text = str(value).strip()
    return text[1:] if text.startswith("'") else text
