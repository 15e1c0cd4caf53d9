"""What ./start runs: ready with the demo, everything ended by Ctrl+C, the same state the next time."""

from __future__ import annotations

import contextlib
import json
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from edge_slice.launch.postgres import Cluster, free_port, port_is_taken
from tests.conftest import ROOT


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    made = tmp_path_factory.mktemp("data")
    for part in (made, *made.parents):
        if part == made or part.name.startswith(("pytest", "popen")):
            part.chmod(0o755)  # so that the user postgres can enter when root runs the tests
    return made


def launch(folder: Path, *options: str) -> subprocess.Popen[str]:
    command = [sys.executable, "-u", "-m", "edge_slice.launch", "--data", str(folder), *options]
    return subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)


def lines_until(process: subprocess.Popen[str], word: str) -> Iterator[str]:
    assert process.stdout is not None
    said = []
    for line in process.stdout:
        said.append(line)
        yield line
        if word in line:
            return
    raise AssertionError(f"ended without saying {word!r}: {''.join(said)}")


def get(port: int, path: str) -> list[dict]:
    with urllib.request.urlopen(f"http://127.0.0.1:{port}{path}", timeout=20) as response:
        return json.loads(response.read())


@pytest.mark.long
def test_set_up_started_stopped_and_killed(folder: Path) -> None:
    """In one go, as the demo is loaded in the first step alone."""
    _set_up(folder)
    ports = [free_port(), free_port()]
    first = _starts_with_the_demo(folder, *ports)
    assert _whatever_is_killed_starts_again(folder, *ports) == first


def _set_up(folder: Path) -> None:
    database = free_port()
    process = launch(folder, "--setup-only", "--database-port", str(database))
    said = list(lines_until(process, "set up"))
    assert any("Loading and drawing the demo" in line for line in said)
    assert process.wait(timeout=30) == 0
    assert not port_is_taken(database)


def _starts_with_the_demo(folder: Path, web: int, database: int) -> list[dict]:
    """What a newcomer sees first: a documented set on sheets, following the second revision of the model. Its
    drawings, as they are listed."""
    process = launch(folder, "--port", str(web), "--database-port", str(database))
    assert any(f"http://127.0.0.1:{web}" in line for line in lines_until(process, "is ready"))
    (project,) = get(web, "/api/projects")
    assert project["name"] == "Curlew Point Field Station"
    drawings = get(web, f"/api/projects/{project['id']}/drawings")
    assert "Lower plan" in [d["title"] for d in drawings]
    sheets = get(web, f"/api/projects/{project['id']}/sheets")
    assert [s["number"] for s in sheets] == ["A-001", "A-002", "A-101", "A-102", "A-201", "A-301", "A-401"]
    assert all(d["placement"] for d in drawings)
    junctions = [d for d in drawings if d["kind"] == "detail"]
    kinds = [{a["document"]["kind"] for a in get(web, f"/api/drawings/{d['id']}/annotations")} for d in junctions]
    assert all({"note", "layer note", "dimension"} <= found for found in kinds)
    assert all(get(web, f"/api/drawings/{d['id']}/touch-ups") for d in junctions)
    assert [r["number"] for r in get(web, f"/api/projects/{project['id']}/revisions")] == [4, 3, 2, 1]
    assert get(web, f"/api/projects/{project['id']}/anchors") == []
    process.send_signal(signal.SIGINT)
    assert process.wait(timeout=30) == 0
    assert not port_is_taken(web)
    assert not port_is_taken(database)
    return drawings


def _whatever_is_killed_starts_again(folder: Path, web: int, database: int) -> list[dict]:
    """The worker, the web server's master, and the database with requests going on meanwhile. The drawings that are
    there afterwards."""
    ports = ("--port", str(web), "--database-port", str(database))
    process = launch(folder, *ports, "--web-processes", "2")
    said: list[str] = list(lines_until(process, "is ready"))
    for words, name in (("edge_slice.worker", "worker"), ("gunicorn", "web server")):
        subprocess.run(["kill", "-9", str(child(process, words))], check=True)
        said += lines_until(process, f"The {name} ended; starting another")
        answers(web)
    own = Cluster(folder / "postgres", 0).data  # of several installations on a machine only this one's is killed
    master = int((own / "postmaster.pid").read_text().split()[0])
    subprocess.run(["kill", "-9", str(master)], check=True)
    for _ in range(30):  # every one of these finds the database away
        with contextlib.suppress(OSError):
            get(web, "/api/projects")
    answers(web)
    (project,) = get(web, "/api/projects")
    drawings = get(web, f"/api/projects/{project['id']}/drawings")
    process.send_signal(signal.SIGTERM)
    rest, _ = process.communicate(timeout=60)
    assert process.returncode == 0
    assert "The database ended; starting another" in rest
    assert "Traceback" not in rest
    assert rest.count("database away") <= 2  # of each of the two processes
    assert not port_is_taken(database)
    return drawings


@pytest.mark.parametrize("option", ["--port", "--database-port"])
def test_taken_port_is_said_clearly(folder: Path, option: str) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        taken = other.getsockname()[1]
        ports = {"--port": free_port(), "--database-port": free_port(), option: taken}
        process = launch(folder, *(str(part) for pair in ports.items() for part in pair))
        output, _ = process.communicate(timeout=60)
    assert process.returncode == 1
    assert f"Port {taken} is taken" in output
    assert option in output
    assert "Traceback" not in output


def test_a_database_without_its_password_is_said_clearly(folder: Path) -> None:
    data = folder / "lost" / "postgres" / "data"
    data.mkdir(parents=True)
    (data / "PG_VERSION").write_text("15")
    process = launch(folder / "lost", "--setup-only", "--database-port", str(free_port()))
    output, _ = process.communicate(timeout=60)
    assert process.returncode == 1
    assert "not its password" in output
    assert "Traceback" not in output


def child(process: subprocess.Popen[str], words: str) -> int:
    listed = subprocess.run(["pgrep", "-P", str(process.pid), "-f", words], capture_output=True, text=True)
    return int(listed.stdout.split()[0])


def answers(port: int, wait: float = 60) -> None:
    """Until the server answers from its database again."""
    end = time.monotonic() + wait
    while time.monotonic() < end:
        with contextlib.suppress(OSError):
            get(port, "/api/projects")
            return
        time.sleep(0.2)
    raise AssertionError("the server did not come back")
