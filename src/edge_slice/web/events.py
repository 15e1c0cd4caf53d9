"""Server-sent events: one listener on PostgreSQL's notices feeds every open window."""

from __future__ import annotations

import json
import logging
import queue
import threading
import time
from collections.abc import Iterator

import psycopg
from flask import Blueprint, Response

from edge_slice.app import drawings
from edge_slice.settings import settings
from edge_slice.store.changes import CHANNEL

api = Blueprint("events", __name__)
MANY = 2  # drawings; more of them are asked for as a list
BEAT = 15.0  # seconds between signs of life, so that proxies and threads notice closed windows
_windows: set[queue.SimpleQueue[str]] = set()
_lock = threading.Lock()
_started = False


def _listen() -> None:
    """Pass notices on; after a lost connection, connect again and tell the windows to look anew."""
    connected = True
    while True:
        try:
            with psycopg.connect(settings().psycopg_url, autocommit=True) as connection:
                connection.execute(f"LISTEN {CHANNEL}")
                connected = True
                _tell('{"project":null,"what":"connected","rows":null}')
                for notice in connection.notifies():
                    _tell(_with_drawings(notice.payload))
        except psycopg.Error as error:
            if connected:
                logging.getLogger(__name__).warning("listener lost its connection: %s", str(error).splitlines()[0])
            connected = False
            time.sleep(1.0)


def _with_drawings(payload: str) -> str:
    """A notice with the drawings that it names as they are now, read once for all windows; of many, or where they can't
    be read, the names alone: windows then ask for what they show."""
    with _lock:
        if not _windows:
            return payload
    try:
        message = json.loads(payload)
        changed = [n for table, n, version in message.get("rows") or () if table == "drawing" and version is not None]
        if 0 < len(changed) <= MANY:
            found = drawings.existing_drawings(changed)
            message["drawings"] = [d.model_dump(mode="json") for d in found]
            return json.dumps(message, ensure_ascii=False, separators=(",", ":"))
    except Exception:  # whatever it is: the notice itself must reach the windows
        logging.getLogger(__name__).warning("drawings of a notice could not be read", exc_info=True)
    return payload


def _tell(message: str) -> None:
    with _lock:
        for window in _windows:
            window.put(message)


def _ensure_listener() -> None:
    global _started
    with _lock:
        if not _started:
            _started = True
            threading.Thread(target=_listen, daemon=True, name="notices").start()


def _stream() -> Iterator[str]:
    window: queue.SimpleQueue[str] = queue.SimpleQueue()
    with _lock:
        _windows.add(window)
    try:
        yield "retry: 1000\n\n"
        while True:
            try:
                yield f"data: {window.get(timeout=BEAT)}\n\n"
            except queue.Empty:
                yield ": still here\n\n"
    finally:
        with _lock:
            _windows.discard(window)


@api.get("/api/events")
def events() -> Response:
    _ensure_listener()
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return Response(_stream(), mimetype="text/event-stream", headers=headers)
