"""Review of issues over HTTP: remarks on what was issued, carried on, what became of them; remarks that follow the
drawings of sheets; sketches, pictures, sheets with remarks laid over."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

import pypdf
import pytest
from PIL import Image

from tests.http.review.test_remarks import ACROSS, drawing, pins, remark
from tests.installation import Installation


@dataclass
class Reviewed:
    """A section on a sheet of the hut's project."""

    app: Installation
    project: int
    section: int
    sheet: int
    placement: int

    def place(self) -> tuple[list[float], int]:
        """The box of the section on its sheet, and its version."""
        (sheet,) = (one for one in self.app.call("GET", f"/api/projects/{self.project}/sheets").json
                    if one["id"] == self.sheet)  # fmt: skip
        (placed,) = sheet["placements"]
        return placed["box"], placed["version"]

    def move(self, x: float, y: float) -> None:
        box, version = self.place()
        said = {"version": version, "x": box[0] + x, "y": box[1] + y}
        assert self.app.call("PATCH", f"/api/placements/{self.placement}", said).status == 200

    def issue(self, code: str) -> dict[str, Any]:
        """The sheet as it is issued by this code."""
        said = {"sheets": [self.sheet], "issue": {"code": code, "date": "2026-12-02", "purpose": "", "issued_by": ""}}
        made = self.app.call("POST", f"/api/projects/{self.project}/publications", said)
        assert made.status == 202, made.body

        def issued() -> Any:
            found = self.app.call("GET", f"/api/projects/{self.project}/issues").json["issues"]
            return next((one for one in found if one["code"] == code), None)

        found: dict[str, Any] = self.app.until(issued)["sheets"][0]
        return found

    def remark(self, **said: Any) -> dict[str, Any]:
        return remark(self.app, self.project, **said)

    def on_sheet(self) -> dict[int, list[float]]:
        return {one["remark"]: one["at"] for one in self.app.call("GET", f"/api/sheets/{self.sheet}/remarks").json}

    def on_issued(self, number: int) -> dict[int, dict[str, Any]]:
        return {one["remark"]: one for one in self.app.call("GET", f"/api/issued-sheets/{number}/remarks").json}

    def became(self, number: int) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.app.call("GET", f"/api/remarks/{number}/became").json
        return found


@pytest.fixture
def reviewed(installation: Installation, hut_project: int) -> Reviewed:
    section = drawing(installation, hut_project, ACROSS)
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"title": "Sections"}).json["id"]
    said = {"drawing_id": section, "x": 60, "y": 150}
    placed = installation.call("POST", f"/api/sheets/{sheet}/placements", said)
    assert placed.status == 201, placed.body
    return Reviewed(installation, hut_project, section, sheet, placed.json["placements"][0]["id"])


def near(at: Any, x: float, y: float) -> bool:
    return bool(at == pytest.approx([x, y], abs=0.05))


def test_a_remark_on_a_sheet_is_of_what_its_drawing_shows_and_goes_with_it(reviewed: Reviewed) -> None:
    (left, base, _, _), _ = reviewed.place()
    made = reviewed.remark(sheet=reviewed.sheet, at=[left + 20, base + 12])
    (at,) = pins(reviewed.app, reviewed.section).values()
    assert made["point"] is not None  # it is of a place of the model
    reviewed.move(35, -20)
    assert near(reviewed.on_sheet()[made["id"]], left + 55, base - 8)
    assert pins(reviewed.app, reviewed.section) == {made["id"]: at}
    # by another scale it stands at the same place of the building
    number = reviewed.section
    (style,) = reviewed.app.one(f"SELECT style FROM drawing WHERE id = {number}")
    assert style["scale"] == 50
    assert reviewed.app.edit(f"/api/drawings/{number}", {"style": {**style, "scale": 100}}).status == 200
    (left, base, _, _), _ = reviewed.place()
    assert near(reviewed.on_sheet()[made["id"]], left + 10, base + 6)
    # taken off the sheet, it stays where it was put
    assert reviewed.app.call("DELETE", f"/api/placements/{reviewed.placement}").status == 204
    assert near(reviewed.on_sheet()[made["id"]], *made["at"])


def test_what_is_remarked_in_a_drawing_shows_on_its_sheet(reviewed: Reviewed) -> None:
    made = reviewed.remark(drawing=reviewed.section, at=[2500, 1200])
    (left, base, right, top), _ = reviewed.place()
    x, y = reviewed.on_sheet()[made["id"]]
    assert left < x < right
    assert base < y < top
    reviewed.move(10, 0)
    assert near(reviewed.on_sheet()[made["id"]], x + 10, y)


def test_remarks_on_an_issue_are_carried_until_they_are_done(reviewed: Reviewed) -> None:
    (left, base, _, _), _ = reviewed.place()
    first = reviewed.issue("P01")
    one = reviewed.remark(issued=first["id"], at=[left + 20, base + 12], text="Too low.")
    other = reviewed.remark(issued=first["id"], at=[5, 5], text="The frame.")
    assert one["where"].endswith("Sections, as issued P01")
    assert {k: v["carried"] for k, v in reviewed.on_issued(first["id"]).items()} == {
        one["id"]: False,
        other["id"]: False,
    }
    assert pins(reviewed.app, reviewed.section).keys() == {one["id"]}
    reviewed.app.call("POST", f"/api/remarks/{other['id']}/answers", {"text": "It stays.", "state": "done"})
    reviewed.move(30, 0)
    second = reviewed.issue("P02")
    carried = reviewed.on_issued(second["id"])
    assert {k: (v["carried"], v["state"]) for k, v in carried.items()} == {one["id"]: (True, "open")}
    assert near(carried[one["id"]]["at"], left + 50, base + 12)  # with its drawing
    assert reviewed.app.edit(f"/api/remarks/{one['id']}", {"state": "done"}).status == 200
    third = reviewed.issue("P03")
    assert reviewed.on_issued(third["id"]) == {}
    assert [v["state"] for v in reviewed.on_issued(second["id"]).values()] == ["open"]  # as it was that day
    times = reviewed.became(one["id"])
    assert [(t["code"], t["state"]) for t in times] == [
        ("P01", "open"), ("P02", "open"), ("P03", "done"), ("now", "done"),
    ]  # fmt: skip
    assert [near(t["at"], left + x, base + 12) for t, x in zip(times, (20, 50, 50, 50), strict=True)] == [True] * 4
    assert [bool(t["says"]) for t in times] == [False, True, False, False]
    assert "moved" in times[1]["says"][0]
    (closed,) = reviewed.app.call("GET", f"/api/projects/{reviewed.project}/remarks").json[1]["answers"]
    assert (closed["text"], closed["state"]) == ("", "done")


def test_what_was_cut_otherwise_since_keeps_its_place_on_paper(reviewed: Reviewed) -> None:
    (left, base, _, _), _ = reviewed.place()
    first = reviewed.issue("P01")
    moved = {**ACROSS, "line": [[2, -2], [2, 6]]}
    assert reviewed.app.edit(f"/api/drawings/{reviewed.section}", {"cut": moved}).status == 200
    made = reviewed.remark(issued=first["id"], at=[left + 20, base + 12])
    assert made["point"] is None  # which place of the model was meant is not known any more
    assert near(reviewed.became(made["id"])[-1]["at"], left + 20, base + 12)
    assert any("otherwise" in words for words in reviewed.became(made["id"])[-1]["says"])


def test_what_became_of_a_remark_whose_drawing_was_taken_off(reviewed: Reviewed) -> None:
    (left, base, _, _), _ = reviewed.place()
    first = reviewed.issue("P01")
    made = reviewed.remark(issued=first["id"], at=[left + 20, base + 12])
    reviewed.app.call("DELETE", f"/api/placements/{reviewed.placement}")
    second = reviewed.issue("P02")
    assert reviewed.on_issued(second["id"]) == {}
    times = [(t["code"], t["at"] is None) for t in reviewed.became(made["id"])]
    assert times == [("P01", False), ("P02", True), ("now", True)]
    assert reviewed.became(made["id"])[1]["says"] == ["the drawing was taken off"]


def test_an_issued_sheet_of_others_is_not_there(reviewed: Reviewed, untouched_hut: int) -> None:
    first = reviewed.issue("P01")
    other = reviewed.app.project_like(untouched_hut)
    said = {"text": "Mine?", "issued": first["id"], "at": [1, 1]}
    assert reviewed.app.call("POST", f"/api/projects/{other}/remarks", said).status == 404


def test_a_sketch_stands_about_its_place_wherever_that_is(reviewed: Reviewed) -> None:
    (left, base, _, _), _ = reviewed.place()
    x, y = left + 20, base + 12
    stroke = [[x - 2, y], [x + 2, y], [x + 2, y + 3]]
    made = reviewed.remark(sheet=reviewed.sheet, at=[x, y], sketch=[stroke])
    reviewed.move(10, 0)
    (pin,) = reviewed.app.call("GET", f"/api/sheets/{reviewed.sheet}/remarks").json
    assert [near(p, a + 10, b) for p, (a, b) in zip(pin["sketch"][0], stroke, strict=True)] == [True] * 3
    (within,) = reviewed.app.call("GET", f"/api/drawings/{reviewed.section}/remarks").json
    u, v = within["at"]
    assert near(within["sketch"][0][2], u + 2 * 50, v + 3 * 50)  # by its scale, mm of the building
    assert made["number"] == 1


def png(wide: int, high: int) -> bytes:
    stream = io.BytesIO()
    Image.new("RGB", (wide, high), "#336699").save(stream, "PNG")
    return stream.getvalue()


def test_a_picture_is_added_listed_and_none_of_other_projects(reviewed: Reviewed, untouched_hut: int) -> None:
    app = reviewed.app
    kept = app.send_file(f"/api/projects/{reviewed.project}/pictures", "site.png", png(80, 20))
    assert kept.status == 201
    name = kept.json["name"]
    made = reviewed.remark(sheet=reviewed.sheet, at=[10, 10], picture=name)
    assert made["picture"] == name
    (page,) = pypdf.PdfReader(io.BytesIO(app.call("GET", f"/api/projects/{reviewed.project}/remarks.pdf").body)).pages
    assert len(page.images) == 2  # of its place, and the added one
    other = app.project_like(untouched_hut)
    sheet = app.call("POST", f"/api/projects/{other}/sheets", {}).json["id"]
    said = {"text": "This one", "sheet": sheet, "at": [1, 1], "picture": name}
    refused = app.call("POST", f"/api/projects/{other}/remarks", said)
    assert (refused.status, refused.json["field"]) == (422, "picture")


def test_sheets_are_printed_with_their_remarks_laid_over(reviewed: Reviewed) -> None:
    (left, base, _, _), _ = reviewed.place()
    path = f"/api/projects/{reviewed.project}/remarks/sheets.pdf"
    assert reviewed.app.call("GET", path).status == 422
    made = reviewed.remark(sheet=reviewed.sheet, at=[left + 20, base + 12], text="Lower this sill.", to="Iris")
    plain = reviewed.app.call("GET", f"/api/sheets/{reviewed.sheet}/export.pdf").body
    (page,) = pypdf.PdfReader(io.BytesIO(reviewed.app.call("GET", path).body)).pages
    (without,) = pypdf.PdfReader(io.BytesIO(plain)).pages
    assert float(page.mediabox.height) == pytest.approx(float(without.mediabox.height), abs=0.1)
    assert float(page.mediabox.width) > float(without.mediabox.width) + 200  # points: a margin for what is said
    text = page.extract_text()
    assert "Lower this sill." in text
    assert "to Iris" in text
    assert reviewed.app.edit(f"/api/remarks/{made['id']}", {"state": "done"}).status == 200
    refused = reviewed.app.call("GET", path)
    assert refused.status == 422
    assert "no remarks" in refused.json["message"]


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"sheet": 1, "issued": 1}, ""),
        ({"sheet": 1, "sketch": [[[0, 0]]]}, "sketch.0"),
        ({"sheet": 1, "sketch": [[[0, 0], [1, 1e9]]]}, "sketch.0.1.1"),
        ({"sheet": 1, "sketch": [[[0, 0]] * 1500] * 6}, ""),
        ({"sheet": 1, "picture": "site.png"}, "picture"),
    ],
)
def test_what_is_no_sketch_or_picture_is_refused(
    installation: Installation, hut_project: int, said: dict[str, Any], field: str
) -> None:
    answer = installation.call("POST", f"/api/projects/{hut_project}/remarks", {"text": "x", "at": [0, 0], **said})
    assert answer.status == 422
    assert answer.json["field"] == field


def test_a_remark_whose_place_its_drawing_leaves_out_stays_on_paper(reviewed: Reviewed) -> None:
    (left, base, _, top), _ = reviewed.place()
    made = reviewed.remark(sheet=reviewed.sheet, at=[left + 20, base + 12])
    _, version = reviewed.place()
    said = {"version": version, "trim": {"left": 0, "base": 20, "right": 0, "top": 0}}
    assert reviewed.app.call("PATCH", f"/api/placements/{reviewed.placement}", said).status == 200
    assert reviewed.place()[0][3] == top
    assert near(reviewed.on_sheet()[made["id"]], *made["at"])
