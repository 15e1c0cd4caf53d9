"""Drawing standards and sets of drawings over HTTP, with the real database."""

import io
import json

import pytest
import trimesh

from edge_slice.core.drawing import shipped_standard
from edge_slice.core.render.screen import screen_arrays
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.installation import Installation


def standards(app: Installation, project: int) -> list[dict]:
    return app.call("GET", f"/api/projects/{project}/standards").json


def own(app: Installation, project: int, **body: object) -> dict:
    answer = app.call("POST", f"/api/projects/{project}/standards", body)
    assert answer.status == 201, answer.body
    return answer.json


def styled(app: Installation, drawing: dict, **style: object) -> dict:
    answer = app.call(
        "PATCH",
        f"/api/drawings/{drawing['id']}",
        {"version": drawing["version"], "style": {**drawing["style"], **style}},
    )
    assert answer.status == 200, answer.body
    return answer.json


def head_of(app: Installation, drawing: dict) -> dict:
    return screen_arrays(app.call("GET", f"/api/drawings/{drawing['id']}/view").body)[0]


def test_shipped_standards_are_there_and_change_the_drawing(installation: Installation, hut_project: int) -> None:
    assert [s["key"] for s in standards(installation, hut_project)] == ["fine-line", "bold"]
    plan = plan_of(installation, hut_project)
    fine = head_of(installation, plan)
    bold = head_of(installation, styled(installation, plan, standard="bold"))
    ink = [{i["pen"]["colour"] for i in h["items"] if i["pen"]} for h in (fine, bold)]
    assert shipped_standard("fine-line").ink in ink[0]
    assert shipped_standard("bold").ink in ink[1]


def test_own_standard_is_copied_edited_and_used(installation: Installation, hut_project: int) -> None:
    made = own(installation, hut_project, copy_of="bold", name="Office")
    assert made["document"]["name"] == "Office"
    plan = styled(installation, plan_of(installation, hut_project), standard=made["key"])
    before = head_of(installation, plan)
    document = {**made["document"], "ink": "#aa00aa"}
    edit = {"version": made["version"], "document": document}
    changed = installation.call("PATCH", f"/api/standards/{made['id']}", edit)
    assert changed.status == 200
    assert changed.json["version"] > made["version"]
    after = head_of(installation, plan)
    assert "#aa00aa" not in json.dumps(before)
    assert "#aa00aa" in json.dumps(after)
    stale = installation.call("PATCH", f"/api/standards/{made['id']}", edit)
    assert (stale.status, stale.json["current"]["document"]["ink"]) == (409, "#aa00aa")


def test_standard_in_use_is_not_deleted_and_undo_brings_one_back(installation: Installation, hut_project: int) -> None:
    made = own(installation, hut_project)
    plan = styled(installation, plan_of(installation, hut_project), standard=made["key"])
    refused = installation.call("DELETE", f"/api/standards/{made['id']}")
    assert (refused.status, "1 drawings use" in refused.json["message"]) == (422, True)
    styled(installation, plan, standard="fine-line")
    assert installation.call("DELETE", f"/api/standards/{made['id']}").status == 204
    assert made["key"] not in [s["key"] for s in standards(installation, hut_project)]
    assert installation.call("POST", f"/api/projects/{hut_project}/undo").json["label"] == "delete drawing standard"
    assert made["key"] in [s["key"] for s in standards(installation, hut_project)]


def test_export_and_import_as_json(installation: Installation, hut_project: int, demo_project: int) -> None:
    document = own(installation, hut_project, name="To give away")["document"]
    taken = own(installation, demo_project, document=document)
    assert taken["document"] == document
    assert taken["name"] == "To give away"


@pytest.mark.parametrize(
    ("change", "word"),
    [({"hatches": {}}, "hatch"), ({"ink": "blue"}, "ink"), ({"pens": {}}, "pen"), ({"extra": 1}, "extra")],
)
def test_broken_standards_are_refused_and_nothing_is_kept(
    installation: Installation, hut_project: int, change: dict, word: str
) -> None:
    document = {**standards(installation, hut_project)[0]["document"], **change}
    answer = installation.call("POST", f"/api/projects/{hut_project}/standards", {"document": document})
    assert answer.status == 422
    assert word in answer.json["message"]
    assert len(standards(installation, hut_project)) == 2


def test_unknown_standards_are_refused(installation: Installation, hut_project: int, demo_project: int) -> None:
    other = own(installation, demo_project)["key"]
    plan = plan_of(installation, hut_project)
    for key in ("own-99999", "own-x", "ours", other):
        edit = {"version": plan["version"], "style": {**plan["style"], "standard": key}}
        answer = installation.call("PATCH", f"/api/drawings/{plan['id']}", edit)
        assert (answer.status, answer.json["field"]) == (422, "standard")


def test_hatches_are_previewed(installation: Installation, hut_project: int) -> None:
    page = installation.call("GET", f"/api/projects/{hut_project}/standards/bold/view")
    head, _ = screen_arrays(page.body)
    assert {"soft insulation", "earth", "brick"} <= {label["text"] for label in head["labels"]}
    hatch = {"families": [{"angle": 30, "spacing": 2}], "edge": None}
    one = installation.call("POST", "/api/hatch-view", {"hatch": hatch, "tint": "#abcdef", "scale": 20})
    head, _ = screen_arrays(one.body)
    assert "hatch" in {i["role"] for i in head["items"]}
    assert "#abcdef" in {i["fill"] for i in head["items"]}
    wrong = installation.call("POST", "/api/hatch-view", {"hatch": {"families": [{"angle": 30, "spacing": 0}]}})
    assert (wrong.status, "spacing" in wrong.json["message"]) == (422, True)


# sets of drawings and other kinds of cut


def made(app: Installation, project: int, **body: object) -> list[dict]:
    answer = app.call("POST", f"/api/projects/{project}/drawing-sets", body)
    assert answer.status == 201, answer.body
    return answer.json


def test_four_elevations_in_one_act_and_one_undo(installation: Installation, demo_project: int) -> None:
    four = made(installation, demo_project, kind="elevations")
    sides = ("North", "East", "South", "West")
    assert [d["title"] for d in four] == [f"{s} elevation {d['letter']}" for s, d in zip(sides, four, strict=True)]
    assert len({d["letter"] for d in four}) == 4
    assert all(len(head_of(installation, d)["items"]) > 2 for d in four)
    assert installation.call("POST", f"/api/projects/{demo_project}/undo").json["label"] == "new elevations"
    left = {d["id"] for d in installation.call("GET", f"/api/projects/{demo_project}/drawings").json}
    assert not left & {d["id"] for d in four}


def test_interior_elevations_are_named_by_room_and_wall(installation: Installation, demo_project: int) -> None:
    facts = installation.call("GET", f"/api/projects/{demo_project}").json["facts"]
    room = next(s for s in facts["spaces"] if s["name"] == "Wet lab")
    walls = made(installation, demo_project, kind="interior elevations", space=room["guid"], scale=50)
    assert walls[0]["title"] == f"1.01 Wet lab, north wall {walls[0]['letter']}"
    assert walls[0]["letter"].startswith("R")
    assert {d["kind"] for d in walls} == {"interior elevation"}
    wrong = installation.call(
        "POST", f"/api/projects/{demo_project}/drawing-sets", {"kind": "interior elevations", "space": "none"}
    )
    assert (wrong.status, wrong.json["field"]) == (422, "space")
    installation.call("POST", f"/api/projects/{demo_project}/undo")


def test_ceiling_plans_of_every_storey(installation: Installation, demo_project: int) -> None:
    ceilings = made(installation, demo_project, kind="ceiling plans")
    assert [d["title"] for d in ceilings] == [
        "Boat bay ceiling plan", "Lower ceiling plan", "Upper ceiling plan", "Lookout ceiling plan",
    ]  # fmt: skip
    assert head_of(installation, ceilings[1])["axes"]["w"] == [0, 0, 1]
    installation.call("POST", f"/api/projects/{demo_project}/undo")


def test_plans_are_cut_at_the_height_of_their_storey(installation: Installation, demo_project: int) -> None:
    storey = installation.call("GET", f"/api/projects/{demo_project}").json["facts"]["storeys"][1]
    plans = made(installation, demo_project, kind="plans", heights={storey["guid"]: 2.05})
    assert [d["cut"]["height"] for d in plans] == [1.2, 2.05, 1.2, 1.2]
    installation.call("POST", f"/api/projects/{demo_project}/undo")
    wrong = installation.call(
        "POST", f"/api/projects/{demo_project}/drawing-sets", {"kind": "plans", "heights": {"none": 1.0}}
    )
    assert (wrong.status, wrong.json["field"]) == (422, "heights")


def test_stepped_free_and_perspective_sections_are_saved_and_drawn(
    installation: Installation, hut_project: int
) -> None:
    line = [[-1, 0.1], [2, 0.1], [2, 1.5], [5, 1.5]]
    stepped = add_section(installation, hut_project, {"kind": "section", "line": line, "depths": [2.0, None]})
    free = add_section(installation, hut_project, {"kind": "plane", "point": [2, 1.5, 1], "normal": [0.2, -1, 0.3]})
    deep = add_section(
        installation, hut_project, {"kind": "section", "line": [[-1, 1.5], [5, 1.5]], "perspective": {"distance": 4}}
    )
    assert [d["kind"] for d in (stepped, free, deep)] == ["section", "free section", "perspective section"]
    assert [d["letter"] for d in (stepped, free, deep)] == ["A", "B", "C"]
    for drawing in (stepped, free, deep):
        assert "cut fill" in {i["role"] for i in head_of(installation, drawing)["items"]}
    plan = installation.call("GET", f"/api/drawings/{plan_of(installation, hut_project)['id']}/export.svg")
    assert b'class="cutting-line"' in plan.body
    wrong = {"kind": "section", "line": line, "depths": [1.0]}
    answer = installation.call("POST", f"/api/projects/{hut_project}/drawings", {"cut": wrong})
    assert (answer.status, "2 cutting legs but 1 depths" in answer.json["message"]) == (422, True)


# models without building data


def test_mesh_models_are_imported_with_their_unit(installation: Installation) -> None:
    stream = io.BytesIO()
    trimesh.creation.box(extents=(4000, 200, 2500)).export(stream, file_type="stl")
    asked = installation.upload("wall.stl", stream.getvalue())
    assert (asked.status, asked.json["field"]) == (422, "unit")
    wrong = installation.upload("wall.stl", stream.getvalue(), unit="parsec")
    assert (wrong.status, "unit" in wrong.json["message"]) == (422, True)
    done = installation.finished_import(installation.upload("wall.stl", stream.getvalue(), unit="mm").json["id"])
    assert done["state"] == "ready"
    facts = installation.call("GET", f"/api/projects/{done['project_id']}").json["facts"]
    assert facts["high"][0] - facts["low"][0] == pytest.approx(4.0)
    plan = plan_of(installation, done["project_id"])
    assert "cut fill" in {i["role"] for i in head_of(installation, plan)["items"]}
