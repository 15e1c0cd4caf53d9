"""What is kept ready: made once, within limits, never in anybody's way."""

from __future__ import annotations

import logging
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from edge_slice.store.database import reading, transaction
from edge_slice.store.kept import kept, known, prune
from tests.store.conftest import Database

MINE, OTHERS = 1, 2  # projects


def keep(project: int, *keys: str, data: bytes = b"x" * 1000) -> None:
    for key in keys:
        with reading() as session:
            kept(session, project, key, lambda: data)


def there(store: Database) -> set[str]:
    """What is kept, without using it."""
    with store.connect() as connection:
        return {str(key) for (key,) in connection.execute("SELECT key FROM kept_view").fetchall()}


def test_it_is_made_once_by_whichever_session(store: Database) -> None:
    made: list[str] = []

    def make() -> bytes:
        made.append("once")
        return b"view"

    for _ in range(3):
        with reading() as session:
            assert kept(session, MINE, "key", make) == b"view"
            assert kept(session, MINE, "key", make) == b"view"  # also before it is kept
    assert made == ["once"]


def test_a_session_that_fails_keeps_nothing(store: Database) -> None:
    def fail() -> None:
        with transaction() as session:
            kept(session, MINE, "key", lambda: b"of rows that never were")
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fail()
    assert there(store) == set()


def test_hundreds_of_views_and_pages_stay(store: Database) -> None:
    keys = [f"view {k}" for k in range(700)]
    with reading() as session:
        for key in keys:
            kept(session, MINE, key, lambda: b"x" * 100)
    assert prune(by_project=1_000_000, together=1_000_000) == 0
    with reading() as session:
        assert known(session, keys) == set(keys)


def test_the_longest_unused_go_first_and_only_of_the_project_that_has_too_many(store: Database) -> None:
    keep(OTHERS, "old of others")
    keep(MINE, *(f"mine {k}" for k in range(5)))
    with store.connect() as connection:
        connection.execute("UPDATE kept_view SET used_at = now() - interval '5 days'")
    keep(MINE, "mine 1")  # asked for once more
    keep(MINE, "new")
    assert prune(by_project=2500, together=100_000) == 4
    assert there(store) == {"old of others", "new", "mine 1"}
    assert prune(by_project=2500, together=2500) == 1
    assert there(store) == {"new", "mine 1"}
    assert prune(by_project=2500, together=2500) == 0


def test_keeping_the_same_in_different_order_stops_nobody(store: Database, caplog: pytest.LogCaptureFixture) -> None:
    keys = [f"{k:02}" for k in range(30)]
    gate = threading.Barrier(4)

    def batch(order: list[str]) -> None:
        gate.wait()
        with reading() as session:
            for key in order:
                kept(session, MINE, key, key.encode)
        prune(by_project=10_000_000, together=10_000_000)

    with caplog.at_level(logging.WARNING), ThreadPoolExecutor(4) as pool:
        list(pool.map(batch, [keys, keys[::-1], keys, keys[::-1]]))
    assert caplog.messages == []
    assert there(store) == set(keys)


def test_what_can_not_be_kept_is_told_in_the_log_alone(store: Database, caplog: pytest.LogCaptureFixture) -> None:
    with reading() as session:
        assert kept(session, 99, "of a project that is gone", lambda: b"view") == b"view"
    assert any("not kept" in message for message in caplog.messages)


def test_who_reads_sees_one_state_from_first_to_last(store: Database) -> None:
    """Else a name read before an edit could be given to what was composed after it."""
    from edge_slice.store.tables import Project

    with reading() as session:
        assert session.get_one(Project, MINE).name == "P"
        with store.connect() as connection:
            connection.execute("UPDATE project SET name = 'Changed' WHERE id IN (1, 2)")
        assert session.get_one(Project, OTHERS).name == "Q"
