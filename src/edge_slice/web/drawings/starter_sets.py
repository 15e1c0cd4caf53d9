"""Routes of starter sets: the one for a model, and those that projects kept."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, RootModel

from edge_slice.app.drawings import kept_sets, starter_sets
from edge_slice.app.drawings.documents import (
    KeptMadeOut,
    KeptSetNew,
    KeptSetOut,
    ProposedOut,
    StarterChoice,
    StarterWanted,
)
from edge_slice.app.output.exports import File
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.app.sheets import kept_projects
from edge_slice.store.tables import Project
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, download, routes
from edge_slice.web.drawings.lineage import DrawingList

api = routes("starter_sets", __name__)


class ProposedList(RootModel[list[ProposedOut]]):
    pass


@api.get("/projects/<int:id>/starter-set", responses={200: ProposedList})
@needs(InProject.LOOK, Project)
def starter_set(path: ById, query: StarterWanted) -> Response:
    """What a starter set would make, each with its reason"""
    return answer(list(starter_sets.proposals(path.id, query.kept)))


class KeptUpload(BaseModel):
    file: FileStorage


class KeptSetList(RootModel[list[KeptSetOut]]):
    pass


@api.get("/starter-sets", responses={200: KeptSetList})
@needs(InInstallation.SIGNED_IN)
def kept_starter_sets() -> Response:
    """Starter sets that projects kept"""
    return answer(list(kept_sets.list_kept()))


@api.post("/projects/<int:id>/starter-sets", responses={201: KeptSetOut})
@needs(InProject.LOOK, Project, also=InInstallation.KEEP)
def keep_starter_set(path: ById, body: KeptSetNew) -> Response:
    """Keep a project's drawings as a starter set for others"""
    return answer(kept_projects.keep(path.id, body), 201)


@api.get("/starter-sets/<int:id>/file", responses={200: BINARY})
@needs(InInstallation.SIGNED_IN)
def kept_file(path: ById) -> Response:
    """A kept starter set as a file"""
    return download(File(*kept_projects.file_of(path.id)))


@api.post("/starter-sets/file", responses={201: KeptSetOut})
@needs(InInstallation.KEEP)
def read_kept_file(form: KeptUpload) -> Response:
    """Keep the starter set of a file"""
    return answer(kept_projects.read_file(form.file.read()), 201)


@api.post("/projects/<int:id>/kept-project", responses={201: KeptMadeOut})
@needs(InProject.EDIT, Project)
def make_kept_project(path: ById, body: StarterChoice) -> Response:
    """Make the chosen drawings of a kept set with their sheets, tables and annotation sets in one act"""
    return answer(kept_projects.make(path.id, body, author()), 201)


@api.delete("/starter-sets/<int:id>", responses={204: None})
@needs(InInstallation.KEEP)
def delete_starter_set(path: ById) -> tuple[str, int]:
    """Delete a starter set that a project kept; drawings made of it stay"""
    kept_sets.delete_kept(path.id)
    return "", 204


@api.post("/projects/<int:id>/starter-set", responses={201: DrawingList})
@needs(InProject.EDIT, Project)
def make_starter_set(path: ById, body: StarterChoice) -> Response:
    """Make the chosen drawings of a starter set in one act"""
    return answer(list(starter_sets.make(path.id, body, author())), 201)
