"""Typical details: like ones are recognised, and one of them is used for the places of all."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import Field
from sqlmodel import Session, col, select

from edge_slice.app.documents import Input, RowId, Version
from edge_slice.app.drawings.callouts import target_of
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.drawing_rows import project_drawings
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import Refused
from edge_slice.app.project_source import ProjectSource, followed_in
from edge_slice.app.row_lookup import current_row, held_row
from edge_slice.core.cut import AnyCut, ImpossibleCut, cut_model
from edge_slice.core.cut.advice.likeness import CutDetail, alike, cut_detail
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.model import Model
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.refused import Refused as CantBeCut
from edge_slice.core.project.shown import Shown, cut_key, cut_of, saved
from edge_slice.core.recent import Recent
from edge_slice.store.changes import recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Annotation, CalloutReference, Drawing, Placement, TouchUpRow

_details: Recent[CutDetail | None] = Recent("details as they are compared", 400)


class UseInstead(Input):
    """The like detail that is used instead of one from now on."""

    version: Version
    target: RowId = Field(description="The detail that stays")


def details_in(source: ProjectSource, followed: Followed, rows: Sequence[Drawing]) -> dict[int, CutDetail]:
    """The details that drawings are called out as, as they are compared; those that can't be are left out."""
    found = {}
    for row in rows:
        if row.callout is None or Callout.model_validate(row.callout).form != "detail":
            continue
        try:
            detail = _detail(saved(source, followed, row))
        except CantBeCut:  # its own finding, with its drawing
            continue
        if detail is not None:
            found[row.id or 0] = detail
    return found


def like_details(source: ProjectSource, followed: Followed, rows: Sequence[Drawing]) -> list[tuple[int, int]]:
    """Pairs of details that look alike: each with the first that it is like."""
    first: list[tuple[int, CutDetail]] = []
    found = []
    for number, detail in details_in(source, followed, rows).items():
        like = next((n for n, other in first if alike(detail, other)), None)
        if like is None:
            first.append((number, detail))
        else:
            found.append((like, number))
    return found


def likes_of(
    session: Session, project_id: int, standard: DrawingStandard, cuts: Sequence[AnyCut]
) -> list[tuple[int | None, int | None]]:
    """For each of some cuts that are to be details: the detail of the project that it is like, or the place of an
    earlier one among them."""
    source, followed = ProjectSource(session, project_id), followed_in(session, project_id)
    there = details_in(source, followed, project_drawings(session, project_id))
    known: list[CutDetail | None] = []
    found: list[tuple[int | None, int | None]] = []
    for cut in cuts:
        detail = _cut_anew(source.model, cut, standard)
        drawing = next((n for n, other in there.items() if detail is not None and alike(detail, other)), None)
        earlier = next((k for k, other in enumerate(known) if detail and other and alike(detail, other)), None)
        found.append((drawing, None if drawing is not None else earlier))
        known.append(detail)
    return found


def use_instead(drawing_id: int, wanted: UseInstead, author: str) -> DrawingOut:
    """Let what calls a detail out lead to another one, and take the detail away, in one act. Its number follows."""
    with transaction() as session:
        row = current_row(session, Drawing, drawing_id, wanted.version, lambda newer: drawing_out(session, newer))
        parent = session.get(Drawing, row.parent_id) if row.callout is not None else None
        if row.callout is None or parent is None:
            raise Refused("Only a detail that was called out from a drawing can be led to another one.", "target")
        target = held_row(session, Drawing, wanted.target)
        if target.id == row.id or target.project_id != row.project_id:
            raise Refused("Choose another detail of this project.", "target")
        children = session.exec(select(Drawing).where(col(Drawing.parent_id) == row.id)).all()
        if children:
            what = f"{len(children)} drawings were cut or called out from this detail"
            raise Refused(f"{what}; move or delete them first.", "target")
        target_of(session, parent, wanted.target)
        region = followed_in(session, row.project_id).region_of(row) or Callout.model_validate(row.callout).region
        with recorded(session, row.project_id, "use typical detail", author) as act:
            marker = DrawingSpec.model_validate(row.style).callout
            act.adds(
                CalloutReference(
                    project_id=row.project_id, drawing_id=parent.id or 0, target_id=wanted.target,
                    region=region.model_dump(mode="json"), marker=marker.model_dump(mode="json"),
                )
            )  # fmt: skip
            for led in session.exec(select(CalloutReference).where(col(CalloutReference.target_id) == row.id)).all():
                act.edits(led)
                led.target_id = wanted.target
                session.add(led)
            for table in (Placement, Annotation, TouchUpRow, CalloutReference):
                for mine in session.exec(select(table).where(table.drawing_id == row.id)).all():
                    act.removes(mine)
            session.flush()
            act.removes(row)
        return drawing_out(session, target)


def _detail(shown: Shown) -> CutDetail | None:
    classes = shown.standard.classes(shown.model)
    key = f"{cut_key(shown)} {' '.join(classes)}"
    return _details.get(key, lambda: cut_detail(cut_of(shown), classes))


def _cut_anew(model: Model, cut: AnyCut, standard: DrawingStandard) -> CutDetail | None:
    try:
        return cut_detail(cut_model(model, cut, standard.cut_rules(model)), standard.classes(model))
    except ImpossibleCut:
        return None
