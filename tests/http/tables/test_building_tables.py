"""Tables of the building over HTTP: made, filled, changed, on sheets, as files, in project files."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import openpyxl
import pytest

from tests.http.sheets.test_sheets import add_sheet
from tests.installation import Installation


def add(app: Installation, project: int, kind: str, name: str = "", of: str = "") -> dict:
    body = {"name": name or kind, "kind": kind, "of": of}
    made = app.call("POST", f"/api/projects/{project}/tables", body)
    assert made.status == 201, made.body
    return made.json


def read(app: Installation, table: dict) -> dict:
    return app.call("GET", f"/api/tables/{table['id']}/content").json


def with_columns(app: Installation, table: dict, *columns: dict) -> dict:
    spec = {**table["spec"], "columns": [*table["spec"]["columns"], *columns]}
    answer = app.call("PATCH", f"/api/tables/{table['id']}", {"version": table["version"], "spec": spec})
    assert answer.status == 200, answer.body
    return answer.json


def put_on(app: Installation, sheet: dict, *places: dict) -> dict:
    fields = {**sheet["fields"], "tables": list(places)}
    answer = app.call("PATCH", f"/api/sheets/{sheet['id']}", {"version": sheet["version"], "fields": fields})
    assert answer.status == 200, answer.body
    return answer.json


REMARK = {"key": "remark", "head": "Remark", "shows": "own"}


def test_a_table_is_made_filled_changed_and_undone(installation: Installation, hut_project: int) -> None:
    app = installation
    kinds = app.call("GET", f"/api/projects/{hut_project}/table-kinds").json
    walls = next(k["count"] for k in kinds if k["kind"] == "walls")
    table = add(app, hut_project, "walls")
    content = read(app, table)
    assert content["count"] == walls > 0
    target = next(line["target"] for line in content["lines"] if line["what"] == "row")
    area = {"key": "twice", "head": "Twice", "shows": "formula", "name": "net_area * 2", "total": "sum"}
    table = with_columns(app, table, REMARK, area)
    typed = {"cells": [{"column": "remark", "target": target, "text": "exposed"}]}
    assert app.call("POST", f"/api/tables/{table['id']}/cells", typed).status == 200
    content = read(app, table)
    row = next(line for line in content["lines"] if line["target"] == target)
    assert row["cells"][-2] == "exposed"
    net = next(k for k, c in enumerate(content["spec"]["columns"]) if c["key"] == "net_area")
    assert float(row["cells"][-1]) == pytest.approx(2 * float(row["cells"][net]), abs=0.02)
    app.call("POST", f"/api/projects/{hut_project}/undo")
    row = next(line for line in read(app, table)["lines"] if line["target"] == target)
    assert row["cells"][-2] == ""


def test_edits_are_of_the_newest_state_and_mean_something(installation: Installation, hut_project: int) -> None:
    app = installation
    table = add(app, hut_project, "walls", "Walls")
    url = f"/api/tables/{table['id']}"
    with_columns(app, table, REMARK)
    stale = app.call("PATCH", url, {"version": table["version"], "spec": table["spec"]})
    assert stale.status == 409
    now = stale.json["current"]
    for column, words in (
        ({"key": "x", "head": "X", "shows": "property", "name": "Pset: None"}, "has a property"),
        ({"key": "x", "head": "X", "shows": "formula", "name": "net_area *"}, "can't be read"),
        ({"key": "x", "head": "X", "name": "colour"}, "no field"),
    ):
        spec = {**now["spec"], "columns": [*now["spec"]["columns"], column]}
        answer = app.call("PATCH", url, {"version": now["version"], "spec": spec})
        assert answer.status == 422
        assert words in answer.json["message"]
        assert answer.json["field"] == "x"
    other_kind = {**now["spec"], "kind": "doors"}
    assert app.call("PATCH", url, {"version": now["version"], "spec": other_kind}).status == 422
    for body in ({"name": "walls", "kind": "walls"}, {"name": "E", "kind": "elements"},
                 {"name": "E", "kind": "elements", "of": "spaceship"}):  # fmt: skip
        assert app.call("POST", f"/api/projects/{hut_project}/tables", body).status == 422
    wrong = {"cells": [{"column": "volume", "target": "element:none", "text": "1"}]}
    assert app.call("POST", f"{url}/cells", wrong).status == 422


def test_a_table_on_two_sheets_goes_on_and_can_only_leave_when_it_stands_nowhere(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    table = add(app, hut_project, "walls", "Walls")
    first, second = add_sheet(app, hut_project), add_sheet(app, hut_project)
    before = first["picture"]
    first = put_on(app, first, {"table": table["key"], "x": 30, "y": 30, "wide": 180, "high": 30})
    assert first["picture"] != before
    alone = app.call("GET", f"/api/sheets/{first['id']}/text-checks").json
    assert any("find no place in table “Walls”" in f["says"] for f in alone)
    put_on(app, second, {"table": table["key"], "x": 30, "y": 30, "wide": 380, "high": 500})
    assert app.call("GET", f"/api/sheets/{first['id']}/text-checks").json == []
    page = app.call("GET", f"/api/sheets/{second['id']}/export.svg").body.decode()
    assert "Walls (2 of 2)" in page
    gone = app.call("DELETE", f"/api/tables/{table['id']}")
    assert gone.status == 422
    assert first["number"] in gone.json["message"]
    assert app.call("GET", f"/api/projects/{hut_project}/tables").json[0]["sheets"] == sorted(
        [first["number"], second["number"]]
    )
    for sheet in app.call("GET", f"/api/projects/{hut_project}/sheets").json:
        put_on(app, sheet)
    assert app.call("DELETE", f"/api/tables/{table['id']}").status == 204
    unknown = {**first["fields"], "tables": [{"table": table["key"], "x": 0, "y": 0}]}
    refused = app.edit(f"/api/sheets/{first['id']}", {"fields": unknown})
    assert refused.status == 422
    assert "no table" in refused.json["message"]


def test_a_sheet_shows_what_its_table_says_now(installation: Installation, hut_project: int) -> None:
    app = installation
    table = with_columns(app, add(app, hut_project, "sheets", "List"), REMARK)
    sheet = put_on(app, add_sheet(app, hut_project), {"table": table["key"], "x": 30, "y": 30})
    target = read(app, table)["lines"][1]["target"]
    pictures = [sheet["picture"]]

    def picture() -> str:
        sheets = app.call("GET", f"/api/projects/{hut_project}/sheets").json
        return next(s["picture"] for s in sheets if s["id"] == sheet["id"])

    typed = {"cells": [{"column": "remark", "target": target, "text": "soon"}]}
    app.call("POST", f"/api/tables/{table['id']}/cells", typed)
    pictures.append(picture())
    add_sheet(app, hut_project)
    pictures.append(picture())
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert picture() == pictures[1]
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert picture() == pictures[0]
    assert len(set(pictures)) == 3


def test_a_spreadsheet_goes_out_and_its_own_columns_come_back(installation: Installation, hut_project: int) -> None:
    app = installation
    table = with_columns(app, add(app, hut_project, "walls", "Walls"), REMARK)
    url = f"/api/tables/{table['id']}"
    csv = app.call("GET", f"{url}/file/csv")
    assert csv.body.decode("utf-8-sig").splitlines()[0].startswith("Build-up,Name,Storey")
    opened = openpyxl.load_workbook(io.BytesIO(app.call("GET", f"{url}/file/xlsx").body))
    rows = opened.worksheets[0]
    place = next(r for r in range(2, rows.max_row + 1) if str(rows.cell(r, 1).value).startswith("element:"))
    rows.cell(place, rows.max_column).value = "to be cleaned"
    stream = io.BytesIO()
    opened.save(stream)
    found = app.send_file(f"{url}/compare", "walls.xlsx", stream.getvalue())
    assert found.status == 200, found.body
    (change,) = found.json["changes"]
    assert (change["column"], change["before"], change["after"]) == ("remark", "", "to be cleaned")
    assert read(app, table)["lines"] == read(app, table)["lines"]
    cells = [{"column": change["column"], "target": change["target"], "text": change["after"]}]
    app.call("POST", f"{url}/cells", {"cells": cells})
    again = app.send_file(f"{url}/compare", "walls.xlsx", stream.getvalue())
    assert again.json == {"changes": [], "notes": []}
    wrong = app.send_file(f"{url}/compare", "walls.xlsx", b"Build-up;Name")
    assert wrong.status == 422
    assert "XLSX" in wrong.json["message"]
    assert app.call("GET", f"{url}/file/pdf").status == 422


def test_an_element_knows_its_tables(installation: Installation, hut_project: int) -> None:
    app = installation
    table = add(app, hut_project, "walls", "Walls")
    add(app, hut_project, "materials", "Stuff")
    target = next(line["target"] for line in read(app, table)["lines"] if line["target"])
    found = app.call("GET", f"/api/projects/{hut_project}/tables-with?target={target.replace('$', '%24')}").json
    assert [(f["name"], f["target"]) for f in found] == [("Walls", target)]


def test_tables_and_what_was_typed_come_along_in_a_project_file(
    installation: Installation, hut_project: int, tmp_path: Path
) -> None:
    app = installation
    sheet = add_sheet(app, hut_project)
    table = with_columns(app, add(app, hut_project, "sheets", "List"), REMARK)
    target = f"sheet:{sheet['id']}"
    typed = {"cells": [{"column": "remark", "target": target, "text": "first"}]}
    app.call("POST", f"/api/tables/{table['id']}/cells", typed)
    put_on(app, sheet, {"table": table["key"], "x": 30, "y": 40, "wide": 200, "high": 100})
    files = app.call("GET", f"/api/projects/{hut_project}/files").body
    with zipfile.ZipFile(io.BytesIO(files)) as archive:
        text = next(archive.read(n).decode() for n in archive.namelist() if n.endswith(".toml"))
    assert 'key = "own-list"' in text
    (tmp_path / "again.zip").write_bytes(files)
    other = app.import_project(tmp_path / "again.zip")
    (kept,) = app.call("GET", f"/api/projects/{other}/tables").json
    assert kept["spec"] == table["spec"]
    (standing,) = app.call("GET", f"/api/projects/{other}/sheets").json
    assert standing["fields"]["tables"] == [{"table": kept["key"], "x": 30, "y": 40, "wide": 200, "high": 100}]
    line = next(one for one in read(app, kept)["lines"] if one["what"] == "row")
    assert line["target"] == f"sheet:{standing['id']}"
    assert line["cells"][-1] == "first"


def test_two_hundred_columns_and_a_formula_of_itself_are_refused(installation: Installation, hut_project: int) -> None:
    app = installation
    table = add(app, hut_project, "walls")
    many = [{"key": f"own{k}", "head": f"Own {k}", "shows": "own"} for k in range(200)]
    itself = [{"key": "twice", "head": "Twice", "shows": "formula", "name": "twice * 2"}]
    for columns, said in ((many, "at most 30"), (itself, "twice need each other")):
        spec = {**table["spec"], "columns": columns, "filters": [], "groups": [], "order": []}
        answer = app.call("PATCH", f"/api/tables/{table['id']}", {"version": table["version"], "spec": spec})
        assert answer.status == 422
        assert said in answer.body.decode()
    assert app.call("GET", f"/api/projects/{hut_project}/tables").json[0] == table


def test_pictures_are_asked_for_row_by_row(installation: Installation, hut_project: int) -> None:
    app = installation
    table = with_columns(
        app, add(app, hut_project, "walls"), {"key": "seen", "head": "Seen", "shows": "picture", "name": "plan"}
    )
    targets = [line["target"] for line in read(app, table)["lines"] if line["what"] == "row"]
    found = app.call("GET", f"/api/tables/{table['id']}/pictures?target={targets[0]}&target=element:none").json
    assert [(p["target"], p["column"]) for p in found] == [(targets[0], "seen")]
    assert found[0]["path"].startswith("M")
    for wrong in ("", "?target=", "?" + "&".join(["target=element:x"] * 101)):
        assert app.call("GET", f"/api/tables/{table['id']}/pictures{wrong}").status == 422
