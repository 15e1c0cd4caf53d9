"""Connections to a database on another machine: both sides notice within half a minute that the other one is lost."""

from __future__ import annotations

import psycopg
import pytest
from sqlalchemy import text

from edge_slice.settings import settings
from edge_slice.store.database import engine, lasting_address, transaction
from tests.store.conftest import Database

ASKED = "SELECT name, setting FROM pg_settings WHERE name LIKE 'tcp_%' ORDER BY name"
WANTED = [
    ("tcp_keepalives_count", "3"),
    ("tcp_keepalives_idle", "10"),
    ("tcp_keepalives_interval", "5"),
    ("tcp_user_timeout", "30000"),
]


def test_what_the_address_says_of_the_session_stays(store: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("EDGE_SLICE_DATABASE_URL", f"{store.url}?options=-csearch_path%3Dempty%20-ctcp_user_timeout%3D9")
    settings.cache_clear()
    engine.cache_clear()
    with psycopg.connect(lasting_address()) as link, transaction() as session:
        for name, wanted in (("search_path", "empty"), ("tcp_keepalives_idle", "10")):
            said = session.connection().execute(text(f"SHOW {name}")).scalar()
            assert said == (link.execute(f"SHOW {name}").fetchone() or ("",))[0] == wanted  # type: ignore[arg-type]
        assert (link.execute("SHOW tcp_user_timeout").fetchone() or ("",))[0] in ("9", "9ms")
    engine().dispose()


def test_the_server_asks_after_who_holds_something(store: Database) -> None:
    """Else the project of a machine that went in the middle of an act would be held for hours."""
    with transaction() as session:
        assert [tuple(row) for row in session.connection().execute(text(ASKED))] == WANTED
    with psycopg.connect(lasting_address()) as link:
        assert link.execute(ASKED).fetchall() == WANTED
        ours = link.info.get_parameters()
    assert (ours["keepalives_idle"], ours["tcp_user_timeout"]) == ("10", "30000")
