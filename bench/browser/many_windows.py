"""Many open windows: what a request costs while one window listens, and while five hundred do, in one run.

python -m bench.browser.many_windows [WINDOWS]
"""

from __future__ import annotations

import contextlib
import json
import os
import resource
import socket
import statistics
import sys
import time
import urllib.request
from pathlib import Path

from tests.ifc_files import write_hut
from tests.installation import Installation

REQUESTS, ROUNDS = 60, 5


def listening(port: int, project: int) -> socket.socket:
    window = socket.create_connection(("127.0.0.1", port), timeout=60)
    window.sendall(f"GET /api/events?projects={project} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n\r\n".encode())
    assert b" 200 " in window.recv(4096)
    return window


def median(app: Installation, path: str) -> float:
    """Milliseconds of a request."""
    taken = []
    for _ in range(REQUESTS):
        began = time.perf_counter()
        with urllib.request.urlopen(app.url + path) as answer:
            answer.read()
        taken.append((time.perf_counter() - began) * 1000)
    return statistics.median(taken)


def heard(windows: list[socket.socket]) -> None:
    """Until the last window has heard of an edit."""
    for window in windows:
        told = b""
        while b'"edit name"' not in told:
            told += window.recv(65536)


def edit(app: Installation, drawing: int, name: str, windows: list[socket.socket]) -> float:
    """Milliseconds from an edit until all windows have heard of it."""
    began = time.perf_counter()
    assert app.edit(f"/api/drawings/{drawing}", {"name": name}).status == 200
    heard(windows)
    return (time.perf_counter() - began) * 1000


def main() -> None:
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    hard = resource.getrlimit(resource.RLIMIT_NOFILE)[1]
    resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))
    app = Installation()
    try:
        project = app.import_project(write_hut(Path(app.folder.name) / "hut.ifc"))
        drawing = app.call("GET", f"/api/projects/{project}/drawings").json[0]["id"]
        paths = {"list of drawings": f"/api/projects/{project}/drawings", "view": f"/api/drawings/{drawing}/view"}
        port = app.services.events_port
        found: dict[str, list[float]] = {}
        for k in range(ROUNDS):
            for count in (1, many):
                with contextlib.ExitStack() as held:
                    windows = [held.enter_context(listening(port, project)) for _ in range(count)]
                    for name, path in paths.items():
                        found.setdefault(f"{name}, {count}", []).append(median(app, path))
                    found.setdefault(f"told, {count}", []).append(edit(app, drawing, f"{k} {count}", windows))
        for name, taken in found.items():
            print(f"{name:28} {statistics.median(taken):8.2f} ms")
        for name in paths:
            share = statistics.median(found[f"{name}, {many}"]) / statistics.median(found[f"{name}, 1"])
            print(f"{name}: {share:.2f} times the time of one window, with {many} windows")
        assert app.services.events is not None
        status = Path(f"/proc/{app.services.events.pid}/status").read_text()
        size = next(line.split()[1] for line in status.splitlines() if line.startswith("VmHWM"))
        print(f"the process that tells them: {int(size) / 1024:.0f} MB; this machine: {os.cpu_count()} cores")
        print(json.dumps({k: round(statistics.median(v), 2) for k, v in found.items()}))
    finally:
        app.stop()


if __name__ == "__main__":
    main()
