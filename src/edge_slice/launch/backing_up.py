"""Backups by PostgreSQL's own programs: of one moment, while people work, checked by restoring."""

from __future__ import annotations

import os
import secrets
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import LiteralString
from urllib.parse import unquote, urlsplit

import psycopg
from psycopg import sql

from edge_slice.launch.postgres import CannotStart, programs

TABLES = (
    "SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE'"
    " ORDER BY table_name"
)
Counts = dict[str, int]


def back_up(url: str, path: Path, check: bool) -> str:
    """Write a database into a file; what came of it, in words. `check`: restore it beside, and compare how many rows
    each table has with how many it had at that moment. Raises `CannotStart`; then there is no file."""
    if path.exists():
        raise CannotStart(f"{path} is there already; choose another name.")
    if not path.parent.is_dir():
        raise CannotStart(f"There is no folder {path.parent}.")
    half = path.with_name(f".{path.name}.{secrets.token_hex(4)}")
    try:
        with _connected(url) as link:
            link.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY")
            moment = str(_one(link, "SELECT pg_export_snapshot()"))
            counts = _counts(link)
            _run(url, "pg_dump", "--format=custom", "--no-owner", f"--snapshot={moment}", f"--file={half}")
        if check:
            _check(url, half, counts)
        half.rename(path)
    finally:
        half.unlink(missing_ok=True)
    said = f"{sum(counts.values())} rows of {len(counts)} tables are in {path}, {path.stat().st_size / 1e6:.1f} MB"
    return f"{said}; restored beside, all were there." if check else f"{said}."


def restore(url: str, path: Path) -> str:
    """Put a backup into a database in which there is nothing yet, all of it or nothing."""
    if not path.is_file():
        raise CannotStart(f"There is no file {path}.")
    with _connected(url) as link:
        if _counts(link):
            raise CannotStart("This database is not empty; make another one, and name that.")
    _run(url, "pg_restore", "--no-owner", "--single-transaction", "--exit-on-error", f"--dbname={_plain(url)}",
         str(path))  # fmt: skip
    with _connected(url) as link:
        counts = _counts(link)
    return f"{sum(counts.values())} rows of {len(counts)} tables are there again."


def _check(url: str, path: Path, counts: Counts) -> None:
    beside = f"edge_slice_check_{secrets.token_hex(4)}"
    name = sql.Identifier(beside)
    with psycopg.connect(_plain(url), autocommit=True) as link:
        link.execute(sql.SQL("CREATE DATABASE {}").format(name))
        try:
            other = url.rsplit("/", 1)[0] + f"/{beside}"
            restore(other, path)
            with _connected(other) as restored:
                found = _counts(restored)
        finally:
            link.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(name))
    wrong = sorted(table for table in counts.keys() | found.keys() if counts.get(table) != found.get(table))
    if wrong:
        raise CannotStart(f"What was restored is not what was there: {', '.join(wrong)}. Nothing is kept of it.")


def _plain(url: str) -> str:
    return url.replace("+psycopg", "")


@contextmanager
def _connected(url: str) -> Iterator[psycopg.Connection]:
    try:
        link = psycopg.connect(_plain(url), connect_timeout=5)
    except psycopg.OperationalError as error:
        raise CannotStart(f"The database can't be reached: {str(error).splitlines()[0]}") from error
    with link:
        yield link


def _one(link: psycopg.Connection, query: LiteralString) -> object:
    row = link.execute(query).fetchone()
    return row[0] if row else None


def _counts(link: psycopg.Connection) -> Counts:
    tables = [str(name) for (name,) in link.execute(TABLES).fetchall()]
    count = sql.SQL("SELECT count(*) FROM {}")
    found = {}
    for table in tables:
        row = link.execute(count.format(sql.Identifier(table))).fetchone()
        found[table] = int(row[0]) if row else 0
    return found


def _run(url: str, program: str, *arguments: str) -> None:
    """Run a program of PostgreSQL's on a database; its password goes by the environment, where nobody else sees it."""
    at = urlsplit(_plain(url))
    more = {
        "PGHOST": at.hostname or "", "PGPORT": str(at.port or 5432), "PGUSER": unquote(at.username or ""),
        "PGPASSWORD": unquote(at.password or ""), "PGDATABASE": at.path.lstrip("/"),
    }  # fmt: skip
    said = [one if not one.startswith("--dbname=") else f"--dbname={more['PGDATABASE']}" for one in arguments]
    done = subprocess.run(
        [str(programs() / program), *said], env={**os.environ, **more}, capture_output=True, text=True
    )  # fmt: skip
    if done.returncode != 0:
        said = done.stderr.strip().splitlines()
        raise CannotStart(f"{program} failed: {said[0] if said else done.returncode}")
