"""Saved drawings as boards that annotations stand on, and annotations as they go out."""

from __future__ import annotations

from pydantic import ValidationError
from sqlmodel import Session

from edge_slice.app.annotating.documents import (
    AnnotationOut,
    GripOut,
    HeldOut,
    ImageOut,
    LayerSaid,
    LetteringOut,
    PathOut,
    SetRunOut,
)
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.project_source import ProjectSource
from edge_slice.core.annotating.documents import ANNOTATION, AnyAnnotation
from edge_slice.core.drawing.display import DisplayList, Image, Label, Paths
from edge_slice.core.drawing.texts.lettering import font_size
from edge_slice.core.project.boards import Stood, shape_of
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.render.screen import runs_said
from edge_slice.store.tables import Annotation, Drawing, Revision


def board_of(session: Session, row: Drawing, revision: Revision | None = None) -> Stood:
    """The board of a saved drawing. Raises `Refused` where it can't be cut."""
    return Drawings(ProjectSource(session, row.project_id, revision)).board(row)


def document_of(row: Annotation) -> AnyAnnotation:
    return ANNOTATION.validate_python(row.document)


def checked(document: AnyAnnotation, field: str) -> AnyAnnotation:
    """A document that was put together from another one, if it can still be read. Raises `Refused`."""
    try:
        return ANNOTATION.validate_python(document.model_dump(by_alias=True))
    except ValidationError as error:
        raise Refused(f"This {document.kind} can't be had there: {first_words(error)}", field) from error


def drawing_display(session: Session, row: Drawing, revision: Revision | None = None) -> DisplayList:
    """A saved drawing as it is printed, with its markers and annotations; by a revision also where it is held."""
    return Drawings(ProjectSource(session, row.project_id, revision)).display(row)


def out(stood: Stood, row: Annotation) -> AnnotationOut:
    shape, document = shape_of(stood, row), document_of(row)
    first, was = shape.held[0].at, document.anchors[0].at
    points = tuple((round(u + first[0] - was[0], 4), round(v + first[1] - was[1], 4)) for u, v in document.points)
    return AnnotationOut(
        id=row.id or 0,
        drawing_id=row.drawing_id,
        version=row.version,
        document=document.model_copy(update={"points": points}),
        state=shape.state,
        held=[HeldOut(state=h.state, at=h.at, guess=h.guess) for h in shape.held],
        findings=list(shape.findings),
        worded=shape.by_hand,
        shown=shape.shown,
        box=shape.box,
        grips=[GripOut(name=g.name, at=g.at) for g in shape.grips],
        paths=[_path(item) for item in shape.items if isinstance(item, Paths)],
        texts=[_lettering(item) for item in shape.items if isinstance(item, Label)],
        images=[_image(image) for image in shape.images],
        layers=[LayerSaid(layer=layer, said=said) for layer, said in shape.layers],
    )


def _path(item: Paths) -> PathOut:
    points = item.points.round(3).tolist()
    runs = [
        [(x, y) for x, y in points[a:b]]
        for a, b in zip(item.starts[:-1].tolist(), item.starts[1:].tolist(), strict=True)
    ]
    pen = item.pen
    return PathOut(
        role=item.role, runs=runs, closed=item.closed, width=pen.width if pen else None,
        colour=pen.colour if pen else None, fill=item.fill,
    )  # fmt: skip


def _lettering(item: Label) -> LetteringOut:
    runs = runs_said(item)
    return LetteringOut(
        role=item.role, text=item.text, x=round(item.x, 3), y=round(item.y, 3), size=round(font_size(item.height), 4),
        colour=item.colour, align=item.align, angle=round(item.angle, 4),
        runs=None if runs is None else [SetRunOut.model_validate(r) for r in runs],
    )  # fmt: skip


def _image(image: Image) -> ImageOut:
    return ImageOut(name=image.name, box=image.box, fade=image.fade)
