"""The Model bench as a test handles it."""

from __future__ import annotations

import json
from collections.abc import Sequence

import numpy as np
from playwright.sync_api import Locator, Page, expect

from edge_slice.core.cut import PlaneCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from tests.installation import Installation

MIDDLE = (632, 440)  # of the canvas, in pixels of the window; the building is there


def cut_area(model: Model, point: Sequence[float], normal: Sequence[float]) -> float:
    """What the core cuts of a model in a plane, square metres."""
    cut = PlaneCut.model_validate({"point": point, "normal": normal, "depth": 0.02})
    result = cut_model(model, cut, default_standard().cut_rules(model))
    return float(sum(f.polygon.area for f in result.faces)) / 1e6


class ModelBench:
    """The bench of one project, with the model that it shows."""

    def __init__(self, page: Page, app: Installation, project: int, model: Model) -> None:
        self.page, self.app, self.project, self.model = page, app, project, model
        self.canvas = page.locator("[data-model]")

    def open(self) -> ModelBench:
        self.page.goto(f"/projects/{self.project}/model")
        expect(self.page.locator("[data-stage=whole]")).to_be_visible()
        self.until(lambda: int(self.page.locator("[data-overlay]").get_attribute("data-frame") or 0) > 0)
        self.until(self._hits)  # the view has come to where it begins
        self.page.keyboard.press("Escape")
        return self

    def _hits(self) -> dict | None:
        """Point at the building, a pixel to and fro, as a hand does."""
        if not self.told("hover"):
            self.page.keyboard.press("f")
        for aside in (1, 0):
            self.page.mouse.move(MIDDLE[0] + aside, MIDDLE[1])
        return self.told("hover")

    def told(self, name: str) -> dict | None:
        said = self.canvas.get_attribute(f"data-{name}")
        return json.loads(said) if said else None

    def until(self, condition: object) -> None:
        self.app.until(condition, 20)

    def cut(self, key: str) -> dict:
        """Cut where the building is, square to an axis or as the face lies."""
        self.page.keyboard.press(key)
        self.page.mouse.move(MIDDLE[0] + 1, MIDDLE[1])
        self.page.mouse.move(*MIDDLE)
        self.until(lambda: self.told("hover"))
        self.page.mouse.click(*MIDDLE)
        self.until(lambda: self.told("plane"))
        plane = self.told("plane")
        assert plane is not None
        return plane

    def closed_by(self, plane: dict) -> None:
        """The cut faces are as large as the core's."""
        area = cut_area(self.model, plane["point"], plane["normal"])

        def same() -> bool:
            said = self.page.locator("[data-area]").get_attribute("data-area")
            return said is not None and abs(float(said) - area) < 0.01 * area + 1e-3

        self.until(same)

    def hover(self, before: dict | None = None) -> dict:
        """The plane that is hovered at the middle of the building, another one than before."""
        for aside in (1, 0):
            self.page.mouse.move(MIDDLE[0] + aside, MIDDLE[1])
        self.until(lambda: self.told("hover") not in (None, before))
        found = self.told("hover")
        assert found is not None
        return found

    def place_of(self, grip: Locator) -> tuple[float, float]:
        """Where a grip stands when the picture has come to rest."""
        seen: list[dict | None] = [None]

        def rests() -> bool:
            seen.append(dict(grip.bounding_box() or {}))
            self.page.wait_for_timeout(100)
            return seen[-1] == seen[-2]

        self.until(rests)
        box = seen[-1] or {}
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def eye(self) -> np.ndarray:
        """Where the picture is seen from."""
        said = self.page.locator("[data-overlay]").get_attribute("data-eye") or ""
        return np.array([float(x) for x in said.split(",")])

    def drawings(self) -> list[dict]:
        return self.app.call("GET", f"/api/projects/{self.project}/drawings").json

    def make_section(self) -> dict:
        """A drawing of a plane across the building."""
        self.cut("x")
        self.page.get_by_role("button", name="Make it a drawing").click()
        self.until(lambda: len(self.drawings()) == 2)
        return self.drawings()[1]
