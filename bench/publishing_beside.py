"""python -m bench.publishing_beside [SHEETS]: a cutting line is dragged, alone and while so many sheets (60) are made a
PDF, in turn, in an installation of its own: how much longer a step takes beside the publication."""

from __future__ import annotations

import sys
import time
from typing import Any

from bench.browser.full_project import call, installed
from bench.publishing import filled
from bench.several_users import view
from bench.timing import spread

STEP = 0.1  # seconds between two moves of a hand
ALONE = 20.0  # seconds
ROUNDS = 3


def steps(url: str, project: int, goes_on: Any, first: float) -> list[float]:
    """Seconds of each step of a line that is dragged on and on."""
    took = []
    while goes_on():
        began = time.perf_counter()
        view(url, project, 1.0 + (first + 0.013 * len(took)) % 12.0)
        took.append(time.perf_counter() - began)
        time.sleep(max(0.0, STEP - took[-1]))
    return took


def alone(url: str, project: int, first: float) -> list[float]:
    ends = time.perf_counter() + ALONE
    return steps(url, project, lambda: time.perf_counter() < ends, first)


def beside(url: str, project: int, first: float) -> tuple[list[float], float]:
    """The same while the sheets are published, and how long that takes."""
    began = time.perf_counter()
    number = call(url, f"/api/projects/{project}/publications", {})["id"]
    path = f"/api/publications/{number}"
    took = steps(url, project, lambda: call(url, path)["state"] in ("waiting", "working"), first)
    return took, time.perf_counter() - began


def cold(url: str, project: int, turn: int) -> None:
    """Every section stands a little further on: none of the pages that are kept fits any more."""
    for drawing in call(url, f"/api/projects/{project}/drawings"):
        if drawing["kind"] == "section" and drawing["parent_id"]:
            (x, *_), _ = drawing["cut"]["line"]
            cut = {**drawing["cut"], "line": [[x + 0.01 * turn, -2], [x + 0.01 * turn, 12]]}
            call(url, f"/api/drawings/{drawing['id']}", {"version": drawing["version"], "cut": cut}, "PATCH")


def main() -> None:
    sheets = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    with installed(1) as (url, _):
        project = call(url, "/api/projects")[0]["id"]
        filled(url, project, sheets)
        alone(url, project, 0.0)
        for turn in range(ROUNDS):
            by_itself = spread(alone(url, project, 0.005 * turn))
            cold(url, project, turn)
            took, whole = beside(url, project, 0.003 + 0.005 * turn)
            with_it = spread(took)
            print(
                f"a step alone {1000 * by_itself[0]:.0f} ms in the middle, {1000 * by_itself[1]:.0f} for 95 %;"
                f" beside {sheets} sheets published in {whole:.0f} s: {1000 * with_it[0]:.0f}, {1000 * with_it[1]:.0f};"
                f" ratio {with_it[0] / by_itself[0]:.2f}, {with_it[1] / by_itself[1]:.2f}",
                flush=True,
            )


if __name__ == "__main__":
    main()
