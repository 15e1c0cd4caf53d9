"""Remarks in the interface: pinned in a section, seen in the plan, answered on a sheet by a reviewer."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.pages.bench import Bench
from tests.browser.test_people import OpenOne, window
from tests.conftest import Team
from tests.installation import Installation
from tests.office import Office


def test_a_remark_in_a_section_shows_in_the_plan_and_is_done(
    page: Page, installation: Installation, hut_project: int
) -> None:
    bench = Bench(page, installation, hut_project).open()
    section = bench.draw_section((3, -2), (3, 6), (1, 2))
    bench.painted("Result")
    page.get_by_role("button", name="Remarks", exact=True).click()
    page.get_by_role("button", name="Pin a remark").click()
    page.mouse.click(*bench.spot_in("Result", section, 2.5, 1.2))
    page.get_by_label("What is remarked").fill("Is this door meant to open inwards?")
    page.get_by_label("To whom").fill("Mo")
    page.get_by_role("button", name="Keep the remark").click()
    panel = page.get_by_role("complementary", name="Remarks")
    expect(panel.get_by_role("listitem")).to_contain_text("Is this door meant to open inwards?")
    for pane in ("Source", "Result"):  # the plan is cut at the same place
        expect(page.get_by_label(pane, exact=True).get_by_role("button", name="Remark 1, open")).to_be_visible()
    expect(page.get_by_role("button", name="Remarks, 1 open")).to_be_visible()
    page.get_by_label("Answer to remark 1").fill("Yes.")
    panel.get_by_role("button", name="Answer").click()
    expect(page.get_by_label("Result", exact=True).get_by_role("button", name="Remark 1, answered")).to_be_visible()
    panel.get_by_role("button", name="Done").click()
    bench.saved(
        lambda: [r["state"] for r in bench.app.call("GET", f"/api/projects/{hut_project}/remarks").json] == ["done"]
    )
    panel.get_by_role("button", name="Open it again").click()
    panel.get_by_role("button", name="Delete remark 1").click()
    expect(panel.get_by_role("listitem")).to_have_count(0)


def test_who_is_invited_has_left_a_remark_on_a_sheet_in_a_few_steps(
    office: Office, team: Team, new_browser: OpenOne
) -> None:
    sheet = team.owner.call("POST", f"/api/projects/{team.project}/sheets", {"title": "To be looked at"}).json
    page = window(new_browser, office.member(team.project, "reviewer", "Guest"))
    page.goto(f"{office.url}/projects/{team.project}/sheets/{sheet['id']}")
    page.get_by_role("button", name=re.compile("^Remarks")).click()
    page.get_by_role("button", name="Pin a remark").click()
    paper = page.locator("canvas").first.bounding_box()
    assert paper is not None
    page.mouse.click(paper["x"] + 200, paper["y"] + 200)
    page.get_by_label("What is remarked").fill("The title is missing.")
    page.get_by_role("button", name="Keep the remark").click()
    expect(page.get_by_role("button", name=re.compile(r"^Remark \d+, open"))).to_be_visible()
    owner = window(new_browser, team.owner)
    owner.goto(f"{office.url}/projects/{team.project}")
    owner.get_by_role("button", name=re.compile("^Remarks, ")).click()
    card = owner.get_by_role("complementary", name="Remarks").get_by_role("listitem").first
    expect(card).to_contain_text("The title is missing.")
    expect(card).to_contain_text("Guest")
    card.get_by_role("button", name=re.compile("To be looked at")).click()
    expect(owner.get_by_role("button", name=re.compile(r"^Remark \d+, open"))).to_be_visible()
    # who edits hears of it, and comes to it from anywhere
    owner.goto(f"{office.url}/account")
    owner.get_by_role("button", name=re.compile(r"^Notices, \d+ new")).click()
    notice = owner.get_by_role("list", name="Notices").get_by_role("button").first
    expect(notice).to_contain_text("Guest remarked")
    expect(notice).to_contain_text("new")
    expect(owner.get_by_role("button", name="Notices", exact=True)).to_be_visible()  # seen
    notice.click()
    expect(card).to_contain_text("The title is missing.")


def test_what_was_issued_is_remarked_with_a_sketch_and_seen_beside_what_became_of_it(
    page: Page, installation: Installation, hut_project: int
) -> None:
    app, at = installation, f"/api/projects/{hut_project}"
    plan = app.call("GET", f"{at}/drawings").json[0]["id"]
    sheet = app.call("POST", f"{at}/sheets", {"title": "Plans"}).json["id"]
    placed = app.call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": plan, "x": 100, "y": 200})
    (placement,) = placed.json["placements"]
    issue = {"code": "P01", "date": "2026-12-02", "purpose": "", "issued_by": ""}
    app.call("POST", f"{at}/publications", {"sheets": [sheet], "issue": issue})
    app.until(lambda: app.call("GET", f"{at}/issues").json["issues"])
    page.goto(f"/projects/{hut_project}/sheets/{sheet}")
    number = app.call("GET", f"{at}/sheets").json[0]["number"]
    page.get_by_role("button", name="Issues").click()
    page.get_by_role("article", name="Issue P01").get_by_role("button", name="Changed since").click()
    page.get_by_role("article", name="Issue P01").get_by_role("button", name=number).first.click()
    paper = page.get_by_role("application", name=re.compile("as issued P01"))
    expect(paper.locator("canvas[data-painted=yes]")).to_be_visible()
    page.get_by_role("button", name="Remarks", exact=True).click()
    page.get_by_role("button", name="Pin a remark").click()
    box = paper.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.5
    page.mouse.click(x, y)
    page.get_by_label("What is remarked").fill("Too near to the edge.")
    page.get_by_role("button", name="Sketch", exact=True).click()
    page.mouse.move(x - 40, y - 30)
    page.mouse.down()
    page.mouse.move(x + 40, y - 30, steps=6)
    page.mouse.up()
    expect(page.locator("[data-sketch]")).to_have_count(1)
    page.get_by_role("button", name="Keep the remark").click()
    panel = page.get_by_role("complementary", name="Remarks")
    expect(panel.get_by_role("listitem")).to_contain_text("as issued P01")
    (kept,) = app.call("GET", f"{at}/remarks").json
    (pin,) = app.call("GET", f"/api/issued-sheets/{kept['issued']}/remarks").json
    assert len(pin["sketch"][0]) >= 5
    moved = {"version": placement["version"], "x": 130, "y": 220}
    assert app.call("PATCH", f"/api/placements/{placement['id']}", moved).status == 200
    panel.get_by_role("button", name="What became of it").click()
    became = page.get_by_role("region", name="What became of remark 1")
    for side, shown in (("Before", "P01"), ("After", "now")):
        expect(became.get_by_role("application", name=f"{side}: {shown}").locator("canvas")).to_have_attribute(
            "data-painted", "yes"
        )
        expect(
            became.get_by_role("application", name=side).get_by_role("button", name="Remark 1, open")
        ).to_be_visible()
    expect(became).to_contain_text("moved")
    became.get_by_role("button", name="Back to the remark").click()
    expect(panel.get_by_role("listitem")).to_contain_text("Too near to the edge.")
