"""The web server and the worker as child processes; the worker is started again when it dies."""

from __future__ import annotations

import signal
import subprocess
import sys
import threading
import time
import urllib.request

from edge_slice.launch.postgres import CannotStart


class Services:
    def __init__(self, port: int, environment: dict[str, str]) -> None:
        self.port, self.environment = port, environment
        self.web: subprocess.Popen[bytes] | None = None
        self.worker: subprocess.Popen[bytes] | None = None
        self.ending = threading.Event()

    def start(self) -> None:
        """Start both and wait until the web server answers."""
        self.web = self._spawn(
            "gunicorn", "edge_slice.web.server:create_server()", "--bind", f"127.0.0.1:{self.port}", "--workers", "1",
            "--worker-class", "gthread", "--threads", "48", "--timeout", "300", "--graceful-timeout", "2",
            "--log-level", "warning",
        )  # fmt: skip
        self.worker = self._spawn("edge_slice.worker")
        for _ in range(300):
            if self.web.poll() is not None:
                raise CannotStart("The web server ended at once; see its message above.")
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/settings", timeout=5).read()
                return
            except OSError:
                time.sleep(0.1)
        raise CannotStart("The web server did not answer within 30 seconds.")

    def watch(self) -> None:
        """Until told to end: a dead worker is replaced; a dead web server ends everything."""
        while not self.ending.wait(0.5):
            if self.worker is not None and self.worker.poll() is not None:
                print("The worker ended; starting another.", flush=True)
                self.worker = self._spawn("edge_slice.worker")
                self.ending.wait(2)
            if self.web is not None and self.web.poll() is not None:
                raise CannotStart("The web server ended unexpectedly; see its message above.")

    def stop(self) -> None:
        self.ending.set()
        running = [p for p in (self.web, self.worker) if p is not None and p.poll() is None]
        for process in running:
            process.send_signal(signal.SIGTERM)
        for process in running:
            try:
                process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                process.kill()

    def _spawn(self, module: str, *arguments: str) -> subprocess.Popen[bytes]:
        # a session of its own, so that Ctrl+C reaches this process alone, which then ends the others in order
        command = [sys.executable, "-m", module, *arguments]
        return subprocess.Popen(command, env=self.environment, start_new_session=True, stdin=subprocess.DEVNULL)
