"""A placed drawing exchanged for another one, over HTTP."""

from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_sheets import add_sheet, place
from tests.installation import Installation


def homes(app: Installation, project: int) -> dict[int, list[bool]]:
    found: dict[int, list[bool]] = {}
    for sheet in app.call("GET", f"/api/projects/{project}/sheets").json:
        for placed in sheet["placements"]:
            found.setdefault(placed["drawing_id"], []).append(placed["home"])
    return found


def test_another_drawing_takes_place_number_trim_and_title(installation: Installation, hut_project: int) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    first = place(app, add_sheet(app, hut_project), cut)
    second = place(app, add_sheet(app, hut_project), cut)
    assert sorted(homes(app, hut_project)[cut["id"]]) == [False, True]
    (placed,) = first["placements"]
    said = {"number": "7", "trim": {"left": 2, "base": 0, "right": 0, "top": 0}, "title": {"shown": True, "dx": 4}}
    (before,) = app.edit(f"/api/placements/{placed['id']}", said).json["placements"]
    (after,) = app.edit(f"/api/placements/{placed['id']}", {"drawing_id": plan["id"]}).json["placements"]
    assert after["drawing_id"] == plan["id"]
    for same in ("id", "number", "x", "y", "trim", "title"):
        assert after[same] == before[same]
    assert homes(app, hut_project) == {plan["id"]: [True], cut["id"]: [True]}
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert sorted(homes(app, hut_project)[cut["id"]]) == [False, True]
    assert plan["id"] not in homes(app, hut_project)
    place(app, second, plan)
    refused = app.edit(f"/api/placements/{second['placements'][0]['id']}", {"drawing_id": plan["id"]})
    assert refused.status == 422
    assert "already" in refused.json["message"]
    same = app.edit(f"/api/placements/{placed['id']}", {"drawing_id": cut["id"]})
    assert same.status == 200
