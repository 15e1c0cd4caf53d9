"""Engine, transactions and migrations."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from psycopg.conninfo import conninfo_to_dict, make_conninfo
from psycopg.errors import DeadlockDetected, LockNotAvailable, SerializationFailure
from sqlalchemy import Engine
from sqlalchemy.exc import DBAPIError
from sqlmodel import Session, create_engine

from edge_slice.settings import settings

WAIT = 3  # seconds for a connection; an answer that the database is away must come soon
BUSY = 30  # seconds until one is free, where all are in use: many ask at once, and each is served in turn
# a machine that is cut off says nothing more: both sides ask after each other, so that what listens connects again, and
# what a lost machine held is free again within half a minute (tcp(7); the system's own two hours are for other things)
_IDLE, _BETWEEN, _TIMES, _LOST = 10, 5, 3, 30_000  # s until it is asked, s between, how often; ms without an answer
_OF_SERVER = {
    "tcp_keepalives_idle": _IDLE, "tcp_keepalives_interval": _BETWEEN, "tcp_keepalives_count": _TIMES,
    "tcp_user_timeout": _LOST,
}  # fmt: skip
_OF_CLIENT = {
    "keepalives": 1, "keepalives_idle": _IDLE, "keepalives_interval": _BETWEEN, "keepalives_count": _TIMES,
    "tcp_user_timeout": _LOST, "connect_timeout": WAIT,
}  # fmt: skip
_AFTERWARDS = "done afterwards"


@cache
def engine() -> Engine:
    """One pool a process; a connection that the server closed meanwhile is replaced before use."""
    return create_engine(
        settings().database_url,
        pool_pre_ping=True,
        pool_size=8,
        max_overflow=24,
        pool_timeout=BUSY,
        connect_args=_lasting(),
    )


def lasting_address() -> str:
    """Where the database is, for what holds a connection of its own to it."""
    return make_conninfo(settings().psycopg_url, **_lasting())


def _lasting() -> dict[str, Any]:
    """How a connection is made; what the address itself says of the session stands last, and counts."""
    own = conninfo_to_dict(settings().psycopg_url).get("options") or ""
    ours = " ".join(f"-c {name}={value}" for name, value in _OF_SERVER.items())
    return {**_OF_CLIENT, "options": f"{ours} {own}".rstrip()}


@cache
def snapshots() -> Engine:
    """The same pool, for transactions that see one state of the database from their first question to their last."""
    return engine().execution_options(isolation_level="REPEATABLE READ", postgresql_readonly=True)


@contextmanager
def transaction() -> Iterator[Session]:
    """A session that commits as a whole, or not at all. What it reads of a project before it holds that may change
    under it (`changes.hold`)."""
    with _session(engine()) as session:
        yield session


@contextmanager
def reading() -> Iterator[Session]:
    """A session that changes nothing, and for which nothing changes: what is composed in it, and the name under which
    that is kept, are of one state, however others edit meanwhile."""
    with _session(snapshots()) as session:
        yield session


@contextmanager
def _session(of: Engine) -> Iterator[Session]:
    with Session(of, expire_on_commit=False) as session:
        with session.begin():
            yield session
        for act in session.info.get(_AFTERWARDS, {}).values():
            act(session)


def afterwards(session: Session, act: Callable[[Session], None]) -> None:
    """Have something done once, after the transaction of a session has been committed and its connection is free."""
    session.info.setdefault(_AFTERWARDS, {})[act.__qualname__] = act


def is_clash(error: BaseException) -> bool:
    """Whether transactions came into each other's way, so that doing the same again will do: a deadlock, or a
    serialisation failure."""
    cause = error.orig if isinstance(error, DBAPIError) else error
    return isinstance(cause, DeadlockDetected | SerializationFailure | LockNotAvailable)


def alembic_config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("sqlalchemy.url", settings().database_url.replace("%", "%%"))
    return config


def schema_there() -> str:
    """The migration to which the database was brought last; empty for none."""
    with engine().connect() as link:
        return MigrationContext.configure(link).get_current_revision() or ""


@cache
def schema_known() -> str:
    """The newest migration of this program."""
    return ScriptDirectory.from_config(alembic_config()).get_current_head() or ""


def migrate() -> None:
    """Bring the schema to the newest migration."""
    command.upgrade(alembic_config(), "head")
