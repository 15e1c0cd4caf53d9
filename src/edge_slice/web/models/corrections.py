"""Routes of corrections to a project's model: what became of them, sent to others, and what these answer."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field, RootModel, model_validator

from edge_slice.app.drawings.documents import ViewRequest
from edge_slice.app.models import asking, corrected_files, corrections, handles
from edge_slice.app.models.asking import AnswersOut
from edge_slice.app.models.corrections import BuildUpOut, CorrectionOut
from edge_slice.app.models.handles import FlatFacesOut, HandlesOut, HandlesWanted, InFileOut, OpeningOut, PlaneOut
from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InProject
from edge_slice.app.views import composed
from edge_slice.core.model.corrections.documents import Corrections
from edge_slice.core.model.corrections.saying import UUID
from edge_slice.core.topics.documents import Version
from edge_slice.store.tables import Drawing, Project
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, download, routes, screen

api = routes("corrections", __name__)


class CorrectionList(RootModel[list[CorrectionOut]]):
    pass


class OfElement(BaseModel):
    element: str = Field(min_length=1, max_length=300, description="Its GlobalId")


class OfBuildUp(BaseModel):
    element: str = Field(default="", max_length=300, description="The GlobalId of one that has it")
    name: str = Field(default="", max_length=300, description="Its name, in place of an element")

    @model_validator(mode="after")
    def _one_of_both(self) -> OfBuildUp:
        if (self.element == "") == (self.name == ""):
            raise ValueError("either an element or the name of a build-up")
        return self


class OpeningAnswer(BaseModel):
    opening: OpeningOut | None


class Chosen(BaseModel):
    only: str = Field(
        default="", pattern=rf"^$|^{UUID}(,{UUID}){{0,99}}$", description="Names under which they are sent; empty: all"
    )

    @property
    def names(self) -> frozenset[str]:
        return frozenset(self.only.split(",")) - {""}


class OfVersion(Chosen):
    version: Version = "3.0"


class OfTopic(BaseModel):
    topic: str = Field(pattern=rf"^{UUID}$", description="The name under which it is sent")
    of: int = Field(default=0, description="Of which state of the project; the answer is of the newest one")


class Anyway(Chosen):
    anyway: bool = Field(default=False, description="Also where a body is read again otherwise than it is drawn")


class Tried(BaseModel):
    corrections: Corrections
    in_hand: bool = Field(default=False, description="A face is being dragged: only what it is of, alone")


class Answers(BaseModel):
    file: FileStorage


@api.get("/projects/<int:id>/corrections", responses={200: CorrectionList})
@needs(InProject.LOOK, Project)
def list_corrections(path: ById) -> Response:
    """The corrections of a project to its model, and what became of each"""
    return answer(corrections.list_corrections(path.id))


@api.get("/projects/<int:id>/build-up", responses={200: BuildUpOut})
@needs(InProject.LOOK, Project)
def read_build_up(path: ById, query: OfBuildUp) -> Response:
    """The layers of an element, or of a build-up, as the file has them, and whether they can be corrected"""
    if query.name:
        return answer(corrections.named_build_up(path.id, query.name))
    return answer(corrections.build_up_of(path.id, query.element))


@api.post("/projects/<int:id>/handles", responses={200: HandlesOut})
@needs(InProject.LOOK, Project)
def read_handles(path: ById, body: HandlesWanted) -> Response:
    """The faces of an element that can be pushed or pulled in a drawing, saved or not"""
    return answer(handles.handles_in(path.id, body))


@api.get("/projects/<int:id>/faces", responses={200: FlatFacesOut})
@needs(InProject.LOOK, Project)
def read_faces(path: ById, query: OfElement) -> Response:
    """The flat faces of an element that can be pushed or pulled in the model"""
    return answer(handles.faces_of(path.id, query.element))


@api.post("/projects/<int:id>/plane", responses={200: PlaneOut})
@needs(InProject.LOOK, Project)
def read_plane(path: ById, body: ViewRequest) -> Response:
    """Where the outline of a new body lies that is drawn in a drawing, saved or not"""
    return answer(handles.plane_of(path.id, body))


@api.get("/projects/<int:id>/opening", responses={200: OpeningAnswer})
@needs(InProject.LOOK, Project)
def read_opening(path: ById, query: OfElement) -> Response:
    """The opening of a window or door as its file has it; of anything else none"""
    return answer(OpeningAnswer(opening=handles.opening_of(path.id, query.element)))


@api.get("/projects/<int:id>/in-file", responses={200: InFileOut})
@needs(InProject.LOOK, Project)
def read_in_file(path: ById, query: OfElement) -> Response:
    """The materials and the steps of an element as its file has them"""
    return answer(handles.in_file(path.id, query.element))


@api.post("/drawings/<int:id>/tried", responses={200: BINARY})
@needs(InProject.LOOK, Drawing)
def tried(path: ById, body: Tried) -> Response:
    """A drawing in the compact form as it would be with other corrections, which are not kept"""
    return screen(composed.tried_view(path.id, body.corrections, body.in_hand))


@api.get("/projects/<int:id>/corrections/topics", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def topics(path: ById, query: OfVersion) -> Response:
    """Corrections that the file does not have yet, as topics that other programs read (BCF-XML 2.1 or 3.0)"""
    return download(asking.topics_of(path.id, query.version, query.names))


@api.get("/projects/<int:id>/corrections/picture", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def picture(path: ById, query: OfTopic) -> Response:
    """A picture of what a correction takes away and brings"""
    return download(asking.picture_of(path.id, query.topic))


@api.get("/projects/<int:id>/corrections/files", responses={200: BINARY})
@needs(InProject.EDIT, Project, costs=Cost.SET)
def files(path: ById, query: Anyway) -> Response:
    """The IFC files of the model with corrections in them"""
    return download(corrected_files.corrected_files(path.id, query.anyway, query.names))


@api.post("/projects/<int:id>/corrections/answers", responses={200: AnswersOut})
@needs(InProject.EDIT, Project)
def read_answers(path: ById, form: Answers) -> Response:
    """Read what others answered to corrections, from a file of topics"""
    return answer(asking.read_answers(path.id, form.file.read(), author()))
