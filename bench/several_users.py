"""python -m bench.several_users [PROCESSES]: eight views that nobody asked for before, one after the other and at the
same time, of an installation with so many web server processes (1)."""

from __future__ import annotations

import json
import sys
import time
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from bench.browser.full_project import call, installed

USERS, ROUNDS = 8, 4


def view(url: str, project: int, x: float) -> None:
    cut = {"kind": "section", "line": [[x, -2], [x, 12]], "depth": 6}
    body = json.dumps({"cut": cut, "style": {"scale": 20}}).encode()
    request = urllib.request.Request(f"{url}/api/projects/{project}/view", body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as response:
        response.read()


def seconds(url: str, project: int, at_once: bool, first: float) -> float:
    """For the views of all users, each at a place of its own."""
    places = [first + 0.37 * k for k in range(USERS)]
    began = time.perf_counter()
    with ThreadPoolExecutor(USERS if at_once else 1) as pool:
        list(pool.map(lambda x: view(url, project, x), places))
    return time.perf_counter() - began


def measure(url: str) -> None:
    projects: list[dict[str, Any]] = call(url, "/api/projects")
    project = int(projects[0]["id"])
    for x in (1.0, 1.1, 1.2, 1.3):
        view(url, project, x)  # every process has the model then
    for k in range(ROUNDS):
        alone, together = (seconds(url, project, way, 2.0 + 0.011 * (2 * k + way)) for way in (False, True))
        print(f"  one after the other {alone:.2f} s, at once {together:.2f} s: {alone / together:.2f} times as fast")


if __name__ == "__main__":
    processes = int(sys.argv[1]) if len(sys.argv) > 1 else 1
    with installed(1, processes) as (address, _):
        measure(address)
