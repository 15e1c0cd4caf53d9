"""The whole path in a real browser: plan, cutting line, section, sheet, marker, PDF, another model, outages."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from pathlib import Path

import pypdf
import pytest
from playwright.sync_api import BrowserContext, Page, Route, expect

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.conftest import DEMO
from tests.ifc_files import write_hut
from tests.installation import Installation


def label(page: Page, text: str) -> str:
    return page.get_by_label(text).first.input_value()


def test_browser_opens_on_the_ground_floor_with_an_inviting_empty_pane(
    page: Page, installation: Installation, demo_project: int
) -> None:
    page.goto(f"/projects/{demo_project}")
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text("Lower plan")
    expect(page.get_by_text("Cut your first look inside")).to_be_visible()
    expect(page.get_by_role("button", name="Draw a cutting line")).to_be_visible()
    expect(page.get_by_role("tree", name="Drawings").get_by_text("Lookout plan")).to_be_visible()


def test_click_click_side_click_makes_a_section(bench: Bench) -> None:
    section = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    cut = section["cut"]
    assert [round(v, 1) for p in cut["line"] for v in p] == pytest.approx([2, -0.8, 2, 3.7], abs=0.11)
    assert cut["look"] == "left"
    assert cut["depth"] == pytest.approx(1.5, abs=0.1)
    expect(bench.page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Section A, looking west")
    bench.painted("Result")


def test_shift_keeps_the_line_straight_tab_turns_round_and_typing_sets_the_depth(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("c")
    bench.click(2, -0.8)
    page.keyboard.down("Shift")
    bench.move(2.3, 3.7)
    page.mouse.click(*bench.spot(2.3, 3.7))
    page.keyboard.up("Shift")
    bench.move(3, 1.5)
    page.keyboard.press("Tab")
    page.keyboard.type("2.5m")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Section A, looking west")
    cut = bench.section()["cut"]
    assert cut["line"][0][0] == cut["line"][1][0]
    assert cut["depth"] == 2.5


def test_escape_steps_back_one_level(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("c")
    bench.click(2, -0.8)
    expect(page.get_by_text("Click its other end")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("Click where the cutting line begins")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("Press C, or the cut tool")).to_be_visible()
    assert len(bench.drawings()) == 1


def test_section_follows_the_dragged_line(bench: Bench) -> None:
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    answers: list[int] = []
    moving = lambda r: r.url.endswith("/view") and r.request.method == "POST"  # noqa: E731
    bench.page.on("response", lambda r: answers.append(r.status) if moving(r) else None)
    bench.drag(bench.page.get_by_role("button", name="Move the cutting line"), 3, 1.5)
    bench.saved(lambda: bench.section()["cut"]["line"][0][0] == pytest.approx(3, abs=0.1))
    assert set(answers) == {200}  # re-cut while it moved, before anything was saved
    expect(bench.page.get_by_label("Result", exact=True).get_by_role("alert")).to_have_count(0)
    bench.drag(bench.page.get_by_role("button", name="Second end of the cutting line"), 3, 3.3)
    bench.saved(lambda: bench.section()["cut"]["line"][1][1] == pytest.approx(3.3, abs=0.1))


def test_depth_by_grip_by_number_and_unlimited(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    bench.drag(page.get_by_role("button", name="Depth", exact=True), 1.0, 1.45)
    bench.saved(lambda: bench.section()["cut"]["depth"] == pytest.approx(1.0, abs=0.1))
    field = page.get_by_role("textbox", name="Depth", exact=True)
    field.fill("1200 + 600")
    field.press("Enter")
    bench.saved(lambda: bench.section()["cut"]["depth"] == 1.8)
    field.fill("-5")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("At least")
    field.fill("deep")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("no length")
    page.get_by_label("Unlimited depth").check()
    bench.saved(lambda: bench.section()["cut"]["depth"] is None)


def test_turning_round_extents_and_scale(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page.get_by_label("Result", exact=True).get_by_role("button", name="Turn round").click()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Section A, looking east")
    grip = page.get_by_role("button", name="Extents: top")
    before = grip.bounding_box()
    grip.focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")  # 10 mm on paper at 1:50
    bench.saved(lambda: bench.section()["cut"]["extents"]["top"] is not None)
    bench.saved(lambda: bench.section()["cut"]["extents"]["top"] == pytest.approx(2.5 + 1.0 - 1.5, abs=0.02))
    assert grip.bounding_box()["y"] > before["y"] + 5
    page.get_by_label("Scale").select_option("20")
    bench.saved(lambda: bench.scale() == 20)
    own = page.get_by_label("Other, 1:")
    own.fill("0")
    expect(page.get_by_label("Particulars").get_by_role("alert")).to_contain_text("from 0.1")
    own.fill("75")
    own.press("Enter")
    bench.saved(lambda: bench.scale() == 75)


def test_cut_clear_of_the_building_says_so(bench: Bench) -> None:
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    section = bench.section()
    away = {**section["cut"], "line": [[40, 0], [40, 4]], "look": "right"}
    bench.app.call("PATCH", f"/api/drawings/{section['id']}", {"version": section["version"], "cut": away})
    expect(bench.page.get_by_text("Nothing is cut or seen here")).to_be_visible()
    expect(bench.page.get_by_text("lie clear of the building")).to_be_visible()


def test_sheet_marker_renumbering_and_pdf(bench: Bench, installation: Installation) -> None:
    page = bench.page
    section = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    marker = page.locator(f"[data-marker='{section['id']}']")
    expect(marker.locator("text").first).to_have_text("A")
    page.get_by_role("button", name="Place", exact=True).click()  # on a new sheet
    expect(page.get_by_text("Drawing 1 on sheet A-301")).to_be_visible()
    expect(marker.locator(".marker-number").first).to_have_text("1")
    expect(marker.locator(".marker-sheet").first).to_have_text("A-301")

    # the plan is dropped onto the sheet in the shelf
    sheet = page.get_by_label("Sheet shelf").get_by_role("button", name=re.compile("A-301"))
    page.get_by_role("tree", name="Drawings").get_by_title("Ground plan").drag_to(sheet)
    page.get_by_role("link", name="Sheets").click()
    expect(page.get_by_role("button", name=re.compile("Placement 2: Ground plan"))).to_be_visible()

    number = page.get_by_label("Sheet particulars").get_by_label("Number").first
    number.fill("A-305")
    number.press("Enter")
    expect(page.get_by_label("Register").get_by_text("A-305")).to_be_visible()
    page.get_by_text("Files", exact=True).click()
    with page.expect_download() as download:
        page.get_by_role("link", name="PDF", exact=True).click()
    text = pypdf.PdfReader(io.BytesIO(Path(download.value.path()).read_bytes())).pages[0].extract_text()
    assert text.count("A-305") >= 3  # title block and both heads of the marker
    page.get_by_label("For a printer").check()
    page.get_by_role("group", name="Printed").get_by_label("Paper").select_option("A4")
    with page.expect_download() as download:
        page.get_by_role("button", name="Make the file").click()
    plot = pypdf.PdfReader(io.BytesIO(Path(download.value.path()).read_bytes())).pages[0]
    assert round(float(plot.mediabox.width) * 25.4 / 72, 1) == 297.0
    assert "printed at 25 %: 1:50 is 1:200" in plot.extract_text()

    page.get_by_role("button", name=re.compile("Placement 1")).dblclick()  # worked on where it stands
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Section A, looking west")
    bench.painted("Result")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Result", exact=True)).to_have_count(0)
    page.get_by_role("button", name=re.compile("Placement 1")).click()
    page.get_by_role("link", name="Section A, looking west").click()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Section A, looking west")
    expect(page.locator(f"[data-marker='{section['id']}'] .marker-sheet").first).to_have_text("A-305")
    page.get_by_role("tree", name="Drawings").get_by_title("Ground plan").click()
    expect(page.get_by_text("Cut your first look inside")).to_be_visible()
    page.locator(f"[data-marker='{section['id']}'] polygon").first.dblclick()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Section A, looking west")
    with page.expect_download() as download:
        page.get_by_role("link", name="SVG").click()
    assert Path(download.value.path()).read_text().startswith("<svg")

    page.reload()
    bench.painted("Source")
    assert bench.section()["placement"]["sheet_number"] == "A-305"


def test_placement_is_dragged_and_undone(bench: Bench, installation: Installation) -> None:
    page = bench.page
    page.get_by_role("button", name="Place", exact=True).click()
    expect(page.get_by_text("Drawing 1 on sheet A-101")).to_be_visible()
    page.get_by_role("link", name="Sheets").click()
    placement = page.get_by_role("button", name=re.compile("Placement 1"))
    box = placement.bounding_box()
    page.mouse.move(box["x"] + 20, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 120, box["y"] + 90, steps=5)
    page.mouse.up()

    def at() -> float:
        return installation.call("GET", f"/api/projects/{bench.project}/sheets").json[0]["placements"][0]["x"]

    bench.saved(lambda: at() > 60)
    page.keyboard.press("Control+z")
    bench.saved(lambda: at() < 60)


def test_two_windows_on_one_drawing(
    bench: Bench, new_browser: Callable[[], BrowserContext], installation: Installation
) -> None:
    section = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    other = new_browser().new_page()
    other.goto(f"/projects/{bench.project}?drawing={section['id']}")
    depth = other.get_by_role("textbox", name="Depth", exact=True)
    expect(depth).to_be_visible()
    mine = bench.page.get_by_role("textbox", name="Depth", exact=True)
    mine.fill("700")
    mine.press("Enter")
    expect(depth).to_have_value("700")  # the other window follows without reloading
    # an edit that crosses a newer one is refused with the newer state, and nothing of that one is lost
    other.route("**/api/events*", lambda route: route.abort())
    path = f"/api/drawings/{section['id']}"
    newest = installation.call("GET", path).json

    def late(route: object) -> None:
        installation.call("PATCH", path, {"version": newest["version"], "cut": {**newest["cut"], "depth": 0.9}})
        route.continue_()  # type: ignore[attr-defined]

    other.route(f"**{path}", late)
    depth.fill("2000")
    depth.press("Enter")
    expect(other.get_by_text("changed in another window")).to_be_visible()
    expect(depth).to_have_value("900")
    assert installation.call("GET", path).json["cut"]["depth"] == 0.9


def test_what_changes_before_a_window_listens_is_shown(bench: Bench, installation: Installation) -> None:
    section = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page, path = bench.page, f"/api/drawings/{section['id']}"
    depth = page.get_by_role("textbox", name="Depth", exact=True)

    def late(route: Route) -> None:
        """It listens only after its first answers came, and another window edited since."""
        expect(depth).to_be_visible()
        installation.call("PATCH", path, {"version": section["version"], "cut": {**section["cut"], "depth": 0.7}})
        route.continue_()

    page.add_init_script("delete window.SharedWorker")  # what it listens by can be held up then
    page.route("**/api/events*", late)
    page.reload()
    expect(depth).to_have_value("700")


def test_another_model_is_uploaded_and_broken_ones_are_refused(page: Page, tmp_path: Path) -> None:
    page.goto("/projects")
    chooser = page.get_by_label("Model file")
    broken = tmp_path / "broken.ifc"
    broken.write_bytes(DEMO.read_bytes()[:100_000])
    chooser.set_input_files(broken)
    expect(page.get_by_role("alert")).to_contain_text("cut short")
    large = tmp_path / "large.ifc"
    large.write_bytes(b" " * 9 * 1024 * 1024)
    chooser.set_input_files(large)
    expect(page.get_by_role("alert")).to_contain_text("larger than 8 MB")
    chooser.set_input_files(write_hut(tmp_path / "nothing.ifc", bodies=False))
    note = page.get_by_role("alert").filter(has_text="no building geometry")
    expect(note).to_be_visible(timeout=60_000)
    note.get_by_role("button", name="Dismiss").click()
    expect(note).to_have_count(0)
    before = page.get_by_role("list", name="Projects").get_by_role("listitem").count()
    chooser.set_input_files(write_hut(tmp_path / "hut.ifc"))
    expect(page.get_by_role("list", name="Projects").get_by_role("listitem")).to_have_count(before + 1, timeout=60_000)
    page.get_by_role("list", name="Projects").get_by_role("listitem").last.get_by_role("link").first.click()
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text("Ground plan")


def test_change_made_while_the_database_is_away_is_saved_when_it_is_back(
    bench: Bench, installation: Installation
) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    field = page.get_by_role("textbox", name="Depth", exact=True)
    installation.cluster.stop()
    try:
        field.fill("1100")
        field.press("Enter")
        expect(page.get_by_text("The database can't be reached").first).to_be_visible()
    finally:
        installation.cluster.start()
    bench.saved(lambda: bench.section()["cut"]["depth"] == 1.1)


def test_machine_that_loses_its_network_goes_on(bench: Bench) -> None:
    bench.page.evaluate("window.dispatchEvent(new Event('offline'))")
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    bench.painted("Result")
    bench.page.get_by_role("link", name="Checks").click()
    expect(bench.page.get_by_role("main")).to_contain_text("Section A")


def test_commands_by_name(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("Control+k")
    page.get_by_placeholder("What do you want to do?").fill("cutting")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Click where the cutting line begins")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Night colours").click()
    assert page.evaluate("document.documentElement.dataset.theme") == "film-night"


@pytest.mark.parametrize(
    ("typed", "metres"),
    [("2400", 2.4), ("2.4 m", 2.4), ("240cm", 2.4), ("1200 + 3*300", 2.1), ("(1 m + 500) / 2", 0.75), ("1,5m", 1.5)],
)
def test_lengths_are_typed_with_units_and_arithmetic(bench: Bench, typed: str, metres: float) -> None:
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    field = bench.page.get_by_role("textbox", name="Depth", exact=True)
    field.fill(typed)
    field.press("Enter")
    bench.saved(lambda: bench.section()["cut"]["depth"] == pytest.approx(metres))


def test_wheel_zooms_at_the_cursor_and_a_held_space_pans(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    grip = page.get_by_role("button", name="First end of the cutting line")

    def at() -> tuple[float, float]:
        box = grip.bounding_box()
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    x, y = at()
    page.mouse.move(x, y)
    page.mouse.wheel(0, -400)
    rests(page)
    assert at() == pytest.approx((x, y), abs=1.5)  # what is under the cursor stays there
    page.mouse.move(x + 60, y - 60)
    page.mouse.wheel(0, -400)
    rests(page)
    nearer = at()
    assert abs(nearer[0] - x) > 20
    page.locator("body").click(position={"x": 640, "y": 790})
    page.mouse.move(x + 60, y - 100)
    page.keyboard.down("Space")
    page.mouse.down()
    page.mouse.move(x + 20, y - 130, steps=4)
    page.mouse.up()
    page.keyboard.up("Space")
    assert at() == pytest.approx((nearer[0] - 40, nearer[1] - 30), abs=2)
    page.get_by_label("Source", exact=True).get_by_role("button", name="Show the whole drawing").click()
    assert at() == pytest.approx((x, y), abs=6)


def test_section_is_named_deleted_and_brought_back(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    name = page.get_by_role("textbox", name="Name")
    name.fill("Through the door")
    name.press("Enter")
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text("Through the door")
    tree = page.get_by_role("tree", name="Drawings")
    tree.get_by_title("Through the door").hover()
    tree.get_by_role("button", name="Delete Through the door").click()
    expect(tree.get_by_title("Through the door")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(tree.get_by_title("Through the door").first).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(tree.get_by_title("Through the door")).to_have_count(0)


def test_a_name_of_150_letters_ends_in_every_place_where_its_room_ends(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    long = ("Section through the store, the drying room and the northern stair, " * 3)[:150]
    name = page.get_by_role("textbox", name="Name")
    name.fill(long)
    name.press("Enter")
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(long)
    expect(page.get_by_role("button", name="looking left · turn round")).to_be_visible()
    wider = """() => [...document.querySelectorAll("h2, button, [role=treeitem], nav, fieldset")]
        .filter((e) => e.clientWidth > 0 && e.scrollWidth > e.clientWidth + 1)
        .filter((e) => ![e, ...e.querySelectorAll("*")].some((x) => getComputedStyle(x).textOverflow === "ellipsis"))
        .map((e) => e.outerHTML.slice(0, 200))"""
    assert page.evaluate(wider) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280


def test_a_plan_follows_the_height_that_is_dragged_in_its_section(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    result = page.get_by_label("Result", exact=True)
    grip = result.get_by_role("button", name="Cutting height of Ground plan")

    def height() -> float:
        found: float = bench.drawings()[0]["cut"]["height"]
        return found

    assert height() == 1.2
    grip.focus()
    expect(result.get_by_text("Ground plan: 1200 mm over")).to_be_visible()
    page.keyboard.press("ArrowUp")
    bench.saved(lambda: height() == 1.25)
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 500, steps=4)  # below its floor: there it stays over it
    page.mouse.up()
    assert height() > 0
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    bench.saved(lambda: height() == 1.2)


def test_kinds_are_left_out_and_hidden_lines_shown(bench: Bench) -> None:
    page = bench.page
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    shown = page.get_by_role("group", name="What shows")
    shown.get_by_label("slab").uncheck()
    bench.saved(lambda: bench.section()["cut"]["without"] == ["planting", "slab"])
    shown.get_by_label("Hidden lines").select_option("dashed")
    bench.saved(lambda: bench.section()["cut"]["hidden"] == "dashed")
    roles = {i["role"] for i in bench.view_head(bench.section()["id"])["items"]}
    assert "cut other" in roles


def test_plan_moves_up_and_down(bench: Bench) -> None:
    field = bench.page.get_by_role("textbox", name="Height")
    field.fill("1500")
    field.press("Enter")
    bench.saved(lambda: bench.drawings()[0]["cut"]["height"] == 1.5)
    field.press("ArrowUp")
    bench.saved(lambda: bench.drawings()[0]["cut"]["height"] == 1.6)
