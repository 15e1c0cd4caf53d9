"""Engine, sessions and migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine
from sqlmodel import Session, create_engine

from edge_slice.settings import settings

WAIT = 3  # seconds for a connection; an answer that the database is away must come soon


@cache
def engine() -> Engine:
    """One pool a process; a connection that the server closed meanwhile is replaced before use."""
    return create_engine(
        settings().database_url,
        pool_pre_ping=True,
        pool_size=8,
        max_overflow=24,
        pool_timeout=WAIT,
        connect_args={"connect_timeout": WAIT},
    )


@contextmanager
def transaction() -> Iterator[Session]:
    """A session that commits as a whole, or not at all."""
    with Session(engine(), expire_on_commit=False) as session, session.begin():
        yield session


def migrate() -> None:
    """Bring the schema to the newest migration."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("sqlalchemy.url", settings().database_url.replace("%", "%%"))
    command.upgrade(config, "head")
