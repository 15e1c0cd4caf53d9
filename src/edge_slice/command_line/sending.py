"""Newer files of a model, sent to a project of a server: once, or whenever one in a folder is saved."""

from __future__ import annotations

import hashlib
import json
import os
import sys
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from edge_slice.command_line.arguments import WrongArguments
from edge_slice.command_line.changes import changes_text
from edge_slice.core.model.files.units import FILE_KINDS

PATIENCE = 3600.0  # seconds that a server may take to read a file
PAUSE = 0.5
TOKEN = "EDGE_SLICE_TOKEN"  # in the environment: a token made in one's account


@dataclass(frozen=True)
class Sent:
    """Where a file goes, and what is said of it: `part` is the name of the part that it is a newer state of, "new" for
    one of its own, empty where the server tells; `take` it where it is sure, `anyway` also where it may be another
    building."""

    server: str
    project: int
    part: str = ""
    take: bool = False
    anyway: bool = False


def send(model: Path, to: Sent) -> str:
    """Send a file, wait until it is read, and take it if that is wanted; what happened, in words. Raises
    `WrongArguments` for what the server refuses."""
    row = _upload(f"{to.server}/api/imports", model, {"into": str(to.project)})
    until = time.monotonic() + PATIENCE
    while row["state"] in ("waiting", "reading"):
        if time.monotonic() > until:
            raise WrongArguments("the server is still reading; look in the project for what changed")
        time.sleep(PAUSE)
        row = _ask("GET", f"{to.server}/api/imports/{row['id']}")
    if row["state"] != "proposed":
        raise WrongArguments(row["message"] or f"the server ended with: {row['state']}")
    if to.part:
        row = _ask("PATCH", f"{to.server}/api/imports/{row['id']}/part", {"key": _key_of(to)})
    changes, part = row["changes"], row["part"]
    said = _which(part) + changes_text(changes["elements"], changes["rooms"], changes["same"])
    if changes["seen_in"]:
        said += f"\nseen in {', '.join(one['title'] for one in changes['seen_in'])}"
    if changes["another"] and not to.anyway:
        return f"{said}\nIt may be another building, so it was not taken; say --anyway, or decide in the project."
    if part is not None and not part["placed_surely"] and not to.anyway:
        return f"{said}\n{part['placed_says']} So it was not taken: place it in the project."
    if not to.take:
        return f"{said}\nIt is proposed in the project; take it there, or with --take."
    done = _ask("POST", f"{to.server}/api/imports/{row['id']}/take", {"anyway": to.anyway})
    return (
        f"{said}\nRevision {done['number']} is in use: {done['recut']} drawings see a change, {done['kept']} are as"
        f" they were; {done['near']} anchors near, {done['lost']} lost."
    )


def _which(part: dict[str, Any] | None) -> str:
    if part is None:
        return ""
    unsure = "" if part["sure"] else ", which is not sure"
    what = f"a newer file of {part['name']}" if part["key"] else f"another part, {part['name']}"
    return f"read as {what}{unsure}: {part['says']}\n"


def _key_of(to: Sent) -> str:
    """The key of a part by its name."""
    if to.part == "new":
        return ""
    parts = _ask("GET", f"{to.server}/api/projects/{to.project}/parts")
    found = next((p["key"] for p in parts if p["name"] == to.part), None)
    if found is None:
        names = ", ".join(p["name"] for p in parts)
        raise WrongArguments(f"the model has no part {to.part}; there are {names}, and --part new for another one")
    return str(found)


def project_at(address: str) -> tuple[str, int]:
    """Server and number of a project by the address of its window. Raises `WrongArguments`."""
    parts = urlsplit(address)
    numbers = [word for word in parts.path.split("/") if word.isdigit()]
    if parts.scheme not in ("http", "https") or not parts.netloc or not numbers or "/projects/" not in parts.path:
        raise WrongArguments(f"{address} is no project's address; it is like http://127.0.0.1:8710/projects/3")
    return f"{parts.scheme}://{parts.netloc}", int(numbers[0])


class Watched:
    """The models in a folder, and which of them were saved again: those whose bytes are others, once they rest."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._known = {path: _digest(path) for path in self._models()}
        self._moving: dict[Path, tuple[int, int, int]] = {}
        self._read: dict[Path, tuple[int, int, int]] = {}  # how files were when they were read last: they are large

    def _models(self) -> list[Path]:
        return sorted(p for p in self._folder.iterdir() if p.is_file() and p.suffix.lower() in FILE_KINDS)

    def saved(self) -> list[Path]:
        """Those saved since the last look, which have been the same for two looks."""
        found = []
        for path in self._models():
            try:
                stat = path.stat()
                now = (stat.st_mtime_ns, stat.st_ctime_ns, stat.st_size)
                still = self._moving.get(path) == now
                self._moving[path] = now
                if not still or self._read.get(path) == now:
                    continue
                digest, self._read[path] = _digest(path), now
            except FileNotFoundError:  # programs write beside, and rename
                continue
            if digest != self._known.get(path):
                self._known[path] = digest
                found.append(path)
        return found


def _digest(path: Path) -> str:
    with path.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()


def watch(folder: Path, to: Sent, every: float, goes_on: Callable[[], bool] = lambda: True) -> None:
    """Send whatever model in a folder is saved again, until told to stop. What the server refuses is said, and watching
    goes on."""
    if not folder.is_dir():
        raise WrongArguments(f"there is no folder {folder}")
    watched = Watched(folder)
    print(f"watching {folder} for {to.server}/projects/{to.project}", flush=True)
    while goes_on():
        time.sleep(every)
        for path in watched.saved():
            try:
                print(f"{path.name}: {send(path, to)}", flush=True)
            except WrongArguments as error:
                print(f"edge-slice: {path.name}: {error}", file=sys.stderr, flush=True)


def _ask(method: str, url: str, body: dict[str, Any] | None = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    return _answer(urllib.request.Request(url, data, {"Content-Type": "application/json", **_known()}, method=method))


def _upload(url: str, path: Path, fields: dict[str, str]) -> Any:
    mark = uuid.uuid4().hex
    parts = [f'--{mark}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in fields.items()]
    name = path.name.replace('"', "")
    parts.append(f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n')
    data = "".join(parts).encode() + path.read_bytes() + f"\r\n--{mark}--\r\n".encode()
    kind = {"Content-Type": f"multipart/form-data; boundary={mark}"}
    return _answer(urllib.request.Request(url, data, {**kind, **_known()}, method="POST"))


def _known() -> dict[str, str]:
    """By what a server knows for whom this asks, where people sign in there."""
    token = os.environ.get(TOKEN, "")
    return {"Authorization": f"Bearer {token}"} if token else {}


def _answer(request: urllib.request.Request) -> Any:
    try:
        with urllib.request.urlopen(request, timeout=300) as response:  # nosec B310
            return json.load(response)
    except urllib.error.HTTPError as error:
        try:
            message = str(json.load(error)["message"])
        except (ValueError, KeyError, TypeError):
            message = f"the server answered {error.code}"
        raise WrongArguments(message) from error
    except (urllib.error.URLError, ValueError) as error:
        raise WrongArguments(f"the server can't be reached: {getattr(error, 'reason', error)}") from error
