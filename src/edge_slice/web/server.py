"""Builds the Flask application."""

from __future__ import annotations

import random
import threading
import time
from pathlib import Path
from typing import Any

from flask import Flask, Response, jsonify, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic import ValidationError
from sqlalchemy.exc import DBAPIError, IntegrityError, OperationalError
from sqlalchemy.exc import TimeoutError as NoConnection
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge
from werkzeug.middleware.proxy_fix import ProxyFix

from edge_slice.app.documents import Problem
from edge_slice.app.errors import NoRoom, NotAllowed, NotFound, Refused, SignedOut, Stale, TooOften
from edge_slice.app.room import NO_ROOM
from edge_slice.app.views.warming import warm_up_quietly
from edge_slice.core.memory import MEMORY
from edge_slice.core.stages import listening
from edge_slice.settings import settings
from edge_slice.store.database import is_clash
from edge_slice.store.room import is_full
from edge_slice.web.access import let_in
from edge_slice.web.drawings import callouts, drawing_annotations, holding, lineage, pointing, rules, starter_sets
from edge_slice.web.guard import events_at, guard, too_large_words
from edge_slice.web.health import watched
from edge_slice.web.models import corrections, imports, parts, revisions, solids
from edge_slice.web.people import belonging, signing_in
from edge_slice.web.people.office_service import ways
from edge_slice.web.projects import ground, listing, shared_extents, standards, viewpoints
from edge_slice.web.request_log import number, numbered
from edge_slice.web.review import remarks
from edge_slice.web.sheets import checks, numbered_sheets, publications, register
from edge_slice.web.tables import building_tables

TRIES = 5
EVENTS_MARK = "<!-- events -->"  # in the page: where windows hear of changes
MAKE_ROOM = "Once there is room, do it again; tell whoever sees to this installation."
SILENT = 30.0  # seconds until the same trouble is logged again
DESCRIPTION = "Cuts drawings from a building model and coordinates them on sheets."


class _Server(OpenAPI):  # type: ignore[misc]
    """A use case is one transaction: where it came into another's way, and nothing of it happened, it is done again.
    Each answer says how long its stages took (Server-Timing, W3C): tools of browsers show that beside a request."""

    def full_dispatch_request(self) -> Response:
        began = time.perf_counter()
        with listening() as heard:
            response: Response = super().full_dispatch_request()
        took: dict[str, float] = {}
        for one in heard:
            took[one.name] = took.get(one.name, 0.0) + one.took
        took["all"] = time.perf_counter() - began
        response.headers["Server-Timing"] = ", ".join(f"{name};dur={s * 1000:.2f}" for name, s in took.items())
        return response

    def dispatch_request(self) -> Any:
        for again in range(TRIES):
            try:
                return super().dispatch_request()
            except DBAPIError as error:
                if again == TRIES - 1 or not is_clash(error):
                    raise
            for file in request.files.values():
                file.seek(0)
            time.sleep(random.uniform(0.0, 0.05) * 2**again)  # not in step with whom it met
        return None


def create_server(warm: bool = True) -> Flask:
    """The application, ready for gunicorn; `warm` draws something in the background at once."""
    server: Flask = _Server(
        __name__,
        info=Info(title="Edge Slice", version="1", description=DESCRIPTION),
        validation_error_status=422,
        validation_error_model=Problem,
        validation_error_callback=_invalid,
        doc_ui=False,
        static_folder=None,
    )
    numbered(server)
    guard(server)
    watched(server)
    if settings().proxies:
        server.wsgi_app = ProxyFix(  # type: ignore[method-assign]
            server.wsgi_app, x_for=settings().proxies, x_proto=settings().proxies
        )
    MEMORY.most = int(settings().memory_mb * 2**20)
    rooms = (
        listing, imports, lineage, holding, callouts, drawing_annotations, revisions, numbered_sheets, register,
        publications, parts, corrections,
        checks, solids, standards, pointing, shared_extents, starter_sets, ground, rules,
        building_tables, signing_in, belonging, remarks, viewpoints,
    )  # fmt: skip
    for room in rooms:
        server.register_api(room.api)  # type: ignore[attr-defined]
    ways(server)
    let_in(server)
    _errors(server)
    _pages(server)
    if warm:
        threading.Thread(target=warm_up_quietly, daemon=True, name="warm-up").start()
    return server


def _problem(
    status: int, message: str, field: str = "", current: dict[str, object] | None = None
) -> tuple[Response, int]:
    said = Problem(message=message, field=field, current=current, request=number())
    return jsonify(said.model_dump()), status


def _invalid(error: ValidationError) -> Response:
    """The first thing wrong with a request, in words, with its place."""
    first = error.errors(include_url=False)[0]
    place = ".".join(str(part) for part in first["loc"])
    message = str(first["msg"]).removeprefix("Value error, ")
    response, status = _problem(422, f"{place}: {message}" if place else message, place)
    response.status_code = status
    return response


class _Outage:
    """Says once in a while that the database is away, however many requests find out."""

    def __init__(self, server: Flask) -> None:
        self.server, self.said = server, -SILENT

    def say(self, reason: str) -> None:
        now = time.monotonic()
        if now - self.said >= SILENT:
            self.said = now
            self.server.logger.warning("database away: %s", reason)


def _errors(server: Flask) -> None:
    outage = _Outage(server)

    def not_found(error: NotFound) -> tuple[Response, int]:
        return _problem(404, str(error))

    def refused(error: Refused) -> tuple[Response, int]:
        return _problem(422, str(error), error.field)

    def stale(error: Stale) -> tuple[Response, int]:
        return _problem(409, str(error), "version", error.current.model_dump(mode="json"))

    def signed_out(error: SignedOut) -> tuple[Response, int]:
        return _problem(401, str(error))

    def not_allowed(error: NotAllowed) -> tuple[Response, int]:
        return _problem(403, str(error))

    def too_often(error: TooOften) -> Response:
        response, status = _problem(429, str(error))
        response.status_code, response.headers["Retry-After"] = status, str(error.wait)
        return response

    def too_large(error: RequestEntityTooLarge) -> tuple[Response, int]:
        return _problem(413, too_large_words())

    def no_room(error: NoRoom) -> tuple[Response, int]:
        return _problem(507, str(error))

    def too_many(error: NoConnection) -> tuple[Response, int]:
        server.logger.warning("request %s: too many at once", number())
        return _problem(503, "Too many ask at the same moment. What was saved is safe; the rest is tried again.")

    def no_database(error: OperationalError) -> tuple[Response, int]:
        if is_full(error):
            server.logger.error("request %s: %s", number(), getattr(error, "orig", error))
            return _problem(507, f"{NO_ROOM} This was not kept; what was saved before is safe. {MAKE_ROOM}")
        if is_clash(error):
            return _problem(409, "Others changed the same things at the same moment, several times over. Try again.")
        outage.say(str(getattr(error, "orig", error)).splitlines()[0])
        return _problem(503, "The database can't be reached. What was saved is safe; the rest is tried again.")

    def clash(error: IntegrityError) -> tuple[Response, int]:
        server.logger.warning("integrity: %s", error.orig)
        return _problem(409, "Another window changed the same thing at the same moment. Try again.")

    def http(error: HTTPException) -> tuple[Response, int]:
        return _problem(error.code or 500, error.description or "This request can't be answered.")

    def unexpected(error: Exception) -> tuple[Response, int]:
        if is_full(error):
            server.logger.error("request %s: %s", number(), error)
            return _problem(507, f"The disk of the server is full. This was not kept. {MAKE_ROOM}")
        server.logger.exception("unexpected error, number %s", number())
        known = f"the server's log has the details, number {number()}"
        return _problem(500, f"Something went wrong here. What was saved is safe; {known}.")

    for kind, handler in (
        (NotFound, not_found), (Refused, refused), (SignedOut, signed_out), (NotAllowed, not_allowed),
        (TooOften, too_often), (NoRoom, no_room), (Stale, stale), (RequestEntityTooLarge, too_large),
        (OperationalError, no_database), (NoConnection, too_many), (IntegrityError, clash), (HTTPException, http),
        (Exception, unexpected),
    ):  # fmt: skip
        server.register_error_handler(kind, handler)


def _told_in_page() -> str:
    """What a page has to know before it asks anything: where windows hear of changes, and whether people sign in."""
    signs_in = '<meta name="sign-in" content="yes">' if settings().sign_in else ""
    return f'<meta name="events" content="{events_at()}">{signs_in}'


def _pages(server: Flask) -> None:
    """The built front end; every other path is a page of it."""
    folder = Path(settings().front_end or Path(__file__).parents[3] / "frontend" / "dist")

    def page(path: str = "") -> Response | tuple[Response, int]:
        if path.startswith("api/"):
            return _problem(404, f"There is no {request.method} /{path}.")
        if path and (folder / path).is_file():
            response = send_from_directory(folder, path)
            if path.startswith("assets/"):
                response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return response
        if not (folder / "index.html").is_file():
            return _problem(503, "The front end is not built; run ./start --setup-only.")
        text = (folder / "index.html").read_text().replace(EVENTS_MARK, _told_in_page())
        return Response(text, mimetype="text/html", headers={"Cache-Control": "no-cache"})

    server.add_url_rule("/", "front-page", page)
    server.add_url_rule("/<path:path>", "page", page)
