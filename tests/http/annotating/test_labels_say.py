"""What labels of a set say: told, kept when the set is renewed, and only what the model knows."""

from tests.http.drawings.test_drawings import plan_of
from tests.installation import Installation


def labels(app: Installation, drawing: dict) -> dict[str, list[str]]:
    """By what they name: what they say."""
    rows = app.call("GET", f"/api/drawings/{drawing['id']}/annotations").json
    return {r["document"]["subject"]: [t["text"] for t in r["texts"]] for r in rows if r["document"]["rule"] == "doors"}


def test_labels_say_what_is_told_also_when_they_are_renewed(installation: Installation, demo_project: int) -> None:
    app = installation
    plan = plan_of(app, app.project_like(demo_project))
    url = f"/api/drawings/{plan['id']}/annotation-sets"
    assert app.call("POST", url, {"rule": "doors"}).json["added"] > 0
    usual = labels(app, plan)
    app.call("POST", url, {"rule": "doors", "says": ["size", "material"]})
    told = labels(app, plan)
    assert set(told) == set(usual)
    assert all(len(lines) == 2 and "×" in lines[0] for lines in told.values())
    app.call("POST", url, {"rule": "doors"})
    assert labels(app, plan) == told


def test_unknown_properties_and_sets_that_measure_are_refused(installation: Installation, hut_project: int) -> None:
    app = installation
    url = f"/api/drawings/{plan_of(app, hut_project)['id']}/annotation-sets"
    unknown = app.call("POST", url, {"rule": "doors", "says": ["property: Pset_None: Colour"]})
    assert unknown.status == 422
    assert "Pset_None: Colour" in unknown.json["message"]
    assert app.call("POST", url, {"rule": "grid", "says": ["mark"]}).status == 422
    assert app.call("POST", url, {"rule": "doors", "says": ["colour"]}).status == 422
