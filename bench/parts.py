"""python -m bench.parts: three files of 1.5 million triangles together (balls as glTF) as parts of one project of an
installation: how long each takes to be read and to be in use, a newer file of the smallest one, a section through all
that nobody looked at before, and again, a line that is dragged through them and through one file of the same balls, and
what the server's processes hold at most."""

from __future__ import annotations

import json
import os
import statistics
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

import trimesh

from bench.browser.full_project import call, installed

PARTS = {"architecture": 580, "structure": 500, "services": 80}  # balls
ASIDE = {discipline: 1.0 + k for k, discipline in enumerate(PARTS)}  # metres
STEPS = 16  # of a line that is dragged
CUT = {"kind": "section", "line": [[-2.0, 3.0], [42.0, 3.0]], "look": "left", "depth": 10.0}
PAUSE, LOOK = 0.05, 1.0  # seconds between two questions; between two looks at memory, which takes long


def write_balls(path: Path, balls: dict[float, int], moved: int = 0) -> int:
    """Balls in rows of forty, so many at each distance aside; some of them `moved`. Answers how many triangles they
    have."""
    ball = trimesh.creation.icosphere(subdivisions=3, radius=0.2)
    scene = trimesh.Scene()
    for aside, count in balls.items():
        for k in range(count):
            up = aside + (0.1 if k < moved else 0.0)
            mesh = ball.copy().apply_translation((k % 40, up, k // 40))
            scene.add_geometry(mesh, geom_name=f"ball {aside} {k}", node_name=f"ball {aside} {k}")
    scene.export(path)
    return sum(balls.values()) * len(ball.faces)


class Watched:
    """The most that the processes of an installation held together, MB: what several share counts once (PSS)."""

    def __init__(self, database: str) -> None:
        self.mark, self.most, self.last = database.encode(), 0.0, 0.0

    def look(self) -> None:
        if time.monotonic() - self.last < LOOK:
            return
        self.last, held = time.monotonic(), 0
        for folder in Path("/proc").glob("[0-9]*"):
            try:
                if int(folder.name) != os.getpid() and self.mark in (folder / "environ").read_bytes():
                    said = (folder / "smaps_rollup").read_text().split("Pss:")[1]
                    held += int(said.split()[0])
            except (OSError, IndexError):
                continue  # ended, or another user's
        self.most = max(self.most, held / 1024)


def upload(url: str, path: Path, **fields: str) -> dict[str, Any]:
    mark = "----edge-slice-bench"
    said = "".join(
        f'--{mark}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n' for key, value in fields.items()
    )
    head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{path.name}"\r\n\r\n'
    data = (said + head).encode() + path.read_bytes() + f"\r\n--{mark}--\r\n".encode()
    kind = {"Content-Type": f"multipart/form-data; boundary={mark}"}
    with urllib.request.urlopen(urllib.request.Request(url + "/api/imports", data, kind)) as response:
        found: dict[str, Any] = json.loads(response.read())
        return found


def view(url: str, drawing: int) -> int:
    with urllib.request.urlopen(f"{url}/api/drawings/{drawing}/view") as response:
        return len(response.read())


def dragged(url: str, project: int) -> float:
    """A section at one place after the other, each where there was none before; the middle one's time, seconds."""
    times = []
    for k in range(STEPS):
        y = 2.9 + 0.0137 * k
        cut = {"kind": "section", "line": [[-2.0, y], [42.0, y]], "look": "left", "depth": 10.0}
        began = time.perf_counter()
        view_of(url, project, cut)
        times.append(time.perf_counter() - began)
    return statistics.median(times[1:])


def view_of(url: str, project: int, cut: dict[str, Any]) -> int:
    data = json.dumps({"cut": cut, "style": {"scale": 100}}).encode()
    kind = {"Content-Type": "application/json"}
    with urllib.request.urlopen(urllib.request.Request(f"{url}/api/projects/{project}/view", data, kind)) as response:
        return len(response.read())


def read(url: str, watched: Watched, path: Path, **fields: str) -> dict[str, Any]:
    """Send a file, and wait until it is read; the import as it is then."""
    row = upload(url, path, **fields)
    while row["state"] in ("waiting", "reading"):
        time.sleep(PAUSE)
        watched.look()
        row = call(url, f"/api/imports/{row['id']}")
    if row["state"] not in ("ready", "proposed"):
        raise SystemExit(f"{path.name}: {row['message']}")
    return row


def timed(what: str, act: Callable[[], Any]) -> Any:
    began = time.perf_counter()
    found = act()
    print(f"  {what}: {time.perf_counter() - began:.1f} s", flush=True)
    return found


def main() -> None:
    with tempfile.TemporaryDirectory() as name, installed(0) as (url, database):
        folder, watched = Path(name), Watched(database)
        project = 0
        for k, (discipline, balls) in enumerate(PARTS.items()):
            path = folder / f"{discipline}.glb"
            triangles = write_balls(path, {ASIDE[discipline]: balls})
            print(f"{discipline}, {triangles:,} triangles", flush=True)
            if k == 0:
                project = timed("read", lambda p=path: read(url, watched, p))["project_id"]  # type: ignore[misc]
                continue
            row = timed("read", lambda p=path, i=project: read(url, watched, p, into=str(i)))  # type: ignore[misc]
            part = {"key": "", "name": discipline, "discipline": discipline}
            call(url, f"/api/imports/{row['id']}/part", part, "PATCH")
            timed("taken", lambda r=row: call(url, f"/api/imports/{r['id']}/take", {"anyway": True}))  # type: ignore[misc]
        plan = call(url, f"/api/projects/{project}/drawings")[0]
        section = call(url, f"/api/projects/{project}/drawings", {"parent_id": plan["id"], "cut": CUT})
        timed("section, never seen", lambda: view(url, section["id"]))
        timed("section, again", lambda: view(url, section["id"]))
        path = folder / "services.glb"
        write_balls(path, {ASIDE["services"]: PARTS["services"]}, moved=3)
        print("a newer file of the smallest one", flush=True)
        row = timed("read and compared", lambda: read(url, watched, path, into=str(project)))
        timed("taken", lambda: call(url, f"/api/imports/{row['id']}/take", {"anyway": True}))
        timed("section, anew", lambda: view(url, section["id"]))
        watched.look()
        one = folder / "all.glb"
        write_balls(one, {ASIDE[discipline]: balls for discipline, balls in PARTS.items()})
        print("the same in one file", flush=True)
        whole = timed("read", lambda: read(url, watched, one))["project_id"]
        for _ in range(2):  # one after the other, twice: this machine has slow and quick minutes
            apart, together = dragged(url, project), dragged(url, whole)
            print(
                f"  a line dragged: {1000 * apart:.0f} ms a section in three parts, {1000 * together:.0f} in one file"
            )
        print(f"the server's processes held {watched.most:.0f} MB at most")


if __name__ == "__main__":
    main()
