"""python -m bench.browser.complete_set [FOLDER]: from an empty project of the demo to a complete set, act by act in
headless Chromium at 1280x800: plans with rooms, doors and dimensions, elevations, two sections, a wall section with its
junctions, tables of doors and rooms on a sheet, all sheets as one linked PDF. Of each act what the person does, how
long that takes by the keystroke-level model (Card, Moran, Newell 1980: a key 0.28 s, pointing 1.1 s, a click 0.2 s,
hands to keys or mouse 0.4 s, making up one's mind 1.35 s), and how long they wait for the machine; the acts come at
that person's speed. Pictures of the sheets and the PDF go to FOLDER, if one is named."""

from __future__ import annotations

import io
import re
import sys
import time
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import pypdf
from playwright.sync_api import Locator, Page, expect, sync_playwright

from bench.browser.full_project import ARGUMENTS, DEMO, call, installed
from bench.timing import median

KEY, POINT, CLICK, HANDS, MIND = 0.28, 1.1, 0.2, 0.4, 1.35  # seconds
PATIENCE = 60_000  # ms
WALL = (11.0, 9.75)  # metres in the plan, in the north wall of the demo


@dataclass
class Act:
    """Something that a person does, and how long they wait for it, seconds."""

    words: str
    keys: int = 0
    clicks: int = 0
    machine: float = 0.0

    @property
    def person(self) -> float:
        hands = HANDS if self.keys and self.clicks else 0.0
        return MIND + self.keys * KEY + self.clicks * (POINT + CLICK) + hands


@dataclass
class Person:
    page: Page
    acts: list[Act] = field(default_factory=list)
    _since: float = 0.0

    def begins(self, words: str) -> None:
        self._done()
        self.acts.append(Act(words))
        time.sleep(MIND)

    def _does(self, act: Callable[[], object], clicks: int = 0, keys: int = 0) -> None:
        """An act at a person's speed; the machine's time counts from there."""
        self._done()
        time.sleep(clicks * (POINT + CLICK) + keys * (HANDS + KEY))
        act()
        self.acts[-1].clicks += clicks
        self.acts[-1].keys += keys
        self._since = time.perf_counter()

    def click(self, on: Locator) -> None:
        on.wait_for()
        self._does(on.click, clicks=1)

    def choose(self, on: Locator, label: str) -> None:
        on.wait_for()
        self._does(lambda: on.select_option(label=label), clicks=2)

    def press(self, key: str) -> None:
        self._does(lambda: self.page.keyboard.press(key), keys=1)

    def click_at(self, x: float, y: float) -> None:
        self._does(lambda: self.page.mouse.click(x, y), clicks=1)

    def sees(self, what: Locator) -> None:
        expect(what.first).to_be_visible(timeout=PATIENCE)
        self._done()

    def _done(self) -> None:
        if self._since:
            self.acts[-1].machine += time.perf_counter() - self._since
            self._since = 0.0


def starter_set(person: Person) -> None:
    page = person.page
    person.begins("Elevations and sections that are proposed, with the plans on annotated sheets")
    person.click(page.get_by_role("button", name="or begin with the usual"))
    dialog = page.get_by_role("dialog", name="Starter set")
    person.choose(dialog.get_by_label("Sheets"), "by “Noted and dimensioned”")
    person.click(dialog.get_by_role("button", name=re.compile("^Make ")))
    person.sees(page.get_by_role("button", name=re.compile("^Placement 1")))


def wall_section(person: Person, url: str, project: int) -> None:
    page = person.page
    person.begins("A wall clicked on the plan: its section with its junctions")
    person.click(page.get_by_role("link", name="Drawings", exact=True))
    person.click(page.get_by_role("treeitem").filter(has_text="Lower plan"))
    person.sees(page.locator("section[aria-label=Source] canvas[data-painted=yes]"))
    person.press("t")
    person.click_at(*outer_wall(page, url, project))
    offer = page.get_by_role("region", name="Wall section")
    person.click(offer.get_by_role("button", name=re.compile("^Make it")))
    person.sees(page.get_by_label("Result", exact=True).get_by_role("heading", name=re.compile("Wall section")))
    person.sees(page.locator("section[aria-label=Result] canvas[data-painted=yes]"))


def outer_wall(page: Page, url: str, project: int) -> tuple[float, float]:
    """Where the middle of the plan's north wall stands in the window."""
    from edge_slice.core.render.screen import screen_arrays

    plan = next(d for d in call(url, f"/api/projects/{project}/drawings") if d["title"] == "Lower plan")
    with urllib.request.urlopen(f"{url}/api/drawings/{plan['id']}/view") as answer:
        left, base, right, top = screen_arrays(answer.read())[0]["page"]
    box = page.get_by_role("application", name=re.compile("^Source")).bounding_box()
    assert box is not None
    zoom = min((box["width"] - 20) / (right - left), (box["height"] - 20) / (top - base))
    x, y = (at * 1000 / plan["style"]["scale"] for at in WALL)
    return (
        box["x"] + box["width"] / 2 + (x - (left + right) / 2) * zoom,
        box["y"] + box["height"] / 2 - (y - (base + top) / 2) * zoom,
    )


def details_on_sheets(person: Person) -> None:
    page = person.page
    person.begins("The wall section and its details on annotated sheets")
    person.click(page.get_by_role("link", name="Sheets", exact=True))
    person.click(page.get_by_role("button", name=re.compile("^Document ")))
    person.sees(page.get_by_role("button", name=re.compile("^Placement .*Wall section")))


def table(person: Person, name: str) -> None:
    page = person.page
    person.begins(f"A table of {name.lower()}")
    person.click(page.get_by_role("link", name="Tables", exact=True))
    kinds = page.get_by_label("What a new table lists")
    mine = kinds.locator("option", has_text=re.compile(rf"^{name} \("))
    mine.wait_for(state="attached")
    person.choose(kinds, mine.inner_text())
    person.click(page.get_by_role("button", name="New table"))
    person.sees(page.get_by_role("table", name=name).get_by_role("cell"))


def tables_on_a_sheet(person: Person) -> None:
    page = person.page
    person.begins("Both tables on a sheet of their own")
    person.click(page.get_by_role("link", name="Sheets", exact=True))
    person.click(page.get_by_role("button", name="New sheet").first)
    person.sees(page.get_by_role("heading", name=re.compile("Untitled sheet")))
    part = page.get_by_role("group", name="Tables on this sheet")
    for name in ("Doors", "Rooms"):
        person.choose(part.get_by_label("Table to place"), name)
        person.click(part.get_by_role("button", name="Place the table"))
        person.sees(page.get_by_role("button", name=f"Table {name}"))


def linked_pdf(person: Person) -> bytes:
    page = person.page
    person.begins("All sheets as one linked PDF")
    person.click(page.get_by_text("Files", exact=True))
    with page.expect_download(timeout=PATIENCE) as download:
        person.click(page.get_by_role("button", name="Make the file"))
    person.sees(page.locator("body"))
    return Path(download.value.path()).read_bytes()


def imported(page: Page, url: str) -> int:
    """A project of the demo's model, brought as people bring theirs."""
    page.goto(f"{url}/projects")
    page.get_by_label("Model file").set_input_files(DEMO)
    made = page.get_by_role("list", name="Projects").get_by_role("listitem")
    expect(made).to_have_count(1, timeout=3 * PATIENCE)
    return int(call(url, "/api/projects")[0]["id"])


def measure(page: Page, url: str, folder: Path | None) -> None:
    project = imported(page, url)
    page.goto(f"{url}/projects/{project}")
    page.locator("section[aria-label=Source] canvas[data-painted=yes]").wait_for()
    person = Person(page)
    starter_set(person)
    wall_section(person, url, project)
    details_on_sheets(person)
    table(person, "Doors")
    table(person, "Rooms")
    tables_on_a_sheet(person)
    data = linked_pdf(person)
    for act in person.acts:
        did = f"{act.clicks} clicks" + (f", {act.keys} keys" if act.keys else "")
        print(f"{act.words:<80}{did:<18}{act.person:>6.1f} s{act.machine:>8.1f} s")
    print(f"{'all':<98}{sum(a.person for a in person.acts):>6.1f} s{sum(a.machine for a in person.acts):>8.1f} s")
    pages = pypdf.PdfReader(io.BytesIO(data)).pages
    links = sum(len(one.get("/Annots") or ()) for one in pages)
    drawings = call(url, f"/api/projects/{project}/drawings")
    placed = sum(d["placement"] is not None for d in drawings)
    print(f"{len(pages)} sheets, {placed} of {len(drawings)} drawings on them, {links} links, {len(data) / 1e6:.2f} MB")
    if folder is not None:
        folder.mkdir(parents=True, exist_ok=True)
        (folder / "set.pdf").write_bytes(data)
        for sheet in call(url, f"/api/projects/{project}/sheets"):
            with urllib.request.urlopen(f"{url}/api/sheets/{sheet['id']}/export.png") as answer:
                (folder / f"{sheet['number']}.png").write_bytes(answer.read())


def main(folder: Path | None) -> None:
    numbers = np.random.default_rng(1).random(1_000_000)
    print(f"yardstick: {median(lambda: np.sort(numbers)) * 1000:.1f} ms")
    print(f"{'act':<80}{'':<18}{'person':>8}{'machine':>10}")
    with installed(0) as (url, _), sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        try:
            measure(context.new_page(), url, folder)
        finally:
            browser.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else None)
