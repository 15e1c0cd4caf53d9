"""python -m bench.browser.drag: how fast the section follows a dragged line, in an installation of its own.

First over HTTP alone (one request after the other, a new place of the line each time, so that nothing comes from
a cache), then in Chromium, dragging the middle grip for a few seconds and counting the different sections that arrive.
"""

from __future__ import annotations

import json
import statistics
import time
import urllib.request

from playwright.sync_api import Page, Response, sync_playwright

from bench.browser.full_project import ARGUMENTS, installed

STEPS, SECONDS = 25, 4.0


def sent(url: str, path: str, body: object = None, method: str | None = None) -> bytes:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(url + path, data, {"Content-Type": "application/json"}, method=method)
    with urllib.request.urlopen(request) as response:
        return bytes(response.read())


def section_at(x: float) -> dict[str, object]:
    return {"kind": "section", "line": [[x, -2.0], [x, 12.0]], "look": "left", "depth": 6.0, "without": ["planting"]}


def over_http(url: str, project: int) -> float:
    times = []
    for k in range(STEPS + 1):
        start = time.perf_counter()
        sent(
            url,
            f"/api/projects/{project}/view",
            {"cut": section_at(3.017 + 0.61 * k + time.time() % 0.01), "style": {"scale": 50}},
        )
        times.append(time.perf_counter() - start)
    times = sorted(times[1:])
    median = statistics.median(times)
    best, worst = times[0] * 1000, times[-1] * 1000
    print(f"over HTTP   median {median * 1000:.0f} ms a section (best {best:.0f}, worst {worst:.0f})")
    return median


def in_browser(page: Page, url: str, project: int, drawing: int) -> float:
    page.goto(f"{url}/projects/{project}?drawing={drawing}")
    grip = page.get_by_role("button", name="Move the cutting line")
    grip.wait_for()
    page.wait_for_timeout(1500)
    arrived: set[str] = set()

    def count(response: Response) -> None:
        if response.url.endswith("/view") and response.request.method == "POST" and response.ok:
            arrived.add(response.request.post_data)

    page.on("response", count)
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    start = time.perf_counter()
    k = 0
    while time.perf_counter() - start < SECONDS:
        k += 1
        page.mouse.move(x - 50 + (k * 1.37) % 100, y)
        page.wait_for_timeout(16)
    rate = len(arrived) / (time.perf_counter() - start)
    page.mouse.up()
    print(f"in Chromium {rate:.1f} sections a second while the line is dragged")
    return rate


def measure(url: str) -> None:
    project = json.loads(sent(url, "/api/projects"))[0]["id"]
    taken = over_http(url, project)
    body = {"cut": section_at(8.0), "parent_id": None}
    drawing = json.loads(sent(url, f"/api/projects/{project}/drawings", body))["id"]
    with sync_playwright() as play:
        chromium = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        rate = in_browser(chromium.new_page(viewport={"width": 1280, "height": 800}), url, project, drawing)
        chromium.close()
    print(f"share of the bare rate that the browser reaches: {rate * taken:.2f}")


if __name__ == "__main__":
    with installed(1) as (address, _):
        measure(address)
