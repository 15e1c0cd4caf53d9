"""Typical details over HTTP: like ones are recognised, and one is used for the places of all."""

from __future__ import annotations

import pytest

from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_checks import rules
from tests.http.sheets.test_sheets import add_sheet, place
from tests.installation import Installation


@pytest.fixture
def like(installation: Installation, hut_project: int) -> tuple[dict, dict, dict]:
    """Two details of the same wall's top, in sections beside each other; and the second section."""
    app = installation
    first, second = (
        add_section(app, hut_project, {"kind": "section", "line": [[x, -1.0], [x, 4.0]], "look": "left"})
        for x in (1.4, 1.5)
    )
    region = {"points": [[0.8, 2.0], [1.6, 2.8]]}
    one, other = (
        app.call("POST", f"/api/drawings/{s['id']}/callouts", {"region": region}).json for s in (first, second)
    )
    return one, other, second


def test_one_of_two_like_details_is_used_for_both_and_its_number_follows(
    installation: Installation, hut_project: int, like: tuple[dict, dict, dict]
) -> None:
    app, (one, other, section) = installation, like
    place(app, add_sheet(app, hut_project), one, x=300, y=100)
    found = rules(app, hut_project)["like details"]
    assert found["drawing_id"] == other["id"]
    (offer,) = found["offers"]
    assert offer["instead"] == one["id"]
    path = f"/api/drawings/{other['id']}"
    body = {"version": app.version(path), "target": one["id"]}
    assert app.call("POST", f"{path}/use-instead", body).json["id"] == one["id"]
    assert app.call("GET", path).status == 404
    assert "like details" not in rules(app, hut_project)
    markers = app.call("POST", f"/api/projects/{hut_project}/markers", {"drawings": [section["id"]]}).json
    (led,) = markers[0]["callouts"]
    assert (led["target"], led["upper"], led["lower"]) == (one["id"], "1", "A-101")
    app.call("POST", f"/api/projects/{hut_project}/undo", {})
    assert app.call("GET", path).status == 200


def test_what_can_not_be_used_instead_is_refused(
    installation: Installation, hut_project: int, like: tuple[dict, dict, dict]
) -> None:
    app, (one, other, section) = installation, like
    path = f"/api/drawings/{other['id']}"
    for target, status in ((other["id"], 422), (section["id"], 422), (99_999, 404)):
        body = {"version": app.version(path), "target": target}
        assert app.call("POST", f"{path}/use-instead", body).status == status
    plan = plan_of(app, hut_project)
    body = {"version": plan["version"], "target": one["id"]}
    assert app.call("POST", f"/api/drawings/{plan['id']}/use-instead", body).status == 422


def test_junctions_of_a_wall_section_lead_to_the_details_that_they_are_like(
    installation: Installation, demo_project: int
) -> None:
    app = installation
    project = app.project_like(demo_project)
    url, at = f"/api/projects/{project}", {"at": [6.0, 0.1], "look": "left"}
    plan = next(d for d in app.call("GET", f"{url}/drawings").json if d["kind"] == "plan")
    offered = app.call("POST", f"{url}/wall-section-proposals", at).json["junctions"]
    every = list(range(len(offered)))
    app.call("POST", f"{url}/wall-sections", {**at, "plan": plan["id"], "junctions": every})
    again = {"at": [6.3, 0.1], "look": "left"}
    likes = [j["like"] for j in app.call("POST", f"{url}/wall-section-proposals", again).json["junctions"]]
    known = [k for k, like in enumerate(likes) if like and like["drawing"]]
    assert known
    body = {**again, "plan": plan["id"], "junctions": every, "shared": every}
    second = app.call("POST", f"{url}/wall-sections", body).json
    assert len(second) - 1 <= len(every) - len(known)
    markers = app.call("POST", f"{url}/markers", {"drawings": [second[0]["id"]]}).json[0]["callouts"]
    assert {likes[k]["drawing"] for k in known} <= {c["target"] for c in markers}
    assert not {likes[k]["drawing"] for k in known} & {d["id"] for d in second}
