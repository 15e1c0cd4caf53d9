"""The model as a third pane beside source and result: it follows the cut and lights what is picked, both ways."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from edge_slice.core.model.ifc.reading import read_ifc
from tests.browser.pages.bench import Bench
from tests.browser.pages.model_page import cut_area
from tests.ifc_files import write_hut


def area_at(x: float, tmp_path: Path) -> float:
    """What the core cuts of the hut across its length, square metres."""
    return cut_area(read_ifc(write_hut(tmp_path / "same.ifc")), (x, 0, 0), (1, 0, 0))


def test_the_model_opens_where_the_drawing_cuts_and_lights_what_is_picked(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    section = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page.keyboard.press("3")
    pane = page.get_by_label("Model", exact=True)
    said = pane.locator("[data-area]")

    def area() -> float:
        return float(said.get_attribute("data-area") or 0)

    bench.saved(lambda: area() == pytest.approx(area_at(2, tmp_path), rel=0.01))
    canvas = pane.locator("[data-model] canvas")
    expect(canvas).to_be_visible()

    bench.painted("Result")
    page.mouse.click(*bench.spot_in("Result", section, 0.9, 1.2))  # the wall that is cut at the south
    bench.saved(lambda: said.get_attribute("data-lit"))
    picked = page.get_by_label("Result", exact=True).locator("[data-picked]")
    assert picked.get_attribute("data-picked") == said.get_attribute("data-lit")
    page.keyboard.press("Escape")
    bench.saved(lambda: not said.get_attribute("data-lit"))

    box = canvas.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)  # what stands in the middle
    bench.saved(lambda: said.get_attribute("data-lit"))
    expect(page.get_by_role("group", name="Picked in")).to_be_visible()

    cut = {**section["cut"], "line": [[x - 1.9, y] for x, y in section["cut"]["line"]]}
    newest = bench.section()
    path = f"/api/drawings/{section['id']}"
    assert bench.app.call("PATCH", path, {"version": newest["version"], "cut": cut}).status == 200
    bench.saved(lambda: area() == pytest.approx(area_at(0.1, tmp_path), rel=0.01))  # along the wall

    page.keyboard.press("Escape")
    page.keyboard.press("Shift+M")
    expect(page.get_by_role("heading", name="Particulars")).to_be_visible()
    expect(page.locator("[data-stage=whole]")).to_be_visible()
    expect(page.get_by_role("button", name="Move its plane")).to_be_visible()


def test_panes_that_change_their_size_keep_what_they_show(bench: Bench) -> None:
    bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    page = bench.page
    page.keyboard.press("3")
    expect(page.get_by_label("Model", exact=True).locator("canvas")).to_be_visible()
    grip = page.get_by_label("Source", exact=True).get_by_label("Move the cutting line").first

    def aside() -> float:
        """How far the line's grip is from where the plan has it."""
        box = grip.bounding_box()
        x, y = bench.spot(2, 1.45)
        return np.inf if box is None else abs(box["x"] + box["width"] / 2 - x) + abs(box["y"] + box["height"] / 2 - y)

    bench.saved(lambda: aside() < 4)  # the plan is all there, in the half that is left for it
