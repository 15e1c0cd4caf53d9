"""Drawings as boards that annotations stand on, kept while nothing that they depend on changes; and annotations on
them, each composed once."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import Composed, composed
from edge_slice.core.annotating.documents import ANNOTATION
from edge_slice.core.cut import CutResult
from edge_slice.core.memory import bytes_of
from edge_slice.core.model import Model
from edge_slice.core.project.drawn import strips_of
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.shown import cut_of, key_of, saved
from edge_slice.core.project.source import AnnotationRow, DrawingRow, Source
from edge_slice.core.recent import Recent

KEPT_BOARDS, KEPT_SHAPES = 16, 6000
_boards: Recent[Board] = Recent("boards", KEPT_BOARDS, lambda board: bytes_of(board, (Model, CutResult)))
_shapes: Recent[Composed] = Recent("shapes of annotations", KEPT_SHAPES)


@dataclass(frozen=True)
class Stood:
    """A board and its name: another one whenever annotations might stand elsewhere on it."""

    key: str
    board: Board


def board_of(source: Source, followed: Followed, row: DrawingRow) -> Stood:
    """The board of a drawing. Raises `Refused` where it can't be cut."""
    shown = saved(source, followed, row)
    opening = strips_of(source, followed, shown).opening
    key = key_of(
        "board", shown.source.geometry, shown.cut.model_dump_json(), shown.style.model_dump_json(),
        shown.standard.model_dump_json(), repr(opening),
    )  # fmt: skip

    def make() -> Board:
        return Board.of(shown.model, cut_of(shown), shown.cut, shown.style, shown.standard, opening)

    return Stood(key, _boards.get(key, make))


def shape_of(stood: Stood, row: AnnotationRow) -> Composed:
    """An annotation on its drawing."""
    source = f"annotation:{row.id}"
    key = key_of("shape", stood.key, source, str(row.version))
    return _shapes.get(key, lambda: composed(stood.board, ANNOTATION.validate_python(row.document), source))
