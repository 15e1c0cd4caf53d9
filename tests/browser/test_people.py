"""People in the interface: the way in, an invitation, roles that end while a window is open, a link for others."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.pages.stillness import COUNTING, rests
from tests.browser.test_accessibility import AXE
from tests.conftest import Team
from tests.office import PASSWORD, Caller, Office

OpenOne = Callable[[], BrowserContext]


def window(open_one: OpenOne, caller: Caller | None = None) -> Page:
    """A window of somebody who is signed in, or of a stranger."""
    context = open_one()
    context.add_init_script(COUNTING)
    for name, value in (caller.held if caller else {}).items():
        context.add_cookies([{"name": name, "value": value, "url": caller.url}])  # type: ignore[union-attr]
    return context.new_page()


def test_somebody_signs_in_and_out_with_a_one_time_code(office: Office, team: Team, new_browser: OpenOne) -> None:
    invited = office.owner.call("POST", f"/api/projects/{team.project}/invitations", {"mail": "bo@curlew.example"})
    page = window(new_browser)
    page.goto(f"{office.url}/invitation#{invited.json['token']}")
    expect(page.get_by_text("Ada Owner invites you: you may look at everything, and remark.")).to_be_visible()
    page.get_by_label("Your name").fill("Bo")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Make my account").click()
    expect(page.get_by_role("alert")).to_contain_text("12 to 128 characters")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Make my account").click()
    expect(page.get_by_text("looking", exact=True)).to_be_visible()
    page.get_by_label("You are Bo").click()
    page.get_by_role("link", name="Your account").click()
    page.get_by_role("button", name="Set up one-time codes").click()
    secret = page.get_by_text(re.compile("^[A-Z2-7]{32}$")).inner_text()
    page.get_by_label("Its code").fill(_code(secret))
    page.get_by_label("Your password").fill(PASSWORD)
    page.get_by_role("button", name="Ask for a code from now on").click()
    codes = page.get_by_text(re.compile("^([0-9a-f]{5}-[0-9a-f]{5}\\s*){10}$")).inner_text().split()
    page.get_by_label("You are Bo").click()
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("Mail address").fill("bo@curlew.example")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_label("One-time code").fill(codes[0])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Your account")).to_be_visible()  # where one was
    expect(page.get_by_text("9 of your recovery codes are left")).to_be_visible()


def _code(secret: str) -> str:
    import pyotp

    return pyotp.TOTP(secret).now()


def test_a_role_that_is_taken_away_ends_an_open_window_at_once(
    office: Office, team: Team, new_browser: OpenOne
) -> None:
    leaving = office.member(team.project, "editor", "Leaving")
    page = window(new_browser, leaving)
    page.goto(f"{office.url}/projects/{team.project}")
    expect(page.get_by_role("navigation", name="Benches")).to_be_visible()
    owner = window(new_browser, team.owner)
    owner.goto(f"{office.url}/projects/{team.project}/people")
    owner.get_by_label("Role of Leaving").select_option("reviewer")
    expect(page.get_by_text("looking", exact=True)).to_be_visible()
    owner.get_by_role("button", name="Take out Leaving").click()
    expect(page.get_by_role("alert")).to_contain_text("not there any more")


def test_a_link_with_a_word_shows_its_sheets_until_it_is_withdrawn(
    office: Office, team: Team, new_browser: OpenOne
) -> None:
    plan = team.owner.call("GET", f"/api/projects/{team.project}/drawings").json[0]["id"]
    sheet = team.owner.call("POST", f"/api/projects/{team.project}/sheets", {"title": "For you"}).json
    team.owner.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": plan})
    page = window(new_browser, team.editor)
    page.goto(f"{office.url}/projects/{team.project}/people")
    expect(page.get_by_label("Role of Owner")).to_have_count(0)  # an editor says nothing of roles
    page.get_by_label("For whom").fill("The client")
    page.get_by_label("A word to be said first").fill("samphire")
    page.get_by_role("checkbox", name="For you").check()
    page.get_by_role("button", name="Make the link").click()
    address = page.get_by_text(re.compile("/link#")).inner_text()
    guest = window(new_browser)
    guest.goto(address)
    guest.get_by_label("The word that you were told").fill("sapphire")
    guest.get_by_role("button", name="Look").click()
    expect(guest.get_by_role("alert")).to_contain_text("not the word")
    guest.get_by_label("The word that you were told").fill("samphire")
    guest.get_by_role("button", name="Look").click()
    expect(guest.get_by_role("navigation", name="Sheets").get_by_role("button")).to_have_count(1)
    expect(guest.get_by_role("main", name=re.compile("For you")).locator("canvas").first).to_be_visible()
    page.get_by_role("button", name="Withdraw The client").click()
    expect(page.get_by_role("button", name="Withdraw The client")).to_have_count(0)
    guest.reload()
    expect(guest.get_by_role("heading", name="Sign in")).to_be_visible()


@pytest.mark.parametrize("theme", ["film-day", "film-night"])
@pytest.mark.parametrize("where", ["sign in", "people", "account", "accounts", "invitation"])
def test_pages_of_people_are_accessible(
    office: Office, team: Team, new_browser: OpenOne, where: str, theme: str
) -> None:
    token = ""
    if where == "invitation":
        mail = f"axe-{theme}@curlew.example"
        invited = office.owner.call("POST", f"/api/projects/{team.project}/invitations", {"mail": mail})
        token = invited.json["token"]
    paths = {"people": f"/projects/{team.project}/people", "account": "/account", "accounts": "/accounts",
             "sign in": "/", "invitation": f"/invitation#{token}"}  # fmt: skip
    callers = {"people": team.owner, "account": team.owner, "accounts": office.owner}
    page = window(new_browser, callers.get(where))
    page.add_init_script(f"localStorage.setItem('edge-slice theme', '{theme}')")
    page.goto(office.url + paths[where])
    page.get_by_role("heading", level=1).wait_for()
    rests(page)
    page.evaluate(AXE.read_text())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    assert [v["id"] for v in found["violations"] if v["impact"] in ("serious", "critical")] == []
