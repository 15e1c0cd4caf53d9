"""Model files on their way in: what is refused, what fails, what survives a killed worker."""

import os
import signal
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import psycopg
import pytest

from tests.conftest import DEMO
from tests.ifc_files import write_hut
from tests.installation import UPLOAD_LIMIT_MB, Installation

KEPT = ("blob", "blob_chunk", "project", "revision", "drawing")


def kept(app: Installation) -> dict[str, int]:
    return {table: app.rows(table) for table in KEPT}


def under_way(app: Installation) -> list[str]:
    """The files that are told among imports."""
    return [one["file_name"] for one in app.call("GET", "/api/imports").json]


@pytest.mark.parametrize(
    ("name", "content", "word"),
    [
        ("empty.ifc", b"", "empty"),
        ("photo.ifc", b"\xff\xd8\xff\xe0 a picture", "not an IFC file"),
        ("half.ifc", DEMO.read_bytes()[:200_000], "cut short"),
    ],
)
def test_what_is_no_whole_ifc_file_is_refused_at_once(
    installation: Installation, name: str, content: bytes, word: str
) -> None:
    before = kept(installation)
    answer = installation.upload(name, content)
    assert answer.status == 422
    assert word in answer.json["message"]
    assert name in answer.json["message"]
    assert kept(installation) == before
    assert name not in under_way(installation)


def test_far_too_large_file_is_refused(installation: Installation) -> None:
    before = kept(installation)
    answer = installation.upload("large.ifc", b"ISO-10303-21;" + b" " * (UPLOAD_LIMIT_MB + 1) * 1024 * 1024)
    assert answer.status == 413
    assert f"{UPLOAD_LIMIT_MB} MB" in answer.json["message"]
    assert kept(installation) == before


@pytest.mark.parametrize("kind", ["without geometry", "nonsense inside"])
def test_failed_import_says_why_and_leaves_only_its_note(installation: Installation, tmp_path: Path, kind: str) -> None:
    before = kept(installation)
    if kind == "without geometry":
        content, word = write_hut(tmp_path / "empty.ifc", bodies=False).read_bytes(), "no building geometry"
    else:
        content, word = b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=NONSENSE(;\nENDSEC;\nEND-ISO-10303-21;\n", ""
    answer = installation.upload("bad.ifc", content)
    assert answer.status == 202
    state = installation.finished_import(answer.json["id"])
    assert state["state"] == "failed"
    assert word in state["message"]
    assert state["message"]
    assert kept(installation) == before
    assert installation.call("DELETE", f"/api/imports/{state['id']}").status == 204
    assert "bad.ifc" not in under_way(installation)


def test_file_with_one_bad_element_is_imported_and_names_it(installation: Installation, tmp_path: Path) -> None:
    project = installation.import_project(write_hut(tmp_path / "bad.ifc", broken=True))
    facts = installation.call("GET", f"/api/projects/{project}").json["facts"]
    assert facts["elements"] == 5
    assert "Nothing" in facts["problems"][0]


def test_model_without_storeys_has_a_plan_to_begin_with(installation: Installation, tmp_path: Path) -> None:
    project = installation.import_project(write_hut(tmp_path / "flat.ifc", storeys=False))
    (plan,) = installation.call("GET", f"/api/projects/{project}/drawings").json
    assert plan["title"] == "Base plan"
    assert installation.call("GET", f"/api/drawings/{plan['id']}/view").status == 200


def test_the_same_file_twice_is_stored_once(installation: Installation, tmp_path: Path) -> None:
    path = write_hut(tmp_path / "twice.ifc")
    first = installation.import_project(path)
    before = installation.rows("blob")
    second = installation.import_project(path)
    assert installation.rows("blob") == before
    installation.call("DELETE", f"/api/projects/{first}")
    assert installation.call("GET", f"/api/projects/{second}/drawings").status == 200
    drawing = installation.call("GET", f"/api/projects/{second}/drawings").json[0]
    assert installation.call("GET", f"/api/drawings/{drawing['id']}/view").status == 200


@contextmanager
def no_import_ends(app: Installation) -> Iterator[None]:
    """Readers come as far as their project, and wait there."""
    with suppress(psycopg.OperationalError), psycopg.connect(app.cluster.url.replace("+psycopg", "")) as connection:
        connection.execute("LOCK TABLE project IN EXCLUSIVE MODE")
        yield


def test_import_can_be_cancelled(installation: Installation) -> None:
    before = kept(installation)
    content = DEMO.read_bytes().replace(b"ISO-10303-21;", b"ISO-10303-21; /* cancelled */", 1)
    number = installation.upload("cancel.ifc", content).json["id"]
    installation.until(lambda: installation.call("GET", f"/api/imports/{number}").json["state"] == "reading")
    installation.call("DELETE", f"/api/imports/{number}")
    installation.until(lambda: kept(installation) == before)
    assert installation.call("GET", f"/api/imports/{number}").json["state"] == "cancelled"
    installation.call("DELETE", f"/api/imports/{number}")


def test_import_survives_a_killed_worker(installation: Installation, tmp_path: Path) -> None:
    projects = installation.rows("project")
    number = installation.upload("killed.ifc", write_hut(tmp_path / "hut.ifc", at=(2, 0, 0)).read_bytes()).json["id"]
    with no_import_ends(installation):
        installation.until(lambda: reader(installation, number))
        installation.kill_worker()
    assert installation.call("GET", f"/api/imports/{number}").json["state"] in ("waiting", "reading")
    installation.start_worker()
    state = installation.finished_import(number, wait=180)
    assert state["state"] == "ready"
    assert installation.rows("project") == projects + 1
    installation.call("DELETE", f"/api/projects/{state['project_id']}")


def reader(app: Installation, number: int) -> int:
    """The process that reads the file of an import at the moment; 0 for none. Other installations that are tested
    meanwhile have imports of the same numbers."""
    found = subprocess.run(["pgrep", "-x", f"reading {number}"], capture_output=True, text=True)
    for process in found.stdout.split():
        with suppress(OSError):  # ended meanwhile
            if app.cluster.url.encode() in Path(f"/proc/{process}/environ").read_bytes():
                return int(process)
    return 0


@pytest.mark.long
def test_file_that_brings_its_reader_down_is_given_up_and_can_be_tried_again(
    installation: Installation, tmp_path: Path
) -> None:
    before = {k: n for k, n in kept(installation).items() if not k.startswith("blob")}
    number = installation.upload("deadly.ifc", write_hut(tmp_path / "hut.ifc", at=(3, 0, 0)).read_bytes()).json["id"]
    for _ in range(3):
        with no_import_ends(installation):
            killed = installation.until(lambda: reader(installation, number))
            os.kill(killed, signal.SIGKILL)
        installation.until(lambda gone=killed: reader(installation, number) != gone)
    state = installation.finished_import(number)
    assert state["state"] == "failed"
    assert "SIGKILL" in state["message"]
    assert state["can_retry"]
    assert {k: n for k, n in kept(installation).items() if not k.startswith("blob")} == before
    assert installation.call("POST", f"/api/imports/{number}/retry").status == 202
    state = installation.finished_import(number)
    assert state["state"] == "ready"
    assert installation.call("POST", f"/api/imports/{number}/retry").status == 422
    installation.call("DELETE", f"/api/projects/{state['project_id']}")


@pytest.mark.long
def test_killed_and_stopped_workers_do_not_count_against_a_file(installation: Installation, tmp_path: Path) -> None:
    number = installation.upload("unlucky.ifc", write_hut(tmp_path / "hut.ifc", at=(4, 0, 0)).read_bytes()).json["id"]
    for kill in (True, False, True, False):
        with no_import_ends(installation):
            read_by = installation.until(lambda: reader(installation, number))
            worker = installation.services.worker
            assert worker is not None
            if kill:
                installation.kill_worker()
            else:
                worker.terminate()
                worker.wait(timeout=10)
            installation.until(lambda gone=read_by: reader(installation, number) != gone)
        installation.start_worker()
    state = installation.finished_import(number, wait=180)
    assert state["state"] == "ready"
    installation.call("DELETE", f"/api/projects/{state['project_id']}")


def test_upload_is_queued_in_one_act_and_refused_soon_without_a_database(
    installation: Installation, tmp_path: Path
) -> None:
    content = write_hut(tmp_path / "hut.ifc").read_bytes()
    installation.kill_worker()
    number = installation.upload("waits.ifc", content).json["id"]
    queued = installation.one(f"SELECT count(*) FROM procrastinate_jobs WHERE args->>'import_id' = '{number}'")
    assert queued == (1,)
    installation.cluster.stop()
    down = installation.upload("away.ifc", content)
    assert down.status == 503
    assert "database" in down.json["message"]
    installation.cluster.start()
    installation.start_worker()
    state = installation.finished_import(number)
    assert state["state"] == "ready"
    installation.call("DELETE", f"/api/projects/{state['project_id']}")


@pytest.mark.long
def test_import_outlives_a_restart_of_the_database(installation: Installation, tmp_path: Path) -> None:
    number = installation.upload("restart.ifc", write_hut(tmp_path / "hut.ifc", at=(5, 0, 0)).read_bytes()).json["id"]
    with no_import_ends(installation):
        installation.until(lambda: reader(installation, number))
        installation.cluster.stop()
    installation.cluster.start()
    installation.until(lambda: installation.call("GET", f"/api/imports/{number}").status == 200)
    state = installation.finished_import(number, wait=180)
    assert state["state"] == "ready"
    installation.call("DELETE", f"/api/projects/{state['project_id']}")


def test_database_stopped_and_started_again(installation: Installation, hut_project: int) -> None:
    path = f"/api/projects/{hut_project}/drawings"
    before = installation.call("GET", path).json
    installation.cluster.stop()
    down = installation.call("GET", path)
    assert down.status == 503
    assert "What was saved is safe" in down.json["message"]
    lost = {"version": before[0]["version"], "name": "Lost"}
    edit = installation.call("PATCH", f"/api/drawings/{before[0]['id']}", lost)
    assert edit.status == 503
    installation.cluster.start()
    assert installation.until(lambda: installation.call("GET", path).status == 200)
    assert installation.call("GET", path).json == before
    assert installation.call("POST", f"/api/projects/{hut_project}/undo").json["label"] == ""
