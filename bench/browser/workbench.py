"""python -m bench.browser.workbench: the drawings bench in headless Chromium, in an installation of its own: how long
from a move of the pointer that drags a cutting line to the paint of its section; and how many frames a second
100,000 strokes are panned and zoomed at."""

from __future__ import annotations

import statistics
import time

import numpy as np
from playwright.sync_api import Page, Route, sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed
from edge_slice.core.drawing.display import DisplayList, Pen, paths_of
from edge_slice.core.render.screen import to_screen

MOVES, STROKES, SECONDS = 60, 100_000, 4.0
# the moment of each paint of linework, told by the first thing that painting does; and of each move of the pointer
WATCH = """() => {
  window.paints = {}; window.moves = [];
  const clear = CanvasRenderingContext2D.prototype.clearRect;
  CanvasRenderingContext2D.prototype.clearRect = function (...box) {
    const pane = this.canvas.closest('section')?.getAttribute('aria-label');
    if (this.canvas.dataset.painted) (window.paints[pane] ??= []).push(performance.now());
    return clear.apply(this, box);
  };
  window.addEventListener('pointermove', () => window.moves.push(performance.now()), true);
}"""


def dragged(page: Page) -> list[float]:
    """From each move of the pointer to the paint of what it gives, ms."""
    grip = page.get_by_role("button", name="Move the cutting line").bounding_box()
    assert grip is not None
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    page.mouse.move(x, y)
    page.keyboard.down("Alt")  # a line that is held by a snap is not cut anew
    page.mouse.down()
    found = []
    for k in range(MOVES):
        page.evaluate("() => { window.paints.Result = []; window.moves = []; }")
        page.mouse.move(x + 4 + (k % 30), y)
        page.wait_for_function("() => window.paints.Result.length > 0 && window.moves.length > 0", polling=2)
        found.append(float(page.evaluate("() => window.paints.Result[0] - window.moves[0]")))
        time.sleep(0.05)
    page.mouse.up()
    page.keyboard.up("Alt")
    return found


def many_strokes() -> bytes:
    """A drawing of many short strokes on an A1 sheet of paper, in eight pens."""
    numbers = np.random.default_rng(1)
    starts = numbers.random((STROKES, 1, 2)) * (800, 550)
    strokes = np.concatenate((starts, starts + numbers.normal(0, 4, (STROKES, 1, 2))), axis=1)
    items = [
        paths_of(f"seen {k}", list(strokes[k::8]), Pen((0.13, 0.18, 0.25, 0.35)[k % 4], "#1a1f1e")) for k in range(8)
    ]
    return to_screen(DisplayList(tuple(items), (0.0, 0.0, 800.0, 550.0)), {"scale": 50})


def with_many_strokes(route: Route) -> None:
    route.fulfill(body=many_strokes(), content_type="application/octet-stream")


# one event of the pointer for each frame that the browser gives, for a while; answers the paints of the pane in it
DRIVE = """async ([way, x, y, seconds]) => {
  const pane = document.elementFromPoint(x, y);
  const send = (type, more) => pane.dispatchEvent(new (type === 'wheel' ? WheelEvent : PointerEvent)(type,
    { bubbles: true, cancelable: true, clientX: x, clientY: y, pointerId: 1, ...more }));
  window.paints.Result = [];
  const began = performance.now();
  if (way === 'pan') send('pointerdown', { button: 1, buttons: 4 });
  for (let k = 0; performance.now() - began < seconds * 1000; k++) {
    await new Promise(requestAnimationFrame);
    if (way === 'pan') send('pointermove', { clientX: x + 60 * Math.sin(k / 9), clientY: y + 40 * Math.cos(k / 7) });
    else send('wheel', { deltaY: k % 40 < 20 ? 30 : -30 });
  }
  if (way === 'pan') send('pointerup', { button: 1 });
  return window.paints.Result.length;
}"""


def frames(page: Page) -> tuple[float, float]:
    """Frames a second while panning, and while zooming."""
    box = page.get_by_role("application", name="Result").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2 + 40, box["y"] + box["height"] / 2 + 40
    pan, zoom = (float(page.evaluate(DRIVE, [way, x, y, SECONDS])) / SECONDS for way in ("pan", "zoom"))
    return pan, zoom


def measure(url: str) -> None:
    project = call(url, "/api/projects")[0]["id"]
    plan = call(url, f"/api/projects/{project}/drawings")[1]
    cut = {"kind": "section", "line": [[10.6, -2], [10.6, 12]], "depth": 6, "without": ["planting"]}
    made = call(url, f"/api/projects/{project}/drawings", {"parent_id": plan["id"], "cut": cut, "style": {"scale": 50}})
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        for heavy in (False, True):
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.add_init_script(f"({WATCH})()")
            if heavy:
                page.route(f"**/api/drawings/{made['id']}/view", with_many_strokes)
            page.goto(f"{url}/projects/{project}?drawing={made['id']}")
            page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
            time.sleep(2)
            if heavy:
                pan, zoom = frames(page)
                print(f"{STROKES} strokes: panned at {pan:.0f}, zoomed at {zoom:.0f} frames a second")
            else:
                times = sorted(dragged(page))
                p95 = times[int(len(times) * 0.95)]
                print(f"pointer to paint: median {statistics.median(times):.0f} ms, 95 % within {p95:.0f} ms")
        browser.close()


if __name__ == "__main__":
    with installed(1) as (url, _):
        measure(url)
