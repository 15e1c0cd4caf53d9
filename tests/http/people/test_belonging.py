"""Who belongs to a project: invited, given roles, taken out; at once, and never without an owner."""

from __future__ import annotations

import json
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest

from tests.conftest import Team
from tests.office import PASSWORD, Caller, Office


@pytest.fixture
def project(office: Office, team: Team, untouched_hut: int) -> int:
    """One of its own for a test, which the office's owner owns."""
    number = office.installation.project_like(untouched_hut)
    office.installation.execute(
        f"INSERT INTO member (project_id, account_id, role, since) SELECT {number}, id, 'owner', now() FROM account"
        " WHERE mail = 'ada@curlew.example'"
    )
    return number


def people(caller: Caller, project: int) -> dict[str, tuple[int, str]]:
    told = caller.call("GET", f"/api/projects/{project}/people").json
    return {one["name"]: (one["account"], one["role"]) for one in told["members"]}


def test_somebody_is_invited_comes_in_and_is_let_edit(office: Office, project: int) -> None:
    mail = f"remy-{project}@curlew.example"
    made = office.owner.call("POST", f"/api/projects/{project}/invitations", {"mail": mail.upper(), "role": "reviewer"})
    token = made.json["token"]
    came = office.stranger()
    seen = came.call("POST", "/api/invitation/look", {"token": token}).json
    assert (seen["mail"], seen["role"], seen["by"]) == (mail, "reviewer", "Ada Owner")
    accepted = lambda password: came.call(  # noqa: E731
        "POST", "/api/invitation/accept", {"token": token, "name": "Remy", "password": password}
    )
    assert accepted("short").status == 422
    assert accepted(PASSWORD).status == 204
    assert came.call("GET", "/api/session").json["name"] == "Remy"
    assert came.call("GET", f"/api/projects/{project}").status == 200
    name = {"version": office.installation.version(f"/api/projects/{project}"), "name": "Ours"}
    assert came.call("PATCH", f"/api/projects/{project}", name).status == 403
    account = people(office.owner, project)["Remy"][0]
    edit = office.owner.call("PATCH", f"/api/projects/{project}/people/{account}", {"role": "editor"})
    assert edit.status == 200
    assert came.call("PATCH", f"/api/projects/{project}", name).status == 200
    steps = came.call("GET", f"/api/projects/{project}/history").json
    assert steps[0]["author"] == "Remy"  # by the account, whatever a browser says
    assert accepted(PASSWORD).status == 404  # it works once


def test_an_invitation_ends_and_is_taken_back(office: Office, project: int) -> None:
    path = f"/api/projects/{project}/invitations"
    late, back = (office.owner.call("POST", path, {"mail": f"{name}-{project}@x.example"}).json for name in ("a", "b"))
    listed = office.owner.call("GET", f"/api/projects/{project}/people").json["invited"]
    assert {one["id"] for one in listed} == {late["id"], back["id"]}
    office.installation.execute(f"UPDATE invitation SET ends_at = now() WHERE id = {late['id']}")
    assert office.owner.call("DELETE", f"{path}/{back['id']}").status == 204
    for one in (late, back):
        assert office.stranger().call("POST", "/api/invitation/look", {"token": one["token"]}).status == 404
    assert office.owner.call("GET", f"/api/projects/{project}/people").json["invited"] == []


def test_who_has_an_account_belongs_at_once(office: Office, team: Team, project: int) -> None:
    mail = next(one["mail"] for one in office.owner.call("GET", "/api/accounts").json if one["name"] == "Reviewer")
    assert team.reviewer.call("GET", f"/api/projects/{project}").status == 404
    made = office.owner.call("POST", f"/api/projects/{project}/invitations", {"mail": mail, "role": "editor"})
    assert made.json == {"id": None, "token": "", "mailed": False}
    assert team.reviewer.call("GET", f"/api/projects/{project}").status == 200
    twice = office.owner.call("POST", f"/api/projects/{project}/invitations", {"mail": mail, "role": "editor"})
    assert twice.status == 422
    assert "belongs to this project already" in twice.json["message"]


def test_a_project_keeps_an_owner(office: Office, project: int) -> None:
    me = people(office.owner, project)["Ada Owner"][0]
    path = f"/api/projects/{project}/people/{me}"
    for answer in (office.owner.call("PATCH", path, {"role": "editor"}), office.owner.call("DELETE", path)):
        assert answer.status == 422
        assert "A project has an owner" in answer.json["message"]
    other = office.member(project, "owner", "Second")
    assert other.call("DELETE", path).status == 200
    assert office.owner.call("GET", f"/api/projects/{project}").status == 404


def test_two_owners_who_leave_at_once_do_not_both_go(office: Office, project: int) -> None:
    other = office.member(project, "owner", "Second")
    found = people(other, project)
    paths = [f"/api/projects/{project}/people/{account}" for account, _ in found.values()]
    said: list[int] = []
    threads = [
        threading.Thread(target=lambda path=path: said.append(office.owner.call("DELETE", path).status))
        for path in paths
    ]  # fmt: skip
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(said) == [200, 422]
    assert len(office.installation.all(f"SELECT FROM member WHERE project_id = {project}")) == 1


def test_an_account_is_closed_but_not_the_last_that_sees_to_all(office: Office, team: Team, project: int) -> None:
    runs = [one for one in office.owner.call("GET", "/api/accounts").json if one["runs"]]
    assert [one["name"] for one in runs] == ["Ada Owner"]
    answer = office.owner.call("PATCH", f"/api/accounts/{runs[0]['id']}", {"closed": True})
    assert answer.status == 422
    alone = office.member(project, "owner", "Alone")
    me = people(alone, project)["Alone"][0]
    office.owner.call("DELETE", f"/api/projects/{project}/people/{runs[0]['id']}")
    owned = office.owner.call("PATCH", f"/api/accounts/{me}", {"closed": True})
    assert owned.status == 422
    assert "Nobody else owns the project" in owned.json["message"]
    second = office.member(project, "owner", "Helper")
    assert office.owner.call("PATCH", f"/api/accounts/{me}", {"closed": True}).status == 200
    assert alone.call("GET", "/api/projects").status == 401  # at once
    assert second.call("GET", f"/api/projects/{project}").status == 200
    mail = next(one["mail"] for one in office.owner.call("GET", "/api/accounts").json if one["id"] == me)
    assert office.stranger().sign_in(mail).status == 422
    assert office.owner.call("PATCH", f"/api/accounts/{me}", {"closed": False}).status == 200
    assert office.stranger().sign_in(mail).status == 200


def test_what_the_office_keeps_needs_its_right(office: Office, team: Team, project: int) -> None:
    drawings = office.owner.call("GET", f"/api/projects/{project}/drawings").json
    wanted = {"name": "Plans", "drawings": [drawings[0]["id"]]}
    keeper = office.member(project, "editor", "Keeper")
    path = f"/api/projects/{project}/starter-sets"
    refused = keeper.call("POST", path, wanted)
    assert refused.status == 403
    assert "office" in refused.json["message"]
    me = people(keeper, project)["Keeper"][0]
    assert office.owner.call("PATCH", f"/api/accounts/{me}", {"may_keep": True}).status == 200
    assert keeper.call("POST", path, wanted).status == 201


def test_who_makes_a_project_owns_it_and_others_may_not(office: Office, team: Team, hut_file: Path) -> None:
    send = office.installation.send_file
    maker = team.outsider
    assert send("/api/imports", "own.ifc", hut_file.read_bytes(), caller=maker).status == 403  # came for one project
    account = next(one["id"] for one in office.owner.call("GET", "/api/accounts").json if one["name"] == "Outsider")
    office.owner.call("PATCH", f"/api/accounts/{account}", {"may_make": True})
    sent = send("/api/imports", "own.ifc", hut_file.read_bytes(), caller=maker)
    assert sent.status == 202
    number = sent.json["id"]
    assert team.editor.call("GET", f"/api/imports/{number}").status == 404
    state = office.installation.until(
        lambda: (s := maker.call("GET", f"/api/imports/{number}").json)["state"] not in ("waiting", "reading") and s
    )
    project = state["project_id"]
    assert people(maker, project) == {"Outsider": (people(maker, project)["Outsider"][0], "owner")}
    assert team.editor.call("GET", f"/api/projects/{project}").status == 404
    foreign = send("/api/imports", "newer.ifc", hut_file.read_bytes(), caller=team.editor, into=str(project))
    assert foreign.status == 404
    looks = send("/api/imports", "newer.ifc", hut_file.read_bytes(), caller=team.reviewer, into=str(team.project))
    assert looks.status == 403


def test_the_audit_list_tells_and_can_not_be_changed(office: Office, project: int) -> None:
    came = office.member(project, "reviewer", "Audited")
    told = [(one["who"], one["act"]) for one in office.owner.call("GET", f"/api/projects/{project}/audit").json]
    assert ("Audited", "accepted an invitation") in told
    assert ("Ada Owner", "invited as reviewer") in told
    assert came.call("GET", f"/api/projects/{project}/audit").status == 403
    for change in ("UPDATE audit_entry SET who = 'nobody'", "DELETE FROM audit_entry", "TRUNCATE audit_entry"):
        with pytest.raises(Exception, match="only added to"):
            office.installation.execute(change)


class Listener:
    """A window of somebody's that hears of a project."""

    def __init__(self, office: Office, caller: Caller, project: int) -> None:
        url = f"http://127.0.0.1:{office.events_port}/api/events?projects={project}"
        held = "; ".join(f"{name}={value}" for name, value in caller.held.items())
        self.heard: list[dict] = []
        self.ended = threading.Event()
        self.stream = urllib.request.urlopen(urllib.request.Request(url, headers={"Cookie": held}), timeout=60)
        threading.Thread(target=self._read, daemon=True).start()

    def _read(self) -> None:
        for line in self.stream:
            if line.startswith(b"data: "):
                self.heard.append(json.loads(line[6:]))
        self.ended.set()


@pytest.fixture
def listening(office: Office) -> None:
    def answers() -> bool:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{office.events_port}/api/events", timeout=5)
        except urllib.error.HTTPError as error:
            return error.code == 401  # a stranger hears nothing
        except OSError:
            return False
        return False

    office.installation.until(answers)


@pytest.mark.usefixtures("listening")
def test_windows_hear_of_their_own_projects_and_end_with_the_right(office: Office, team: Team, project: int) -> None:
    inside = office.member(project, "editor", "Inside")
    hears, nosy = Listener(office, inside, project), Listener(office, team.outsider, project)
    drawing = office.owner.call("GET", f"/api/projects/{project}/drawings").json[0]

    def rename() -> None:
        version = office.installation.version(f"/api/drawings/{drawing['id']}")
        office.owner.call("PATCH", f"/api/drawings/{drawing['id']}", {"version": version, "name": f"N{time.time_ns()}"})

    rename()
    office.installation.until(lambda: [one for one in hears.heard if one["project"] == project])
    account = people(office.owner, project)["Inside"][0]
    assert office.owner.call("DELETE", f"/api/projects/{project}/people/{account}").status == 200
    assert hears.ended.wait(10)
    again, owner = Listener(office, inside, project), Listener(office, office.owner, project)
    rename()
    office.installation.until(lambda: [one for one in owner.heard if one["project"] == project])
    assert [one for one in again.heard + nosy.heard if one["project"] == project] == []
