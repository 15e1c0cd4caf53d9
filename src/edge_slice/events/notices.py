"""PostgreSQL's notices on their way to the windows."""

from __future__ import annotations

import asyncio
import json
import logging
import urllib.request
from typing import Any

import psycopg

from edge_slice.app.people.signing_in import RIGHTS
from edge_slice.app.review.notices import NOTICES
from edge_slice.events.windows import LOOK_ANEW, Windows
from edge_slice.settings import settings
from edge_slice.store.changes import CHANNEL
from edge_slice.store.database import lasting_address

MANY = 2  # drawings; more of them are asked for as a list
PAUSE = 1.0  # seconds between two tries to reach the database
ANSWERS_WITHIN = 5.0  # seconds
log = logging.getLogger("events")


async def listen(windows: Windows) -> None:
    """Pass notices on; after a lost connection, connect again and tell the windows to look anew."""
    connected = True
    while True:
        try:
            link = await psycopg.AsyncConnection.connect(lasting_address(), autocommit=True)
            async with link:
                await link.execute(f"LISTEN {CHANNEL}")
                connected = True
                windows.tell(None, LOOK_ANEW)
                async for notice in link.notifies():
                    await pass_on(windows, notice.payload)
        except psycopg.Error as error:
            if connected:
                log.warning("listener lost its connection: %s", str(error).splitlines()[0])
            connected = False
        await asyncio.sleep(PAUSE)


async def pass_on(windows: Windows, payload: str) -> None:
    try:
        message = json.loads(payload)
        project = message["project"]
    except (ValueError, TypeError, KeyError):
        log.warning("a notice that is none: %s", payload[:200])
        return
    if message.get("what") == RIGHTS:
        windows.end_of(int(message["account"]))
        return
    if message.get("what") == NOTICES:
        windows.tell(None, payload, int(message["account"]))
        return
    if windows.heard(project):
        await _add_drawings(message)
    windows.tell(project, json.dumps(message, ensure_ascii=False, separators=(",", ":")))
    if any(table == "project" for table, _, _ in message.get("rows") or ()):
        windows.tell(None, '{"project":null,"what":"project","rows":null}')  # lists of projects show its name


async def _add_drawings(message: dict[str, Any]) -> None:
    """The drawings that a notice names as they are now, asked for once for all windows; of many, or where they can't be
    read, the names alone: windows then ask for what they show."""
    if "drawings" in message or settings().sign_in:
        return  # told along; where people sign in each window asks for itself
    changed = [n for table, n, version in message.get("rows") or () if table == "drawing" and version is not None]
    if not 0 < len(changed) <= MANY:
        return
    try:
        found = [await asyncio.to_thread(_drawing, number) for number in changed]
    except (OSError, ValueError):
        return  # the notice itself must reach the windows
    message["drawings"] = [drawing for drawing in found if drawing is not None]


def _drawing(number: int) -> Any:
    try:
        address = f"{settings().web_url}/api/drawings/{number}"
        with urllib.request.urlopen(address, timeout=ANSWERS_WITHIN) as answer:  # nosec B310
            return json.load(answer)
    except urllib.error.HTTPError as error:
        if error.code == 404:
            return None  # deleted since
        raise
