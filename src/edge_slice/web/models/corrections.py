"""Routes of corrections to a project's model: what became of them, sent to others, and what these answer."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint, FileStorage
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.models import asking, corrected_files, corrections
from edge_slice.app.models.asking import AnswersOut
from edge_slice.app.models.corrections import BuildUpOut, CorrectionOut
from edge_slice.app.views import composed
from edge_slice.core.model.corrections.documents import Corrections
from edge_slice.core.topics.documents import Version
from edge_slice.web.common import BINARY, ERRORS, ById, answer, author, download, screen

api = APIBlueprint("corrections", __name__, url_prefix="/api", abp_responses=ERRORS)


class CorrectionList(RootModel[list[CorrectionOut]]):
    pass


class OfElement(BaseModel):
    element: str = Field(min_length=1, max_length=300, description="Its GlobalId")


class OfVersion(BaseModel):
    version: Version = "3.0"


class Anyway(BaseModel):
    anyway: bool = Field(default=False, description="Also where a body is read again otherwise than it is drawn")


class Tried(BaseModel):
    corrections: Corrections


class Answers(BaseModel):
    file: FileStorage


@api.get("/projects/<int:id>/corrections", responses={200: CorrectionList})
def list_corrections(path: ById) -> Response:
    """The corrections of a project to its model, and what became of each"""
    return answer(corrections.list_corrections(path.id))


@api.get("/projects/<int:id>/build-up", responses={200: BuildUpOut})
def read_build_up(path: ById, query: OfElement) -> Response:
    """The layers of an element as its file has them, and whether they can be corrected"""
    return answer(corrections.build_up_of(path.id, query.element))


@api.post("/drawings/<int:id>/tried", responses={200: BINARY})
def tried(path: ById, body: Tried) -> Response:
    """A drawing in the compact form as it would be with other corrections, which are not kept"""
    return screen(composed.tried_view(path.id, body.corrections))


@api.get("/projects/<int:id>/corrections/topics", responses={200: BINARY})
def topics(path: ById, query: OfVersion) -> Response:
    """Corrections that the file does not have yet, as topics that other programs read (BCF-XML 2.1 or 3.0)"""
    return download(asking.topics_of(path.id, query.version))


@api.get("/projects/<int:id>/corrections/files", responses={200: BINARY})
def files(path: ById, query: Anyway) -> Response:
    """The IFC files of the model with corrections in them"""
    return download(corrected_files.corrected_files(path.id, query.anyway))


@api.post("/projects/<int:id>/corrections/answers", responses={200: AnswersOut})
def read_answers(path: ById, form: Answers) -> Response:
    """Read what others answered to corrections, from a file of topics"""
    return answer(asking.read_answers(path.id, form.file.read(), author()))
