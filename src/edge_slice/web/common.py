"""What the routes share: path parameters, documented errors, file answers, and who is asking."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote, unquote

from flask import Response, g, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from edge_slice.app.documents import Problem, RowId
from edge_slice.app.output.exports import File
from edge_slice.app.views.composed import ScreenView

BINARY = {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}
ERRORS: dict[Any, Any] = {401: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem, 503: Problem}

documented = False  # whether routes are described for the OpenAPI document


def routes(name: str, module: str, prefix: str = "/api", errors: dict[Any, Any] | None = None) -> APIBlueprint:
    """A room of routes, and what they may answer beside what is good. They are described only where the document is
    made: that takes longer than all else of a server's start."""
    said = {**ERRORS, **(errors or {})}
    return APIBlueprint(name, module, url_prefix=prefix, abp_responses=said, doc_ui=documented)


class ById(BaseModel):
    id: RowId


def author() -> str:
    """Who asks, which the change log keeps: by their account, or, where nobody signs in, as they said in this
    browser."""
    return g.person.name or unquote(request.headers.get("X-Person", ""))[:40]


def answer(value: BaseModel | list[Any], status: int = 200) -> Response:
    text = value.model_dump_json() if isinstance(value, BaseModel) else _list_text(value)
    return Response(text, status, mimetype="application/json")


def _list_text(values: list[Any]) -> str:
    return f"[{','.join(v.model_dump_json() for v in values)}]"


def binary(data: bytes) -> Response:
    return Response(data, mimetype="application/octet-stream", headers={"Cache-Control": "no-store"})


def screen(view: ScreenView) -> Response:
    """A drawing in the compact form, with its name if it has one."""
    response = binary(view.data)
    if view.key:
        response.set_etag(view.key)
    return response


def download(file: File) -> Response:
    return attached(Response(file.data, mimetype=file.media_type), file.name)


def attached(response: Response, name: str) -> Response:
    """An answer that browsers save under a name."""
    response.headers["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(name)}"
    return response
