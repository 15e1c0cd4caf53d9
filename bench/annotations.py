"""python -m bench.annotations: sets placed on the demo's drawings; and in an installation of its own with a thousand
annotations in one drawing: one of them moved, at the server and as it is dragged in headless Chromium."""

from __future__ import annotations

import re
import statistics
import time
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed
from bench.timing import median
from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.sets import Rule, proposed
from edge_slice.core.cut import PlanCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.model.ifc.reading import read_ifc

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"
MANY, EDITS, SECONDS = 1000, 15, 3.0
LABELS: tuple[Rule, ...] = ("rooms", "doors", "windows")
# the paints of the layer of annotations while something in it is dragged for a while
DRIVE = """async (box, [x, y, seconds]) => {
  const send = (type, at) => box.dispatchEvent(new PointerEvent(type,
    { bubbles: true, cancelable: true, clientX: at, clientY: y, pointerId: 1, button: 0, buttons: 1 }));
  box.setPointerCapture = () => {};
  let paints = 0;
  const clear = CanvasRenderingContext2D.prototype.clearRect;
  CanvasRenderingContext2D.prototype.clearRect = function (...area) {
    if (this.canvas.dataset.annotations) paints += 1;
    return clear.apply(this, area);
  };
  send('pointerdown', x);
  const began = performance.now();
  for (let k = 1; performance.now() - began < seconds * 1000; k++) {
    await new Promise(requestAnimationFrame);
    send('pointermove', x + 5 + (k % 40));
  }
  const spent = (performance.now() - began) / 1000;
  CanvasRenderingContext2D.prototype.clearRect = clear;
  return paints / spent;
}"""


def sets() -> None:
    model, standard = read_ifc(DEMO), default_standard()
    for storey in model.storeys[1:3]:
        cut = PlanCut(storey=storey.guid, depth=1.5)
        result = cut_model(model, cut, standard.cut_rules(model))
        spec = DrawingSpec(scale=100, rooms=False)
        drawn = list(compose_drawing(model, result, cut, spec, standard).items)
        board = Board.of(model, result, cut, spec, standard)
        for rule in LABELS:
            taken = median(lambda b=board, r=rule, d=drawn: proposed(b, r, d))  # type: ignore[misc]
            print(f"{storey.name}, {rule}: {len(proposed(board, rule, drawn).annotations)} in {taken * 1000:.0f} ms")


def many(url: str, drawing: dict[str, Any]) -> list[dict[str, Any]]:
    """A thousand notes, lines and dimensions in one drawing."""
    path = f"/api/drawings/{drawing['id']}/annotations"
    for k in range(MANY):
        at = [1000.0 + (k % 40) * 500, -2000.0 + (k // 40) * 600]
        kinds: list[dict[str, Any]] = [
            {"kind": "note", "text": f"Note {k}", "points": [[at[0] + 300, at[1] + 200]]},
            {"kind": "line", "points": [at, [at[0] + 400, at[1] + 150]], "line_type": "foul drain"},
            {"kind": "symbol", "symbol": "grade", "points": [at]},
        ]
        call(url, path, {"spots": [{"at": at, "only": ["point"]}], "document": kinds[k % 3]})
    found: Any = call(url, path)
    return list(found)


def moved(url: str, annotations: list[dict[str, Any]]) -> list[float]:
    """Seconds that moving one annotation takes at the server."""
    found = []
    for one in annotations[:EDITS]:
        u, v = one["document"]["points"][0]
        body = {"version": one["version"], "change": {"points": [[u + 50, v], *one["document"]["points"][1:]]}}
        start = time.perf_counter()
        call(url, f"/api/annotations/{one['id']}", body, "PATCH")
        found.append(time.perf_counter() - start)
    return found


def frames(page: Page, url: str, drawing: dict[str, Any]) -> float:
    """Paints a second of the layer of annotations while one is dragged."""
    page.goto(f"{url}/projects/{drawing['project_id']}?drawing={drawing['id']}")
    layer = page.get_by_label("Result", exact=True).locator(f"canvas[data-annotations='{MANY}']")
    layer.wait_for(timeout=60_000)
    page.get_by_text(f"{MANY} annotations").click()
    page.get_by_label("Annotations", exact=True).get_by_role("button").nth(20).click()
    body = page.get_by_role("button", name=re.compile("^(note|line|symbol): move$")).first
    body.wait_for()
    box = body.bounding_box()
    assert box is not None
    return float(body.evaluate(DRIVE, [box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, SECONDS]))


def main() -> None:
    sets()
    with installed(1) as (url, _), sync_playwright() as play:
        projects: Any = call(url, "/api/projects")
        project = projects[0]["id"]
        drawings: Any = call(url, f"/api/projects/{project}/drawings")
        plan = next(d for d in drawings if d["kind"] == "plan")
        cut = {"kind": "section", "line": [[-2, 2.4], [23.6, 2.4]], "depth": 5}
        new = {"parent_id": plan["id"], "cut": cut, "style": {"scale": 50}}
        drawing = call(url, f"/api/projects/{project}/drawings", new)
        annotations = many(url, drawing)
        times = moved(url, annotations)
        worst = max(times) * 1000
        print(f"one of {MANY} moved at the server: median {statistics.median(times) * 1000:.0f} ms, worst {worst:.0f}")
        chromium = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        page = chromium.new_page(viewport={"width": 1280, "height": 800})
        print(f"one of {MANY} dragged: {frames(page, url, drawing):.0f} paints a second")
        chromium.close()


if __name__ == "__main__":
    main()
