"""What is let in: from whom, under which name, and how much of it; and what browsers are told about our pages."""

from __future__ import annotations

from flask import Flask, Response, request
from werkzeug.exceptions import Forbidden, MisdirectedRequest, RequestEntityTooLarge, UnsupportedMediaType

from edge_slice.app.errors import Refused
from edge_slice.settings import settings

LARGEST_DOCUMENT = 8 << 20  # bytes
LARGEST_ANSWERS = 64 << 20  # bytes: topics come with a picture each
TOPICS = ("/corrections/answers", "/remarks/topics")
LARGEST_PICTURE_BODY = 7 << 20  # bytes: a picture of 6 MB with what surrounds it in a form
DRAINED = 4 << 30  # bytes that are still read of what says how long it is
DRAINED_UNSAID = 64 << 20  # and of what does not
KINDS = ("application/json", "multipart/form-data")  # of what is sent
SAFE = ("GET", "HEAD", "OPTIONS")


def guard(server: Flask) -> None:
    server.before_request(_check_name)
    server.before_request(_check_sender)
    server.before_request(_check_kind)
    server.before_request(_limit_body)
    server.after_request(_read_to_the_end)
    server.after_request(_told_to_browsers)


def _host_of(netloc: str) -> str:
    """A host without its port."""
    end = netloc.find("]") + 1 if netloc.startswith("[") else netloc.find(":")
    return (netloc[:end] if end > 0 else netloc).lower()


def _check_name() -> None:
    """Only under the names of this installation: a name of somebody else's that leads here (DNS rebinding) would make
    our pages theirs."""
    if _host_of(request.headers.get("Host", "")) not in settings().host_names:
        raise MisdirectedRequest(
            "This installation is not known under this name; name it in EDGE_SLICE_HOSTS where it is served so."
        )


def _check_sender() -> None:
    """Nothing is changed for pages of others: browsers say whose page sends. What is no browser says nothing."""
    if request.method in SAFE:
        return
    site, origin = request.headers.get("Sec-Fetch-Site"), request.headers.get("Origin")
    mine = origin is None or origin.split("://", 1)[-1].lower() == request.headers.get("Host", "").lower()
    if site not in (None, "same-origin", "none") or not mine:
        raise Forbidden("Pages of other sites can't change anything here.")


def _check_kind() -> None:
    """Only what our routes read: another kind would be read as nothing at all."""
    sends = bool(request.content_length) or "chunked" in request.headers.get("Transfer-Encoding", "")
    if sends and request.path.startswith("/api/") and request.mimetype not in KINDS:
        raise UnsupportedMediaType(f"Send {' or '.join(KINDS)}; this is {request.mimetype or 'of no named kind'}.")


def _limit_body() -> None:
    """Limits count what is read: also of a body that does not say how long it is, or says something else."""
    if request.path == "/api/imports":
        request.max_content_length = int(settings().upload_limit_mb * 1024 * 1024) + 64 * 1024
        return
    if request.path.endswith(TOPICS):
        request.max_content_length = LARGEST_ANSWERS
        request.max_form_memory_size = LARGEST_DOCUMENT
        return
    if request.mimetype == "multipart/form-data":
        request.max_content_length = LARGEST_PICTURE_BODY
        request.max_form_memory_size = LARGEST_DOCUMENT
        return
    # one byte more: what is read to a limit ends there without a word
    request.max_content_length = LARGEST_DOCUMENT + 1
    body = request.get_data(cache=True)
    if len(body) > LARGEST_DOCUMENT:
        raise RequestEntityTooLarge
    if request.mimetype == "application/json" and b"\\u0000" in body:
        raise Refused("Texts must not hold the character U+0000; no database keeps it.")


def too_large_words() -> str:
    if request.path == "/api/imports":
        limit = settings().upload_limit_mb
        return f"The file is larger than {limit:g} MB, the limit of this installation. Nothing was kept."
    largest = (request.max_content_length or LARGEST_DOCUMENT) >> 20
    return f"This document is larger than {largest} MB. Nothing was kept."


def _read_to_the_end(response: Response) -> Response:
    """Read what is still sent of a refused request, within bounds: cut off, its sender would never see why."""
    if response.status_code < 400 or request.method in SAFE:
        return response
    said = request.content_length
    stream, left = request.environ["wsgi.input"], DRAINED_UNSAID if said is None else min(said, DRAINED)
    while left > 0 and (part := stream.read(min(left, 1 << 20))):
        left -= len(part)
    return response


def events_at() -> str:
    """Where pages hear of changes."""
    here = f"{request.scheme}://{_host_of(request.headers.get('Host', ''))}:{settings().events_port}"
    return settings().events_url or f"{here}/api/events"


def _told_to_browsers(response: Response) -> Response:
    response.headers["X-Content-Type-Options"] = "nosniff"
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
        if response.mimetype == "application/json":  # opened by itself it is a file, never a page
            response.headers.setdefault("Content-Disposition", 'attachment; filename="api.json"')
    if request.is_secure:
        response.headers["Strict-Transport-Security"] = "max-age=31536000"
    response.headers["X-Frame-Options"] = "DENY"
    response.headers["Referrer-Policy"] = "same-origin"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    response.headers["Content-Security-Policy"] = "; ".join((
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # sizes and places of what is drawn are inline styles
        "img-src 'self' data: blob:",
        "font-src 'self' data:",
        "worker-src 'self' blob:",
        f"connect-src 'self' blob: data: {events_at()}",
        "object-src 'none'", "base-uri 'none'", "form-action 'self'", "frame-ancestors 'none'",
    ))  # fmt: skip
    return response
