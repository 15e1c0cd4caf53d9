"""A short walk in Debian's Firefox, where it is installed: open, cut, annotate, sheet, model."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from edge_slice.core.render.screen import screen_arrays
from tests.browser.pages.other_browser import PROGRAM, OtherBrowser
from tests.installation import Installation

ENTER, SHIFT = "\ue007", "\ue008"

pytestmark = pytest.mark.skipif(shutil.which(PROGRAM) is None, reason=f"{PROGRAM} is not installed")


@pytest.fixture
def other(tmp_path: Path) -> Iterator[OtherBrowser]:
    (tmp_path / "profile").mkdir()
    opened = OtherBrowser(tmp_path / "profile")
    yield opened
    opened.close()


class Walk:
    def __init__(self, browser: OtherBrowser, app: Installation, project: int) -> None:
        self.browser, self.project, self.app = browser, project, app

    def drawings(self) -> list[dict]:
        return self.app.call("GET", f"/api/projects/{self.project}/drawings").json

    def spot(self, pane: str, drawing: dict, u: float, v: float) -> tuple[float, float]:
        """Where a point of a pane's drawing (metres) stands in the window while its page is fitted."""
        view = screen_arrays(self.app.call("GET", f"/api/drawings/{drawing['id']}/view").body)[0]
        x0, y0, wide, high = self.browser.box(f'[role="application"][aria-label^="{pane}"]')
        left, base, right, top = view["page"]
        zoom = min((wide - 20) / (right - left), (high - 20) / (top - base))
        x, y = u * 1000 / drawing["style"]["scale"], v * 1000 / drawing["style"]["scale"]
        return x0 + wide / 2 + (x - (left + right) / 2) * zoom, y0 + high / 2 - (y - (base + top) / 2) * zoom

    def painted(self, pane: str) -> None:
        self.browser.until(f"!!document.querySelector('[aria-label=\"{pane}\"] canvas[data-painted=yes]')")


def test_the_whole_way_in_another_browser(other: OtherBrowser, installation: Installation, hut_project: int) -> None:
    app, walk = installation, Walk(other, installation, hut_project)
    other.open(f"{app.url}/projects/{hut_project}")
    walk.painted("Source")
    (plan,) = walk.drawings()
    other.press("c")
    other.click(*walk.spot("Source", plan, 2.0, -1.0))
    other.move(*walk.spot("Source", plan, 2.0, 4.0))
    other.click(*walk.spot("Source", plan, 2.0, 4.0))
    other.move(*walk.spot("Source", plan, 3.5, 1.5))
    walk.painted("Result")
    other.click(*walk.spot("Source", plan, 3.5, 1.5))
    other.wait(lambda: len(walk.drawings()) == 2, "the section is saved")
    section = next(d for d in walk.drawings() if d["kind"] == "section")
    walk.painted("Result")
    other.until(
        "document.body.innerText.includes('Turn round') || !!document.querySelector('[aria-label=\"Turn round\"]')"
    )

    other.press(SHIFT, "N")
    other.until("document.body.innerText.includes('Click what the note is about.')")
    other.click(*walk.spot("Result", section, 1.0, 2.0))
    other.click(*walk.spot("Result", section, 1.6, 2.4))
    other.until("document.activeElement?.getAttribute('aria-label') === 'Words of the note'")
    other.type("Flashing")
    other.press(ENTER)
    notes = f"/api/drawings/{section['id']}/annotations"
    other.wait(lambda: app.call("GET", notes).json, "the note is saved")
    assert app.call("GET", notes).json[0]["document"]["text"] == "Flashing"

    sheet = app.call("POST", f"/api/projects/{hut_project}/sheets", {"number": "A-900", "title": "Walk"}).json
    app.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": section["id"]})
    other.open(f"{app.url}/projects/{hut_project}/sheets/{sheet['id']}")
    other.until("!!document.querySelector('canvas[data-painted=yes]')")
    other.open(f"{app.url}/projects/{hut_project}/model")
    # where there is no WebGL, as on machines without graphics, it is said in words
    other.until("!!document.querySelector('canvas') || document.body.innerText.includes('WebGL')")
    assert other.errors == []
