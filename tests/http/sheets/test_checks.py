"""The checks over HTTP."""

from pathlib import Path

from tests.core.model.test_ifc_forms import layered
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_publications import ISSUE, published
from tests.http.sheets.test_sheets import add_sheet, place
from tests.ifc_files import Hut
from tests.installation import Installation


def rules(app: Installation, project: int) -> dict[str, dict]:
    return {f["rule"]: f for f in app.call("GET", f"/api/projects/{project}/checks").json}


def test_what_is_wrong_is_told_and_goes_when_it_is_mended(installation: Installation, hut_project: int) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    sheet = place(app, add_sheet(app, hut_project, design="side-strip"), plan)
    found = rules(app, hut_project)
    assert "marker to nowhere" not in found  # it shows by itself, and is told of with its drawing
    assert found["not placed"]["drawing_id"] == cut["id"]
    assert found["not placed"]["says"].endswith(f"stands on no sheet; its markers show on {sheet['number']}.")
    assert found["no ground"]["severity"] == "doubtful"
    assert found["could be larger"]["sheet_id"] == sheet["id"]
    style = {**cut["style"], "scale": 50}
    app.call("PATCH", f"/api/drawings/{cut['id']}", {"version": cut["version"], "style": style})
    sheet = place(app, sheet, cut, x=780, y=20)
    found = rules(app, hut_project)
    assert "not placed" not in found
    assert found["several scales"]["severity"] == "remark"
    beyond = found["drawing beyond its place"]
    assert beyond["severity"] == "serious"
    placed = sheet["placements"][-1]
    assert beyond["box"] == placed["box"]
    app.edit(f"/api/placements/{placed['id']}", {"area": "Drawings"})
    found = rules(app, hut_project)
    assert "drawing beyond its place" not in found
    assert "drawing over drawing" in found
    add_sheet(app, hut_project)
    assert "empty sheet" in rules(app, hut_project)


def test_callouts_that_lead_to_nowhere_are_one_finding_for_each_drawing(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    cut = add_section(app, hut_project)
    for k in range(3):
        region = {"points": [[0.8 + k, 1.0], [1.6 + k, 2.0]]}
        detail = app.call("POST", f"/api/drawings/{cut['id']}/callouts", {"region": region}).json
    assert "marker to nowhere" not in rules(app, hut_project)
    style = {**app.call("GET", f"/api/drawings/{cut['id']}").json["style"], "scale": 50}
    app.edit(f"/api/drawings/{cut['id']}", {"style": style})
    sheet = place(app, add_sheet(app, hut_project), cut, x=60, y=100)
    (told,) = [
        f for f in app.call("GET", f"/api/projects/{hut_project}/checks").json if f["rule"] == "marker to nowhere"
    ]
    assert told["severity"] == "serious"
    assert told["says"].startswith("3 callouts on “")
    assert detail["title"] in told["says"]
    place(app, sheet, detail, x=300, y=100)
    assert rules(app, hut_project)["marker to nowhere"]["says"].startswith("2 callouts")


def test_drawings_of_one_title_and_cuts_in_one_place_are_told_of(installation: Installation, hut_project: int) -> None:
    app = installation
    one = add_section(app, hut_project)
    assert not {"title twice", "cuts in one place"} & set(rules(app, hut_project))
    turned = {**one["cut"], "line": one["cut"]["line"][::-1], "look": "right"}
    two, three = add_section(app, hut_project, turned), add_section(app, hut_project)
    app.edit(f"/api/drawings/{two['id']}", {"name": "Through the hut"})
    app.edit(f"/api/drawings/{three['id']}", {"name": "Through the Hut"})
    found = rules(app, hut_project)
    assert found["title twice"]["says"] == "2 drawings are called “Through the hut”."
    assert (
        f"“{one['title']}”, “Through the hut”, “Through the Hut” cut the same place"
        in found["cuts in one place"]["says"]
    )
    app.edit(f"/api/drawings/{three['id']}", {"name": "", "cut": {**one["cut"], "look": "right"}})
    found = rules(app, hut_project)
    assert "title twice" not in found
    assert "Through the Hut" not in found["cuts in one place"]["says"]


def test_letters_differ_across_all_kinds(installation: Installation, hut_project: int) -> None:
    """Elevations have letters of their own, which their markers and titles show; the check knows those of all kinds."""
    app, url = installation, f"/api/projects/{hut_project}"
    section = add_section(app, hut_project)
    sides = app.call("POST", f"{url}/drawing-sets", {"kind": "elevations", "scale": 100}).json
    assert [d["letter"] for d in sides] == ["E1", "E2", "E3", "E4"]
    plan = plan_of(app, hut_project)
    shown = app.call("POST", f"{url}/markers", {"drawings": [plan["id"]]}).json[0]["markers"]
    heads = {m["drawing"]: m["upper"] for m in shown}
    for side in sides:
        assert heads[side["id"]] == side["letter"]
        assert side["letter"] in side["title"]
    assert len(set(heads.values())) == len(heads)
    taken = app.edit(f"/api/drawings/{section['id']}", {"letter": "E2"})
    assert taken.status == 422
    assert "has the letter E2" in taken.json["message"]
    app.execute(f"UPDATE drawing SET letter = 'N' WHERE id = {section['id']}")
    app.execute(f"UPDATE drawing SET letter = '' WHERE id = {sides[0]['id']}")  # as one that was brought back by undo
    side = app.call("GET", f"/api/drawings/{sides[0]['id']}").json
    initial = side["title"][0]
    app.execute(f"UPDATE drawing SET letter = '{initial}' WHERE id = {section['id']}")
    assert f"both have {initial}" in rules(app, hut_project)["letter twice"]["says"]


def test_a_finding_is_left_because(installation: Installation, hut_project: int) -> None:
    app = installation
    add_section(app, hut_project)
    keys = [f["key"] for f in app.call("GET", f"/api/projects/{hut_project}/checks").json]
    left = {"key": keys[0], "reason": "It is for the model maker"}
    assert app.call("POST", f"/api/projects/{hut_project}/left-findings", left).status == 204
    again = app.call("GET", f"/api/projects/{hut_project}/checks").json
    assert [f["left"] for f in again if f["key"] == keys[0]] == ["It is for the model maker"]
    assert [f["key"] for f in again] == keys
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert not any(f["left"] for f in app.call("GET", f"/api/projects/{hut_project}/checks").json)
    app.call("POST", f"/api/projects/{hut_project}/left-findings", left)
    app.call("POST", f"/api/projects/{hut_project}/left-findings", {"key": keys[0], "reason": " "})
    assert not any(f["left"] for f in app.call("GET", f"/api/projects/{hut_project}/checks").json)


def test_texts_over_texts_and_changes_since_an_issue(installation: Installation, hut_project: int) -> None:
    app = installation
    plan = plan_of(app, hut_project)
    sheet = place(app, add_sheet(app, hut_project), plan, x=60, y=100)
    url = f"/api/sheets/{sheet['id']}/text-checks"
    assert app.call("GET", url).json == []
    sheet = place(app, sheet, add_section(app, hut_project), x=62, y=101)
    found = app.call("GET", url).json
    assert {f["rule"] for f in found} >= {"text over text"}
    assert all(f["box"] and f["sheet_id"] == sheet["id"] for f in found)
    assert published(app, hut_project, issue=ISSUE)["state"] == "ready"
    assert "changed since it was issued" not in rules(app, hut_project)
    placed = sheet["placements"][1]
    app.edit(f"/api/placements/{placed['id']}", {"y": 320})
    since = rules(app, hut_project)["changed since it was issued"]
    assert "moved" in since["says"]
    assert len(app.call("GET", url).json) < len(found)


def test_annotations_outside_the_note_margin(installation: Installation, hut_project: int) -> None:
    app = installation
    plan = plan_of(app, hut_project)
    place(app, add_sheet(app, hut_project), plan)
    note = {"kind": "note", "text": "Far away", "points": [[60000, 60000]]}
    made = app.call(
        "POST", f"/api/drawings/{plan['id']}/annotations", {"spots": [{"at": [60000, 60000]}], "document": note}
    )
    assert made.status == 201, made.body
    assert rules(app, hut_project)["outside the note margin"]["drawing_id"] == plan["id"]


def test_rooms_and_stairs_that_no_section_explains_are_told_of(installation: Installation, demo_project: int) -> None:
    project = installation.project_like(demo_project)
    installation.execute(f"DELETE FROM drawing WHERE project_id = {project} AND cut->>'kind' <> 'plan'")
    url = f"/api/projects/{project}/checks"

    def told() -> dict[str, str]:
        found = installation.call("GET", url).json
        return {f["rule"]: f["says"] for f in found if f["rule"].endswith("without a section")}

    assert told() == {}, "a project that has no section yet"
    add_section(installation, project, {"kind": "section", "line": [[-5.0, 30.0], [30.0, 30.0]], "look": "left"})
    rooms = installation.call("GET", f"/api/projects/{project}").json["facts"]["spaces"]
    assert told()["room without a section"].startswith(f"No section goes through {len(rooms)} rooms: ")
    assert "flight" in told()["stair without a section"]
    add_section(installation, project, {"kind": "section", "line": [[15.0, -2.0], [15.0, 12.0]], "look": "left"})
    assert "1.04 Entrance" not in told()["room without a section"]


def test_layers_that_are_not_drawn_as_the_file_says_are_told(installation: Installation, tmp_path: Path) -> None:
    app, hut = installation, Hut(tmp_path / "layers.ifc")
    wall = hut.add("IfcWall", "Odd wall", [hut.box((0, 9000, 0), (2000, 9300, 2000))])
    layered(hut, wall, [("Brick", 100.0), ("Wool", 120.0), ("Block", 140.0)])
    project = app.import_project(hut.written())
    found = rules(app, project)["not as the file says"]
    assert "“Odd wall” is drawn without layers: these add up to 360 mm" in found["says"]
    app.edit(f"/api/projects/{project}", {"unchecked": ["not as the file says"]})
    assert "not as the file says" not in rules(app, project)
