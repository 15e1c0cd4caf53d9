"""Routes of remarks and of notices."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import RootModel

from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.app.review import notices, remarks
from edge_slice.app.review.documents import AnswerNew, NoticeOut, PinOut, RemarkEdit, RemarkNew, RemarkOut, SeenUpTo
from edge_slice.store.review import Remark
from edge_slice.store.tables import Drawing, Project
from edge_slice.web.access import Need, check, needs, person
from edge_slice.web.common import ERRORS, ById, answer, author

api = APIBlueprint("remarks", __name__, url_prefix="/api", abp_responses=ERRORS)


class RemarkList(RootModel[list[RemarkOut]]):
    pass


class NoticeList(RootModel[list[NoticeOut]]):
    pass


class PinList(RootModel[list[PinOut]]):
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


@api.get("/drawings/<int:id>/remarks", responses={200: PinList})
@needs(InProject.LOOK, Drawing)
def pins(path: ById) -> Response:
    """Where a drawing shows what was remarked, here or in other drawings"""
    return answer(list(remarks.pins_in(path.id)))


@api.patch("/remarks/<int:id>", responses={200: RemarkOut})
@needs(InProject.REMARK, Remark)
def edit_remark(path: ById, body: RemarkEdit) -> Response:
    """Other words of one's own remark, or another state; who edits the project may change all of them"""
    _check_own(path.id)
    return answer(remarks.edit(path.id, body, person()))


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
