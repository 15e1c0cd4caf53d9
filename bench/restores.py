"""python -m bench.restores [TIMES]: backups made while somebody edits, each restored into an empty database: whether
all that was acknowledged before a backup began is there, and how long both took."""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

import psycopg

from tests.ifc_files import write_hut
from tests.installation import Installation

COMMAND = (sys.executable, "-c", "from edge_slice.entry import main; main()")


def run(app: Installation, url: str, *words: str) -> float:
    """Seconds that a command takes."""
    began = time.monotonic()
    environment = {**app.environment, "EDGE_SLICE_DATABASE_URL": url}
    subprocess.run([*COMMAND, *words], env=environment, check=True, capture_output=True)
    return time.monotonic() - began


class Editing(threading.Thread):
    """Somebody who adds sheets, without pause; `kept`: those that were acknowledged."""

    def __init__(self, app: Installation, project: int) -> None:
        super().__init__(daemon=True)
        self.app, self.project = app, project
        self.kept: list[int] = []
        self.ending = threading.Event()

    def run(self) -> None:
        while not self.ending.is_set():
            made = self.app.call("POST", f"/api/projects/{self.project}/sheets", {"title": f"No {len(self.kept)}"})
            assert made.status == 201, made.body
            self.kept.append(made.json["id"])


def main() -> None:
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    app, took, good, before = Installation(), [], 0, set[int]()
    plain = app.cluster.url.replace("+psycopg", "")
    with tempfile.TemporaryDirectory() as folder:
        try:
            project = app.import_project(write_hut(Path(folder) / "hut.ifc"))
            for k in range(times):
                editing = Editing(app, project)
                editing.start()
                app.until(lambda who=editing: len(who.kept) >= 5)
                before |= set(editing.kept)
                path = str(Path(folder) / f"{k}.backup")
                backing = run(app, app.cluster.url, "backup", path, "--check")
                editing.ending.set()
                editing.join()
                with psycopg.connect(plain, autocommit=True) as link:
                    link.execute(f"CREATE DATABASE again_{k}")  # type: ignore[arg-type]
                url = f"{app.cluster.url.rsplit('/', 1)[0]}/again_{k}"
                restoring = run(app, url, "restore", path)
                with psycopg.connect(url.replace("+psycopg", "")) as link:
                    there = {n for (n,) in link.execute("SELECT id FROM sheet").fetchall()}
                good += before <= there
                before |= set(editing.kept)
                took.append((backing, restoring))
                print(
                    f"{k + 1}: {len(before)} before it, {len(editing.kept)} in all, {len(there)} restored", flush=True
                )
        finally:
            app.stop()
    backing, restoring = (statistics.median(one) for one in zip(*took, strict=True))
    print(f"{good} of {times} have all; backing up and checking {backing:.1f} s, restoring {restoring:.1f} s")


if __name__ == "__main__":
    main()
