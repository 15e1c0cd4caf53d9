"""Every kind of cut, drawing standards and models without units, as a user sets them in the browser."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import Page, expect

from edge_slice.core.drawing import shipped_standard
from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.installation import Installation


@pytest.fixture
def section(bench: Bench) -> Bench:
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    return bench


def field(bench: Bench, label: str) -> object:
    return bench.page.get_by_label("Particulars").get_by_label(label, exact=True)


def test_step_is_added_moved_and_removed(section: Bench) -> None:
    page = section.page
    page.get_by_role("button", name="Add a step").click()
    section.saved(lambda: len(section.section()["cut"]["line"]) == 4)
    line = section.section()["cut"]["line"]
    assert line[1][1] == line[2][1]  # the step lies across the line
    assert line[3][0] == pytest.approx(line[0][0] - 1)  # one metre to the side looked at
    grip = page.get_by_label("Corner 2 of the cutting line")
    section.drag(grip, line[2][0] - 0.3, line[2][1])
    section.saved(lambda: section.section()["cut"]["line"][3][0] == pytest.approx(line[0][0] - 1.3, abs=0.06))
    page.get_by_role("button", name="Remove a step").click()
    section.saved(lambda: len(section.section()["cut"]["line"]) == 2)


def test_each_leg_has_a_depth_of_its_own(section: Bench) -> None:
    page = section.page
    page.get_by_role("button", name="Add a step").click()
    page.get_by_label("A depth for each leg").check()
    second = field(section, "Depth 2")
    second.fill("700")
    second.press("Enter")
    section.saved(lambda: section.section()["cut"]["depths"][1:] == [0.7])
    page.get_by_label("Corners").select_option("turns")
    section.saved(lambda: section.section()["cut"]["corners"] == "turns")


def test_perspective_is_set_by_angle_or_distance(section: Bench) -> None:
    page = section.page
    page.get_by_label("Perspective", exact=True).check()
    section.saved(lambda: (section.drawings()[-1]["cut"]["perspective"] or {}).get("field_of_view") == 60)
    page.get_by_label("Eye by").select_option("distance")
    field(section, "Distance").fill("3 m")
    field(section, "Distance").press("Enter")
    section.saved(lambda: section.drawings()[-1]["cut"]["perspective"]["distance"] == 3.0)
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(
        "Perspective section A, looking west"
    )


def test_polygon_glass_fill_content_and_exceptions(section: Bench) -> None:
    page = section.page
    polygon = field(section, "Polygon")
    polygon.fill("0,0 4")
    polygon.press("Enter")
    expect(page.get_by_text("Three corners or more")).to_be_visible()
    polygon.fill("0,-1 4,-1 4,3")
    polygon.press("Enter")
    section.saved(lambda: len(section.section()["cut"]["extents"]["polygon"]) == 3)
    page.get_by_label("Through glass").check()
    section.saved(lambda: section.section()["cut"]["glass"] == "clear")
    page.get_by_label("Cut faces").select_option("solid")
    page.get_by_label("Content").select_option("outline")
    page.get_by_label("Standard", exact=True).select_option("bold")
    section.saved(lambda: section.graphics()["standard"] == "bold")
    page.get_by_label("Make an exception").select_option("material|brick")
    page.get_by_label("Hatch of brick here").select_option("solid")
    section.saved(lambda: section.graphics()["materials"].get("brick", {}).get("hatch") == "solid")
    page.get_by_label("Neighbours of brick here").select_option("are one piece")
    section.saved(lambda: section.graphics()["materials"]["brick"]["merge"] is True)
    style = section.graphics()
    assert (style["fill"], style["content"]) == ("solid", "outline")


def test_list_that_was_read_before_a_change_and_arrives_after_it_loses_nothing(section: Bench) -> None:
    """The window then still knows the newest version, and the next change is saved upon it."""
    page, number = section.page, section.section()["id"]
    held = []
    page.route(
        "**/api/projects/*/drawings",
        lambda route: held.append((route, route.fetch())) if route.request.method == "GET" else route.continue_(),
    )
    page.get_by_role("button", name="New sheet").click()  # the drawings, which show sheets' numbers, are read again
    for _ in range(100):
        if held:
            break
        page.wait_for_timeout(100)
    with page.expect_response(f"**/api/drawings/{number}"):
        page.get_by_label("Through glass").check()
    route, answer = held[0]
    with page.expect_response("**/api/projects/*/drawings"):
        route.fulfill(response=answer)
    page.get_by_label("Hidden lines").select_option("dashed")
    section.saved(lambda: section.section()["cut"]["hidden"] == "dashed")
    assert section.section()["cut"]["glass"] == "clear"


def test_elevations_and_a_rooms_walls_in_one_act(page: Page, installation: Installation, demo_project: int) -> None:
    bench = Bench(page, installation, demo_project).open()
    lineage = page.get_by_role("tree", name="Drawings")
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("button", name="Elevations of the four sides").click()
    expect(lineage.get_by_text(re.compile("^South elevation E"))).to_be_visible()
    expect(page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(
        re.compile("^North elevation E")
    )
    bench.painted("Result")
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_label("Room", exact=True).select_option(label="1.01 Wet lab")
    page.get_by_role("button", name="Its walls").click()
    expect(lineage.get_by_text("1.01 Wet lab, north wall")).to_be_visible()
    for _ in range(2):
        page.keyboard.press("Control+z")
        rests(page)
    expect(lineage.get_by_text(re.compile("^South elevation E"))).to_have_count(0)


def test_plans_of_every_storey_at_their_own_heights(bench: Bench) -> None:
    page = bench.page
    before = {d["id"] for d in bench.drawings()}
    storeys = bench.app.call("GET", f"/api/projects/{bench.project}").json["facts"]["storeys"]
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_text("Cut heights").click()
    lowest = page.get_by_role("group", name="New drawings").get_by_label(storeys[0]["name"], exact=True)
    lowest.fill("1500 + 2*150")
    lowest.press("Enter")
    page.get_by_role("button", name="A plan of every storey").click()
    expect(page.get_by_role("group", name="New drawings")).to_have_count(0)
    made = [d["cut"] for d in bench.drawings() if d["id"] not in before]
    assert {c["storey"]: c["height"] for c in made}[storeys[0]["guid"]] == 1.8


def test_free_plane_is_tilted_by_numbers_and_a_plan_looks_up(bench: Bench) -> None:
    page = bench.page
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("button", name="A section on a free plane").click()
    bench.painted("Result")
    page.get_by_label("Normal, to the viewer z").fill("1")
    page.get_by_label("Normal, to the viewer z").press("Enter")
    bench.saved(lambda: bench.drawings()[-1]["cut"].get("normal") == [0, -1, 1])
    page.get_by_role("tree", name="Drawings").get_by_role("button", name=re.compile("^Ground plan")).click()
    page.get_by_label("Looks").select_option("up")
    bench.saved(lambda: bench.drawings()[0]["title"] == "Ground ceiling plan")


# drawing standards


def test_hatch_is_edited_with_a_live_preview_and_used(bench: Bench, tmp_path: Path) -> None:
    page, app = bench.page, bench.app
    page.get_by_role("link", name="Hatches, materials and pens").click()
    page.get_by_role("button", name="Copy to edit").click()
    expect(page.get_by_label("Name of the standard")).to_have_value("Fine line, own")
    page.get_by_role("list", name="Hatches").get_by_role("button", name="brick", exact=True).click()
    with page.expect_response("**/api/hatch-view") as previewed:
        spacing = page.get_by_role("group", name="Lines 1").get_by_label("Spacing")
        spacing.fill("2.6")
        spacing.press("Enter")
    assert previewed.value.ok

    def own() -> dict:
        return app.call("GET", f"/api/projects/{bench.project}/standards").json[-1]

    bench.saved(lambda: own()["document"]["hatches"]["brick"]["families"][0]["spacing"] == 2.6)
    page.get_by_role("tab", name="Materials").click()
    page.get_by_label("Hatch of brick", exact=True).select_option("block")
    bench.saved(lambda: own()["document"]["materials"]["brick"]["hatch"] == "block")
    page.get_by_role("tab", name="Pens").click()
    page.get_by_label(re.compile("^cut structure, to 1:50")).fill("1.4")
    page.get_by_label(re.compile("^cut structure, to 1:50")).press("Enter")
    bench.saved(lambda: own()["document"]["pens"]["cut structure"]["width"]["middle"] == 1.4)
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()


def test_repeated_picture_of_a_hatch_is_drawn_by_hand(bench: Bench) -> None:
    page = bench.page
    page.goto(f"/projects/{bench.project}/standards/fine-line")
    page.get_by_role("list", name="Hatches").get_by_role("button", name="green roof").click()
    expect(page.get_by_label("Picture that is repeated")).to_be_visible()
    expect(page.get_by_role("button", name="Stroke 1, point 1")).to_have_count(0)  # as shipped: to look at only
    page.get_by_role("button", name="Copy to edit").click()  # the same hatch stays chosen
    page.get_by_role("button", name="Stroke 1, point 1").wait_for()

    def strokes() -> list:
        own = bench.app.call("GET", f"/api/projects/{bench.project}/standards").json[-1]
        return own["document"]["hatches"]["green roof"]["tiles"][0]["strokes"]

    picture = page.get_by_label("Picture that is repeated")
    box = picture.bounding_box()
    millimetre = box["width"] / (1.8 + 2 * 0.3 * 1.8)

    def at(x: float, y: float) -> tuple[float, float]:
        return box["x"] + (0.54 + x) * millimetre, box["y"] + box["height"] - (0.54 + y) * millimetre

    page.mouse.move(*at(0.5, 0.8))
    page.mouse.down()
    page.mouse.move(*at(0.7, 1.0))
    page.mouse.move(*at(0.9, 1.2))
    page.mouse.up()
    bench.saved(lambda: strokes()[0] == [[0.5, 0], [0.9, 1.2]])
    page.get_by_role("button", name="Draw a stroke").click()
    page.mouse.click(*at(1.2, 0.2))
    page.mouse.click(*at(1.6, 0.2))
    page.mouse.click(*at(1.6, 1.0))
    with page.expect_response("**/api/hatch-view") as previewed:
        page.get_by_role("button", name="End this stroke").click()
    assert previewed.value.ok
    bench.saved(lambda: strokes()[3:] == [[[1.2, 0.2], [1.6, 0.2], [1.6, 1.0]]])
    page.get_by_role("button", name="Stroke 4, point 3").focus()
    page.keyboard.press("ArrowUp")
    bench.saved(lambda: strokes()[3][2] == [1.6, 1.02])
    page.keyboard.press("Delete")
    bench.saved(lambda: strokes()[3] == [[1.2, 0.2], [1.6, 0.2]])


def test_standards_are_given_away_and_taken_over(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    page.goto(f"/projects/{bench.project}/standards/bold")
    with page.expect_download() as taken:
        page.get_by_role("link", name="Export as JSON").click()
    document = json.loads(Path(taken.value.path()).read_text("utf-8"))
    assert document["pens"] == json.loads(shipped_standard("bold").model_dump_json())["pens"]
    theirs = tmp_path / "theirs.json"
    theirs.write_text(json.dumps({**document, "name": "From another office"}), "utf-8")
    page.get_by_label("Standard as JSON").set_input_files(theirs)
    expect(page.get_by_label("Name of the standard")).to_have_value("From another office")
    theirs.write_text(json.dumps({**document, "hatches": {}}), "utf-8")
    page.get_by_label("Standard as JSON").set_input_files(theirs)
    expect(page.get_by_text(re.compile("asks for hatch"))).to_be_visible()
    theirs.write_text("{", "utf-8")
    page.get_by_label("Standard as JSON").set_input_files(theirs)
    expect(page.get_by_text(re.compile("is not JSON"))).to_be_visible()


def test_model_that_does_not_say_its_unit_is_asked_for_it(
    page: Page, installation: Installation, tmp_path: Path
) -> None:
    path = tmp_path / "wall.stl"
    trimesh.creation.box(extents=(4000, 200, 2500)).export(str(path))
    page.goto("/projects")
    page.get_by_label("Model file").set_input_files(path)
    expect(page.get_by_text("does not say its unit")).to_be_visible()
    page.get_by_label("Unit of the file").select_option("mm")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("link", name=re.compile("wall.*STL"))).to_be_visible(timeout=60_000)


def test_seen_surfaces_come_with_one_click_and_depart_item_by_item(section: Bench) -> None:
    page = section.page
    part = page.get_by_role("group", name="Seen surfaces")
    part.get_by_role("button", name="presentation").click()
    section.saved(lambda: section.graphics()["appearance"] == "presentation")
    section.saved(lambda: "profile" in {i["role"] for i in section.view_head(section.section()["id"])["items"]})
    part.get_by_text("In this drawing", exact=True).click()
    part.get_by_label("Shadows").select_option("hatch")
    part.get_by_label("Sun").select_option("bearing")
    height = part.get_by_label("Height")
    height.fill("30")
    height.press("Enter")
    section.saved(lambda: (section.graphics()["surfaces"]["sun"] or {}).get("height") == 30)
    expect(part).to_contain_text("Here otherwise: shadows, sun.")
    part.get_by_role("button", name="As the standard has it").click()
    section.saved(lambda: all(v is None for v in section.graphics()["surfaces"].values()))
    expect(part.get_by_label("Shadows")).to_have_value("tint")
