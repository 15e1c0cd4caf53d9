"""Tables in the interface: made, given columns, typed in, placed on a sheet, and led from and to."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.pages.bench import Bench
from tests.installation import Installation


def test_a_table_is_made_typed_in_and_leads_to_a_plan_and_back(bench: Bench) -> None:
    page = bench.page
    page.get_by_role("navigation", name="Benches").get_by_role("link", name="Tables").click()
    page.get_by_label("What a new table lists").select_option(label="Walls by build-up (4)")
    page.get_by_label("Name of the new table").fill("Outer walls")
    page.get_by_role("button", name="New table").click()
    table = page.get_by_role("table", name="Outer walls")
    expect(page.get_by_role("main", name="Table").get_by_role("status")).to_have_text("4 rows")

    page.get_by_label("Add a column").select_option(label="what is typed here")
    cell = table.get_by_role("textbox", name="Remark of").first
    cell.fill("to be cleaned")
    cell.press("Enter")
    heads = table.get_by_role("columnheader")
    without = heads.count()
    page.get_by_label("Add a column").select_option(label="a formula of other columns")
    formula = page.get_by_label("Formula", exact=True)
    formula.fill("net_area *")
    formula.press("Enter")
    expect(page.get_by_text("can't be read")).to_be_visible()
    formula.fill("net_area * 2")
    formula.press("Enter")
    expect(heads).to_have_count(without + 1)
    rows = table.get_by_role("row").filter(has=page.get_by_role("textbox"))
    said = rows.first.get_by_role("cell").all_inner_texts()
    area = next(k for k, head in enumerate(heads.all_inner_texts()) if "Net area" in head)
    expect(rows.first.get_by_role("cell").nth(len(said) - 2)).to_have_text(f"{2 * float(said[area]):.2f}")

    page.reload()
    expect(table.get_by_role("textbox", name="Remark of").first).to_have_value("to be cleaned")
    rows.first.click()
    rows.first.get_by_role("button", name="Plan").click()
    picked = page.get_by_role("group", name="Picked in")
    expect(picked).to_contain_text("wall")
    picked.get_by_role("link", name="Outer walls").click()
    expect(rows.first).to_have_attribute("aria-selected", "true")
    rows.first.get_by_role("button", name="Model").click()
    expect(page.get_by_role("group", name="Picked", exact=True)).to_contain_text("wall")


def test_a_build_up_is_put_right_from_the_table_of_its_layers(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project)
    made = bench.app.call("POST", f"/api/projects/{demo_project}/tables", {"name": "Layers", "kind": "layers"}).json
    corrections = lambda: bench.app.call("GET", f"/api/projects/{demo_project}/corrections").json  # noqa: E731
    page.goto(f"/projects/{demo_project}/tables/{made['id']}")
    layer = page.get_by_role("row", name="Lower outer wall 3 Rigid")
    layer.click()
    picked = page.get_by_role("group", name="Picked")
    picked.get_by_role("button", name="Put its layers right").click()
    picked.get_by_label("Layer 3", exact=True).fill("300")
    picked.get_by_label("Layer 3", exact=True).press("Enter")
    expect(picked.get_by_label("What is corrected")).to_have_text(re.compile("^all .* of “Lower outer wall”$"))
    picked.get_by_role("button", name="Draw it so").click()
    bench.saved(lambda: [one["correction"]["build_up"] for one in corrections()] == ["Lower outer wall"])
    expect(layer).to_contain_text("300")
    picked.get_by_role("button", name="As the file has it").click()
    bench.saved(lambda: corrections() == [])
    expect(layer).not_to_contain_text("300")


def test_tables_are_placed_on_a_sheet_dragged_made_larger_and_taken_off(bench: Bench) -> None:
    page, app = bench.page, bench.app
    for name in ("Walls", "Doors"):
        app.call("POST", f"/api/projects/{bench.project}/tables", {"name": name, "kind": name.lower()})
    sheet = app.call("POST", f"/api/projects/{bench.project}/sheets", {"title": "Lists"}).json

    def places() -> list:
        sheets = app.call("GET", f"/api/projects/{bench.project}/sheets").json
        return next(s for s in sheets if s["id"] == sheet["id"])["fields"]["tables"]

    page.goto(f"/projects/{bench.project}/sheets/{sheet['id']}")
    part = page.get_by_role("group", name="Tables on this sheet")
    for k, name in enumerate(("Walls", "Doors")):
        part.get_by_label("Table to place").select_option(label=name)
        part.get_by_role("button", name="Place the table").click()
        bench.saved(lambda k=k: len(places()) == k + 1)
    walls, doors = places()
    assert doors["x"] >= walls["x"] + walls["wide"]  # in a free place

    box = page.get_by_role("button", name="Table Doors")
    before = box.bounding_box()
    assert before is not None
    scale = before["width"] / doors["wide"]
    page.mouse.move(before["x"] + 30, before["y"] + 30)
    page.mouse.down()
    page.mouse.move(before["x"] + 60, before["y"] + 90, steps=5)
    page.mouse.up()
    bench.saved(lambda: places()[1]["y"] == pytest.approx(doors["y"] - 60 / scale, abs=8 / scale))
    assert places()[0] == walls
    grip = page.get_by_role("button", name="Move the right side of the table").bounding_box()
    assert grip is not None
    wide = places()[1]["wide"]
    page.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
    page.mouse.down()
    page.mouse.move(grip["x"] + grip["width"] / 2 + 40, grip["y"], steps=5)
    page.mouse.up()
    bench.saved(lambda: places()[1]["wide"] == pytest.approx(wide + 40 / scale, abs=2 / scale))
    y = places()[1]["y"]
    box.press("ArrowUp")
    bench.saved(lambda: places()[1]["y"] == pytest.approx(y + 1))
    box.press("Delete")
    bench.saved(lambda: places() == [walls])


def test_heads_sort_and_of_many_rows_those_in_the_window_are_drawn(
    page: Page, installation: Installation, demo_project: int
) -> None:
    app, url = installation, f"/api/projects/{demo_project}"
    kinds = app.call("GET", f"{url}/table-kinds").json
    most = max((k for k in kinds if k["kind"] == "elements"), key=lambda k: k["count"])
    made = app.call("POST", f"{url}/tables", {"name": "Many", "kind": "elements", "of": most["of"]}).json
    rows = app.call("GET", f"/api/tables/{made['id']}/content").json["lines"][:-1]
    page.set_viewport_size({"width": 1280, "height": 300})
    page.goto(f"/projects/{demo_project}/tables/{made['id']}?row={rows[-1]['target']}")
    table = page.get_by_role("table", name="Many")
    drawn = table.locator("tbody tr")
    expect(table.locator("tr[aria-selected=true]")).to_be_in_viewport()  # though it is the last of them
    assert 0 < drawn.count() < len(rows) - 10
    assert table.get_attribute("aria-rowcount") == str(len(rows) + 2)

    at = [c["key"] for c in made["spec"]["columns"]].index("length")
    head = table.get_by_role("columnheader", name="Length")
    lengths = [float(row["cells"][at]) for row in rows]
    for way, end in (("ascending", min(lengths)), ("descending", max(lengths))):
        head.get_by_role("button").click()
        expect(head).to_have_attribute("aria-sort", way)
        table.locator("..").evaluate("grid => grid.scrollTo(0, 0)")
        expect(drawn.first.get_by_role("cell").nth(at)).to_have_text(f"{end:g}")
