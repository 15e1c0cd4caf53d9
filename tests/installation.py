"""A whole installation for tests: PostgreSQL, web server and worker on ports and in a folder of their own."""

from __future__ import annotations

import json
import os
import re
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import psycopg

from edge_slice.launch.postgres import Cluster, free_port
from edge_slice.launch.processes import Services

UPLOAD_LIMIT_MB = 8


@dataclass
class Answer:
    status: int
    body: bytes
    headers: dict[str, str]
    cookies: list[str] = field(default_factory=list)

    @property
    def json(self) -> Any:
        return json.loads(self.body)

    @property
    def words(self) -> bytes:
        """What is told, but for the number of the request."""
        return worded(self.body)


def worded(body: bytes) -> bytes:
    """An error without the number of its request, which is another one each time."""
    return re.sub(rb'"request":\s*"[0-9a-f]{8}"', b"", body)


def sent(
    url: str, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None, timeout: float = 60
) -> Answer:
    """What a server answers to a request with a JSON document."""
    data = None if body is None else json.dumps(body).encode()
    said = {"Content-Type": "application/json", **(headers or {})}
    return answered(urllib.request.Request(url + path, data, said, method=method), timeout)


def answered(request: urllib.request.Request, timeout: float) -> Answer:
    try:
        with urllib.request.urlopen(request, timeout=timeout) as response:
            return _answer(response.status, response)
    except urllib.error.HTTPError as error:
        return _answer(error.code, error)


def _answer(status: int, response: Any) -> Answer:
    return Answer(status, response.read(), dict(response.headers), response.headers.get_all("Set-Cookie") or [])


class Installation:
    def __init__(self) -> None:
        self.folder = tempfile.TemporaryDirectory(prefix="edge-slice-test-")
        root = Path(self.folder.name)
        root.chmod(0o755)  # so that the user postgres can enter when root runs the tests
        # what is written need not outlive the machine, only the server
        self.cluster = Cluster(root / "postgres", free_port(), settings=("fsync=off", "full_page_writes=off"))
        self.cluster.start()
        self.cluster.create_database()
        self.mail_port = free_port()
        self.environment = {
            **os.environ,
            "EDGE_SLICE_DATABASE_URL": self.cluster.url,
            "EDGE_SLICE_UPLOAD_LIMIT_MB": str(UPLOAD_LIMIT_MB),
            "EDGE_SLICE_SMTP_URL": f"smtp://127.0.0.1:{self.mail_port}",
            "EDGE_SLICE_ADDRESS": "https://drawings.curlew.example",
            "EDGE_SLICE_WORKER_NICE": "0",
            "EDGE_SLICE_WORKER_LOST_S": "3.5",
        }
        self.python("from edge_slice.core.compiled import compile_kernels; compile_kernels()")
        self.python("from edge_slice.store.database import migrate; migrate()")
        self.services = Services(free_port(), self.environment)
        self.services.start()
        self.events_url = f"http://127.0.0.1:{self.services.events_port}/api/events"
        self.url = f"http://127.0.0.1:{self.services.port}"

    def stop(self) -> None:
        self.services.stop()
        self.cluster.stop()
        self.folder.cleanup()

    def python(self, code: str) -> None:
        """Run code beside the installation, with its settings."""
        subprocess.run([sys.executable, "-c", code], env=self.environment, check=True)

    # -- HTTP -------------------------------------------------------------------------------------------

    def call(self, method: str, path: str, body: Any = None, timeout: float = 60) -> Answer:
        return sent(self.url, method, path, body, timeout=timeout)

    def version(self, path: str) -> int:
        """The version of the row that a path names, as it stands."""
        table, number = path.removeprefix("/api/").split("/")[:2]
        name = table.replace("-", "_").removesuffix("s") if table != "shared-extents" else "shared_extents"
        return int(self.one(f"SELECT version FROM {name} WHERE id = {int(number)}")[0])

    def edit(self, path: str, change: dict[str, Any]) -> Answer:
        """Edit a row as it stands."""
        return self.call("PATCH", path, {"version": self.version(path), **change})

    def upload(self, name: str, content: bytes, **fields: str) -> Answer:
        """A model on its way in."""
        return self.send_file("/api/imports", name, content, **fields)

    def send_file(self, path: str, name: str, content: bytes, caller: Any = None, **fields: str) -> Answer:
        """A file in a form; `caller`: by somebody of an office, to its server."""
        mark = "----edge-slice-test"
        said = "".join(
            f'--{mark}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n'
            for key, value in fields.items()
        )
        head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode()
        data = said.encode() + head + content + f"\r\n--{mark}--\r\n".encode()
        kind = {"Content-Type": f"multipart/form-data; boundary={mark}"}
        if caller is not None:
            kind["Cookie"] = "; ".join(f"{key}={value}" for key, value in caller.held.items())
        url = self.url if caller is None else caller.url
        return answered(urllib.request.Request(url + path, data, kind, method="POST"), 60)

    def finished_import(self, number: int, wait: float = 300) -> Any:
        """The import's last state; fails when it does not end."""
        return self.until(
            lambda: (s := self.call("GET", f"/api/imports/{number}").json)["state"] not in ("waiting", "reading") and s,
            wait,
        )

    def until(self, condition: Any, wait: float = 120) -> Any:
        """The first true value of a condition that is asked again and again."""
        end = time.monotonic() + wait
        while time.monotonic() < end:
            if value := condition():
                return value
            time.sleep(0.1)
        raise AssertionError("this did not happen in time")

    def import_project(self, path: Path) -> int:
        answer = self.upload(path.name, path.read_bytes())
        assert answer.status == 202, answer.body
        state = self.finished_import(answer.json["id"])
        assert state["state"] == "ready", state
        return int(state["project_id"])

    def project_like(self, template: int) -> int:
        """Another project with the model and the first drawings of one that was imported and is not touched."""
        with psycopg.connect(self.cluster.url.replace("+psycopg", "")) as connection:

            def copied(table: str, where: str, **new: int) -> int:
                known = connection.execute("SELECT column_name FROM information_schema.columns WHERE table_name = %s "
                                           "AND table_schema = 'public'", [table]).fetchall()  # fmt: skip
                names = [str(n) for (n,) in known if n not in ("id", *new)]
                said = ["nextval('row_version')" if n == "version" else f'"{n}"' for n in names]
                into = ", ".join([f'"{n}"' for n in names] + list(new))
                values = ", ".join(said + [str(v) for v in new.values()])
                done = connection.execute(
                    f"INSERT INTO {table} ({into}) SELECT {values} FROM {table} WHERE {where} ORDER BY id RETURNING id"  # type: ignore[arg-type]
                )
                return int(done.fetchall()[0][0])

            project = copied("project", f"id = {template}")
            copied("revision", f"project_id = {template}", project_id=project)
            copied("drawing", f"project_id = {template}", project_id=project)
        return project

    def rows(self, table: str) -> int:
        return int(self.one(f"SELECT count(*) FROM {table}")[0])

    def one(self, query: str) -> tuple[Any, ...]:
        """The first row of a query's answer."""
        with psycopg.connect(self.cluster.url.replace("+psycopg", "")) as connection:
            return connection.execute(query).fetchone() or ()  # type: ignore[arg-type]

    def all(self, query: str) -> list[tuple[Any, ...]]:
        with psycopg.connect(self.cluster.url.replace("+psycopg", "")) as connection:
            return connection.execute(query).fetchall()  # type: ignore[arg-type]

    def changed(self, statement: str) -> Any:
        """The first value that a statement returns."""
        with psycopg.connect(self.cluster.url.replace("+psycopg", "")) as connection:
            return (connection.execute(statement).fetchone() or (None,))[0]  # type: ignore[arg-type]

    def execute(self, statement: str) -> None:
        with psycopg.connect(self.cluster.url.replace("+psycopg", "")) as connection:
            connection.execute(statement)  # type: ignore[arg-type]

    def kill_servers(self) -> None:
        """Kill the processes that answer; others take their place."""
        web = self.services.web
        assert web is not None
        for child in Path(f"/proc/{web.pid}/task/{web.pid}/children").read_text().split():
            os.kill(int(child), signal.SIGKILL)

        def answers() -> bool:
            try:
                return self.call("GET", "/api/projects").status == 200
            except OSError:
                return False

        self.until(answers)

    def kill_worker(self) -> None:
        assert self.services.worker is not None
        os.kill(self.services.worker.pid, signal.SIGKILL)
        self.services.worker.wait()

    def start_worker(self) -> None:
        self.services.start_worker()
