"""Notices of what concerns somebody, in the application and by mail; invitations by mail."""

from __future__ import annotations

import json
import re
import urllib.request
from dataclasses import replace
from typing import Any

import pytest

from tests.conftest import Team
from tests.http.people.test_rights import project_of
from tests.office import PASSWORD, Caller, Office


@pytest.fixture(scope="module")
def team(team: Team, office: Office, untouched_hut: int) -> Team:
    """The same people in a project that no other test looks into."""
    return replace(team, project=project_of(office, untouched_hut, Owner="owner", Editor="editor", Reviewer="reviewer"))


def drawing_of(team: Team) -> int:
    return int(team.owner.call("GET", f"/api/projects/{team.project}/drawings").json[0]["id"])


def remark(by: Caller, team: Team, text: str, to: str = "") -> dict[str, Any]:
    body = {"drawing": drawing_of(team), "at": [0, 0], "text": text, "to": to}
    made = by.call("POST", f"/api/projects/{team.project}/remarks", body)
    assert made.status == 201, made.body
    found: dict[str, Any] = made.json
    return found


def told(caller: Caller) -> list[tuple[str, str]]:
    return [(one["what"], one["text"]) for one in caller.call("GET", "/api/notices").json]


def mail_of(caller: Caller) -> str:
    return str(caller.call("GET", "/api/account").json["mail"])


def test_a_remark_is_told_to_whom_it_is_and_what_becomes_of_it_to_who_made_it(office: Office, team: Team) -> None:
    made = remark(team.reviewer, team, "The sill lies too low.", to="editor")
    assert ("remark", "The sill lies too low.") in told(team.editor)
    assert "The sill lies too low." not in str(told(team.owner))  # it is to the editor
    assert "The sill lies too low." not in str(told(team.reviewer))  # who made it knows
    team.editor.call("POST", f"/api/remarks/{made['id']}/answers", {"text": "Raised.", "state": "answered"})
    assert told(team.reviewer)[0] == ("answer", "Raised.")
    now = team.editor.call("GET", f"/api/projects/{team.project}/remarks").json[0]
    team.editor.call("PATCH", f"/api/remarks/{made['id']}", {"version": now["version"], "state": "done"})
    assert told(team.reviewer)[0] == ("done", "The sill lies too low.")
    assert told(team.outsider) == []


def test_a_remark_to_nobody_is_told_to_who_may_do_something_about_it(team: Team) -> None:
    remark(team.reviewer, team, "Who sees to the drain?")
    for caller in (team.owner, team.editor):
        assert told(caller)[0] == ("remark", "Who sees to the drain?")


def test_notices_are_seen_once_and_gone_with_their_project(office: Office, team: Team) -> None:
    came = office.member(team.project, "editor", "Passing")
    remark(team.reviewer, team, "One.")
    remark(team.reviewer, team, "Two.")
    two, one = came.call("GET", "/api/notices").json
    assert came.call("POST", "/api/notices/seen", {"last": one["id"]}).status == 204
    assert [n["seen"] for n in came.call("GET", "/api/notices").json] == [False, True]
    number = came.call("GET", "/api/session").json["account"]
    assert two["id"] > one["id"]
    team.owner.call("DELETE", f"/api/projects/{team.project}/people/{number}")
    assert told(came) == []  # of a project that they belong to no more


def test_a_window_hears_of_its_own_notices_alone(office: Office, team: Team) -> None:
    address = f"http://127.0.0.1:{office.events_port}/api/events?projects=&after=&age=0"
    cookie = "; ".join(f"{k}={v}" for k, v in team.editor.held.items())
    asked = urllib.request.Request(address, headers={"Cookie": cookie, "Origin": office.url})
    with urllib.request.urlopen(asked, timeout=30) as stream:
        remark(team.reviewer, team, "To the owner.", to="Owner")
        remark(team.reviewer, team, "To the editor.", to="Editor")
        heard = next(said for line in stream if line.startswith(b"data:") for said in [json.loads(line[5:])]
                     if said["what"] == "notices")  # fmt: skip
    assert heard["account"] == team.editor.call("GET", "/api/session").json["account"]


def test_a_notice_comes_by_mail_unless_its_account_wants_none(office: Office, team: Team) -> None:
    wants, none = (office.member(team.project, "editor", name) for name in ("Letters", "Quiet"))
    assert none.call("PATCH", "/api/account", {"mails": False}).json["mails"] is False
    remark(team.reviewer, team, "The gutter\nmeets the rail.")
    letter = office.letters.letter_to(mail_of(wants), "Reviewer remarked")
    assert letter.get_content().splitlines()[2:4] == ["The gutter", "meets the rail."]
    assert f"/projects/{team.project}" in letter.get_content()
    left = "SELECT count(*) FROM procrastinate_jobs WHERE queue_name = 'mail' AND status IN ('todo', 'doing')"
    office.installation.until(lambda: office.installation.one(left) == (0,))
    assert mail_of(none) not in [one["To"] for one in office.letters.letters if "invitation" not in one["Subject"]]
    mailed = office.installation.all(
        "SELECT a.name FROM notice AS n JOIN account AS a ON a.id = n.account_id"
        " WHERE n.text LIKE 'The gutter%' AND n.mailed_at IS NOT NULL"
    )
    assert ("Letters",) in mailed
    assert ("Quiet",) not in mailed


def test_an_invitation_comes_by_mail_and_lets_in_who_holds_it(office: Office, team: Team) -> None:
    mail = "invited-by-mail@curlew.example"
    made = team.owner.call("POST", f"/api/projects/{team.project}/invitations", {"mail": mail, "role": "reviewer"})
    assert made.json["mailed"] is True
    said = office.letters.letter_to(mail, "invitation").get_content()
    token = re.search(r"/invitation#(\S+)", said)
    assert token is not None
    came = office.stranger()
    body = {"token": token[1], "name": "Mailed", "password": PASSWORD}
    assert came.call("POST", "/api/invitation/accept", body).status == 204
    assert came.call("GET", f"/api/projects/{team.project}").status == 200
