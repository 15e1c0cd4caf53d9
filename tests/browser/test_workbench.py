"""The workbench through the real interface: panes, snaps, the cut report, markers, picking, sets, history."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.installation import Installation


@pytest.fixture
def demo_bench(page: Page, installation: Installation, demo_project: int) -> Bench:
    return Bench(page, installation, demo_project).open()


def add(bench: Bench, line: list, **more: object) -> dict:
    """A section of the project, made beside the interface, and opened in it."""
    plan = next(d for d in bench.drawings() if d["kind"] == "plan" and d["title"] in bench.title())
    body = {"parent_id": plan["id"], "cut": {"kind": "section", "line": line, "depth": 4, **more}}
    made = bench.app.call("POST", f"/api/projects/{bench.project}/drawings", body).json
    bench.page.goto(f"/projects/{bench.project}?drawing={made['id']}")
    bench.painted("Result")
    return made


def pane(page: Page, name: str) -> dict:
    box = page.get_by_label(name, exact=True).bounding_box()
    assert box is not None
    return box


def test_panes_are_stacked_swapped_folded_and_stay_so(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    assert pane(page, "Source")["x"] < pane(page, "Result")["x"]
    page.keyboard.press("s")
    expect(page.get_by_role("button", name="Panes side by side")).to_be_visible()
    assert pane(page, "Source")["y"] < pane(page, "Result")["y"]
    page.keyboard.press("x")
    assert pane(page, "Source")["y"] > pane(page, "Result")["y"]
    wide = pane(page, "Result")["width"]
    page.keyboard.press("[")
    expect(page.get_by_label("Lineage", exact=True)).to_be_hidden()
    assert pane(page, "Result")["width"] > wide + 100
    page.keyboard.press("1")
    expect(page.get_by_label("Source", exact=True)).to_be_visible()  # swapped: the source alone
    expect(page.get_by_label("Result", exact=True)).to_be_hidden()
    page.reload()
    expect(page.get_by_label("Source", exact=True)).to_be_visible()
    expect(page.get_by_label("Lineage", exact=True)).to_be_hidden()


def test_aligned_panes_share_their_axis_and_one_hairline(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    page.keyboard.press("a")
    rests(page)
    first, last = (
        page.get_by_role("button", name=name).bounding_box()
        for name in ("First end of the cutting line", "Second end of the cutting line")
    )
    left, right = (page.get_by_role("button", name=f"Extents: {s}").bounding_box() for s in ("left", "right"))
    middle = lambda box: box["x"] + box["width"] / 2  # noqa: E731
    # the line lies level over its section: its ends stand over the edges of the extents
    assert middle(first) == pytest.approx(middle(left), abs=1.5)
    assert middle(last) == pytest.approx(middle(right), abs=1.5)
    assert first["y"] == pytest.approx(last["y"], abs=1.5)
    result = pane(page, "Result")
    page.mouse.move(middle(left) + 60, result["y"] + result["height"] / 2)
    lines = page.locator("[data-hairline]")
    expect(lines).to_have_count(2)
    assert lines.nth(0).get_attribute("data-hairline") == lines.nth(1).get_attribute("data-hairline")
    expect(page.get_by_text(re.compile("^along .*height"))).to_be_visible()
    page.mouse.wheel(0, -300)
    rests(page)
    again = page.get_by_role("button", name="First end of the cutting line").bounding_box()
    left = page.get_by_role("button", name="Extents: left").bounding_box()
    assert middle(again) == pytest.approx(middle(left), abs=1.5)
    assert middle(again) != pytest.approx(middle(first), abs=3)


def test_a_line_snaps_with_a_word_and_not_with_alt(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("c")
    bench.move(0.03, 0.02)  # the hut's corner
    snapped = page.locator("[data-snap]")
    expect(snapped).to_have_attribute("data-snap", "end")
    page.keyboard.down("Alt")
    bench.move(0.04, 0.03)
    expect(snapped).to_have_count(0)
    page.keyboard.up("Alt")


def test_a_length_and_an_angle_are_typed(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("c")
    page.keyboard.down("Alt")
    bench.click(1, -0.7)
    page.keyboard.up("Alt")
    bench.move(2, 1)
    page.keyboard.type("4000<90")
    page.keyboard.press("Enter")
    page.keyboard.type("1.5m")
    page.keyboard.press("Enter")
    bench.saved(lambda: any(d["kind"] == "section" for d in bench.drawings()))
    (x0, y0), (x1, y1) = bench.section()["cut"]["line"]
    assert (x1 - x0, y1 - y0) == pytest.approx((0, 4), abs=0.002)


def test_lengths_follow_the_project_in_feet_and_inches(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    page.get_by_title("Project settings").click()
    page.get_by_label("Lengths").select_option("ft-in")
    field = page.get_by_role("textbox", name="Depth", exact=True)
    expect(field).to_have_value("13'-1 1/2\"")  # 4 m
    field.fill("7'-10 1/2\"")
    field.press("Enter")
    bench.saved(lambda: bench.section()["cut"]["depth"] == pytest.approx(94.5 * 0.0254, abs=1e-4))
    field.fill("10' - 2 * 6\"")
    field.press("Enter")
    bench.saved(lambda: bench.section()["cut"]["depth"] == pytest.approx(9 * 0.3048, abs=1e-4))
    assert '1/4" = 1\'-0"' in page.get_by_label("Scale", exact=True).inner_text()


def test_the_report_lights_both_panes_and_moves_the_line(demo_bench: Bench) -> None:
    bench, page = demo_bench, demo_bench.page
    made = add(bench, [[14.2, -2], [14.2, 12]])
    passes = page.get_by_label("Passes through")
    expect(passes.get_by_text("1.01 Wet lab")).to_be_visible()
    passes.get_by_text("1.01 Wet lab").hover()
    expect(page.locator("[data-pointed=source]")).to_have_count(1)
    expect(page.locator("[data-pointed=result]")).to_be_visible()
    missed = page.get_by_label("Just misses")
    missed.get_by_role("button", name="Move the line through the middle of Concrete flight 1").click()
    bench.saved(lambda: drawing(bench, made)["cut"]["line"][0][0] == pytest.approx(15.11, abs=0.02))
    expect(passes.get_by_text("Concrete flight 1")).to_be_visible()
    passes.get_by_label("Choose 1.03 Plant").check()
    passes.get_by_label("Choose Concrete flight 1").check()
    page.get_by_role("button", name="Lay the line through these 2").click()
    expect(page.get_by_text(re.compile("Proposed: a line with 1 step"))).to_be_visible()
    page.get_by_role("button", name="Take this line").click()
    bench.saved(lambda: len(drawing(bench, made)["cut"]["line"]) == 4)
    bench.app.call("DELETE", f"/api/drawings/{made['id']}")


def drawing(bench: Bench, made: dict) -> dict:
    return next(d for d in bench.drawings() if d["id"] == made["id"])


def test_markers_lead_from_drawing_to_drawing(bench: Bench) -> None:
    page = bench.page
    across = add(bench, [[-1, 1.5], [5, 1.5]])
    along = add(bench, [[2, -1], [2, 4]])
    crossing = page.get_by_label("Result", exact=True).locator(f"[data-marker='{across['id']}']")
    expect(crossing).to_be_visible()
    crossing.locator("polygon").first.click()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(across["title"])
    back = page.get_by_label("Result", exact=True).locator(f"[data-marker='{along['id']}'] polygon").first
    back.click(modifiers=["Alt"])
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text(along["title"])
    page.get_by_role("button", name="back to its source").click()
    expect(page.get_by_label("Source", exact=True).get_by_role("heading")).to_have_text(re.compile("plan$"))


def test_an_element_is_picked_hidden_listed_and_shown_again(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    grip = page.get_by_role("button", name="Extents: base").bounding_box()
    left = page.get_by_role("button", name="Extents: left").bounding_box()
    right = page.get_by_role("button", name="Extents: right").bounding_box()
    top = page.get_by_role("button", name="Extents: top").bounding_box()
    # a box from right to left takes all that it touches
    page.mouse.move(right["x"] - 20, grip["y"] - 20)
    page.mouse.down()
    page.mouse.move(left["x"] + 20, top["y"] + 20, steps=5)
    page.mouse.up()
    expect(page.get_by_text(re.compile(r"^\d+ elements$"))).to_be_visible()
    many = int(page.get_by_text(re.compile(r"^\d+ elements$")).inner_text().split()[0])
    page.get_by_role("button", name="Say what").click()
    page.get_by_label("Where this is said").select_option(f"in these {many} elements alone")
    page.get_by_label("What it is").select_option("timber")

    def said() -> list[str]:
        project = bench.app.call("GET", f"/api/projects/{bench.project}").json
        return [one["is_a"] for one in project["materials_here"]]

    bench.saved(lambda: said() == ["timber"] * many)
    page.get_by_role("button", name=f"As the file says in these {many} elements alone").click()
    bench.saved(lambda: said() == [])
    page.keyboard.down("Shift")  # a box with Shift adds, and what is picked already stays once
    page.mouse.move(right["x"] - 20, grip["y"] - 20)
    page.mouse.down()
    page.mouse.move(left["x"] + 20, top["y"] + 20, steps=5)
    with page.expect_response(lambda response: response.url.endswith("/pick-in")):
        page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_text(f"{many} elements", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text(re.compile(r"^\d+ elements$"))).to_be_hidden()
    # walls are cut a little inside of the edges
    report = page.get_by_role("button", name=re.compile("And .* other parts"))
    report.click()
    wall = page.get_by_label("Passes through").locator("[title^='wall:']").first
    wall.hover()
    lit = page.locator("[data-pointed=result]").bounding_box()
    page.mouse.click(lit["x"] + lit["width"] / 2, lit["y"] + lit["height"] * 0.6)
    expect(page.get_by_text("Hide every wall here")).to_be_visible()
    picked = page.locator("[data-picked]").get_attribute("data-picked")
    page.get_by_role("button", name="Hide it here").click()
    bench.saved(lambda: bench.section()["cut"]["left_out"] == [picked])
    page.get_by_label("Ghost what is hidden").check()
    page.get_by_label("A new shown set").fill("Without that wall")
    page.get_by_role("button", name="Keep", exact=True).click()
    bench.saved(lambda: bench.section()["cut"]["shown_set"].startswith("own-"))
    assert bench.section()["cut"]["left_out"] == []
    expect(page.get_by_label("Shown set")).to_have_value(bench.section()["cut"]["shown_set"])


def test_a_wall_section_is_drawn_across_a_wall(demo_bench: Bench) -> None:
    bench, page = demo_bench, demo_bench.page
    page.keyboard.press("w")
    page.keyboard.down("Alt")
    bench.click(10, 8.6)
    bench.move(10, 10.6)
    bench.click(10, 10.6)
    page.keyboard.up("Alt")
    bench.move(9.2, 9.6)
    bench.click(9.2, 9.6)
    heading = page.get_by_label("Result", exact=True).get_by_role("heading")
    expect(heading).to_have_text(re.compile("^Wall section [A-Z]+, looking west"))
    made = next(d for d in bench.drawings() if d["kind"] == "wall section")
    extents = made["cut"]["extents"]
    assert made["style"]["scale"] == 20
    assert extents["right"] - extents["left"] < 3.5
    bench.app.call("DELETE", f"/api/drawings/{made['id']}")


def test_a_clicked_room_gets_its_elevations_and_a_clicked_level_its_plan(demo_bench: Bench) -> None:
    bench, page = demo_bench, demo_bench.page
    before = {d["id"] for d in bench.drawings()}
    page.keyboard.press("r")
    bench.click(10, 7)
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_contain_text("1.02 Specimen store")
    made = [d for d in bench.drawings() if d["id"] not in before]
    assert [d["kind"] for d in made] == ["interior elevation"] * 4
    expect(page.get_by_label("Source", exact=True).locator(f"[data-marker='{made[0]['id']}']")).to_be_visible()
    bench.painted("Result")
    page.keyboard.press("p")
    expect(page.get_by_label("Result", exact=True)).to_contain_text("Click near the level")
    box = page.get_by_role("application", name=re.compile("^Result")).bounding_box()
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    bench.saved(lambda: len([d for d in bench.drawings() if d["id"] not in before]) == 5)
    for d in bench.drawings():
        if d["id"] not in before:
            bench.app.call("DELETE", f"/api/drawings/{d['id']}")


def test_measuring_says_length_angle_and_area(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("m")
    page.keyboard.down("Alt")
    bench.click(1, 1)
    bench.click(3, 1)
    bench.click(3, 2)
    page.keyboard.up("Alt")
    words = page.get_by_label("Source", exact=True).get_by_role("status")
    expect(words).to_contain_text(re.compile(r"area (0\.9\d|1\.0\d) m²"))
    expect(words).to_contain_text(re.compile(r"at (89|90)\.\d°"))
    page.keyboard.press("Escape")
    expect(words).to_have_count(0)


def test_a_starter_set_is_shown_and_made(bench: Bench) -> None:
    page = bench.page
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("button", name="Starter set").click()
    dialog = page.get_by_role("dialog", name="Starter set")
    expect(dialog.locator("canvas[data-painted=yes]")).to_have_count(7)
    expect(dialog.get_by_text("The project has it already")).to_have_count(1)
    dialog.get_by_text("West elevation").click()
    dialog.get_by_role("button", name="Make 5 drawings").click()
    expect(dialog).to_be_hidden()
    bench.saved(lambda: len(bench.drawings()) == 6)
    expect(page.get_by_role("treeitem").filter(has_text="Long section A")).to_be_visible()


def test_rows_of_the_lineage_are_gone_through_and_renamed_by_key(bench: Bench) -> None:
    page = bench.page
    add(bench, [[2, -1], [2, 4]])
    tree = page.get_by_role("tree", name="Drawings")
    tree.focus()
    page.keyboard.press("End")
    page.keyboard.press("F2")
    page.keyboard.type("Through the door")
    page.keyboard.press("Enter")
    bench.saved(lambda: bench.section()["name"] == "Through the door")
    page.get_by_label("Result", exact=True).get_by_role("button", name="Through the door").dblclick()
    page.keyboard.press("Control+a")
    page.keyboard.type("Past the door")
    page.keyboard.press("Enter")
    bench.saved(lambda: bench.section()["name"] == "Past the door")
    tree.focus()
    page.keyboard.press("Home")
    page.keyboard.press("ArrowLeft")
    expect(tree.get_by_role("treeitem")).to_have_count(1)
    page.keyboard.press("ArrowRight")
    expect(tree.get_by_role("treeitem")).to_have_count(2)


def test_history_goes_back_and_others_are_seen(bench: Bench, new_browser: Callable[[], BrowserContext]) -> None:
    page = bench.page
    made = add(bench, [[2, -1], [2, 4]])
    for name in ("One", "Two"):
        bench.app.call(
            "PATCH", f"/api/drawings/{made['id']}", {"version": drawing(bench, made)["version"], "name": name}
        )
    page.keyboard.press("h")
    steps = page.get_by_label("Steps")
    expect(steps.get_by_role("listitem")).to_have_count(3)
    steps.get_by_role("button").filter(has_text="New drawing").click()
    bench.saved(lambda: bench.section()["name"] == "")
    context = new_browser()
    context.add_init_script('localStorage.setItem(\'edge-slice person\', \'{"state":{"name":"Bo Fenn"},"version":0}\')')
    other = context.new_page()
    other.goto(f"/projects/{bench.project}?drawing={made['id']}")
    expect(page.get_by_role("button", name=re.compile("^Bo Fenn is on Section A"))).to_be_visible()


def test_every_command_is_in_the_palette_and_on_the_sheet_of_shortcuts(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("?")
    sheet = page.get_by_role("dialog", name="Shortcuts")
    for name in ("Align the panes", "Draw a wall section", "Measure distances, angles and areas", "History"):
        expect(sheet.get_by_text(name, exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.get_by_placeholder("What do you want to do?").fill("align")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Align the panes")).to_have_attribute("aria-pressed", "true")


def test_settings_are_given_to_every_section(bench: Bench) -> None:
    page = bench.page
    first = add(bench, [[1, -1], [1, 4]])
    add(bench, [[2, -1], [2, 4]])
    page.get_by_label("Cut faces").select_option("solid")
    bench.saved(lambda: bench.graphics()["fill"] == "solid")
    page.get_by_text("To other drawings").click()
    page.get_by_role("button", name="Choose every section").click()
    page.get_by_role("button", name="Give to 1 drawing").click()
    bench.saved(lambda: drawing(bench, first)["style"]["fill"] == "solid")
    assert drawing(bench, first)["cut"]["line"] == [[1, -1], [1, 4]]


def test_copies_are_made_beside_the_section(bench: Bench) -> None:
    page = bench.page
    made = add(bench, [[1, -1], [1, 4]], look="right")
    page.get_by_text("Copies of this section").click()
    page.get_by_label("Each by").fill("500")
    page.get_by_label("Each by").press("Enter")
    page.get_by_label("How many").fill("3")
    page.get_by_label("How many").press("Enter")
    page.get_by_role("button", name="Copy to the side looked at").click()
    bench.saved(lambda: len([d for d in bench.drawings() if d["kind"] == "section"]) == 4)
    assert [d["cut"]["line"][0][0] for d in bench.drawings() if d["kind"] == "section"] == [1, 1.5, 2, 2.5]
    assert made["letter"] == "A"


def test_a_set_that_hides_everything_says_so_and_offers_the_way_back(bench: Bench) -> None:
    page = bench.page
    url = f"/api/projects/{bench.project}/shown-sets"
    rule = {"only_kinds": ["lift"]}
    hiding = bench.app.call("POST", url, {"name": "Nothing", "rule": rule}).json
    add(bench, [[2, -1], [2, 4]], shown_set=hiding["key"])
    expect(page.get_by_text("may be hidden by this drawing or its shown set")).to_be_visible()
    page.get_by_role("button", name="Show what is hidden here").click()
    bench.saved(lambda: bench.section()["cut"]["shown_set"] == "")
    expect(page.get_by_text("Nothing is cut or seen here")).to_be_hidden()
