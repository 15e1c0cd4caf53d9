"""What a browser holds to be known again."""

from __future__ import annotations

from flask import Response, request

from edge_slice.app.errors import Refused
from edge_slice.app.people.rights import HELD, HELD_SECURELY
from edge_slice.app.people.signing_in import lasts
from edge_slice.settings import settings


def holding(response: Response, token: str) -> Response:
    """An answer after which a browser holds a token; pages' scripts can't read it, and no other site can send it."""
    name = HELD_SECURELY if request.is_secure else HELD
    response.set_cookie(
        name, token, max_age=int(lasts().total_seconds()), httponly=True, secure=request.is_secure, samesite="Strict"
    )
    return response


def letting_go(response: Response) -> Response:
    response.headers["Clear-Site-Data"] = '"cache"'  # what the browser keeps of meshes and pictures
    for name in (HELD, HELD_SECURELY):
        response.delete_cookie(name, httponly=True, secure=name == HELD_SECURELY, samesite="Strict")
    return response


def device() -> str:
    """What somebody asks with, in its own words."""
    return request.headers.get("User-Agent", "")[:200]


def check_signing_in() -> None:
    """Raise `Refused` where nobody signs in: there are no people to speak of."""
    if not settings().sign_in:
        raise Refused("Nobody signs in here: this installation is served to its own machine alone.", "")
