"""Routes of viewpoints: whence a model is looked at, and how."""

from __future__ import annotations

from flask import Response
from pydantic import RootModel

from edge_slice.app.people.rights import InProject
from edge_slice.app.projects import viewpoints
from edge_slice.app.projects.viewpoints import ViewpointEdit, ViewpointNew, ViewpointOrder, ViewpointOut
from edge_slice.store.tables import Project, ViewpointRow
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes

api = routes("viewpoints", __name__)


class ViewpointList(RootModel[list[ViewpointOut]]):
    pass


@api.get("/projects/<int:id>/viewpoints", responses={200: ViewpointList})
@needs(InProject.LOOK, Project)
def list_viewpoints(path: ById) -> Response:
    """The viewpoints of a project, in their order"""
    return answer(list(viewpoints.list_viewpoints(path.id)))


@api.post("/projects/<int:id>/viewpoints", responses={201: ViewpointOut})
@needs(InProject.EDIT, Project)
def add_viewpoint(path: ById, body: ViewpointNew) -> Response:
    """Keep a viewpoint, behind those that there are"""
    return answer(viewpoints.add_viewpoint(path.id, body, author()), 201)


@api.post("/projects/<int:id>/viewpoints/order", responses={200: ViewpointList})
@needs(InProject.EDIT, Project)
def order_viewpoints(path: ById, body: ViewpointOrder) -> Response:
    """Put the viewpoints of a project in another order"""
    return answer(list(viewpoints.order_viewpoints(path.id, body, author())))


@api.patch("/viewpoints/<int:id>", responses={200: ViewpointOut})
@needs(InProject.EDIT, ViewpointRow)
def edit_viewpoint(path: ById, body: ViewpointEdit) -> Response:
    """Rename a viewpoint, or let it be seen otherwise"""
    return answer(viewpoints.edit_viewpoint(path.id, body, author()))


@api.delete("/viewpoints/<int:id>", responses={204: None})
@needs(InProject.EDIT, ViewpointRow)
def delete_viewpoint(path: ById) -> tuple[str, int]:
    """Delete a viewpoint"""
    viewpoints.delete_viewpoint(path.id, author())
    return "", 204
