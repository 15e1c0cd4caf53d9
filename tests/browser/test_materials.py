"""The materials of a model in the window: unclear ones first, said one by one, several at once, and by pointing."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, Route, expect

from tests.http.models.test_materials import named_hut as named_hut
from tests.http.models.test_materials import project as project
from tests.installation import Installation


def said(app: Installation, number: int) -> dict[str, Any]:
    found: dict[str, Any] = app.call("GET", f"/api/projects/{number}").json["materials"]
    return found


def test_materials_are_settled_and_taken_back(
    page: Page, installation: Installation, project: int, named_hut: Path
) -> None:
    page.goto(f"/projects/{project}")
    page.get_by_label("Source", exact=True).locator("canvas[data-painted=yes]").first.wait_for()
    button = page.get_by_role("button", name="Materials of the model")
    expect(button).to_have_text("1")  # not clear: told before anybody asks
    button.click()
    panel = page.get_by_role("complementary", name="Materials")
    expect(panel).to_contain_text("1 of 3 are not clear")
    expect(panel.get_by_role("row").nth(1)).to_contain_text("ZZ-17 type 4")
    expect(panel.get_by_role("img", name="Where ZZ-17 type 4 lies")).to_be_visible()
    panel.get_by_label("What ZZ-17 type 4 is").select_option("brick")
    installation.until(lambda: said(installation, project) == {"ZZ-17 type 4": "brick"})
    expect(panel).to_contain_text("All 3 are clear")
    expect(button).to_have_text("")
    panel.get_by_role("button", name="As the file says: ZZ-17 type 4").click()
    installation.until(lambda: said(installation, project) == {})
    expect(panel.get_by_role("row").nth(1)).to_contain_text("not known")
    panel.get_by_role("checkbox").first.click()
    panel.get_by_role("checkbox").last.click(modifiers=["Shift"])
    expect(panel).to_contain_text("3 chosen are")
    panel.get_by_label("What the chosen ones are").select_option("timber")
    installation.until(lambda: set(said(installation, project).values()) == {"timber"})
    assert len(said(installation, project)) == 3
    panel.get_by_role("link", name="Where ZZ-17 type 4 is").click()
    picked = page.get_by_role("group", name="Picked")
    expect(picked).to_contain_text("ZZ-17 type 4", timeout=60_000)
    picked.get_by_role("button", name="Say what").click()
    picked.get_by_label("What it is").select_option("concrete")
    installation.until(lambda: said(installation, project)["ZZ-17 type 4"] == "concrete")
    picked.get_by_label("Where this is said").select_option("in this element alone")
    picked.get_by_label("How it is hatched").select_option("sand")
    expect(picked).to_contain_text("By us in this element alone: hatched as sand")
    button.click()
    here = panel.get_by_role("region", name="In single places")
    expect(here).to_contain_text("hatched as sand")
    here.get_by_role("button", name="As the file says").click()
    expect(here).to_be_hidden()
    expect(picked).not_to_contain_text("hatched as sand")
    installation.until(lambda: installation.call("GET", f"/api/projects/{project}").json["materials_here"] == [])


def test_words_of_a_language_are_edited_and_tried_on_the_model(
    page: Page, installation: Installation, project: int, named_hut: Path
) -> None:
    page.goto(f"/projects/{project}/standards/fine-line")
    held: list[Route] = []
    page.route("**/standards", lambda route: held.append(route) if route.request.method == "POST" else route.fallback())
    page.get_by_role("button", name="Copy to edit").click()
    page.get_by_role("tab", name="Words").click()
    tried = page.get_by_role("region", name="Tried on the model")
    expect(tried).to_contain_text("Of 1 of 3 materials no word says what they are.")
    page.get_by_label("Words in").select_option("German")
    words = page.get_by_label("Words for board", exact=True)
    expect(words).to_have_value("spanplatte, faserplatte, holzfaserplatte, hartfaser")
    held[0].continue_()  # the copy opens later than the language was chosen
    expect(page).to_have_url(re.compile("/standards/own-"))
    expect(words).to_have_value("spanplatte, faserplatte, holzfaserplatte, hartfaser")
    words.fill("Spanplatte, ZZ")
    words.blur()
    expect(tried).to_contain_text("Words say what all 3 materials are.")
    expect(tried).to_contain_text("by “zz”")
    expect(words).to_have_value("spanplatte, zz")

    def kept() -> list[str]:
        standards = installation.call("GET", f"/api/projects/{project}/standards").json
        found: list[str] = standards[-1]["document"]["materials"]["board"]["words"]
        return found

    installation.until(lambda: "zz" in kept())
    assert {"mdf", "spanplatte"} <= set(kept())
    assert "hartfaser" not in kept()
