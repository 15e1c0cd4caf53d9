"""A missing layer is noticed in a section and put right; the plan and the list follow, and it is taken back."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.installation import Installation


def test_a_wall_is_put_elsewhere_marked_and_taken_out(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project)
    wall = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=Lower%20outer%20wall%201").json[0]

    def corrections() -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = bench.app.call("GET", f"/api/projects/{bench.project}/corrections").json
        return [one["correction"] for one in found]

    page.goto(f"/projects/{bench.project}/model?element={wall['guid']}")
    picked = page.get_by_role("group", name="Picked")
    picked.get_by_role("button", name="Put it elsewhere").click(timeout=60_000)
    expect(picked.get_by_role("button", name="Draw it so")).to_be_disabled()
    picked.get_by_label("Along y").fill("600")
    picked.get_by_label("Along y").press("Enter")
    picked.get_by_role("button", name="Draw it so").click()
    bench.saved(lambda: [one["by"] for one in corrections()] == [[0.0, 0.6, 0.0]])
    assert len(corrections()[0]["elements"]) > 1  # its windows go with it
    page.get_by_role("navigation", name="Benches").get_by_role("link", name="Drawings").click()
    page.get_by_label("Compare with").select_option(label="with its file: corrections marked")
    expect(page.get_by_role("list", name="Changed places").get_by_role("listitem").first).to_contain_text("moved")
    page.keyboard.press("Shift+O")
    listed = page.get_by_role("list", name="Corrections").get_by_role("listitem")
    expect(listed).to_contain_text("600 mm along y")
    revisions = page.get_by_role("complementary", name="Revisions of the model")
    page.get_by_role("button", name=re.compile("Materials of the model")).click()
    expect(revisions).to_have_count(0)  # one panel in the place of the other
    page.keyboard.press("Escape")
    expect(page.get_by_role("complementary", name="Materials")).to_have_count(0)
    page.keyboard.press("Shift+O")
    listed.get_by_role("button", name="As the file has Lower outer wall 1").click()
    bench.saved(lambda: corrections() == [])
    page.goto(f"/projects/{bench.project}/model?element={wall['guid']}")
    picked.get_by_role("button", name="Take it out of the model").click(timeout=60_000)
    picked.get_by_role("button", name="Take out").click()
    bench.saved(lambda: [one.get("left_out") for one in corrections()] == [True])
    page.keyboard.press("Control+z")
    bench.saved(lambda: corrections() == [])


def test_layers_are_drawn_while_their_thickness_is_typed(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project).open()
    section = bench.draw_section((6, -3), (6, 14), (2, 5))
    bench.painted("Result")
    page.mouse.click(*bench.spot_in("Result", section, 2.95, 1.2))  # the wall that is cut at the south
    picked = page.get_by_role("group", name="Picked in")
    picked.get_by_role("button", name="Put its layers right").click()
    with page.expect_response(lambda answer: answer.url.endswith(f"/drawings/{section['id']}/tried") and answer.ok):
        picked.get_by_label("Layer 3", exact=True).fill("300")
    expect(picked.get_by_text("603 mm together; 423 mm in the file")).to_be_visible()
    picked.get_by_label("Layer 3", exact=True).press("Escape")
    expect(picked.get_by_text("423 mm together; 423 mm in the file")).to_be_visible()
    assert bench.app.call("GET", f"/api/projects/{bench.project}/corrections").json == []


def test_a_face_is_pulled_by_its_grip_and_what_is_missing_is_drawn(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project).open()
    section = bench.draw_section((6, -3), (6, 14), (2, 5))
    bench.painted("Result")

    def corrections() -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = bench.app.call("GET", f"/api/projects/{bench.project}/corrections").json
        return [one["correction"] for one in found]

    page.mouse.click(*bench.spot_in("Result", section, 7.8, 1.2))  # the column in the middle of the bay
    picked = page.get_by_role("group", name="Picked in")
    picked.get_by_role("button", name="Push or pull its faces").click()
    grip = page.get_by_label("Result", exact=True).get_by_role("button", name="Face at the top").first
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.keyboard.down("Alt")  # it snaps to nothing
    page.mouse.move(x, y + 40, steps=5)
    expect(picked.get_by_label("Outwards by")).to_have_value(re.compile("^[-−]"))
    page.mouse.up()
    page.keyboard.up("Alt")
    bench.saved(lambda: [one["to"]["at"] < one["face"]["at"] for one in corrections()] == [True])
    expect(grip).to_be_visible()  # where the face is drawn now
    grip.click()
    with page.expect_response(lambda answer: answer.url.endswith(f"/drawings/{section['id']}/tried") and answer.ok):
        picked.get_by_label("Outwards by").fill("100")
    picked.get_by_role("button", name="As the file has it").click()
    bench.saved(lambda: corrections() == [])
    page.keyboard.press("Escape")
    page.keyboard.press("j")
    page.mouse.click(*bench.spot_in("Result", section, 14.0, 3.0))
    page.mouse.move(*bench.spot_in("Result", section, 15.0, 3.0))
    page.keyboard.type("750")
    page.keyboard.press("Enter")
    page.mouse.click(*bench.spot_in("Result", section, 14.6, 4.0))
    page.keyboard.press("Enter")
    form = page.get_by_role("group", name="Body as it shall be")
    expect(form.get_by_role("button", name="Build it")).to_be_disabled()
    form.get_by_label("Material", exact=True).fill("Steel")
    form.get_by_role("button", name="Build it").click()
    bench.saved(lambda: [len(one["outline"]) for one in corrections()] == [3])
    (a, b, _) = corrections()[0]["outline"]
    assert abs(b[0] - a[0]) == pytest.approx(0.75, abs=1e-3)
    page.keyboard.press("Control+z")
    bench.saved(lambda: corrections() == [])


def test_an_opening_is_made_smaller_and_what_was_picked_is_copied(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project)

    def corrections() -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = bench.app.call("GET", f"/api/projects/{bench.project}/corrections").json
        return [one["correction"] for one in found]

    window = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=W04%20Two-light").json[0]
    page.goto(f"/projects/{bench.project}/model?element={window['guid']}")
    picked = page.get_by_role("group", name="Picked")
    picked.get_by_role("button", name="Another size or place for its opening").click(timeout=60_000)
    form = page.get_by_role("group", name="Opening as it shall be")
    was = form.get_by_label("Width").input_value()
    form.get_by_label("Width").fill(str(int(was.replace(",", "")) - 200))
    form.get_by_label("Width").press("Enter")
    form.get_by_label("What stays where it is made wider").select_option("left")
    form.get_by_role("button", name="Draw it so").click()
    bench.saved(lambda: [(one["left"], one["right"]) for one in corrections()] == [(0.0, -0.2)])
    form.get_by_role("button", name="As the file has it").click()
    bench.saved(lambda: corrections() == [])
    washroom = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=W11%20Washroom").json[0]
    page.goto(f"/projects/{bench.project}/model?element={washroom['guid']}")
    picked.get_by_role("button", name="Copy it").click(timeout=60_000)
    form = page.get_by_role("group", name="Where it shall be once more")
    expect(form.get_by_label("in openings of their own")).to_be_checked()
    form.get_by_label("Along y").fill("1400")
    form.get_by_label("Along y").press("Enter")
    form.get_by_role("button", name="Copy").click()
    bench.saved(lambda: [(one["copies"], one["openings"]) for one in corrections()] == [([[0.0, 1.4, 0.0]], True)])
    page.keyboard.press("Control+z")
    bench.saved(lambda: corrections() == [])


def test_steps_materials_and_layers_on_faces_are_put_right(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project)

    def corrections() -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = bench.app.call("GET", f"/api/projects/{bench.project}/corrections").json
        return [one["correction"] for one in found]

    flight = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=Concrete%20flight%201").json[0]
    coping = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=Parapet%20coping%20south").json[0]
    path = f"/api/projects/{bench.project}"
    page.goto(f"/projects/{bench.project}/model?element={flight['guid']}")
    picked = page.get_by_role("group", name="Picked")
    picked.get_by_role("button", name="Put its steps right").click(timeout=60_000)
    form = page.get_by_role("group", name="Steps as they shall be")
    expect(form.get_by_role("button", name="Draw it so")).to_be_disabled()
    form.get_by_label("Risers").fill("10")
    form.get_by_label("Risers").press("Enter")
    other = {"elements": [coping["guid"]], "by": [0, 0, 0.1]}  # somebody else puts something else right meanwhile
    with page.expect_response(lambda answer: answer.url.endswith(path) and answer.request.method == "GET"):
        assert bench.app.edit(path, {"corrections": [other]}).status == 200
    rests(page)
    expect(form.get_by_label("Risers")).to_have_value("10")
    form.get_by_role("button", name="Draw it so").click()
    bench.saved(lambda: ["by" in one for one in corrections()] == [True, False])
    with page.expect_response(lambda answer: answer.url.endswith(path) and answer.request.method == "GET"):
        assert bench.app.edit(path, {"corrections": corrections()[1:]}).status == 200
    rests(page)
    bench.saved(lambda: [(one["risers"], one["going"]) for one in corrections()] == [(10, 0.27)])
    form.get_by_role("button", name="As the file has it").click()
    bench.saved(lambda: corrections() == [])
    picked.get_by_role("button", name="Another material").click()
    form = page.get_by_role("group", name="Of what it shall be")
    form.get_by_label("Material", exact=True).fill("Terrazzo")
    form.get_by_role("button", name="Draw it so").click()
    bench.saved(lambda: [one["material"] for one in corrections()] == ["Terrazzo"])
    page.keyboard.press("Control+z")
    bench.saved(lambda: corrections() == [])
    page.goto(f"/projects/{bench.project}/model?element={coping['guid']}")
    picked.get_by_role("button", name="Push or pull its faces").click(timeout=60_000)
    grip = page.get_by_role("button", name=re.compile("^Face at the top")).first
    expect(grip).to_be_visible(timeout=30_000)
    rests(page)
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 30, steps=5)
    expect(picked.get_by_label("Outwards by")).not_to_have_value("0")
    page.mouse.up()
    bench.saved(lambda: [one["element"] for one in corrections()] == [coping["guid"]])
    page.keyboard.press("Control+z")
    bench.saved(lambda: corrections() == [])
    bench.open()
    section = bench.draw_section((6, -3), (6, 14), (2, 5))
    bench.painted("Result")
    page.mouse.click(*bench.spot_in("Result", section, 7.8, 1.2))  # the column in the middle of the bay
    picked = page.get_by_role("group", name="Picked in")
    picked.get_by_role("button", name="Push or pull its faces").click()
    page.get_by_label("Result", exact=True).get_by_role("button", name="Face at the top").first.click()
    picked.get_by_role("button", name="Put a layer on it").click()
    form = page.get_by_role("group", name="Layer on the face")
    expect(form.get_by_role("button", name="Put it on")).to_be_disabled()
    form.get_by_label("Material", exact=True).fill("Cork")
    form.get_by_label("Thickness").fill("30")
    form.get_by_label("Thickness").press("Enter")
    form.get_by_role("button", name="Put it on").click()
    bench.saved(lambda: [(one["material"], one["thickness"]) for one in corrections()] == [("Cork", 0.03)])
    page.keyboard.press("Control+z")
    bench.saved(lambda: corrections() == [])


def test_a_missing_layer_is_put_in_for_all_walls_of_its_build_up(
    page: Page, installation: Installation, demo_project: int
) -> None:
    bench = Bench(page, installation, demo_project)

    def corrections() -> list[str]:
        found = bench.app.call("GET", f"/api/projects/{bench.project}/corrections").json
        return [f"{one['name']} {one['state']} {len(one['correction']['layers'])}" for one in found]

    wall = bench.app.call("GET", f"/api/projects/{bench.project}/elements?words=Lower%20outer%20wall%201").json[0]
    page.goto(f"/projects/{bench.project}/model?element={wall['guid']}")
    picked = page.get_by_role("group", name="Picked")
    picked.get_by_role("button", name="Put its layers right").click(timeout=60_000)
    layers = picked.get_by_role("list", name="Layers").get_by_role("listitem")
    expect(layers).to_have_count(5)
    expect(picked.get_by_role("button", name="Draw it so")).to_be_disabled()
    picked.get_by_role("button", name="Add a layer").click()
    picked.get_by_label("Material of layer 6").fill("Cork lining")
    picked.get_by_label("Layer 6", exact=True).fill("60")
    picked.get_by_label("Layer 6", exact=True).press("Enter")
    picked.get_by_label("What layer 6 is").select_option("rigid insulation")
    picked.get_by_role("button", name="Layer 6 up").click()
    picked.get_by_label("Because").fill("too cold")
    picked.get_by_label("Because").press("Enter")
    picked.get_by_role("button", name="Draw it so").click()
    bench.saved(lambda: corrections() == ["Lower outer wall open 6"])
    expect(picked.get_by_text("483 mm together; 423 mm in the file")).to_be_visible()
    page.keyboard.press("Shift+O")
    listed = page.get_by_role("list", name="Corrections").get_by_role("listitem")
    expect(listed).to_contain_text("Because: too cold")
    listed.get_by_role("button", name="As the file has Lower outer wall").click()
    bench.saved(lambda: corrections() == [])
    expect(listed).to_be_hidden()
