"""The rows of drawings, and where they stand on sheets."""

from __future__ import annotations

from sqlalchemy import ColumnElement
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound
from edge_slice.app.models.in_memory import newest_revision
from edge_slice.core.drawing import DrawingSpec
from edge_slice.store.tables import Annotation, Drawing, Placement, Sheet

GONE = "This drawing is not there any more."


def drawing_row(session: Session, drawing_id: int) -> Drawing:
    row = session.get(Drawing, drawing_id)
    if row is None:
        raise NotFound(GONE)
    return row


def drawing_of(session: Session, project_id: int, drawing_id: int) -> Drawing:
    """A drawing of a project. Raises `NotFound`, for one of another project with the same words as for none."""
    row = drawing_row(session, drawing_id)
    if row.project_id != project_id:
        raise NotFound(GONE)
    return row


def project_drawings(session: Session, project_id: int) -> list[Drawing]:
    newest_revision(session, project_id)
    return list(
        session.exec(select(Drawing).where(col(Drawing.project_id) == project_id).order_by(col(Drawing.id))).all()
    )


def is_marked(row: Drawing) -> bool:
    """Whether the marker of a drawing shows; a study has none."""
    return DrawingSpec.model_validate(row.style).marker.shown


def annotations_of(session: Session, drawing_id: int) -> list[Annotation]:
    """The annotations of a drawing, in the order in which they were made."""
    wanted = select(Annotation).where(col(Annotation.drawing_id) == drawing_id).order_by(col(Annotation.id))
    return list(session.exec(wanted).all())


def placement_of(session: Session, drawing_id: int) -> tuple[Placement, Sheet] | None:
    """The home of a drawing: its placement and the sheet."""
    return next(iter(placed_where(session, col(Placement.drawing_id) == drawing_id).get(drawing_id, [])), None)


def placements_of(session: Session, project_id: int) -> dict[int, list[tuple[Placement, Sheet]]]:
    """Where the drawings of a project stand, by drawing: at home first."""
    return placed_where(session, col(Placement.project_id) == project_id)


def homes_of(session: Session, project_id: int) -> dict[int, tuple[Placement, Sheet]]:
    """The home of each drawing of a project that stands on a sheet."""
    return {drawing: placed[0] for drawing, placed in placements_of(session, project_id).items()}


def homes_as_said(session: Session, project_id: int) -> dict[int, tuple[str, str]]:
    """Number and sheet of each drawing that stands on a sheet, at its home."""
    return {d: (placed.number, sheet.number) for d, (placed, sheet) in homes_of(session, project_id).items()}


def placed_where(session: Session, which: ColumnElement[bool]) -> dict[int, list[tuple[Placement, Sheet]]]:
    """Placements that meet a condition, by drawing: at home first."""
    wanted = select(Placement, Sheet).where(which, col(Sheet.id) == col(Placement.sheet_id))
    found: dict[int, list[tuple[Placement, Sheet]]] = {}
    for placement, sheet in session.exec(wanted.order_by(col(Placement.home).desc(), col(Placement.id))).all():
        found.setdefault(placement.drawing_id, []).append((placement, sheet))
    return found
