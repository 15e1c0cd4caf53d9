"""What an edit of a callout does to its region and its own settings."""

from __future__ import annotations

from sqlmodel import Session

from edge_slice.app.drawings.documents import DrawingEdit
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.project_source import followed_in
from edge_slice.core.cut import AnyCut, ImpossibleCut
from edge_slice.core.cut.following.callouts import Callout, anchored, region_of, same_sides
from edge_slice.store.tables import Drawing


def callout_edited(session: Session, row: Drawing, edit: DrawingEdit) -> tuple[AnyCut, Callout] | None:
    """The cut of a drawing and its callout after an edit; None where the edit is about neither. Other extents are
    another region, another depth becomes its own. A region that is moved is tied anew to what is near it."""
    if edit.cut is None and edit.callout is None:
        return None
    followed = followed_in(session, row.project_id)
    parent = session.get(Drawing, row.parent_id)
    assert row.callout is not None
    if parent is None:
        raise Refused("The drawing that this was called out from is not there any more.", "callout")
    now, before = followed.cut_of(row), Callout.model_validate(row.callout)
    region = followed.region_of(row) or before.region
    callout = edit.callout or before.model_copy(update={"region": region})
    try:
        own = edit.cut or now
        if edit.cut is not None and edit.callout is None and not same_sides(edit.cut.extents, now.extents):
            callout = callout.model_copy(update={"region": region_of(edit.cut.extents, region)})
        if edit.cut is not None and edit.cut.depth != now.depth:
            callout = callout.model_copy(update={"own_depth": True})
        if callout.region.points != region.points or callout.region.shape != region.shape:
            above = followed.cut_of(parent)
            moved = anchored(followed.model_of(above), above, callout.region)
            callout = callout.model_copy(update={"region": moved})
        else:
            callout = callout.model_copy(update={"region": before.region})
        return followed.derived(row, own, callout).cut, callout
    except (ImpossibleCut, ValueError) as error:
        raise Refused(first_words(error), "callout") from error
