"""Rules for new drawings over HTTP: made, followed, departed from, changed with what follows, left."""

from __future__ import annotations

from typing import Any

import pytest

from tests.http.drawings.test_drawings import SECTION, add_section, plan_of
from tests.installation import Installation

Json = dict[str, Any]
STYLE = {"scale": 20, "levels": False}
CUT = {"depth": 2.5, "without": ["slab"]}


def add_rule(app: Installation, project: int, **said: Any) -> Json:
    rule = {"name": "Working", "kind": "section", "cut": CUT, "style": STYLE, **said}
    answer = app.call("POST", f"/api/projects/{project}/drawing-rules", {"name": rule["name"], "rule": rule})
    assert answer.status == 201, answer.body
    found: Json = answer.json
    return found


def section_by(app: Installation, project: int, rule: Json, cut: Json | None = None, style: Json | None = None) -> Json:
    line = {"kind": "section", "line": SECTION["line"], "look": "left"}
    body = {"parent_id": plan_of(app, project)["id"], "cut": {**line, **(cut or {})}, "style": style or {}}
    answer = app.call("POST", f"/api/projects/{project}/drawings", {**body, "rule": rule["key"]})
    assert answer.status == 201, answer.body
    found: Json = answer.json
    return found


def drawing(app: Installation, project: int, number: int) -> Json:
    return next(d for d in app.call("GET", f"/api/projects/{project}/drawings").json if d["id"] == number)


def rule_now(app: Installation, project: int, number: int) -> Json:
    return next(r for r in app.call("GET", f"/api/projects/{project}/drawing-rules").json if r["id"] == number)


def test_a_new_drawing_begins_as_its_rule_says_and_tells_in_what_it_departs(
    installation: Installation, hut_project: int
) -> None:
    rule = add_rule(installation, hut_project)
    plain = section_by(installation, hut_project, rule)
    assert (plain["cut"]["depth"], plain["cut"]["without"], plain["style"]["scale"]) == (2.5, ["slab"], 20)
    assert (plain["rule"], plain["departs"]) == (rule["key"], [])
    own = section_by(installation, hut_project, rule, {"depth": 1.0}, {"scale": 50})
    assert (own["cut"]["depth"], own["style"]["scale"], own["style"]["levels"]) == (1.0, 50, False)
    assert own["departs"] == ["cut.depth", "style.scale"]
    rules = installation.call("GET", f"/api/projects/{hut_project}/drawing-rules").json
    assert [(r["rule"]["name"], r["drawings"]) for r in rules] == [("Working", 2)]


def test_a_way_back_leads_line_by_line_and_as_a_whole(installation: Installation, hut_project: int) -> None:
    own = section_by(installation, hut_project, add_rule(installation, hut_project), {"depth": 1.0}, {"scale": 50})
    path = f"/api/drawings/{own['id']}/rule/back"
    one = installation.call("POST", path, {"version": own["version"], "lines": ["cut.depth"]}).json
    assert (one["cut"]["depth"], one["departs"]) == (2.5, ["style.scale"])
    stale = installation.call("POST", path, {"version": own["version"]})
    assert stale.status == 409
    assert stale.json["current"]["departs"] == ["style.scale"]
    whole = installation.call("POST", path, {"version": one["version"]}).json
    assert (whole["style"]["scale"], whole["departs"]) == (20, [])
    wrong = installation.call("POST", path, {"version": whole["version"], "lines": ["style.colour"]})
    assert (wrong.status, wrong.json["field"]) == (422, "lines")


def test_a_change_says_first_what_follows_and_is_one_act(installation: Installation, hut_project: int) -> None:
    rule = add_rule(installation, hut_project)
    follower = section_by(installation, hut_project, rule)
    departed = section_by(installation, hut_project, rule, style={"scale": 50})
    edit = {"version": rule["version"], "style": {**STYLE, "scale": 10, "grid": False}}
    told = installation.call("POST", f"/api/drawing-rules/{rule['id']}/follows", edit).json
    assert [(t["drawing"], t["changes"], t["keeps"]) for t in told] == [
        (follower["id"], ["style.scale", "style.grid"], []),
        (departed["id"], ["style.grid"], ["style.scale"]),
    ]
    assert drawing(installation, hut_project, follower["id"]) == follower, "a look at it changes nothing"
    assert installation.call("PATCH", f"/api/drawing-rules/{rule['id']}", edit).status == 200
    now = [drawing(installation, hut_project, d["id"]) for d in (follower, departed)]
    assert [(d["style"]["scale"], d["style"]["grid"], d["departs"]) for d in now] == [
        (10, False, []), (50, False, ["style.scale"]),
    ]  # fmt: skip
    assert now[0]["view"] != follower["view"]
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    then = [drawing(installation, hut_project, d["id"]) for d in (follower, departed)]
    assert [(d["style"], d["departs"]) for d in then] == [
        (d["style"], d["departs"]) for d in (follower, departed)
    ]  # fmt: skip
    assert installation.call("PATCH", f"/api/drawing-rules/{rule['id']}", edit).status == 409


def test_a_rule_is_made_of_a_finished_drawing_and_changed_by_one(installation: Installation, hut_project: int) -> None:
    first = add_section(installation, hut_project)
    made = installation.call(
        "POST", f"/api/projects/{hut_project}/drawing-rules", {"name": "Authority", "drawing_id": first["id"]}
    ).json
    assert (made["rule"]["kind"], made["rule"]["cut"]["depth"]) == ("section", 3.0)
    assert drawing(installation, hut_project, first["id"])["rule"] == made["key"]
    second = section_by(installation, hut_project, made, style={"content": "outline"})
    edit = {"version": made["version"], "drawing_id": second["id"]}
    assert installation.call("PATCH", f"/api/drawing-rules/{made['id']}", edit).status == 200
    assert drawing(installation, hut_project, first["id"])["style"]["content"] == "outline"
    assert drawing(installation, hut_project, second["id"])["departs"] == []


def test_a_rule_is_given_to_several_drawings_of_its_kind_alone(installation: Installation, hut_project: int) -> None:
    rule = add_rule(installation, hut_project)
    one, two = add_section(installation, hut_project), add_section(installation, hut_project)
    path = f"/api/projects/{hut_project}/drawings/rule"
    kept = installation.call("POST", path, {"to": [one["id"]], "rule": rule["key"], "keep": True}).json
    assert kept[0]["cut"] == one["cut"]
    assert kept[0]["departs"] == ["cut.depth", "cut.without", "style.scale", "style.levels"]
    given = installation.call("POST", path, {"to": [one["id"], two["id"]], "rule": rule["key"]}).json
    assert [(d["style"]["scale"], d["departs"]) for d in given] == [(20, []), (20, [])]
    plan = plan_of(installation, hut_project)
    wrong = installation.call("POST", path, {"to": [two["id"], plan["id"]], "rule": rule["key"]})
    assert (wrong.status, wrong.json["field"]) == (422, "rule")
    assert "kind section, not plan" in wrong.json["message"]
    left = installation.call("POST", path, {"to": [one["id"]], "rule": ""}).json
    assert (left[0]["rule"], left[0]["departs"], left[0]["style"]["scale"]) == ("", [], 20)


def test_a_deleted_rule_leaves_drawings_as_they_are_and_comes_back_with_them(
    installation: Installation, hut_project: int
) -> None:
    rule = add_rule(installation, hut_project)
    one = section_by(installation, hut_project, rule)
    assert installation.call("DELETE", f"/api/drawing-rules/{rule['id']}").status == 204
    now = drawing(installation, hut_project, one["id"])
    assert (now["rule"], now["style"]) == ("", one["style"])
    body = {"cut": SECTION, "rule": rule["key"]}
    gone = installation.call("POST", f"/api/projects/{hut_project}/drawings", body)
    assert (gone.status, gone.json["field"]) == (422, "rule")
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert drawing(installation, hut_project, one["id"])["rule"] == rule["key"]


def test_a_drawing_of_another_kind_than_before_follows_its_rule_no_more(
    installation: Installation, hut_project: int
) -> None:
    one = section_by(installation, hut_project, add_rule(installation, hut_project))
    seen = {**one["cut"], "perspective": {"distance": 4}}
    now = installation.edit(f"/api/drawings/{one['id']}", {"cut": seen}).json
    assert (now["kind"], now["rule"], now["departs"]) == ("perspective section", "", [])


def test_sets_of_drawings_begin_by_a_rule(installation: Installation, hut_project: int) -> None:
    storey = plan_of(installation, hut_project)["cut"]["storey"]
    rule = add_rule(installation, hut_project, kind="plan", cut={"height": 1.5, "depth": 2}, style={"scale": 200})
    body = {"kind": "plans", "rule": rule["key"], "heights": {}}
    plans = installation.call("POST", f"/api/projects/{hut_project}/drawing-sets", body).json
    assert {(p["cut"]["height"], p["style"]["scale"], p["rule"]) for p in plans} == {(1.5, 200, rule["key"])}
    body["heights"] = {storey: 0.9}
    at_own_height = installation.call("POST", f"/api/projects/{hut_project}/drawing-sets", body).json
    assert [p["departs"] for p in at_own_height if p["cut"]["storey"] == storey] == [["cut.height"]]
    wrong = installation.call("POST", f"/api/projects/{hut_project}/drawing-sets", {**body, "kind": "elevations"})
    assert (wrong.status, wrong.json["field"]) == (422, "rule")


def test_a_starter_set_begins_by_rules_of_its_kinds(installation: Installation, hut_project: int) -> None:
    rule = add_rule(installation, hut_project)
    url = f"/api/projects/{hut_project}/starter-set"
    keys = [p["key"] for p in installation.call("GET", url).json if not p["there"]]
    made = installation.call("POST", url, {"keys": keys, "rules": [rule["key"]]}).json
    assert {(d["kind"], d["rule"], d["style"]["scale"]) for d in made} == {
        ("elevation", "", 50), ("section", rule["key"], 20),
    }  # fmt: skip
    assert all(d["departs"] == [] for d in made)
    lost = installation.call("POST", url, {"keys": keys, "rules": ["own-99"]})
    assert (lost.status, lost.json["field"]) == (422, "rule")


def test_an_office_keeps_a_rule_and_another_project_takes_it_and_what_it_says_later(
    installation: Installation, hut_project: int, demo_project: int
) -> None:
    app = installation
    standard = app.call("POST", f"/api/projects/{hut_project}/standards", {"name": "Office ink"}).json
    rule = add_rule(app, hut_project, name="Of the office", style={**STYLE, "standard": standard["key"]})
    kept = app.call("POST", f"/api/drawing-rules/{rule['id']}/office").json
    assert kept["id"] in [one["id"] for one in app.call("GET", "/api/office-rules").json]

    taken = app.call("POST", f"/api/projects/{demo_project}/office-rules/{kept['id']}").json
    names = {s["key"]: s["name"] for s in app.call("GET", f"/api/projects/{demo_project}/standards").json}
    assert names[taken["rule"]["style"]["standard"]] == "Office ink"
    assert (taken["office"], taken["departs"]) == (kept["id"], [])
    follower = section_by(app, demo_project, taken)
    own = {"version": taken["version"], "style": {**taken["rule"]["style"], "grid": False}}
    changed = app.call("PATCH", f"/api/drawing-rules/{taken['id']}", own).json
    assert changed["departs"] == ["style.grid"]

    newer = {"version": rule["version"], "style": {**rule["rule"]["style"], "scale": 10}}
    app.call("PATCH", f"/api/drawing-rules/{rule['id']}", newer)
    assert app.call("POST", f"/api/drawing-rules/{rule['id']}/office").json["id"] == kept["id"]
    behind = rule_now(app, demo_project, taken["id"])
    assert behind["departs"] == ["style.scale", "style.grid"]
    assert drawing(app, demo_project, follower["id"])["style"]["scale"] == 20, "nothing changes unasked"
    again = app.call("POST", f"/api/projects/{demo_project}/office-rules/{kept['id']}").json
    assert (again["id"], again["departs"]) == (taken["id"], [])
    now = drawing(app, demo_project, follower["id"])
    assert (now["style"]["scale"], now["style"]["grid"], now["departs"]) == (10, True, [])
    app.call("POST", f"/api/projects/{demo_project}/undo")
    assert drawing(app, demo_project, follower["id"])["style"]["scale"] == 20

    assert app.call("DELETE", f"/api/office-rules/{kept['id']}").status == 204
    assert app.call("POST", f"/api/projects/{demo_project}/office-rules/{kept['id']}").status == 404
    left = rule_now(app, demo_project, taken["id"])
    assert (left["office"], left["departs"]) == (None, [])


def test_what_a_rule_says_cannot_be_deleted(installation: Installation, hut_project: int) -> None:
    standard = installation.call("POST", f"/api/projects/{hut_project}/standards", {"name": "Ours"}).json
    shown = installation.call(
        "POST", f"/api/projects/{hut_project}/shown-sets", {"name": "Bare", "rule": {"without_kinds": ["slab"]}}
    ).json
    add_rule(installation, hut_project, style={"standard": standard["key"]}, cut={"shown_set": shown["key"]})
    for path in (f"/api/standards/{standard['id']}", f"/api/shown-sets/{shown['id']}"):
        answer = installation.call("DELETE", path)
        assert answer.status == 422
        assert "“Working”" in answer.json["message"]


def test_rules_of_one_kind_are_named_apart(installation: Installation, hut_project: int) -> None:
    rule, other = add_rule(installation, hut_project), add_rule(installation, hut_project, name="Authority")
    add_rule(installation, hut_project, kind="elevation", cut={})  # of another kind
    body = {"name": " Working ", "rule": rule["rule"]}
    twice = installation.call("POST", f"/api/projects/{hut_project}/drawing-rules", body)
    assert (twice.status, twice.json["field"]) == (422, "name")
    renamed = {"version": other["version"], "name": "Working"}
    assert installation.call("PATCH", f"/api/drawing-rules/{other['id']}", renamed).status == 422
    same = {"version": rule["version"], "name": "Working", "style": {"scale": 25}}
    assert installation.call("PATCH", f"/api/drawing-rules/{rule['id']}", same).status == 200


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"style": {"standard": "own-99"}}, "standard"),
        ({"style": {"pens": {"cat": 0.2}}}, "style.pens.cat"),
        ({"cut": {"without": ["walls"]}}, "cut.without"),
        ({"cut": {"shown_set": "own-99"}}, "cut.shown_set"),
        ({"kind": "blank detail"}, "rule.kind"),
        ({"style": {"strips": [{"drawing": 1}]}}, "rule.style"),
    ],
    ids=["standard", "pen", "kind of element", "shown set", "kind", "strips"],
)
def test_a_rule_that_says_what_there_is_not_is_refused(
    installation: Installation, hut_project: int, said: Json, field: str
) -> None:
    rule = {"name": "Working", "kind": "section", **said}
    answer = installation.call("POST", f"/api/projects/{hut_project}/drawing-rules", {"name": "W", "rule": rule})
    assert (answer.status, answer.json["field"]) == (422, field), answer.body


def test_a_rule_says_what_a_drawing_is_given_what_it_is_called_and_its_series(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    begins = {"series": "S", "title": "Working section {letter}"}
    rule = add_rule(app, hut_project, begins=begins)
    one, two = section_by(app, hut_project, rule), section_by(app, hut_project, rule)
    assert [(d["letter"], d["title"], d["departs"]) for d in (one, two)] == [
        ("S1", "Working section S1", []), ("S2", "Working section S2", []),
    ]  # fmt: skip
    changed = {"version": rule["version"], "begins": {**begins, "title": "{kind} {letter}"}}
    assert app.call("PATCH", f"/api/drawing-rules/{rule['id']}", changed).status == 200
    assert drawing(app, hut_project, two["id"])["title"] == "Section S2"
    app.call("POST", f"/api/projects/{hut_project}/drawings/rule", {"to": [two["id"]], "rule": ""})
    assert drawing(app, hut_project, two["id"])["title"].startswith("Section S2, looking")


def test_a_drawing_is_given_the_sets_that_its_rule_says(installation: Installation, hut_project: int) -> None:
    app, path = installation, f"/api/projects/{hut_project}"
    rule = add_rule(app, hut_project, kind="plan", cut={}, style={}, begins={"sets": ["outside"]})
    body = {"cut": plan_of(app, hut_project)["cut"], "rule": rule["key"]}
    made = app.call("POST", f"{path}/drawings", body).json
    placed = app.call("GET", f"/api/drawings/{made['id']}/annotations").json
    assert {a["document"]["rule"] for a in placed} == {"outside"}
    again = app.call("POST", f"{path}/drawing-rules", {"name": "As this", "drawing_id": made["id"]})
    assert again.json["rule"]["begins"]["sets"] == ["outside"]
    app.call("POST", f"{path}/undo", {})
    app.call("POST", f"{path}/undo", {})
    assert made["id"] not in {d["id"] for d in app.call("GET", f"{path}/drawings").json}


@pytest.mark.parametrize(
    ("kind", "begins"),
    [
        ("section", {"sets": ["rooms"]}), ("plan", {"sets": ["levels"]}), ("plan", {"sets": ["openings"]}),
        ("plan", {"series": "P"}), ("section", {"title": "{storey}"}), ("section", {"title": "{letter"}),
    ],
)  # fmt: skip
def test_what_a_kind_can_not_begin_with_is_refused(
    installation: Installation, hut_project: int, kind: str, begins: Json
) -> None:
    rule = {"name": "Wrong", "kind": kind, "begins": begins}
    answer = installation.call("POST", f"/api/projects/{hut_project}/drawing-rules", {"name": "Wrong", "rule": rule})
    assert answer.status in (400, 422), answer.body


def test_a_rule_says_shared_extents_and_the_design_of_sheets(installation: Installation, hut_project: int) -> None:
    app = installation
    section = add_section(app, hut_project)
    box = app.call("POST", f"/api/projects/{hut_project}/shared-extents", {"name": "All", "drawing_id": section["id"]})
    rule = add_rule(app, hut_project, begins={"shared_extents": box.json["key"], "design": "base-strip", "size": "A1"})
    made = section_by(app, hut_project, rule)
    assert made["cut"]["shared_extents"] == box.json["key"]
    body = {"template": "As drawn", "drawings": [made["id"]]}
    sheet = app.call("POST", f"/api/projects/{hut_project}/document", body).json["sheets"][0]
    assert (sheet["design"], sheet["size"]) == ("base-strip", "A1")
    unknown = {"name": "Lost", "kind": "section", "begins": {"shared_extents": "own-99"}}
    refused = app.call("POST", f"/api/projects/{hut_project}/drawing-rules", {"name": "Lost", "rule": unknown})
    assert refused.status == 422


def test_a_callout_begins_by_a_rule(installation: Installation, hut_project: int) -> None:
    app = installation
    section = add_section(app, hut_project)
    style = {"scale": 5, "levels": False}
    rule = add_rule(app, hut_project, kind="detail", cut={}, style=style, begins={"sets": ["layers"], "series": "K"})
    region = {"points": [[0.5, 1.0], [1.5, 2.0]]}
    path = f"/api/drawings/{section['id']}/callouts"
    made = app.call("POST", path, {"region": region, "rule": rule["key"]}).json
    assert (made["letter"], made["style"]["scale"], made["rule"], made["departs"]) == ("K1", 5, rule["key"], [])
    other = add_rule(app, hut_project, name="Other")
    assert app.call("POST", path, {"region": region, "rule": other["key"]}).status == 422


def test_wall_sections_and_their_details_and_enlargements_begin_by_rules(
    installation: Installation, demo_project: int
) -> None:
    app = installation
    project = app.project_like(demo_project)
    url, at = f"/api/projects/{project}", {"at": [6.0, 0.1], "look": "left"}
    plan = next(d for d in app.call("GET", f"{url}/drawings").json if d["kind"] == "plan")
    ours = {"cut": {"depth": 0.5}, "style": {"scale": 10}}
    section = add_rule(app, project, kind="wall section", **ours, begins={"series": "WS"})
    detail = add_rule(app, project, kind="detail", cut={}, style={"scale": 2}, begins={"series": "K"})
    body = {**at, "plan": plan["id"], "junctions": [0], "rule": section["key"], "detail_rule": detail["key"]}
    one, called = app.call("POST", f"{url}/wall-sections", body).json
    assert (one["letter"], one["cut"]["depth"], one["style"]["scale"], one["departs"]) == ("WS1", 0.5, 10, [])
    assert (called["letter"], called["style"]["scale"], called["rule"]) == ("K1", 2, detail["key"])
    wrong = {**body, "rule": detail["key"]}
    assert app.call("POST", f"{url}/wall-sections", wrong).status == 422
    larger = add_rule(app, project, kind="enlarged plan", cut={}, style={"scale": 25})
    stair = next(t for t in app.call("GET", f"{url}/places").json["things"] if t["kind"] == "stair")
    for drawing_of in (d for d in app.call("GET", f"{url}/drawings").json if d["kind"] == "plan"):
        path = f"/api/drawings/{drawing_of['id']}/enlargements"
        made = app.call("POST", path, {"things": [stair["guid"]], "rule": larger["key"]})
        if made.status == 201:
            assert (made.json[0]["style"]["scale"], made.json[0]["rule"]) == (25, larger["key"])
            break
    else:
        raise AssertionError("no plan shows the stair")
