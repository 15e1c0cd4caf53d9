"""What is over is dropped after a while, and nothing else."""

from __future__ import annotations

from tests.conftest import Team
from tests.office import Office


def rows(office: Office) -> dict[str, int]:
    names = ("tries", "office_way", "signed_in", "invitation", "shared_link", "notice", "audit_entry")
    return {name: office.installation.rows(name) for name in names}


def test_what_is_over_goes_and_the_rest_stays(office: Office, team: Team) -> None:
    app, drop = office.installation, "from edge_slice.app.people.retention import drop_ended; drop_ended()"
    account = team.editor.call("GET", "/api/session").json["account"]
    team.owner.call("POST", f"/api/projects/{team.project}/invitations", {"mail": "new@curlew.example"})
    app.python(drop)
    before = rows(office)
    for days, notice in ((1, 1), (40, 200)):  # what has just ended, and what ended long ago
        ended = f"now() - interval '{days} days'"
        app.execute(
            f"INSERT INTO tries VALUES ('old {days}', 1, 1000);"
            'INSERT INTO office_way (token_hash, state, nonce, verifier, "to", ends_at)'
            f" VALUES ('way {days}', '', '', '', '/', {ended});"
            "INSERT INTO signed_in (token_hash, account_id, program, device, address, created_at, seen_at, ends_at)"
            f" VALUES ('device {days}', {account}, false, '', '', now(), now(), {ended});"
            "INSERT INTO invitation (token_hash, mail, role, created_at, ends_at)"
            f" VALUES ('invitation {days}', 'x', '', now(), {ended});"
            "INSERT INTO shared_link (token_hash, project_id, sheets, name, word, by_name, created_at, ends_at)"
            f" VALUES ('link {days}', {team.project}, '[]', '', '', '', now(), {ended});"
            "INSERT INTO notice (account_id, project_id, what, by, text, at)"
            f" VALUES ({account}, {team.project}, 'issue', '', '', now() - interval '{notice} days')"
        )
    app.python(drop)
    after = rows(office)
    stays = {"invitation": 1, "shared_link": 1, "notice": 1}  # those that ended a day ago
    assert {name: after[name] - before[name] for name in before} == {name: stays.get(name, 0) for name in before}
    assert team.editor.call("GET", f"/api/projects/{team.project}").status == 200  # who is signed in stays so
