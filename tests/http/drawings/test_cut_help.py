"""Help to place and judge cuts, over HTTP: the report, acts on a line, copies, markers, and the names of views."""

import re

import pytest

from edge_slice.core.render.screen import screen_arrays
from tests.http.drawings.test_drawings import SECTION, add_section, plan_of
from tests.installation import Installation

LONG = {"kind": "section", "line": [[15, -2], [15, 12]], "look": "left", "depth": 5}


def test_a_report_says_what_is_passed_and_missed(installation: Installation, demo_project: int) -> None:
    body = {"cut": LONG, "style": {}}
    found = installation.call("POST", f"/api/projects/{demo_project}/cut-report", body).json
    assert "1.04 Entrance" in {p["name"] for p in found["passages"] if p["kind"] == "room"}
    assert "Concrete flight 2" in {m["name"] for m in found["misses"]}
    plan = plan_of(installation, demo_project)
    level = installation.call("POST", f"/api/projects/{demo_project}/cut-report", {"cut": plan["cut"]}).json
    assert level == {"passages": [], "misses": [], "along": [], "clear": None}


def test_a_line_is_laid_through_chosen_things(installation: Installation, demo_project: int) -> None:
    things = installation.call("GET", f"/api/projects/{demo_project}/places").json["things"]
    by_name = {t["name"]: t["guid"] for t in things}
    chosen = [by_name["1.02 Specimen store"], by_name["Concrete flight 1"]]
    url = f"/api/projects/{demo_project}/line-through"
    cut = installation.call("POST", url, {"cut": {**LONG, "line": [[-2, 2], [24, 2]]}, "things": chosen}).json
    report = installation.call("POST", f"/api/projects/{demo_project}/cut-report", {"cut": cut}).json
    assert set(chosen) <= {p["guid"] for p in report["passages"]}
    lost = installation.call("POST", url, {"cut": LONG, "things": ["nothing"]})
    assert (lost.status, lost.json["field"]) == (422, "things")
    assert installation.call("POST", url, {"cut": LONG, "things": []}).status == 422


@pytest.mark.parametrize(
    ("act", "line"),
    [
        ({"kind": "beside", "by": 2}, [[0.0, -1.0], [0.0, 4.0]]),
        ({"kind": "turn", "degrees": 90}, [[4.5, 1.5], [-0.5, 1.5]]),
        ({"kind": "align", "direction": [0.0, 3.0]}, [[2.0, -1.0], [2.0, 4.0]]),
    ],
)
def test_acts_on_a_line_are_answered_and_not_saved(
    installation: Installation, hut_project: int, act: dict, line: list
) -> None:
    before = installation.call("GET", f"/api/projects/{hut_project}/drawings").json
    url = f"/api/projects/{hut_project}/line-acts"
    assert installation.call("POST", url, {"cut": SECTION, "act": act}).json["line"] == line
    assert installation.call("GET", f"/api/projects/{hut_project}/drawings").json == before
    none = installation.call("POST", url, {"cut": SECTION, "act": {"kind": "align", "direction": [0, 0]}})
    assert (none.status, none.json["field"]) == (422, "act")


def test_a_wall_section_and_fitted_extents_are_answered(installation: Installation, hut_project: int) -> None:
    url = f"/api/projects/{hut_project}"
    everything = installation.call("POST", f"{url}/pick-in", {"cut": SECTION, "box": [-1, -1, 6, 4]}).json
    assert everything
    refused = installation.call("POST", f"{url}/wall-section", {"line": [[40, 0], [41, 0]]})
    assert (refused.status, refused.json["field"]) == (422, "line")
    short = installation.call("POST", f"{url}/wall-section", {"line": [[1, 1], [1, 1]]})
    assert short.status == 422
    around = installation.call("POST", f"{url}/fit-extents", {"cut": SECTION, "to": "cut"}).json["extents"]
    assert around["left"] < around["right"] <= 5
    far = {**SECTION, "line": [[40, 0], [40, 4]], "look": "right"}
    nothing = installation.call("POST", f"{url}/fit-extents", {"cut": far, "to": "cut"})
    assert (nothing.status, nothing.json["field"]) == (422, "to")


def test_copies_have_their_own_letters_and_are_one_act(installation: Installation, hut_project: int) -> None:
    first = add_section(installation, hut_project)
    url = f"/api/drawings/{first['id']}/copies"
    made = installation.call("POST", url, {"by": [-1, -2]})
    assert made.status == 201
    assert [(d["letter"], d["cut"]["line"][0][0]) for d in made.json] == [("B", 3), ("C", 4)]
    assert {d["parent_id"] for d in made.json} == {first["parent_id"]}
    assert installation.call("POST", f"/api/projects/{hut_project}/undo").json["label"] == "copy section"
    left = installation.call("GET", f"/api/projects/{hut_project}/drawings").json
    assert [d["letter"] for d in left if d["letter"]] == ["A"]
    plan = plan_of(installation, hut_project)
    assert installation.call("POST", f"/api/drawings/{plan['id']}/copies", {"by": [1]}).status == 422


def test_markers_show_where_cuts_cross(installation: Installation, hut_project: int) -> None:
    along = add_section(installation, hut_project)
    across = add_section(installation, hut_project, {**SECTION, "line": [[-1, 1.5], [5, 1.5]]})
    installation.call("POST", f"/api/projects/{hut_project}/drawing-sets", {"kind": "elevations"})
    plan = plan_of(installation, hut_project)["id"]
    url = f"/api/projects/{hut_project}/markers"
    on_plan, on_section = installation.call("POST", url, {"drawings": [plan, along["id"]]}).json
    assert sorted(m["kind"] for m in on_plan["markers"]) == ["elevation"] * 4 + ["section"] * 2
    assert {m["upper"] for m in on_plan["markers"]} == {"A", "B", "E1", "E2", "E3", "E4"}
    assert all((m["at"] is None) == (m["kind"] == "section") for m in on_plan["markers"])
    (crossing,) = on_section["markers"]
    assert crossing["drawing"] == across["id"]
    assert crossing["line"][0][0] == pytest.approx(2.5)  # along the first section, from y = -1
    assert installation.call("POST", url, {"drawings": [2_000_000_000]}).json == []


def test_of_a_line_that_runs_out_of_a_plan_what_is_printed_shows(installation: Installation, hut_project: int) -> None:
    far = add_section(installation, hut_project, {**SECTION, "line": [[-40, 1.5], [60, 1.5]]})
    plan = plan_of(installation, hut_project)
    extents = {**plan["cut"]["extents"], "left": -1, "right": 3}
    installation.edit(f"/api/drawings/{plan['id']}", {"cut": {**plan["cut"], "extents": extents}})
    url = f"/api/projects/{hut_project}/markers"
    (shown,) = installation.call("POST", url, {"drawings": [plan["id"]]}).json
    (marker,) = [m for m in shown["markers"] if m["drawing"] == far["id"]]
    (piece,) = marker["pieces"]
    assert piece["line"] == [[-1, 1.5], [3, 1.5]]
    assert piece["ends"] == [True, True]
    form = installation.call("GET", "/api/settings").json["marker"]
    svg = installation.call("GET", f"/api/drawings/{plan['id']}/export.svg").body.decode()
    places = [float(x) for x in re.findall(r'<text class="marker[^"]*"[^>]*? x="([^"]+)"[^>]*>A</text>', svg)]
    out = sum(form["overhang"] + form["radius"] + aside for aside in piece["aside"])
    assert max(places) - min(places) == pytest.approx(4000 / plan["style"]["scale"] + out, abs=0.01)


def test_a_view_has_another_name_whenever_it_looks_different(installation: Installation, hut_project: int) -> None:
    drawn = add_section(installation, hut_project)

    def name() -> str:
        return installation.call("GET", f"/api/drawings/{drawn['id']}").json["view"]

    answer = installation.call("GET", f"/api/drawings/{drawn['id']}/view")
    assert answer.headers["ETag"].strip('"') == name()
    same = {"cut": drawn["cut"], "style": drawn["style"]}
    preview = installation.call("POST", f"/api/projects/{hut_project}/view", same)
    assert preview.headers["ETag"].strip('"') == name()
    own = installation.call("POST", f"/api/projects/{hut_project}/standards", {"name": "Ours"}).json
    style = {**drawn["style"], "standard": own["key"]}
    installation.edit(f"/api/drawings/{drawn['id']}", {"style": style})
    before = name()
    document = {**own["document"], "ink": "#102030"}
    installation.call("PATCH", f"/api/standards/{own['id']}", {"version": own["version"], "document": document})
    assert name() != before


def test_lengths_are_written_as_the_project_says(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)

    def heights() -> list[str]:
        head, _ = screen_arrays(installation.call("GET", f"/api/drawings/{section['id']}/view").body)
        return [label["text"] for label in head["labels"] if label["role"] == "level height"]

    assert "±0.000" in heights()
    project = installation.call("GET", f"/api/projects/{hut_project}").json
    assert project["lengths"] == "mm"
    edit = {"version": project["version"], "lengths": "ft-in"}
    assert installation.call("PATCH", f"/api/projects/{hut_project}", edit).json["lengths"] == "ft-in"
    assert '±0"' in heights()
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert "±0.000" in heights()
