"""python -m bench.trace [MODEL.ifc]: where the time of a move goes, from the pointer to the paint of the section, in
an installation of its own (the demo's model where none is named).

A line is moved step by step in headless Chromium; of each step it is told when the pointer moved, when the request
left, how long each stage of the server took (`Server-Timing`), when the answer was there, how long it took to decode
and to paint. The middle of all steps, in milliseconds and in yardsticks (sorting a million numbers, in the same run),
as a table and as bench/trace.svg.
"""

from __future__ import annotations

import statistics
import sys
import time
import urllib.request
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.browser.full_project import ARGUMENTS, DEMO, call, installed
from edge_slice.core.render.screen import screen_arrays

OUT = Path(__file__).parent / "trace.svg"
STEPS, FIRST, REST = 80, 8, 8  # the first ones warm up; after so many the drawing rests, and the yardstick is laid
WATCH = """() => {
  window.said = {};
  const note = (name, value) => { if (!(name in window.said)) window.said[name] = value; };
  window.addEventListener("pointermove", () => note("pointer", performance.now()), true);
  const ask = window.fetch;
  window.fetch = async (url, ...rest) => {
    if (!String(url).endsWith("/view")) return ask(url, ...rest);
    note("asked", performance.now());
    const answer = await ask(url, ...rest);
    note("answered", performance.now());
    note("server", answer.headers.get("Server-Timing"));
    return answer;
  };
  new PerformanceObserver((list) => {
    for (const one of list.getEntries()) {
      if (!("answered" in window.said) || one.startTime < window.said.answered) continue;
      if (one.name === "paint" && !("decode" in window.said)) continue;
      note(one.name, [one.startTime, one.startTime + one.duration]);
    }
  }).observe({ type: "measure" });
}"""
Step = dict[str, Any]


def stages_of(said: Step) -> dict[str, float]:
    """The stages of one step, one after the other, ms."""
    parts = (part.split(";dur=") for part in said["server"].split(", "))
    server = {name: float(took) for name, took in parts}
    whole = server.pop("all")
    found = {"to the request": said["asked"] - said["pointer"]}
    found |= server
    found["rest of the server"] = whole - sum(server.values())
    found["on the way"] = said["decode"][0] - said["asked"] - whole
    found["decode"] = said["decode"][1] - said["decode"][0]
    found["to the paint"] = said["paint"][0] - said["decode"][1]
    found["paint"] = said["paint"][1] - said["paint"][0]
    return found


def steps_of(page: Page) -> tuple[list[dict[str, float]], float]:
    """The stages of each step, and the yardstick: sorting the same numbers between them, ms."""
    grip = page.get_by_role("button", name="Move the cutting line").bounding_box()
    assert grip is not None
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    page.evaluate(WATCH)
    page.mouse.move(x, y)
    page.keyboard.down("Alt")  # a line that is held by a snap is not cut anew
    page.mouse.down()
    numbers = np.random.default_rng(1).random(1_000_000)
    found, yards = [], []
    for k in range(STEPS):
        page.evaluate("() => { window.said = {}; }")
        page.mouse.move(x + 4 + (k % 40), y)
        page.wait_for_function("() => 'paint' in window.said", polling=2)
        found.append(stages_of(page.evaluate("() => window.said")))
        time.sleep(0.03)  # a hand that drags never rests for longer
        if k % REST == 0:
            time.sleep(0.5)
            began = time.perf_counter()
            np.sort(numbers)
            yards.append((time.perf_counter() - began) * 1000)
    page.mouse.up()
    page.keyboard.up("Alt")
    return found[FIRST:], statistics.median(yards)


def picture(stages: dict[str, float], yard: float) -> str:
    """The stages of a move one after the other, as bars over its time."""
    whole, row, left, wide = sum(stages.values()), 18, 170, 620
    high = row * (len(stages) + 2)
    bars, at = [], 0.0
    for k, (name, took) in enumerate(stages.items()):
        x, length, y = left + at / whole * wide, took / whole * wide, row * (k + 1)
        bars.append(
            f'<text x="{left - 8}" y="{y + 12}" text-anchor="end">{name}</text>'
            f'<rect x="{x:.1f}" y="{y + 2}" width="{max(length, 0.5):.1f}" height="{row - 5}" fill="#2f5d62"/>'
            f'<text x="{x + length + 5:.1f}" y="{y + 12}">{took:.1f} ms</text>'
        )
        at += took
    title = f'<text x="{left}" y="12">pointer to paint: {whole:.0f} ms, {whole / yard:.1f} yardsticks</text>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {left + wide + 80} {high}" font-family="sans-serif"'
        f' font-size="11">{title}{"".join(bars)}</svg>\n'
    )


def measure(url: str) -> None:
    project = call(url, "/api/projects")[0]["id"]
    plan = next(d for d in call(url, f"/api/projects/{project}/drawings") if d["kind"] == "plan")
    with urllib.request.urlopen(f"{url}/api/drawings/{plan['id']}/view") as answer:
        head, _ = screen_arrays(answer.read())
    left, base, right, top = (x * head["scale"] / 1000 for x in head["window"])
    x = left + 0.45 * (right - left)
    body = {"parent_id": plan["id"], "cut": {"kind": "section", "line": [[x, base], [x, top]], "depth": 8}}
    body["style"] = {"section_rooms": True}  # as sections usually have them
    drawing = call(url, f"/api/projects/{project}/drawings", body)["id"]
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{url}/projects/{project}?drawing={drawing}")
        page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
        page.wait_for_timeout(2000)
        steps, yard = steps_of(page)
        browser.close()
    names = list(dict.fromkeys(name for step in steps for name in step))
    stages = {name: statistics.median(step.get(name, 0.0) for step in steps) for name in names}
    print(f"yardstick: {yard:.1f} ms\n\n{'stage':<20}{'middle':>10}{'yardsticks':>12}")
    for name, took in stages.items():
        print(f"{name:<20}{took:>7.1f} ms{took / yard:>12.2f}")
    whole = sorted(sum(step.values()) for step in steps)
    for name, took in (("pointer to paint", statistics.median(whole)), ("95 %", whole[int(0.95 * len(whole))])):
        print(f"{name:<20}{took:>7.1f} ms{took / yard:>12.2f}")
    OUT.write_text(picture(stages, yard))


if __name__ == "__main__":
    models = [Path(name) for name in sys.argv[1:]]
    with installed(0, models=models or [DEMO]) as (address, _):
        measure(address)
