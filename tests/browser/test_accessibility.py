"""axe-core finds nothing serious on any page, by day and by night."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page

from tests.browser.pages.stillness import rests
from tests.conftest import ROOT
from tests.installation import Installation

AXE = ROOT / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.mark.parametrize("theme", ["film-day", "film-night"])
@pytest.mark.parametrize(
    "where", ["drawings", "model", "sheets", "register", "tables", "checks", "standards", "projects"]
)
def test_pages_are_accessible(
    page: Page, installation: Installation, demo_project: int, where: str, theme: str
) -> None:
    page.add_init_script(f"localStorage.setItem('edge-slice theme', '{theme}')")
    path = {
        "drawings": f"/projects/{demo_project}",
        "model": f"/projects/{demo_project}/model",
        "sheets": f"/projects/{demo_project}/sheets",
        "register": f"/projects/{demo_project}/sheets/all",
        "tables": f"/projects/{demo_project}/tables",
        "checks": f"/projects/{demo_project}/checks",
        "standards": f"/projects/{demo_project}/standards/bold",
        "projects": "/projects",
    }
    if where == "tables":
        wanted = {"name": f"Doors, {theme}", "kind": "doors"}
        made = installation.call("POST", f"/api/projects/{demo_project}/tables", wanted).json
        path[where] += f"/{made['id']}"  # others are there too where other tests made them
    page.goto(path[where])
    page.get_by_role("link", name="Edge Slice: all projects").wait_for()
    if where == "tables":
        page.get_by_role("img", name="Picture of the element").first.wait_for()
    if where == "standards":
        page.get_by_role("list", name="Hatches").get_by_role("button", name="green roof").click()
        page.get_by_role("button", name="Copy to edit").click()
        page.get_by_role("button", name="Stroke 1, point 1").wait_for()
    rests(page)
    page.evaluate(AXE.read_text())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    serious = [
        f"{v['id']}: {v['help']} ({v['nodes'][0]['html'][:120]})"
        for v in found["violations"]
        if v["impact"] in ("serious", "critical")
    ]
    assert serious == []
