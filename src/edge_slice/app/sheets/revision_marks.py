"""Marks of a revision around what has changed on a sheet since an issue."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from edge_slice.app.annotating.boards import board_of
from edge_slice.app.annotating.drawing_annotations import MOST, annotation_row
from edge_slice.app.errors import Refused
from edge_slice.app.output.documents import MarksPlaced
from edge_slice.app.output.issues import compared_sheet, shifted_since
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import AnyAnnotation, LineWork
from edge_slice.core.annotating.spots import Spot, annotation_at
from edge_slice.core.drawing.display import Box
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Placement

AIR = 1.5  # mm between a change and its mark
REACH = 30.0  # mm around a corner of a mark in which it looks for what it is tied to
APART = 0.5  # mm; a mark that is there already at this place is not placed again


def mark_changes(issued_id: int, author: str) -> MarksPlaced:
    """Place a mark around each place of a drawing that has changed, in one act; those that are there already stay."""
    with transaction() as session:
        sheet, changes = compared_sheet(session, issued_id)
        hold(session, sheet.project_id)
        around = SheetsAround(session, sheet.project_id)
        by_placement = _by_placement(around, around.on(sheet), changes.places)
        shifted = shifted_since(session, issued_id, around, sheet)
        placed = drawings = 0
        left: list[str] = []
        with recorded(session, sheet.project_id, "place revision marks", author) as act:
            for placement, boxes in by_placement:
                drawing = around.drawings[placement.drawing_id]
                if drawing.id in shifted:
                    left.append(around.title(drawing))
                    continue
                there = around.source.annotations(drawing.id or 0)
                board = board_of(session, drawing).board
                known = [LineWork.model_validate(r.document).points for r in there if r.document.get("form") == "cloud"]
                made = [
                    m for m in (_mark(board, placement, box) for box in boxes) if not _stands(m, known, board.scale)
                ]
                if len(there) + len(made) > MOST:
                    raise Refused(f"A drawing holds {MOST} annotations at most.", "document")
                for mark in made:
                    act.adds(annotation_row(drawing, mark))
                placed, drawings = placed + len(made), drawings + bool(made)
        return MarksPlaced(marks=placed, drawings=drawings, left=left)


def _by_placement(
    around: SheetsAround, placements: Sequence[Placement], places: Sequence[Box]
) -> list[tuple[Placement, list[Box]]]:
    """The changed places of each placement: those whose middle lies in its frame; of the one on top where two lie over
    each other."""
    found: dict[int, list[Box]] = {}
    for place in places:
        x, y = (place[0] + place[2]) / 2, (place[1] + place[3]) / 2
        for placement in reversed(placements):
            left, base, right, top = around.box(placement)
            if left <= x <= right and base <= y <= top:
                found.setdefault(placement.id or 0, []).append(place)
                break
    return [(p, found[p.id or 0]) for p in placements if p.id in found]


def _mark(board: Board, placement: Placement, place: Box) -> AnyAnnotation:
    """The mark around a place of the sheet (mm), in mm of the drawing, tied to what is near its corner."""
    left, base, _, _ = board.frame
    corners = np.array([(place[0] - AIR, place[1] - AIR), (place[2] + AIR, place[3] + AIR)])
    on_paper = corners + np.array([left - placement.x, base - placement.y])
    flat = on_paper if board.opening is None else board.opening.unfolded(on_paper)
    (u0, v0), (u1, v1) = np.round(board.fold.unfolded(flat) * board.scale, 2).tolist()
    spot = Spot(at=(u0, v0), reach=REACH * board.scale, only=("corner", "vertex"))
    document = {"kind": "line", "form": "cloud", "points": [(u0, v0), (u1, v1)]}
    return annotation_at(board.features, board.cut, [spot], document)


def _stands(mark: AnyAnnotation, known: Sequence[Sequence[tuple[float, float]]], scale: float) -> bool:
    at = np.array(mark.points)
    return any(len(k) == len(at) and np.abs(np.array(k) - at).max() < APART * scale for k in known)
