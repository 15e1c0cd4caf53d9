"""Edits at the same moment: of two with one version exactly one is taken, and what is taken stays."""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest

from tests.http.drawings.test_drawings import add_section
from tests.installation import Answer, Installation

ROUNDS = 8


def at_once(*acts: Callable[[], Answer]) -> list[Answer]:
    gate = threading.Barrier(len(acts))

    def act(one: Callable[[], Answer]) -> Answer:
        gate.wait()
        return one()

    with ThreadPoolExecutor(len(acts)) as pool:
        return list(pool.map(act, acts))


@pytest.fixture
def rows(installation: Installation, hut_project: int) -> dict[str, tuple[str, str]]:
    """For each kind of row where it is edited, and which field."""
    call = installation.call
    project = f"/api/projects/{hut_project}"
    drawing = call("GET", f"{project}/drawings").json[0]["id"]
    sheet = call("POST", f"{project}/sheets", {"number": "T-1"}).json["id"]
    placement = call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": drawing}).json["placements"][0]["id"]
    return {
        "drawing": (f"/api/drawings/{drawing}", "name"),
        "sheet": (f"/api/sheets/{sheet}", "title"),
        "placement": (f"/api/placements/{placement}", "number"),
        "project": (project, "client"),
    }


def edited(installation: Installation, path: str, body: dict[str, Any]) -> Callable[[], Answer]:
    return lambda: installation.call("PATCH", path, body)


def version_of(installation: Installation, project: int, path: str) -> int:
    table, number = path.removeprefix("/api/").split("/")
    name = table.removesuffix("s")
    return int(installation.one(f"SELECT version FROM {name} WHERE id = {number}")[0])


@pytest.mark.parametrize("kind", ["drawing", "sheet", "placement", "project"])
def test_of_two_edits_with_one_version_one_is_taken(
    installation: Installation, hut_project: int, rows: dict[str, tuple[str, str]], kind: str
) -> None:
    path, field = rows[kind]
    table, number = path.removeprefix("/api/").split("/")
    for k in range(ROUNDS):
        version = version_of(installation, hut_project, path)
        texts = [f"{k}a", f"{k}b"]
        answers = at_once(*(edited(installation, path, {"version": version, field: text}) for text in texts))
        assert sorted(a.status for a in answers) == [200, 409]
        taken = next(text for text, a in zip(texts, answers, strict=True) if a.status == 200)
        assert installation.one(f"SELECT {field} FROM {table.removesuffix('s')} WHERE id = {number}") == (taken,)
        stale = next(a for a in answers if a.status == 409)
        assert taken in str(stale.json["current"])


def test_of_two_edits_of_a_standard_one_is_taken(installation: Installation, hut_project: int) -> None:
    made = installation.call("POST", f"/api/projects/{hut_project}/standards", {"name": "Ours"}).json
    for k in range(ROUNDS):
        version = installation.one(f"SELECT version FROM standard WHERE id = {made['id']}")[0]
        documents = [{**made["document"], "name": f"Ours {k}{x}"} for x in "ab"]
        bodies = [{"version": version, "document": d} for d in documents]
        answers = at_once(*(edited(installation, f"/api/standards/{made['id']}", body) for body in bodies))
        assert sorted(a.status for a in answers) == [200, 409]


def test_undo_redo_and_edits_at_once_lose_nothing(installation: Installation, hut_project: int) -> None:
    call, project = installation.call, f"/api/projects/{hut_project}"
    drawing = call("GET", f"{project}/drawings").json[0]
    path = f"/api/drawings/{drawing['id']}"
    for k in range(4):
        version = version_of(installation, hut_project, path)
        assert call("PATCH", path, {"version": version, "name": f"Name {k}"}).status == 200
    undone = at_once(lambda: call("POST", f"{project}/undo"), lambda: call("POST", f"{project}/undo"))
    assert [a.json["label"] for a in undone] == ["edit name", "edit name"]
    assert call("GET", path).json["name"] == "Name 1"
    redone = at_once(lambda: call("POST", f"{project}/redo"), lambda: call("POST", f"{project}/redo"))
    assert all(a.status == 200 for a in redone)
    assert call("GET", path).json["name"] == "Name 3"
    version = version_of(installation, hut_project, path)
    edit, undo = at_once(
        lambda: call("PATCH", path, {"version": version, "name": "Late"}), lambda: call("POST", f"{project}/undo")
    )
    assert undo.status == 200
    name = call("GET", path).json["name"]
    # the edit came first and was taken back, or came second and was stale, or came first and stands no more
    assert (edit.status, name) in [(200, "Name 3"), (409, "Name 2")]


def test_new_sheets_and_sections_at_once_get_numbers_and_letters_of_their_own(
    installation: Installation, hut_project: int
) -> None:
    project = f"/api/projects/{hut_project}"
    for _ in range(ROUNDS):
        answers = at_once(*(lambda: installation.call("POST", f"{project}/sheets", {}) for _ in range(3)))
        assert [a.status for a in answers] == [201, 201, 201]
        assert len({a.json["number"] for a in answers}) == 3
    made: list[Any] = []
    threads = [threading.Thread(target=lambda: made.append(add_section(installation, hut_project))) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len({m["letter"] for m in made}) == 3
