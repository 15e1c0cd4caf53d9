"""Extents, looks and ends through the real interface: shared boxes, polygons, levels, elements that look otherwise."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.browser.test_workbench import add


def now(bench: Bench, drawing: dict) -> dict:
    return bench.app.call("GET", f"/api/drawings/{drawing['id']}").json


def style_of(bench: Bench, drawing: dict) -> dict:
    return now(bench, drawing)["style"]


def drag(page: Page, name: str, dx: float, dy: float, pane: str = "") -> None:
    within = page.get_by_label(pane, exact=True) if pane else page
    box = within.get_by_role("button", name=name, exact=True).bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=5)
    page.mouse.up()


def test_two_sections_follow_one_box_and_are_released(bench: Bench) -> None:
    page = bench.page
    first, second = add(bench, [[2, -1], [2, 4]]), add(bench, [[3, -1], [3, 4]])
    page.get_by_label("New shared extents").fill("Hall")
    page.get_by_role("button", name="Share", exact=True).click()
    expect(page.get_by_text("Extents and depth are those of “Hall”")).to_be_visible()
    assert page.locator("[data-box=Hall]").count() == 1
    page.goto(f"/projects/{bench.project}?drawing={first['id']}")
    bench.painted("Result")
    page.get_by_label("Follows").select_option(label="Hall")
    bench.saved(lambda: now(bench, first)["cut"]["shared_extents"])
    drag(page, "Extents: top", 0, 60)
    bench.saved(lambda: now(bench, second)["cut"]["extents"]["top"] < second_top(bench))
    assert now(bench, first)["cut"]["extents"]["top"] == now(bench, second)["cut"]["extents"]["top"]
    top = now(bench, first)["cut"]["extents"]["top"]
    drag(page, "Hall: north face", 0, -30)
    page.get_by_role("button", name="Release this drawing").click()
    bench.saved(lambda: now(bench, first)["cut"]["shared_extents"] == "")
    assert now(bench, first)["cut"]["extents"]["top"] == top
    page.keyboard.press("Control+z")
    bench.saved(lambda: now(bench, first)["cut"]["shared_extents"])


def second_top(bench: Bench) -> float:
    project = bench.app.call("GET", f"/api/projects/{bench.project}").json
    return float(project["facts"]["high"][2]) + 1.0


def test_a_polygon_is_drawn_in_the_pane_and_its_corners_are_moved(bench: Bench) -> None:
    page = bench.page
    section = add(bench, [[2, -1], [2, 4]])
    page.get_by_role("button", name="Draw a polygon in the pane").click()
    area = page.get_by_role("application", name=re.compile("^Result")).bounding_box()
    assert area is not None
    x, y = area["x"] + area["width"] / 2, area["y"] + area["height"] / 2
    for dx, dy in ((-70, 60), (70, 60), (40, -60)):
        page.mouse.click(x + dx, y + dy)
    page.keyboard.press("Enter")
    bench.saved(lambda: len(now(bench, section)["cut"]["extents"]["polygon"]) == 3)
    before = now(bench, section)["cut"]["extents"]["polygon"]
    rests(page)
    drag(page, "A new corner after corner 1", 0, 40)
    bench.saved(lambda: len(now(bench, section)["cut"]["extents"]["polygon"]) == 4)
    page.get_by_role("button", name="Corner 2 of the extents; Delete removes it").focus()
    page.keyboard.press("Delete")
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["polygon"] == before)


def test_a_side_of_the_extents_is_drawn_to_a_level(bench: Bench) -> None:
    page = bench.page
    section = add(bench, [[2, -1], [2, 4]], extents={"base": -1.0})
    rests(page)
    head = bench.view_head(section["id"])
    area = page.get_by_role("application", name=re.compile("^Result")).bounding_box()
    grip = page.get_by_role("button", name="Extents: base", exact=True).bounding_box()
    assert area is not None
    assert grip is not None
    left, base, right, top = head["page"]
    zoom = min((area["width"] - 20) / (right - left), (area["height"] - 20) / (top - base))
    drag(page, "Extents: base", 0, -(1000 / bench.scale()) * zoom + 3)
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["base"] == 0.0)


def test_one_element_looks_otherwise_here_and_is_taken_back(bench: Bench) -> None:
    page = bench.page
    section = add(bench, [[2, -1], [2, 4]])
    wall = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=wall").json[0]
    page.keyboard.press("Control+k")
    page.keyboard.type(wall["name"])
    page.get_by_role("option", name=re.compile(f"^{re.escape(wall['name'])} .*pick it")).first.click()
    expect(page.get_by_text("Its look here")).to_be_visible()
    page.get_by_text("Its look here").click()
    page.get_by_label("Pen", exact=True).first.select_option("1")
    plan = next(d for d in bench.drawings() if d["kind"] == "plan")
    bench.saved(lambda: now(bench, plan)["style"]["looks"])
    (look,) = now(bench, plan)["style"]["looks"]
    assert (look["elements"], look["pen"]) == ([wall["guid"]], 1.0)
    page.get_by_role("button", name="1 element as in the standard").click()
    bench.saved(lambda: not now(bench, plan)["style"]["looks"])
    assert not style_of(bench, section)["looks"]


def test_levels_go_to_the_left_and_one_is_left_out(bench: Bench) -> None:
    page = bench.page
    section = add(bench, [[2, -1], [2, 4]])
    page.get_by_text("Ends of the levels").click()
    ends = page.locator("details", has_text="Ends of the levels").last
    ends.get_by_label("Stand").select_option("start")
    bench.saved(lambda: style_of(bench, section)["level_ends"]["side"] == "start")
    ends.get_by_role("checkbox").first.uncheck()
    bench.saved(lambda: len(style_of(bench, section)["level_ends"]["hidden"]) == 1)


def test_heads_are_dragged_along_their_line_and_go_back(bench: Bench) -> None:
    page = bench.page
    section = add(bench, [[2, -1], [2, 4]])
    rests(page)
    drag(page, "Head at the last end", 0, -40)
    bench.saved(lambda: style_of(bench, section)["marker"]["shift"][1] > 2)
    page.get_by_role("button", name="Heads back to the ends of the line").click()
    bench.saved(lambda: style_of(bench, section)["marker"]["shift"] == [0, 0])


def test_a_menu_at_the_pointer_and_a_drawing_dropped_on_a_pane(bench: Bench) -> None:
    page = bench.page
    first, second = add(bench, [[2, -1], [2, 4]]), add(bench, [[3, -1], [3, 4]])
    row = page.get_by_role("treeitem", name=re.compile(re.escape(first["title"])))
    row.click(button="right")
    page.get_by_role("menuitem", name="Show beside the open drawing").click()
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text(first["title"])
    page.locator(f"#drawing-{first['id']} button[draggable]").drag_to(page.get_by_label("Result", exact=True))
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(first["title"])
    assert second["title"] != first["title"]


def wide(page: Page) -> float:
    """How wide the result's extents stand in the window, pixels."""
    a, b = (page.get_by_role("button", name=f"Extents: {s}", exact=True).bounding_box() for s in ("left", "right"))
    assert a is not None
    assert b is not None
    return b["x"] - a["x"]


def middle(page: Page) -> tuple[float, float]:
    """Of the result pane, in the window."""
    area = page.get_by_role("application", name=re.compile("^Result")).bounding_box()
    assert area is not None
    return area["x"] + area["width"] / 2, area["y"] + area["height"] / 2


def test_two_fingers_zoom_and_pan(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    rests(page)
    before, (x, y) = wide(page), middle(page)
    fingers = page.context.new_cdp_session(page)

    def touch(kind: str, *spots: tuple[float, float]) -> None:
        points = [{"x": px, "y": py, "id": k} for k, (px, py) in enumerate(spots)]
        fingers.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    touch("touchStart", (x - 30, y), (x + 30, y))
    for reach in (40, 50, 60):
        touch("touchMove", (x - reach, y), (x + reach, y))
    touch("touchEnd")
    rests(page)
    assert wide(page) == pytest.approx(2 * before, rel=0.1)
    assert page.evaluate("window.visualViewport.scale") == 1  # the page itself is not zoomed


def test_a_box_is_zoomed_to(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    rests(page)
    before, (x, y) = wide(page), middle(page)
    page.keyboard.press("z")
    page.mouse.move(x - 60, y - 40)
    page.mouse.down()
    page.mouse.move(x + 60, y + 40, steps=4)
    page.mouse.up()
    rests(page)
    assert wide(page) > 2 * before


def test_the_button_of_the_empty_pane_draws_a_section(bench: Bench) -> None:
    page = bench.page
    page.get_by_role("button", name="Draw a cutting line").click()
    bench.click(2, -1)
    bench.click(2, 4)
    bench.move(0.5, 2)
    bench.click(0.5, 2)
    bench.saved(lambda: [d["kind"] for d in bench.drawings() if d["kind"] != "plan"] == ["section"])
