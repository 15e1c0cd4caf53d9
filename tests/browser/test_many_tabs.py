"""Many tabs of one browser: they share one connection for events, and none waits for another."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import BrowserContext, expect

from tests.browser.pages.bench import Bench
from tests.installation import Installation

TABS = 12  # a browser has six connections to a server


def test_twelve_tabs_work_and_follow(
    new_browser: Callable[[], BrowserContext], bench: Bench, installation: Installation
) -> None:
    section = bench.draw_section((2, -0.8), (2, 3.7), (0.5, 1.5))
    context = new_browser()
    tabs = [context.new_page() for _ in range(TABS)]
    for tab in tabs:
        tab.goto(f"/projects/{bench.project}?drawing={section['id']}")
        expect(tab.get_by_role("textbox", name="Depth", exact=True)).to_be_visible()
    port = installation.services.events_port
    mine = bench.page.get_by_role("textbox", name="Depth", exact=True)
    mine.fill("700")
    mine.press("Enter")
    for tab in tabs:
        expect(tab.get_by_role("textbox", name="Depth", exact=True)).to_have_value("700")
    assert len(connections(port)) == 2  # one of this browser profile, one of the window that edited
    tabs[0].goto("/projects")  # one goes elsewhere, one is closed: the others still hear
    tabs[1].close()
    mine.fill("800")
    mine.press("Enter")
    for tab in tabs[2:]:
        expect(tab.get_by_role("textbox", name="Depth", exact=True)).to_have_value("800")


def connections(port: int) -> list[str]:
    """The connections that a server on loopback has, as the system lists them."""
    with open("/proc/net/tcp") as table:
        rows = [line.split() for line in table.readlines()[1:]]
    return [row[2] for row in rows if row[1].endswith(f":{port:04X}") and row[3] == "01"]
