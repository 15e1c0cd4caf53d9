"""python docs/take_screenshots.py: the pictures in docs/screenshots, anew, from an installation of its own."""

from __future__ import annotations

import json
import os
import re
import tempfile
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from edge_slice.launch.postgres import Cluster, free_port
from edge_slice.launch.processes import Services

ROOT = Path(__file__).parents[1]
OUT = ROOT / "docs" / "screenshots"
ARGUMENTS = ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking"]


def call(url: str, path: str, body: object = None, method: str | None = None) -> dict:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(url + path, data, {"Content-Type": "application/json"}, method=method)
    with urllib.request.urlopen(request) as response:
        text = response.read()
    return json.loads(text) if text else {}


def shoot(page: Page, name: str) -> None:
    page.wait_for_timeout(1500)
    page.get_by_text(re.compile("Cutting drawings anew|cut anew")).wait_for(state="hidden", timeout=120_000)
    page.screenshot(path=OUT / f"{name}.png")


def pictures(page: Page, url: str) -> None:
    page.goto(url)
    page.locator("canvas[data-painted=yes]").first.wait_for()
    page.wait_for_timeout(6000)  # the small sheets
    project = call(url, "/api/projects")[0]["id"]
    drawings = {d["title"]: d for d in call(url, f"/api/projects/{project}/drawings")}
    lower, cross = drawings["Lower plan"], drawings["Cross section through the lookout"]
    page.goto(f"{url}/projects/{project}?drawing={cross['id']}")
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    shoot(page, "drawings-bench")
    page.goto(f"{url}/projects/{project}?drawing={drawings['South elevation E3']['id']}")
    page.get_by_role("button", name="One pane").click()
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    page.get_by_role("group", name="Seen surfaces").scroll_into_view_if_needed()
    page.wait_for_timeout(3000)
    shoot(page, "elevation")
    page.get_by_role("button", name="One pane").click()
    page.goto(f"{url}/projects/{project}/model")
    page.locator("[data-stage=whole]").wait_for()
    page.wait_for_timeout(1500)
    page.keyboard.press("y")
    page.mouse.move(600, 420)
    page.wait_for_timeout(800)
    page.mouse.click(600, 420)
    page.get_by_label("Along its normal").fill("-2500")
    page.get_by_label("Along its normal").press("Enter")
    page.wait_for_timeout(3000)
    page.get_by_role("button", name="Parallel drawing of it").scroll_into_view_if_needed()
    shoot(page, "model-bench")
    sheet = next(s for s in call(url, f"/api/projects/{project}/sheets") if s["number"] == "A-401")
    page.goto(f"{url}/projects/{project}/sheets/{sheet['id']}")
    shoot(page, "sheets-bench")
    leaving(page, url, project, sheet["id"])
    page.goto(f"{url}/projects")
    shoot(page, "projects")
    annotated(page, url, project, drawings)
    more_pictures(page, url, project, lower["id"])


def leaving(page: Page, url: str, project: int, sheet: int) -> None:
    """The register, a design, an issue and what has changed since, the checks."""
    issue = {"code": "P01", "date": "2026-11-26", "purpose": "Building permit", "issued_by": "EF"}
    made = call(url, f"/api/projects/{project}/publications", {"issue": issue})
    while call(url, f"/api/publications/{made['id']}")["state"] in ("waiting", "working"):
        page.wait_for_timeout(300)
    page.goto(f"{url}/projects/{project}/sheets/all")
    shoot(page, "register")
    page.goto(f"{url}/projects/{project}/sheets/{sheet}")
    page.locator("canvas[data-painted=yes]").first.wait_for()
    page.get_by_role("button", name="Change it here").click()
    page.get_by_role("button", name="Key plan").click()
    shoot(page, "sheet-design")
    page.get_by_role("button", name="Leave it").click()
    placed = call(url, f"/api/projects/{project}/sheets")[-1]["placements"][-1]
    moved = {"version": placed["version"], "x": placed["x"] + 60}
    call(url, f"/api/placements/{placed['id']}", moved, "PATCH")
    page.get_by_role("button", name="Issues").click()
    page.get_by_role("button", name="Changed since").click()
    page.get_by_role("article", name="Issue P01").get_by_role("button", name=re.compile(": changed")).click()
    shoot(page, "issues")
    page.goto(f"{url}/projects/{project}/checks")
    page.wait_for_timeout(4000)
    shoot(page, "checks")


def annotated(page: Page, url: str, project: int, drawings: dict) -> None:
    """A junction with its annotations and tools, and a section over the earlier revision."""
    junction = drawings["Floor edge, Lower"]
    page.goto(f"{url}/projects/{project}?drawing={junction['id']}")
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    page.get_by_role("button", name="Annotate").last.click()
    page.get_by_text("7 annotations").scroll_into_view_if_needed()
    page.keyboard.press("Shift+W")
    shoot(page, "annotations")
    page.keyboard.press("Shift+W")
    page.get_by_role("button", name="Annotate").last.click()
    long = drawings["Long section through the laboratories"]
    page.goto(f"{url}/projects/{project}?drawing={long['id']}")
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    page.keyboard.press("1")
    page.get_by_label("Compare with").select_option("1")
    page.get_by_label("Changed places").wait_for()
    page.get_by_label("Changed places").scroll_into_view_if_needed()
    page.get_by_role("button", name="Show the whole drawing").click()
    shoot(page, "comparison")
    page.get_by_label("Compare with").select_option("")
    page.keyboard.press("2")


def more_pictures(page: Page, url: str, project: int, plan: int) -> None:
    deep = {"line": [[-2, 6.0], [24, 6.0]], "depth": 6, "perspective": {"distance": 9, "eye": [13, 4.5]}}
    body = {"kind": "section", "without": ["planting"], **deep}
    new = call(url, f"/api/projects/{project}/drawings", {"parent_id": plan, "cut": body, "style": {"scale": 50}})
    page.goto(f"{url}/projects/{project}?drawing={new['id']}")
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    shoot(page, "perspective")
    workbench(page, url, project, plan)
    callouts(page, url, project, plan)
    page.goto(f"{url}/projects/{project}/standards/fine-line")
    page.get_by_role("button", name="Copy to edit").click()
    page.get_by_label("Preview of soft insulation").locator("canvas[data-painted=yes]").wait_for()
    shoot(page, "hatch-editor")
    table = call(url, f"/api/projects/{project}/tables")[0]["id"]
    page.goto(f"{url}/projects/{project}/tables/{table}")
    page.get_by_role("img", name="Picture of the element").first.wait_for()
    shoot(page, "tables-bench")


def callouts(page: Page, url: str, project: int, plan: int) -> None:
    """A detail beside its section, a wall section that is offered, and a strip of a section in a plan."""
    sections = [d for d in call(url, f"/api/projects/{project}/drawings") if d["kind"] == "section"]
    section = next(d for d in sections if d["title"].startswith("Cross section"))
    for region, form in (([[1.3, -1.4], [2.6, 6.2]], "wall"), ([[1.2, 5.1], [2.9, 6.7]], "detail")):
        body = {"region": {"points": region}, "form": form}
        made = call(url, f"/api/drawings/{section['id']}/callouts", body)
    page.goto(f"{url}/projects/{project}?drawing={made['id']}")
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    shoot(page, "callouts")
    page.goto(f"{url}/projects/{project}?drawing={plan}")
    page.get_by_label("Source", exact=True).locator("canvas[data-painted=yes]").wait_for()
    page.wait_for_timeout(1000)
    page.keyboard.press("t")
    box = page.get_by_role("application", name="Source").bounding_box() or {}
    page.mouse.click(box["x"] + box["width"] * 0.465, box["y"] + box["height"] * 0.612)
    page.get_by_role("region", name="Wall section").wait_for()
    page.keyboard.press("Escape")
    drawing = call(url, f"/api/drawings/{plan}")
    strip = {"drawing": section["id"], "base": -0.3, "top": 3.0, "start": 1.2, "end": 12.4, "levels": True}
    change = {"version": drawing["version"], "style": {**drawing["style"], "strips": [strip]}}
    call(url, f"/api/drawings/{plan}", change, "PATCH")
    page.get_by_role("button", name="One pane").click()
    page.get_by_role("button", name="Show the whole drawing").click()
    shoot(page, "inset-strip")
    page.get_by_role("button", name="One pane").click()
    taken = {"version": call(url, f"/api/drawings/{plan}")["version"], "style": {**drawing["style"], "strips": []}}
    call(url, f"/api/drawings/{plan}", taken, "PATCH")


def workbench(page: Page, url: str, project: int, plan: int) -> None:
    """Aligned panes, a wall section with the model beside it and something picked, and a starter set."""
    section = next(d for d in call(url, f"/api/projects/{project}/drawings") if d["kind"] == "section")
    page.goto(f"{url}/projects/{project}?drawing={section['id']}")
    page.get_by_label("Passes through").get_by_text("Wet lab").wait_for()
    page.keyboard.press("a")
    page.wait_for_timeout(800)
    box = page.get_by_role("application", name="Result").bounding_box() or {}
    page.mouse.move(box["x"] + box["width"] * 0.55, box["y"] + box["height"] * 0.6)
    shoot(page, "aligned-panes")
    page.keyboard.press("a")
    line = {"line": [[10, 8.6], [10, 10.6]], "look": "left"}
    cut = call(url, f"/api/projects/{project}/wall-section", line)
    new = {"parent_id": plan, "cut": cut, "style": {"scale": 20}}
    wall = call(url, f"/api/projects/{project}/drawings", new)
    page.goto(f"{url}/projects/{project}?drawing={wall['id']}")
    page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]").wait_for()
    page.keyboard.press("3")
    page.get_by_label("Model", exact=True).locator("canvas").wait_for()
    page.wait_for_timeout(4000)
    box = page.get_by_role("application", name="Result").bounding_box() or {}
    page.mouse.click(box["x"] + box["width"] * 0.46, box["y"] + box["height"] * 0.8)
    shoot(page, "wall-section")
    page.keyboard.press("Escape")
    page.keyboard.press("3")
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("button", name="Starter set").click()
    page.get_by_role("dialog").locator("canvas[data-painted=yes]").nth(9).wait_for()
    shoot(page, "starter-set")


def main() -> None:
    OUT.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        root.chmod(0o755)
        cluster = Cluster(root / "postgres", free_port())
        cluster.start()
        cluster.create_database()
        os.environ["EDGE_SLICE_DATABASE_URL"] = cluster.url
        from edge_slice.launch.demo import load_demo
        from edge_slice.store.database import engine, migrate

        migrate()
        load_demo(ROOT / "demo", root / "demo-loaded")
        engine().dispose()
        services = Services(free_port(), dict(os.environ))
        try:
            services.start()
            with sync_playwright() as play:
                chromium = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
                page = chromium.new_page(viewport={"width": 1280, "height": 800})
                pictures(page, f"http://127.0.0.1:{services.port}")
                chromium.close()
        finally:
            services.stop()
            cluster.stop()


if __name__ == "__main__":
    main()
