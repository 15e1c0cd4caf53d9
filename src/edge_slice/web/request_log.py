"""Each request has a number, which its answer says and every log line about it: who reports an error says that one."""

from __future__ import annotations

import logging
import secrets
import time

from flask import Flask, Response, g, request

from edge_slice.logs import as_json

HEADER = "X-Request-Id"
log = logging.getLogger("edge_slice.requests")


def number() -> str:
    """The number of the request that is answered."""
    if "number" not in g:
        g.number = secrets.token_hex(4)
    found: str = g.number
    return found


def numbered(server: Flask) -> None:
    """Say each request's number; where logs are JSON, write a line of each. What a request holds is in none: no query,
    no body, no token."""

    @server.after_request
    def said(response: Response) -> Response:
        response.headers[HEADER] = number()
        if as_json():
            who = g.get("person")
            log.info(
                "%s %s", request.method, request.path,
                extra={
                    "request": number(), "status": response.status_code,
                    "took_ms": round(1000 * (time.perf_counter() - g.get("began", time.perf_counter())), 1),
                    "account": who.account if who else None, "address": request.remote_addr,
                },
            )  # fmt: skip
        return response
