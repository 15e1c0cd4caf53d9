"""Databases of their own on the server of the tests' installation."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import psycopg
import pytest

from edge_slice.settings import settings
from edge_slice.store.database import engine, snapshots
from tests.installation import Installation


@dataclass
class Database:
    """An empty database, and Python beside it."""

    url: str

    def python(self, code: str) -> subprocess.CompletedProcess[str]:
        environment = {**os.environ, "EDGE_SLICE_DATABASE_URL": self.url}
        return subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True)

    def migrated(self, to: str = "head") -> Database:
        code = "from alembic import command; from edge_slice.store.database import alembic_config"
        done = self.python(f"{code}; command.upgrade(alembic_config(), {to!r})")
        assert done.returncode == 0, done.stderr
        return self

    def connect(self) -> psycopg.Connection:
        return psycopg.connect(self.url.replace("+psycopg", ""), autocommit=True)


@pytest.fixture(scope="session")
def migrated(installation: Installation) -> str:
    """The name of a database with all tables and no rows, to be copied: migrating takes longer than most tests."""
    with psycopg.connect(installation.cluster.url.replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute("CREATE DATABASE migrated")
    Database(f"{installation.cluster.url.rsplit('/', 1)[0]}/migrated").migrated()
    return "migrated"


@pytest.fixture
def database(installation: Installation) -> Iterator[Callable[..., Database]]:
    made: list[str] = []

    def make(name: str, like: str = "template1") -> Database:
        with psycopg.connect(installation.cluster.url.replace("+psycopg", ""), autocommit=True) as connection:
            connection.execute(f"CREATE DATABASE {name} TEMPLATE {like}")
        made.append(name)
        return Database(f"{installation.cluster.url.rsplit('/', 1)[0]}/{name}")

    yield make
    with psycopg.connect(installation.cluster.url.replace("+psycopg", ""), autocommit=True) as connection:
        for name in made:
            connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


@pytest.fixture
def store(database: Callable[..., Database], migrated: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[Database]:
    """A migrated database that this process itself works on, with two projects in it."""
    made = database("for_tests", like=migrated)
    monkeypatch.setenv("EDGE_SLICE_DATABASE_URL", made.url)
    remembered = (settings, engine, snapshots)
    for one in remembered:
        one.cache_clear()
    with made.connect() as connection:
        for name in ("P", "Q"):
            connection.execute(
                "INSERT INTO project (name, client, lengths, names, sheet_register, templates, created_at)"
                f" VALUES ('{name}', '', 'mm', '{{}}', '{{}}', '{{}}', now())"
            )
    yield made
    engine().dispose()
    for one in remembered:
        one.cache_clear()
