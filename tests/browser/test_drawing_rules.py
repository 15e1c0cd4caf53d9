"""Rules for new drawings in the interface: kept from a drawing, picked before a line is drawn, departed from, and back;
parts of particulars fold."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.pages.bench import Bench

FIRST, SECOND = ((2.0, -1.0), (2.0, 4.0), (0.5, 1.5)), ((4.0, -1.0), (4.0, 4.0), (2.5, 1.5))


def test_a_rule_is_kept_picked_departed_from_changed_and_gone_back_to(bench: Bench) -> None:
    page = bench.page
    bench.draw_section(*FIRST)
    page.get_by_label("Content").select_option("outline")
    bench.saved(lambda: bench.graphics()["content"] == "outline")
    part = page.get_by_role("group", name="Rule", exact=True)
    part.get_by_label("A new rule").fill("Working")
    part.get_by_role("button", name="Make", exact=True).click()
    expect(part.get_by_text("As “Working” says, in everything.")).to_be_visible()

    page.keyboard.press("c")
    expect(page.get_by_label("Rule for a new section")).to_contain_text("Working")
    page.keyboard.press("Escape")
    by_rule = bench.draw_section(*SECOND)
    assert (by_rule["style"]["content"], by_rule["rule"] != "") == ("outline", True)
    departs = part.get_by_label("Departs from its rule")
    page.get_by_label("Content").select_option("layers")
    expect(departs).to_contain_text("Content")
    part.get_by_role("button", name="Change “Working” by this").click()
    follows = page.get_by_role("group", name="What follows")
    expect(follows).to_contain_text("Section A")
    follows.get_by_role("button", name="Leave it").click()
    departs.get_by_role("button", name="Content: back to the rule").click()
    bench.saved(lambda: bench.graphics()["content"] == "outline")
    expect(departs.get_by_text("Content")).to_have_count(0)

    page.keyboard.press("c")
    page.get_by_label("Rule for a new section").select_option("none")
    page.keyboard.press("Escape")
    free = bench.draw_section((3.0, -1.0), (3.0, 4.0), (1.5, 1.5))
    assert (free["style"]["content"], free["rule"]) == ("auto", "")


def test_parts_fold_stay_as_left_and_are_found_in_the_index(bench: Bench) -> None:
    page = bench.page
    bench.draw_section(*FIRST)
    shows = page.get_by_role("group", name="What shows")
    shows.get_by_text("What shows").click()
    expect(shows.get_by_label("Through glass")).to_have_count(0)
    page.reload()
    bench.painted("Result")
    expect(shows.get_by_label("Through glass")).to_have_count(0)
    page.get_by_label("Index of particulars").click()
    heads = page.get_by_role("navigation", name="Parts of particulars")
    heads.get_by_role("button", name="What shows").click()
    expect(shows.get_by_label("Through glass")).to_be_in_viewport()
    page.get_by_label("Index of particulars").click()
    heads.get_by_role("button", name="Fold all", exact=True).click()
    expect(page.get_by_label("Content")).to_have_count(0)
