"""Routes of the ground of a project."""

from __future__ import annotations

from flask import Response
from pydantic import RootModel

from edge_slice.app.people.rights import InProject
from edge_slice.app.projects import ground
from edge_slice.app.projects.ground_documents import (
    GroundDrawn,
    GroundEdit,
    GroundHandleOut,
    GroundOut,
    GroundRows,
    GroundText,
    HandleMoved,
    HandlesWanted,
    PointMoved,
)
from edge_slice.store.tables import Project
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes

api = routes("ground", __name__, "/api/projects/<int:id>/ground")


class GroundHandles(RootModel[list[GroundHandleOut]]):
    pass


@api.get("", responses={200: GroundOut})
@needs(InProject.LOOK, Project)
def read_ground(path: ById) -> Response:
    """The ground of a project, and what it takes to make the proposed one"""
    return answer(ground.ground_of(path.id))


@api.put("", responses={200: GroundOut})
@needs(InProject.EDIT, Project)
def edit_ground(path: ById, body: GroundEdit) -> Response:
    """Say what ground a project has"""
    return answer(ground.edit_ground(path.id, body, author()))


@api.post("/text", responses={200: GroundRows})
@needs(InProject.LOOK, Project)
def read_text(path: ById, body: GroundText) -> Response:
    """Read points or a profile from text; nothing is kept"""
    return answer(ground.read_text(path.id, body))


@api.post("/profile", responses={200: GroundOut})
@needs(InProject.EDIT, Project)
def draw_profile(path: ById, body: GroundDrawn) -> Response:
    """Make ground of a profile that is drawn in a section or elevation"""
    return answer(ground.draw_profile(path.id, body, author()))


@api.post("/handles", responses={200: GroundHandles})
@needs(InProject.LOOK, Project)
def read_handles(path: ById, body: HandlesWanted) -> Response:
    """The points of the ground that a drawing can move"""
    return answer(list(ground.handles(path.id, body.cut)))


@api.post("/handles/move", responses={200: GroundOut})
@needs(InProject.EDIT, Project)
def move_handle(path: ById, body: HandleMoved) -> Response:
    """Move a point of the ground in a drawing"""
    return answer(ground.move_handle(path.id, body, author()))


@api.post("/points/move", responses={200: GroundOut})
@needs(InProject.EDIT, Project)
def move_point(path: ById, body: PointMoved) -> Response:
    """Give a point of the ground another height"""
    return answer(ground.move_point(path.id, body, author()))
