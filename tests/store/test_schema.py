"""The schema: as the models say, as the queue's library wants it, and what it refuses."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from typing import Any

import psycopg
import pytest
from procrastinate.schema import SchemaManager

from edge_slice.app.people.secrets_held import codes_left
from tests.store.conftest import Database

Databases = Callable[[str], Database]
QUEUE = "procrastinate"

# all that makes a schema, as PostgreSQL itself writes it down
_CATALOGUE = {
    "functions": "SELECT pg_get_functiondef(p.oid) FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace"
    f" WHERE n.nspname = 'public' AND p.proname LIKE '{QUEUE}%'",
    "columns": "SELECT table_name, column_name, data_type, udt_name, is_nullable, column_default"
    f" FROM information_schema.columns WHERE table_schema = 'public' AND table_name LIKE '{QUEUE}%'",
    "indexes": f"SELECT indexdef FROM pg_indexes WHERE schemaname = 'public' AND tablename LIKE '{QUEUE}%'",
    "triggers": "SELECT pg_get_triggerdef(t.oid) FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid"
    f" WHERE NOT t.tgisinternal AND c.relname LIKE '{QUEUE}%'",
    "constraints": "SELECT c.relname, k.conname, pg_get_constraintdef(k.oid) FROM pg_constraint k"
    f" JOIN pg_class c ON c.oid = k.conrelid WHERE c.relname LIKE '{QUEUE}%'",
    "types": "SELECT t.typname, e.enumlabel, e.enumsortorder FROM pg_type t JOIN pg_enum e ON e.enumtypid = t.oid",
}


def catalogue(database: Database) -> dict[str, list[Any]]:
    with database.connect() as connection:
        return {name: sorted(map(str, connection.execute(query).fetchall())) for name, query in _CATALOGUE.items()}


def test_migrations_make_what_the_models_say(database: Databases) -> None:
    code = "from alembic import command; from edge_slice.store.database import alembic_config"
    done = database("as_models").migrated().python(f"{code}; command.check(alembic_config())")
    assert done.returncode == 0, done.stderr


def test_the_queue_has_the_schema_of_its_library(database: Databases) -> None:
    """Fails when a newer release brings another schema: its changes then become a migration of ours."""
    theirs = database("queue_alone")
    with psycopg.connect(theirs.url.replace("+psycopg", "")) as connection:
        connection.cursor().execute(SchemaManager.get_schema())
    ours = catalogue(database("queue_of_ours").migrated())
    assert len(ours["functions"]) > 10
    assert ours == catalogue(theirs)


def test_an_older_database_comes_along(database: Databases) -> None:
    old = database("older").migrated("0010")
    with old.connect() as connection:
        connection.execute("INSERT INTO project (name, client, created_at, version) VALUES ('P', '', now(), 7)")
        for _ in range(2):
            connection.execute(
                "INSERT INTO sheet (project_id, number, title, size, fields, version)"
                " VALUES (1, 'A-' || (SELECT count(*) FROM sheet), 'T', 'A1', '{}', 40)"
            )
        connection.execute(
            "INSERT INTO drawing (project_id, letter, name, cut, style, version) VALUES (1, 'A', '', '{}', '{}', 3)"
        )
        for sheet in (1, 2):  # two homes, which nothing kept from being
            connection.execute(
                "INSERT INTO placement (project_id, sheet_id, drawing_id, number, x, y, version)"
                f" VALUES (1, {sheet}, 1, '1', 0, 0, 1)"
            )
    old.migrated()
    with old.connect() as connection:
        assert connection.execute("SELECT sheet_id FROM placement WHERE home").fetchall() == [(1,)]
        fresh = connection.execute("SELECT nextval('row_version')").fetchone()
    assert fresh is not None
    assert fresh[0] > 40


def test_recovery_codes_stay_good_when_they_are_kept_more_slowly(database: Databases) -> None:
    old = database("quickly_hashed").migrated("0024")
    was = json.dumps([hashlib.sha256(code.encode()).hexdigest() for code in ("0123456789", "abcdefabcd")])
    with old.connect() as connection:
        connection.execute(
            "INSERT INTO account (mail, name, password, second_secret, second_step, recovery, runs, may_make, may_keep,"
            " created_at, mails) VALUES ('a@curlew.example', 'A', '', 'S', 0, %s, false, false, false, now(), true)",
            (was,),
        )
    old.migrated()
    with old.connect() as connection:
        row = connection.execute("SELECT recovery FROM account").fetchone()
    assert row is not None
    assert codes_left("01234-56789", row[0]) == row[0][1:]
    assert codes_left("ABCDE-FABCD", row[0]) == row[0][:1]
    assert codes_left("01234-5678a", row[0]) is None


@pytest.mark.parametrize(
    ("said", "statement"),
    [
        ("publication_state_known", "INSERT INTO publication (project_id, wanted, author, state, done, of, message,"
         " file_name, attempts, created_at) VALUES (1, '{}', '', 'perhaps', 0, 0, '', '', 0, now())"),
        ("revision_project_id_number_key", "INSERT INTO revision (project_id, number, file_name, file_hash,"
         " geometry_hash, facts, changes, created_at) SELECT 1, 1, 'f', 'b', 'b', '{}', '{}', now()"
         " FROM generate_series(1, 2)"),
        ("placement_one_home", "INSERT INTO placement (project_id, sheet_id, drawing_id, number, x, y, home, trim,"
         " title, stack) SELECT 1, 1, 1, n, 0, 0, true, '{}', '{}', 0 FROM generate_series(1, 2) AS n"),
        ("publication_issue_id_fkey", "INSERT INTO publication (project_id, wanted, author, state, done, of, message,"
         " file_name, attempts, issue_id, created_at) VALUES (1, '{}', '', 'ready', 0, 0, '', '', 0, 99, now())"),
    ],
)  # fmt: skip
def test_what_can_not_be_is_refused(database: Databases, said: str, statement: str) -> None:
    with database("refusing").migrated().connect() as connection:
        connection.execute("INSERT INTO blob (hash, size, stored_at) VALUES ('b', 0, now())")
        connection.execute(
            "INSERT INTO project (name, client, lengths, names, sheet_register, templates, created_at)"
            " VALUES ('P', '', 'mm', '{}', '{}', '{}', now())"
        )
        connection.execute(
            "INSERT INTO sheet (project_id, number, title, size, design, folder, place, fields)"
            " VALUES (1, 'A', '', 'A1', 'corner-block', '', 0, '{}')"
        )
        connection.execute("INSERT INTO drawing (project_id, letter, name, cut, style) VALUES (1, '', '', '{}', '{}')")
        with pytest.raises(psycopg.errors.IntegrityError, match=said):
            connection.execute(statement)
