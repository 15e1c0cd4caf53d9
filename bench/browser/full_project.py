"""python -m bench.browser.full_project: a project with 100 sheets and 300 drawings in an installation of its own: how
long it takes to open beside an empty one, and how soon an edit and its undo are seen in both of two windows."""

from __future__ import annotations

import json
import os
import statistics
import tempfile
import time
import urllib.request
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
from playwright.sync_api import Browser, Page, sync_playwright

from edge_slice.launch.postgres import Cluster, free_port
from edge_slice.launch.processes import Services

DEMO = Path(__file__).parents[2] / "demo" / "curlew-point.ifc"
ARGUMENTS = ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking"]
SECTIONS, ROUNDS, OPENINGS = 300, 12, 8


def call(url: str, path: str, body: object = None, method: str | None = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(url + path, data, {"Content-Type": "application/json"}, method=method)
    with urllib.request.urlopen(request) as response:
        return json.loads(response.read())


def crowd(database: str, project: int, plan: dict[str, Any]) -> int:
    """100 sheets of three sections each, by SQL; one section."""
    with psycopg.connect(database.replace("+psycopg", "")) as connection:
        style = json.dumps({**plan["style"], "scale": 100})
        sheet = drawing = 0
        for k in range(SECTIONS):
            cut = {"kind": "section", "line": [[0.07 * k, -2], [0.07 * k, 12]], "depth": 5}
            (drawing,) = connection.execute(
                "INSERT INTO drawing (project_id, parent_id, letter, name, cut, style)"
                " VALUES (%s, %s, %s, '', %s, %s) RETURNING id",
                (project, plan["id"], f"S{k}", json.dumps(cut), style),
            ).fetchone() or (0,)
            if k % 3 == 0:
                (sheet,) = connection.execute(
                    "INSERT INTO sheet (project_id, number, title, size, design, folder, place, fields)"
                    " VALUES (%s, %s, 'Sections', 'A1', 'corner-block', '', 0, '{}') RETURNING id",
                    (project, f"B-{k:03}"),
                ).fetchone() or (0,)
            connection.execute(
                "INSERT INTO placement (project_id, sheet_id, drawing_id, number, x, y, home, trim, title, stack)"
                " VALUES (%s, %s, %s, %s, %s, 60, true, '{}', '{}', 0)",
                (project, sheet, drawing, str(k % 3 + 1), 40 + 200 * (k % 3)),
            )
        return drawing


def opened(browser: Browser, url: str, path: str) -> tuple[Page, float]:
    """A window, and how long until its plan is painted, seconds."""
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    began = time.perf_counter()
    page.goto(url + path)
    page.locator("section[aria-label=Source] canvas[data-painted=yes]").wait_for()  # labels cost more to look for
    return page, time.perf_counter() - began


def opening(browser: Browser, url: str, path: str) -> float:
    page, time_taken = opened(browser, url, path)
    page.context.close()
    return time_taken


def seen(pages: list[Page], scale: str) -> float:
    """Until all windows show a scale, ms."""
    began = time.perf_counter()
    for page in pages:
        page.wait_for_function(
            "s => document.querySelector('aside[aria-label=Particulars] label select')?.value === s",
            arg=scale,
            polling=5,
        )
    return (time.perf_counter() - began) * 1000


def measure(url: str, database: str) -> None:
    full, empty = (p["id"] for p in call(url, "/api/projects"))
    plan = call(url, f"/api/projects/{full}/drawings")[1]
    section = crowd(database, full, plan)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        rounds = [[opening(browser, url, f"/projects/{p}") for p in (empty, full)] for _ in range(OPENINGS)]
        a, b = (statistics.median(times) for times in zip(*rounds[1:], strict=True))  # the first one warms both
        print(f"opening: empty {a:.2f} s, full {b:.2f} s, {b / a:.2f} times")
        pages = [opened(browser, url, f"/projects/{full}?drawing={section}")[0] for _ in range(2)]
        time.sleep(2)
        edits, undos = [], []
        for _ in range(ROUNDS):
            pages[0].get_by_label("Scale", exact=True).select_option("50")
            edits.append(seen(pages, "50"))
            time.sleep(1.0)
            pages[0].keyboard.press("Control+z")
            undos.append(seen(pages, "100"))
            time.sleep(1.0)
        for name, found in (("edit", edits), ("undo", undos)):
            print(f"{name} seen in both windows: median {statistics.median(found):.0f} ms, worst {max(found):.0f} ms")
        browser.close()


@contextmanager
def installed(projects: int, web_processes: int = 1, models: Sequence[Path] = ()) -> Iterator[tuple[str, str]]:
    """The application with so many projects of the demo model, and one of each other model, in a folder of its own: its
    address, its database's."""
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        root.chmod(0o755)
        cluster = Cluster(root / "postgres", free_port())
        cluster.start()
        cluster.create_database()
        os.environ["EDGE_SLICE_DATABASE_URL"] = cluster.url
        from edge_slice.app.models import imports
        from edge_slice.store.database import engine, migrate

        migrate()
        for path in (*[DEMO] * projects, *models):
            imports.run_import(imports.accept_upload(path, imports.Sent(path.name)).id)
        engine().dispose()
        services = Services(free_port(), dict(os.environ), web_processes)
        try:
            services.start()
            yield f"http://127.0.0.1:{services.port}", cluster.url
        finally:
            services.stop()
            cluster.stop()


if __name__ == "__main__":
    with installed(2) as (address, database):
        measure(address, database)
