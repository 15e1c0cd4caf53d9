"""The register and sheet designs over HTTP."""

import json

from edge_slice.core.sheet import shipped_designs
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_sheets import add_sheet, place, texts
from tests.installation import Installation


def numbers(app: Installation, project: int) -> list[str]:
    return [s["number"] for s in app.call("GET", f"/api/projects/{project}/sheets").json]


def test_sheets_are_numbered_in_their_folders(installation: Installation, hut_project: int) -> None:
    app = installation
    add_sheet(app, hut_project, folder="sections")
    add_sheet(app, hut_project, number="A-150")
    add_sheet(app, hut_project)
    add_sheet(app, hut_project, folder="sections")
    assert numbers(app, hut_project) == ["A-150", "A-151", "A-301", "A-302"]
    refused = app.call("POST", f"/api/projects/{hut_project}/sheets", {"folder": "roofs"})
    assert refused.status == 422
    assert "no folder" in refused.json["message"]


def test_renumbering_shows_what_follows_before_it_is_done(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = add_sheet(app, hut_project, number="X-9", folder="sections")
    other = add_sheet(app, hut_project, number="X-5", folder="sections")
    section = add_section(app, hut_project)
    place(app, sheet, section)
    plans = place(app, add_sheet(app, hut_project), plan_of(app, hut_project))
    url = f"/api/projects/{hut_project}/renumber"
    wanted = {"sheets": [other["id"], sheet["id"]]}
    shown = app.call("POST", url, wanted).json
    assert [(s["before"], s["after"], s["drawings"], s["markers"]) for s in shown["sheets"]] == [
        ("X-5", "A-301", 0, 0), ("X-9", "A-302", 1, 1),
    ]  # fmt: skip
    assert "X-9" in numbers(app, hut_project)
    app.call("POST", url, {**wanted, "apply": True})
    assert texts(app, plans, "marker sheet") == ["A-302", "A-302"]
    clash = app.call("POST", url, {"sheets": [sheet["id"]]})
    assert clash.status == 422
    assert "A-301" in clash.json["message"]
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert "X-9" in numbers(app, hut_project)


def test_numbers_follow_the_pattern_of_the_project(installation: Installation, hut_project: int) -> None:
    app = installation
    project = app.call("GET", f"/api/projects/{hut_project}").json
    register = {**project["sheet_register"], "pattern": "{folder} {counter}"}
    url = f"/api/projects/{hut_project}"
    assert app.call("PATCH", url, {"version": project["version"], "sheet_register": register}).status == 200
    assert add_sheet(app, hut_project, folder="details")["number"] == "Details 1"
    for pattern in ("{discipline}", "{colour}{counter}", "{counter:03d}", "{counter"):
        bad = {"version": project["version"] + 1, "sheet_register": {**register, "pattern": pattern}}
        assert app.call("PATCH", url, bad).status == 422, pattern


def test_sheets_are_put_in_an_order(installation: Installation, hut_project: int) -> None:
    app = installation
    a, b, c = (add_sheet(app, hut_project, number=n) for n in ("A-101", "A-102", "A-103"))
    order = {"folder": "plans", "sheets": [c["id"], a["id"], b["id"]]}
    assert app.call("POST", f"/api/projects/{hut_project}/order-of-sheets", order).status == 200
    assert numbers(app, hut_project) == ["A-103", "A-101", "A-102"]


def test_the_register_as_csv_runs_no_formula(installation: Installation, hut_project: int) -> None:
    app = installation
    add_sheet(app, hut_project, title="=HYPERLINK(1)")
    place(app, add_sheet(app, hut_project, title="Plans, all"), plan_of(app, hut_project))
    text = app.call("GET", f"/api/projects/{hut_project}/register.csv").body.decode("utf-8-sig")
    rows = text.splitlines()
    assert rows[0].startswith("Number,Title,Folder")
    assert ",'=HYPERLINK(1)," in rows[1]
    assert '"Plans, all",Plans,A1,1:100' in rows[2]


def test_changing_a_design_changes_its_sheets(installation: Installation, hut_project: int) -> None:
    app = installation
    url = f"/api/projects/{hut_project}/sheet-designs"
    shipped = app.call("GET", url).json
    assert [d["key"] for d in shipped] == list(shipped_designs())
    own = app.call("POST", url, {"copy_of": "side-strip", "name": "House"}).json
    sheet = add_sheet(app, hut_project, design=own["key"])
    before = sheet["picture"]
    document = own["document"]
    document["own_fields"] = [{"key": "stage", "caption": "Stage", "value": "Permit"}]
    document["parts"][0]["cells"].append(
        {"left": 0, "base": 84, "wide": 80, "high": 10, "caption": "Stage", "says": "{stage}"}
    )
    document["parts"][0]["region"]["top"] = {"mm": 94}
    document["parts"][1]["region"]["base"] = {"mm": 94}
    edited = app.edit(f"/api/sheet-designs/{own['id']}", {"document": document})
    assert edited.status == 200, edited.body
    after = app.call("GET", f"/api/projects/{hut_project}/sheets").json[0]
    assert after["picture"] != before
    assert texts(app, sheet, "field stage") == ["Permit"]
    fields = {**after["fields"], "own": {"stage": "Tender"}}
    app.call("PATCH", f"/api/sheets/{sheet['id']}", {"version": after["version"], "fields": fields})
    assert texts(app, sheet, "field stage") == ["Tender"]
    again = app.call("POST", url, {"document": json.loads(json.dumps(edited.json["document"])), "name": "Read back"})
    assert again.json["document"]["parts"] == edited.json["document"]["parts"]
    used = app.call("DELETE", f"/api/sheet-designs/{own['id']}")
    assert used.status == 422
    assert sheet["number"] in used.json["message"]


def test_a_design_without_room_is_refused(installation: Installation, hut_project: int) -> None:
    app = installation
    url = f"/api/projects/{hut_project}/sheet-designs"
    own = app.call("POST", url, {"copy_of": "base-strip"}).json
    document = own["document"]
    document["parts"][0]["region"]["left"] = {"share": 1, "mm": -600}
    document["parts"][0]["cells"][0]["wide"] = 590
    assert app.edit(f"/api/sheet-designs/{own['id']}", {"document": document}).status == 200
    refused = app.call("POST", f"/api/projects/{hut_project}/sheets", {"design": own["key"], "size": "A4"})
    assert refused.status == 422
    assert "title block" in refused.json["message"]
    sheet = add_sheet(app, hut_project, design=own["key"], size="A1")
    smaller = app.edit(f"/api/sheets/{sheet['id']}", {"size": "A3"})
    assert smaller.status == 422
    document["parts"][0]["cells"][0]["wide"] = 2000
    worse = app.edit(f"/api/sheet-designs/{own['id']}", {"document": document})
    assert worse.status == 422
    assert sheet["number"] in worse.json["message"]
    logo = {"kind": "logo", "picture": "0" * 64, "region": document["areas"][0]["region"]}
    document["parts"].append(logo)
    assert app.call("POST", url, {"document": document}).status == 422


def test_drawings_are_documented_in_one_act(installation: Installation, hut_project: int) -> None:
    app = installation
    plan = plan_of(app, hut_project)
    line = {"kind": "section", "line": [[-1, 2], [7, 2]], "depth": 3}
    new = {"parent_id": plan["id"], "cut": line, "style": {"scale": 50}}
    wanted = {"template": "Noted and dimensioned", "drawings": [plan["id"]], "new": [new]}
    done = app.call("POST", f"/api/projects/{hut_project}/document", wanted)
    assert done.status == 201, done.body
    assert [(s["number"], s["title"], s["folder"]) for s in done.json["sheets"]] == [
        ("A-101", "Plans", "plans"), ("A-301", "Sections", "sections"),
    ]  # fmt: skip
    assert done.json["left_over"] == []
    section = next(d for d in done.json["drawings"] if d["kind"] == "section")
    assert section["placement"]["sheet_number"] == "A-301"
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert numbers(app, hut_project) == []
    assert [d["id"] for d in app.call("GET", f"/api/projects/{hut_project}/drawings").json] == [plan["id"]]
    unknown = app.call("POST", f"/api/projects/{hut_project}/document", {**wanted, "template": "Grand"})
    assert unknown.status == 422
    huge = {**new, "style": {"scale": 1}}
    left = app.call("POST", f"/api/projects/{hut_project}/document", {"template": "As drawn", "new": [huge]}).json
    assert left["sheets"] == []
    assert "larger than a sheet" in left["left_over"][0]["says"]
    assert numbers(app, hut_project) == []


def test_documented_drawings_have_the_sets_of_their_kind(installation: Installation, demo_project: int) -> None:
    app = installation
    plan = next(d for d in app.call("GET", f"/api/projects/{demo_project}/drawings").json if d["title"] == "Lower plan")
    before = numbers(app, demo_project)
    wanted = {"template": "Noted and dimensioned", "drawings": [plan["id"]], "title": "Ground floor"}
    done = app.call("POST", f"/api/projects/{demo_project}/document", wanted).json
    assert done["left_over"] == []
    assert all(said.startswith("Lower plan, ") for said in done["findings"])  # what found no clear place is told
    notes = app.call("GET", f"/api/drawings/{plan['id']}/annotations").json
    assert {a["document"]["rule"] for a in notes} == {"rooms", "doors", "windows", "grid", "outside", "inside"}
    assert done["sheets"][0]["title"] == "Ground floor"
    app.call("POST", f"/api/projects/{demo_project}/undo")
    assert app.call("GET", f"/api/drawings/{plan['id']}/annotations").json == []
    assert numbers(app, demo_project) == before


def test_a_sheet_for_a_drawing_comes_into_its_folder(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    sheet = add_sheet(installation, hut_project, title="Section", for_drawing=section["id"])
    assert (sheet["folder"], sheet["number"]) == ("sections", "A-301")
