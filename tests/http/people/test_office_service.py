"""Signing in by the service where an office keeps its accounts: in, and not in where anything is wrong."""

from __future__ import annotations

import os
import urllib.request
from collections.abc import Iterator
from typing import Any
from urllib.parse import parse_qs, urlsplit

import pytest

from tests.http.people.test_signing_in import new_account
from tests.installation import Answer, sent
from tests.office import Caller, Office
from tests.office_service import OfficeService


class _Stays(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_: Any) -> None:
        return None


@pytest.fixture(autouse=True)
def _stays(monkeypatch: pytest.MonkeyPatch) -> None:
    """What an answer says is looked at, not followed."""
    monkeypatch.setattr(urllib.request, "urlopen", urllib.request.build_opener(_Stays).open)


@pytest.fixture
def service(office: Office) -> Iterator[OfficeService]:
    yield office.service
    office.service.lies, office.service.signed_by = {}, office.service.key


def somebody(mail: str = "", **more: Any) -> dict[str, Any]:
    return {"sub": os.urandom(6).hex(), "email": mail, "email_verified": True, "name": "Noor of the Office", **more}


def way_of(office: Office, came: Caller, to: str = "/") -> str:
    """Where the browser stands after the service has let somebody through."""
    gone = came.call("GET", f"/sign-in/office?to={to}")
    assert gone.status == 302, gone.body
    parts = urlsplit(gone.headers["Location"])
    back = sent(f"{parts.scheme}://{parts.netloc}", "GET", f"{parts.path}?{parts.query}")
    return back.headers["Location"].removeprefix(office.url)


def why(answer: Answer) -> str:
    assert answer.status == 302
    return parse_qs(urlsplit(answer.headers["Location"]).query).get("way", [""])[0]


def test_who_the_service_vouches_for_is_in(office: Office, service: OfficeService) -> None:
    _, mail = new_account(office)
    service.who = somebody(mail.upper())
    for _ in range(2):  # the first time by the mail address, then by what the service calls them
        came = office.stranger()
        answer = came.call("GET", way_of(office, came, "/projects/1"))
        assert answer.headers["Location"] == "/projects/1"
        assert any("SameSite=Strict" in one and "HttpOnly" in one for one in answer.cookies)
        assert came.call("GET", "/api/account").json["mail"] == mail
        service.who["email"] = "another@curlew.example"
    assert office.stranger().call("GET", "/api/session").json["office"] == "the office's account"


@pytest.mark.parametrize(
    "lies",
    [
        {"nonce": "of another way"},
        {"nonce": None},
        {"aud": "another program"},
        {"aud": ["edge-slice", "another"], "azp": "another"},
        {"iss": "https://another.example"},
        {"exp": 1_000_000_000},
        {"exp": None},
        {"sub": None},
    ],
    ids=str,
)
def test_what_is_said_wrongly_lets_nobody_in(office: Office, service: OfficeService, lies: dict[str, Any]) -> None:
    service.who, service.lies = somebody(new_account(office)[1]), lies
    came = office.stranger()
    assert why(came.call("GET", way_of(office, came))) == "failed"
    assert came.call("GET", "/api/projects").status == 401


def test_another_key_lets_nobody_in(office: Office, service: OfficeService) -> None:
    service.who, service.signed_by = somebody(new_account(office)[1]), service.other_key
    came = office.stranger()
    assert why(came.call("GET", way_of(office, came))) == "failed"


def test_a_way_is_gone_once_and_by_its_own_browser_alone(office: Office, service: OfficeService) -> None:
    service.who = somebody(new_account(office)[1])
    came, other = office.stranger(), office.stranger()
    back = way_of(office, came)
    way_of(office, other)
    assert why(other.call("GET", back)) == "failed"  # another's state: nobody is signed in as somebody else
    held = dict(came.held)
    assert why(came.call("GET", back)) == ""
    assert why(Caller(office.url, held).call("GET", back)) == "late"
    assert why(office.stranger().call("GET", back)) == "late"


def test_who_is_unknown_closed_or_unproved_is_told_so(office: Office, service: OfficeService) -> None:
    came, mail = new_account(office)
    number = came.call("GET", "/api/session").json["account"]
    for claims, told in (
        (somebody("nobody-here@curlew.example"), "unknown"),
        (somebody(mail, email_verified=False), "unproved"),
        (somebody(), "unproved"),
    ):
        service.who = claims
        stranger = office.stranger()
        assert why(stranger.call("GET", way_of(office, stranger))) == told
    office.owner.call("PATCH", f"/api/accounts/{number}", {"closed": True})
    service.who = somebody(mail)
    stranger = office.stranger()
    assert why(stranger.call("GET", way_of(office, stranger))) == "closed"


@pytest.mark.parametrize("to", ["//evil.example", "https://evil.example", "/%5Cevil.example", "evil"])
def test_the_way_leads_to_pages_of_ours_alone(office: Office, service: OfficeService, to: str) -> None:
    service.who = somebody(new_account(office)[1])
    came = office.stranger()
    assert came.call("GET", way_of(office, came, to)).headers["Location"] == "/"
