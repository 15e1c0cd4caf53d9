"""Shared extents over HTTP: drawings follow a box, are released from it, and outlive it."""

from tests.http.drawings.test_drawings import add_section
from tests.installation import Installation


def follow(app: Installation, drawing: dict, key: str) -> dict:
    now = app.call("GET", f"/api/drawings/{drawing['id']}").json
    body = {"version": now["version"], "cut": {**now["cut"], "shared_extents": key}}
    return app.call("PATCH", f"/api/drawings/{drawing['id']}", body).json


def read(app: Installation, drawing: dict) -> dict:
    return app.call("GET", f"/api/drawings/{drawing['id']}").json


def test_drawings_follow_a_box_and_are_released(installation: Installation, hut_project: int) -> None:
    one, other = add_section(installation, hut_project), add_section(installation, hut_project)
    url = f"/api/projects/{hut_project}/shared-extents"
    made = installation.call("POST", url, {"name": "Hall", "drawing_id": one["id"]})
    assert made.status == 201
    assert read(installation, one)["cut"]["shared_extents"] == made.json["key"]
    followed = follow(installation, other, made.json["key"])
    box = {**made.json["box"], "high": [*made.json["box"]["high"][:2], 2.25]}
    changed = installation.edit(f"/api/shared-extents/{made.json['id']}", {"name": "Hall", "box": box})
    assert changed.status == 200
    for drawing in (one, other):
        now = read(installation, drawing)
        assert now["cut"]["extents"]["top"] == box["high"][2]
        assert now["view"] != followed["view"]
    sides = installation.call(
        "POST", f"/api/shared-extents/{made.json['id']}/side",
        {"version": changed.json["version"], "cut": followed["cut"], "side": "base", "to": 0.1},
    )  # fmt: skip
    assert sides.json["box"]["low"][2] == 0.1
    assert read(installation, one)["cut"]["extents"]["base"] == 0.1
    released = follow(installation, other, "")
    assert released["cut"]["extents"]["base"] == 0.1
    stale = {"name": "Hall", "box": box, "version": made.json["version"]}
    assert installation.call("PATCH", f"/api/shared-extents/{made.json['id']}", stale).status == 409


def test_drawings_keep_what_they_had_when_their_box_is_deleted(installation: Installation, hut_project: int) -> None:
    drawing = add_section(installation, hut_project)
    url = f"/api/projects/{hut_project}/shared-extents"
    box = {"low": [-9, -9, 0.2], "high": [9, 9, 2.2]}
    made = installation.call("POST", url, {"name": "Band", "box": box}).json
    before = follow(installation, drawing, made["key"])
    assert before["cut"]["extents"]["top"] == 2.2
    assert installation.call("DELETE", f"/api/shared-extents/{made['id']}").status == 204
    after = read(installation, drawing)
    assert (after["cut"]["shared_extents"], after["cut"]["extents"]) == ("", before["cut"]["extents"])
    assert after["cut"]["depth"] == before["cut"]["depth"]
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert read(installation, drawing)["cut"]["shared_extents"] == made["key"]
    assert [b["name"] for b in installation.call("GET", url).json] == ["Band"]


def test_what_can_t_be_followed_is_said(installation: Installation, hut_project: int) -> None:
    drawing = add_section(installation, hut_project)
    url = f"/api/projects/{hut_project}/shared-extents"
    assert installation.call("POST", url, {"name": "Nothing"}).status == 422
    flat = {"name": "Flat", "box": {"low": [0, 0, 0], "high": [1, 1, 0]}}
    assert "encloses nothing" in installation.call("POST", url, flat).json["message"]
    away = {"low": [900, 900, 0], "high": [901, 901, 1]}
    made = installation.call("POST", url, {"name": "Away", "box": away}).json
    now = follow(installation, drawing, made["key"])
    assert now["cut"]["extents"] == drawing["cut"]["extents"]
    from edge_slice.core.render.screen import screen_arrays

    head = screen_arrays(installation.call("GET", f"/api/drawings/{drawing['id']}/view").body)[0]
    assert any("shared extents" in finding for finding in head["findings"])


def test_a_sheet_looks_different_when_its_drawings_box_is_changed(installation: Installation, hut_project: int) -> None:
    drawing = add_section(installation, hut_project)
    made = installation.call(
        "POST", f"/api/projects/{hut_project}/shared-extents", {"name": "Hall", "drawing_id": drawing["id"]}
    ).json
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"title": "Sections"}).json
    installation.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": drawing["id"]})

    def picture() -> str:
        return installation.call("GET", f"/api/projects/{hut_project}/sheets").json[0]["picture"]

    before = picture()
    box = {**made["box"], "high": [*made["box"]["high"][:2], made["box"]["high"][2] - 0.5]}
    installation.edit(f"/api/shared-extents/{made['id']}", {"name": "Hall", "box": box})
    assert picture() != before
