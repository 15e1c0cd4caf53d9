"""Remarks over HTTP: pinned to sheets and drawings, seen where the place shows, answered, done."""

from __future__ import annotations

from typing import Any

import pytest

from tests.conftest import Team
from tests.installation import Installation
from tests.office import Office

ACROSS = {"kind": "section", "line": [[3, -2], [3, 6]], "look": "left", "depth": 2}


def drawing(app: Installation, project: int, cut: dict[str, Any]) -> int:
    made = app.call("POST", f"/api/projects/{project}/drawings", {"cut": cut, "parent_id": None})
    assert made.status == 201, made.body
    return int(made.json["id"])


def remark(app: Installation, project: int, **said: Any) -> dict[str, Any]:
    made = app.call("POST", f"/api/projects/{project}/remarks", {"text": "Is this meant so?", **said})
    assert made.status == 201, made.body
    found: dict[str, Any] = made.json
    return found


def pins(app: Installation, drawing: int) -> dict[int, list[float]]:
    return {one["remark"]: one["at"] for one in app.call("GET", f"/api/drawings/{drawing}/remarks").json}


def test_what_is_remarked_in_a_section_shows_in_every_drawing_of_that_place(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    section = drawing(app, hut_project, ACROSS)
    made = remark(app, hut_project, drawing=section, at=[2500, 1200])
    assert (made["number"], made["state"], made["drawing"]) == (1, "open", section)
    assert pins(app, section) == {made["id"]: [2500.0, 1200.0]}
    # the line runs along y from -2: the place is x 3, y 0.5, 1.2 over the section's origin
    along = drawing(app, hut_project, {"kind": "section", "line": [[-2, 0.4], [8, 0.4]], "look": "left", "depth": 1})
    u, v = pins(app, along)[made["id"]]
    assert (u, v) == (5000.0, 1200.0)
    behind = drawing(app, hut_project, {"kind": "section", "line": [[-2, 2.4], [8, 2.4]], "look": "left", "depth": 1})
    assert pins(app, behind) == {}  # it lies before that cut
    short = drawing(app, hut_project, {"kind": "section", "line": [[-2, -1], [8, -1]], "look": "left", "depth": 1})
    assert pins(app, short) == {}  # it lies beyond its depth


def test_a_remark_stays_at_its_place_where_the_cut_is_moved(installation: Installation, hut_project: int) -> None:
    section = drawing(installation, hut_project, ACROSS)
    made = remark(installation, hut_project, drawing=section, at=[2500, 1200])
    moved = {**ACROSS, "line": [[3, -1], [3, 6]]}
    assert installation.edit(f"/api/drawings/{section}", {"cut": moved}).status == 200
    assert pins(installation, section) == {made["id"]: [1500.0, 1200.0]}


def test_a_remark_on_a_sheet_is_answered_and_done(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = app.call("POST", f"/api/projects/{hut_project}/sheets", {"title": "Plans"}).json
    made = remark(app, hut_project, sheet=sheet["id"], at=[100.5, 50], to="Mo", due="2026-12-24")
    assert (made["where"], made["to"], made["due"]) == (f"{sheet['number']} Plans", "Mo", "2026-12-24")
    path = f"/api/remarks/{made['id']}"
    answered = app.call("POST", f"{path}/answers", {"text": "No; it moves."}).json
    assert (answered["state"], [one["text"] for one in answered["answers"]]) == ("answered", ["No; it moves."])
    stale = app.call("PATCH", path, {"version": made["version"], "state": "done"})
    assert stale.status == 409
    assert stale.json["current"]["state"] == "answered"
    assert app.edit(path, {"state": "done"}).json["state"] == "done"
    assert app.call("DELETE", f"/api/sheets/{sheet['id']}").status == 204
    (listed,) = app.call("GET", f"/api/projects/{hut_project}/remarks").json
    assert not listed["here"]
    assert "not there any more" in listed["where"]
    assert app.call("DELETE", path).status == 204
    assert app.call("GET", f"/api/projects/{hut_project}/remarks").json == []


def test_undo_of_a_drawing_leaves_remarks(installation: Installation, hut_project: int) -> None:
    section = drawing(installation, hut_project, ACROSS)
    remark(installation, hut_project, drawing=section, at=[2500, 1200])
    assert installation.call("POST", f"/api/projects/{hut_project}/undo").json["label"]
    (listed,) = installation.call("GET", f"/api/projects/{hut_project}/remarks").json
    assert not listed["here"]
    installation.call("POST", f"/api/projects/{hut_project}/redo")
    (listed,) = installation.call("GET", f"/api/projects/{hut_project}/remarks").json
    assert listed["here"]
    assert len(pins(installation, section)) == 1


def test_numbers_are_counted_by_project_and_none_comes_twice(
    installation: Installation, hut_project: int, untouched_hut: int
) -> None:
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {}).json["id"]
    assert [remark(installation, hut_project, sheet=sheet, at=[k, 1])["number"] for k in range(3)] == [1, 2, 3]
    other = installation.project_like(untouched_hut)
    elsewhere = installation.call("POST", f"/api/projects/{other}/sheets", {}).json["id"]
    assert remark(installation, other, sheet=elsewhere, at=[1, 1])["number"] == 1
    foreign = installation.call(
        "POST", f"/api/projects/{other}/remarks", {"text": "There", "sheet": sheet, "at": [1, 1]}
    )  # fmt: skip
    assert foreign.status == 404


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"at": [0, 0], "text": "x"}, ""),
        ({"at": [0, 0], "text": "x", "sheet": 1, "drawing": 1}, ""),
        ({"at": [0, 0], "text": "  ", "sheet": 1}, "text"),
        ({"at": [0, 1e9], "text": "x", "sheet": 1}, "at.1"),
        ({"at": [0, 0], "text": "x", "sheet": 1, "due": "2026-13-01"}, "due"),
        ({"at": [0, 0], "text": "x", "sheet": 1, "state": "done"}, "state"),
    ],
)
def test_what_is_no_remark_is_refused(
    installation: Installation, hut_project: int, said: dict[str, Any], field: str
) -> None:
    answer = installation.call("POST", f"/api/projects/{hut_project}/remarks", said)
    assert answer.status == 422
    assert answer.json["field"] == field


def test_reviewers_change_their_own_words_and_editors_all(office: Office, team: Team) -> None:
    path = f"/api/projects/{team.project}"
    sheet = team.owner.call("POST", f"{path}/sheets", {}).json["id"]
    body = {"text": "Too low", "sheet": sheet, "at": [10, 10]}
    theirs = team.editor.call("POST", f"{path}/remarks", body).json
    mine = team.reviewer.call("POST", f"{path}/remarks", body).json
    assert (mine["author"], mine["own"]) == ("Reviewer", True)
    seen = {one["id"]: one["own"] for one in team.reviewer.call("GET", f"{path}/remarks").json}
    assert (seen[mine["id"]], seen[theirs["id"]]) == (True, False)
    change = {"version": theirs["version"], "text": "Otherwise"}
    assert team.reviewer.call("PATCH", f"/api/remarks/{theirs['id']}", change).status == 403
    assert team.reviewer.call("DELETE", f"/api/remarks/{theirs['id']}").status == 403
    answered = team.reviewer.call("POST", f"/api/remarks/{theirs['id']}/answers", {"text": "Why?", "state": "open"})
    assert answered.json["answers"][0]["author"] == "Reviewer"
    own = {"version": mine["version"], "text": "Far too low"}
    assert team.reviewer.call("PATCH", f"/api/remarks/{mine['id']}", own).status == 200
    assert team.editor.call("DELETE", f"/api/remarks/{mine['id']}").status == 204
    assert team.outsider.call("POST", f"{path}/remarks", body).status == 404
