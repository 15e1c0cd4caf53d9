"""Chromium, with the whole application behind it."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import COUNTING
from tests.installation import Installation

ARGUMENTS = [
    "--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip

PATIENCE = 60_000  # milliseconds; a busy machine takes seconds over what is there at once on an idle one


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    expect.set_options(timeout=PATIENCE)
    with sync_playwright() as play:
        chromium = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        yield chromium
        chromium.close()


@pytest.fixture
def new_browser(browser: Browser, installation: Installation) -> Iterator[Callable[[], BrowserContext]]:
    """Opens a browser of somebody else, with windows of 1280 x 800, each as patient as the others."""
    opened: list[BrowserContext] = []

    def open_one() -> BrowserContext:
        opened.append(browser.new_context(viewport={"width": 1280, "height": 800}, base_url=installation.url))
        opened[-1].set_default_timeout(PATIENCE)
        return opened[-1]

    yield open_one
    for context in opened:
        context.close()


@pytest.fixture
def page(new_browser: Callable[[], BrowserContext]) -> Iterator[Page]:
    """A window that fails the test on any error in it."""
    context = new_browser()
    context.add_init_script(COUNTING)
    opened = context.new_page()
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    opened.on("console", lambda said: errors.append(said.text) if "Content Security Policy" in said.text else None)
    yield opened
    context.close()  # what goes wrong at its end counts too
    assert errors == []


@pytest.fixture
def bench(page: Page, installation: Installation, hut_project: int) -> Bench:
    return Bench(page, installation, hut_project).open()
