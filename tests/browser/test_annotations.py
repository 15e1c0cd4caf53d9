"""Annotating, touching up and following a newer model through the real interface."""

from __future__ import annotations

import re
from pathlib import Path

import ifcopenshell
import pytest
from playwright.sync_api import Route, expect

from tests.browser.pages.bench import Bench
from tests.browser.pages.stillness import rests
from tests.browser.test_workbench import add
from tests.http.annotating.acts import listed, touched, words
from tests.http.models.test_revisions import higher


@pytest.fixture
def section(bench: Bench) -> dict:
    """Across the hut: walls from 1.0 to 1.2 and from 3.8 to 4.0 m, 2.5 m high."""
    made = add(bench, [[2, -1], [2, 4]])
    expect(bench.page.get_by_label("Result", exact=True).get_by_role("heading")).to_have_text(made["title"])
    bench.painted("Result")
    rests(bench.page)
    return made


def tool(bench: Bench, keys: str, hint: str) -> None:
    bench.page.keyboard.press(keys)
    expect(bench.page.get_by_text(hint).first).to_be_visible()
    rests(bench.page)  # what can be tied to is on its way


def click(bench: Bench, section: dict, u: float, v: float, **more: object) -> None:
    bench.page.mouse.click(*bench.spot_in("Result", section, u, v), **more)  # type: ignore[arg-type]


def painted(bench: Bench, count: int) -> None:
    expect(bench.page.get_by_label("Result", exact=True).locator(f"canvas[data-annotations='{count}']")).to_be_visible()


def add_note(bench: Bench, section: dict, text: str) -> dict:
    before = len(listed(bench.app, section))
    tool(bench, "Shift+N", "Click what the note is about.")
    click(bench, section, 1.0, 2.5)
    click(bench, section, 1.6, 3.0)
    field = bench.page.get_by_label("Words of the note")
    expect(field).to_be_focused()
    field.fill(text)
    field.press("Enter")
    bench.saved(lambda: len(listed(bench.app, section)) > before)
    bench.page.keyboard.press("Escape")
    return listed(bench.app, section)[-1]


def test_a_note_is_placed_reworded_moved_and_undone(bench: Bench, section: dict) -> None:
    page = bench.page
    made = add_note(bench, section, "Flashing")
    assert made["document"]["anchors"][0]["to"] == "corner"
    assert made["held"][0]["at"] == [1000, 2500]
    painted(bench, 1)
    x, y = bench.spot_in("Result", section, 1.7, 3.0)
    page.mouse.dblclick(x, y)
    field = page.get_by_label("Words of the note")
    expect(field).to_have_value("Flashing")
    field.fill("Flashing, welted")
    field.press("Enter")
    bench.saved(lambda: words(listed(bench.app, section)[0]) == ["Flashing, welted"])
    page.mouse.click(x, y)
    expect(page.get_by_role("button", name="note: move")).to_be_visible()
    before = listed(bench.app, section)[0]["document"]["points"][0]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y - 20, steps=4)
    page.mouse.up()
    bench.saved(lambda: listed(bench.app, section)[0]["document"]["points"][0][0] > before[0] + 50)
    page.keyboard.press("Control+z")
    bench.saved(lambda: listed(bench.app, section)[0]["document"]["points"][0] == before)
    page.mouse.click(x, y)
    page.keyboard.press("Backspace")
    bench.saved(lambda: listed(bench.app, section) == [])


def test_a_chain_is_clicked_on_corners_and_measures_them(bench: Bench, section: dict) -> None:
    page = bench.page
    tool(bench, "Shift+D", "Click corners, ends")
    for u in (1.0, 1.2, 3.8, 4.0):
        x, y = bench.spot_in("Result", section, u, 2.5)
        page.mouse.move(x, y)
        expect(page.locator("[data-snap]").first).to_be_visible()
        page.mouse.click(x, y)
    click(bench, section, 2.0, 3.2)
    bench.saved(lambda: listed(bench.app, section))
    (made,) = listed(bench.app, section)
    assert words(made) == ["200", "2600", "200"]
    assert made["document"]["direction"] == 0
    page.keyboard.press("Escape")
    click(bench, section, 2.5, 3.2)
    page.get_by_label("Value 2").fill("ca. 2600")
    page.get_by_label("Value 2").press("Enter")
    bench.saved(lambda: words(listed(bench.app, section)[0])[1] == "ca. 2600")
    expect(page.get_by_text("typed by hand")).to_be_visible()
    page.get_by_label("Witness line 2 starts further off", exact=True).fill("3")
    page.get_by_label("Witness line 2 starts further off", exact=True).press("Enter")
    bench.saved(lambda: [w["start"] for w in listed(bench.app, section)[0]["document"]["witness"]] == [3])
    page.get_by_label("Witness line 1", exact=True).click()
    bench.saved(lambda: len([p for p in listed(bench.app, section)[0]["paths"] if p["role"] == "witness line"]) == 3)


def test_lines_areas_and_symbols_are_drawn(bench: Bench, section: dict) -> None:
    page = bench.page
    tool(bench, "Shift+I", "Click where the line begins.")
    page.get_by_label("Line type").last.select_option("foul drain")
    click(bench, section, 1.5, 0.5)
    click(bench, section, 2.5, 0.5)
    click(bench, section, 2.5, 1.5)
    page.keyboard.press("Enter")
    bench.saved(lambda: len(listed(bench.app, section)) == 1)
    tool(bench, "Shift+A", "Click a corner of the area.")
    page.get_by_label("Form").last.select_option("rectangle")
    page.get_by_label("Hatch").last.select_option("brick")
    click(bench, section, 1.6, 1.8)
    click(bench, section, 2.2, 2.2)
    bench.saved(lambda: len(listed(bench.app, section)) == 2)
    tool(bench, "Shift+Y", "Click where the symbol stands.")
    page.get_by_label("Symbol").last.select_option("grade")
    click(bench, section, 2.8, 1.0)
    bench.saved(lambda: len(listed(bench.app, section)) == 3)
    page.keyboard.press("Escape")
    painted(bench, 3)
    line, area, symbol = listed(bench.app, section)
    assert line["document"]["points"][1] == pytest.approx([2500, 500], abs=15)
    assert {t["text"] for t in line["texts"]} == {"F"}
    assert any(p["role"] == "hatch" for p in area["paths"])
    assert symbol["document"]["symbol"] == "grade"


def test_a_window_chooses_several_which_are_aligned_and_copied(bench: Bench, section: dict) -> None:
    page = bench.page
    path = f"/api/drawings/{section['id']}/annotations"
    for k in range(3):
        spot = {"at": [1000, 2500], "reach": 5}
        document = {"kind": "note", "text": f"Note {k}", "leaders": False, "points": [[1500 + 90 * k, 800 + 300 * k]]}
        bench.app.call("POST", path, {"spots": [spot], "document": document})
    painted(bench, 3)
    page.mouse.move(*bench.spot_in("Result", section, 1.4, 0.6))
    page.mouse.down()
    page.mouse.move(*bench.spot_in("Result", section, 3.6, 1.7), steps=5)
    page.mouse.up()
    page.get_by_role("button", name="left", exact=True).click()
    bench.saved(lambda: len({a["document"]["points"][0][0] for a in listed(bench.app, section)}) == 1)
    page.get_by_label("Copy to another drawing").select_option(label="Ground plan")
    plan = next(d for d in bench.drawings() if d["title"] == "Ground plan")
    bench.saved(lambda: len(listed(bench.app, plan)) == 3)


def test_what_is_added_while_the_first_answer_is_under_way_is_shown(bench: Bench, section: dict) -> None:
    path = f"/api/drawings/{section['id']}/annotations"

    def note(k: int) -> None:
        spot = {"at": [1000, 2500], "reach": 5}
        document = {"kind": "note", "text": f"Note {k}", "leaders": False, "points": [[1500, 800 + 300 * k]]}
        assert bench.app.call("POST", path, {"spots": [spot], "document": document}).status == 201

    answers = []

    def late(route: Route) -> None:
        if not answers:
            answers.append(route.fetch())
            note(2)  # in another window, after this one's answer was read
            bench.page.wait_for_timeout(700)  # and it was told of it before the answer came
            route.fulfill(response=answers[0])
        else:
            route.continue_()

    bench.page.route(f"**{path}", late)
    note(1)
    painted(bench, 2)


def test_sets_are_placed_with_one_click(bench: Bench, section: dict) -> None:
    page = bench.page
    page.get_by_role("button", name="Level dimensions").click()
    expect(page.get_by_text("There is nothing for this set here.")).to_be_visible()  # one storey has no distance
    page.get_by_label("Find words in all drawings").fill("nowhere")
    page.get_by_label("Find words in all drawings").press("Enter")
    expect(page.get_by_text("No annotation says so.")).to_be_visible()


def test_linework_is_touched_up_ghosted_and_taken_back(bench: Bench, section: dict) -> None:
    page = bench.page
    before = bench.view_head(section["id"])
    tool(bench, "Shift+H", "Click a line, or drag a window")
    click(bench, section, 1.1, 2.5)
    bench.saved(lambda: len(touched(bench.app, section)) == 1)
    page.mouse.move(*bench.spot_in("Result", section, 3.7, -0.1))
    page.mouse.down()
    page.mouse.move(*bench.spot_in("Result", section, 4.1, 2.6), steps=4)
    page.mouse.up()
    bench.saved(lambda: len(touched(bench.app, section)) == 2)
    page.keyboard.press("Escape")
    head = bench.view_head(section["id"])
    assert sum(i["points"] for i in head["items"]) < sum(i["points"] for i in before["items"])
    page.keyboard.press("Shift+W")
    expect(page.get_by_label("Result", exact=True).locator("[data-ghosts='2'] polyline").first).to_be_attached()
    page.get_by_role("button", name=re.compile("^Take back: 1 line")).click()
    expect(page.get_by_role("button", name=re.compile("^Take back"))).to_have_count(1)
    page.get_by_role("button", name=re.compile("^Take back")).click()
    bench.saved(lambda: touched(bench.app, section) == [])
    assert bench.view_head(section["id"])["items"] == before["items"]


def test_a_newer_model_is_read_compared_and_settled(bench: Bench, section: dict, hut_file: Path) -> None:
    page = bench.page
    note = add_note(bench, section, "At the edge")
    other = add_note(bench, section, "At the same edge")
    file = ifcopenshell.open(str(hut_file))
    higher(file)
    newer = hut_file.with_name("hut-2.ifc")
    file.write(str(newer))
    page.get_by_role("button", name=re.compile("^Revision 1")).click()
    page.get_by_label("Newer file of the model").set_input_files(str(newer))
    proposal = page.get_by_label("Newer file hut-2.ifc")
    expect(proposal).to_contain_text("1 changed")
    expect(proposal).to_contain_text("1 wall on Ground")
    proposal.get_by_role("button", name="Take this revision").click()
    expect(page.get_by_role("button", name=re.compile("^Revision 2"))).to_be_visible()
    near = page.get_by_label("Near and lost")
    expect(near).to_contain_text("2 to be settled")
    expect(near).to_contain_text("note At the edge")
    together = page.get_by_label("Moved together")
    expect(together).to_contain_text(re.compile("2 moved together by .*500.* along z, in 1 drawing"))
    expect(together.locator("canvas[data-painted=yes]")).to_be_visible()
    together.get_by_role("button", name="Accept all 2").click()
    expect(near).to_contain_text("Everything is where the model has it.")
    assert listed(bench.app, section)[0]["held"][0]["at"] == [1000, 3000]
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_label("Compare with").select_option("1")
    places = page.get_by_label("Changed places")
    expect(places).to_contain_text("changed South")
    places.get_by_role("button").first.click()
    page.get_by_role("button", name=re.compile("^Place revision marks")).click()
    bench.saved(lambda: len(listed(bench.app, section)) == 3)
    mark = next(a for a in listed(bench.app, section) if a["id"] not in (note["id"], other["id"]))
    assert mark["document"]["form"] == "cloud"
