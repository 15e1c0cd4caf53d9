"""Routes of shared extents: boxes that drawings take their extents and depth from."""

from __future__ import annotations

from flask import Response
from pydantic import RootModel

from edge_slice.app.people.rights import InProject
from edge_slice.app.projects import shared_extents
from edge_slice.app.projects.documents import SharedExtentsEdit, SharedExtentsNew, SharedExtentsOut, SharedExtentsSide
from edge_slice.store.tables import Project, SharedExtents
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes

api = routes("shared_extents", __name__)


class SharedExtentsList(RootModel[list[SharedExtentsOut]]):
    pass


@api.get("/projects/<int:id>/shared-extents", responses={200: SharedExtentsList})
@needs(InProject.LOOK, Project)
def list_boxes(path: ById) -> Response:
    """The shared extents of a project"""
    return answer(list(shared_extents.list_boxes(path.id)))


@api.post("/projects/<int:id>/shared-extents", responses={201: SharedExtentsOut})
@needs(InProject.EDIT, Project)
def add_box(path: ById, body: SharedExtentsNew) -> Response:
    """Make shared extents of a box, or of what a drawing shows"""
    return answer(shared_extents.add_box(path.id, body, author()), 201)


@api.patch("/shared-extents/<int:id>", responses={200: SharedExtentsOut})
@needs(InProject.EDIT, SharedExtents)
def edit_box(path: ById, body: SharedExtentsEdit) -> Response:
    """Change shared extents, and all drawings that follow them"""
    return answer(shared_extents.edit_box(path.id, body, author()))


@api.post("/shared-extents/<int:id>/side", responses={200: SharedExtentsOut})
@needs(InProject.EDIT, SharedExtents)
def move_side(path: ById, body: SharedExtentsSide) -> Response:
    """Move the face that a side of a drawing shows"""
    return answer(shared_extents.move_side(path.id, body, author()))


@api.delete("/shared-extents/<int:id>", responses={204: None})
@needs(InProject.EDIT, SharedExtents)
def delete_box(path: ById) -> tuple[str, int]:
    """Delete shared extents; drawings that followed them keep what they had"""
    shared_extents.delete_box(path.id, author())
    return "", 204
