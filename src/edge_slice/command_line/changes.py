"""What became of a model in a newer file: told, or sent to a server as a revision of a project."""

from __future__ import annotations

import json
import time
import urllib.error
import urllib.request
import uuid
from collections import Counter
from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path
from typing import Any

from edge_slice.command_line.arguments import WrongArguments
from edge_slice.core.model import Model
from edge_slice.core.model.revisions import ModelChanges, revised

PATIENCE = 3600.0  # seconds that a server may take to read a file
PAUSE = 0.5


def changes_json(changes: ModelChanges) -> str:
    return json.dumps(asdict(changes), ensure_ascii=False, indent=1)


def changes_between(old: Model, new: Model) -> ModelChanges:
    return revised(old, new)[1]


def changes_text(elements: Iterable[dict[str, Any]], rooms: Iterable[dict[str, Any]], same: int) -> str:
    """A line for every element and room that differs, and counts."""
    elements, rooms = list(elements), list(rooms)
    counts = Counter(str(c["what"]) for c in elements)
    head = ", ".join(f"{counts[what]} {what}" for what in ("added", "removed", "changed", "renamed"))
    lines = [f"{head}, {same} as they were"]
    for c in elements:
        how = f" ({', '.join(c['how'])})" if c["how"] else ""
        where = f" on {c['storey']}" if c.get("storey") else ""
        lines.append(f"{c['what']:8} {c['kind']} {c['name']}{where}{how}")
    for room in rooms:
        how = f" ({', '.join(room['how'])})" if room["how"] else ""
        lines.append(f"{room['what']:8} room {room['name']}{how}")
    return "\n".join(lines)


def send(model: Path, server: str, project: int, take: bool, anyway: bool) -> str:
    """Send a newer file to a project of a server, wait until it is read, and take it if that is wanted; what happened,
    in words. Raises `WrongArguments` for what the server refuses."""
    row = _upload(f"{server}/api/imports", model, {"into": str(project)})
    until = time.monotonic() + PATIENCE
    while row["state"] in ("waiting", "reading"):
        if time.monotonic() > until:
            raise WrongArguments("the server is still reading; look in the project for what changed")
        time.sleep(PAUSE)
        row = _ask("GET", f"{server}/api/imports/{row['id']}")
    if row["state"] != "proposed":
        raise WrongArguments(row["message"] or f"the server ended with: {row['state']}")
    changes = row["changes"]
    said = changes_text(changes["elements"], changes["rooms"], changes["same"])
    if changes["another"] and not anyway:
        return f"{said}\nIt may be another building, so it was not taken; say --anyway, or decide in the project."
    if not take:
        return f"{said}\nIt is proposed in the project; take it there, or with --take."
    done = _ask("POST", f"{server}/api/imports/{row['id']}/take", {"anyway": anyway})
    return (
        f"{said}\nRevision {done['number']} is in use: {done['recut']} drawings see a change, {done['kept']} are as"
        f" they were; {done['near']} anchors near, {done['lost']} lost."
    )


def _ask(method: str, url: str, body: dict[str, Any] | None = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    return _answer(urllib.request.Request(url, data, {"Content-Type": "application/json"}, method=method))


def _upload(url: str, path: Path, fields: dict[str, str]) -> Any:
    mark = uuid.uuid4().hex
    parts = [f'--{mark}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in fields.items()]
    name = path.name.replace('"', "")
    parts.append(f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n')
    data = "".join(parts).encode() + path.read_bytes() + f"\r\n--{mark}--\r\n".encode()
    kind = {"Content-Type": f"multipart/form-data; boundary={mark}"}
    return _answer(urllib.request.Request(url, data, kind, method="POST"))


def _answer(request: urllib.request.Request) -> Any:
    try:
        with urllib.request.urlopen(request, timeout=300) as response:
            return json.load(response)
    except urllib.error.HTTPError as error:
        try:
            message = str(json.load(error)["message"])
        except (ValueError, KeyError, TypeError):
            message = f"the server answered {error.code}"
        raise WrongArguments(message) from error
    except (urllib.error.URLError, ValueError) as error:
        raise WrongArguments(f"the server can't be reached: {getattr(error, 'reason', error)}") from error
