"""Signing in: by password, with one-time codes, by a program; kept, ended, and tried too often."""

from __future__ import annotations

import re
import subprocess
import sys
import time

import pyotp
import pytest

from tests.conftest import Team
from tests.installation import Installation
from tests.office import PASSWORD, Caller, Office


def new_account(office: Office, name: str = "Noor") -> tuple[Caller, str]:
    """Somebody who belongs to no project, and their mail address."""
    mail = f"{name.lower()}-{time.time_ns()}@curlew.example"
    token = office.owner.call("POST", "/api/invitations", {"mail": mail}).json["token"]
    came = office.stranger()
    said = {"token": token, "name": name, "password": PASSWORD}
    assert came.call("POST", "/api/invitation/accept", said).status == 204
    return came, mail


def test_nothing_is_told_to_whoever_has_not_signed_in(office: Office, team: Team) -> None:
    stranger = office.stranger()
    assert stranger.call("GET", "/api/projects").status == 401
    assert stranger.call("GET", f"/api/projects/{team.project}").status == 401
    told = stranger.call("GET", "/api/session").json
    assert told["signing_in"]
    assert not told["signed_in"]
    assert stranger.call("GET", "/").status == 200  # the page to sign in at


def test_where_nobody_signs_in_everything_is_as_it_was(installation: Installation, team: Team) -> None:
    told = installation.call("GET", "/api/session").json
    assert not told["signing_in"]
    assert told["may_keep"]
    assert team.project in [one["id"] for one in installation.call("GET", "/api/projects").json]
    for path in ("/api/accounts", f"/api/projects/{team.project}/people", "/api/audit"):
        answer = installation.call("GET", path)
        assert answer.status == 422
        assert "Nobody signs in here" in answer.json["message"]


def test_the_cookie_is_for_our_own_pages_alone(office: Office) -> None:
    mail = new_account(office)[1]
    plain = office.stranger().sign_in(mail)
    (said,) = plain.cookies
    assert said.startswith("edge-slice=")
    assert {"HttpOnly", "SameSite=Strict", "Path=/"} <= set(said.split("; "))
    body = {"mail": mail, "password": PASSWORD}
    (secure,) = office.stranger().call("POST", "/api/session", body, **{"X-Forwarded-Proto": "https"}).cookies
    assert secure.startswith("__Host-edge-slice=")
    assert "Secure" in secure.split("; ")


def test_a_wrong_name_and_a_wrong_password_are_told_alike(office: Office) -> None:
    mail = new_account(office)[1]
    wrong = office.stranger().sign_in(mail, "not the password at all")
    nobody = office.stranger().sign_in(f"nobody-{mail}", "not the password at all")
    assert wrong.status == nobody.status == 422
    assert wrong.words == nobody.words


def test_signing_out_ends_it_at_once_for_whoever_holds_the_token(office: Office) -> None:
    came, _ = new_account(office)
    forged = Caller(office.url, {"edge-slice": "A" * 43})
    copied = Caller(office.url, dict(came.held))
    assert copied.call("GET", "/api/projects").status == 200
    assert forged.call("GET", "/api/projects").status == 401
    assert came.call("DELETE", "/api/session").status == 204
    assert came.held == {}
    assert copied.call("GET", "/api/projects").status == 401


def test_what_has_ended_or_was_idle_lets_nobody_in(office: Office) -> None:
    came, mail = new_account(office)
    of = f"account_id = (SELECT id FROM account WHERE mail = '{mail}')"
    office.installation.execute(f"UPDATE signed_in SET seen_at = now() - interval '8 days' WHERE {of}")
    assert came.call("GET", "/api/projects").status == 401
    again = office.caller(mail)
    office.installation.execute(f"UPDATE signed_in SET ends_at = now() WHERE {of}")
    assert again.call("GET", "/api/projects").status == 401


def test_devices_are_listed_and_ended(office: Office) -> None:
    came, mail = new_account(office)
    other = office.caller(mail)
    devices = came.call("GET", "/api/account").json["devices"]
    assert [one["here"] for one in devices].count(True) == 1
    (away,) = [one["id"] for one in devices if not one["here"]]
    stranger, _ = new_account(office, "Sam")
    assert stranger.call("DELETE", f"/api/account/devices/{away}").status == 404
    assert came.call("DELETE", f"/api/account/devices/{away}").status == 204
    assert other.call("GET", "/api/account").status == 401
    assert came.call("GET", "/api/account").status == 200


def test_another_password_ends_all_other_devices(office: Office) -> None:
    came, mail = new_account(office)
    other = office.caller(mail)
    change = {"password": "not my password", "new_password": "lichen ferry copper ninety"}
    assert came.call("POST", "/api/account/password", change).status == 422
    assert other.call("GET", "/api/account").status == 200
    assert came.call("POST", "/api/account/password", {**change, "password": PASSWORD}).status == 200
    assert other.call("GET", "/api/account").status == 401
    assert came.call("GET", "/api/account").status == 200
    assert office.stranger().sign_in(mail).status == 422
    assert office.stranger().sign_in(mail, change["new_password"]).status == 200


@pytest.mark.parametrize(
    "weak", ["short", "passwordpassword", "aaaaaaaaaaaaaaaa", "edge-slice-1234567", "Noor noor noor noor", "x" * 129,
             "1q2w3e4r5t6y7u8i", "Iloveyou2021!!", "987654321987654321"]
)  # fmt: skip
def test_a_weak_password_is_refused_with_what_to_do(office: Office, weak: str) -> None:
    came, _ = new_account(office)
    answer = came.call("POST", "/api/account/password", {"password": PASSWORD, "new_password": weak})
    assert answer.status == 422
    assert "password" in answer.json["field"]


def test_a_password_of_128_characters_is_taken_whole(office: Office) -> None:
    came, mail = new_account(office)
    longest = "lichen ferry čtyři 月の光" + "".join(chr(0x3B1 + 7 * k % 24) for k in range(106))
    assert len(longest) == 128
    change = {"password": PASSWORD, "new_password": longest}
    assert came.call("POST", "/api/account/password", change).status == 200
    assert office.stranger().sign_in(mail, longest[:-1]).status == 422
    assert office.stranger().sign_in(mail, longest).status == 200


def letters_to(office: Office, mail: str) -> str:
    """All that was written to somebody."""
    return "".join(one.get_content() for one in office.letters.letters if one["To"] == mail)


def known_with(office: Office, caller: Caller, **settings: str) -> tuple[bool, bool]:
    """Whether a browser is known, and may see to the installation, where it is set up otherwise."""
    code = (
        "import sys; from edge_slice.app.people.rights import InInstallation;"
        " from edge_slice.app.people.signing_in import who_holds; from edge_slice.store.database import reading;"
        " who = reading().__enter__(); found = who_holds(who, sys.argv[1], '', asks=False);"
        " print(found is not None, bool(found) and InInstallation.RUN in found.may)"
    )
    environment = {**office.installation.environment, "EDGE_SLICE_SIGN_IN": "true", **settings}
    (token,) = caller.held.values()
    done = subprocess.run([sys.executable, "-c", code, token], env=environment, text=True, capture_output=True)
    known, runs = done.stdout.split()
    return known == "True", runs == "True"


def test_an_office_may_have_browsers_sign_in_again_sooner(office: Office) -> None:
    came, mail = new_account(office)
    of = f"account_id = (SELECT id FROM account WHERE mail = '{mail}')"
    office.installation.execute(f"UPDATE signed_in SET seen_at = now() - interval '40 minutes' WHERE {of}")
    assert known_with(office, came) == (True, False)
    assert known_with(office, came, EDGE_SLICE_IDLE_HOURS="0.5") == (False, False)
    assert known_with(office, came, EDGE_SLICE_IDLE_HOURS="1") == (True, False)  # being looked after is not doing


def test_an_office_may_want_codes_of_who_sees_to_it(office: Office) -> None:
    office.make_owner("codes@curlew.example", "Codes")
    came = office.caller("codes@curlew.example")
    wanted = {"EDGE_SLICE_CODES_TO_RUN": "true"}
    assert known_with(office, came) == (True, True)
    assert known_with(office, came, **wanted) == (True, False)
    secret = came.call("GET", "/api/account/second").json["secret"]
    begin = {"secret": secret, "password": PASSWORD, "code": pyotp.TOTP(secret).now()}
    assert came.call("POST", "/api/account/second", begin).status == 200
    assert known_with(office, came, **wanted) == (True, True)


def test_answers_are_not_kept_by_browsers_and_are_no_pages(office: Office) -> None:
    answer = office.owner.call("GET", "/api/projects")
    assert answer.headers["Cache-Control"] == "no-store"
    assert answer.headers["Content-Disposition"] == 'attachment; filename="api.json"'
    came, _ = new_account(office)
    assert came.call("DELETE", "/api/session").headers["Clear-Site-Data"] == '"cache"'


@pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", "application/xml"])
def test_what_is_no_json_is_refused_as_such(office: Office, kind: str) -> None:
    body = {"mail": "ada@curlew.example", "password": PASSWORD}
    assert office.stranger().call("POST", "/api/session", body, **{"Content-Type": kind}).status == 415


def test_a_one_time_code_is_asked_for_and_works_once(office: Office) -> None:
    came, mail = new_account(office)
    proposed = came.call("GET", "/api/account/second").json
    assert proposed["secret"] in proposed["uri"]
    assert proposed["picture"].startswith("<svg")
    totp = pyotp.TOTP(proposed["secret"])
    begin = {"secret": proposed["secret"], "password": PASSWORD}
    right = {totp.at(time.time() + 30 * n) for n in range(-2, 3)}
    wrong = next(code for code in ("000000", "111111", "222222", "333333", "444444", "555555") if code not in right)
    assert came.call("POST", "/api/account/second", {**begin, "code": wrong}).status == 422
    code = totp.now()
    codes = came.call("POST", "/api/account/second", {**begin, "code": code}).json["codes"]
    assert len(set(codes)) == 10
    asked = office.stranger()
    assert asked.sign_in(mail).json == {"needs_code": True}
    assert asked.held == {}
    assert asked.sign_in(mail, code=code).status == 422  # it was used
    assert asked.sign_in(mail, code=totp.at(time.time() + 30)).json == {"needs_code": False}
    by_recovery = office.stranger()
    assert by_recovery.sign_in(mail, code=codes[0].upper()).json == {"needs_code": False}
    assert office.stranger().sign_in(mail, code=codes[0]).status == 422
    assert came.call("GET", "/api/account").json["codes_left"] == 9
    (kept,) = office.installation.one(f"SELECT recovery FROM account WHERE mail = '{mail}'")
    assert all(one.startswith("$argon2id$") for one in kept)
    office.installation.until(lambda: "recovery code; 9 are left" in letters_to(office, mail))
    assert "a one-time code is asked for when you sign in" in letters_to(office, mail)
    assert came.call("POST", "/api/account/second/end", {"password": PASSWORD}).json["second"] is False
    assert office.stranger().sign_in(mail).json == {"needs_code": False}


def test_passwords_are_not_tried_for_ever(office: Office) -> None:
    mail = new_account(office)[1]
    guesser = office.stranger()
    found = [
        guesser.call("POST", "/api/session", {"mail": mail, "password": f"guess {n}"}, **{"X-Forwarded-For": "9.9.9.9"})
        for n in range(12)
    ]
    assert [one.status for one in found] == [422] * 10 + [429] * 2
    assert int(found[-1].headers["Retry-After"]) > 0
    right = {"mail": mail, "password": PASSWORD}
    assert guesser.call("POST", "/api/session", right, **{"X-Forwarded-For": "9.9.9.9"}).status == 429
    assert office.stranger().sign_in(mail).status == 200  # from elsewhere its owner is let in
    others = [new_account(office)[1] for _ in range(3)]
    sprayed = [
        guesser.call("POST", "/api/session", {"mail": one, "password": "guess"}, **{"X-Forwarded-For": "9.9.9.8"})
        for one in others
        for _ in range(10)
    ]
    assert sprayed[-1].status == 422
    last = guesser.call("POST", "/api/session", right, **{"X-Forwarded-For": "9.9.9.8"})
    assert last.status == 429  # many accounts from one address


def test_a_program_has_a_token_of_its_own(office: Office) -> None:
    came, _ = new_account(office)
    made = came.call("POST", "/api/account/programs", {"name": "watch on the drawing server", "days": 30}).json
    program = Caller(office.url, token=made["token"])
    assert program.call("GET", "/api/projects").status == 200
    assert came.call("DELETE", f"/api/account/devices/{made['id']}").status == 204
    assert program.call("GET", "/api/projects").status == 401


def test_who_has_lost_the_password_is_let_back_in_once(office: Office) -> None:
    came, mail = new_account(office)
    secret = came.call("GET", "/api/account/second").json["secret"]
    asked = {"secret": secret, "password": PASSWORD, "code": pyotp.TOTP(secret).now()}
    assert came.call("POST", "/api/account/second", asked).status == 200
    number = next(one["id"] for one in office.owner.call("GET", "/api/accounts").json if one["mail"] == mail)
    assert came.call("POST", f"/api/accounts/{number}/way-back").status == 403
    token = office.owner.call("POST", f"/api/accounts/{number}/way-back").json["token"]
    back = office.stranger()
    assert back.call("POST", "/api/invitation/look", {"token": token}).json["back"]
    said = {"token": token, "name": "Noor", "password": "lichen ferry copper ninety"}
    assert back.call("POST", "/api/invitation/accept", said).status == 204
    assert came.call("GET", "/api/account").status == 401  # everywhere else one is signed out
    assert office.stranger().sign_in(mail).status == 422
    assert office.stranger().sign_in(mail, said["password"]).json == {"needs_code": False}
    assert office.stranger().call("POST", "/api/invitation/accept", said).status == 404


def test_no_secret_lies_in_the_database_or_in_a_document(office: Office) -> None:
    came, mail = new_account(office)
    token = came.held["edge-slice"]
    for table in ("account", "signed_in", "invitation", "shared_link", "audit_entry"):
        for (row,) in office.installation.all(f"SELECT to_jsonb(t)::text FROM {table} AS t"):
            assert PASSWORD not in row
            assert token not in row
    assert not re.search(r"argon2|second_secret|token_hash", came.call("GET", "/api/account").body.decode())
    assert PASSWORD not in office.owner.call("GET", "/api/accounts").body.decode()
    assert mail in office.owner.call("GET", "/api/accounts").body.decode()
