"""Sheets and placements over HTTP: numbers, markers and titles follow."""

import io

import ezdxf
import pypdf

from edge_slice.core.render.screen import screen_arrays
from tests.http.test_drawings import add_section, plan_of
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
    moved = app.call("PATCH", f"/api/placements/{first['id']}", {"version": 1, "x": 80.5, "number": "7"}).json
    assert (moved["placements"][0]["x"], moved["placements"][0]["y"]) == (80.5, 60)
    assert texts(app, sheet, "title number") == ["7", "2"]
    clash = app.call("PATCH", f"/api/placements/{first['id']}", {"version": 2, "number": "2"})
    assert clash.status == 422
    assert "2 is taken" in clash.json["message"]
    stale = app.call("PATCH", f"/api/placements/{first['id']}", {"version": 1, "x": 0})
    assert stale.status == 409
    assert stale.json["current"]["placements"][0]["x"] == 80.5


def test_sheet_numbers_are_unique_and_a_drawing_stands_on_one_sheet(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    plan = plan_of(app, hut_project)
    one, two = add_sheet(app, hut_project), add_sheet(app, hut_project)
    assert (one["number"], two["number"]) == ("A-101", "A-102")
    assert app.call("PATCH", f"/api/sheets/{two['id']}", {"version": 1, "number": "A-101"}).status == 422
    place(app, one, plan)
    again = app.call("POST", f"/api/sheets/{two['id']}/placements", {"drawing_id": plan["id"]})
    assert again.status == 422
    assert "A-101" in again.json["message"]


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
    app.call("PATCH", f"/api/sheets/{sheet['id']}", {"version": 1, "fields": {"drawn": "KM", "revision": "P02"}})
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
