"""What costs much may be asked for so often by one account, however much others ask for."""

from __future__ import annotations

from edge_slice.app.people.costs import Cost
from tests.conftest import Team
from tests.office import Office


def counted(office: Office, account: int, cost: Cost, count: int) -> None:
    """As though somebody had asked for that so often."""
    office.installation.execute(
        f"UPDATE tries SET count = {count} WHERE key LIKE '%account {account}%{cost.name}%' AND ends_at > 0"
    )


def test_files_and_sets_are_limited_by_account(office: Office, team: Team) -> None:
    came, other = (office.member(team.project, "editor", name) for name in ("Busy", "Calm"))
    number = came.call("GET", "/api/session").json["account"]
    drawing = came.call("GET", f"/api/projects/{team.project}/drawings").json[0]["id"]
    file, recut = f"/api/drawings/{drawing}/export.svg", f"/api/projects/{team.project}/recut"
    assert came.call("GET", file).status == 200
    assert came.call("POST", recut).status == 202
    for cost in Cost:
        counted(office, number, cost, int(cost.value.split()[0]))
    refused = came.call("GET", file)
    assert refused.status == 429
    assert 0 < int(refused.headers["Retry-After"]) <= 60
    assert came.call("POST", recut).status == 429
    assert came.call("GET", f"/api/drawings/{drawing}/view").status == 200  # what one looks at is not counted
    assert other.call("GET", file).status == 200
    assert office.installation.call("GET", file).status == 200  # where nobody signs in nobody is counted


def test_an_account_sends_so_much_a_day(office: Office, team: Team, hut_file) -> None:
    came = office.member(team.project, "owner", "Sender")
    said = {"into": str(team.project)}
    send = lambda: office.installation.send_file("/api/imports", "hut.ifc", hut_file.read_bytes(), came, **said)  # noqa: E731
    assert send().status == 422  # it is in use already, but it was sent
    number = came.call("GET", "/api/session").json["account"]
    office.installation.execute(f"UPDATE tries SET count = 20000 WHERE key LIKE '%account {number}%upload%'")
    refused = send()
    assert refused.status == 429
    assert "20000 MB of models a day" in refused.json["message"]
