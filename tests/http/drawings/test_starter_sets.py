"""Starter sets, shown sets and given settings over HTTP."""

import pytest

from tests.http.drawings.test_drawings import SECTION, add_section, plan_of
from tests.installation import Installation


def drawings(app: Installation, project: int) -> list[dict]:
    return app.call("GET", f"/api/projects/{project}/drawings").json


def test_a_starter_set_is_proposed_made_and_undone_as_one(installation: Installation, hut_project: int) -> None:
    url = f"/api/projects/{hut_project}/starter-set"
    proposed = installation.call("GET", url).json
    assert [p["there"] is not None for p in proposed if p["key"].startswith("plan")] == [True]
    wanted = [p["key"] for p in proposed if not p["there"]]
    before = drawings(installation, hut_project)
    made = installation.call("POST", url, {"keys": wanted})
    assert made.status == 201
    assert [d["kind"] for d in made.json] == ["elevation"] * 4 + ["section"] * 2
    assert [d["title"] for d in made.json[-2:]] == ["Long section A", "Cross section B"]
    assert {d["cut"]["shown_set"] for d in made.json} == {"no-loose-things"}
    assert all(p["there"] for p in installation.call("GET", url).json)
    boxes = f"/api/projects/{hut_project}/shared-extents"
    (box,) = installation.call("GET", boxes).json
    assert {d["cut"]["shared_extents"] for d in made.json} == {box["key"]}
    again = installation.call("POST", url, {"keys": wanted[:1]}).json
    assert again[0]["cut"]["shared_extents"] == box["key"]  # which is made once
    for _ in range(2):
        installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert installation.call("GET", boxes).json == []
    assert drawings(installation, hut_project) == before
    lost = installation.call("POST", url, {"keys": ["elevation upwards"]})
    assert (lost.status, lost.json["field"]) == (422, "keys")


def test_a_shown_set_is_followed_changed_and_kept_while_followed(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    url = f"/api/projects/{hut_project}/shown-sets"
    new = installation.call("POST", url, {"name": "No walls", "rule": {"without_kinds": ["wall"]}}).json
    cut = {**section["cut"], "shown_set": new["key"]}
    followed = installation.edit(f"/api/drawings/{section['id']}", {"cut": cut}).json
    report = installation.call("POST", f"/api/projects/{hut_project}/cut-report", {"cut": cut}).json
    assert "wall" not in {p["kind"] for p in report["passages"]}
    refused = installation.call("DELETE", f"/api/shown-sets/{new['id']}")
    assert refused.status == 422
    everything = {"name": "All", "rule": {}, "version": new["version"]}
    assert installation.call("PATCH", f"/api/shown-sets/{new['id']}", everything).status == 200
    assert installation.call("GET", f"/api/drawings/{section['id']}").json["view"] != followed["view"]
    report = installation.call("POST", f"/api/projects/{hut_project}/cut-report", {"cut": cut}).json
    assert "wall" in {p["kind"] for p in report["passages"]}
    assert installation.call("PATCH", f"/api/shown-sets/{new['id']}", everything).status == 409


def test_elements_are_picked_and_left_out(installation: Installation, hut_project: int) -> None:
    body = {"style": {}, "cut": SECTION, "box": [-1, -1, 6, 4], "whole": False}
    everything = installation.call("POST", f"/api/projects/{hut_project}/pick-in", body).json
    wall = next(e for e in everything if e["kind"] == "wall")
    assert wall["lines"]
    body["cut"] = {**SECTION, "left_out": [wall["guid"]]}
    rest = installation.call("POST", f"/api/projects/{hut_project}/pick-in", body).json
    assert {e["guid"] for e in everything} - {e["guid"] for e in rest} >= {wall["guid"]}
    named = installation.call("POST", f"/api/projects/{hut_project}/elements", {"guids": [wall["guid"], "lost"]}).json
    assert [e["guid"] for e in named] == [wall["guid"]]
    u, v = wall["lines"][0][0]
    at = {"style": {}, "cut": SECTION, "at": [u, v], "reach": 0.01}
    assert wall["guid"] in {e["guid"] for e in installation.call("POST", f"/api/projects/{hut_project}/pick", at).json}


def test_settings_are_given_to_others_in_one_act(installation: Installation, hut_project: int) -> None:
    one, two = add_section(installation, hut_project), add_section(installation, hut_project)
    plan = plan_of(installation, hut_project)
    style = {**one["style"], "scale": 20, "fill": "solid"}
    cut = {**one["cut"], "without": ["window"], "depth": 1.5}
    installation.edit(f"/api/drawings/{one['id']}", {"style": style, "cut": cut})
    url = f"/api/drawings/{one['id']}/settings"
    given = installation.call("POST", url, {"to": [two["id"], plan["id"]], "parts": ["graphics", "shows"]}).json
    assert [(d["style"]["scale"], d["style"]["fill"], d["cut"]["without"]) for d in given] == [
        (two["style"]["scale"], "solid", ["window"]), (plan["style"]["scale"], "solid", ["window"]),
    ]  # fmt: skip
    assert given[0]["cut"]["line"] == two["cut"]["line"]
    assert given[0]["cut"]["depth"] == two["cut"]["depth"]
    more = installation.call("POST", url, {"to": [two["id"]], "parts": ["scale", "depth"]}).json
    assert (more[0]["style"]["scale"], more[0]["cut"]["depth"]) == (20, 1.5)
    for _ in range(2):
        installation.call("POST", f"/api/projects/{hut_project}/undo")
    back = {d["id"]: d for d in drawings(installation, hut_project)}
    assert (back[two["id"]]["style"], back[plan["id"]]["cut"]) == (two["style"], plan["cut"])
    assert installation.call("POST", url, {"to": [2_000_000_000], "parts": ["scale"]}).status == 404


def test_sets_are_made_of_what_the_model_says(installation: Installation, demo_project: int) -> None:
    words = installation.call("GET", f"/api/projects/{demo_project}/words").json
    assert "Floor boards" in words["materials"]
    rating = next(p for p in words["properties"] if p["name"] == "Pset_DoorCommon: FireRating")
    assert set(rating["values"]) == {"EI 30", "none"}
    assert installation.call("GET", "/api/projects/999999/words").status == 404


def test_a_project_s_own_set_is_kept_and_fitted_to_another_model(
    installation: Installation, hut_project: int, demo_project: int
) -> None:
    standard = installation.call(
        "POST", f"/api/projects/{hut_project}/standards", {"copy_of": "bold", "name": "House style", "document": None}
    ).json
    shown = installation.call(
        "POST", f"/api/projects/{hut_project}/shown-sets", {"name": "Bare", "rule": {"without_kinds": ["furniture"]}}
    ).json
    cut = {**SECTION, "shown_set": shown["key"]}
    through = add_section(installation, hut_project, cut)
    style = {**through["style"], "standard": standard["key"], "scale": 25}
    installation.edit(f"/api/drawings/{through['id']}", {"style": style, "name": "Through"})
    rule = {"name": "Huts cut", "drawing_id": through["id"]}
    assert installation.call("POST", f"/api/projects/{hut_project}/drawing-rules", rule).status == 201
    kept = installation.call("POST", f"/api/projects/{hut_project}/starter-sets", {"name": "Huts"})
    assert kept.status == 201
    assert kept.json in installation.call("GET", "/api/starter-sets").json
    url = f"/api/projects/{demo_project}/starter-set"
    proposed = installation.call("GET", f"{url}?kept={kept.json['id']}").json
    mine = next(p for p in proposed if p["title"] == "Through")
    assert mine["fits"]
    assert "share of the building" in mine["why"] or "long side" in mine["why"]
    made = installation.call("POST", url, {"kept": kept.json["id"], "keys": [mine["key"]]})
    assert made.status == 201, made.body
    (drawing,) = made.json
    names = {s["key"]: s["name"] for s in installation.call("GET", f"/api/projects/{demo_project}/standards").json}
    assert names[drawing["style"]["standard"]] == "House style"
    sets = {s["key"]: s["name"] for s in installation.call("GET", f"/api/projects/{demo_project}/shown-sets").json}
    assert sets[drawing["cut"]["shown_set"]] == "Bare"
    assert (drawing["style"]["scale"], drawing["name"]) == (25, "Through")
    rules = installation.call("GET", f"/api/projects/{demo_project}/drawing-rules").json
    (brought,) = (one for one in rules if one["rule"]["name"] == "Huts cut")
    assert brought["drawings"] == 1
    assert (drawing["rule"], drawing["departs"]) == (brought["key"], ["cut.depth"])  # which is fitted to the model
    again = installation.call("POST", url, {"kept": kept.json["id"], "keys": [mine["key"]]}).json
    assert again[0]["rule"] == brought["key"]  # which is there already
    installation.call("POST", f"/api/projects/{demo_project}/undo")
    installation.call("POST", f"/api/projects/{demo_project}/undo")
    names = {s["name"] for s in installation.call("GET", f"/api/projects/{demo_project}/standards").json}
    assert "House style" not in names
    assert installation.call("DELETE", f"/api/starter-sets/{kept.json['id']}").status == 204
    assert installation.call("GET", f"{url}?kept={kept.json['id']}").status == 404


def test_a_kept_wall_section_brings_its_details(installation: Installation, demo_project: int) -> None:
    """They come back as callouts in the same places, a section without a name is listed without a letter."""
    app, url = installation, f"/api/projects/{demo_project}"
    plan = next(d for d in app.call("GET", f"{url}/drawings").json if d["kind"] == "plan")
    made = app.call("POST", f"{url}/wall-sections", {"plan": plan["id"], "at": [6.0, 0.1], "look": "left",
                                                     "junctions": [1, 2]}).json  # fmt: skip
    section, *details = made
    numbers = [d["id"] for d in (details[1], section, details[0])]
    kept = app.call("POST", f"{url}/starter-sets", {"name": "Wall", "drawings": numbers}).json
    proposed = app.call("GET", f"{url}/starter-set?kept={kept['id']}").json
    assert [p["fits"] for p in proposed] == [True] * 3
    by_title = {p["title"]: p for p in proposed}
    assert "Wall section, looking west" in by_title
    again = app.call("POST", f"{url}/starter-set", {"kept": kept["id"], "keys": [p["key"] for p in proposed]}).json
    copies = {d["title"].rsplit(" ", 1)[0]: d for d in again}
    wall = next(d for d in again if d["callout"] is None)
    assert wall["kind"] == "wall section"
    assert wall["letter"] not in ("", section["letter"])
    for detail in details:
        copy = next(d for d in again if d["name"] == detail["name"])
        assert copy["parent_id"] == wall["id"]
        assert copy["kind"] == "detail"
        assert copy["letter"].startswith("D")
        for was, now in zip(detail["callout"]["region"]["points"], copy["callout"]["region"]["points"], strict=True):
            assert now == pytest.approx(was, abs=1e-3)
        for edge in ("left", "right", "base", "top"):
            assert copy["cut"]["extents"][edge] == pytest.approx(detail["cut"]["extents"][edge], abs=2e-3)
    assert len(copies) == 3
    alone = app.call("POST", f"{url}/starter-set", {"kept": kept["id"], "keys": [by_title[details[0]["name"]]["key"]]})
    assert (alone.json[0]["callout"], alone.json[0]["parent_id"]) == (None, None)


def test_a_starter_set_and_its_sheets_come_in_one_act(installation: Installation, hut_project: int) -> None:
    app, url = installation, f"/api/projects/{hut_project}"
    proposed = app.call("GET", f"{url}/starter-set").json
    there = [p["there"] for p in proposed if p["there"] is not None]
    fresh = [p["key"] for p in proposed if p["there"] is None]
    wanted = {"template": "Noted and dimensioned", "drawings": there, "starter": {"keys": fresh}}
    made = app.call("POST", f"{url}/document", wanted)
    assert made.status == 201, made.body
    assert made.json["left_over"] == []
    drawings = {d["id"]: d["kind"] for d in made.json["drawings"]}
    assert sorted(drawings) == sorted([*there, *(d for d in drawings if d not in there)])
    assert len(drawings) == len(proposed)
    assert {p["drawing_id"] for s in made.json["sheets"] for p in s["placements"]} == set(drawings)
    assert {s["number"][:3] for s in made.json["sheets"]} == {"A-1", "A-2", "A-3"}
    again = app.call("GET", f"{url}/starter-set").json
    assert all(p["placed"] for p in again)
    assert app.call("POST", f"{url}/undo").json["label"] == "document drawings"
    assert app.call("GET", f"{url}/sheets").json == []
    assert [d["id"] for d in app.call("GET", f"{url}/drawings").json] == there
