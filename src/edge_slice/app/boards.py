"""Drawings as boards that annotations stand on, kept while nothing that they depend on changes; and annotations on
them, each composed once."""

from __future__ import annotations

from dataclasses import dataclass, replace

from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.annotation_documents import (
    AnnotationOut,
    GripOut,
    HeldOut,
    ImageOut,
    LayerSaid,
    LetteringOut,
    PathOut,
)
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.recent import Recent
from edge_slice.app.shown_cuts import Shown, cut_of, saved
from edge_slice.app.view_keys import key_of
from edge_slice.app.views import opening_in, plain_display
from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import Composed, composed, with_annotations
from edge_slice.core.annotating.documents import ANNOTATION, AnyAnnotation
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.display import DisplayList, Image, Label, Paths
from edge_slice.core.drawing.insets import Opening
from edge_slice.core.drawing.lettering import font_size
from edge_slice.store.blobs import read_chunks
from edge_slice.store.tables import Annotation, Drawing, Revision

KEPT_BOARDS, KEPT_SHAPES = 16, 6000
_boards: Recent[Board] = Recent(KEPT_BOARDS)
_shapes: Recent[Composed] = Recent(KEPT_SHAPES)


@dataclass(frozen=True)
class Placed:
    """A board and its name: another one whenever annotations might stand elsewhere on it."""

    key: str
    board: Board


def board_of(session: Session, row: Drawing, revision: Revision | None = None) -> Placed:
    """The board of a saved drawing. Raises `Refused` where it can't be cut."""
    shown = saved(session, row, revision)
    opening = opening_in(session, shown)
    key = key_of(
        "board", shown.revision.geometry_hash, shown.cut.model_dump_json(), shown.style.model_dump_json(),
        shown.standard.model_dump_json(), repr(opening),
    )  # fmt: skip
    return Placed(key, _boards.get(key, lambda: _made(shown, opening)))


def _made(shown: Shown, opening: Opening | None) -> Board:
    return Board.of(shown.model, cut_of(shown), shown.cut, shown.style, shown.standard, opening)


def rows_of(session: Session, drawing_id: int) -> list[Annotation]:
    wanted = select(Annotation).where(col(Annotation.drawing_id) == drawing_id).order_by(col(Annotation.id))
    return list(session.exec(wanted).all())


def document_of(row: Annotation) -> AnyAnnotation:
    return ANNOTATION.validate_python(row.document)


def checked(document: AnyAnnotation, field: str) -> AnyAnnotation:
    """A document that was put together from another one, if it can still be read. Raises `Refused`."""
    try:
        return ANNOTATION.validate_python(document.model_dump(by_alias=True))
    except ValidationError as error:
        raise Refused(f"This {document.kind} can't be had there: {first_words(error)}", field) from error


def shape_of(placed: Placed, row: Annotation) -> Composed:
    """An annotation on its drawing."""
    source = f"annotation:{row.id}"
    key = key_of("shape", placed.key, source, str(row.version))
    return _shapes.get(key, lambda: composed(placed.board, document_of(row), source))


def with_pictures(session: Session, display: DisplayList) -> DisplayList:
    """A drawing with the bytes of its pictures, for files."""
    if not display.images:
        return display
    images = tuple(replace(i, data=b"".join(read_chunks(session, i.name))) for i in display.images)
    return replace(display, images=images)


def drawing_display(session: Session, row: Drawing) -> DisplayList:
    """A saved drawing as it is printed, with its markers and annotations."""
    display = plain_display(session, row)
    rows = rows_of(session, row.id or 0)
    if not rows or not DrawingSpec.model_validate(row.style).annotations:
        return display
    placed = board_of(session, row)
    return with_pictures(session, with_annotations(display, [shape_of(placed, r) for r in rows]))


def out(placed: Placed, row: Annotation) -> AnnotationOut:
    shape, document = shape_of(placed, row), document_of(row)
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
    return LetteringOut(
        role=item.role, text=item.text, x=round(item.x, 3), y=round(item.y, 3), size=round(font_size(item.height), 4),
        colour=item.colour, align=item.align, angle=round(item.angle, 4),
    )  # fmt: skip


def _image(image: Image) -> ImageOut:
    return ImageOut(name=image.name, box=image.box, fade=image.fade)
