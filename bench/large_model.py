"""python -m bench.large_model [BALLS]: a model of a million triangles (800 balls as glTF, or as many as wanted): how
long it is read, a section that nobody looked at before, and others after it, and what the server's processes hold; then
on the Model bench in headless Chromium with software rendering at 1280x800: the first picture when it was never shown
before and again, until all of it is there, how many frames a second it turns at, and what the browser holds."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import trimesh
from playwright.sync_api import Browser, Page, sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed
from bench.browser.model import SECONDS, TURN
from bench.parts import CUT, Watched, dragged, read, timed, view_of

BALLS = 800


def write_balls(path: Path, balls: int) -> int:
    """Balls in rows of forty; answers how many triangles they have."""
    ball = trimesh.creation.icosphere(subdivisions=3, radius=0.4)
    scene = trimesh.Scene()
    for k in range(balls):
        mesh = ball.copy().apply_translation((k % 40, 0.4 + 0.3 * np.sin(k), k // 40))
        scene.add_geometry(mesh, geom_name=f"ball {k}", node_name=f"ball {k}")
    scene.export(path)
    return balls * len(ball.faces)


def first_picture(page: Page, url: str) -> tuple[float, float]:
    """Until something of the model is drawn, and until all of it is there, seconds."""
    began = time.perf_counter()
    page.goto(url)
    page.wait_for_selector("[data-parts]:not([data-parts='0'])", timeout=120_000)
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    first = time.perf_counter() - began
    page.wait_for_selector("[data-stage=whole]", timeout=120_000)
    return first, time.perf_counter() - began


def held(browser: Browser) -> str:
    """Memory of the browser's processes that draw, MB."""
    session = browser.new_browser_cdp_session()
    found = []
    for process in session.send("SystemInfo.getProcessInfo")["processInfo"]:
        if process["type"] in ("renderer", "GPU"):
            status = Path(f"/proc/{process['id']}/status").read_text()
            size = next(int(line.split()[1]) for line in status.splitlines() if line.startswith("VmRSS"))
            found.append((process["type"], size // 1024))
    return ", ".join(f"{kind} {size} MB" for kind, size in sorted(found))


def main() -> None:
    balls = int(sys.argv[1]) if len(sys.argv) > 1 else BALLS
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "balls.glb"
        triangles = write_balls(path, balls)
        with installed(0) as (url, database):
            watched = Watched(database)
            print(f"{triangles:,} triangles in {path.stat().st_size / 2**20:.0f} MB", flush=True)
            project = timed("read", lambda: read(url, watched, path))["project_id"]
            timed("a section, the first", lambda: view_of(url, project, CUT))
            print(f"  then, dragged: {dragged(url, project) * 1000:.0f} ms each")
            watched.look()
            print(f"  the server's processes hold {watched.most:.0f} MB at most", flush=True)
            measure(url, triangles)


def measure(url: str, triangles: int) -> None:
    with sync_playwright() as play:
        project = call(url, "/api/projects")[0]["id"]
        for what in ("never shown before", "shown before, another browser"):
            browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            first, whole = first_picture(page, f"{url}/projects/{project}/model")
            print(f"{triangles:,} triangles, {what}: first picture {first:.1f} s, all there {whole:.1f} s", flush=True)
            page.wait_for_timeout(4000)
            page.evaluate(TURN, 3.0)  # it finds out what this machine draws
            print(
                f"  turned: {page.evaluate(TURN, SECONDS) / SECONDS:.0f} frames a second; {held(browser)}", flush=True
            )
            browser.close()


if __name__ == "__main__":
    main()
