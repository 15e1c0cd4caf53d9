"""The Model bench through its real canvas: what is hovered, cut, dragged, typed and made, against the core."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import trimesh
from PIL import Image
from playwright.sync_api import BrowserContext, Page, Route, expect

from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.solid.opened import opened, taking
from tests.browser.pages.model_page import MIDDLE, ModelBench
from tests.ifc_files import write_hut
from tests.installation import Installation


@pytest.fixture
def bench(page: Page, installation: Installation, hut_project: int, tmp_path: Path) -> ModelBench:
    model = read_ifc(write_hut(tmp_path / "same.ifc"))
    return ModelBench(page, installation, hut_project, model).open()


def test_a_hovered_face_is_cut_slid_turned_and_becomes_a_drawing(bench: ModelBench) -> None:
    page = bench.page
    plane = bench.cut("x")
    assert np.abs(plane["normal"]) == pytest.approx([1, 0, 0])
    bench.closed_by(plane)

    x, y = bench.place_of(page.get_by_role("button", name="Move the plane"))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y - 15, steps=4)
    page.mouse.up()
    bench.until(lambda: bench.told("plane") != plane)
    moved = bench.told("plane")
    assert moved is not None
    assert moved["normal"] == plane["normal"]  # it slides along its normal alone
    assert moved["point"][1:] == pytest.approx(plane["point"][1:])

    field = page.get_by_label("Along its normal")
    field.fill("nonsense")
    field.press("Enter")
    expect(page.get_by_text("is no length")).to_be_visible()
    at = 2300 * plane["normal"][0]
    field.fill(f"{at:g}")
    field.press("Enter")
    bench.until(lambda: bench.told("plane")["point"][0] == pytest.approx(2.3))  # type: ignore[index]
    bench.closed_by(bench.told("plane") or {})
    page.get_by_role("button", name="Turn round").click()
    bench.until(lambda: bench.told("plane")["normal"][0] == pytest.approx(-plane["normal"][0]))  # type: ignore[index]
    expect(page.get_by_text("Gives a section.")).to_be_visible()

    page.get_by_role("heading", name="Particulars").click()  # out of the fields
    page.keyboard.press("Enter")
    bench.until(lambda: len(bench.drawings()) == 2)
    plan, section = bench.drawings()
    assert (section["kind"], section["parent_id"]) == ("section", plan["id"])
    assert {round(p[0], 3) for p in section["cut"]["line"]} == {2.3}
    looks_to = 1 if plane["normal"][0] > 0 else -1  # against the normal, which was turned round
    (_, y0), (_, y1) = section["cut"]["line"]
    assert np.sign(y0 - y1) * (1 if section["cut"]["look"] == "left" else -1) == looks_to
    expect(page.get_by_role("button", name="A Section A")).to_have_attribute("aria-pressed", "true")

    page.get_by_role("button", name="Move its plane").click()
    field.fill(f"{-at - 500 * plane['normal'][0] * -1:g}")
    field.press("Enter")
    page.get_by_role("button", name="Give it to Section A").click()
    bench.until(lambda: {round(p[0], 3) for p in bench.drawings()[1]["cut"]["line"]} != {2.3})


def test_the_model_as_it_is_seen_and_opened_becomes_a_drawing(bench: ModelBench) -> None:
    page = bench.page
    plane = bench.cut("z")
    page.get_by_role("button", name="front left").click()
    page.get_by_role("button", name="Parallel drawing of it").click()
    bench.until(lambda: "opened view" in [d["kind"] for d in bench.drawings()])
    (view,) = [d for d in bench.drawings() if d["kind"] == "opened view"]
    assert view["cut"]["normal"] == pytest.approx([-((1 / 3) ** 0.5), -((1 / 3) ** 0.5), (1 / 3) ** 0.5], abs=1e-3)
    ((opens,),) = [one["planes"] for one in view["cut"]["openings"]]
    assert opens["normal"] == pytest.approx(plane["normal"])
    page.get_by_role("button", name="Open it").click()
    number = page.get_by_label("above", exact=True)
    expect(number).to_have_value(f"{1000 * plane['point'][2]:.0f}")
    page.get_by_label("Close opening 1").click()
    expect(page.get_by_text("Nothing opens this view.")).to_be_visible()
    bench.until(lambda: [d["cut"]["openings"] for d in bench.drawings() if d["id"] == view["id"]] == [[]])


def test_several_drawings_are_made_along_one_way(bench: ModelBench) -> None:
    page = bench.page
    plane = bench.cut("x")
    page.get_by_role("button", name="Make it and go on").click()
    bench.until(lambda: len(bench.drawings()) == 2)
    assert bench.told("plane") == plane
    page.get_by_role("button", name="Turn 90°").click()
    bench.until(lambda: bench.told("plane") != plane)
    page.get_by_role("button", name="Centre").click()  # where it was hovered lies in the outer face
    expect(page.get_by_text("Gives a section.")).to_be_visible()
    page.keyboard.press("Shift+Enter")
    bench.until(lambda: len(bench.drawings()) == 3)
    (a, b), (c, d) = (np.array(row["cut"]["line"]) for row in bench.drawings()[1:])
    assert abs(float((b - a) @ (d - c))) < 1e-6  # square to each other
    assert [row["letter"] for row in bench.drawings()[1:]] == ["A", "B"]


def test_any_drawing_of_its_kind_takes_a_plane_and_sections_are_copied(bench: ModelBench) -> None:
    page = bench.page
    bench.make_section()
    bench.cut("y")
    page.get_by_role("button", name="Centre").click()  # where it was hovered lies in the outer face
    taker = page.get_by_label("Give it to another drawing")
    taker.select_option(label=bench.drawings()[1]["title"])
    bench.until(lambda: len({round(y, 3) for _, y in bench.drawings()[1]["cut"]["line"]}) == 1)  # square to Y now
    page.get_by_role("button", name="A Section A").click()
    page.get_by_text("Copies of this section").click()
    page.get_by_role("button", name="Copy turned by 90°").click()
    bench.until(lambda: len(bench.drawings()) == 3)

    page.keyboard.press("v")
    bench.until(lambda: bench.told("plane"))
    plane = bench.told("plane")
    assert plane is not None
    low, high = bench.model.bounds
    ahead = bench.eye() - (low + high) / 2  # the view looks at the middle of the building
    assert np.array(plane["normal"]) == pytest.approx(ahead / np.linalg.norm(ahead), abs=5e-3)


def test_a_level_plane_is_a_plan_and_one_clear_of_the_model_says_so(bench: ModelBench) -> None:
    page = bench.page
    plane = bench.cut("z")
    assert plane["normal"] == pytest.approx([0, 0, 1])
    expect(page.get_by_text("Gives a plan.")).to_be_visible()
    field = page.get_by_label("Along its normal")
    field.fill("-50 m")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Nothing of the building lies behind this plane")
    expect(page.get_by_role("button", name="Make it a drawing")).to_be_disabled()
    page.get_by_role("button", name="Leave it").click()
    bench.until(lambda: bench.told("plane") is None)


def test_the_opened_model_and_a_slice_are_saved_as_closed_bodies(bench: ModelBench, tmp_path: Path) -> None:
    page = bench.page
    plane = bench.cut("y")
    for name, thickness in (("Opened model, STL", None), ("Slice, STL", 0.5)):
        if thickness:
            page.get_by_label("Slice", exact=True).fill("500")
            page.get_by_label("Slice", exact=True).press("Enter")
        with page.expect_download() as download:
            page.get_by_role("button", name=name).click()
        download.value.save_as(tmp_path / "body.stl")
        saved = trimesh.load(tmp_path / "body.stl")
        shown = np.ones(len(bench.model.elements), dtype=bool)
        pieces = opened(bench.model, [[taking(plane["point"], plane["normal"])]], shown, thickness)
        assert saved.volume / 1e9 == pytest.approx(sum(p.body.volume for p in pieces), rel=1e-3)
    with page.expect_download() as download:
        page.get_by_label("Picture, wide").fill("640")
        page.get_by_label("Picture, high").fill("480")
        page.get_by_label("Picture, high").press("Enter")
        page.get_by_role("button", name="Picture, PNG").click()
    assert Path(download.value.path()).read_bytes().startswith(b"\x89PNG")


def test_a_box_of_shared_extents_opens_the_model_and_its_sides_are_moved(bench: ModelBench) -> None:
    page, app = bench.page, bench.app
    drawing = bench.make_section()["id"]
    url = f"/api/projects/{bench.project}/shared-extents"
    made = app.call("POST", url, {"name": "South part", "drawing_id": drawing})
    assert made.status == 201, made.body
    before = made.json["box"]
    page.get_by_role("list", name="Shared extents").get_by_role("button", name="South part").click()
    grip = page.get_by_role("button", name="Move the front of the box")
    bench.until(lambda: "translate" in (grip.get_attribute("style") or ""))  # it stands in the picture
    page.mouse.move(*MIDDLE)
    for _ in range(4):
        page.mouse.wheel(0, 300)  # from further off
    x, y = bench.place_of(grip)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 35, y + 25, steps=4)
    page.mouse.up()
    bench.until(lambda: abs(app.call("GET", url).json[0]["box"]["low"][1] - before["low"][1]) > 0.05)
    after = app.call("GET", url).json[0]["box"]
    others = (after["low"][0], after["low"][2], after["high"])
    assert others == (before["low"][0], before["low"][2], before["high"])  # the other sides stay
    page.keyboard.press("Escape")
    expect(grip).to_have_count(0)


def test_a_face_is_cut_in_its_plane_through_its_middle_or_before_it(bench: ModelBench) -> None:
    page = bench.page
    page.keyboard.press("f")
    face = bench.hover()
    normal = np.array(face["normal"])
    page.keyboard.press("2")
    middle = bench.hover(face)
    page.keyboard.press("3")
    before = bench.hover(middle)
    name = page.locator("[data-overlay] .font-semibold").inner_text()
    element = next(k for k, e in enumerate(bench.model.elements) if e.name == name)
    mine = np.nan_to_num(bench.model.boxes[element])
    thick = float(np.abs((mine[1] - mine[0]) @ normal))
    assert (np.array(middle["point"]) - face["point"]) @ normal == pytest.approx(-thick / 2, abs=2e-3)
    assert (np.array(before["point"]) - face["point"]) @ normal > 0.2
    page.keyboard.press("2")
    page.mouse.click(*MIDDLE)
    bench.until(lambda: bench.told("plane"))
    bench.closed_by(bench.told("plane") or {})


def test_grips_turn_a_plane_and_its_look(bench: ModelBench) -> None:
    page = bench.page
    plane = bench.cut("x")
    normal = np.array(plane["normal"])

    def turned() -> np.ndarray:
        return np.array((bench.told("plane") or {})["normal"])

    page.get_by_role("button", name="Look the other way").click()
    bench.until(lambda: turned() == pytest.approx(-normal))
    grip = page.get_by_role("button", name="Turn the plane", exact=True)
    grip.click()
    bench.until(lambda: abs(turned() @ normal) < 1e-6)  # by a quarter
    x, y = bench.place_of(grip)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y - 25, steps=4)
    expect(page.get_by_role("status").filter(has_text="turned by")).to_be_visible()
    page.mouse.up()
    angle = np.degrees(np.arctan2(*turned()[[1, 0]]))
    assert abs(turned()[2]) < 1e-9
    assert angle / 15 == pytest.approx(round(angle / 15))
    assert abs(turned() @ normal) > 1e-3


def test_a_storey_is_seen_from_above_and_walked_on(bench: ModelBench) -> None:
    page = bench.page
    page.get_by_role("list", name="Storeys").get_by_role("button", name="Ground", exact=True).click()
    expect(page.get_by_role("button", name="Ground plan")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text("looking down")).to_be_visible()
    page.mouse.click(*MIDDLE)
    expect(page.get_by_role("group", name="Picked")).to_be_visible()
    expect(page.locator("[data-level=Ground]")).to_be_visible()
    above = bench.eye()
    page.keyboard.press("s")
    floor = bench.model.storeys[0].elevation
    bench.until(lambda: abs(bench.eye()[2] - floor - 1.6) < 0.01)
    stood = bench.eye()
    page.keyboard.press("ArrowUp")
    bench.until(lambda: np.linalg.norm(bench.eye() - stood) == pytest.approx(0.5, abs=0.02))
    assert bench.eye()[2] == pytest.approx(stood[2], abs=1e-3)
    page.keyboard.press("Escape")
    bench.until(lambda: bench.eye() == pytest.approx(above, abs=0.01))


def test_a_drawing_deleted_elsewhere_leaves_the_plane_that_is_dragged(bench: ModelBench) -> None:
    page, app = bench.page, bench.app
    section = bench.make_section()
    page.get_by_role("button", name="Move its plane").click()
    bench.until(lambda: bench.told("plane"))
    x, y = bench.place_of(page.get_by_role("button", name="Move the plane"))
    page.mouse.move(x, y)
    page.mouse.down()
    assert app.call("DELETE", f"/api/drawings/{section['id']}").status in (200, 204)
    expect(page.get_by_text("deleted elsewhere")).to_be_visible()
    page.mouse.move(x + 40, y, steps=4)
    page.mouse.up()
    assert bench.told("plane") is not None
    expect(page.get_by_role("button", name="Give it to")).to_have_count(0)
    page.get_by_role("button", name="Make it a drawing").click()
    bench.until(lambda: len(bench.drawings()) == 2)


def test_the_model_shows_what_a_drawing_shows(bench: ModelBench) -> None:
    page, app = bench.page, bench.app
    section = bench.make_section()
    cut = {**section["cut"], "without": ["slab"]}
    assert (
        app.call("PATCH", f"/api/drawings/{section['id']}", {"version": section["version"], "cut": cut}).status == 200
    )

    def area() -> float:
        return float(page.locator("[data-area]").get_attribute("data-area") or 0)

    bench.until(lambda: area() > 0)
    whole = area()
    page.get_by_label("Shown set").select_option(label="as the drawing has it")
    bench.until(lambda: 0 < area() < whole)
    page.get_by_label("Ghost what is hidden").check()
    page.get_by_label("Shown set").select_option(label="none")
    bench.until(lambda: area() == pytest.approx(whole))


def test_a_model_larger_than_what_a_browser_holds_says_so(bench: ModelBench) -> None:
    page = bench.page

    def short(route: Route) -> None:
        """As if some elements had found no room."""
        answer = route.fetch()
        solid = answer.json()
        solid["parts"][0]["missing"] = 7
        route.fulfill(response=answer, json=solid)

    page.route("**/solid", short)
    page.reload()
    expect(page.get_by_text("7 of its smaller elements are not shown here")).to_be_visible()
    with page.expect_request(lambda request: "whole=true" in request.url):
        page.get_by_role("button", name="Show Ground alone").click()
    page.mouse.click(*MIDDLE)
    expect(page.get_by_role("group", name="Picked")).to_be_visible()  # the storey is there


def test_without_webgl_planes_are_still_moved_by_typed_values(
    new_browser: Callable[[], BrowserContext], installation: Installation, hut_project: int
) -> None:
    page = new_browser().new_page()
    page.add_init_script(
        "const real = HTMLCanvasElement.prototype.getContext;"
        "HTMLCanvasElement.prototype.getContext = function (kind, ...rest) {"
        "  return kind.startsWith('webgl') ? null : real.call(this, kind, ...rest); };"
    )
    url = f"/api/projects/{hut_project}"
    plan = installation.call("GET", f"{url}/drawings").json[0]
    body = {"parent_id": plan["id"], "name": "", "cut": {"kind": "section", "line": [[2, -1], [2, 4]], "look": "left"}}
    made = installation.call("POST", f"{url}/drawings", body)
    assert made.status == 201, made.body
    page.goto(f"/projects/{hut_project}/model?drawing={made.json['id']}")
    expect(page.get_by_text("it has no WebGL 2")).to_be_visible()
    page.get_by_role("button", name="Move its plane").click()
    field = page.get_by_label("Along its normal")
    value = float(field.input_value())
    field.fill(f"{value * 1.25:g}")  # to 2.5 m, whichever way it looks
    field.press("Enter")
    page.get_by_role("button", name="Give it to").click()

    def line() -> set[float]:
        rows = installation.call("GET", f"{url}/drawings").json
        return {round(x, 3) for x, _ in rows[-1]["cut"]["line"]}

    installation.until(lambda: line() == {2.5}, 20)


def test_elements_are_picked_hidden_and_storeys_isolated(bench: ModelBench) -> None:
    page = bench.page
    page.mouse.click(*MIDDLE)
    picked = page.get_by_role("group", name="Picked")
    expect(picked).to_be_visible()
    before = picked.get_by_role("paragraph").first.inner_text()
    assert before in {e.name for e in bench.model.elements}
    far = bench.eye()
    page.get_by_role("button", name="Come near to it").click()
    bench.until(lambda: np.linalg.norm(bench.eye() - far) > 0.5)
    page.keyboard.press("Tab")  # what lies behind it
    bench.until(lambda: picked.get_by_role("paragraph").first.inner_text() != before)
    page.keyboard.press("Home")
    page.mouse.click(*MIDDLE)
    expect(picked.get_by_role("paragraph").first).to_have_text(before)
    page.get_by_role("button", name="Hide it here").click()
    expect(picked).to_have_count(0)
    page.mouse.click(*MIDDLE)
    expect(picked.get_by_role("paragraph").first).not_to_have_text(before)
    expect(page.get_by_role("button", name="Show the 1 hidden elements")).to_be_visible()
    alone = page.get_by_role("button", name="Show Ground alone")
    alone.click()
    expect(alone).to_have_attribute("aria-pressed", "true")


def test_a_lost_picture_is_said_and_comes_back_as_it_was(bench: ModelBench) -> None:
    page = bench.page
    plane = bench.cut("x")
    lose = "c => (window.taken = c.getContext('webgl2').getExtension('WEBGL_lose_context')).loseContext()"
    page.locator("[data-model] canvas").evaluate(lose)
    expect(page.get_by_text("graphics of this machine were taken away")).to_be_visible()
    page.evaluate("() => window.taken.restoreContext()")
    expect(page.get_by_text("graphics of this machine were taken away")).to_have_count(0)
    assert bench.told("plane") == plane


def test_sides_that_are_turned_from_the_sun_lie_in_shadow(bench: ModelBench) -> None:
    page = bench.page
    page.mouse.move(5, 5)

    def bright() -> float:
        picture = Image.open(io.BytesIO(page.locator("[data-model] canvas").screenshot())).convert("L")
        return float(np.array(picture).mean())

    without = bright()
    page.get_by_label("Sun and shadows").check()
    bench.until(lambda: bench.told("light"))
    light = np.array(bench.told("light"))
    assert light @ light == pytest.approx(1)
    assert light[2] == pytest.approx(-np.sin(np.radians(45)))
    page.get_by_label("Bearing").fill("20")
    page.get_by_label("Bearing").press("Enter")  # from behind: the sides that are seen lie in shadow
    bench.until(lambda: np.array(bench.told("light"))[1] < 0)
    bench.until(lambda: bright() < without - 1)
    page.get_by_label("Sun and shadows").uncheck()
    bench.until(lambda: abs(bright() - without) < 0.1)


def test_viewpoints_are_kept_gone_to_and_presented(bench: ModelBench) -> None:
    page, app, project = bench.page, bench.app, bench.project
    keep = page.get_by_label("A new viewpoint")

    def kept() -> list[dict]:
        found: list[dict] = app.call("GET", f"/api/projects/{project}/viewpoints").json
        return found

    def eye() -> list[float]:
        said = page.locator("[data-overlay]").get_attribute("data-eye") or ""
        return [float(x) for x in said.split(",")]

    page.get_by_role("button", name="front left").click()
    bench.until(lambda: eye()[0] == pytest.approx(eye()[1], rel=0.2) and eye()[0] < -50)  # flat: from very far
    first = eye()
    keep.fill("All of it")
    keep.press("Enter")
    bench.until(lambda: len(kept()) == 1)
    page.get_by_role("heading", name="Particulars").click()  # out of the fields
    plane = bench.cut("z")
    page.get_by_role("button", name="above", exact=True).click()
    page.get_by_role("button", name="Hide every slab").click()
    keep.fill("Opened")
    keep.press("Enter")
    bench.until(lambda: len(kept()) == 2)
    assert kept()[1]["seen"]["opened"]["plane"]["point"] == pytest.approx(plane["point"])
    assert kept()[1]["seen"]["looks"]["without"] == ["slab"]
    says = page.get_by_label("Says")
    says.fill("Opened over the floor")
    says.press("Enter")
    bench.until(lambda: kept()[1]["seen"]["says"] == "Opened over the floor")

    page.get_by_role("button", name="All of it", exact=True).click()

    bench.until(lambda: eye() == pytest.approx(first, rel=1e-3, abs=0.01))
    assert bench.told("plane") is None
    expect(page.get_by_role("button", name="Hide every slab")).to_be_visible()
    expect(page.get_by_role("button", name="Earlier")).to_be_disabled()
    page.get_by_role("button", name="Later").click()
    bench.until(lambda: [v["name"] for v in kept()] == ["Opened", "All of it"])

    page.get_by_role("button", name="Present", exact=True).click()
    stage = page.get_by_label("Presentation")
    expect(stage.get_by_role("heading")).to_have_text("All of it")
    expect(stage.get_by_text("2 / 2")).to_be_visible()
    page.keyboard.press("ArrowLeft")
    expect(stage.get_by_text("Opened over the floor")).to_be_visible()
    bench.until(lambda: (bench.told("plane") or {}).get("point") == pytest.approx(plane["point"]))
    bench.closed_by(plane)
    expect(page.get_by_role("button", name="Move the plane")).to_have_count(0)
    page.keyboard.press("c")  # the keys of the bench rest
    page.keyboard.press("Escape")
    expect(stage).to_have_count(0)
    expect(page.get_by_role("button", name="Move the plane")).to_be_visible()
    expect(page.get_by_role("button", name="Cut at a face")).to_have_attribute("aria-pressed", "false")

    with page.expect_download() as picture:
        page.get_by_role("button", name="Picture", exact=True).click()
    assert picture.value.suggested_filename.endswith("Opened.png")
    page.get_by_label("Delete the viewpoint Opened").click()
    bench.until(lambda: [v["name"] for v in kept()] == ["All of it"])


def test_a_cut_is_looked_at_square_and_fills_the_view(bench: ModelBench) -> None:
    page = bench.page
    bench.make_section()
    section = bench.drawings()[1]
    a, b = (np.array(p) for p in section["cut"]["line"])
    page.get_by_role("button", name="Look square onto it").click()

    def eye() -> np.ndarray:
        said = page.locator("[data-overlay]").get_attribute("data-eye") or "0,0,0"
        return np.array([float(x) for x in said.split(",")])

    def square() -> bool:
        away = eye()[:2] - (a + b) / 2
        along = (b - a) / np.linalg.norm(b - a)
        off = abs(float(away @ np.array([-along[1], along[0]])))
        return abs(float(away @ along)) < 0.05 * off and off < 3.0 * float(np.linalg.norm(b - a))

    bench.until(square)
