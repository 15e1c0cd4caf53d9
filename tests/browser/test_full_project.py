"""A project with 100 sheets and 300 drawings: what an edit costs each open window, counted in requests."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from pathlib import Path

import psycopg
import pytest
from playwright.sync_api import BrowserContext, Page, Request, expect

from edge_slice.events.windows import MARGIN
from tests.ifc_files import write_hut
from tests.installation import Installation

MOST = 6
SHEETS, SECTIONS = 100, 300


@pytest.fixture(scope="module")
def full_project(installation: Installation, tmp_path_factory: pytest.TempPathFactory) -> int:
    project = installation.import_project(write_hut(tmp_path_factory.mktemp("full") / "full.ifc"))
    plan = installation.call("GET", f"/api/projects/{project}/drawings").json[0]
    with psycopg.connect(installation.cluster.url.replace("+psycopg", "")) as connection:
        style = json.dumps({**plan["style"], "scale": 100})
        for k in range(SECTIONS):
            cut = {"kind": "section", "line": [[-2, 0.01 * k], [8, 0.01 * k + 0.5]], "depth": 5}
            drawing = connection.execute(
                "INSERT INTO drawing (project_id, parent_id, letter, name, cut, style)"
                " VALUES (%s, %s, %s, '', %s, %s) RETURNING id",
                (project, plan["id"], f"S{k}", json.dumps(cut), style),
            ).fetchone()
            if k % 3 == 0:
                sheet = connection.execute(
                    "INSERT INTO sheet (project_id, number, title, size, design, folder, place, fields)"
                    " VALUES (%s, %s, 'Sections', 'A1', 'corner-block', '', 0, '{}') RETURNING id",
                    (project, f"B-{k:03}"),
                ).fetchone()
            assert drawing is not None
            assert sheet is not None
            connection.execute(
                "INSERT INTO placement (project_id, sheet_id, drawing_id, number, x, y, home, trim, title, stack)"
                " VALUES (%s, %s, %s, %s, %s, 60, true, '{}', '{}', 0)",
                (project, sheet[0], drawing[0], str(k % 3 + 1), 40 + 200 * (k % 3)),
            )
    time.sleep(2 * MARGIN)  # a window is told of what changed shortly before it opens, and reads that again
    return project


class Window:
    """A window on the project that counts what it asks the server for."""

    def __init__(self, page: Page, project: int, drawing: int) -> None:
        self.page, self.asked, self.under_way = page, [], 0
        page.on("request", self._count)
        page.on("requestfinished", self._ended)
        page.on("requestfailed", self._ended)
        with page.expect_response("**/sheet-pictures"):  # what a window asks for last of all, when it opens
            page.goto(f"/projects/{project}?drawing={drawing}")
        expect(page.get_by_label("Result", exact=True).locator("canvas[data-painted=yes]")).to_be_visible()
        self.count()

    def _count(self, request: Request) -> None:
        self.under_way += 1
        beat = "/api/events?" in request.url or request.url.endswith("/presence")  # comes by itself, edit or not
        if "/api/" in request.url and not beat:
            self.asked.append(f"{request.method} {request.url.split('/api')[1]}")

    def _ended(self, _: Request) -> None:
        self.under_way -= 1

    def count(self) -> list[str]:
        """What was asked since the last time, when all is quiet."""
        known = -1
        while known != len(self.asked) or self.under_way > 1:  # the line of events stays open
            known = len(self.asked)
            self.page.wait_for_timeout(1500)
        asked, self.asked = self.asked, []
        return asked


@pytest.fixture
def windows(
    new_browser: Callable[[], BrowserContext], installation: Installation, full_project: int
) -> tuple[Window, Window]:
    section = installation.call("GET", f"/api/projects/{full_project}/drawings").json[5]["id"]
    one, other = (Window(new_browser().new_page(), full_project, section) for _ in range(2))
    return one, other


def test_an_edit_and_its_undo_cost_few_requests_in_every_window(windows: tuple[Window, Window]) -> None:
    mine, other = windows
    mine.page.get_by_label("Scale", exact=True).select_option("50")
    expect(other.page.get_by_label("Scale", exact=True)).to_have_value("50")
    for window in windows:
        assert 1 <= len(asked := window.count()) <= MOST, asked
    mine.page.keyboard.press("Control+z")
    expect(mine.page.get_by_label("Scale", exact=True)).to_have_value("100")
    expect(other.page.get_by_label("Scale", exact=True)).to_have_value("100")
    for window in windows:
        assert 1 <= len(asked := window.count()) <= MOST, asked


def test_renumbering_a_sheet_costs_few_requests(
    windows: tuple[Window, Window], installation: Installation, full_project: int
) -> None:
    sheet = installation.call("GET", f"/api/projects/{full_project}/sheets").json[0]
    body = {"version": sheet["version"], "number": "A-000"}
    assert installation.call("PATCH", f"/api/sheets/{sheet['id']}", body).status == 200
    for window in windows:
        expect(window.page.get_by_role("button", name="Sheet A-000 Sections")).to_be_visible()
        assert 1 <= len(asked := window.count()) <= MOST, asked


def test_opening_asks_for_lists_and_for_what_is_in_view_only(
    new_browser: Callable[[], BrowserContext], full_project: int
) -> None:
    page = new_browser().new_page()
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.url) if "/api/" in r.url else None)
    page.goto(f"/projects/{full_project}")
    expect(page.get_by_label("Source", exact=True).locator("canvas[data-painted=yes]")).to_be_visible()
    page.wait_for_timeout(2500)
    counted = [u.split("/api/")[1] for u in asked if "events" not in u and "presence" not in u]
    assert len(counted) <= 16, "\n".join(counted)


def test_a_sheets_picture_is_another_when_what_it_shows_is(
    installation: Installation, full_project: int, tmp_path: Path
) -> None:
    def pictures() -> dict[int, str]:
        return {s["id"]: s["picture"] for s in installation.call("GET", f"/api/projects/{full_project}/sheets").json}

    before = pictures()
    drawings = installation.call("GET", f"/api/projects/{full_project}/drawings").json
    changed = next(d for d in drawings if d["placement"])
    body = {"version": changed["version"], "name": "Another name"}
    assert installation.call("PATCH", f"/api/drawings/{changed['id']}", body).status == 200
    after = pictures()
    assert [k for k in before if before[k] != after[k]] == [changed["placement"]["sheet_id"]]


def test_a_sheet_holds_only_so_many_drawings(installation: Installation, full_project: int) -> None:
    sheet = installation.call("POST", f"/api/projects/{full_project}/sheets", {}).json["id"]
    chosen = f"SELECT id FROM placement WHERE project_id = {full_project} ORDER BY id LIMIT 60"
    installation.execute(
        f"UPDATE placement SET sheet_id = {sheet}, number = id::text, version = version + 1 WHERE id IN ({chosen})"
    )
    drawings = installation.call("GET", f"/api/projects/{full_project}/drawings").json
    another = next(d for d in drawings if d["placement"] and d["placement"]["sheet_id"] != sheet)
    assert installation.call("DELETE", f"/api/placements/{another['placement']['id']}").status == 204
    answer = installation.call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": another["id"]})
    assert answer.status == 422
    assert "60" in answer.json["message"]
