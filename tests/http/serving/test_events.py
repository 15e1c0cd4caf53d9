"""Events: to the windows of their project, none missed, and no thread of the web server held by any of them."""

from __future__ import annotations

import contextlib
import json
import socket
import urllib.error
import urllib.request
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.events.windows import LOOK_ANEW, WAITING, Window, Windows
from tests.http.drawings.test_drawings import add_section
from tests.ifc_files import write_hut
from tests.installation import Installation

MANY = 120  # windows: more than twice the web server's threads


class Stream:
    """A window's connection."""

    def __init__(self, app: Installation, *projects: int, after: str = "", **headers: str) -> None:
        query = f"projects={','.join(map(str, projects))}&after={after}"
        request = urllib.request.Request(f"{app.events_url}?{query}", headers=headers)
        self._answer = urllib.request.urlopen(request, timeout=30)
        self.last = after
        assert self._answer.readline().startswith(b"retry:")

    def messages(self) -> Iterator[dict[str, Any]]:
        for raw in self._answer:
            line = raw.decode()
            if line.startswith("id: "):
                self.last = line[4:].strip()
            if line.startswith("data: "):
                yield json.loads(line[6:])

    def until(self, label: str) -> list[dict[str, Any]]:
        """What is heard up to an act."""
        heard = []
        for message in self.messages():
            heard.append(message)
            if message["what"] == label:
                return heard
        raise AssertionError(f"the connection ended before “{label}”")

    def close(self) -> None:
        self._answer.close()


@pytest.fixture
def stream(installation: Installation) -> Iterator[Any]:
    opened: list[Stream] = []

    def open_one(*projects: int, **more: str) -> Stream:
        opened.append(Stream(installation, *projects, **more))
        return opened[-1]

    yield open_one
    for one in opened:
        one.close()


@pytest.fixture
def other_project(installation: Installation, tmp_path: Any) -> int:
    return installation.import_project(write_hut(tmp_path / "other.ifc"))


def test_events_of_a_project_go_to_its_windows(
    installation: Installation, hut_project: int, other_project: int, stream: Any
) -> None:
    mine, others, both = stream(hut_project), stream(other_project), stream(hut_project, other_project)
    add_section(installation, hut_project)
    add_section(installation, other_project)
    of = [{m["project"] for m in s.until("new drawing")} - {None} for s in (mine, others)]
    assert of == [{hut_project}, {other_project}]
    heard = [*both.until("new drawing"), *both.until("new drawing")]
    assert [m["project"] for m in heard if m["what"] == "new drawing"] == [hut_project, other_project]
    (told,) = [m["drawings"] for m in heard if m["project"] == hut_project]
    assert [d["letter"] for d in told] == ["A"]  # as it is now: nobody has to ask


def test_what_was_missed_comes_first(installation: Installation, hut_project: int, stream: Any) -> None:
    first = stream(hut_project)
    section = add_section(installation, hut_project)
    first.until("new drawing")
    first.close()
    path = f"/api/drawings/{section['id']}"
    for name in ("One", "Two"):
        installation.edit(path, {"name": name})
    installation.edit(f"/api/projects/{hut_project}", {"client": "Trust"})
    for again in (stream(hut_project, after=first.last), stream(hut_project, **{"Last-Event-ID": first.last})):
        assert [m["what"] for m in again.until("project")] == ["edit name", "edit name", "edit project", "project"]
    lost = stream(hut_project, after="another-12")
    assert next(lost.messages())["what"] == "connected"  # it looks at everything anew


def test_a_renamed_project_is_told_to_all(installation: Installation, hut_project: int, stream: Any) -> None:
    nowhere = stream()
    installation.edit(f"/api/projects/{hut_project}", {"name": "Bird hide"})
    assert [m["project"] for m in nowhere.until("project")] == [None]


def test_windows_hold_no_thread_of_the_web_server(installation: Installation, hut_project: int) -> None:
    port = installation.services.events_port
    ask = f"GET /api/events?projects={hut_project} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n\r\n".encode()
    with contextlib.ExitStack() as held:
        windows = [held.enter_context(socket.create_connection(("127.0.0.1", port), timeout=30)) for _ in range(MANY)]
        for window in windows:
            window.sendall(ask)
        for window in windows:
            assert b" 200 " in window.recv(4096)
        assert installation.call("GET", f"/api/projects/{hut_project}/drawings", timeout=20).status == 200
        add_section(installation, hut_project)
        for window in windows:
            heard = b""
            while b'"new drawing"' not in heard:
                part = window.recv(65536)
                assert part
                heard += part


@pytest.mark.parametrize(
    ("headers", "query", "status"),
    [
        ({"Host": "somewhere.example"}, "projects=1", 400),
        ({}, "projects=1;2", 422),
        ({}, f"projects={','.join('1' * 300)}", 422),
    ],
)
def test_strangers_and_nonsense_are_refused(
    installation: Installation, headers: dict[str, str], query: str, status: int
) -> None:
    request = urllib.request.Request(f"{installation.events_url}?{query}", headers=headers)
    with pytest.raises(urllib.error.HTTPError) as refused:
        urllib.request.urlopen(request, timeout=20)
    assert refused.value.code == status
    refused.value.close()


def test_only_our_pages_may_listen(installation: Installation) -> None:
    for origin, allowed in ((installation.url, installation.url), ("http://elsewhere.example", None)):
        request = urllib.request.Request(installation.events_url, headers={"Origin": origin})
        with urllib.request.urlopen(request, timeout=20) as answer:
            assert answer.headers.get("Access-Control-Allow-Origin") == allowed


def test_a_window_that_reads_no_more_is_let_go() -> None:
    windows = Windows()
    slow, quick = windows.opened([1], ""), windows.opened([1], "")
    for k in range(WAITING + 1):
        windows.tell(1, str(k))
        if k % 7 == 0:
            while not quick.waiting.empty():
                quick.waiting.get_nowait()
    assert len(windows) == 1
    ends = [slow.waiting.get_nowait() for _ in range(WAITING)]
    assert ends[-1] is None
    late = windows.opened([1], f"{windows.here}-0")  # it missed more than can wait
    assert said(late) == [LOOK_ANEW]


def said(window: Window) -> list[str]:
    found = []
    while not window.waiting.empty():
        event = window.waiting.get_nowait()
        found.append("the end" if event is None else event.text)
    return found


@given(
    told=st.lists(st.sampled_from([None, 1, 2]), max_size=40), heard=st.integers(0, 60), projects=st.sets(st.just(1))
)
def test_a_window_that_comes_again_misses_nothing(told: list[int | None], heard: int, projects: set[int]) -> None:
    windows = Windows()
    for k, project in enumerate(told):
        windows.tell(project, str(k))
    known = min(heard, len(told))
    again = windows.opened(projects, f"{windows.here}-{known}")
    assert said(again) == [str(k) for k, p in enumerate(told) if k >= known and (p is None or p in projects)]
    assert said(windows.opened(projects, f"elsewhere-{known}")) == [LOOK_ANEW]
    assert said(windows.opened(projects)) == []


def test_a_window_hears_what_happened_since_it_began_to_read(monkeypatch: pytest.MonkeyPatch) -> None:
    now = 100.0
    monkeypatch.setattr("edge_slice.events.windows.time.monotonic", lambda: now)
    windows = Windows()
    for now in (110.0, 120.0, 130.0):
        windows.tell(1, f"at {now:g}")
    assert said(windows.opened([1], age=12.0)) == ["at 120", "at 130"]
    assert said(windows.opened([1], f"{windows.here}-1", age=1.0)) == ["at 120", "at 130"]
    assert said(windows.opened([1], age=40.0)) == [LOOK_ANEW]  # before this process was there


@given(
    acts=st.lists(st.tuples(st.sampled_from(["told", "rights", "goes", "comes"]), st.sampled_from([7, 8])), max_size=30)
)
def test_whoever_s_rights_change_looks_anew_whether_connected_or_not(acts: list[tuple[str, int]]) -> None:
    """Two accounts whose windows come, go, and are ended by a change of rights, in any order: each looks anew as often
    as its own rights changed while it was there or away between two connections, and never for the other's."""
    windows = Windows()
    here: dict[int, Window | None] = {account: windows.opened([1], account=account) for account in (7, 8)}
    last, anew, due = {7: f"{windows.here}-0", 8: f"{windows.here}-0"}, {7: 0, 8: 0}, {7: 0, 8: 0}

    def read(account: int) -> None:
        window = here[account]
        while window is not None and not window.waiting.empty():
            event = window.waiting.get_nowait()
            if event is None:
                here[account] = None
                return
            last[account] = windows.name(event)
            anew[account] += event.text == LOOK_ANEW

    for act, account in acts:
        if act == "told":
            windows.tell(1, "something")
        elif act == "rights":
            windows.end_of(account)
            due[account] += 1
        elif act == "goes":
            read(account)
            if (window := here[account]) is not None:
                windows.closed(window)
            here[account] = None
        elif here[account] is None:
            here[account] = windows.opened([1], last[account], account=account)
        for each in (7, 8):
            read(each)
    for account in (7, 8):
        while here[account] is None or due[account] > anew[account]:
            here[account] = windows.opened([1], last[account], account=account)
            before = anew[account]
            read(account)
            if here[account] is not None and anew[account] == before:
                break
    assert anew == due
