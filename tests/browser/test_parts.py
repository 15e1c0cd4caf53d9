"""Several files of one building in the window: dropped at once, told apart, placed with a picture, moved, shown."""

from __future__ import annotations

import base64
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, expect

from tests.browser.pages.bench import Bench
from tests.http.models.test_parts import FAR, frame, parts
from tests.ifc_files import write_hut
from tests.installation import Installation


def read_in(page: Page, *paths: Path) -> None:
    page.get_by_label("Newer file of the model").set_input_files([str(p) for p in paths])


def dropped(page: Page, *paths: Path) -> None:
    """Files dropped in the middle of the window."""
    files = [(p.name, base64.b64encode(p.read_bytes()).decode()) for p in paths]
    held = page.evaluate_handle(
        """files => files.reduce((held, [name, text]) => {
            held.items.add(new File([Uint8Array.from(atob(text), c => c.charCodeAt(0))], name));
            return held;
        }, new DataTransfer())""",
        files,
    )
    for event in ("dragenter", "dragover", "drop"):
        page.dispatch_event("body", event, {"dataTransfer": held})


def opened(page: Page, project: int) -> None:
    page.goto(f"/projects/{project}")
    page.get_by_label("Source", exact=True).locator("canvas[data-painted=yes]").first.wait_for()
    page.keyboard.press("Shift+O")
    expect(page.get_by_role("heading", name="Revisions of the model")).to_be_visible()


def test_two_files_dropped_at_once_are_one_building(page: Page, installation: Installation, tmp_path: Path) -> None:
    building, structure = write_hut(tmp_path / "hut.ifc", at=(0.0, 0.0, 0.0)), frame(tmp_path / "structure.ifc")
    page.goto("/projects")
    page.get_by_role("button", name="Choose a file").wait_for()
    before = {p["id"] for p in installation.call("GET", "/api/projects").json}
    dropped(page, structure, building)
    asked = page.get_by_role("group", name="Several files")
    expect(asked).to_contain_text("structure.ifcStructure, by its name")
    expect(asked.get_by_role("radio", name="hut.ifc")).to_be_checked()  # whatever was dropped first
    asked.get_by_role("button", name="One building").click()

    def made() -> list[int]:
        new = [p for p in installation.call("GET", "/api/projects").json if p["id"] not in before]
        return [p["id"] for p in new if len(p["facts"]["parts"]) == 2]

    (number,) = installation.until(made)
    expect(page.get_by_role("listitem").filter(has_text="2 files ·")).to_be_visible()
    page.get_by_role("button", name="Open it").click()
    page.get_by_label("Source", exact=True).locator("canvas[data-painted=yes]").first.wait_for()
    dropped(page, building)  # onto a project: a newer file of it
    expect(page.get_by_role("heading", name="Revisions of the model")).to_be_visible()
    expect(page.get_by_text("in use in this project already")).to_be_visible()
    listed = page.get_by_role("list", name="Parts of the model").get_by_role("listitem")
    expect(listed).to_have_count(2)
    expect(listed.first).to_contain_text("hut")
    expect(listed.first).to_contain_text("leads")
    installation.call("DELETE", f"/api/projects/{number}")


def test_a_part_from_elsewhere_is_placed_by_clicking_the_same_points_in_both(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    opened(page, bench.project)
    read_in(page, frame(tmp_path / "structure.ifc", matrix=FAR))
    which = page.get_by_role("group", name="Which part it is")
    expect(which.get_by_role("alert")).to_contain_text("two points", timeout=60_000)
    which.get_by_role("button", name="Place by two points").click()
    # the part was turned by a quarter: its long side stands upright in its own picture
    own, rest = page.get_by_role("img", name="This file alone"), page.get_by_role("img", name="The building alone")
    wanted = ((0.3, 0.3), (3.7, 0.3))
    for (x, y), said in zip(wanted, ("Click a point", "Click a second"), strict=True):
        expect(which.get_by_role("status").first).to_contain_text(said)
        click_at(own, (400_000.0 - y, 90.0 + x))
        expect(which.get_by_role("status").first).to_contain_text("the same point of the building")
        click_at(rest, (x, y))
    expect(page.get_by_role("img", name="The part in the building")).to_be_visible(timeout=30_000)
    expect(which.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Take this part").click()
    bench.app.until(lambda: len(parts(bench.app, bench.project)) == 2)
    place = parts(bench.app, bench.project)[1]["place"]
    assert place["turn"] % 360 == 270 or abs(place["turn"] + 90) < 1
    # the building's corner is caught, not the column's: no further off than half a catch
    assert np.hypot(place["x"] + 90, place["y"] - 400_000) < 1.0


def test_what_is_proposed_is_told_in_every_window_with_the_drawings_that_see_it(bench: Bench, tmp_path: Path) -> None:
    """Sent from elsewhere, as by a watched folder."""
    page, app = bench.page, bench.app
    path = frame(tmp_path / "structure.ifc")
    assert app.upload(path.name, path.read_bytes(), into=str(bench.project)).status == 202
    expect(page.get_by_role("button", name="1 proposed")).to_be_visible(timeout=60_000)
    page.keyboard.press("Shift+O")
    seen = page.get_by_role("list", name="Drawings that see it")
    expect(seen.get_by_role("link")).to_have_text([d["title"] for d in bench.drawings()])
    page.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("button", name="proposed")).to_have_count(0)


def click_at(picture: object, at: tuple[float, float]) -> None:
    """A click at a place of the model in a picture of it."""
    picture.scroll_into_view_if_needed()  # type: ignore[attr-defined]
    spot = picture.evaluate(  # type: ignore[attr-defined]
        "(svg, [x, y]) => { const p = new DOMPoint(x, -y).matrixTransform(svg.getScreenCTM()); return [p.x, p.y]; }",
        list(at),
    )
    picture.page.mouse.click(*spot)  # type: ignore[attr-defined]


def test_disciplines_are_shown_and_hidden_and_parts_taken_out(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    opened(page, bench.project)
    read_in(page, frame(tmp_path / "structure.ifc"))
    page.get_by_role("button", name="Take this part").click(timeout=60_000)
    bench.app.until(lambda: len(parts(bench.app, bench.project)) == 2)
    page.get_by_role("button", name="Close").click()
    shown = page.get_by_role("group", name="Disciplines")
    shown.get_by_label("Structure").select_option(label="grey, below the rest")
    bench.app.until(lambda: bench.drawings()[0]["style"]["disciplines"] == {"structure": "grey"})
    shown.get_by_label("Structure").select_option(label="left out")
    bench.app.until(lambda: bench.drawings()[0]["cut"]["without_disciplines"] == ["structure"])
    assert bench.drawings()[0]["style"]["disciplines"] == {}
    page.keyboard.press("Shift+O")
    page.get_by_role("button", name="Edit structure").click()
    fields = page.get_by_role("group", name="Part structure")
    fields.get_by_label("East").fill("1.5")
    fields.get_by_label("East").press("Enter")
    fields.get_by_role("button", name="Move it there").click()
    bench.app.until(lambda: parts(bench.app, bench.project)[1]["place"]["x"] == 1.5)
    fields.get_by_role("button", name="Take it out of the model").click()
    fields.get_by_role("button", name="Yes, take it out").click()
    bench.app.until(lambda: len(parts(bench.app, bench.project)) == 1)
    expect(page.get_by_role("group", name="Disciplines")).to_have_count(0)
