"""Kept projects over HTTP: drawings with their sheets, tables and sets, fitted to another project, and as a file."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from tests.http.drawings.test_drawing_rules import add_rule, section_by
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_sheets import add_sheet, place
from tests.ifc_files import write_hut
from tests.installation import Installation


@pytest.fixture
def kept(installation: Installation, untouched_hut: int) -> dict:
    """A hut with a section, a sheet with it and its plan, a table on that sheet, and dimensions."""
    app, project = installation, installation.project_like(untouched_hut)
    plan, cut = plan_of(app, project), add_section(app, project)
    app.call("POST", f"/api/drawings/{cut['id']}/annotation-sets", {"rule": "heights"})
    table = app.call("POST", f"/api/projects/{project}/tables", {"name": "Walls", "kind": "walls"}).json
    sheet = place(app, place(app, add_sheet(app, project, title="All of it"), plan), cut)
    fields = {**sheet["fields"], "drawn": "EF", "revision": "B", "tables": [{"table": table["key"], "x": 30, "y": 30}]}
    sheet = app.edit(f"/api/sheets/{sheet['id']}", {"fields": fields}).json
    made = app.call("POST", f"/api/projects/{project}/starter-sets", {"name": "Huts"}).json
    assert (made["drawings"], made["sheets"]) == (len(app.call("GET", f"/api/projects/{project}/drawings").json), 1)
    return {**made, "sheet": sheet, "section": cut}


def take(app: Installation, project: int, kept: int, without: tuple[str, ...] = ()) -> dict:
    proposed = app.call("GET", f"/api/projects/{project}/starter-set?kept={kept}").json
    keys = [p["key"] for p in proposed if p["fits"] and p["cut"]["kind"] not in without]
    answer = app.call("POST", f"/api/projects/{project}/kept-project", {"kept": kept, "keys": keys})
    assert answer.status == 201, answer.body
    return answer.json


def sets_of(app: Installation, drawings: list[int]) -> set[str]:
    rows = [row for number in drawings for row in app.call("GET", f"/api/drawings/{number}/annotations").json]
    return {row["document"]["rule"] for row in rows}


def test_sheets_tables_and_sets_come_along_in_one_act(installation: Installation, hut_project: int, kept: dict) -> None:
    app = installation
    made = take(app, hut_project, kept["id"])
    assert (made["sheets"], made["tables"], made["left"]) == ([kept["sheet"]["number"]], ["Walls"], [])
    (sheet,) = app.call("GET", f"/api/projects/{hut_project}/sheets").json
    was = kept["sheet"]
    assert (sheet["title"], sheet["size"], sheet["fields"]["drawn"]) == ("All of it", was["size"], "EF")
    assert sheet["fields"]["revision"] == ""
    for placed, before in zip(sheet["placements"], was["placements"], strict=True):
        for same in ("number", "x", "y", "trim", "title", "home"):
            assert placed[same] == before[same]
        assert placed["drawing_id"] in made["drawings"]
    (table,) = app.call("GET", f"/api/projects/{hut_project}/tables").json
    assert sheet["fields"]["tables"][0]["table"] == table["key"]
    assert sets_of(app, made["drawings"]) == sets_of(app, [kept["section"]["id"]])
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert app.call("GET", f"/api/projects/{hut_project}/sheets").json == []
    assert app.call("GET", f"/api/projects/{hut_project}/tables").json == []


def test_what_does_not_come_along_is_named_with_its_reason(
    installation: Installation, hut_project: int, kept: dict
) -> None:
    app = installation
    take(app, hut_project, kept["id"])
    again = take(app, hut_project, kept["id"], without=("section",))
    assert again["tables"] == []  # there is one of that name
    said = "\n".join(again["left"])
    number = kept["sheet"]["number"]
    assert f"Sheet {number} All of it: its number is taken; it is {again['sheets'][0]}." in said
    assert f"Sheet {number} All of it: 1 of its drawings are not there." in said
    assert "it was not chosen" in said


def test_a_kept_project_goes_out_as_a_file_and_comes_in_again(
    installation: Installation, hut_project: int, kept: dict
) -> None:
    app = installation
    data = app.call("GET", f"/api/starter-sets/{kept['id']}/file").body
    app.call("DELETE", f"/api/starter-sets/{kept['id']}")
    again = app.send_file("/api/starter-sets/file", "huts.json", data)
    assert again.status == 201, again.body
    assert (again.json["name"], again.json["sheets"]) == ("Huts", 1)
    assert take(app, hut_project, again.json["id"])["sheets"] == [kept["sheet"]["number"]]
    said = json.loads(data)
    wrong = ({**said, "kind": "x"}, {**said, "form": 99}, {**said, "document": {"drawings": 3}}, [], 3)
    for content in (b"", b"{", *(json.dumps(one).encode() for one in wrong)):
        refused = app.send_file("/api/starter-sets/file", "huts.json", content)
        assert refused.status == 422, refused.body


def test_strips_name_the_drawing_that_was_made_of_theirs(
    installation: Installation, untouched_hut: int, hut_project: int
) -> None:
    app, first = installation, installation.project_like(untouched_hut)
    plan, cut = plan_of(app, first), add_section(app, first)
    style = {**plan["style"], "strips": [{"drawing": cut["id"], "base": 0.0, "top": 1.0}]}
    drawn = app.edit(f"/api/drawings/{plan['id']}", {"style": style})
    assert drawn.status == 200, drawn.body
    kept = app.call("POST", f"/api/projects/{first}/starter-sets", {"name": "Strip"}).json
    made = take(app, hut_project, kept["id"])["drawings"]
    rows = [app.call("GET", f"/api/drawings/{number}").json for number in made]
    named = [s["drawing"] for row in rows for s in row["style"]["strips"]]
    assert named == [row["id"] for row in rows if row["cut"]["kind"] == "section"]


def test_what_has_no_place_is_placed_by_hand_with_what_was_called_out_of_it(
    installation: Installation, untouched_hut: int, hut_project: int
) -> None:
    app, first = installation, installation.project_like(untouched_hut)
    cut = add_section(app, first)
    region = {"points": [[0.8, 1.0], [1.6, 2.0]]}
    app.call("POST", f"/api/drawings/{cut['id']}/callouts", {"region": region})
    kept = app.call("POST", f"/api/projects/{first}/starter-sets", {"name": "By hand"}).json["id"]
    proposed = app.call("GET", f"/api/projects/{hut_project}/starter-set?kept={kept}").json
    section, detail = (p for p in proposed if p["cut"]["kind"] == "section")
    assert (section["parent"], detail["parent"]) == ("", section["key"])
    line = [[1.0, -1.0], [1.0, 4.0]]
    body = {"kept": kept, "keys": [section["key"], detail["key"]], "places": {section["key"]: {"line": line}}}
    made = app.call("POST", f"/api/projects/{hut_project}/kept-project", body)
    assert made.status == 201, made.body
    rows = {d["id"]: d for d in app.call("GET", f"/api/projects/{hut_project}/drawings").json}
    one, called = (rows[number] for number in made.json["drawings"])
    assert (one["cut"]["line"], called["parent_id"]) == (line, one["id"])
    assert one["letter"] == cut["letter"]
    plan = next(p for p in proposed if p["cut"]["kind"] == "plan")
    for key, where in (
        (plan["key"], {"storey": "nowhere"}), (plan["key"], {"line": line}), (section["key"], {"storey": "x"}),
        (section["key"], {"line": [[1, 1], [1, 1]]}), ("kept 99", {"line": line}), ("plan", {"line": line}),
    ):  # fmt: skip
        wrong = {"kept": kept, "keys": [section["key"]], "places": {key: where}}
        assert app.call("POST", f"/api/projects/{hut_project}/kept-project", wrong).status == 422


def test_what_stays_with_its_model_is_named_and_settings_come_along(
    installation: Installation, untouched_hut: int, hut_project: int
) -> None:
    app, first = installation, installation.project_like(untouched_hut)
    cut = add_section(app, first)
    app.call("POST", f"/api/drawings/{cut['id']}/crossed-lines", {"line": [[-2000, 1500], [9000, 1500]]})
    app.call("POST", f"/api/projects/{first}/shared-extents", {"name": "All of it", "drawing_id": cut["id"]})
    add_sheet(app, first, title="Cover")
    app.edit(f"/api/projects/{first}", {"unchecked": ["no ground"], "templates": {"templates": [{"name": "Ours"}]}})
    kept = app.call("POST", f"/api/projects/{first}/starter-sets", {"name": "All"}).json["id"]
    made = take(app, hut_project, kept)
    said = "\n".join(made["left"])
    assert "1 annotation by hand of" in said
    assert "Shared extents “All of it”" in said
    assert made["sheets"] == ["A-101"]  # though nothing stands on it
    project = app.call("GET", f"/api/projects/{hut_project}").json
    assert project["unchecked"] == ["no ground"]
    assert [t["name"] for t in project["templates"]["templates"]] == ["Ours"]


def test_the_sheet_design_that_only_a_rule_begins_with_comes_along(
    installation: Installation, untouched_hut: int, hut_project: int
) -> None:
    app, first = installation, installation.project_like(untouched_hut)
    design = {"copy_of": "base-strip", "name": "House"}
    own = app.call("POST", f"/api/projects/{first}/sheet-designs", design).json["key"]
    section_by(app, first, add_rule(app, first, begins={"design": own}))
    kept = app.call("POST", f"/api/projects/{first}/starter-sets", {"name": "By rule"}).json["id"]
    take(app, hut_project, kept)
    (rule,) = app.call("GET", f"/api/projects/{hut_project}/drawing-rules").json
    designs = app.call("GET", f"/api/projects/{hut_project}/sheet-designs").json
    assert {d["key"]: d["name"] for d in designs}[rule["rule"]["begins"]["design"]] == "House"


def test_in_a_model_without_storeys_plans_lie_at_its_base(
    installation: Installation, tmp_path: Path, kept: dict
) -> None:
    app = installation
    flat = app.import_project(write_hut(tmp_path / "flat.ifc", storeys=False))
    proposed = app.call("GET", f"/api/projects/{flat}/starter-set?kept={kept['id']}").json
    assert {p["cut"]["kind"]: p["fits"] for p in proposed} == {"plan": True, "section": True}
    made = take(app, flat, kept["id"])
    drawings = {d["id"]: d for d in app.call("GET", f"/api/projects/{flat}/drawings").json}
    assert [drawings[number]["kind"] for number in made["drawings"]] == ["plan", "section"]
    for number in made["drawings"]:
        assert app.call("GET", f"/api/drawings/{number}/view").status == 200
    assert made["sheets"] == [kept["sheet"]["number"]]
