"""The sheets bench in a real browser: placing, register, designs, issues, files, checks."""

from __future__ import annotations

import io
import re
from pathlib import Path
from typing import Any

import pypdf
import pytest
from playwright.sync_api import Locator, Page, Route, expect

from tests.browser.pages.stillness import rests
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.http.sheets.test_sheets import add_sheet, place
from tests.installation import Installation

ALONG = {"kind": "section", "line": [[-1, 2], [7, 2]], "depth": 3}


def sheets(app: Installation, project: int) -> list[dict]:
    return app.call("GET", f"/api/projects/{project}/sheets").json


def placements(app: Installation, project: int) -> dict[str, dict]:
    return {p["number"]: p for s in sheets(app, project) for p in s["placements"]}


@pytest.fixture
def two(page: Page, installation: Installation, hut_project: int) -> dict:
    """A sheet with the plan above a section along it, at one scale, open in the window."""
    made = add_section(installation, hut_project, ALONG)
    style = {**made["style"], "scale": 100}
    installation.call("PATCH", f"/api/drawings/{made['id']}", {"version": made["version"], "style": style})
    sheet = add_sheet(installation, hut_project, title="Hut", size="A3")
    place(installation, sheet, plan_of(installation, hut_project), x=100, y=170)
    sheet = place(installation, sheet, made, x=130, y=100)
    page.goto(f"/projects/{hut_project}/sheets/{sheet['id']}")
    expect(page.locator("canvas[data-painted=yes]").first).to_be_visible()
    rests(page)  # guides come after the picture
    return sheet


def middle(placed: Locator) -> tuple[float, float]:
    box = placed.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def until(app: Installation, condition: Any) -> Any:
    return app.until(condition, 20)


def test_a_section_is_brought_in_line_with_its_plan(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    x, y = middle(page.get_by_role("button", name=re.compile("Placement 2")))
    plan, section = two["placements"]
    scale = page.get_by_role("button", name=re.compile("Placement 2")).bounding_box()["width"] / (  # type: ignore[index]
        section["box"][2] - section["box"][0]
    )
    guides = installation.call("GET", f"/api/sheets/{two['id']}/guides").json
    at = {g["placement"]: g["at"] for g in guides if g["way"] == "x" and g["of"].startswith("axis")}
    off = at[plan["id"]] - at[section["id"]]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + off * scale + 3, y, steps=6)
    expect(page.get_by_text("in line of drawing 1")).to_be_visible()
    expect(page.locator("[data-lifted]")).to_be_visible()
    page.mouse.up()
    until(installation, lambda: placements(installation, hut_project)["2"]["version"] > section["version"])
    now = installation.call("GET", f"/api/sheets/{two['id']}/guides").json
    at = {g["placement"]: g["at"] for g in now if g["way"] == "x" and g["of"].startswith("axis")}
    assert abs(at[plan["id"]] - at[section["id"]]) < 0.01


def test_a_placement_is_trimmed_its_title_moved_and_several_are_moved_at_once(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    page.get_by_role("button", name=re.compile("Placement 1")).click()
    grip = page.get_by_role("button", name="Trim the left side")
    x, y = middle(grip)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y, steps=4)
    page.mouse.up()
    until(installation, lambda: placements(installation, hut_project)["1"]["trim"]["left"] > 5)
    x, y = middle(page.get_by_role("button", name="Move the title"))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y + 4, steps=4)
    page.mouse.up()
    until(installation, lambda: placements(installation, hut_project)["1"]["title"]["dx"] > 5)
    page.get_by_role("button", name="Show all of it").click()
    until(installation, lambda: placements(installation, hut_project)["1"]["trim"]["left"] == 0)
    page.get_by_role("button", name=re.compile("Placement 2")).click(modifiers=["Shift"])
    expect(page.get_by_text("2 drawings")).to_be_visible()
    before = placements(installation, hut_project)
    page.keyboard.press("Shift+ArrowRight")
    until(installation, lambda: placements(installation, hut_project)["2"]["x"] == before["2"]["x"] + 10)
    assert placements(installation, hut_project)["1"]["x"] == before["1"]["x"] + 10


def test_an_act_before_the_answer_to_the_one_before_is_done_to_what_that_left(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    page.get_by_role("button", name=re.compile("Placement 1")).click()
    late: list[Route] = []
    page.route("**/api/placements/*", lambda route: late.append(route), times=1)
    left, top = (page.get_by_label(side, exact=True) for side in ("Left", "Top"))
    left.fill("12")
    left.press("Enter")
    page.get_by_role("button", name="Show all of it").click()
    (first,) = late
    first.fulfill(response=first.fetch())  # it was done; only its answer comes now
    expect(left).to_have_value("0")
    until(installation, lambda: placements(installation, hut_project)["1"]["trim"]["left"] == 0)
    top.fill("9")
    top.press("Enter")
    until(installation, lambda: placements(installation, hut_project)["1"]["trim"]["top"] == 9)
    expect(page.get_by_text("changed in another window")).to_have_count(0)


def test_the_register_is_ordered_renumbered_and_filtered(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    installation.call("PATCH", f"/api/sheets/{two['id']}", {"version": two["version"], "number": "X-1"})
    add_sheet(installation, hut_project, title="Second", number="X-2", folder="plans")
    page.goto(f"/projects/{hut_project}/sheets/all")
    register = page.get_by_role("navigation", name="Register")
    second = register.get_by_role("button", name=re.compile("^X-2"))
    second.drag_to(register.get_by_role("button", name=re.compile("^X-1")))
    until(installation, lambda: [s["number"] for s in sheets(installation, hut_project)] == ["X-2", "X-1"])
    page.get_by_role("button", name="Show what follows").click()
    expect(page.get_by_label("Renumber").get_by_text("X-2 → A-101")).to_be_visible()
    page.get_by_role("button", name="Renumber 2 sheets").click()
    until(installation, lambda: [s["number"] for s in sheets(installation, hut_project)] == ["A-101", "A-102"])
    page.get_by_label("Only Title").fill("sec")
    expect(page.get_by_text("1 of 2 sheets")).to_be_visible()
    page.get_by_label("Title of A-101").fill("First of all")
    page.keyboard.press("Enter")
    until(installation, lambda: sheets(installation, hut_project)[0]["title"] == "First of all")


def test_a_design_is_changed_on_its_sheet(page: Page, installation: Installation, hut_project: int, two: dict) -> None:
    page.get_by_label("Design", exact=True).select_option("base-strip")
    until(installation, lambda: sheets(installation, hut_project)[0]["design"] == "base-strip")
    page.get_by_role("button", name="Change it here").click()
    text = page.get_by_role("button", name="Text", exact=True)
    text.click()
    page.get_by_label("Words").fill("Handle with {drawn}")
    x, y = middle(text)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 60, steps=4)
    page.mouse.up()
    page.get_by_label("Zones").check()
    page.get_by_role("button", name="Save the design").click()
    own = until(
        installation,
        lambda: next(
            (
                d
                for d in installation.call("GET", f"/api/projects/{hut_project}/sheet-designs").json
                if d["id"] and d["document"]["zones"]
            ),
            None,
        ),
    )
    changed = next(p for p in own["document"]["parts"] if p["kind"] == "text")
    assert changed["says"] == "Handle with {drawn}"
    assert changed["region"]["base"]["mm"] > 15
    assert sheets(installation, hut_project)[0]["design"] == own["key"]


def test_sheets_are_issued_and_what_changed_is_shown(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    page.get_by_role("button", name="Issues").click()
    page.get_by_text("Issue sheets").click()
    page.get_by_label("Purpose").fill("Permit")
    page.get_by_label("Purpose").press("Enter")
    with page.expect_download() as download:
        page.get_by_role("button", name="Issue 1 sheets as P01").click()
    document = pypdf.PdfReader(io.BytesIO(Path(download.value.path()).read_bytes()))
    assert len(document.pages) == 1
    issue = page.get_by_role("article", name="Issue P01")
    issue.get_by_role("button", name="Changed since").click()
    expect(issue.get_by_text("unchanged")).to_be_visible()
    placed = placements(installation, hut_project)["2"]
    installation.call("PATCH", f"/api/placements/{placed['id']}", {"version": placed["version"], "x": placed["x"] + 50})
    issue.get_by_role("button", name="Changed since").click()
    issue.get_by_role("button", name="Changed since").click()
    issue.get_by_role("button", name=re.compile("changed")).last.click()
    expect(page.get_by_text("dashed: removed; heavy: added")).to_be_visible()
    page.get_by_role("button", name="Back to the sheet").click()
    expect(page.get_by_role("button", name=re.compile("Placement 2"))).to_be_visible()


def test_checks_lead_to_what_is_wrong_and_let_it_be(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    placed = two["placements"][1]
    installation.call("PATCH", f"/api/placements/{placed['id']}", {"version": placed["version"], "x": 380})
    page.get_by_role("link", name="Checks").click()
    row = page.get_by_role("listitem").filter(has_text="reaches beyond the frame")
    row.get_by_role("button", name="Leave it, because").click()
    row.get_by_label("Because").fill("It is a trial")
    page.keyboard.press("Enter")
    expect(row).to_have_count(0)
    page.get_by_label(re.compile("that are left")).check()
    expect(page.get_by_text("It is a trial")).to_be_visible()
    row.get_by_role("button", name="Go there").click()
    expect(page.get_by_role("button", name=re.compile("Placement 2"))).to_be_visible()


def test_drawings_are_documented_from_the_register(page: Page, installation: Installation, hut_project: int) -> None:
    add_section(installation, hut_project, ALONG)
    page.goto(f"/projects/{hut_project}/sheets")
    page.get_by_role("button", name="Document 2").click()
    until(installation, lambda: [s["number"] for s in sheets(installation, hut_project)] == ["A-101", "A-301"])
    expect(page.get_by_role("heading", name="A-101 Plans")).to_be_visible()


def test_a_drawing_is_worked_on_where_it_stands(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    """Its extents are dragged on the sheet; the pane shows it just where and as large as the sheet does."""
    page.get_by_role("button", name=re.compile("Placement 2")).dblclick()
    pane = page.get_by_label("Result", exact=True)
    expect(pane.locator("canvas[data-painted=yes]")).to_be_visible()
    section = next(
        d for d in installation.call("GET", f"/api/projects/{hut_project}/drawings").json if d["kind"] == "section"
    )
    placed = two["placements"][1]
    box = pane.get_by_role("application").bounding_box()
    frame = page.get_by_role("button", name=re.compile("Placement 2")).bounding_box()
    assert box is not None
    assert frame is not None
    zoom = frame["width"] / (placed["box"][2] - placed["box"][0])
    assert abs(frame["x"] - box["x"] - 30 * zoom) < 2
    assert abs(frame["y"] - box["y"] - 30 * zoom) < 2
    grip = pane.get_by_label("Extents: right")
    before = grip.bounding_box() or {}
    page.get_by_role("button", name="Annotate").click()
    expect(pane.get_by_role("toolbar", name="Annotate")).to_be_visible()

    def still() -> bool:
        now = grip.bounding_box() or {"x": 0, "y": 0}
        return abs(now["x"] - before["x"]) < 1 and abs(now["y"] - before["y"]) < 1

    until(installation, still)  # tools that open beside the drawing don't move it
    page.get_by_role("button", name="Annotate").click()
    page.get_by_label("Particulars", exact=True).get_by_label("Scale", exact=True).select_option("50")
    until(
        installation,
        lambda: installation.call("GET", f"/api/drawings/{section['id']}").json["style"]["scale"] == 50,
    )
    page.keyboard.press("Escape")
    expect(pane).to_have_count(0)
    now = placements(installation, hut_project)["2"]
    assert now["box"][2] - now["box"][0] == pytest.approx(2 * (placed["box"][2] - placed["box"][0]))


def test_a_placed_drawing_is_taken_off_and_deleted_when_that_was_said(
    page: Page, installation: Installation, hut_project: int, two: dict
) -> None:
    section = next(
        d for d in installation.call("GET", f"/api/projects/{hut_project}/drawings").json if d["kind"] == "section"
    )
    page.goto(f"/projects/{hut_project}?drawing={section['id']}")
    expect(page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]")).to_be_visible()
    page.keyboard.press("Delete")
    expect(page.get_by_text(f"stands on sheet {two['number']}")).to_be_visible()
    assert installation.call("GET", f"/api/drawings/{section['id']}").status == 200
    page.get_by_role("button", name="Take off and delete").click()
    until(installation, lambda: installation.call("GET", f"/api/drawings/{section['id']}").status == 404)
    assert list(placements(installation, hut_project)) == ["1"]


def test_a_drawing_is_placed_by_its_name(page: Page, installation: Installation, hut_project: int, two: dict) -> None:
    add_section(installation, hut_project, {**ALONG, "line": [[2, -1], [2, 5]]})
    page.reload()
    expect(page.get_by_role("button", name=re.compile("Placement 2"))).to_be_visible()
    page.keyboard.press("Control+k")
    page.keyboard.type("place section on this sheet")
    page.keyboard.press("Enter")
    until(installation, lambda: len(placements(installation, hut_project)) == 3)


def test_a_template_is_changed(page: Page, installation: Installation, hut_project: int, two: dict) -> None:
    page.goto(f"/projects/{hut_project}/sheets/all")
    part = page.get_by_role("region", name="Templates")
    part.get_by_text("Noted and dimensioned").click()
    part.get_by_label("doors").first.click()  # shown when it is saved

    def first() -> dict:
        return installation.call("GET", f"/api/projects/{hut_project}").json["templates"]["templates"][0]

    until(installation, lambda: first()["sets"]["plan"] == ["rooms", "windows", "grid", "outside", "inside"])
    part.get_by_label("Size").first.select_option("A2")
    until(installation, lambda: first()["size"] == "A2")
