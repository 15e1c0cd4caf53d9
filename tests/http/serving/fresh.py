"""A process with empty caches: what it answers is made of the rows alone.

It has loaded the code and never answered anything. For each question it forks a child that answers and ends, so that
nothing is ever remembered from one to the next. Its tables are those of the installation, but for `kept_view`: there it
has an empty one of its own, which comes first on its search path.
"""

from __future__ import annotations

import hashlib
import json
import os
import subprocess
import sys
import traceback
from typing import Any

from tests.installation import Installation, worded

EMPTY = "empty"  # the schema with the tables that it has of its own
_ASK = "from tests.http.serving.fresh import answer_all; answer_all()"


class Fresh:
    """The process, for the tests of one installation."""

    def __init__(self, app: Installation) -> None:
        app.execute(f"CREATE SCHEMA IF NOT EXISTS {EMPTY}")
        app.execute(f"CREATE TABLE IF NOT EXISTS {EMPTY}.kept_view (LIKE public.kept_view INCLUDING ALL)")
        self._app = app
        url = f"{app.environment['EDGE_SLICE_DATABASE_URL']}?options=-csearch_path%3D{EMPTY}%2Cpublic"
        environment = {**app.environment, "EDGE_SLICE_DATABASE_URL": url, "NUMBA_THREADING_LAYER": "workqueue"}
        self._process = subprocess.Popen(
            [sys.executable, "-c", _ASK], env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )

    def answers(self, project: int) -> dict[str, str]:
        """What is to be seen of a project: each path with a digest of what is found there."""
        self._app.execute(f"TRUNCATE {EMPTY}.kept_view")
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        self._process.stdin.write(f"{project}\n")
        self._process.stdin.flush()
        said = json.loads(self._process.stdout.readline())
        assert "error" not in said, said["error"]
        return {str(path): str(digest) for path, digest in said.items()}

    def stop(self) -> None:
        assert self._process.stdin is not None
        self._process.stdin.close()
        self._process.wait(20)


def digest(status: int, body: bytes) -> str:
    said = worded(body) if status >= 400 else body
    return f"{status} {hashlib.sha256(said).hexdigest()[:20]}"


def asked(path: str, body: Any) -> str:
    """What is asked for, in words."""
    return path if not isinstance(body, dict) or "drawing" not in body else f"{path} of {body['drawing']} in hand"


LISTS = (
    "", "/drawings", "/sheets", "/sheet-designs", "/standards", "/shown-sets", "/drawing-rules", "/tables",
    "/shared-extents",
    "/annotations", "/anchors", "/ground", "/checks", "/issues", "/history", "/revisions", "/parts", "/planes",
    "/places", "/corrections", "/materials",
    "/register.csv", "/viewpoints",
)  # fmt: skip


def paths_of(project: int, drawings: list[dict[str, Any]], sheets: list[dict[str, Any]]) -> list[tuple[str, Any]]:
    """Everything that is to be seen of a project: paths, and what is sent there."""
    base = f"/api/projects/{project}"
    found: list[tuple[str, Any]] = [(f"{base}{name}", None) for name in LISTS]
    numbers = [d["id"] for d in drawings]
    in_hand = [{"drawing": d["id"], "cut": d["cut"], "style": d["style"], "moving": True} for d in drawings]
    found += [(f"{base}/view", body) for body in in_hand]
    found.append((f"{base}/markers", {"drawings": numbers}))
    found.append((f"{base}/sheet-pictures", {"ids": [s["id"] for s in sheets]}))
    for n in numbers:
        found += [(f"/api/drawings/{n}{rest}", None) for rest in ("", "/view", "/annotations", "/touch-ups", "/snaps")]
        found.append((f"/api/drawings/{n}/export.svg", None))
        found.append((f"/api/drawings/{n}/comparison/1", None))  # refused while there is one revision
    for sheet in sheets:
        at = f"/api/sheets/{sheet['id']}"
        found += [(f"{at}{rest}", None) for rest in ("/view", "/text-checks", "/guides", "/export.svg")]
    return found


def set_as_file(project: int) -> bytes:
    """All sheets of a project as one PDF, each page drawn now."""
    from edge_slice.app.sheets.sheet_views import SheetsAround
    from edge_slice.core.render.binding import bound
    from edge_slice.store.database import reading

    with reading() as session:
        around = SheetsAround(session, project)
        return bound([around.leaf(sheet) for sheet in around.sheets], around.source.name, "")


def answer_all() -> None:
    """The process: a project's number comes in, all answers go out, in one line each."""
    from edge_slice.core.compiled import compile_kernels
    from edge_slice.web.server import create_server

    compile_kernels()
    server = create_server(warm=False)
    for line in sys.stdin:
        own, other = os.pipe()
        child = os.fork()
        if child == 0:
            os.close(own)
            with os.fdopen(other, "w") as out:
                out.write(_answer(server, int(line)))
            os._exit(0)
        os.close(other)
        with os.fdopen(own) as heard:
            print(heard.read(), flush=True)
        os.waitpid(child, 0)


def _answer(server: Any, project: int) -> str:
    try:
        client = server.test_client()

        def ask(path: str, body: Any = None) -> tuple[int, bytes]:
            answer = client.get(path) if body is None else client.post(path, json=body)
            return answer.status_code, answer.data

        drawings = json.loads(ask(f"/api/projects/{project}/drawings")[1])
        sheets = json.loads(ask(f"/api/projects/{project}/sheets")[1])
        said = {asked(path, body): digest(*ask(path, body)) for path, body in paths_of(project, drawings, sheets)}
        if sheets:
            said["the set"] = digest(200, set_as_file(project))
        return json.dumps(said)
    except Exception:
        return json.dumps({"error": traceback.format_exc()})
