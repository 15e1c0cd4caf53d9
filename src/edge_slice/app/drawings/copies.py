"""Copies of drawings with what they have of their own, as chosen."""

from __future__ import annotations

from sqlmodel import col, select

from edge_slice.app.annotating.documents import CopyWanted
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.letters import letter_for, next_mark
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import Refused
from edge_slice.app.project_source import followed_in
from edge_slice.app.row_lookup import held_row
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.drawing import DrawingSpec
from edge_slice.store.changes import recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Annotation, Drawing, TouchUpRow


def copy_drawing(drawing_id: int, wanted: CopyWanted, author: str) -> DrawingOut:
    """A copy of a drawing with a letter of its own; annotations, touch-ups and levels come along where they are wanted.
    A callout's copy follows the same region of the same drawing."""
    with transaction() as session:
        row = held_row(session, Drawing, drawing_id)
        style = DrawingSpec.model_validate(row.style)
        if not wanted.levels:
            style = style.model_copy(update={"levels": False})
        cut = followed_in(session, row.project_id).cut_of(row)
        if wanted.one_letter and (row.callout is not None or not row.letter):
            raise Refused("Only sections and elevations have a letter that several drawings can share.", "one_letter")
        if row.callout is not None:
            letter = next_mark(session, row.project_id, Callout.model_validate(row.callout).form)
        else:
            letter = row.letter if wanted.one_letter else letter_for(session, row.project_id, cut)
        copy = Drawing(
            project_id=row.project_id, parent_id=row.parent_id, letter=letter, name=wanted.name.strip(), cut=row.cut,
            callout=row.callout, style=style.model_dump(mode="json"), rule=row.rule,
        )  # fmt: skip
        with recorded(session, row.project_id, "copy drawing", author) as act:
            act.adds(copy)
            here = {"project_id": row.project_id, "drawing_id": copy.id or 0}
            notes = select(Annotation).where(col(Annotation.drawing_id) == drawing_id).order_by(col(Annotation.id))
            for note in session.exec(notes).all() if wanted.annotations else ():
                act.adds(Annotation(**here, document=note.document))
            touches = select(TouchUpRow).where(col(TouchUpRow.drawing_id) == drawing_id).order_by(col(TouchUpRow.id))
            for touch_up in session.exec(touches).all() if wanted.touch_ups else ():
                act.adds(TouchUpRow(**here, document=touch_up.document))
        return drawing_out(session, copy)
