"""python -m bench.many_machines [--web 3] [--workers 4] [--minutes 4] [--people 20] [--every 12]: an office on several
machines, each a network namespace of this one (as root, on Linux): a PostgreSQL, web servers and workers with an
address each, and people at all of them. In turn a web server, a worker, a whole machine's network and the database go
for a while and come again. It is told how long acts took, what was refused, whether a change at one server is told of
at the others, whether all that was acknowledged is there, and whether every job ended."""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

import psycopg

from bench.office_at_work import at_work, lost, people_of, printed, projects_of
from edge_slice.launch.postgres import Cluster, free_port

BRIDGE, NETWORK = "es-bench", "10.183.0"
WEB_PORT, EVENTS_PORT, DATABASE_PORT = 8710, 8711, free_port()
AWAY, BETWEEN = 8.0, 12.0  # seconds that something is away, and until something else goes
COMMAND = (sys.executable, "-c", "from edge_slice.entry import main; main()")


def ip(*words: str, check: bool = True) -> None:
    subprocess.run(["ip", *words], check=check, capture_output=not check)


@dataclass
class Machine:
    """One namespace with an address, and what runs in it."""

    number: int
    words: tuple[str, ...]
    environment: dict[str, str]
    log: Path
    running: subprocess.Popen[bytes] | None = None

    @property
    def name(self) -> str:
        return f"es-bench{self.number}"

    @property
    def address(self) -> str:
        return f"{NETWORK}.{10 + self.number}"

    def set_up(self) -> None:
        ip("netns", "add", self.name)
        ip("link", "add", f"es-out{self.number}", "type", "veth", "peer", "name", "es-in", "netns", self.name)
        ip("link", "set", f"es-out{self.number}", "master", BRIDGE, "up")
        ip("-n", self.name, "addr", "add", f"{self.address}/24", "dev", "es-in")
        ip("-n", self.name, "link", "set", "es-in", "up")
        ip("-n", self.name, "link", "set", "lo", "up")

    def start(self) -> None:
        said = [word.replace("ADDRESS", self.address) for word in self.words]
        with self.log.open("ab") as log:
            self.running = subprocess.Popen(
                ["ip", "netns", "exec", self.name, *COMMAND, *said], env=self.environment, stdout=log,
                stderr=subprocess.STDOUT, start_new_session=True,
            )  # fmt: skip

    def kill(self) -> None:
        """All that runs in it, at once."""
        found = subprocess.run(["ip", "netns", "pids", self.name], capture_output=True, text=True).stdout.split()
        for process in found:
            with contextlib.suppress(ProcessLookupError):
                os.kill(int(process), signal.SIGKILL)
        if self.running is not None:
            self.running.wait()

    def cut_off(self, away: bool) -> None:
        ip("link", "set", f"es-out{self.number}", "down" if away else "up")


@dataclass
class Trouble:
    """What goes and comes again, in turn, until it is over."""

    web: list[Machine]
    workers: list[Machine]
    cluster: Cluster
    over: threading.Event = field(default_factory=threading.Event)
    said: list[str] = field(default_factory=list)

    def make(self) -> None:
        turn = 0
        while not self.over.wait(BETWEEN):
            kind, turn = turn % 4, turn + 1
            if kind == 0:
                self._killed(random.choice(self.web))
            elif kind == 1:
                self._killed(random.choice(self.workers))
            elif kind == 2:
                self._cut_off(random.choice([*self.web, *self.workers]))
            else:
                self._without_database()

    def _killed(self, machine: Machine) -> None:
        self.said.append(f"killed {machine.words[0]}")
        machine.kill()
        self.over.wait(AWAY)
        machine.start()

    def _cut_off(self, machine: Machine) -> None:
        self.said.append(f"cut off {machine.words[0]}")
        machine.cut_off(True)
        self.over.wait(AWAY)
        machine.cut_off(False)

    def _without_database(self) -> None:
        self.said.append("killed the database")
        os.kill(int((self.cluster.data / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)
        self.over.wait(AWAY / 2)
        while True:
            with contextlib.suppress(Exception):
                self.cluster.start()
                return
            time.sleep(0.5)


@contextlib.contextmanager
def network(machines: list[Machine]) -> Iterator[None]:
    ip("link", "add", BRIDGE, "type", "bridge")
    try:
        ip("addr", "add", f"{NETWORK}.1/24", "dev", BRIDGE)
        ip("link", "set", BRIDGE, "up")
        for machine in machines:
            machine.set_up()
        yield
    finally:
        for machine in machines:
            machine.kill()
            ip("netns", "del", machine.name, check=False)
        ip("link", "del", BRIDGE, check=False)


def opened_to_all(cluster: Cluster) -> str:
    """The address of the database for the other machines."""
    rules = cluster.data / "pg_hba.conf"
    rules.write_text(f"{rules.read_text()}\nhost all all {NETWORK}.0/24 scram-sha-256\n")
    with psycopg.connect(cluster.url.replace("+psycopg", ""), autocommit=True) as link:
        link.execute("SELECT pg_reload_conf()")
    return cluster.url.replace("127.0.0.1", f"{NETWORK}.1")


def answers(url: str, seconds: float = 120.0) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        with contextlib.suppress(OSError):
            urllib.request.urlopen(f"{url}/healthz", timeout=5).close()
            return
        time.sleep(0.3)
    raise SystemExit(f"{url} does not answer")


def told_everywhere(web: list[Machine], token: str, project: int) -> float:
    """Seconds until a change at the first server is told of at all others."""
    heard: list[float] = []

    def listen(machine: Machine, ready: threading.Barrier) -> None:
        url = f"http://{machine.address}:{EVENTS_PORT}/api/events?projects={project}"
        asked = urllib.request.Request(url, headers={"Authorization": f"Bearer {token}"})
        with urllib.request.urlopen(asked, timeout=60) as stream:
            stream.readline()
            ready.wait()
            for line in stream:
                if b"remark" in line:
                    heard.append(time.monotonic())
                    return

    ready = threading.Barrier(len(web) + 1)
    listening = [threading.Thread(target=listen, args=(machine, ready)) for machine in web]
    for one in listening:
        one.start()
    ready.wait(60)
    body = json.dumps({"drawing": None, "sheet": _sheet(web[0], token, project), "at": [1, 1], "text": "Told?"})
    began = time.monotonic()
    _ask(web[0], token, f"/api/projects/{project}/remarks", body)
    for one in listening:
        one.join(60)
    assert len(heard) == len(web), "not all were told"
    return max(heard) - began


def _sheet(machine: Machine, token: str, project: int) -> int:
    return int(_ask(machine, token, f"/api/projects/{project}/sheets", "{}")["id"])


def _ask(machine: Machine, token: str, path: str, body: str) -> dict[str, int]:
    said = {"Content-Type": "application/json", "Authorization": f"Bearer {token}"}
    request = urllib.request.Request(f"http://{machine.address}:{WEB_PORT}{path}", body.encode(), said, method="POST")
    with urllib.request.urlopen(request, timeout=60) as answer:
        found: dict[str, int] = json.loads(answer.read())
        return found


def unfinished(database: str, seconds: float = 240.0) -> int:
    """How many jobs have not ended after a while."""
    end, left = time.monotonic() + seconds, 0
    while time.monotonic() < end:
        with psycopg.connect(database.replace("+psycopg", "")) as link:
            row = link.execute("SELECT count(*) FROM publication WHERE state IN ('waiting', 'working')").fetchone()
            left = row[0] if row else 0
        if left == 0:
            break
        time.sleep(1.0)
    return left


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--web", type=int, default=3)
    parser.add_argument("--workers", type=int, default=4)
    parser.add_argument("--people", type=int, default=20)
    parser.add_argument("--minutes", type=float, default=4.0)
    parser.add_argument("--every", type=float, default=12.0, metavar="SECONDS")
    options = parser.parse_args()
    random.seed(11)
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        root.chmod(0o755)
        cluster = Cluster(root / "postgres", DATABASE_PORT, settings=("listen_addresses=*",))
        cluster.start()
        cluster.create_database()
        environment = {**os.environ, "EDGE_SLICE_DATABASE_URL": opened_to_all(cluster), "EDGE_SLICE_SIGN_IN": "true"}
        serve = ("serve", "--host", "ADDRESS", "--port", str(WEB_PORT), "--events-port", str(EVENTS_PORT), "--names",
                 "ADDRESS", "--web-processes", "1")  # fmt: skip
        web = [Machine(k, serve, environment, root / f"{k}.log") for k in range(options.web)]
        workers = [Machine(k + 100, ("work",), environment, root / f"{k + 100}.log") for k in range(options.workers)]
        trouble = Trouble(web, workers, cluster)
        try:
            projects = projects_of(cluster.url, 2)
            tokens = people_of(cluster.url, options.people)
            with network([*web, *workers]):
                for machine in (*web, *workers):
                    machine.start()
                urls = [f"http://{machine.address}:{WEB_PORT}" for machine in web]
                for url in urls:
                    answers(url)
                print(f"told at all servers after {told_everywhere(web, tokens[0], projects[0]):.3f} s", flush=True)
                threading.Thread(target=trouble.make, daemon=True).start()
                found = at_work(urls, tokens, projects, options.minutes * 60, options.every)
                trouble.over.set()
                time.sleep(2 * AWAY)
                cluster.start()
                for url in urls:
                    answers(url)
                left, gone = unfinished(cluster.url), lost(cluster.url, found)
                print(f"told at all servers after {told_everywhere(web, tokens[0], projects[0]):.3f} s")
        finally:
            trouble.over.set()
            cluster.stop()
    printed(found, gone)
    print(f"trouble: {', '.join(trouble.said)}")
    print(f"jobs that have not ended: {left}")


if __name__ == "__main__":
    main()
