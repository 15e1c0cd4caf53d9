"""Callouts over HTTP: made, derived, moved, marked, referred to, and what happens when their drawing goes."""

from __future__ import annotations

import pytest

from edge_slice.core.render.screen import screen_arrays
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.installation import Installation

REGION = {"points": [[0.2, 0.2], [1.4, 1.2]]}


@pytest.fixture
def section(installation: Installation, hut_project: int) -> dict:
    return add_section(installation, hut_project)


def call_out(app: Installation, parent: dict, region: dict = REGION, **more: object) -> dict:
    answer = app.call("POST", f"/api/drawings/{parent['id']}/callouts", {"region": region, **more})
    assert answer.status == 201, answer.body
    return answer.json


def now(app: Installation, drawing: dict) -> dict:
    return app.call("GET", f"/api/drawings/{drawing['id']}").json


def edit(app: Installation, drawing: dict, **change: object) -> dict:
    body = {"version": now(app, drawing)["version"], **change}
    answer = app.call("PATCH", f"/api/drawings/{drawing['id']}", body)
    assert answer.status == 200, answer.body
    return answer.json


def shown_on(app: Installation, project: int, drawing: dict) -> list[dict]:
    (one,) = app.call("POST", f"/api/projects/{project}/markers", {"drawings": [drawing["id"]]}).json
    return one["callouts"]


def head(app: Installation, drawing: dict) -> dict:
    return screen_arrays(app.call("GET", f"/api/drawings/{drawing['id']}/view").body)[0]


def test_a_callout_is_larger_and_of_its_own_series(installation: Installation, section: dict) -> None:
    made = call_out(installation, section)
    assert (made["kind"], made["letter"], made["title"]) == ("detail", "D1", "Detail D1")
    assert made["style"]["scale"] < 50
    assert made["parent_id"] == section["id"]
    assert made["cut"]["line"] == section["cut"]["line"]
    assert [made["cut"]["extents"][side] for side in ("left", "base", "right", "top")] == [0.2, 0.2, 1.4, 1.2]
    inner = call_out(installation, made, {"points": [[0.3, 0.3], [0.7, 0.8]]}, form="wall", name="At the sill")
    assert (inner["kind"], inner["letter"], inner["title"]) == ("wall section", "W1", "At the sill")
    assert inner["style"]["scale"] < made["style"]["scale"]


def test_what_is_called_out_from_a_plan_enlarges_it(installation: Installation, hut_project: int) -> None:
    made = call_out(installation, plan_of(installation, hut_project), {"points": [[0.5, 0.5], [2, 2]]})
    assert (made["kind"], made["letter"]) == ("enlarged plan", "P1")


def test_callouts_follow_their_drawing_however_deep(installation: Installation, section: dict) -> None:
    outer = call_out(installation, section)
    inner = call_out(installation, outer, {"points": [[0.4, 0.4], [0.9, 0.9]]})
    line = [[x + 0.1, y] for x, y in section["cut"]["line"]]
    edit(installation, section, cut={**section["cut"], "line": line})
    for one in (outer, inner):
        follows = now(installation, one)
        assert follows["cut"]["line"] == line
        assert follows["view"] != one["view"]
    installation.call("POST", f"/api/projects/{section['project_id']}/undo")
    assert now(installation, inner)["view"] == inner["view"]


def test_its_region_is_moved_by_itself_or_by_its_extents(installation: Installation, section: dict) -> None:
    made = call_out(installation, section)
    moved = edit(installation, made, callout={**made["callout"], "region": {"points": [[0.4, 0.2], [1.6, 1.2]]}})
    assert moved["cut"]["extents"]["left"] == pytest.approx(0.4)
    assert moved["callout"]["region"]["v"]["to"] == "level"  # tied anew
    extents = {**moved["cut"]["extents"], "top": 1.9}
    higher = edit(installation, made, cut={**moved["cut"], "extents": extents})
    assert [p[1] for p in higher["callout"]["region"]["points"]] == pytest.approx([0.2, 1.9])
    assert not higher["callout"]["own_depth"]
    deep = edit(installation, made, cut={**higher["cut"], "depth": 0.5})
    assert deep["callout"]["own_depth"]
    edit(installation, section, cut={**section["cut"], "depth": 2})
    assert now(installation, made)["cut"]["depth"] == 0.5


def test_its_marker_says_its_number_and_stands_clear(
    installation: Installation, hut_project: int, section: dict
) -> None:
    made = call_out(installation, section)
    (mark,) = shown_on(installation, hut_project, section)
    assert (mark["source"], mark["target"], mark["own"]) == (f"drawing:{made['id']}", made["id"], True)
    assert (mark["upper"], mark["lower"]) == ("D1", "–")
    (placed,) = head(installation, section)["callouts"]
    x, y = placed["bubble"]
    assert placed["source"] == mark["source"]
    assert len(placed["leader"]) == 2
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"number": "A-501", "title": "x"}).json
    installation.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": made["id"]})
    (mark,) = shown_on(installation, hut_project, section)
    assert (mark["upper"], mark["lower"]) == ("1", "A-501")
    assert head(installation, section)["callouts"][0]["bubble"] == [x, y]
    style = {**made["style"], "callout": {"bubble": [-60, 40], "elbow": True}}
    edit(installation, made, style=style)
    (placed,) = head(installation, section)["callouts"]
    assert len(placed["leader"]) == 3
    assert placed["bubble"] != [x, y]
    svg = installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body.decode()
    assert "A-501" in svg


def test_it_shows_wherever_the_place_is_seen_so(installation: Installation, hut_project: int, section: dict) -> None:
    made = call_out(installation, section)
    inner = call_out(installation, made, {"points": [[0.4, 0.4], [0.9, 0.9]]})
    assert {m["target"] for m in shown_on(installation, hut_project, section)} == {made["id"]}
    edit(installation, inner, style={**inner["style"], "scale": 10})  # at 1:5 it is too small for a drawing at 1:50
    assert {m["target"] for m in shown_on(installation, hut_project, section)} == {made["id"], inner["id"]}
    edit(installation, inner, style={**inner["style"], "scale": 5})
    assert {m["target"] for m in shown_on(installation, hut_project, made)} == {inner["id"]}
    assert shown_on(installation, hut_project, inner) == []
    assert shown_on(installation, hut_project, plan_of(installation, hut_project)) == []
    change = {"style": {"callouts": False, "scale": 50}}
    edit(installation, section, **change)
    assert shown_on(installation, hut_project, section) == []


def test_a_typical_detail_is_led_to_from_several_places(
    installation: Installation, hut_project: int, section: dict
) -> None:
    url = f"/api/drawings/{section['id']}/callout-references"
    made = installation.call("POST", url, {"region": REGION, "blank": {"width": 0.6, "height": 0.4}, "name": "Sill"})
    assert made.status == 201
    drawings = installation.call("GET", f"/api/projects/{hut_project}/drawings").json
    blank = next(d for d in drawings if d["kind"] == "blank detail")
    assert blank["id"] == made.json["target_id"]
    assert head(installation, blank)["empty"]
    other = {"points": [[2.0, 0.2], [2.6, 0.9]]}
    again = installation.call("POST", url, {"region": other, "target_id": blank["id"]}).json
    assert [m["target"] for m in shown_on(installation, hut_project, section)] == [blank["id"]] * 2
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"number": "A-502", "title": "x"}).json
    installation.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": blank["id"]})
    svg = installation.call("GET", f"/api/sheets/{sheet['id']}/export.svg").body.decode()
    assert f"for {section['letter']}" in svg
    change = {"version": again["version"], "marker": {"bubble": [30, 30]}}
    assert installation.call("PATCH", f"/api/callout-references/{again['id']}", change).status == 200
    assert installation.call("PATCH", f"/api/callout-references/{again['id']}", change).status == 409
    assert installation.call("DELETE", f"/api/callout-references/{again['id']}").status == 204
    assert len(shown_on(installation, hut_project, section)) == 1
    for _ in range(2):
        installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert len(shown_on(installation, hut_project, section)) == 2


def test_callouts_do_not_lead_in_circles(installation: Installation, section: dict) -> None:
    detail = call_out(installation, section)
    url = f"/api/drawings/{detail['id']}/callout-references"
    inside = {"points": [[0.4, 0.4], [0.9, 0.9]]}
    for target in (detail, section):
        answer = installation.call("POST", url, {"region": inside, "target_id": target["id"]})
        assert (answer.status, answer.json["field"]) == (422, "target_id")
        assert "circle" in answer.json["message"]
    assert installation.call("POST", url, {"region": inside}).status == 422
    assert installation.call("POST", url, {"region": inside, "target_id": 999_999}).status == 404


@pytest.mark.parametrize(
    ("region", "word"),
    [
        ({"points": [[1, 1], [1, 2]]}, "no size"),
        ({"points": [[0, 0], [2, 2], [2, 0], [0, 2]], "shape": "polygon"}, "cross"),
        ({"points": [[70, 1], [72, 2]]}, "outside the drawing"),
    ],
)
def test_impossible_regions_are_refused(installation: Installation, section: dict, region: dict, word: str) -> None:
    answer = installation.call("POST", f"/api/drawings/{section['id']}/callouts", {"region": region})
    assert answer.status == 422
    assert word in answer.json["message"]
    assert answer.json["field"].startswith("region")


def test_callouts_of_a_deleted_drawing_are_kept_or_go_with_it(
    installation: Installation, hut_project: int, section: dict
) -> None:
    made = call_out(installation, section)
    inner = call_out(installation, made, {"points": [[0.4, 0.4], [0.9, 0.9]]})
    refused = installation.call("DELETE", f"/api/drawings/{section['id']}")
    assert (refused.status, refused.json["field"]) == (422, "callouts")
    assert "keep them" in refused.json["message"]
    assert installation.call("DELETE", f"/api/drawings/{section['id']}?callouts=keep").status == 204
    own = now(installation, made)
    assert (own["callout"], own["parent_id"], own["cut"]) == (None, None, made["cut"])
    assert now(installation, inner)["callout"] is not None
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert now(installation, made)["callout"] == made["callout"]
    assert installation.call("DELETE", f"/api/drawings/{section['id']}?callouts=delete").status == 204
    assert installation.call("GET", f"/api/drawings/{inner['id']}").status == 404
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert now(installation, inner)["view"] == inner["view"]


def test_a_region_that_its_drawing_shows_no_more_says_so(installation: Installation, section: dict) -> None:
    made = call_out(installation, section)
    edit(installation, section, cut={**section["cut"], "extents": {"base": 2.0}})
    assert now(installation, made)["cut"]["extents"] == made["cut"]["extents"]
    assert "outside the drawing" in head(installation, made)["findings"][0]


def test_a_wall_section_is_made_with_its_junctions(installation: Installation, hut_project: int) -> None:
    plan = plan_of(installation, hut_project)
    place = {"at": [2.0, 0.0], "look": "left"}
    url = f"/api/projects/{hut_project}"
    proposed = installation.call("POST", f"{url}/wall-section-proposals", place)
    assert proposed.status == 200, proposed.body
    names = [j["name"] for j in proposed.json["junctions"]]
    assert names
    assert proposed.json["cut"]["of"] == "wall"
    before = installation.call("GET", f"{url}/drawings").json
    made = installation.call("POST", f"{url}/wall-sections", {**place, "plan": plan["id"], "junctions": [0]})
    assert made.status == 201, made.body
    section, detail = made.json
    assert (section["kind"], section["parent_id"]) == ("wall section", plan["id"])
    assert (detail["name"], detail["parent_id"], detail["style"]["scale"]) == (names[0], section["id"], 10)
    installation.call("POST", f"{url}/undo")
    assert installation.call("GET", f"{url}/drawings").json == before
    far = installation.call("POST", f"{url}/wall-section-proposals", {"at": [90, 90]})
    assert (far.status, far.json["field"]) == (422, "at")
    wrong = installation.call("POST", f"{url}/wall-sections", {**place, "plan": plan["id"], "junctions": [99]})
    assert (wrong.status, wrong.json["field"]) == (422, "junctions")


def test_rooms_of_a_plan_are_enlarged_in_one_act(installation: Installation, demo_project: int) -> None:
    drawings = installation.call("GET", f"/api/projects/{demo_project}/drawings").json
    plan = next(d for d in drawings if d["title"] == "Lower plan")
    things = installation.call("GET", f"/api/projects/{demo_project}/places").json["things"]
    stair = next(t for t in things if t["kind"] == "stair" and -0.5 < t["base"] < 1.2)
    room = next(t for t in things if t["kind"] == "room" and "Wet lab" in t["name"])
    url = f"/api/drawings/{plan['id']}/enlargements"
    made = installation.call("POST", url, {"things": [stair["guid"], room["guid"]]})
    assert made.status == 201, made.body
    assert [d["kind"] for d in made.json] == ["enlarged plan"] * 2
    assert made.json[1]["name"] == room["name"]
    assert made.json[1]["cut"]["extents"]["left"] < min(x for x, _ in room["outline"])
    installation.call("POST", f"/api/projects/{demo_project}/undo")
    assert installation.call("POST", url, {"things": ["nothing"]}).status == 422


def test_a_strip_of_a_section_is_laid_into_its_plan_and_follows_it(
    installation: Installation, hut_project: int, section: dict
) -> None:
    plan = plan_of(installation, hut_project)
    whole = head(installation, plan)
    style = {**plan["style"], "strips": [{"drawing": section["id"], "base": 0.2, "top": 2.2}]}
    opened = edit(installation, plan, style=style)
    shown = head(installation, plan)
    assert shown["folds"][0]["v"][1][2] > 2000 / plan["style"]["scale"]
    assert shown["frame"][2] - shown["frame"][0] > whole["frame"][2] - whole["frame"][0] + 1
    line = [[x + 0.1, y] for x, y in section["cut"]["line"]]
    edit(installation, section, cut={**section["cut"], "line": line})
    moved = head(installation, plan)
    assert now(installation, plan)["view"] != opened["view"]
    assert moved["folds"][0]["v"][0][1] != shown["folds"][0]["v"][0][1]
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"number": "A-503", "title": "x"}).json
    placed = installation.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": plan["id"]}).json
    (place,) = placed["placements"]
    wide = moved["frame"][2] - moved["frame"][0]
    assert place["box"][2] - place["box"][0] == pytest.approx(wide, abs=0.01)
    edit(installation, section, cut={**section["cut"], "line": [[90, 0], [90, 5]]})
    lost = head(installation, plan)
    assert any("outside the plan" in finding for finding in lost["findings"])
    assert lost["folds"] == []


def test_a_strip_that_covers_a_band_tells_its_levels_and_comes_with_its_project(
    installation: Installation, hut_project: int, section: dict
) -> None:
    plan = plan_of(installation, hut_project)
    whole = head(installation, plan)
    strip = {"drawing": section["id"], "base": -0.2, "top": 2.2, "replaces": True, "levels": True}
    edit(installation, plan, style={**plan["style"], "strips": [strip]})
    shown = head(installation, plan)
    assert shown["frame"] == whole["frame"]
    assert {label["role"] for label in shown["labels"]} >= {"level height"}
    assert not any(t["role"] == "level height" for t in whole["labels"])
    files = installation.call("GET", f"/api/projects/{hut_project}/files")
    sent = installation.upload("copy.zip", files.body)
    copy = installation.finished_import(sent.json["id"])["project_id"]
    again = head(installation, plan_of(installation, copy))
    assert sorted(t["text"] for t in again["labels"]) == sorted(t["text"] for t in shown["labels"])


def test_a_place_is_proposed_for_a_strip_where_it_covers_least(
    installation: Installation, hut_project: int, section: dict
) -> None:
    plan = plan_of(installation, hut_project)
    url = f"/api/projects/{hut_project}/strip-place"
    strip = {"drawing": section["id"], "base": 0.2, "top": 2.2, "replaces": True}
    wanted = {"cut": plan["cut"], "style": {**plan["style"], "strips": [strip]}, "number": 0, "long": 1.5}
    found = installation.call("POST", url, wanted)
    assert found.status == 200, found.body
    assert found.json["end"] - found.json["start"] == pytest.approx(1.5)
    edit(installation, plan, style={**plan["style"], "strips": [{**strip, **found.json}]})
    assert head(installation, plan)["findings"] == []
    for wrong, word in (
        ({"number": 3}, "no strip of this number"),
        ({"cut": section["cut"]}, "Only a plan has strips"),
        ({"style": {**plan["style"], "strips": [{**strip, "base": 40, "top": 41}]}}, "cuts nothing between"),
    ):
        refused = installation.call("POST", url, wanted | wrong)
        assert refused.status == 422
        assert word in str(refused.json)


def test_breaks_that_leave_nothing_are_refused_and_lost_ones_are_not_drawn(
    installation: Installation, section: dict
) -> None:
    extents = {**section["cut"]["extents"], "breaks": [{"axis": "u", "start": 0.5, "end": 1.0}], "broken": ["left"]}
    made = edit(installation, section, cut={**section["cut"], "extents": extents})
    assert head(installation, section)["folds"][0]["u"][0][1] == pytest.approx(500 / made["style"]["scale"])
    for wrong, word in (({"start": -5, "end": 90}, "wider"), ({"start": 0.6, "end": 2.0}, "overlap")):
        breaks = [{"axis": "u", **wrong}, *([] if word == "wider" else extents["breaks"])]
        body = {"version": made["version"], "cut": {**made["cut"], "extents": {**extents, "breaks": breaks}}}
        refused = installation.call("PATCH", f"/api/drawings/{section['id']}", body)
        assert refused.status == 422
        assert word in refused.json["message"]


def test_moving_a_drawing_cuts_its_nine_nested_callouts_only_when_they_are_seen(
    installation: Installation, section: dict
) -> None:
    outer = call_out(installation, section, {"points": [[0.1, 0.1], [3.0, 2.0]]})
    nested = [outer]
    for k in range(8):
        low, high = 0.15 + 0.05 * k, 2.9 - 0.2 * k
        nested.append(call_out(installation, nested[-1], {"points": [[low, low], [high, high * 0.6]]}))
    line = [[x + 0.1, y] for x, y in section["cut"]["line"]]
    edit(installation, section, cut={**section["cut"], "line": line})
    views = [now(installation, one)["view"] for one in nested]
    assert len(set(views)) == 9

    def known(view: str) -> int:
        return int(installation.one(f"SELECT count(*) FROM kept_view WHERE key = '{view}'")[0])

    assert [known(view) for view in views] == [0] * 9
    head(installation, nested[4])
    assert [known(view) for view in views] == [0, 0, 0, 0, 1, 0, 0, 0, 0]
