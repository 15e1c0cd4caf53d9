"""The ground of a project in the interface: said and pasted in the Model bench, drawn and dragged in a section."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from edge_slice.core.model.ifc.reading import read_ifc
from tests.browser.pages.bench import Bench
from tests.browser.pages.model_page import ModelBench
from tests.browser.test_workbench import add
from tests.ifc_files import write_hut
from tests.installation import Installation


def ground(app: Installation, project: int) -> dict:
    return app.call("GET", f"/api/projects/{project}/ground").json


def test_ground_is_said_pasted_and_raised_in_the_model_bench(
    page: Page, installation: Installation, hut_project: int, tmp_path: Path
) -> None:
    bench = ModelBench(page, installation, hut_project, read_ifc(write_hut(tmp_path / "same.ifc"))).open()
    part = page.get_by_role("group", name="Ground")
    part.get_by_label("Shape").select_option("level")
    expect(part.get_by_label("Height")).to_have_value("\u2212150")
    expect(page.get_by_role("button", name="Hide every ground")).to_be_visible()  # the model has it now
    part.get_by_label("Which").select_option("proposed")
    part.get_by_label("Shape").select_option("points")
    field = part.get_by_label("Points: x, y, height")
    field.fill("0 0 1\n4 0 1\n8 0 1")
    part.get_by_role("button", name="Use these points").click()
    expect(page.get_by_text("all lie on one line")).to_be_visible()
    field.fill("x;y;height\n-3;-3;0,2\n8;-3;0,2\n8;7;0,2\n-3;7;0,2\n2;2;0,2")
    part.get_by_role("button", name="Use these points").click()
    works = part.get_by_label("Cut and fill")
    expect(works).to_contain_text(re.compile(r"Cut\s*0\.0 m³, fill\s*\d+\.\d m³"))
    assert ground(installation, hut_project)["works"]["fill"] == pytest.approx(
        ground(installation, hut_project)["works"]["area"] * 0.35
    )
    part.get_by_label("Move its points here").check()
    point = page.get_by_role("button", name="Point 5 of the proposed ground")
    x, y = bench.place_of(point)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 30, steps=4)
    page.mouse.up()
    bench.until(lambda: ground(installation, hut_project)["grounds"]["proposed"]["shape"]["points"][4][2] > 0.25)
    points = ground(installation, hut_project)["grounds"]["proposed"]["shape"]["points"]
    assert points[4][:2] == [2, 2]
    assert [z for _, _, z in points[:4]] == [0.2] * 4
    page.keyboard.press("Control+z")
    bench.until(lambda: ground(installation, hut_project)["grounds"]["proposed"]["shape"]["points"][4][2] == 0.2)
    expect(point).to_have_accessible_name(re.compile("at 200 mm"))


def test_a_line_of_ground_is_drawn_in_a_section_and_its_points_dragged(bench: Bench) -> None:
    page = bench.page
    section = add(bench, [[2, -3], [2, 6]])
    page.keyboard.press("g")
    expect(page.get_by_label("Result", exact=True)).to_contain_text("Click along the ground")
    for u, v in ((0.5, -0.2), (4.0, 0.1), (8.5, 0.4)):
        page.mouse.click(*bench.spot_in("Result", section, u, v))
    page.keyboard.press("Backspace")
    page.mouse.click(*bench.spot_in("Result", section, 8.0, 0.6))
    page.keyboard.press("Enter")
    bench.saved(lambda: ground(bench.app, bench.project)["version"] > 0)
    shape = ground(bench.app, bench.project)["grounds"]["existing"]["shape"]
    assert shape["heights"] == [pytest.approx(p, abs=0.06) for p in ([0.5, -0.2], [4.0, 0.1], [8.0, 0.6])]
    grip = page.get_by_role("button", name="Point 2 of the existing ground")
    expect(grip).to_be_visible()
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 20, steps=4)
    page.mouse.up()

    def lower() -> bool:
        _, middle, _ = ground(bench.app, bench.project)["grounds"]["existing"]["shape"]["heights"]
        return bool(middle[1] < 0.05 and abs(middle[0] - 4.0) < 0.06)

    bench.saved(lower)
    page.keyboard.press("Escape")
    expect(grip).to_have_count(0)
    page.get_by_label("Hidden lines").select_option("below ground")
    bench.saved(lambda: bench.section()["cut"]["hidden"] == "below ground")
