"""Callouts through the real interface: drawn, followed, dragged, led to, kept."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.browser.test_extents import drag, now
from tests.browser.test_workbench import add
from tests.installation import Installation


@pytest.fixture
def section(bench: Bench) -> dict:
    return add(bench, [[2, -1], [2, 4]])


def call_out(bench: Bench, section: dict, a: tuple[float, float], b: tuple[float, float], pane: str = "Result") -> None:
    bench.page.keyboard.press("o")
    expect(bench.page.get_by_text("Click a corner.").first).to_be_visible()
    bench.page.mouse.click(*bench.spot_in(pane, section, *a))
    expect(bench.page.get_by_text("Click the opposite corner.")).to_be_visible()
    bench.page.mouse.click(*bench.spot_in(pane, section, *b))
    expect(bench.page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(re.compile("Detail D"))


def newest(bench: Bench) -> dict:
    return bench.drawings()[-1]


def test_a_region_is_called_out_and_stands_beside_its_drawing(bench: Bench, section: dict) -> None:
    page = bench.page
    call_out(bench, section, (1.0, 0.2), (2.0, 1.2))
    result, source = (page.get_by_label(pane, exact=True).get_by_role("heading") for pane in ("Result", "Source"))
    expect(result).to_have_text("Detail D1")
    expect(source).to_have_text(section["title"])
    expect(page.get_by_label("Trail")).to_contain_text(f"{section['title']}›Detail D1")
    made = newest(bench)
    assert made["cut"]["extents"]["left"] == pytest.approx(1.0, abs=0.05)
    assert made["cut"]["extents"]["top"] == pytest.approx(1.2, abs=0.05)
    rests(page)
    page.keyboard.press("o")  # nested
    page.mouse.click(*bench.spot_in("Result", made, 1.2, 0.4))
    page.mouse.click(*bench.spot_in("Result", made, 1.6, 0.8))
    expect(result).to_have_text("Detail D2")
    assert newest(bench)["parent_id"] == made["id"]
    page.get_by_label("Trail").get_by_role("button", name=section["title"]).click()
    expect(result).to_have_text(section["title"])


def test_its_region_is_dragged_where_it_was_called_out(bench: Bench, section: dict) -> None:
    page = bench.page
    call_out(bench, section, (1.0, 0.2), (2.0, 1.2))
    expect(page.get_by_role("button", name="Region: move")).to_be_visible()
    rests(page)
    made = newest(bench)
    drag(page, "Region: move", 30, 0)
    bench.saved(lambda: now(bench, made)["cut"]["extents"]["left"] > made["cut"]["extents"]["left"] + 0.05)
    moved = now(bench, made)
    assert moved["callout"]["region"]["points"][0][1] == pytest.approx(0.2, abs=0.06)
    drag(page, "Extents: top", 0, 40, "Result")  # in the callout itself, whose extents are the region
    bench.saved(lambda: now(bench, made)["callout"] != moved["callout"])
    page.keyboard.press("Control+z")
    bench.saved(lambda: now(bench, made)["callout"] == moved["callout"])


def test_a_circle_and_a_polygon_are_called_out(bench: Bench, section: dict) -> None:
    page = bench.page
    page.keyboard.press("o")
    page.get_by_label("Result", exact=True).get_by_label("Shape of the region").select_option("circle")
    page.mouse.click(*bench.spot_in("Result", section, 1.5, 1.0))
    page.mouse.click(*bench.spot_in("Result", section, 1.9, 1.0))
    bench.saved(lambda: newest(bench)["kind"] == "detail")
    assert newest(bench)["callout"]["region"]["shape"] == "circle"
    assert len(newest(bench)["cut"]["extents"]["polygon"]) > 30
    page.get_by_label("Trail").get_by_role("button", name=section["title"]).click()
    rests(page)
    page.keyboard.press("o")
    page.get_by_label("Result", exact=True).get_by_label("Shape of the region").select_option("polygon")
    for spot in ((2.2, 0.3), (3.0, 0.3), (3.0, 1.5)):
        page.mouse.click(*bench.spot_in("Result", section, *spot))
    page.keyboard.press("Enter")
    bench.saved(lambda: newest(bench)["callout"]["region"]["shape"] == "polygon")


def test_a_bubble_is_dragged_and_stands_by_itself_again(bench: Bench, section: dict) -> None:
    page = bench.page
    call_out(bench, section, (1.0, 0.2), (2.0, 1.2))
    marker = page.get_by_role("button", name=re.compile("^Callout Detail D1"))
    expect(marker).to_be_visible()
    made = newest(bench)
    rests(page)
    box = marker.locator("circle").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 50, y - 30, steps=5)
    page.mouse.up()
    bench.saved(lambda: now(bench, made)["style"]["callout"]["bubble"])
    page.get_by_role("button", name="Place the bubble by itself again").click()
    bench.saved(lambda: now(bench, made)["style"]["callout"]["bubble"] is None)
    page.get_by_label("Leader with an elbow").check()
    bench.saved(lambda: now(bench, made)["style"]["callout"]["elbow"])


def test_a_marker_leads_there_or_shows_it_beside(bench: Bench, section: dict) -> None:
    page = bench.page
    call_out(bench, section, (1.0, 0.2), (2.0, 1.2))
    result = page.get_by_label("Result", exact=True).get_by_role("heading")
    expect(result).to_have_text("Detail D1")
    page.get_by_role("treeitem", name=re.compile(re.escape(section["title"]))).first.click()
    expect(result).to_have_text(section["title"])
    marker = page.get_by_role("button", name=re.compile("^Callout Detail D1"))
    marker.focus()
    page.keyboard.press("Alt+Enter")
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text("Detail D1")
    marker.first.focus()
    page.keyboard.press("Enter")
    expect(result).to_have_text("Detail D1")


def test_regions_lead_to_a_blank_detail_and_to_what_is_there(bench: Bench, section: dict) -> None:
    page = bench.page
    page.keyboard.press("o")
    page.get_by_label("Result", exact=True).get_by_label("What it becomes").select_option("blank")
    page.mouse.click(*bench.spot_in("Result", section, 1.0, 0.2))
    page.mouse.click(*bench.spot_in("Result", section, 1.5, 0.6))
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Blank detail D1")
    page.get_by_label("Trail").get_by_role("button", name=section["title"]).click()
    rests(page)
    page.keyboard.press("o")
    page.get_by_label("Result", exact=True).get_by_label("What it becomes").select_option(label="Blank detail D1")
    page.mouse.click(*bench.spot_in("Result", section, 2.5, 0.2))
    page.mouse.click(*bench.spot_in("Result", section, 3.0, 0.6))
    expect(page.get_by_role("button", name=re.compile("^Callout Blank detail D1"))).to_have_count(2)


def test_callouts_of_a_deleted_section_are_kept(bench: Bench, section: dict) -> None:
    page = bench.page
    call_out(bench, section, (1.0, 0.2), (2.0, 1.2))
    expect(page.get_by_role("treeitem").filter(has_text="Detail D1")).to_be_visible()
    made = newest(bench)
    page.get_by_role("treeitem", name=re.compile(re.escape(section["title"]))).first.click()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(section["title"])
    page.keyboard.press("Delete")
    page.get_by_role("button", name="Keep them").click()
    bench.saved(lambda: section["id"] not in [d["id"] for d in bench.drawings()])
    assert now(bench, made)["callout"] is None


def test_a_callout_follows_the_line_that_is_dragged(bench: Bench, section: dict) -> None:
    page = bench.page
    call_out(bench, section, (1.0, 0.2), (2.0, 1.2))
    made = newest(bench)
    page.get_by_role("treeitem", name=re.compile(re.escape(section["title"]))).first.click()
    expect(page.get_by_role("button", name="Move the cutting line")).to_be_visible()
    rests(page)
    drag(page, "Move the cutting line", 14, 0)
    bench.saved(lambda: now(bench, section)["cut"]["line"] != section["cut"]["line"])
    assert now(bench, made)["cut"]["line"] == now(bench, section)["cut"]["line"]


def test_a_part_is_broken_out_and_an_edge_gets_its_line(bench: Bench, section: dict) -> None:
    page = bench.page
    result = page.get_by_label("Result", exact=True)
    page.keyboard.press("k")
    expect(result.get_by_text("Click on an edge")).to_be_visible()
    page.mouse.click(*bench.spot_in("Result", section, 2.5, 0.6))
    page.mouse.click(*bench.spot_in("Result", section, 2.6, 1.4))
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["breaks"])
    (one,) = now(bench, section)["cut"]["extents"]["breaks"]
    assert (one["axis"], round(one["start"], 1), round(one["end"], 1)) == ("v", 0.6, 1.4)
    page.get_by_label("Break 1 to").fill("1300")
    page.get_by_label("Break 1 to").press("Enter")
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["breaks"][0]["end"] == 1.3)
    rests(page)
    top = result.get_by_role("button", name="Extents: top", exact=True).bounding_box()
    assert top is not None
    page.get_by_role("button", name="Break a part out, or an edge").click()
    page.mouse.click(top["x"] + 60, top["y"] + top["height"] / 2)
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["broken"] == ["top"])
    page.get_by_label("top", exact=True).uncheck()
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["broken"] == [])
    page.get_by_role("button", name="Close break 1").click()
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["breaks"] == [])


def test_what_is_over_a_broken_drawing_folds_with_it(bench: Bench, section: dict) -> None:
    """Grips of the extents stand on the paper of the broken drawing, and a drag of them means what is under it."""
    page = bench.page
    extents = {**section["cut"]["extents"], "breaks": [{"axis": "v", "start": 0.5, "end": 1.5}], "top": 2.5}
    body = {"version": now(bench, section)["version"], "cut": {**section["cut"], "extents": extents}}
    bench.app.call("PATCH", f"/api/drawings/{section['id']}", body)
    page.reload()
    bench.painted("Result")
    rests(page)
    grips = [page.get_by_role("button", name=f"Extents: {s}", exact=True).bounding_box() for s in ("top", "base")]
    assert grips[0] is not None
    assert grips[1] is not None
    high = grips[1]["y"] - grips[0]["y"]
    head = bench.view_head(section["id"])
    box = page.get_by_role("application", name=re.compile("^Result")).bounding_box()
    assert box is not None
    left, base, right, top = head["page"]
    zoom = min((box["width"] - 20) / (right - left), (box["height"] - 20) / (top - base))
    assert high == pytest.approx((head["frame"][3] - head["frame"][1]) * zoom, abs=3)
    drag(page, "Extents: top", 0, -20)
    bench.saved(lambda: now(bench, section)["cut"]["extents"]["top"] > 2.5)
    scale = bench.scale()
    more = (now(bench, section)["cut"]["extents"]["top"] - 2.5) * 1000 / scale
    assert more == pytest.approx(20 / zoom, rel=0.2)


def test_a_wall_is_clicked_and_its_section_made_with_its_junctions(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("t")
    bench.click(2.0, 0.1)
    offer = page.get_by_role("region", name="Wall section")
    expect(offer).to_be_visible()
    boxes = offer.get_by_role("checkbox")
    count = boxes.count()
    assert count > 0
    boxes.first.uncheck()
    offer.get_by_role("button", name=re.compile("Make it")).click()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(re.compile("Wall section A"))
    bench.saved(lambda: len([d for d in bench.drawings() if d["kind"] == "detail"]) == count - 1)
    page.keyboard.press("Control+z")
    bench.saved(lambda: [d["kind"] for d in bench.drawings()] == ["plan"])


def test_a_room_is_clicked_and_enlarged(page: Page, installation: Installation, demo_project: int) -> None:
    bench = Bench(page, installation, demo_project).open()
    page.get_by_role("treeitem").filter(has_text="Lower plan").click()
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text("Lower plan")
    rests(page)
    page.keyboard.press("n")
    bench.click(18.0, 2.0)
    bench.saved(lambda: newest(bench)["kind"] == "enlarged plan")
    assert "Plant" in newest(bench)["name"]
    page.keyboard.press("Control+z")
    bench.saved(lambda: newest(bench)["kind"] != "enlarged plan")


def test_a_strip_of_a_section_is_laid_into_the_plan(bench: Bench, section: dict) -> None:
    page = bench.page
    plan = next(d for d in bench.drawings() if d["kind"] == "plan")
    page.get_by_role("treeitem").filter(has_text=plan["title"]).first.click()
    page.get_by_label("Lay in").select_option(label=section["title"])
    bench.saved(lambda: now(bench, plan)["style"]["strips"])
    for name, value in (("Strip 1 from", "1000"), ("Strip 1 to", "3000")):
        page.get_by_label(name, exact=True).fill(value)
        page.get_by_label(name, exact=True).press("Enter")
    bench.saved(lambda: now(bench, plan)["style"]["strips"][0]["end"] == 3)
    rests(page)
    drag(page, "Inset strip 1: move along the line", 0, -25)
    bench.saved(lambda: now(bench, plan)["style"]["strips"][0]["start"] != 1)
    (strip,) = now(bench, plan)["style"]["strips"]
    assert strip["end"] - strip["start"] == pytest.approx(2)
    page.get_by_label("Way", exact=True).select_option(label="covers a band")
    bench.saved(lambda: now(bench, plan)["style"]["strips"][0]["replaces"])
    dragged = now(bench, plan)["style"]["strips"][0]["start"]
    page.get_by_role("button", name="To where it covers least").click()
    bench.saved(lambda: now(bench, plan)["style"]["strips"][0]["start"] != dragged)
    page.get_by_label("Lay in").select_option(label=section["title"])
    bench.saved(lambda: len(now(bench, plan)["style"]["strips"]) == 2)
    for number in (2, 1):
        page.get_by_role("button", name=f"Take strip {number} out").click()
        bench.saved(lambda left=number - 1: len(now(bench, plan)["style"]["strips"]) == left)
