"""Routes of drawing standards and of hatches on their way into one."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.app.projects import standards
from edge_slice.app.projects.documents import HatchRequest, StandardEdit, StandardNew, StandardOut
from edge_slice.store.tables import Project, Standard
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, binary, routes

api = routes("standards", __name__)


class StandardList(RootModel[list[StandardOut]]):
    pass


class ByIdAndKey(BaseModel):
    id: RowId
    key: str


@api.get("/projects/<int:id>/standards", responses={200: StandardList})
@needs(InProject.LOOK, Project)
def list_standards(path: ById) -> Response:
    """The drawing standards that a project's drawings can use"""
    return answer(list(standards.list_standards(path.id)))


@api.post("/projects/<int:id>/standards", responses={201: StandardOut})
@needs(InProject.EDIT, Project)
def add_standard(path: ById, body: StandardNew) -> Response:
    """Copy a drawing standard, or take one over that was exported"""
    return answer(standards.add_standard(path.id, body, author()), 201)


@api.get("/projects/<int:id>/standards/<key>/view", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def view(path: ByIdAndKey) -> Response:
    """All hatches of a standard in the compact form"""
    return binary(standards.standard_view(path.id, path.key))


@api.patch("/standards/<int:id>", responses={200: StandardOut})
@needs(InProject.EDIT, Standard)
def edit_standard(path: ById, body: StandardEdit) -> Response:
    """Change a project's own drawing standard"""
    return answer(standards.edit_standard(path.id, body, author()))


@api.delete("/standards/<int:id>", responses={204: None})
@needs(InProject.EDIT, Standard)
def delete_standard(path: ById) -> tuple[str, int]:
    """Delete a project's own drawing standard"""
    standards.delete_standard(path.id, author())
    return "", 204


@api.post("/hatch-view", responses={200: BINARY})
@needs(InInstallation.SIGNED_IN)
def hatch_view(body: HatchRequest) -> Response:
    """Draw a hatch without saving it"""
    return binary(standards.hatch_view(body))
