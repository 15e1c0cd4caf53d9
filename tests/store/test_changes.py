"""The change log: versions, older documents, and transactions that come into each other's way."""

from __future__ import annotations

import json
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from psycopg.errors import DeadlockDetected
from sqlalchemy import text
from sqlalchemy.exc import OperationalError
from sqlmodel import col, select

from edge_slice.store.changes import recorded, redo, undo
from edge_slice.store.database import is_clash, transaction
from edge_slice.store.forms import FORM, UnknownForm, newest
from edge_slice.store.marks import mark_of
from edge_slice.store.tables import EDITED, Placement, Project, Sheet
from edge_slice.web.server import TRIES, create_server
from tests.store.conftest import Database


def rename(name: str) -> int:
    with transaction() as session:
        row = session.get_one(Project, 1)
        with recorded(session, 1, "edit project") as act:
            act.edits(row)
            row.name = name
        return row.version


def version() -> int:
    with transaction() as session:
        return session.get_one(Project, 1).version


def test_a_version_never_comes_twice(store: Database) -> None:
    seen = [version(), rename("B")]
    for replay in (undo, redo, undo):
        with transaction() as session:
            replay(session, 1)
        seen.append(version())
    seen.append(rename("C"))
    assert len(set(seen)) == len(seen)
    assert seen == sorted(seen)


def mark(number: int = 1) -> str | None:
    with transaction() as session:
        return mark_of(session, number)


def test_a_project_has_another_mark_after_each_act_whoever_writes(store: Database) -> None:
    seen = [mark(), mark()]
    assert seen[0] == seen[1]
    rename("B")
    seen[1] = mark()
    for replay in (undo, redo, undo):
        with transaction() as session:
            replay(session, 1)
        seen.append(mark())
    other = mark(2)
    with store.connect() as connection:
        for said in (
            "INSERT INTO drawing (project_id, letter, name, cut, style, version) VALUES (1, 'A', '', '{}', '{}', 3)",
            "UPDATE drawing SET letter = 'B'", "DELETE FROM drawing", "UPDATE project SET name = name WHERE id = 1",
        ):  # fmt: skip
            connection.execute(said)
            seen.append(mark())
        assert mark(2) == other
        connection.execute("DELETE FROM project WHERE id = 2")
    assert mark(2) is None
    assert None not in seen
    assert len(set(seen)) == len(seen)


def test_what_was_tried_and_taken_back_leaves_the_mark(store: Database) -> None:
    before = mark()
    with transaction() as session:
        session.get_one(Project, 1).name = "never"
        session.flush()
        assert mark_of(session, 1) != before
        session.rollback()
    assert mark() == before


def test_each_table_that_drawings_depend_on_marks_its_project(store: Database) -> None:
    with store.connect() as connection:
        rows = connection.execute(
            "SELECT c.relname FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid WHERE t.tgname = 'marked'"
        ).fetchall()
    assert {row[0] for row in rows} >= {*EDITED, "revision"}


def name() -> str:
    with transaction() as session:
        return session.get_one(Project, 1).name


def test_a_new_act_ends_what_could_be_redone_and_nothing_else(store: Database) -> None:
    first = name()
    rename("B")
    rename("C")
    with transaction() as session:
        assert undo(session, 1) == "edit project"
    rename("D")
    with transaction() as session:
        assert redo(session, 1) is None
    for wanted in ("B", first):
        with transaction() as session:
            assert undo(session, 1) == "edit project"
        assert name() == wanted


def test_a_row_that_undo_brings_back_has_a_version_of_its_own(store: Database) -> None:
    with transaction() as session, recorded(session, 1, "new sheet") as act:
        row = Sheet(project_id=1, number="A-1", title="")
        act.adds(row)
    seen = [row.version]
    for replay in (undo, redo, undo, redo):
        with transaction() as session:
            replay(session, 1)
            if (found := session.exec(select(Sheet)).first()) is not None:
                seen.append(found.version)
    assert len(seen) == len(set(seen)) == 3


def test_undo_reads_documents_of_older_forms(store: Database) -> None:
    """A placement taken off before placements could be trimmed or stand on several sheets."""
    with transaction() as session, recorded(session, 1, "new sheet") as act:
        act.adds(Sheet(project_id=1, number="A-1", title=""))
    with store.connect() as connection:
        connection.execute("INSERT INTO drawing (project_id, letter, name, cut, style) VALUES (1, '', '', '{}', '{}')")
        old = {
            "id": 7,
            "project_id": 1,
            "sheet_id": 1,
            "drawing_id": 1,
            "number": "1",
            "x": 5.0,
            "y": 6.0,
            "version": 3,
        }
        connection.execute(
            "INSERT INTO change (project_id, act, label, author, at, table_name, row_id, before, after, state, form)"
            " VALUES (1, 'old', 'take off sheet', '', now(), 'placement', 7, %s, NULL, 'done', 1)",
            (json.dumps(old),),
        )
    with transaction() as session:
        assert undo(session, 1) == "take off sheet"
        row = session.exec(select(Placement).where(col(Placement.id) == 7)).one()
        assert (row.home, row.trim, row.title, row.stack, row.x) == (True, {}, {}, 0, 5.0)
        assert row.version > 3
    with pytest.raises(UnknownForm, match="newer Edge Slice"):
        newest("placement", old, FORM + 1)


def test_a_deadlock_is_known_as_one(store: Database) -> None:
    gate = threading.Barrier(2)

    def locking(order: tuple[int, int]) -> BaseException | None:
        try:
            with transaction() as session:
                for number in order:
                    wanted = text("SELECT id FROM project WHERE id = :n FOR UPDATE")
                    session.connection().execute(wanted, {"n": number})
                    if number == order[0]:
                        gate.wait()
        except OperationalError as error:
            return error
        return None

    with ThreadPoolExecutor(2) as pool:
        ends = list(pool.map(locking, [(1, 2), (2, 1)]))
    (clash,) = [end for end in ends if end is not None]
    assert is_clash(clash)
    assert not is_clash(OperationalError("SELECT 1", {}, ConnectionError("refused")))


@pytest.mark.parametrize(("failures", "status"), [(0, 200), (1, 200), (TRIES - 1, 200), (TRIES, 409)])
def test_what_met_another_act_is_tried_again(store: Database, failures: int, status: int) -> None:
    server = create_server(warm=False)
    tried: list[str] = []

    def act() -> str:
        tried.append("again")
        if len(tried) <= failures:
            raise OperationalError("UPDATE", {}, DeadlockDetected("deadlock detected"))
        return "done"

    server.add_url_rule("/api/act", "act", act, methods=["POST"])
    answer = server.test_client().post("/api/act", base_url="http://localhost")
    assert answer.status_code == status
    assert len(tried) == min(failures + 1, TRIES)
    if status == 409:
        assert "Try again" in answer.get_json()["message"]
