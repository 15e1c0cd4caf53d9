"""python -m bench.sheets: the sheets bench in headless Chromium, with eight drawings on an A1 sheet: how many frames a
second a placement is dragged at, and how long a sheet takes to open that was seen before."""

from __future__ import annotations

import statistics
import time

from playwright.sync_api import Page, sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed

DRAWINGS, SECONDS, OPENINGS = 8, 4.0, 6
# one event of the pointer for each frame that the browser gives; answers the frames in which the placement had moved
DRIVE = """async ([x, y, seconds]) => {
  const box = document.elementFromPoint(x, y);
  const send = (type, dx, dy) => box.dispatchEvent(new PointerEvent(type, {
    bubbles: true, cancelable: true, clientX: x + dx, clientY: y + dy, pointerId: 1, button: 0, buttons: 1 }));
  box.setPointerCapture = () => {};
  send('pointerdown', 0, 0);
  let frames = 0, before = '';
  const began = performance.now();
  for (let k = 0; performance.now() - began < seconds * 1000; k++) {
    send('pointermove', 60 * Math.sin(k / 9), 40 * Math.cos(k / 7));
    await new Promise(requestAnimationFrame);
    const now = document.querySelector('[data-lifted]')?.style.transform ?? '';
    if (now !== before) frames++;
    before = now;
  }
  send('pointermove', 0, 0);
  send('pointerup', 0, 0);
  return frames;
}"""


def filled(url: str, project: int) -> list[int]:
    """A sheet of eight drawings, and an empty one."""
    plan = call(url, f"/api/projects/{project}/drawings")[1]
    made = []
    for k in range(DRAWINGS):
        cut = {"kind": "section", "line": [[2.0 + 2 * k, -2], [2.0 + 2 * k, 12]], "depth": 6, "without": ["planting"]}
        body = {"parent_id": plan["id"], "cut": cut, "style": {"scale": 100}}
        made.append(call(url, f"/api/projects/{project}/drawings", body)["id"])
    ids = []
    for title in ("Eight", "Other"):
        body = {"title": title, "size": "A1", "design": "side-strip"}
        ids.append(call(url, f"/api/projects/{project}/sheets", body)["id"])
    left = call(url, f"/api/sheets/{ids[0]}/arrange", {"drawings": made})["left_over"]
    assert left == [], left
    return ids


def dragged(page: Page) -> float:
    box = page.get_by_role("button", name="Placement 4").bounding_box()
    assert box is not None
    at = [box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, SECONDS]
    return float(page.evaluate(DRIVE, at)) / SECONDS


def opened(page: Page, title: str, placed: int) -> float:
    """Milliseconds from the click in the register to the sheet with its drawings."""
    began = time.perf_counter()
    page.get_by_label("Register").get_by_role("button", name=title).first.click()
    page.wait_for_function(
        """n => document.querySelectorAll('[aria-label^="Placement "]').length === n
          && document.querySelector('canvas[data-painted=yes]')""",
        arg=placed,
        polling=5,
    )
    return (time.perf_counter() - began) * 1000


def main() -> None:
    with installed(1) as (url, _), sync_playwright() as play:
        project = call(url, "/api/projects")[0]["id"]
        first, _other = filled(url, project)
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(f"{url}/projects/{project}/sheets/{first}")
        page.locator("canvas[data-painted=yes]").first.wait_for()
        time.sleep(3)
        print(f"dragged among {DRAWINGS} drawings: {dragged(page):.0f} frames a second")
        time.sleep(1)
        times = []
        for _ in range(OPENINGS):
            opened(page, "Other", 0)
            time.sleep(0.5)
            times.append(opened(page, "Eight", DRAWINGS))
        print(f"opened warm: median {statistics.median(times):.0f} ms, worst {max(times):.0f} ms")
        browser.close()


if __name__ == "__main__":
    main()
