"""The way to the service where an office keeps its accounts, and back: pages of a browser, not of the API."""

from __future__ import annotations

import logging
from urllib.parse import urlencode

from flask import Flask, Response, redirect, request

from edge_slice.app.people.costs import count_way
from edge_slice.app.people.office_service import LASTS, WayFailed, begin_way, end_way, is_set
from edge_slice.app.people.rights import InInstallation
from edge_slice.settings import settings
from edge_slice.web.access import needs, person
from edge_slice.web.people.held import device, holding

HELD, ROOM = "edge-slice-way", "/sign-in/office"
log = logging.getLogger(__name__)


def ways(server: Flask) -> None:
    if settings().sign_in and is_set():
        server.add_url_rule(ROOM, view_func=go)
        server.add_url_rule(f"{ROOM}/back", view_func=come_back)


def _back() -> str:
    """Our address that the service sends browsers back to."""
    here = settings().address or f"{request.scheme}://{request.host}"
    return f"{here.rstrip('/')}{ROOM}/back"


@needs(InInstallation.ANYBODY)
def go() -> Response:
    """Off to the service"""
    count_way(person().address)
    try:
        where, token = begin_way(_back(), request.args.get("to", "/"))
    except WayFailed as error:
        return _failed(error)
    response = Response(status=302, headers={"Location": where, "Cache-Control": "no-store"})
    # Lax: the service's page sends the browser back, which is another site's
    response.set_cookie(
        HELD, token, max_age=int(LASTS.total_seconds()), httponly=True, secure=request.is_secure, samesite="Lax",
        path=ROOM,
    )  # fmt: skip
    return response


@needs(InInstallation.ANYBODY)
def come_back() -> Response:
    """Back from the service"""
    try:
        token, to = end_way(
            request.cookies.get(HELD, ""), request.args, _back(), device(), person().address
        )  # fmt: skip
    except WayFailed as error:
        return _failed(error)
    response = _to(to)
    response.delete_cookie(HELD, path=ROOM)
    return holding(response, token)


def _failed(error: WayFailed) -> Response:
    log.warning("not in by the office's service: %s: %s", error.why, error)
    return _to(f"/?{urlencode({'way': error.why})}")


def _to(page: str) -> Response:
    response = redirect(page)
    assert isinstance(response, Response)
    response.headers["Cache-Control"] = "no-store"
    return response
