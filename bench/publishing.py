"""python -m bench.publishing: twenty A1 sheets of the demo model to one PDF, cold and again, in an installation of its
own; and how much memory the worker takes at most."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

from bench.browser.full_project import call, installed

SHEETS = 20


def filled(url: str, project: int, sheets: int = SHEETS) -> None:
    """Sheets of two sections at 1:50 each, and plans and elevations at 1:100 on every fifth one."""
    plans = [d for d in call(url, f"/api/projects/{project}/drawings") if d["kind"] == "plan"]
    wanted = {"kind": "elevations", "scale": 100}
    elevations = call(url, f"/api/projects/{project}/drawing-sets", wanted)
    for k in range(sheets):
        body = {"title": f"Sheet {k + 1}", "size": "A1", "design": "side-strip", "folder": "sections"}
        sheet = call(url, f"/api/projects/{project}/sheets", body)
        x = 1.0 + k % 24 + 0.02 * (k // 24)  # another place for each sheet, all within the building
        if k % 10 == 0:
            drawings = plans
        elif k % 10 == 5:
            drawings = elevations
        else:
            drawings = [section(url, project, plans[1], at) for at in (x, x + 0.5)]
        if k >= 10 and k % 5 == 0:
            drawings = [section(url, project, plans[1], at) for at in (x, x + 0.5)]
        call(url, f"/api/sheets/{sheet['id']}/arrange", {"drawings": [d["id"] for d in drawings]})


def section(url: str, project: int, plan: dict[str, Any], at: float) -> dict[str, Any]:
    """A cross section at a place along the building."""
    cut = {"kind": "section", "line": [[at, -2], [at, 12]], "depth": 6, "without": ["planting"]}
    body = {"parent_id": plan["id"], "cut": cut, "style": {"scale": 50}}
    made: dict[str, Any] = call(url, f"/api/projects/{project}/drawings", body)
    return made


def published(url: str, project: int) -> float:
    """Seconds until the file is ready."""
    began = time.perf_counter()
    number = call(url, f"/api/projects/{project}/publications", {})["id"]
    while call(url, f"/api/publications/{number}")["state"] in ("waiting", "working"):
        time.sleep(0.05)
    return time.perf_counter() - began


def largest_worker() -> float:
    """How much memory the largest worker took at most so far, MB."""
    found = [0.0]
    for process in Path("/proc").glob("[0-9]*"):
        try:
            if b"edge_slice.worker" in (process / "cmdline").read_bytes():
                said = next(x for x in (process / "status").read_text().splitlines() if x.startswith("VmHWM"))
                found.append(int(said.split()[1]) / 1024)
        except (OSError, StopIteration):
            continue
    return max(found)


def main() -> None:
    with installed(1) as (url, _):
        project = call(url, "/api/projects")[0]["id"]
        filled(url, project)
        cold, again = published(url, project), published(url, project)
        print(f"{SHEETS} sheets: cold {cold:.1f} s, again {again:.2f} s; worker at most {largest_worker():.0f} MB")


if __name__ == "__main__":
    main()
