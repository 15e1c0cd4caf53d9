"""Routes of remarks and of notices."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, RootModel

from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.app.review import notices, on_paper, remarks, reviewing, topics
from edge_slice.app.review.documents import (
    AnswerNew,
    BecameOut,
    IssuedPinOut,
    NoticeOut,
    PinOut,
    RemarkEdit,
    RemarkNew,
    RemarkOut,
    SeenUpTo,
    TopicsRead,
)
from edge_slice.core.topics.documents import Version
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, IssuedSheet, Project, Sheet
from edge_slice.web.access import Need, check, needs, person
from edge_slice.web.common import BINARY, ById, answer, author, download, routes

api = routes("remarks", __name__)


class RemarkList(RootModel[list[RemarkOut]]):
    pass


class OfVersion(BaseModel):
    version: Version = "3.0"


class TopicsFile(BaseModel):
    file: FileStorage


class NoticeList(RootModel[list[NoticeOut]]):
    pass


class PinList(RootModel[list[PinOut]]):
    pass


class IssuedPinList(RootModel[list[IssuedPinOut]]):
    pass


class BecameList(RootModel[list[BecameOut]]):
    pass


@api.get("/projects/<int:id>/remarks", responses={200: RemarkList})
@needs(InProject.LOOK, Project)
def list_remarks(path: ById) -> Response:
    """The remarks of a project, the newest first"""
    return answer(list(remarks.remarks_of(path.id, person())))


@api.post("/projects/<int:id>/remarks", responses={201: RemarkOut})
@needs(InProject.REMARK, Project)
def add_remark(path: ById, body: RemarkNew) -> Response:
    """Pin a remark to a place of a sheet or a drawing"""
    return answer(remarks.add(path.id, body, person(), author()), 201)


@api.get("/projects/<int:id>/remarks.pdf", responses={200: BINARY})
@needs(InProject.LOOK, Project, costs=Cost.FILE)
def list_on_paper(path: ById) -> Response:
    """The remarks of a project on paper, each with a picture of its place"""
    return download(on_paper.list_of(path.id, person()))


@api.get("/projects/<int:id>/remarks/sheets.pdf", responses={200: BINARY})
@needs(InProject.LOOK, Project, costs=Cost.FILE)
def over_sheets(path: ById) -> Response:
    """The sheets with remarks that are not done, these laid over them"""
    return download(on_paper.over_sheets(path.id, person()))


@api.get("/projects/<int:id>/remarks/topics", responses={200: BINARY})
@needs(InProject.LOOK, Project, costs=Cost.FILE)
def remarks_as_topics(path: ById, query: OfVersion) -> Response:
    """The remarks of a project as topics that other programs read (BCF-XML 2.1 or 3.0)"""
    return download(topics.topics_of(path.id, query.version, person()))


@api.post("/projects/<int:id>/remarks/topics", responses={200: TopicsRead})
@needs(InProject.EDIT, Project)
def read_topics(path: ById, form: TopicsFile) -> Response:
    """Read what others answered to remarks, and remarked, from a file of topics"""
    return answer(topics.read_into(path.id, form.file.read(), person(), author()))


@api.get("/drawings/<int:id>/remarks", responses={200: PinList})
@needs(InProject.LOOK, Drawing)
def pins(path: ById) -> Response:
    """Where a drawing shows what was remarked, here or in other drawings"""
    return answer(list(remarks.pins_in(path.id)))


@api.get("/sheets/<int:id>/remarks", responses={200: PinList})
@needs(InProject.LOOK, Sheet)
def pins_on(path: ById) -> Response:
    """Where a sheet shows what was remarked, on it or in its drawings"""
    return answer(list(remarks.pins_on(path.id)))


@api.get("/issued-sheets/<int:id>/remarks", responses={200: IssuedPinList})
@needs(InProject.LOOK, IssuedSheet)
def issued_pins(path: ById) -> Response:
    """Where what was remarked is on an issued sheet: on it, or before it and not done by then"""
    return answer(list(reviewing.issued_pins(path.id)))


@api.get("/remarks/<int:id>/became", responses={200: BecameList})
@needs(InProject.LOOK, Remark)
def became(path: ById) -> Response:
    """What became of a remark, from issue to issue up to now"""
    return answer(list(reviewing.became(path.id)))


@api.patch("/remarks/<int:id>", responses={200: RemarkOut})
@needs(InProject.REMARK, Remark)
def edit_remark(path: ById, body: RemarkEdit) -> Response:
    """Other words of one's own remark, or another state; who edits the project may change all of them"""
    _check_own(path.id)
    return answer(remarks.edit(path.id, body, person(), author()))


@api.post("/remarks/<int:id>/answers", responses={200: RemarkOut})
@needs(InProject.REMARK, Remark)
def answer_remark(path: ById, body: AnswerNew) -> Response:
    """Answer a remark"""
    return answer(remarks.answer(path.id, body, person(), author()))


@api.delete("/remarks/<int:id>", responses={204: None})
@needs(InProject.REMARK, Remark)
def delete_remark(path: ById) -> tuple[str, int]:
    """Delete one's own remark; who edits the project may delete all of them"""
    _check_own(path.id)
    remarks.delete(path.id)
    return "", 204


def _check_own(remark: int) -> None:
    if not remarks.is_own(remark, person()):
        check(Need(InProject.EDIT, Remark), remark)


@api.get("/notices", responses={200: NoticeList})
@needs(InInstallation.SIGNED_IN)
def list_notices() -> Response:
    """What concerns who asks, the newest first"""
    return answer(list(notices.notices_of(person())))


@api.post("/notices/seen", responses={204: None})
@needs(InInstallation.SIGNED_IN)
def see_notices(body: SeenUpTo) -> tuple[str, int]:
    """Say up to where one has seen them"""
    notices.seen(person(), body.last)
    return "", 204
