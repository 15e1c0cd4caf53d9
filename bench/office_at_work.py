"""python -m bench.office_at_work [--people 50] [--minutes 10] [--every 20] [--web 2] [--kills]: an office at work, who
look, drag cutting lines, edit, annotate, remark, place drawings, publish and send models, each at times that don't wait
for the answers before (open loop): how long each act takes from when it was due, what was refused, and whether all that
was acknowledged is there at the end. With --kills a web server, a worker or the database is killed every 30 s."""

from __future__ import annotations

import argparse
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections import Counter, defaultdict
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import psycopg

from bench.timing import spread
from edge_slice.launch.postgres import Cluster, free_port
from edge_slice.launch.processes import Services

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"
PROJECTS = 5
SHARE = {"look": 0.415, "drag": 0.28, "edit": 0.08, "annotate": 0.1, "remark": 0.07, "place": 0.04, "publish": 0.01,
         "send": 0.005}  # fmt: skip
STEPS = 8  # moves of a line that is dragged, 0.1 s after each other
KILLS = 30.0
PEOPLE = """
import json, sys
from datetime import UTC, datetime, timedelta
from edge_slice.app.people.secrets_held import hashed, new_token, token_hash
from edge_slice.store.database import transaction
from edge_slice.store.people import Account, Member, SignedIn
from edge_slice.store.tables import Project
from sqlmodel import select
count, password, told = int(sys.argv[1]), hashed("a password of the bench"), []
with transaction() as session:
    projects = list(session.exec(select(Project.id)).all())
    for k in range(count):
        row = Account(mail=f"p{k}@bench.example", name=f"P{k}", password=password, runs=k == 0)
        session.add(row); session.flush()
        for project in projects:
            session.add(Member(project_id=project, account_id=row.id, role="owner" if k == 0 else "editor"))
        token = new_token()
        ends = datetime.now(UTC) + timedelta(days=1)
        session.add(SignedIn(token_hash=token_hash(token), account_id=row.id, program=True, ends_at=ends))
        told.append(token)
print(json.dumps(told))
"""


@dataclass
class Found:
    """By act: seconds from when it was due to its answer; what was refused; what was acknowledged."""

    took: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    refused: Counter[str] = field(default_factory=Counter)
    kept: dict[str, set[int]] = field(default_factory=lambda: defaultdict(set))  # by table


class Somebody:
    def __init__(self, url: str, token: str, project: int, found: Found) -> None:
        self.url, self.token, self.project, self.found = url, token, project, found

    def call(self, method: str, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        said = {"Content-Type": "application/json", "Authorization": f"Bearer {self.token}"}
        request = urllib.request.Request(self.url + path, data, said, method=method)
        with urllib.request.urlopen(request, timeout=120) as answer:
            raw = answer.read()
            return json.loads(raw) if answer.headers.get_content_type() == "application/json" else raw

    def act(self, what: str, due: float) -> None:
        try:
            getattr(self, what)(due)
        except urllib.error.HTTPError as error:
            self.found.refused[f"{what} {error.code}"] += 1
        except OSError as error:
            self.found.refused[f"{what} {type(error).__name__}"] += 1

    def _told(self, what: str, due: float) -> None:
        self.found.took[what].append(time.monotonic() - due)

    def _drawing(self, kind: str = "") -> dict[str, Any]:
        drawings = self.call("GET", f"/api/projects/{self.project}/drawings")
        return random.choice([d for d in drawings if kind in ("", d["kind"])])  # type: ignore[no-any-return]

    def look(self, due: float) -> None:
        self.call("GET", f"/api/drawings/{self._drawing()['id']}/view")
        self._told("look", due)

    def drag(self, due: float) -> None:
        x = random.uniform(1.0, 12.0)
        for k in range(STEPS):
            at = x + 0.05 * k
            cut = {"kind": "section", "line": [[at, -2], [at, 12]], "depth": 6}
            began = max(time.monotonic(), due + 0.1 * k)
            time.sleep(max(0.0, began - time.monotonic()))
            self.call("POST", f"/api/projects/{self.project}/view", {"cut": cut, "style": {"scale": 50}})
            self._told("a step of a drag", began)

    def edit(self, due: float) -> None:
        drawing = self._drawing()
        style = {**drawing["style"], "scale": random.choice([20, 50, 100])}
        self.call("PATCH", f"/api/drawings/{drawing['id']}", {"version": drawing["version"], "style": style})
        self._told("edit", due)

    def annotate(self, due: float) -> None:
        drawing = self._drawing("plan")
        at = [random.uniform(0, 9000), random.uniform(0, 6000)]
        document = {"kind": "note", "text": "seen", "points": [at, [at[0] + 800, at[1] + 800]]}
        body = {"spots": [{"at": at}], "document": document}
        made = self.call("POST", f"/api/drawings/{drawing['id']}/annotations", body)
        self.found.kept["annotation"].add(made["id"])
        self._told("annotate", due)

    def remark(self, due: float) -> None:
        body = {"drawing": self._drawing("plan")["id"], "at": [1000, 1000], "text": "Is this meant?"}
        made = self.call("POST", f"/api/projects/{self.project}/remarks", body)
        self.found.kept["remark"].add(made["id"])
        self._told("remark", due)

    def place(self, due: float) -> None:
        sheet = self.call("POST", f"/api/projects/{self.project}/sheets", {})
        placed = {"drawing_id": self._drawing()["id"]}
        self.call("POST", f"/api/sheets/{sheet['id']}/placements", placed)
        self.found.kept["sheet"].add(sheet["id"])
        self._told("place", due)

    def publish(self, due: float) -> None:
        made = self.call("POST", f"/api/projects/{self.project}/publications", {"form": "pdf"})
        while made["state"] in ("waiting", "working"):
            time.sleep(0.5)
            made = self.call("GET", f"/api/publications/{made['id']}")
        self._told(f"publish ({made['state']})", due)

    def send(self, due: float) -> None:
        """A model of its own, until it is read."""
        mark = "----edge-slice-bench"
        head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{DEMO.name}"\r\n\r\n'
        data = head.encode() + DEMO.read_bytes() + f"\r\n--{mark}--\r\n".encode()
        said = {"Content-Type": f"multipart/form-data; boundary={mark}", "Authorization": f"Bearer {self.token}"}
        with urllib.request.urlopen(
            urllib.request.Request(f"{self.url}/api/imports", data, said), timeout=120
        ) as answer:
            made = json.loads(answer.read())
        self._told("send a model", due)
        while made["state"] in ("waiting", "reading"):
            time.sleep(0.5)
            made = self.call("GET", f"/api/imports/{made['id']}")
        self._told(f"until it is read ({made['state']})", due)


def at_work(urls: list[str], tokens: list[str], projects: list[int], seconds: float, every: float) -> Found:
    """What they found, each acting `every` so many seconds on average, at one of the servers."""
    found = Found()
    people = [
        Somebody(urls[k % len(urls)], token, projects[k % len(projects)], found) for k, token in enumerate(tokens)
    ]
    began = time.monotonic()
    with ThreadPoolExecutor(400) as pool:
        due = began
        while due - began < seconds:
            due += random.expovariate(len(people) / every)
            time.sleep(max(0.0, due - time.monotonic()))
            (what,) = random.choices([*SHARE], [*SHARE.values()])
            pool.submit(random.choice(people).act, what, due)
    return found


def lost(database: str, found: Found) -> int:
    """How many of the rows that were acknowledged are not there."""
    gone = 0
    with psycopg.connect(database.replace("+psycopg", "")) as link:
        for table, rows in found.kept.items():
            there = {int(n) for (n,) in link.execute(f"SELECT id FROM {table}").fetchall()}  # type: ignore[arg-type]
            gone += len(rows - there)
    return gone


def killed(services: Services, cluster: Cluster, ending: threading.Event) -> None:
    """Kill something in turn, until it is over."""
    own = cluster.data / "postmaster.pid"
    turn = 0
    while not ending.wait(KILLS):
        turn += 1
        if turn % 3 == 0:
            os.kill(int(own.read_text().split()[0]), signal.SIGKILL)
            continue
        part = services.worker if turn % 3 == 1 else services.web
        if part is not None:
            words = "gunicorn" if part is services.web else "edge_slice.worker"
            print(f"  killing {words}", flush=True)
            part.kill() if part is services.worker else subprocess.run(["pkill", "-9", "-P", str(part.pid)])


def projects_of(database: str, count: int) -> list[int]:
    """The demo, imported so many times into a new database."""
    code = (
        "import sys, json; from pathlib import Path; from edge_slice.app.models import imports;"
        " from edge_slice.store.database import migrate; migrate(); demo = Path(sys.argv[1]);"
        " [imports.run_import(imports.accept_upload(demo, imports.Sent(demo.name)).id)"
        " for _ in range(int(sys.argv[2]))]"
    )
    subprocess.run([sys.executable, "-c", code, str(DEMO), str(count)], check=True, env=_with(database))
    with psycopg.connect(database.replace("+psycopg", "")) as link:
        return [int(n) for (n,) in link.execute("SELECT id FROM project ORDER BY id").fetchall()]


def people_of(database: str, count: int) -> list[str]:
    """Tokens of so many people, who belong to all projects."""
    made = subprocess.run([sys.executable, "-c", PEOPLE, str(count)], check=True, text=True, capture_output=True,
                          env=_with(database))  # fmt: skip
    tokens: list[str] = json.loads(made.stdout)
    return tokens


def _with(database: str) -> dict[str, str]:
    return {**os.environ, "EDGE_SLICE_DATABASE_URL": database, "EDGE_SLICE_SIGN_IN": "true"}


def printed(found: Found, gone: int) -> None:
    for what, took in sorted(found.took.items()):
        middle, p95 = spread(took)
        print(f"{what:22} {len(took):6} times, middle {middle:7.3f} s, 95 % {p95:7.3f} s")
    print(f"refused: {dict(found.refused) or 'nothing'}")
    print(f"acknowledged rows: {sum(map(len, found.kept.values()))}, of them lost: {gone}")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--people", type=int, default=50)
    parser.add_argument("--minutes", type=float, default=10.0)
    parser.add_argument("--every", type=float, default=20.0, metavar="SECONDS")
    parser.add_argument("--web", type=int, default=2)
    parser.add_argument("--kills", action="store_true")
    options = parser.parse_args()
    random.seed(7)
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        root.chmod(0o755)
        cluster = Cluster(root / "postgres", free_port())
        cluster.start()
        cluster.create_database()
        projects, tokens = projects_of(cluster.url, PROJECTS), people_of(cluster.url, options.people)
        services = Services(free_port(), _with(cluster.url), options.web)
        ending = threading.Event()
        try:
            services.start()
            threading.Thread(target=services.watch, args=(cluster,), daemon=True).start()
            if options.kills:
                threading.Thread(target=killed, args=(services, cluster, ending), daemon=True).start()
            urls = [f"http://127.0.0.1:{services.port}"]
            found = at_work(urls, tokens, projects, options.minutes * 60, options.every)
            ending.set()
            while not cluster.runs():  # it was just killed, and is started again
                time.sleep(0.5)
            gone = lost(cluster.url, found)
        finally:
            ending.set()
            services.stop()
            cluster.stop()
    printed(found, gone)


if __name__ == "__main__":
    main()
