"""The server's edge: who is let in, how much, and what browsers are told."""

from __future__ import annotations

import http.client
from collections.abc import Iterator
from html.parser import HTMLParser
from typing import Any

import pytest

from tests.installation import UPLOAD_LIMIT_MB, Installation

PART = b"x" * 65536


def ask(app: Installation, method: str, path: str, body: Any = None, **headers: str) -> tuple[int, str, dict[str, str]]:
    connection = http.client.HTTPConnection("127.0.0.1", app.services.port, timeout=60)
    try:
        connection.request(method, path, body, headers, encode_chunked="Transfer-Encoding" in headers)
        answer = connection.getresponse()
        return answer.status, answer.read().decode(), dict(answer.headers)
    finally:
        connection.close()


@pytest.mark.parametrize("name", ["elsewhere.example", "elsewhere.example:8710", "127.0.0.1.elsewhere.example", ""])
def test_other_names_are_refused(installation: Installation, name: str) -> None:
    status, said, _ = ask(installation, "GET", "/api/projects", Host=name)
    assert status in (400, 421)
    assert "Station" not in said
    for own in ("localhost", f"127.0.0.1:{installation.services.port}", "[::1]:80", "LOCALHOST:1"):
        assert ask(installation, "GET", "/api/settings", Host=own)[0] == 200


@pytest.mark.parametrize(
    ("headers", "allowed"),
    [
        ({}, True),
        ({"Sec-Fetch-Site": "same-origin"}, True),
        ({"Sec-Fetch-Site": "none"}, True),
        ({"Sec-Fetch-Site": "cross-site"}, False),
        ({"Sec-Fetch-Site": "same-site"}, False),
        ({"Origin": "http://elsewhere.example"}, False),
        ({"Origin": "null"}, False),
        ({"Origin": "http://localhost:1"}, False),
        ({"Sec-Fetch-Site": "same-origin", "Origin": "http://elsewhere.example"}, False),
    ],
)
def test_nothing_is_changed_for_other_sites(
    installation: Installation, hut_project: int, headers: dict[str, str], allowed: bool
) -> None:
    path = f"/api/projects/{hut_project}/sheets"
    before = installation.rows("sheet")
    status, _, _ = ask(installation, "POST", path, b"{}", **headers, **{"Content-Type": "application/json"})
    assert status == (201 if allowed else 403)
    assert installation.rows("sheet") == before + allowed
    own = {"Origin": installation.url, "Host": installation.url.removeprefix("http://")}
    assert ask(installation, "DELETE", f"/api/projects/{hut_project}/recut", **own)[0] == 204
    assert ask(installation, "GET", path, **headers)[0] == 200  # what others may not read, browsers keep from them


def chunks(count: int, head: bytes = b"", tail: bytes = b"") -> Iterator[bytes]:
    yield head
    for _ in range(count):
        yield PART
    yield tail


FORM = "multipart/form-data; boundary=mark"
HEAD = b'--mark\r\nContent-Disposition: form-data; name="file"; filename="m.%s"\r\n\r\n'
END = b"\r\n--mark--\r\n"


@pytest.mark.parametrize(
    ("path", "kind", "head", "tail", "megabytes"),
    [
        ("/api/hatch-view", "application/json", b'{"tint": "', b'"}', 9),
        ("/api/imports", FORM, HEAD % b"ifc", END, UPLOAD_LIMIT_MB + 1),
        ("/api/projects/1/pictures", FORM, HEAD % b"png", END, 9),
        ("/api/projects/1/pictures", FORM, b'--mark\r\nContent-Disposition: form-data; name="file"\r\n\r\n', END, 9),
        ("/api/projects/1/sheets", "application/x-www-form-urlencoded", b"a=", b"", 9),
    ],
)
def test_what_is_read_is_counted(
    installation: Installation, path: str, kind: str, head: bytes, tail: bytes, megabytes: int
) -> None:
    """A body that says nothing of its length, and one that does, are let in alike far."""
    before = installation.rows("blob")
    body = b"".join(chunks(megabytes * 16, head, tail))
    said = {"Content-Type": kind}
    for headers, sent in (
        ({**said, "Transfer-Encoding": "chunked"}, chunks(megabytes * 16, head, tail)),
        ({**said, "Content-Length": str(len(body))}, body),
    ):
        status, words, _ = ask(installation, "POST", path, sent, **headers)
        # a form is no document of this path: that it is too large, or of the wrong kind, is said before it is read
        assert status in (413, 415, 422), words
        if status == 413:
            assert "MB" in words
        else:
            assert path.endswith("/sheets"), words
    assert installation.rows("blob") == before


class _Scripts(HTMLParser):
    inside = False
    inline = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.inside = tag == "script"
        assert not [name for name, _ in attrs if name.startswith("on")]

    def handle_endtag(self, tag: str) -> None:
        self.inside = False

    def handle_data(self, data: str) -> None:
        self.inline += data.strip() if self.inside else ""


@pytest.mark.parametrize("path", ["/", "/projects", "/api/settings", "/api/nothing", "/mark.svg"])
def test_browsers_are_told_what_may_run(installation: Installation, path: str) -> None:
    _, said, headers = ask(installation, "GET", path)
    policy = dict(rule.strip().split(" ", 1) for rule in headers["Content-Security-Policy"].split(";"))
    assert policy["script-src"] == "'self'"
    assert policy["default-src"] == "'self'"
    assert policy["frame-ancestors"] == "'none'"
    assert policy["object-src"] == policy["base-uri"] == "'none'"
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["X-Frame-Options"] == "DENY"
    page = _Scripts()
    if headers["Content-Type"].startswith("text/html"):
        page.feed(said)
        assert f'content="http://127.0.0.1:{installation.services.events_port}/api/events"' in said
    assert page.inline == ""
