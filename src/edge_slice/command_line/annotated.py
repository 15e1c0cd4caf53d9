"""Annotations and touch-ups from the command line: automatic sets, and a file of what is added by hand."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from edge_slice.command_line.arguments import WrongArguments, wrong
from edge_slice.command_line.cut_drawing import CutDrawing
from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import composed, with_annotations
from edge_slice.core.annotating.documents import ANNOTATION, AnyAnnotation
from edge_slice.core.annotating.sets import proposed
from edge_slice.core.annotating.spots import NothingThere, Spot, annotation_at
from edge_slice.core.drawing import DisplayList, compose_drawing
from edge_slice.core.drawing.annotations.surroundings import Surroundings
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.drawing.touching.touched_bodies import Nowhere, Pointed, touched_up


class _Placed(BaseModel):
    """An annotation without its anchors, and the spots that it is tied to; or a whole document with its anchors."""

    model_config = ConfigDict(extra="forbid")
    spots: list[Spot] = []
    document: dict[str, Any]


class AddedFile(BaseModel):
    """What is added to a drawing by hand."""

    model_config = ConfigDict(extra="forbid")
    annotations: Annotated[list[_Placed], Field(max_length=5000)] = []
    touch_ups: Annotated[list[Pointed], Field(max_length=2000)] = []


def read_added(path: Path | None) -> AddedFile:
    """The file, checked. Raises `WrongArguments` and pydantic's `ValidationError`."""
    if path is None:
        return AddedFile()
    if not path.is_file():
        wrong(f"there is no file {path}")
    try:
        return AddedFile.model_validate(json.loads(path.read_text("utf-8")))
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise WrongArguments(f"{path} is no JSON: {error}") from error


def with_added(options: argparse.Namespace, made: CutDrawing, tell: Callable[[str], None]) -> DisplayList:
    """A drawing with the touch-ups and annotations of its file, then with automatic sets, which keep clear of them."""
    added, rules = read_added(options.added), options.annotate
    model, result, cut, style, standard = made.model, made.result, made.cut, made.style, made.standard
    if "rooms" in rules:  # else each room would be named twice
        style = style.model_copy(update={"rooms": False})
    board = Board.of(model, result, cut, style, standard)
    touched = [(f"touch-up:{k}", _touched(board, one)) for k, one in enumerate(added.touch_ups, 1)]
    display = compose_drawing(
        model, result, cut, style, standard, Surroundings(callouts=made.callouts, touch_ups=touched)
    )
    documents = [_document(board, one) for one in added.annotations]
    found = [composed(board, document, f"annotation:{k}") for k, document in enumerate(documents, 1)]
    for rule in rules:
        drawn = [*display.items, *(item for one in found for item in one.items)]
        placed = proposed(board, rule, drawn)
        for finding in placed.findings:
            tell(finding)
        found += [composed(board, document, f"{rule}:{k}") for k, document in enumerate(placed.annotations, 1)]
    return with_annotations(display, found)


def _touched(board: Board, one: Pointed) -> TouchUp:
    try:
        return touched_up(board.features, one)
    except Nowhere as error:
        raise WrongArguments(str(error)) from error


def _document(board: Board, one: _Placed) -> AnyAnnotation:
    if "anchors" in one.document:
        return ANNOTATION.validate_python(one.document)
    if not one.spots:
        raise WrongArguments("an annotation needs spots that it is tied to, or anchors in its document")
    try:
        return annotation_at(board.features, board.cut, one.spots, one.document)
    except NothingThere as error:
        raise WrongArguments(str(error)) from error
