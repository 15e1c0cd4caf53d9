"""Tables as CSV and XLSX, and own columns read in again."""

from __future__ import annotations

import csv
import io
import zipfile

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.tables.content import WrongTable, content_of
from edge_slice.core.tables.documents import TableDocument, TableSpec
from edge_slice.core.tables.files import own_changes, to_csv, to_xlsx
from edge_slice.core.tables.rows import TableRow

ROWS = [
    TableRow(f"element:{k}", {"name": f"Door {k}", "width": 0.9 + k / 10, "count": 1.0, "mark": f"D{k}"})
    for k in range(4)
]
TARGETS = {r.target for r in ROWS}
SPEC = TableSpec.model_validate({
    "name": "Doors: all [of] them", "kind": "doors",
    "columns": [
        {"key": "mark", "head": "Mark", "name": "mark"},
        {"key": "picture", "head": "Front", "shows": "picture", "name": "front"},
        {"key": "width", "head": "Width", "name": "width"},
        {"key": "count", "head": "Number", "name": "count", "total": "sum"},
        {"key": "fire", "head": "Fire rating", "shows": "own"},
    ],
})  # fmt: skip


def book(data: bytes) -> list[list[object]]:
    return [list(row) for row in openpyxl.load_workbook(io.BytesIO(data)).worksheets[0].iter_rows(values_only=True)]


def test_a_spreadsheet_has_numbers_in_metres_a_total_and_no_pictures() -> None:
    document = TableDocument(spec=SPEC, own={"fire": {"element:2": "E 30"}})
    rows = book(to_xlsx(content_of(document, ROWS)))
    assert rows[0] == ["Row", "Mark", "Width (m)", "Number", "Fire rating"]
    assert rows[3] == ["element:2", "D2", pytest.approx(1.1), 1, "E 30"]
    assert rows[5][3] == 4


def test_csv_has_the_rows_alone_and_nothing_that_a_spreadsheet_would_run() -> None:
    document = TableDocument(spec=SPEC, own={"fire": {"element:1": "=1+1", "element:2": "-5", "element:3": "@x"}})
    data = to_csv(content_of(document, ROWS))
    assert data.startswith(b"\xef\xbb\xbf")
    rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"))))
    assert len(rows) == 5
    assert [row[-1] for row in rows[1:]] == ["", "'=1+1", "-5", "'@x"]


@given(st.dictionaries(st.sampled_from(sorted(TARGETS)), st.text(max_size=30).map(str.strip)))
def test_what_goes_out_and_comes_back_is_no_change(typed: dict[str, str]) -> None:
    clean = {k: "".join(c for c in v if c.isprintable()).strip().lstrip("'") for k, v in typed.items()}
    document = TableDocument(spec=SPEC, own={"fire": {k: v for k, v in clean.items() if v}})
    assert own_changes(to_xlsx(content_of(document, ROWS)), document, TARGETS) == ([], [])


def test_cells_that_were_changed_come_back_with_what_stood_there() -> None:
    document = TableDocument(spec=SPEC, own={"fire": {"element:2": "E 30"}})
    opened = openpyxl.load_workbook(io.BytesIO(to_xlsx(content_of(document, ROWS))))
    sheet = opened.worksheets[0]
    sheet["E4"], sheet["E2"], sheet["C2"] = None, 60, 99
    sheet.append(["element:77", "D77", 1, 1, "E 90"])
    stream = io.BytesIO()
    opened.save(stream)
    changes, notes = own_changes(stream.getvalue(), document, TARGETS)
    assert [(c.target, c.before, c.after) for c in changes] == [("element:0", "", "60"), ("element:2", "E 30", "")]
    assert notes == ["1 rows of the file are not in the table, or there twice; they are left."]


def zipped(size: int) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", b"0" * size)
    return stream.getvalue()


@pytest.mark.parametrize("data", [b"", b"Mark;Width\nD1;2", b"PK\x03\x04 broken", zipped(10), zipped(300_000_000)])
def test_what_is_no_spreadsheet_is_refused(data: bytes) -> None:
    with pytest.raises(WrongTable):
        own_changes(data, TableDocument(spec=SPEC), TARGETS)


def test_a_spreadsheet_of_something_else_is_refused() -> None:
    other = openpyxl.Workbook()
    other.worksheets[0].append(["Row", "Mark"])
    stream = io.BytesIO()
    other.save(stream)
    with pytest.raises(WrongTable, match="none of the table's own columns"):
        own_changes(stream.getvalue(), TableDocument(spec=SPEC), TARGETS)
    other.worksheets[0]["A1"] = "Id"
    other.save(stream := io.BytesIO())
    with pytest.raises(WrongTable, match="first column"):
        own_changes(stream.getvalue(), TableDocument(spec=SPEC), TARGETS)
