"""Links by which somebody without an account looks at an issue or at sheets: no more, no longer, with a word."""

from __future__ import annotations

import pytest

from tests.conftest import Team
from tests.office import Caller, Office


@pytest.fixture(scope="module")
def sheets(team: Team) -> list[int]:
    """Two sheets with a drawing on them."""
    made = []
    plan = team.owner.call("GET", f"/api/projects/{team.project}/drawings").json[0]["id"]
    for _ in range(2):
        sheet = team.owner.call("POST", f"/api/projects/{team.project}/sheets", {}).json["id"]
        assert team.owner.call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": plan}).status == 201
        made.append(sheet)
    return made


@pytest.fixture(scope="module")
def issue(team: Team, office: Office, sheets: list[int]) -> int:
    wanted = {"form": "pdf", "sheets": sheets, "issue": {"code": "P01", "date": "2026-01-31", "purpose": "For comment"}}
    made = team.editor.call("POST", f"/api/projects/{team.project}/publications", wanted)
    assert made.status == 202, made.body
    ended = office.installation.until(
        lambda: (s := team.editor.call("GET", f"/api/publications/{made.json['id']}").json)["state"] == "ready" and s
    )
    return int(ended["issue_id"])


def link(caller: Caller, project: int, **said: object) -> dict:
    made = caller.call("POST", f"/api/projects/{project}/links", {"name": "For the client", **said})
    assert made.status == 201, made.body
    return made.json


def opened(office: Office, token: str, word: str = "") -> Caller:
    came = office.stranger()
    assert came.call("POST", "/api/link/open", {"token": token, "word": word}).status == 204
    return came


def test_a_link_leads_to_chosen_sheets_and_nothing_else(office: Office, team: Team, sheets: list[int]) -> None:
    made = link(team.editor, team.project, sheets=sheets[:1])
    came = opened(office, made["token"])
    seen = came.call("GET", "/api/session").json["link"]
    assert (seen["name"], [one["id"] for one in seen["sheets"]]) == ("For the client", sheets[:1])
    assert came.call("GET", f"/api/sheets/{sheets[0]}/view").status == 200
    assert came.call("GET", f"/api/sheets/{sheets[0]}/export.pdf").body.startswith(b"%PDF")
    assert came.call("GET", f"/api/sheets/{sheets[0]}/export.dxf").status == 403
    beyond = [
        ("GET", f"/api/sheets/{sheets[1]}/view"), ("GET", f"/api/projects/{team.project}"),
        ("GET", f"/api/projects/{team.project}/sheets"), ("GET", f"/api/sheets/{sheets[0]}/guides"),
        ("PATCH", f"/api/sheets/{sheets[0]}"), ("GET", f"/api/projects/{team.project}/links"),
    ]  # fmt: skip
    for method, path in beyond:
        answer = came.call(method, path, None if method == "GET" else {})
        assert answer.status == 404, path
    assert came.call("GET", "/api/projects").status == 403  # that there are projects is no secret


def test_a_link_leads_to_an_issue_as_it_was_issued(office: Office, team: Team, issue: int) -> None:
    came = opened(office, link(team.editor, team.project, issue=issue)["token"])
    issued = came.call("GET", "/api/session").json["link"]["sheets"]
    assert [one["issued"] for one in issued] == [True, True]
    for one in issued:
        assert came.call("GET", f"/api/issued-sheets/{one['id']}/view").status == 200
    assert came.call("GET", f"/api/issued-sheets/{issued[0]['id']}/file").body.startswith(b"%PDF")
    assert came.call("GET", f"/api/issues/{issue}/file").body.startswith(b"%PDF")
    assert came.call("GET", f"/api/issues/{issue}/changes").status == 404
    other = office.installation.one(f"SELECT min(id) FROM sheet WHERE project_id = {team.project}")[0]
    assert came.call("GET", f"/api/sheets/{other}/view").status == 404  # not as they are now


def test_a_link_ends_and_is_withdrawn_at_once(office: Office, team: Team, sheets: list[int]) -> None:
    made = link(team.editor, team.project, sheets=sheets)
    came = opened(office, made["token"])
    path = f"/api/sheets/{sheets[0]}/view"
    assert came.call("GET", path).status == 200
    assert team.editor.call("DELETE", f"/api/projects/{team.project}/links/{made['id']}").json["withdrawn"]
    assert came.call("GET", path).status == 401
    assert office.stranger().call("POST", "/api/link/open", {"token": made["token"]}).status == 404
    late = link(team.editor, team.project, sheets=sheets, days=1)
    looking = opened(office, late["token"])
    office.installation.execute(f"UPDATE shared_link SET ends_at = now() WHERE id = {late['id']}")
    assert looking.call("GET", path).status == 401
    listed = team.editor.call("GET", f"/api/projects/{team.project}/links").json
    assert [one["token"] for one in listed] == [""] * len(listed)  # told once
    assert team.reviewer.call("GET", f"/api/projects/{team.project}/links").status == 403


def test_a_word_is_asked_for_and_not_for_ever(office: Office, team: Team, sheets: list[int]) -> None:
    made = link(team.editor, team.project, sheets=sheets, word="samphire")
    came = office.stranger()
    assert came.call("POST", "/api/link/look", {"token": made["token"]}).json == {"worded": True}
    tries = [came.call("POST", "/api/link/open", {"token": made["token"], "word": f"no {n}"}) for n in range(11)]
    assert [one.status for one in tries] == [422] * 10 + [429]
    elsewhere = {"X-Forwarded-For": "8.8.8.8"}
    said = {"token": made["token"], "word": " samphire "}
    assert office.stranger().call("POST", "/api/link/open", said, **elsewhere).status == 204


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ({}, "either to an issue, or to chosen sheets"),
        ({"sheets": [2_000_000_000]}, "not in this project"),
        ({"issue": 2_000_000_000}, "not in this project"),
        ({"sheets": [1], "days": 0}, "days"),
        ({"sheets": [1], "name": " "}, "name"),
    ],
)
def test_a_link_to_nothing_is_refused(team: Team, said: dict, words: str) -> None:
    body = {"name": "For the client", **said}
    answer = team.editor.call("POST", f"/api/projects/{team.project}/links", body)
    assert answer.status == 422
    assert words in answer.json["message"]


def test_what_a_guessed_token_tells_is_nothing(office: Office) -> None:
    for path in ("/api/link/look", "/api/link/open", "/api/invitation/look"):
        assert office.stranger().call("POST", path, {"token": "A" * 43}).status == 404
