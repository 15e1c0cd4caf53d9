"""What a user does on the drawings bench, in model coordinates."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

from tests.installation import Installation


class Bench:
    """The drawings bench of a project, with a plan at the left whose camera is known from its grid's marks."""

    def __init__(self, page: Page, app: Installation, project: int) -> None:
        self.page, self.app, self.project = page, app, project

    def open(self) -> Bench:
        self.page.goto(f"/projects/{self.project}")
        self.painted("Source")
        return self

    def painted(self, pane: str) -> None:
        expect(self.page.get_by_label(pane, exact=True).locator("canvas[data-painted=yes]")).to_be_visible()

    def spot(self, x: float, y: float) -> tuple[float, float]:
        """Where a model point of the plan stands in the window."""
        return self.spot_in("Source", next(d for d in self.drawings() if d["title"] == self.title()), x, y)

    def spot_in(self, pane: str, drawing: dict, u: float, v: float) -> tuple[float, float]:
        """Where a point of a pane's drawing (metres) stands in the window while its page is fitted."""
        box = self.page.get_by_role("application", name=re.compile(f"^{pane}")).bounding_box()
        assert box is not None
        left, base, right, top = self.view_head(drawing["id"])["page"]
        zoom = min((box["width"] - 20) / (right - left), (box["height"] - 20) / (top - base))
        x, y = u * 1000 / drawing["style"]["scale"], v * 1000 / drawing["style"]["scale"]
        return (
            box["x"] + box["width"] / 2 + (x - (left + right) / 2) * zoom,
            box["y"] + box["height"] / 2 - (y - (base + top) / 2) * zoom,
        )

    def title(self) -> str:
        return self.page.get_by_label("Source", exact=True).get_by_role("heading").inner_text()

    def view_head(self, drawing: int) -> dict:
        from edge_slice.core.render.screen import screen_arrays

        return screen_arrays(self.app.call("GET", f"/api/drawings/{drawing}/view").body)[0]

    def drawings(self) -> list[dict]:
        return self.app.call("GET", f"/api/projects/{self.project}/drawings").json

    def section(self) -> dict:
        return next(d for d in reversed(self.drawings()) if d["kind"] == "section")

    def graphics(self) -> dict:
        """How the newest section is shown."""
        newest = self.section()
        return newest["style"]

    def scale(self) -> float:
        """Scale of the newest section."""
        return self.graphics()["scale"]

    def click(self, x: float, y: float) -> None:
        self.page.mouse.click(*self.spot(x, y))

    def move(self, x: float, y: float) -> None:
        self.page.mouse.move(*self.spot(x, y), steps=4)

    def draw_section(self, a: tuple[float, float], b: tuple[float, float], side: tuple[float, float]) -> dict:
        self.page.keyboard.press("c")
        self.click(*a)
        self.move(*b)
        self.click(*b)
        self.move(*side)
        self.painted("Result")
        self.click(*side)
        expect(self.page.get_by_label("Result", exact=True).get_by_role("button", name="Turn round")).to_be_visible()
        return self.section()

    def drag(self, grip: Locator, x: float, y: float) -> None:
        box = grip.bounding_box()
        assert box is not None
        self.page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(*self.spot(x, y), steps=6)
        self.page.mouse.up()

    def saved(self, condition: object) -> None:
        self.app.until(condition, 15)
