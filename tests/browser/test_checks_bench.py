"""The checks bench, and where one more section helps; drawings that are held; lines that measure what they cross."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.pages.bench import Bench


def test_a_check_is_switched_off_and_on(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page.get_by_role("link", name="Checks").click()
    row = page.get_by_role("region", name="Doubtful").get_by_role("listitem").filter(has_text="has no ground")
    expect(row).to_be_visible()
    page.get_by_text("What is looked for").click()
    switch = page.get_by_role("checkbox", name="Models without ground")
    switch.click()
    expect(row).to_have_count(0)
    expect(page.get_by_text("What is looked for: all but 1 of")).to_be_visible()
    switch.click()
    expect(row).to_be_visible()


def test_a_click_on_the_sweep_puts_a_line_on_the_plan(bench: Bench) -> None:
    page = bench.page
    page.get_by_role("link", name="Checks").click()
    page.get_by_text("Where one more section would explain most").click()
    curve = page.get_by_role("button", name="Put a section along y, by x")
    curve.click(position={"x": 260, "y": 20})  # the middle of the hut
    expect(page.get_by_text("Move to the side to look at")).to_be_visible()
    page.keyboard.press("Enter")
    bench.saved(lambda: any(d["kind"] == "section" for d in bench.drawings()))
    (a, _), (b, _) = bench.section()["cut"]["line"]
    assert a == b
    low, high = (bench.app.call("GET", f"/api/projects/{bench.project}").json["facts"][k][0] for k in ("low", "high"))
    assert abs(a - (low + high) / 2) < 0.05 * (high - low)


def test_a_drawing_is_held_and_let_go(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page.get_by_role("button", name="Hold as revision 1 has it").click()
    bench.saved(lambda: bench.section()["cut"]["held"] == {"revision": 1, "taken": []})
    part = page.get_by_role("group", name="Hold")
    expect(part.get_by_text("Held by revision 1, the newest.")).to_be_visible()
    expect(page.get_by_label("Held by revision 1", exact=True)).to_be_visible()
    part.get_by_role("button", name="Let go").click()
    bench.saved(lambda: bench.section()["cut"]["held"] is None)
    expect(page.get_by_role("button", name=re.compile("^Hold as revision"))).to_be_visible()


def test_a_line_over_a_drawing_measures_what_it_crosses(bench: Bench) -> None:
    page = bench.page
    made = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page.keyboard.press("Shift+x")
    expect(page.get_by_text("Click where a line begins.").first).to_be_visible()
    for u in (0.2, 4.3):
        page.mouse.click(*bench.spot_in("Result", made, u, 1.0))
    path = f"/api/drawings/{made['id']}/annotations"
    bench.saved(lambda: len(bench.app.call("GET", path).json) == 1)
    (one,) = bench.app.call("GET", path).json
    assert one["document"]["kind"] == "dimension"
    assert len(one["document"]["anchors"]) >= 2
