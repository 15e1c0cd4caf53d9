"""Sheets and placements over HTTP: numbers, markers and titles follow."""

import io

import ezdxf
import pypdf
import pytest

from edge_slice.core.render.screen import screen_arrays
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.installation import Installation


def add_sheet(app: Installation, project: int, **fields: str) -> dict:
    answer = app.call("POST", f"/api/projects/{project}/sheets", fields)
    assert answer.status == 201, answer.body
    return answer.json


def place(app: Installation, sheet: dict, drawing: dict, **at: float) -> dict:
    answer = app.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": drawing["id"], **at})
    assert answer.status == 201, answer.body
    return answer.json


def texts(app: Installation, sheet: dict, role: str) -> list[str]:
    head, _ = screen_arrays(app.call("GET", f"/api/sheets/{sheet['id']}/view").body)
    return [label["text"] for label in head["labels"] if label["role"] == role]


def test_marker_reads_letter_then_number_over_sheet_and_follows_renumbering(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    section = add_section(app, hut_project)
    sheet = add_sheet(app, hut_project, title="Plan and section")
    assert sheet["number"] == "A-101"
    place(app, sheet, plan_of(app, hut_project))
    assert texts(app, sheet, "marker number") == ["A", "A"]
    assert texts(app, sheet, "marker sheet") == ["–", "–"]
    place(app, sheet, section)
    assert texts(app, sheet, "marker number") == ["2", "2"]
    assert texts(app, sheet, "marker sheet") == ["A-101", "A-101"]
    renumbered = app.call("PATCH", f"/api/sheets/{sheet['id']}", {"version": sheet["version"], "number": "A-305"})
    assert renumbered.status == 200
    assert texts(app, sheet, "marker sheet") == ["A-305", "A-305"]
    assert texts(app, sheet, "field sheet number") == ["A-305"]
    assert app.call("GET", f"/api/drawings/{section['id']}").json["placement"]["sheet_number"] == "A-305"


def test_placements_find_free_space(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = add_sheet(app, hut_project)
    drawings = [plan_of(app, hut_project), add_section(app, hut_project), add_section(app, hut_project)]
    for drawing in drawings:
        sheet = place(app, sheet, drawing)
    boxes = [p["box"] for p in sheet["placements"]]
    for i, a in enumerate(boxes):
        assert 0 < a[0] < a[2] < 841
        assert 0 < a[1] < a[3] < 594
        assert all(a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1] for b in boxes[i + 1 :])


def test_placement_moves_and_is_renumbered(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = place(app, add_sheet(app, hut_project), plan_of(app, hut_project), x=50, y=60)
    sheet = place(app, sheet, add_section(app, hut_project))
    first = sheet["placements"][0]
    moved = app.edit(f"/api/placements/{first['id']}", {"x": 80.5, "number": "7"}).json
    assert (moved["placements"][0]["x"], moved["placements"][0]["y"]) == (80.5, 60)
    assert texts(app, sheet, "title number") == ["7", "2"]
    clash = app.edit(f"/api/placements/{first['id']}", {"number": "2"})
    assert clash.status == 422
    assert "2 is taken" in clash.json["message"]
    stale = app.call("PATCH", f"/api/placements/{first['id']}", {"version": first["version"], "x": 0})
    assert stale.status == 409
    assert stale.json["current"]["placements"][0]["x"] == 80.5


def test_sheet_numbers_are_unique(installation: Installation, hut_project: int) -> None:
    app = installation
    one, two = add_sheet(app, hut_project), add_sheet(app, hut_project)
    assert (one["number"], two["number"]) == ("A-101", "A-102")
    assert app.edit(f"/api/sheets/{two['id']}", {"number": "A-101"}).status == 422


def test_a_drawing_stands_on_several_sheets_and_one_is_its_home(installation: Installation, hut_project: int) -> None:
    app = installation
    section = add_section(app, hut_project)
    one, two = add_sheet(app, hut_project), add_sheet(app, hut_project)
    place(app, one, plan_of(app, hut_project))
    place(app, one, section)
    two = place(app, two, section)
    again = app.call("POST", f"/api/sheets/{two['id']}/placements", {"drawing_id": section["id"]})
    assert again.status == 422
    assert "A-102" in again.json["message"]
    assert texts(app, one, "marker sheet") == ["A-101", "A-101"]
    out = app.call("GET", f"/api/drawings/{section['id']}").json
    assert (out["placement"]["sheet_number"], [p["sheet_number"] for p in out["also_on"]]) == ("A-101", ["A-102"])
    there = two["placements"][0]
    assert not there["home"]
    moved = app.call("PATCH", f"/api/placements/{there['id']}", {"version": there["version"], "home": True})
    assert moved.json["placements"][0]["home"]
    assert texts(app, one, "marker sheet") == ["A-102", "A-102"]
    app.call("DELETE", f"/api/sheets/{two['id']}")
    assert texts(app, one, "marker sheet") == ["A-101", "A-101"]
    app.call("POST", f"/api/projects/{hut_project}/undo")
    assert texts(app, one, "marker sheet") == ["A-102", "A-102"]


def test_a_drawing_area_takes_its_drawing_in_the_middle_or_says_what_would_fit(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    plan = plan_of(app, hut_project)
    sheet = add_sheet(app, hut_project, design="side-strip", size="A3")
    area = sheet["areas"][0]
    box = place(app, sheet, plan, area=area["name"])["placements"][0]["box"]
    left, base, right, top = area["box"]
    assert left < box[0] < box[2] < right
    assert base < box[1] < box[3] < top
    small = add_sheet(app, hut_project, design="side-strip", size="A4")
    style = {**plan["style"], "scale": 20}
    app.call("PATCH", f"/api/drawings/{plan['id']}", {"version": plan["version"], "style": style})
    refused = app.call("POST", f"/api/sheets/{small['id']}/placements", {"drawing_id": plan["id"], "area": "Drawings"})
    assert refused.status == 422
    assert "it would fit" in refused.json["message"]
    unknown = app.call("POST", f"/api/sheets/{small['id']}/placements", {"drawing_id": plan["id"], "area": "Roof"})
    assert "no drawing area" in unknown.json["message"]


def test_a_placement_is_trimmed_titled_and_stacked(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = place(app, add_sheet(app, hut_project), plan_of(app, hut_project), x=60, y=100)
    sheet = place(app, sheet, add_section(app, hut_project), x=60, y=100)
    below = sheet["placements"][0]
    wide = below["whole"][2] - below["whole"][0]
    url = f"/api/placements/{below['id']}"
    trimmed = app.edit(url, {"trim": {"left": 10, "top": 5}, "title": {"shown": False}}).json
    now = next(p for p in trimmed["placements"] if p["id"] == below["id"])
    assert now["box"][0] == below["whole"][0] + 10
    assert now["box"][2] - now["box"][0] == wide - 10
    assert len(texts(app, sheet, "title number")) == 1
    assert "nothing of the drawing" in app.edit(url, {"trim": {"left": 1500}}).json["message"]
    raised = app.edit(url, {"stack": "front"}).json
    assert raised["placements"][-1]["id"] == below["id"]


def test_drawings_are_arranged_in_rows_or_told_what_would_fit(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = add_sheet(app, hut_project, design="base-strip", size="A2")
    drawings = [plan_of(app, hut_project), add_section(app, hut_project), add_section(app, hut_project)]
    huge = add_section(app, hut_project)
    style = {**huge["style"], "scale": 2}
    app.call("PATCH", f"/api/drawings/{huge['id']}", {"version": huge["version"], "style": style})
    wanted = {"drawings": [d["id"] for d in [*drawings, huge]]}
    answer = app.call("POST", f"/api/sheets/{sheet['id']}/arrange", wanted).json
    boxes = [p["box"] for p in answer["sheet"]["placements"]]
    assert len(boxes) == 3
    assert all(a[2] < b[0] or b[2] < a[0] or a[3] < b[1] or b[3] < a[1] for k, a in enumerate(boxes) for b in boxes[:k])
    assert [x["drawing"] for x in answer["left_over"]] == [huge["id"]]
    assert "it would fit" in answer["left_over"][0]["says"]
    moves = [
        {"id": p["id"], "version": p["version"], "x": p["x"] + 5, "y": p["y"]} for p in answer["sheet"]["placements"]
    ]
    moved = app.call("POST", f"/api/sheets/{sheet['id']}/move", {"moves": moves}).json
    assert [p["x"] - m["x"] for p, m in zip(moved["placements"], moves, strict=True)] == [0, 0, 0]
    app.call("POST", f"/api/projects/{hut_project}/undo")
    back = app.call("GET", f"/api/projects/{hut_project}/sheets").json[0]
    assert [p["box"] for p in back["placements"]] == boxes


def test_guides_bring_a_section_level_and_in_line(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = place(app, add_sheet(app, hut_project), plan_of(app, hut_project), x=60, y=300)
    along = {"kind": "section", "line": [[-1, 2], [7, 2]], "depth": 3}
    sheet = place(app, sheet, add_section(app, hut_project, along), x=90, y=120)
    guides = app.call("GET", f"/api/sheets/{sheet['id']}/guides").json
    plan, section = (p["id"] for p in sheet["placements"])
    levels = [g for g in guides if g["placement"] == section and g["of"].startswith("level")]
    assert levels
    assert all(g["way"] == "y" for g in levels)
    lines = {g["placement"]: g for g in guides if g["way"] == "x" and g["of"].startswith("axis 1.000")}
    assert lines[plan]["of"].split(" 1:")[0] == lines[section]["of"].split(" 1:")[0]
    letter = next(g for g in guides if g["placement"] == plan and g["of"] == "section A")
    assert letter["way"] == "y"


def test_arranged_sections_of_one_row_share_their_levels(installation: Installation, hut_project: int) -> None:
    app = installation
    cuts = [{"kind": "section", "line": [[-1, 2], [7, 2]], "depth": 3, "extents": {"base": b}} for b in (-0.2, -0.7)]
    drawings = [add_section(app, hut_project, cut) for cut in cuts]
    sheet = add_sheet(app, hut_project, size="A2")
    done = app.call("POST", f"/api/sheets/{sheet['id']}/arrange", {"drawings": [d["id"] for d in drawings]}).json
    bases = {p["y"] for p in done["sheet"]["placements"]}
    assert len(bases) == 2
    levels: dict[str, set[float]] = {}
    for guide in app.call("GET", f"/api/sheets/{sheet['id']}/guides").json:
        if guide["of"].startswith("level"):
            levels.setdefault(guide["of"], set()).add(round(guide["at"], 2))
    assert levels
    assert all(len(at) == 1 for at in levels.values())


def test_deleting_a_sheet_keeps_its_drawings_and_can_be_undone(installation: Installation, hut_project: int) -> None:
    app = installation
    plan = plan_of(app, hut_project)
    sheet = add_sheet(app, hut_project, title="Plans")
    place(app, sheet, plan)
    assert app.call("DELETE", f"/api/sheets/{sheet['id']}").status == 204
    assert app.call("GET", f"/api/drawings/{plan['id']}").json["placement"] is None
    app.call("POST", f"/api/projects/{hut_project}/undo")
    back = app.call("GET", f"/api/projects/{hut_project}/sheets").json
    assert [s["title"] for s in back] == ["Plans"]
    assert back[0]["placements"][0]["drawing_id"] == plan["id"]


def test_a_sheet_as_a_file(installation: Installation, hut_project: int) -> None:
    app = installation
    sheet = place(app, add_sheet(app, hut_project, title="Plan & section"), plan_of(app, hut_project))
    app.edit(f"/api/sheets/{sheet['id']}", {"fields": {"drawn": "KM", "revision": "P02"}})
    answer = app.call("GET", f"/api/sheets/{sheet['id']}/export.pdf")
    page = pypdf.PdfReader(io.BytesIO(answer.body)).pages[0]
    assert round(float(page.mediabox.width) * 25.4 / 72) == 841
    text = page.extract_text()
    assert all(word in text for word in ("Plan & section", "P02", "KM", "1:100", "Ground plan"))
    assert b"<svg" in app.call("GET", f"/api/sheets/{sheet['id']}/export.svg").body
    drawn = ezdxf.read(io.StringIO(app.call("GET", f"/api/sheets/{sheet['id']}/export.dxf").body.decode()))
    assert {"Plan & section", "P02", "KM", "1:100"} <= {t.dxf.text for t in drawn.modelspace().query("TEXT")}
    view = next(v for v in drawn.paperspace().query("VIEWPORT") if v.dxf.id > 1)
    assert (round(view.dxf.width), round(view.dxf.view_height)) == (841, 594)


def test_deleting_a_project_leaves_nothing(installation: Installation, hut_project: int) -> None:
    app = installation
    place(app, add_sheet(app, hut_project), add_section(app, hut_project))
    app.call("DELETE", f"/api/projects/{hut_project}")
    assert app.call("GET", f"/api/projects/{hut_project}").status == 404
    assert app.call("GET", f"/api/projects/{hut_project}/sheets").status == 404


@pytest.mark.parametrize("size", ["A0", "A2", "A3"])
def test_a_sheet_that_changes_its_size_keeps_its_drawings(
    installation: Installation, hut_project: int, size: str
) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    sheet = place(app, place(app, add_sheet(app, hut_project), plan), cut)
    before = [(p["x"], p["y"]) for p in sheet["placements"]]
    changed = app.edit(f"/api/sheets/{sheet['id']}", {"size": size}).json
    left, base, right, top = changed["frame"]
    for placed in changed["placements"]:
        x0, y0, x1, y1 = placed["box"]
        assert left <= x0
        assert x1 <= right
        assert base <= y0
        assert y1 <= top
    assert not [f for f in app.call("GET", f"/api/projects/{hut_project}/checks").json
                if f["rule"] in ("drawing beyond its place", "drawing over drawing")]  # fmt: skip
    app.call("POST", f"/api/projects/{hut_project}/undo")
    undone = next(s for s in app.call("GET", f"/api/projects/{hut_project}/sheets").json if s["id"] == sheet["id"])
    assert (undone["size"], [(p["x"], p["y"]) for p in undone["placements"]]) == (sheet["size"], before)


def test_drawings_are_arranged_on_the_smallest_sheet(installation: Installation, hut_project: int) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    sheet = place(app, place(app, add_sheet(app, hut_project, size="A0"), plan), cut)
    rules = {f["rule"]: f for f in app.call("GET", f"/api/projects/{hut_project}/checks").json}
    assert "would fit on" in rules["much empty"]["says"]
    body = {"drawings": [], "all": True, "smallest": True}
    done = app.call("POST", f"/api/sheets/{sheet['id']}/arrange", body).json
    assert done["left_over"] == []
    assert done["sheet"]["size"] in ("A2", "A3", "A4")
    refused = app.call("POST", f"/api/sheets/{sheet['id']}/arrange", {"drawings": [], "smallest": True})
    assert (refused.status, refused.json["field"]) == (422, "all")


def test_drawings_of_a_sheet_take_the_largest_scale_at_which_all_find_room(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    plan, cut = plan_of(app, hut_project), add_section(app, hut_project)
    app.edit(f"/api/drawings/{cut['id']}", {"style": {**cut["style"], "scale": plan["style"]["scale"]}})
    sheet = add_sheet(app, hut_project, size="A3")
    path = f"/api/sheets/{sheet['id']}/arrange"
    done = app.call("POST", path, {"drawings": [plan["id"], cut["id"]], "largest": True}).json
    assert done["left_over"] == []
    scales = {
        d["style"]["scale"] for d in app.call("GET", f"/api/projects/{hut_project}/drawings").json if d["placement"]
    }
    assert len(scales) == 1
    assert scales.pop() < plan["style"]["scale"]
    rules = {f["rule"] for f in app.call("GET", f"/api/projects/{hut_project}/checks").json}
    assert "could be larger" not in rules
    app.call("POST", f"/api/projects/{hut_project}/undo", {})
    assert app.call("GET", f"/api/drawings/{plan['id']}").json["style"]["scale"] == plan["style"]["scale"]
    app.edit(f"/api/drawings/{cut['id']}", {"style": {**cut["style"], "scale": 20}})
    refused = app.call("POST", path, {"drawings": [plan["id"], cut["id"]], "largest": True})
    assert refused.status == 422
    assert "several scales" in refused.json["message"]
