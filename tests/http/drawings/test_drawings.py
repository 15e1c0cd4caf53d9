"""Drawings over HTTP, with the real database."""

import io
import json

import ezdxf
import jsonschema
import numpy as np
import pypdf
import pytest

from edge_slice.core.render.cut_json import cut_schema
from edge_slice.core.render.screen import screen_arrays
from tests.installation import Installation

SECTION = {"kind": "section", "line": [[2.0, -1.0], [2.0, 4.0]], "look": "left", "depth": 3.0}


def plan_of(app: Installation, project: int) -> dict:
    return next(d for d in app.call("GET", f"/api/projects/{project}/drawings").json if d["kind"] == "plan")


def add_section(app: Installation, project: int, cut: dict | None = None) -> dict:
    body = {"parent_id": plan_of(app, project)["id"], "cut": cut or SECTION}
    answer = app.call("POST", f"/api/projects/{project}/drawings", body)
    assert answer.status == 201, answer.body
    return answer.json


def test_new_project_has_a_plan_of_each_storey(installation: Installation, demo_project: int) -> None:
    drawings = installation.call("GET", f"/api/projects/{demo_project}/drawings").json
    assert [d["title"] for d in drawings if d["kind"] == "plan"] == [
        "Boat bay plan", "Lower plan", "Upper plan", "Lookout plan",
    ]  # fmt: skip
    head, _ = screen_arrays(installation.call("GET", f"/api/drawings/{drawings[1]['id']}/view").body)
    assert {"cut fill", "hatch", "cut structure", "seen near"} <= {i["role"] for i in head["items"]}
    assert "Wet lab" in {label["text"] for label in head["labels"]}


def test_section_is_lettered_and_named_by_its_direction_of_view(installation: Installation, hut_project: int) -> None:
    first, second = add_section(installation, hut_project), add_section(installation, hut_project)
    assert (first["letter"], second["letter"]) == ("A", "B")
    assert first["title"] == "Section A, looking west"
    turned = {**first["cut"], "look": "right"}
    answer = installation.edit(f"/api/drawings/{first['id']}", {"cut": turned})
    assert answer.json["title"] == "Section A, looking east"
    named = installation.edit(f"/api/drawings/{first['id']}", {"name": "Through the door"})
    assert named.json["title"] == "Through the door"


def test_letters_of_deleted_sections_are_not_given_again(installation: Installation, hut_project: int) -> None:
    first = add_section(installation, hut_project)
    installation.call("DELETE", f"/api/drawings/{first['id']}")
    assert add_section(installation, hut_project)["letter"] == "B"
    for _ in range(2):  # the new one, and the deletion
        installation.call("POST", f"/api/projects/{hut_project}/undo")
    letters = [d["letter"] for d in installation.call("GET", f"/api/projects/{hut_project}/drawings").json]
    assert [x for x in letters if x] == ["A"]
    assert add_section(installation, hut_project)["letter"] == "B"


def test_names_follow_true_north(installation: Installation, demo_project: int) -> None:
    cut = {"kind": "section", "line": [[-2, 2], [24, 2]], "look": "left", "depth": 5}
    section = add_section(installation, demo_project, cut)
    assert section["title"].endswith("looking north")  # 14° off the grid still rounds to north
    installation.call("DELETE", f"/api/drawings/{section['id']}")


def test_preview_shows_a_cut_without_saving_it(installation: Installation, hut_project: int) -> None:
    before = installation.call("GET", f"/api/projects/{hut_project}/drawings").json
    answer = installation.call("POST", f"/api/projects/{hut_project}/view", {"style": {"scale": 20}, "cut": SECTION})
    head, arrays = screen_arrays(answer.body)
    assert head["scale"] == 20
    assert not head["empty"]
    assert head["axes"]["u"] == pytest.approx([0, 1, 0])
    assert head["frame"][2] == pytest.approx(5000 / 20)
    assert arrays
    assert installation.call("GET", f"/api/projects/{hut_project}/drawings").json == before


def test_seen_surfaces_are_saved_shown_and_left_out_of_what_is_moved(
    installation: Installation, hut_project: int
) -> None:
    made = add_section(installation, hut_project)
    style = {**made["style"], "appearance": "presentation"}
    saved = installation.edit(f"/api/drawings/{made['id']}", {"style": style}).json
    head, _ = screen_arrays(installation.call("GET", f"/api/drawings/{made['id']}/view").body)
    assert "surface fill" in {item["role"] for item in head["items"]}
    body = {"style": style, "cut": {**made["cut"], "depth": 5.2}, "drawing": made["id"]}
    moving = installation.call("POST", f"/api/projects/{hut_project}/view", {**body, "moving": True})
    assert "surface fill" not in {item["role"] for item in screen_arrays(moving.body)[0]["items"]}
    night = {"by": "hour", "latitude": 54, "longitude": -2, "when": "2026-06-21T01:00:00+00:00"}
    change = {"style": {**style, "surfaces": {**saved["style"]["surfaces"], "sun": night}}}
    refused = installation.edit(f"/api/drawings/{made['id']}", change)
    assert refused.status == 422
    assert "choose an hour when it is up" in refused.json["message"]
    assert installation.call("GET", f"/api/drawings/{made['id']}").json["style"] == saved["style"]


def test_a_drawing_that_is_moved_comes_quick_and_says_how_long_its_stages_took(
    installation: Installation, hut_project: int
) -> None:
    line = [[x + 0.017, y] for x, y in SECTION["line"]]  # where no other test cuts: what is known has no stages
    body = {"style": {"scale": 20}, "cut": {**SECTION, "line": line, "depth": 4}}
    moving = installation.call("POST", f"/api/projects/{hut_project}/view", {**body, "moving": True})
    whole = installation.call("POST", f"/api/projects/{hut_project}/view", body)
    quick, full = ({item["role"] for item in screen_arrays(one.body)[0]["items"]} for one in (moving, whole))
    assert "cut other" in quick
    assert "hatch" not in quick
    assert "hatch" in full
    assert "ETag" not in moving.headers  # it is never taken for the whole one
    took = dict(part.split(";dur=") for part in moving.headers["Server-Timing"].split(", "))
    assert {"rows", "slice", "overlaps", "lines", "fills", "outlines", "encode", "all"} <= set(took)
    assert sum(float(ms) for name, ms in took.items() if name != "all") <= float(took["all"])


def test_view_of_a_drawing_is_its_preview(installation: Installation, hut_project: int) -> None:
    saved = add_section(installation, hut_project)
    body = {"cut": saved["cut"], "style": saved["style"]}
    preview = installation.call("POST", f"/api/projects/{hut_project}/view", body).body
    for _ in range(2):  # computed, then from the cache
        assert installation.call("GET", f"/api/drawings/{saved['id']}/view").body == preview


def test_cut_clear_of_the_building_says_that_it_is_empty(installation: Installation, hut_project: int) -> None:
    away = {"cut": {**SECTION, "line": [[50, 0], [50, 5]], "look": "right"}}
    head, _ = screen_arrays(installation.call("POST", f"/api/projects/{hut_project}/view", away).body)
    assert head["empty"]


@pytest.mark.parametrize(
    ("cut", "style", "word"),
    [
        ({**SECTION, "line": [[1, 1], [1, 1]]}, {}, "no length"),
        ({**SECTION, "depth": 0}, {}, "depth"),
        ({**SECTION, "depth": -2}, {}, "depth"),
        (SECTION, {"scale": 0}, "scale"),
        (SECTION, {"scale": -50}, "scale"),
        ({**SECTION, "extents": {"left": 3, "right": 1}}, {}, "left and right"),
        ({**SECTION, "extents": {"left": 90}}, {}, "extents"),
        ({**SECTION, "look": "up"}, {}, "look"),
        ({"kind": "plan", "storey": "nowhere"}, {}, "storey"),
        ({**SECTION, "line": [[1, 1], [float("nan"), 1]]}, {}, "line"),
    ],
)
def test_impossible_cuts_are_refused_in_words(
    installation: Installation, hut_project: int, cut: dict, style: dict, word: str
) -> None:
    answer = installation.call(
        "POST", f"/api/projects/{hut_project}/view", {"cut": cut, "style": {"scale": 50, **style}}
    )
    assert answer.status == 422
    assert word in answer.json["message"] + answer.json["field"]
    count = len(installation.call("GET", f"/api/projects/{hut_project}/drawings").json)
    assert (
        installation.call(
            "POST", f"/api/projects/{hut_project}/drawings", {"cut": cut, "style": {"scale": 50, **style}}
        ).status
        == 422
    )
    assert len(installation.call("GET", f"/api/projects/{hut_project}/drawings").json) == count


def test_stale_edit_gets_the_newer_state_and_changes_nothing(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    path = f"/api/drawings/{section['id']}"
    assert installation.edit(path, {"cut": {**section["cut"], "depth": 1.5}}).status == 200
    late = installation.call("PATCH", path, {"version": section["version"], "cut": {**section["cut"], "depth": 9}})
    assert late.status == 409
    assert late.json["current"]["cut"]["depth"] == 1.5
    assert installation.call("GET", path).json["cut"]["depth"] == 1.5


def test_edits_are_undone_and_redone(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    path = f"/api/drawings/{section['id']}"
    installation.edit(path, {"cut": {**section["cut"], "depth": 1.5}})
    undo, redo = (f"/api/projects/{hut_project}/{way}" for way in ("undo", "redo"))
    assert installation.call("POST", undo).json["label"] == "edit cut"
    assert installation.call("GET", path).json["cut"]["depth"] == 3.0
    assert installation.call("POST", undo).json["label"] == "new drawing"
    assert installation.call("GET", path).status == 404
    installation.call("POST", redo)
    installation.call("POST", redo)
    again = installation.call("GET", path).json
    assert again["cut"]["depth"] == 1.5
    assert installation.call("POST", redo).json["label"] == ""
    installation.call("PATCH", path, {"version": again["version"], "name": "Named"})
    installation.call("POST", undo)
    assert installation.call("GET", path).json["name"] == ""


def test_plan_with_sections_is_not_deleted(installation: Installation, hut_project: int) -> None:
    add_section(installation, hut_project)
    answer = installation.call("DELETE", f"/api/drawings/{plan_of(installation, hut_project)['id']}")
    assert answer.status == 422
    assert "cut from this one" in answer.json["message"]


def test_exports(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    path = f"/api/drawings/{section['id']}/export."
    svg = installation.call("GET", path + "svg")
    assert svg.headers["Content-Type"].startswith("image/svg+xml")
    assert b"cut-other" in svg.body
    assert "Section-A-looking-west.svg" in svg.headers["Content-Disposition"]
    assert len(pypdf.PdfReader(io.BytesIO(installation.call("GET", path + "pdf").body)).pages) == 1
    dxf = installation.call("GET", path + "dxf")
    assert dxf.headers["Content-Type"].startswith("image/vnd.dxf")
    drawn = ezdxf.read(io.StringIO(dxf.body.decode()))
    lines = drawn.modelspace().query("LWPOLYLINE[layer=='A-CUTOTHE-']")
    ends = np.concatenate([line.get_points("xy") for line in lines])
    assert np.ptp(ends, axis=0) == pytest.approx([3000, 2800], abs=1)  # the hut as large as it is
    document = installation.call("GET", path + "json").json
    jsonschema.validate(document, json.loads(cut_schema()))
    assert installation.call("GET", path + "dwf").status in (404, 422)


def test_unknown_things_are_said_to_be_missing(installation: Installation) -> None:
    for path in ("/api/drawings/999999", "/api/projects/999999", "/api/nothing"):
        answer = installation.call("GET", path)
        assert answer.status == 404
        assert answer.json["message"]


def test_a_letter_is_changed_to_one_that_is_free(installation: Installation, hut_project: int) -> None:
    elsewhere = {**SECTION, "line": [[x + 0.5, y] for x, y in SECTION["line"]]}
    one, other = add_section(installation, hut_project), add_section(installation, hut_project, elsewhere)
    url = f"/api/drawings/{other['id']}"
    taken = installation.edit(url, {"letter": one["letter"]})
    assert (taken.status, taken.json["field"]) == (422, "letter")
    changed = installation.edit(url, {"letter": "X"})
    assert (changed.json["letter"], changed.json["title"].split(",")[0]) == ("X", "Section X")
    plan = plan_of(installation, hut_project)
    refused = installation.call("PATCH", f"/api/drawings/{plan['id']}", {"version": plan["version"], "letter": "Y"})
    assert refused.status == 422


def test_a_project_names_its_drawings_its_own_way(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    project = installation.call("GET", f"/api/projects/{hut_project}").json
    low, high = project["facts"]["low"], project["facts"]["high"]
    (x0, y0), (x1, y1) = section["cut"]["line"]
    along_x = abs(x1 - x0) > abs(y1 - y0)
    run = "Long" if along_x == (high[0] - low[0] >= high[1] - low[1]) else "Cross"
    names = {**project["names"], "section": "{run} section {letter}"}
    body = {"version": project["version"], "names": names}
    assert installation.call("PATCH", f"/api/projects/{hut_project}", body).status == 200
    named = installation.call("GET", f"/api/drawings/{section['id']}").json
    assert named["title"] == f"{run} section {section['letter']}"
    refused = installation.edit(f"/api/projects/{hut_project}", {"names": {**names, "plan": "{colour}"}})
    assert refused.status == 422
    assert "{storey}" in refused.json["message"]
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert installation.call("GET", f"/api/drawings/{section['id']}").json["title"] == section["title"]


def test_all_drawings_are_cut_anew_by_a_job(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    started = installation.call("POST", f"/api/projects/{hut_project}/recut")
    assert started.status == 202
    assert started.json["of"] == len(installation.call("GET", f"/api/projects/{hut_project}/drawings").json)
    known = f"SELECT count(*) FROM kept_view WHERE key = '{section['view']}'"
    installation.until(lambda: installation.one(known)[0] == 1)
    assert installation.call("DELETE", f"/api/projects/{hut_project}/recut").status == 204
    assert installation.call("POST", "/api/projects/999999/recut").status == 404


def test_moving_a_section_renames_the_view_of_its_plan(installation: Installation, hut_project: int) -> None:
    """Its labels keep clear of the marker."""
    plan = plan_of(installation, hut_project)
    drawing = add_section(installation, hut_project)
    before = installation.call("GET", f"/api/drawings/{plan['id']}").json["view"]
    (x0, y0), (x1, y1) = drawing["cut"]["line"]
    moved = {**drawing["cut"], "line": [[x0 + 0.2, y0 + 0.2], [x1 + 0.2, y1 + 0.2]]}
    installation.edit(f"/api/drawings/{drawing['id']}", {"cut": moved})
    (shown,) = installation.call("POST", f"/api/projects/{hut_project}/markers", {"drawings": [plan["id"]]}).json
    assert shown["view"] != before
    assert shown["view"] == installation.call("GET", f"/api/drawings/{plan['id']}").json["view"]
    style = {**drawing["style"], "scale": 20}
    installation.edit(f"/api/drawings/{drawing['id']}", {"style": style})
    assert installation.call("GET", f"/api/drawings/{plan['id']}").json["view"] == shown["view"]


def test_plan_that_is_no_drawing_yet_has_a_view_of_its_own(installation: Installation, hut_project: int) -> None:
    """The saved one leaves the places of its markers free."""
    plan = plan_of(installation, hut_project)
    add_section(installation, hut_project)
    body = {"cut": plan["cut"], "style": plan["style"]}
    asked = [
        installation.call("POST", f"/api/projects/{hut_project}/view", {**body, **drawing}).headers["ETag"]
        for drawing in ({}, {"drawing": plan["id"]})
    ]
    saved = installation.call("GET", f"/api/drawings/{plan['id']}/view").headers["ETag"]
    assert [tag == saved for tag in asked] == [False, True]


def test_elements_are_found_by_words(installation: Installation, hut_project: int) -> None:
    url = f"/api/projects/{hut_project}/elements"
    everything = installation.call("GET", f"{url}?words=wall").json
    assert everything
    name = everything[0]["name"].split()[0]
    found = installation.call("GET", f"{url}?words={name}%20wall").json
    assert everything[0]["guid"] in {e["guid"] for e in found}
    assert installation.call("GET", f"{url}?words=nothing-like-this").json == []
    assert installation.call("GET", f"{url}?words=w").status == 422
    body = {"style": {}, "cut": SECTION, "guids": [everything[0]["guid"]]}
    assert installation.call("POST", url, body).json[0]["guid"] == everything[0]["guid"]


def test_several_drawings_are_deleted_in_one_act(installation: Installation, hut_project: int) -> None:
    plan = plan_of(installation, hut_project)
    one, other = add_section(installation, hut_project), add_section(installation, hut_project)
    url = f"/api/projects/{hut_project}/drawings"
    before = installation.call("GET", url).json
    refused = installation.call("POST", f"{url}/delete", {"ids": [plan["id"], one["id"]]})
    assert refused.status == 422  # the other one was cut from the plan
    assert installation.call("POST", f"{url}/delete", {"ids": [plan["id"], one["id"], other["id"]]}).status == 204
    left = {d["id"] for d in installation.call("GET", url).json}
    assert not left & {plan["id"], one["id"], other["id"]}
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert {d["id"] for d in installation.call("GET", url).json} == {d["id"] for d in before}


JUNE = {"by": "hour", "latitude": 54.0, "longitude": -2.9, "when": "2026-06-21T12:00:00+01:00"}


def test_a_sun_study_is_a_drawing_for_each_hour_and_one_act(installation: Installation, hut_project: int) -> None:
    made = add_section(installation, hut_project)
    style = {**made["style"], "appearance": "presentation"}
    made = installation.edit(f"/api/drawings/{made['id']}", {"style": style}).json
    before = installation.call("GET", f"/api/projects/{hut_project}/drawings").json
    path = f"/api/drawings/{made['id']}/sun-study"
    study = installation.call("POST", path, {"sun": JUNE, "hours": [9, 12.5, 18]}).json
    assert [d["name"].rsplit(", ", 1)[1] for d in study] == ["09:00", "12:30", "18:00"]
    assert [d["style"]["surfaces"]["sun"]["when"][11:16] for d in study] == ["09:00", "12:30", "18:00"]
    assert {d["cut"]["depth"] for d in study} == {made["cut"]["depth"]}
    views = {installation.call("GET", f"/api/drawings/{d['id']}/view").headers["ETag"] for d in study}
    assert len(views) == 3
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert installation.call("GET", f"/api/projects/{hut_project}/drawings").json == before


def test_a_sun_study_stands_in_a_row_on_a_sheet(installation: Installation, hut_project: int) -> None:
    made = add_section(installation, hut_project)
    sheets = installation.call("GET", f"/api/projects/{hut_project}/sheets").json
    wanted = {"sun": JUNE, "hours": [9, 12, 15], "in_a_row": True}
    study = installation.call("POST", f"/api/drawings/{made['id']}/sun-study", wanted).json
    (sheet,) = installation.call("GET", f"/api/projects/{hut_project}/sheets").json[len(sheets) :]
    assert sheet["title"].endswith("sun study")
    placed = sorted(sheet["placements"], key=lambda p: (-round(p["y"]), p["x"]))
    assert [p["drawing_id"] for p in placed] == [d["id"] for d in study]
    assert [p["number"] for p in placed] == ["1", "2", "3"]
    assert len({round(p["y"], 3) for p in placed}) == 1
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert installation.call("GET", f"/api/projects/{hut_project}/sheets").json == sheets


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"hours": [12, 2]}, "At 02:00 it stands"),
        ({"hours": []}, "at least 1 item"),
        ({"sun": {"by": "view"}}, "choose the sun by hour"),
    ],
)
def test_a_sun_study_of_the_night_is_refused_and_makes_nothing(
    installation: Installation, hut_project: int, change: dict, words: str
) -> None:
    made = add_section(installation, hut_project)
    before = installation.call("GET", f"/api/projects/{hut_project}/drawings").json
    answer = installation.call("POST", f"/api/drawings/{made['id']}/sun-study", {"sun": JUNE, "hours": [9], **change})
    assert answer.status == 422
    assert words in answer.json["message"]
    assert installation.call("GET", f"/api/projects/{hut_project}/drawings").json == before
