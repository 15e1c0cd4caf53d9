"""What a careful colleague says of sections, over HTTP: what is offered, and what is switched off."""

from __future__ import annotations

import pytest

from tests.http.drawings.test_drawings import SECTION, add_section
from tests.http.sheets.test_checks import rules
from tests.installation import Installation


@pytest.fixture
def station(installation: Installation, demo_project: int) -> int:
    """A copy of the demo project, without its drawings."""
    return installation.project_like(demo_project)


def across(app: Installation, project: int, x: float, **more: object) -> dict:
    return add_section(app, project, {**SECTION, "line": [[x, -1.0], [x, 4.0]], **more})


def test_a_section_that_adds_nothing_is_told_of_until_it_does(installation: Installation, hut_project: int) -> None:
    app = installation
    one, other = across(app, hut_project, 1.4), across(app, hut_project, 1.5)
    found = rules(app, hut_project)["adds nothing new"]
    assert found["drawing_id"] == other["id"]
    assert found["says"].startswith(f"“{other['title']}” cuts what “{one['title']}” cuts")
    app.edit(f"/api/drawings/{other['id']}", {"cut": {**other["cut"], "look": "right"}})
    assert "adds nothing new" not in rules(app, hut_project)


def halved(app: Installation, project: int, cut: dict) -> dict | None:
    """What is said of loose things in a drawing."""
    found = app.call("GET", f"/api/projects/{project}/checks").json
    return next((f for f in found if (f["rule"], f["drawing_id"]) == ("furniture cut in half", cut["id"])), None)


def test_what_is_cut_in_half_is_drawn_whole_or_left_out(installation: Installation, station: int) -> None:
    app = installation
    cut = add_section(app, station, {"kind": "section", "line": [[4.12, -2.1], [4.12, 11.6]], "look": "left"})
    found = halved(app, station, cut)
    assert found is not None
    whole, out = found["offers"]
    assert (whole["says"], out["says"]) == ("Draw them whole", "Leave them out")
    assert whole["whole"] == out["left_out"] != []
    app.edit(f"/api/drawings/{cut['id']}", {"cut": {**cut["cut"], "whole": whole["whole"]}})
    assert halved(app, station, cut) is None
    app.edit(f"/api/drawings/{cut['id']}", {"cut": {**cut["cut"], "left_out": out["left_out"]}})
    assert halved(app, station, cut) is None


def test_interrupted_insulation_is_told_of_with_its_place(installation: Installation, station: int) -> None:
    app = installation
    lintel = {"kind": "section", "line": [[5.485, -2.1], [5.485, 11.6]], "look": "left"}
    cut = add_section(app, station, lintel)
    found = rules(app, station)["insulation interrupted"]
    assert found["says"].endswith("the rigid insulation is interrupted over 0.30 m by “Boat-bay door lintel”.")
    left, base, right, top = found["box"]
    scale = cut["style"]["scale"]
    assert (left + right) / 2 == pytest.approx(2040 / scale, abs=0.5)
    assert (base + top) / 2 == pytest.approx(2250 / scale, abs=0.5)


def test_what_is_switched_off_is_not_looked_for(installation: Installation, hut_project: int) -> None:
    app, path = installation, f"/api/projects/{hut_project}"
    add_section(app, hut_project)
    assert {"not placed", "no ground"} <= set(rules(app, hut_project))
    app.edit(path, {"unchecked": ["not placed", "no ground"]})
    assert not {"not placed", "no ground"} & set(rules(app, hut_project))
    assert app.call("GET", path).json["unchecked"] == ["no ground", "not placed"]
    known = {c["rule"] for c in app.call("GET", "/api/settings").json["checks"]}
    assert {"not placed", "adds nothing new", "insulation interrupted", "text over text"} <= known
    version = app.call("GET", path).json["version"]
    refused = app.call("PATCH", path, {"version": version, "unchecked": ["spelling"]})
    assert refused.status == 422
    assert "spelling" in refused.json["message"]
    app.call("POST", f"{path}/undo", {})
    assert "no ground" in rules(app, hut_project)


def test_a_sweep_says_where_one_more_section_would_explain_most(installation: Installation, station: int) -> None:
    app, path = installation, f"/api/projects/{station}/sweeps"
    along_x, along_y = app.call("GET", path).json
    assert (along_x["axis"], along_y["axis"]) == (0, 1)
    assert len(along_y["places"]) == len(along_y["explains"]) == len(along_y["changes"])
    best = max((along_x, along_y), key=lambda s: max(s["explains"]))
    assert best["through"]
    add_section(app, station, {"kind": "section", "line": best["line"], "look": "left"})
    after = app.call("GET", path).json[best["axis"]]
    assert after["standing"] == [best["best"]]
    assert not set(after["through"]) & set(best["through"])
