"""Files of several sheets, and issues, over HTTP."""

import io
import zipfile
from typing import Any

import pikepdf
import pypdf

from edge_slice.core.render.screen import screen_arrays
from tests.http.annotating.acts import png
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_sheets import add_sheet, place
from tests.installation import Installation

ISSUE = {"code": "P01", "date": "2026-11-26", "purpose": "Building permit", "issued_by": "EF"}


def published(app: Installation, project: int, **wanted: Any) -> dict:
    started = app.call("POST", f"/api/projects/{project}/publications", wanted)
    assert started.status == 202, started.body
    number = started.json["id"]

    def ended() -> Any:
        found = app.call("GET", f"/api/publications/{number}").json
        return found if found["state"] not in ("waiting", "working") else None

    return app.until(ended)


def a_set(app: Installation, project: int) -> list[dict]:
    """A sheet with the plan, one with the section that the plan shows."""
    plans = place(app, add_sheet(app, project, title="Plans"), plan_of(app, project))
    sections = place(app, add_sheet(app, project, title="Sections", folder="sections"), add_section(app, project))
    return [plans, sections]


def test_a_set_is_one_linked_layered_pdf(installation: Installation, hut_project: int) -> None:
    app = installation
    plans, sections = a_set(app, hut_project)
    done = published(app, hut_project)
    assert (done["state"], done["done"], done["of"]) == ("ready", 2, 2)
    data = app.call("GET", f"/api/publications/{done['id']}/file").body
    document = pypdf.PdfReader(io.BytesIO(data))
    assert [round(float(p.mediabox.width) * 25.4 / 72) for p in document.pages] == [841, 841]
    folders = [o.title for o in document.outline if not isinstance(o, list)]
    assert folders == ["Plans", "Sections"]
    with pikepdf.open(io.BytesIO(data)) as checked:
        assert checked.check_pdf_syntax() == []
        assert all(not page.images for page in checked.pages)
        fonts = [f for page in checked.pages for f in page.Resources.Font.values()]
        assert fonts
        assert all("/FontFile2" in f.FontDescriptor for f in fonts)
    layers = {g.get_object()["/Name"] for g in document.trailer["/Root"]["/OCProperties"]["/OCGs"]}
    assert {"Cut edges", "Markers", "Titles and frame"} <= layers
    box = sections["placements"][0]["box"]
    links = [a.get_object() for a in document.pages[0]["/Annots"]]
    to_section = [k for k in links if k["/Dest"][0].get_object() == document.pages[1].get_object()]
    assert len(to_section) == 2  # the heads of the section's marker on the plan
    left, base, right, top = (float(x) * 25.4 / 72 for x in to_section[0]["/Dest"][2:6])
    assert left <= box[0] <= box[2] <= right
    assert base <= box[1] <= box[3] <= top
    app.execute("DELETE FROM kept_view")
    assert published(app, hut_project)["state"] == "ready"
    again = app.call("GET", f"/api/publications/{done['id'] + 1}/file").body
    assert again == data
    one = published(app, hut_project, sheets=[plans["id"]])
    data = app.call("GET", f"/api/publications/{one['id']}/file").body
    alone = pypdf.PdfReader(io.BytesIO(data))
    assert len(alone.pages) == 1
    places = [k.get_object()["/Dest"][0].get_object() for k in alone.pages[0].get("/Annots", [])]
    assert all(p == alone.pages[0].get_object() for p in places)  # what is not in it is not linked


def test_a_set_is_plotted_on_smaller_paper_true_to_scale(installation: Installation, hut_project: int) -> None:
    app = installation
    a_set(app, hut_project)
    wanted = {"paper": "A3", "margin": 5, "colours": "black", "archival": True}
    done = published(app, hut_project, plot=wanted)
    assert (done["state"], done["file_name"].endswith("-A3.pdf")) == ("ready", True)
    data = app.call("GET", f"/api/publications/{done['id']}/file").body
    document = pypdf.PdfReader(io.BytesIO(data))
    assert [round(float(p.mediabox.width) * 25.4 / 72, 3) for p in document.pages] == [420, 420]
    assert "printed at 50 %: 1:100 is 1:200" in document.pages[0].extract_text()
    whole = app.call("GET", f"/api/publications/{published(app, hut_project)['id']}/file").body
    for small, large in zip(document.pages, pypdf.PdfReader(io.BytesIO(whole)).pages, strict=True):
        boxes = [[[float(x) for x in a.get_object()["/Rect"]] for a in page["/Annots"]] for page in (small, large)]
        assert len(boxes[0]) == len(boxes[1]) > 0
        for one, other in zip(*boxes, strict=True):
            assert abs((one[2] - one[0]) * 2 - (other[2] - other[0])) < 0.01
    with pikepdf.open(io.BytesIO(data)) as checked, checked.open_metadata() as said:
        assert (said["pdfaid:part"], said["pdfaid:conformance"]) == ("2", "B")


def test_a_plot_that_can_t_be_is_refused_at_once(installation: Installation, hut_project: int) -> None:
    app = installation
    a_set(app, hut_project)
    for wanted, word in (
        ({"plot": {"paper": "A3", "percent": 80}}, "50 % would"),
        ({"plot": {"paper": "A3", "margins": 5}}, "margins"),
        ({"plot": {"paper": "A9"}}, "A4"),
        ({"plot": {}, "issue": ISSUE}, "issue the sheets first"),
        ({"plot": {}, "form": "dxf"}, "one PDF"),
    ):
        refused = app.call("POST", f"/api/projects/{hut_project}/publications", wanted)
        assert refused.status == 422
        assert word in refused.json["message"]


def test_other_forms_come_as_an_archive(installation: Installation, hut_project: int) -> None:
    app = installation
    a_set(app, hut_project)
    done = published(app, hut_project, form="png", dpi=40)
    data = app.call("GET", f"/api/publications/{done['id']}/file").body
    names = zipfile.ZipFile(io.BytesIO(data)).namelist()
    assert names == ["A-101-Plans.png", "A-301-Sections.png"]
    sheet = app.call("GET", f"/api/projects/{hut_project}/sheets").json[0]["id"]
    large = app.call("GET", f"/api/sheets/{sheet}/export.png?dpi=1200")
    assert large.status == 422
    assert "million pixels" in large.json["message"]


def test_an_issue_is_frozen_to_the_byte(installation: Installation, hut_project: int) -> None:
    app = installation
    plans, sections = a_set(app, hut_project)
    done = published(app, hut_project, issue=ISSUE)
    issued = app.call("GET", f"/api/projects/{hut_project}/issues").json
    assert issued["next_code"] == "P02"
    issue = issued["issues"][0]
    assert (issue["code"], [s["number"] for s in issue["sheets"]]) == ("P01", ["A-101", "A-301"])
    data = app.call("GET", f"/api/issues/{issue['id']}/file").body
    assert data == app.call("GET", f"/api/publications/{done['id']}/file").body
    assert "P01" in pypdf.PdfReader(io.BytesIO(data)).pages[0].extract_text()
    listed = app.call("GET", f"/api/projects/{hut_project}/sheets").json
    assert [s["issued"] for s in listed] == ["P01", "P01"]
    app.call("DELETE", f"/api/sheets/{plans['id']}")
    app.call("DELETE", f"/api/sheets/{sections['id']}")
    assert app.call("GET", f"/api/issues/{issue['id']}/file").body == data
    there = app.call("GET", f"/api/projects/{hut_project}/issues").json["issues"][0]["sheets"]
    assert [s["there"] for s in there] == [False, False]
    assert app.call("GET", f"/api/issued-sheets/{there[0]['id']}/file").body.startswith(b"%PDF")
    again = app.call("POST", f"/api/projects/{hut_project}/publications", {"issue": ISSUE})
    assert again.status == 422


def test_what_has_changed_since_an_issue(installation: Installation, hut_project: int) -> None:
    app = installation
    plans, sections = a_set(app, hut_project)
    published(app, hut_project, issue=ISSUE)
    issue = app.call("GET", f"/api/projects/{hut_project}/issues").json["issues"][0]
    url = f"/api/issues/{issue['id']}"
    before = app.call("GET", f"{url}/changes").json
    assert {s["state"] for s in before["sheets"]} == {"unchanged"}
    nothing = app.call("GET", f"{url}/changes.pdf")
    assert nothing.status == 422
    assert "Nothing has changed" in nothing.json["message"]
    placed = sections["placements"][0]
    app.edit(f"/api/placements/{placed['id']}", {"x": placed["x"] + 20})
    new = add_sheet(app, hut_project, title="More")
    after = {s["number"]: s for s in app.call("GET", f"{url}/changes").json["sheets"]}
    assert after["A-101"]["state"] == "unchanged"
    assert after[new["number"]]["state"] == "new"
    assert any("moved" in says for says in after["A-301"]["says"])
    head, _ = screen_arrays(app.call("GET", f"/api/issued-sheets/{after['A-301']['issued_sheet']}/changes").body)
    assert head["places"]
    roles = {i["role"] for i in head["items"]}
    assert {"removed", "added"} <= roles
    assert len(pypdf.PdfReader(io.BytesIO(app.call("GET", f"{url}/changes.pdf").body)).pages) == 1
    second = published(app, hut_project, issue={**ISSUE, "code": "P02"})
    assert second["state"] == "ready"
    head, _ = screen_arrays(app.call("GET", f"/api/sheets/{plans['id']}/view").body)
    assert "P02" in [label["text"] for label in head["labels"]]


def test_what_has_changed_on_drawings_is_marked_once_in_one_act(installation: Installation, hut_project: int) -> None:
    app = installation
    _, sections = a_set(app, hut_project)
    published(app, hut_project, issue=ISSUE)
    issue = app.call("GET", f"/api/projects/{hut_project}/issues").json["issues"][0]
    issued = next(s["id"] for s in issue["sheets"] if s["number"] == "A-301")
    drawing = sections["placements"][0]["drawing_id"]
    note = {"kind": "note", "text": "New sill", "points": [[1500.0, 900.0]]}
    spots = [{"at": [1000.0, 500.0], "reach": 100}]
    app.call("POST", f"/api/drawings/{drawing}/annotations", {"spots": spots, "document": note})
    url = f"/api/issued-sheets/{issued}/revision-marks"
    assert app.call("POST", url).json == {"marks": 1, "drawings": 1, "left": []}
    rows = app.call("GET", f"/api/drawings/{drawing}/annotations").json
    (mark,) = [r for r in rows if r["document"]["kind"] == "line"]
    noted = next(r for r in rows if r["document"]["kind"] == "note")
    left, base, right, top = mark["box"]
    assert left < noted["box"][0] < noted["box"][2] < right  # the mark goes around the note
    assert base < noted["box"][1] < noted["box"][3] < top
    assert app.call("POST", url).json["marks"] == 0  # marks are no change themselves, and none is placed twice
    assert app.call("POST", f"/api/projects/{hut_project}/undo").json["label"] == "place revision marks"
    placed = sections["placements"][0]
    app.edit(f"/api/placements/{placed['id']}", {"x": placed["x"] + 20})
    moved = app.call("POST", url).json
    assert (moved["marks"], len(moved["left"])) == (0, 1)


def test_cancelled_and_interrupted_files(installation: Installation, hut_project: int) -> None:
    app = installation
    a_set(app, hut_project)
    app.kill_worker()
    try:
        url = f"/api/projects/{hut_project}/publications"
        dropped = app.call("POST", url, {"issue": ISSUE}).json
        assert app.call("DELETE", f"/api/publications/{dropped['id']}").json["state"] == "cancelled"
        kept = app.call("POST", url, {}).json
    finally:
        app.start_worker()
    app.until(lambda: app.call("GET", f"/api/publications/{kept['id']}").json["state"] == "ready")
    assert app.call("GET", f"/api/publications/{dropped['id']}").json["state"] == "cancelled"
    assert app.call("GET", f"/api/publications/{dropped['id']}/file").status == 404
    assert app.call("GET", f"/api/projects/{hut_project}/issues").json["issues"] == []


def test_a_sheet_that_can_not_be_drawn_fails_in_words_and_is_started_again(
    installation: Installation, hut_project: int
) -> None:
    app = installation
    plans, _ = a_set(app, hut_project)
    data = png(16, 16)
    name = app.send_file(f"/api/projects/{hut_project}/pictures", "photo.png", data).json["name"]
    document = {"kind": "picture", "image": name, "points": [(1500, 800), (2300, 1200)]}
    body = {"spots": [{"at": [1500, 1000], "reach": 100, "only": ["point"]}], "document": document}
    drawing = plans["placements"][0]["drawing_id"]
    assert app.call("POST", f"/api/drawings/{drawing}/annotations", body).status == 201
    # a disk that lost it
    app.execute(f"UPDATE blob_chunk SET data = '\\x89504e47' WHERE hash = '{name}'")
    failed = published(app, hut_project)
    assert failed["state"] == "failed"
    assert "could not be made" in failed["message"]
    app.execute(f"UPDATE blob_chunk SET data = '\\x{data.hex()}' WHERE hash = '{name}'")
    again = app.call("POST", f"/api/publications/{failed['id']}/retry")
    assert (again.status, again.json["state"]) == (202, "waiting")
    assert app.until(lambda: app.call("GET", f"/api/publications/{failed['id']}").json["state"] == "ready")
    refused = app.call("POST", f"/api/publications/{failed['id']}/retry")
    assert refused.status == 422


def test_a_sheet_deleted_meanwhile_is_said(installation: Installation, hut_project: int) -> None:
    app = installation
    plans, sections = a_set(app, hut_project)
    app.kill_worker()
    try:
        wanted = {"sheets": [plans["id"], sections["id"]]}
        started = app.call("POST", f"/api/projects/{hut_project}/publications", wanted).json
        app.call("DELETE", f"/api/sheets/{sections['id']}")
    finally:
        app.start_worker()
    path = f"/api/publications/{started['id']}"
    assert app.until(lambda: app.call("GET", path).json["state"] == "failed")
    assert "not there any more" in app.call("GET", path).json["message"]


def test_a_file_whose_job_was_lost_is_taken_up_again(installation: Installation, hut_project: int) -> None:
    app = installation
    a_set(app, hut_project)
    app.kill_worker()
    try:
        url = f"/api/projects/{hut_project}/publications"
        lost, given_up = (app.call("POST", url, {}).json["id"] for _ in range(2))
        app.execute("DELETE FROM procrastinate_jobs WHERE task_name = 'publish'")
        app.execute(f"UPDATE publication SET state = 'working' WHERE id = {lost}")
        app.execute(f"UPDATE publication SET state = 'working', attempts = 99 WHERE id = {given_up}")
    finally:
        app.start_worker()
    assert app.until(lambda: app.call("GET", f"/api/publications/{lost}").json["state"] == "ready")
    assert app.until(lambda: app.call("GET", f"/api/publications/{given_up}").json["state"] == "failed")
    assert "broken off" in app.call("GET", f"/api/publications/{given_up}").json["message"]
