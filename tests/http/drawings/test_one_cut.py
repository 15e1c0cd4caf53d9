"""Several drawings of one cut under one letter with one marker, and studies without any."""

from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_checks import rules
from tests.http.sheets.test_sheets import add_sheet, place
from tests.installation import Installation


def heads(app: Installation, plan: dict) -> list[tuple[int, str]]:
    """The markers of sections that a plan shows: their drawing, and what their heads say."""
    project = app.call("GET", f"/api/drawings/{plan['id']}").json["project_id"]
    (shown,) = app.call("POST", f"/api/projects/{project}/markers", {"drawings": [plan["id"]]}).json
    return [(m["drawing"], m["upper"]) for m in shown["markers"]]


def test_a_copy_under_one_letter_has_its_marker_until_another_is_placed(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    body = {"name": "Presented", "one_letter": True}
    other = app.call("POST", f"/api/drawings/{cut['id']}/copy", body).json
    assert other["letter"] == cut["letter"] != ""
    assert heads(app, plan) == [(cut["id"], cut["letter"])]
    assert "cuts in one place" not in rules(app, hut_project)
    place(app, add_sheet(app, hut_project), other)
    assert [drawing for drawing, _ in heads(app, plan)] == [other["id"]]
    plain = app.call("POST", f"/api/drawings/{cut['id']}/copy", {}).json
    assert plain["letter"] != cut["letter"]
    assert "cuts in one place" in rules(app, hut_project)
    assert app.call("POST", f"/api/drawings/{plan['id']}/copy", {"one_letter": True}).status == 422


def test_a_letter_of_another_place_is_refused_and_one_that_came_to_be_is_told(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    cut = add_section(app, hut_project)
    other = app.call("POST", f"/api/drawings/{cut['id']}/copy", {"one_letter": True}).json
    moved = {**other["cut"], "line": [[x + 0.5, y] for x, y in other["cut"]["line"]]}
    assert "letter used twice" not in rules(app, hut_project)
    app.edit(f"/api/drawings/{other['id']}", {"cut": moved})
    assert rules(app, hut_project)["letter used twice"]["severity"] == "serious"
    third = add_section(app, hut_project)
    refused = app.edit(f"/api/drawings/{third['id']}", {"letter": cut["letter"]})
    assert refused.status == 422
    assert "another drawing" in refused.json["message"].casefold()


def test_a_callout_never_has_the_letter_of_its_section(installation: Installation, hut_project: int) -> None:
    app = installation
    cut = add_section(app, hut_project)
    region = {"region": {"points": [[0.8, 1.0], [1.6, 2.0]]}}
    detail = app.call("POST", f"/api/drawings/{cut['id']}/callouts", region).json
    assert app.edit(f"/api/drawings/{detail['id']}", {"letter": cut["letter"]}).status == 422


def test_a_study_has_no_marker(installation: Installation, hut_project: int) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    assert [drawing for drawing, _ in heads(app, plan)] == [cut["id"]]
    style = {**cut["style"], "marker": {**cut["style"]["marker"], "shown": False}}
    app.edit(f"/api/drawings/{cut['id']}", {"style": style})
    assert heads(app, plan) == []
