"""The checks over HTTP."""

from tests.http.test_drawings import add_section, plan_of
from tests.http.test_publications import ISSUE, published
from tests.http.test_sheets import add_sheet, place
from tests.installation import Installation


def rules(app: Installation, project: int) -> dict[str, dict]:
    return {f["rule"]: f for f in app.call("GET", f"/api/projects/{project}/checks").json}


def test_what_is_wrong_is_told_and_goes_when_it_is_mended(installation: Installation, hut_project: int) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    sheet = place(app, add_sheet(app, hut_project, design="side-strip"), plan)
    found = rules(app, hut_project)
    assert found["marker to nowhere"]["severity"] == "serious"
    assert found["marker to nowhere"]["drawing_id"] == cut["id"]
    assert found["not placed"]["drawing_id"] == cut["id"]
    assert found["could be larger"]["sheet_id"] == sheet["id"]
    style = {**cut["style"], "scale": 50}
    app.call("PATCH", f"/api/drawings/{cut['id']}", {"version": cut["version"], "style": style})
    sheet = place(app, sheet, cut, x=780, y=20)
    found = rules(app, hut_project)
    assert "marker to nowhere" not in found
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
