"""Routes of annotations, touch-ups and what they are tied to."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.annotating import anchors, drawing_annotations, pictures, touch_ups
from edge_slice.app.annotating.documents import (
    AnchorOut,
    AnnotationEdit,
    AnnotationNew,
    AnnotationOut,
    AnnotationsAct,
    CopyWanted,
    CrossedLine,
    FoundText,
    SetOut,
    Settling,
    SetWanted,
    SnapsOut,
    TouchUpEdit,
    TouchUpOut,
)
from edge_slice.app.drawings import copies
from edge_slice.app.drawings.documents import DrawingOut, DrawingsChosen
from edge_slice.app.people.rights import InProject
from edge_slice.app.people.rows import PICTURE
from edge_slice.core.drawing.touching.touched_bodies import Pointed
from edge_slice.store.tables import Annotation, Drawing, Project, TouchUpRow
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, routes

api = routes("annotations", __name__)


class AnnotationList(RootModel[list[AnnotationOut]]):
    pass


class TouchUpList(RootModel[list[TouchUpOut]]):
    pass


class AnchorList(RootModel[list[AnchorOut]]):
    pass


class FoundTexts(RootModel[list[FoundText]]):
    pass


class Words(BaseModel):
    words: str = Field(min_length=1, max_length=200)


class PictureUpload(BaseModel):
    file: FileStorage


class PictureOut(BaseModel):
    name: str
    width: int
    height: int


class ByName(BaseModel):
    name: str = Field(pattern=r"^[0-9a-f]{64}$")


@api.get("/drawings/<int:id>/annotations", responses={200: AnnotationList})
@needs(InProject.LOOK, Drawing)
def list_annotations(path: ById) -> Response:
    """The annotations of a drawing as they are drawn"""
    return answer(list(drawing_annotations.list_annotations(path.id)))


@api.post("/drawings/<int:id>/annotations", responses={201: AnnotationOut})
@needs(InProject.EDIT, Drawing)
def add_annotation(path: ById, body: AnnotationNew) -> Response:
    """Add an annotation; what it is tied to is found at the spots"""
    return answer(drawing_annotations.add_annotation(path.id, body, author()), 201)


@api.post("/drawings/<int:id>/crossed-lines", responses={201: AnnotationOut})
@needs(InProject.EDIT, Drawing)
def add_crossed(path: ById, body: CrossedLine) -> Response:
    """Dimension everything that a line crosses, in a chain along it"""
    return answer(drawing_annotations.add_crossed(path.id, body, author()), 201)


@api.patch("/annotations/<int:id>", responses={200: AnnotationOut})
@needs(InProject.EDIT, Annotation)
def edit_annotation(path: ById, body: AnnotationEdit) -> Response:
    """Change an annotation, move it, or tie it anew"""
    return answer(drawing_annotations.edit_annotation(path.id, body, author()))


@api.post("/drawings/<int:id>/annotations/acts", responses={200: AnnotationList})
@needs(InProject.EDIT, Drawing)
def act(path: ById, body: AnnotationsAct) -> Response:
    """Move, align, spread, restyle, delete or copy several annotations in one act"""
    return answer(list(drawing_annotations.act_on(path.id, body, author())))


@api.post("/drawings/<int:id>/annotation-sets", responses={200: SetOut})
@needs(InProject.EDIT, Drawing)
def place_set(path: ById, body: SetWanted) -> Response:
    """Place an automatic set, or renew it; what somebody moved or changed of it stays"""
    return answer(drawing_annotations.place_set(path.id, body, author()))


@api.get("/drawings/<int:id>/snaps", responses={200: SnapsOut})
@needs(InProject.LOOK, Drawing)
def snaps(path: ById) -> Response:
    """What annotations of a drawing can be tied to"""
    return answer(drawing_annotations.snaps_of(path.id))


@api.get("/projects/<int:id>/annotations", responses={200: FoundTexts})
@needs(InProject.LOOK, Project)
def find(path: ById, query: Words) -> Response:
    """Annotations of a project that hold some words"""
    return answer(list(drawing_annotations.find_text(path.id, query.words)))


@api.post("/projects/<int:id>/pictures", responses={201: PictureOut})
@needs(InProject.REMARK, Project)
def store_picture(path: ById, form: PictureUpload) -> Response:
    """Keep a PNG picture to be placed on drawings, or added to a remark"""
    name, width, height = pictures.store_picture(path.id, form.file.read())
    return answer(PictureOut(name=name, width=width, height=height), 201)


@api.get("/pictures/<string:name>", responses={200: BINARY})
@needs(InProject.LOOK, PICTURE, by_link=True)
def picture(path: ByName) -> Response:
    """A picture by its name"""
    response = Response(pictures.picture(path.name), mimetype="image/png")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@api.get("/drawings/<int:id>/touch-ups", responses={200: TouchUpList})
@needs(InProject.LOOK, Drawing)
def list_touch_ups(path: ById) -> Response:
    """The touch-ups of a drawing; what each did is told with the drawing's view"""
    return answer(list(touch_ups.list_touch_ups(path.id)))


@api.post("/drawings/<int:id>/touch-ups", responses={201: TouchUpOut})
@needs(InProject.EDIT, Drawing)
def add_touch_up(path: ById, body: Pointed) -> Response:
    """Hide, restyle, cut back or mask linework, or give a cut face another hatch"""
    return answer(touch_ups.add_touch_up(path.id, body, author()), 201)


@api.patch("/touch-ups/<int:id>", responses={200: TouchUpOut})
@needs(InProject.EDIT, TouchUpRow)
def edit_touch_up(path: ById, body: TouchUpEdit) -> Response:
    """Change how something touched up looks"""
    return answer(touch_ups.edit_touch_up(path.id, body, author()))


@api.post("/drawings/<int:id>/touch-ups/take-back", responses={204: None})
@needs(InProject.EDIT, Drawing)
def take_back(path: ById, body: DrawingsChosen) -> tuple[str, int]:
    """Take touch-ups back"""
    touch_ups.take_back(path.id, list(body.ids), author())
    return "", 204


@api.get("/projects/<int:id>/anchors", responses={200: AnchorList})
@needs(InProject.LOOK, Project)
def unsettled(path: ById) -> Response:
    """Annotations, touch-ups and callouts that are near or lost since the model changed"""
    return answer(list(anchors.unsettled(path.id)))


@api.post("/projects/<int:id>/anchors", responses={200: AnchorList})
@needs(InProject.EDIT, Project)
def settle(path: ById, body: Settling) -> Response:
    """Settle near and lost ones; what is left"""
    return answer(list(anchors.settle(path.id, body, author())))


@api.post("/drawings/<int:id>/copy", responses={201: DrawingOut})
@needs(InProject.EDIT, Drawing)
def copy(path: ById, body: CopyWanted) -> Response:
    """Copy a drawing, with or without annotations, touch-ups and levels"""
    return answer(copies.copy_drawing(path.id, body, author()), 201)
