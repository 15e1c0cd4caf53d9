"""edge-slice serve, owner, backup, restore, upgrade: against a PostgreSQL that somebody else runs."""

from __future__ import annotations

import os
import re
import signal
import smtplib
import ssl
import subprocess
import sys
import threading
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from edge_slice.launch.postgres import free_port
from tests.installation import Installation, sent
from tests.office import PASSWORD, Caller

COMMAND = (sys.executable, "-c", "from edge_slice.entry import main; main()")


def run(installation: Installation, *words: str, said: str = "", url: str = "") -> subprocess.CompletedProcess[str]:
    environment = {**installation.environment, "EDGE_SLICE_DATABASE_URL": url or installation.cluster.url}
    return subprocess.run([*COMMAND, *words], input=said, env=environment, capture_output=True, text=True, timeout=300)


@pytest.fixture
def empty(installation: Installation) -> Iterator[str]:
    """Another database of the same server, with nothing in it."""
    name = f"other_{os.urandom(4).hex()}"
    plain = installation.cluster.url.replace("+psycopg", "")
    with psycopg.connect(plain, autocommit=True) as link:
        link.execute(f"CREATE DATABASE {name}")  # type: ignore[arg-type]
    yield installation.cluster.url.rsplit("/", 1)[0] + f"/{name}"
    with psycopg.connect(plain, autocommit=True) as link:
        link.execute(f"DROP DATABASE {name} WITH (FORCE)")  # type: ignore[arg-type]


def test_an_owner_is_made_and_let_in_again(installation: Installation) -> None:
    made = run(installation, "owner", "Mo@Curlew.example", "Mo", said=PASSWORD + "\n")
    assert made.returncode == 0, made.stderr
    assert "has an account now" in made.stdout
    again = run(installation, "owner", "mo@curlew.example", "Mo", said="another harbour granite otter\n")
    assert "had an account" in again.stdout
    weak = run(installation, "owner", "mo@curlew.example", "Mo", said="short\n")
    assert weak.returncode == 1
    assert "12 to 128 characters" in weak.stderr
    assert "Traceback" not in weak.stderr


def test_it_is_served_to_who_signs_in_and_ended_in_order(installation: Installation) -> None:
    run(installation, "owner", "serving@curlew.example", "Serving", said=PASSWORD + "\n")
    web, events = free_port(), free_port()
    words = ("serve", "--port", str(web), "--events-port", str(events), "--web-processes", "1")
    served = subprocess.Popen(
        [*COMMAND, *words], env=installation.environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )  # fmt: skip
    try:
        assert served.stdout is not None
        assert f"listens at 127.0.0.1:{web}" in served.stdout.readline()
        url = f"http://127.0.0.1:{web}"
        assert sent(url, "GET", "/healthz").json == {"database": True, "schema": True}
        assert sent(url, "GET", "/api/projects").status == 401
        assert sent(url, "GET", "/metrics").status == 401
        owner = Caller(url)
        assert owner.sign_in("serving@curlew.example").status == 200
        assert owner.call("GET", "/api/projects").status == 200
        told = owner.call("GET", "/metrics").body.decode()
        assert re.search(
            r'^edge_slice_answers_total{method="GET",.*route="/api/projects",status="200"} 1.0$', told, re.M
        )
        assert re.search(r"^edge_slice_workers [1-9]", told, re.M)
        assert '<meta name="sign-in"' in owner.call("GET", "/").body.decode()
        taken = run(installation, *words)
        assert taken.returncode == 1
        assert f"Port {web} is taken" in taken.stderr
    finally:
        served.send_signal(signal.SIGTERM)
        assert served.wait(timeout=30) == 0


def test_it_is_served_by_tls(installation: Installation, tmp_path: Path) -> None:
    key, certificate = tmp_path / "key.pem", tmp_path / "certificate.pem"
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", "1",
         "-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost", "-keyout", str(key), "-out",
         str(certificate)],
        check=True, capture_output=True,
    )  # fmt: skip
    web = free_port()
    words = ("serve", "--port", str(web), "--events-port", str(free_port()), "--web-processes", "1")
    alone = run(installation, *words, "--key", str(key))
    assert "belong together" in alone.stderr
    tls = ("--certificate", str(certificate), "--key", str(key))
    served = subprocess.Popen(
        [*COMMAND, *words, *tls], env=installation.environment, stdout=subprocess.PIPE, text=True
    )  # fmt: skip
    try:
        assert served.stdout is not None
        assert "listens" in served.stdout.readline()
        trusted = ssl.create_default_context(cafile=str(certificate))
        with urllib.request.urlopen(f"https://localhost:{web}/api/session", context=trusted, timeout=30) as answer:
            assert answer.headers["Strict-Transport-Security"].startswith("max-age=")
    finally:
        served.send_signal(signal.SIGTERM)
        assert served.wait(timeout=30) == 0


def test_a_backup_made_while_people_edit_has_all_that_was_acknowledged_before(
    installation: Installation, hut_project: int, empty: str, tmp_path: Path
) -> None:
    ending, kept = threading.Event(), []

    def edit() -> None:
        while not ending.is_set():
            made = installation.call("POST", f"/api/projects/{hut_project}/standards", {"name": f"No {len(kept)}"})
            assert made.status == 201
            kept.append(made.json["id"])

    person = threading.Thread(target=edit)
    person.start()
    try:
        installation.until(lambda: len(kept) >= 3)
        before = list(kept)
        path = tmp_path / "all.backup"
        done = run(installation, "backup", str(path), "--check")
    finally:
        ending.set()
        person.join()
    assert done.returncode == 0, done.stderr
    assert "restored beside, all were there" in done.stdout
    assert len(kept) > len(before)  # nobody waited for it
    restored = run(installation, "restore", str(path), url=empty)
    assert restored.returncode == 0, restored.stderr
    with psycopg.connect(empty.replace("+psycopg", "")) as link:
        there = {row[0] for row in link.execute("SELECT id FROM standard").fetchall()}
        assert set(before) <= there
        models = link.execute(
            "SELECT count(*) FROM revision AS r JOIN blob AS b ON b.hash = r.geometry_hash"
        ).fetchone()
    assert models is not None
    assert models[0] > 0
    twice = run(installation, "restore", str(path), url=empty)
    assert twice.returncode == 1
    assert "not empty" in twice.stderr
    over = run(installation, "backup", str(path))
    assert over.returncode == 1
    assert "is there already" in over.stderr


def test_an_empty_database_is_upgraded_and_served_only_then(
    installation: Installation, empty: str, tmp_path: Path
) -> None:
    words = ("serve", "--port", str(free_port()), "--events-port", str(free_port()))
    early = run(installation, *words, url=empty)
    assert early.returncode == 1
    assert "run edge-slice upgrade" in early.stderr
    first = run(installation, "upgrade", "--backup", str(tmp_path / "first.backup"), url=empty)
    assert first.returncode == 0, first.stderr
    again = run(installation, "upgrade", "--backup", str(tmp_path / "second.backup"), url=empty)
    assert again.returncode == 0, again.stderr
    assert (tmp_path / "second.backup").stat().st_size > 0


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("backup", "/nowhere/at/all.backup"), "no folder"),
        (("restore", "/nowhere.backup"), "no file"),
        (("serve", "--web-processes", "0"), "from 1 to 64"),
        (("serve", "--certificate", "/none", "--key", "/none"), "no file"),
    ],
)
def test_what_can_not_be_done_is_said(installation: Installation, words: tuple[str, ...], said: str) -> None:
    done = run(installation, *words)
    assert done.returncode == 1
    assert said in done.stderr
    assert "Traceback" not in done.stderr


def test_a_database_that_is_away_is_said(installation: Installation) -> None:
    away = f"postgresql://edge_slice:x@127.0.0.1:{free_port()}/edge_slice"
    for words in (("serve",), ("work",), ("backup", "x.backup")):
        done = run(installation, *words, "--database", away)
        assert done.returncode == 1
        assert "can't be reached" in done.stderr
        assert "Traceback" not in done.stderr


def test_letters_are_shown_for_trying() -> None:
    port = free_port()
    box = subprocess.Popen([*COMMAND, "letterbox", "--port", str(port)], stdout=subprocess.PIPE, text=True)
    assert box.stdout is not None
    assert f"127.0.0.1:{port}" in box.stdout.readline()
    with smtplib.SMTP("127.0.0.1", port) as server:
        server.sendmail("edge-slice@curlew.example", ["noor@curlew.example"], "Subject: A remark\n\nToo low.")
    shown = [box.stdout.readline() for _ in range(4)]
    box.send_signal(signal.SIGTERM)
    assert box.wait(timeout=20) == 0
    assert "Subject: A remark\n" in shown
    assert "Too low.\n" in shown
