"""The stream of events, for windows of our own pages alone."""

from __future__ import annotations

import asyncio
import contextlib
import re
import time
from collections.abc import AsyncIterator

from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.middleware.cors import CORSMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.responses import JSONResponse, Response, StreamingResponse
from starlette.routing import Route

from edge_slice.app.people.rights import Person, held_by, projects_of
from edge_slice.app.people.signing_in import who_holds
from edge_slice.events.notices import listen
from edge_slice.events.windows import Window, Windows
from edge_slice.settings import settings
from edge_slice.store.database import reading

LOOKED_AFTER = 60.0  # seconds until it is looked whether a window may still hear
BEAT = 15.0  # seconds between signs of life, so that proxies and browsers notice what was cut off
MOST_PROJECTS = 200  # of one browser
HEADERS = {"Cache-Control": "no-store", "X-Accel-Buffering": "no", "X-Content-Type-Options": "nosniff"}


async def _stream(windows: Windows, window: Window, held: str) -> AsyncIterator[str]:
    try:
        yield "retry: 1000\n\n"
        looked = time.monotonic()
        while True:
            if settings().sign_in and time.monotonic() - looked > LOOKED_AFTER:
                looked = time.monotonic()
                if await asyncio.to_thread(_who, held) is None:
                    return
            try:
                event = await asyncio.wait_for(window.waiting.get(), BEAT)
            except TimeoutError:
                yield ": still here\n\n"
                continue
            if event is None:
                return
            yield f"id: {windows.name(event)}\ndata: {event.text}\n\n"
    finally:
        windows.closed(window)


async def _events(request: Request) -> Response:
    """Events of `projects` (numbers, with commas between) and what concerns everybody; before them those missed in the
    last `age` milliseconds, and since the event `after`, or the one that the browser names when it comes again."""
    asked = request.query_params.get("projects", "")
    if not re.fullmatch(r"(\d{1,10}(,\d{1,10})*)?", asked) or asked.count(",") >= MOST_PROJECTS:
        return _refused("projects", f"“projects” are numbers with commas between, {MOST_PROJECTS} at most.")
    age = request.query_params.get("age", "0")
    if not re.fullmatch(r"\d{1,12}", age):
        return _refused("age", "“age” is a number of milliseconds.")
    after = request.headers.get("last-event-id") or request.query_params.get("after", "")
    windows: Windows = request.app.state.windows
    projects, account = {int(n) for n in asked.split(",") if n}, None
    held = held_by(request.headers.get("authorization", ""), request.cookies)
    if settings().sign_in:
        person = await asyncio.to_thread(_who, held)
        if person is None or person.account is None:
            return JSONResponse({"message": "Sign in first.", "field": "", "current": None}, 401)
        account = person.account
        projects &= await asyncio.to_thread(_projects, person)
    window = windows.opened(projects, after, int(age) / 1000, account)
    return StreamingResponse(_stream(windows, window, held), media_type="text/event-stream", headers=HEADERS)


def _who(held: str) -> Person | None:
    with reading() as session:
        return who_holds(session, held, "", asks=False)


def _projects(person: Person) -> set[int]:
    with reading() as session:
        return projects_of(session, person)


def _refused(field: str, message: str) -> Response:
    return JSONResponse({"message": message, "field": field, "current": None}, 422)


def create_events() -> Starlette:
    """The application, for an ASGI server."""
    windows = Windows()

    @contextlib.asynccontextmanager
    async def listening(app: Starlette) -> AsyncIterator[None]:
        task = asyncio.create_task(listen(windows))
        yield
        task.cancel()

    names = [name.strip("[]") for name in settings().host_names]
    known = "|".join(re.escape(name) for name in settings().host_names)
    made = Starlette(
        routes=[Route("/api/events", _events)],
        middleware=[
            Middleware(TrustedHostMiddleware, allowed_hosts=[*names, *settings().host_names]),
            Middleware(
                CORSMiddleware,
                allow_origin_regex=rf"https?://({known})(:\d+)?",
                allow_methods=["GET"],
                allow_credentials=True,
            ),
        ],
        lifespan=listening,
    )
    made.state.windows = windows
    return made
