"""Routes of drawings that are held."""

from __future__ import annotations

from flask import Response

from edge_slice.app.drawings import holding
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.holding import HoldOut, HoldWanted, LetGo, TakeOver
from edge_slice.app.people.rights import InProject
from edge_slice.store.tables import Drawing
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes

api = routes("holding", __name__)


@api.get("/drawings/<int:id>/hold", responses={200: HoldOut})
@needs(InProject.LOOK, Drawing)
def held_since(path: ById) -> Response:
    """What a held drawing does not show yet of what changed since"""
    return answer(holding.held_since(path.id))


@api.post("/drawings/<int:id>/hold", responses={200: DrawingOut})
@needs(InProject.EDIT, Drawing)
def hold(path: ById, body: HoldWanted) -> Response:
    """Let a drawing stay as the newest revision of the model has it, or another one"""
    return answer(holding.hold_drawing(path.id, body, author()))


@api.post("/drawings/<int:id>/let-go", responses={200: DrawingOut})
@needs(InProject.EDIT, Drawing)
def let_go(path: ById, body: LetGo) -> Response:
    """Let a held drawing follow the newest model again"""
    return answer(holding.let_go(path.id, body, author()))


@api.post("/drawings/<int:id>/take-over", responses={200: DrawingOut})
@needs(InProject.EDIT, Drawing)
def take_over(path: ById, body: TakeOver) -> Response:
    """Let a held drawing show some of what changed since"""
    return answer(holding.take_over(path.id, body, author()))
