"""Everything that runs beside this process: each part is started again when it ends, with growing pauses."""

from __future__ import annotations

import signal
import ssl
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from edge_slice.launch.postgres import CannotStart, Cluster, free_port

FIRST_PAUSE, LONGEST_PAUSE = 0.5, 30.0  # seconds between an end and the next start
STEADY = 60.0  # seconds; what ran that long begins with the first pause again


@dataclass
class Watched:
    """One part: whether it runs, how to start it, and when to try that again."""

    name: str
    alive: Callable[[], bool]
    start: Callable[[], None]
    pause: float = FIRST_PAUSE
    started: float = field(default_factory=time.monotonic)
    due: float = 0.0

    def look(self, now: float) -> None:
        """Start it again if it has ended and its pause is over."""
        if self.alive():
            return
        if not self.due:
            if now - self.started > STEADY:
                self.pause = FIRST_PAUSE
            self.due = now + self.pause
            print(f"The {self.name} ended; starting another in {self.pause:g} s.", flush=True)
            self.pause = min(2 * self.pause, LONGEST_PAUSE)
            return
        if now >= self.due:
            self.due, self.started = 0.0, now
            try:
                self.start()
            except CannotStart as error:
                print(f"The {self.name} did not start: {error}", flush=True)


@dataclass(frozen=True)
class Listening:
    """Where others may ask: at an address, by TLS where there is a certificate."""

    host: str = "127.0.0.1"
    certificate: Path | None = None
    key: Path | None = None

    @property
    def scheme(self) -> str:
        return "https" if self.certificate else "http"

    def of_web(self) -> list[str]:
        return [f"--certfile={self.certificate}", f"--keyfile={self.key}"] if self.certificate else []

    def of_events(self) -> list[str]:
        tls = [f"--certificate={self.certificate}", f"--key={self.key}"] if self.certificate else []
        return [f"--host={self.host}", *tls]


class Services:
    """The web server, what tells its windows of changes, and, where it also `works`, a worker."""

    def __init__(
        self,
        port: int,
        environment: dict[str, str],
        web_processes: int = 1,
        events_port: int | None = None,
        listening: Listening | None = None,
        works: bool = True,
    ) -> None:
        self.port, self.web_processes = port, web_processes
        self.listening, self.works = listening or Listening(), works
        self.events_port = events_port or free_port()
        self.environment = {
            **environment,
            "EDGE_SLICE_WEB_URL": f"{self.listening.scheme}://127.0.0.1:{port}",
            "EDGE_SLICE_EVENTS_PORT": str(self.events_port),
        }
        self.web: subprocess.Popen[bytes] | None = None
        self.worker: subprocess.Popen[bytes] | None = None
        self.events: subprocess.Popen[bytes] | None = None
        self.ending = threading.Event()

    def start(self) -> None:
        """Start all and wait until the web server answers."""
        self.start_web()
        self.start_events()
        if self.works:
            self.start_worker()
        for _ in range(300):
            if self.web is None or self.web.poll() is not None:
                raise CannotStart("The web server ended at once; see its message above.")
            try:
                self._ask("/api/settings")
                return
            except OSError:
                time.sleep(0.1)
        raise CannotStart("The web server did not answer within 30 seconds.")

    def watch(self, cluster: Cluster | None = None) -> None:
        """Until told to end, whatever has ended is started again: the database too, where it is ours."""
        parts = [
            Watched("web server", lambda: _runs(self.web), self.start_web),
            Watched("teller of events", lambda: _runs(self.events), self.start_events),
        ]
        if self.works:
            parts.insert(0, Watched("worker", lambda: _runs(self.worker), self.start_worker))
        if cluster is not None:
            parts.insert(0, Watched("database", cluster.runs, cluster.start))
        while not self.ending.wait(0.5):
            for part in parts:
                part.look(time.monotonic())

    def stop(self) -> None:
        self.ending.set()
        running = [p for p in (self.web, self.events, self.worker) if p is not None and p.poll() is None]
        for process in running:
            process.send_signal(signal.SIGTERM)
        for process in running:
            try:
                process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                process.kill()

    def start_web(self) -> None:
        self.web = self._spawn(
            "gunicorn", "edge_slice.web.server:create_server()", "--bind", f"{self.listening.host}:{self.port}",
            "--workers", str(self.web_processes), "--worker-class", "gthread", "--threads", "48", "--timeout", "300",
            "--graceful-timeout", "2", "--log-level", "warning", "--config", "python:edge_slice.launch.gunicorn_logs",
            *self.listening.of_web(),
        )  # fmt: skip

    def start_events(self) -> None:
        self.events = self._spawn("edge_slice.events", "--port", str(self.events_port), *self.listening.of_events())

    def start_worker(self) -> None:
        self.worker = self._spawn("edge_slice.worker")

    def _ask(self, path: str) -> bytes:
        """What the web server answers on this machine; its certificate is for other names."""
        everywhere = self.listening.host in ("0.0.0.0", "::")  # nosec B104
        here = "127.0.0.1" if everywhere else self.listening.host
        request = urllib.request.Request(
            f"{self.listening.scheme}://{here}:{self.port}{path}", headers={"Host": "127.0.0.1"}
        )
        # our own server on this machine, of which nothing is asked but whether it answers
        unchecked = ssl._create_unverified_context() if self.listening.certificate else None  # nosec B323
        with urllib.request.urlopen(request, timeout=5, context=unchecked) as answer:  # nosec B310
            return bytes(answer.read())

    def _spawn(self, module: str, *arguments: str) -> subprocess.Popen[bytes]:
        # a session of its own, so that Ctrl+C reaches this process alone, which then ends the others in order
        command = [sys.executable, "-m", module, *arguments]
        return subprocess.Popen(command, env=self.environment, start_new_session=True, stdin=subprocess.DEVNULL)


def _runs(process: subprocess.Popen[bytes] | None) -> bool:
    return process is not None and process.poll() is None
