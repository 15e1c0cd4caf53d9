"""python -m bench.presented: an A1 sheet of the demo's four elevations, presented at 1:50 with patterns and shadows:
the size of its PDF, and how many frames a second it is zoomed at in headless Chromium."""

from __future__ import annotations

import time
import urllib.request

from playwright.sync_api import sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed

SECONDS = 4.0
PLACES = ((40, 330), (430, 330), (40, 60), (430, 60))
# the wheel turned a little for each frame that the browser gives
DRIVE = """async (seconds) => {
  const canvas = [...document.querySelectorAll('canvas')].sort((a, b) => b.width * b.height - a.width * a.height)[0];
  const box = canvas.getBoundingClientRect();
  let frames = 0;
  const before = canvas.toDataURL();
  let seen = before;
  const began = performance.now();
  for (let k = 0; performance.now() - began < seconds * 1000; k++) {
    canvas.dispatchEvent(new WheelEvent('wheel', { bubbles: true, cancelable: true, deltaY: k % 40 < 20 ? -30 : 30,
      clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 }));
    await new Promise(requestAnimationFrame);
    frames++;
    if (k === 10) seen = canvas.toDataURL();
  }
  if (seen === before) throw new Error('nothing moved');
  return frames / seconds;
}"""


def presented(url: str, project: int) -> int:
    """The sheet."""
    sheet = call(url, f"/api/projects/{project}/sheets", {"title": "Elevations", "size": "A1"})["id"]
    wanted = {"kind": "elevations", "heights": {}, "scale": 50}
    elevations = call(url, f"/api/projects/{project}/drawing-sets", wanted)
    for drawing, (x, y) in zip(elevations, PLACES, strict=True):
        style = {**drawing["style"], "scale": 50, "appearance": "presentation"}
        call(url, f"/api/drawings/{drawing['id']}", {"version": drawing["version"], "style": style}, "PATCH")
        call(url, f"/api/sheets/{sheet}/placements", {"drawing_id": drawing["id"], "x": x, "y": y})
    return int(sheet)


def main() -> None:
    with installed(1) as (url, _), sync_playwright() as play:
        project = call(url, "/api/projects")[0]["id"]
        sheet = presented(url, project)
        with urllib.request.urlopen(f"{url}/api/sheets/{sheet}/export.pdf") as answer:
            print(f"PDF of four elevations: {len(answer.read()) / 1e6:.2f} MB")
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{url}/projects/{project}/sheets/{sheet}")
        page.locator("canvas[data-painted=yes]").first.wait_for()
        time.sleep(4)
        print(f"zoomed and moved: {page.evaluate(DRIVE, SECONDS):.0f} frames a second")
        browser.close()


if __name__ == "__main__":
    main()
