"""Routes of revisions of a model, and of drawings laid over earlier ones."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.models import comparisons, imports, proposing, revisions
from edge_slice.app.models.import_documents import ImportOut
from edge_slice.app.models.revision_documents import Acceptance, ModelChangesOut, RevisionOut, RevisionTaken
from edge_slice.app.people.rights import InProject
from edge_slice.store.tables import Drawing, ModelImport, Project
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, routes, screen

api = routes("revisions", __name__)


class RevisionList(RootModel[list[RevisionOut]]):
    pass


class ByNumber(BaseModel):
    id: RowId
    number: int = Field(ge=1, le=1_000_000)


class Before(BaseModel):
    id: RowId
    number: int = Field(ge=0, le=1_000_000, description="0: the newest one, without corrections")


@api.get("/projects/<int:id>/revisions", responses={200: RevisionList})
@needs(InProject.LOOK, Project)
def list_revisions(path: ById) -> Response:
    """The revisions of a project's model, newest first"""
    return answer(list(revisions.list_revisions(path.id)))


@api.get("/projects/<int:id>/revisions/<int:number>", responses={200: ModelChangesOut})
@needs(InProject.LOOK, Project)
def changes(path: ByNumber) -> Response:
    """What became of the revision before one"""
    return answer(revisions.changes_of(path.id, path.number))


@api.post("/projects/<int:id>/revisions/<int:number>/propose", responses={201: ImportOut})
@needs(InProject.EDIT, Project)
def propose_again(path: ByNumber) -> Response:
    """Propose an earlier revision anew, as a file that was read is"""
    return answer(imports.propose_again(path.id, path.number), 201)


@api.post("/imports/<int:id>/take", responses={200: RevisionTaken})
@needs(InProject.EDIT, ModelImport)
def take(path: ById, body: Acceptance) -> Response:
    """Make a proposed revision the one in use"""
    proposing.told_anew(path.id)
    return answer(revisions.take(path.id, body.anyway))


@api.get("/drawings/<int:id>/comparison/<int:number>", responses={200: BINARY})
@needs(InProject.LOOK, Drawing)
def comparison(path: Before) -> Response:
    """A drawing over an earlier revision, or over the model as its file has it, in the compact form"""
    return screen(comparisons.comparison_of(path.id, path.number))
