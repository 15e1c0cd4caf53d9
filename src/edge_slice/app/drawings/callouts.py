"""Callouts: made from a region of a drawing, or leading to a drawing that is there already."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, col, select

from edge_slice.app.drawings.callout_documents import CalloutNew, ReferenceEdit, ReferenceNew, ReferenceOut
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.letters import next_mark
from edge_slice.app.drawings.lineage import drawing_out
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.project_source import followed_in
from edge_slice.app.row_lookup import current_row, held_row
from edge_slice.app.rules.begun import give_sets
from edge_slice.app.rules.followed import rule_for, series_of
from edge_slice.core.cut import AnyCut, BlankCut, ImpossibleCut, PlanCut
from edge_slice.core.cut.following.callouts import (
    Callout,
    Form,
    Region,
    anchored,
    beginning,
    beginning_scale,
    derived,
)
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import FREE, PLAIN
from edge_slice.core.model import Model
from edge_slice.core.project.drawing_rules import back
from edge_slice.store.changes import Act, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import CalloutReference, Drawing


def add_callout(drawing_id: int, new: CalloutNew, author: str) -> DrawingOut:
    """Call a region of a drawing out, at the next sensible scale, with what shows in that drawing."""
    with transaction() as session:
        parent = held_row(session, Drawing, drawing_id)
        followed = followed_in(session, parent.project_id)
        cut = followed.cut_of(parent)
        form: Form = new.form or ("plan" if isinstance(cut, PlanCut) else "detail")
        with recorded(session, parent.project_id, "new callout", author) as act:
            row = called(act, Parent(parent, followed.model_of(cut), cut), new.region, form, new.name.strip(), new.rule)
        return drawing_out(session, row)


def tied(model: Model, cut: AnyCut, region: Region, form: Form = "detail") -> tuple[Callout, AnyCut]:
    """A region of a drawing, tied to what is near it, as a callout, and its cut. Raises `Refused` where it does not lie
    in the drawing."""
    try:
        callout = Callout(region=anchored(model, cut, region), form=form)
        return callout, derived(model, cut, beginning(cut, form), callout).cut
    except ImpossibleCut as error:
        raise Refused(str(error), "region") from error


@dataclass(frozen=True)
class Parent:
    """A drawing that regions are called out from: its row, and the cut of the model as it stands."""

    row: Drawing
    model: Model
    cut: AnyCut


def called(act: Act, parent: Parent, region: Region, form: Form, name: str = "", rule_key: str = "") -> Drawing:
    """Call out a region of a drawing, within an act. Raises `Refused` where it does not lie in the drawing, or the rule
    is none for it."""
    callout, own = tied(parent.model, parent.cut, region, form)
    above = parent.row
    rule = rule_for(act.session, above.project_id, rule_key, own, form)
    style = DrawingSpec.model_validate(above.style)
    scale = beginning_scale(form, style.scale)
    style = style.model_copy(
        update={"scale": scale, "content": "auto", "marker": PLAIN, "callout": FREE, "frame": False}
    )
    if rule is not None:
        own, style = back(rule, (own, style))
    row = Drawing(
        project_id=above.project_id,
        parent_id=above.id,
        name=name,
        letter=next_mark(act.session, above.project_id, form, series_of(rule)),
        rule=rule_key,
        cut=own.model_dump(mode="json"),
        callout=callout.model_dump(mode="json"),
        style=style.model_dump(mode="json"),
    )
    act.adds(row)
    give_sets(act.session, act, row, rule)
    return row


def add_reference(drawing_id: int, new: ReferenceNew, author: str) -> ReferenceOut:
    """Let a region of a drawing lead to another one, or to a new blank detail."""
    with transaction() as session:
        parent = held_row(session, Drawing, drawing_id)
        followed = followed_in(session, parent.project_id)
        cut = followed.cut_of(parent)
        if (new.target_id is None) == (new.blank is None):
            raise Refused("Say which drawing the callout leads to, or the size of a blank detail.", "target_id")
        with recorded(session, parent.project_id, "new callout", author) as act:
            if new.blank is not None:
                target = _blank(session, act, parent, new)
            else:
                target = target_of(session, parent, new.target_id or 0)
            row = led_to(parent, followed.model_of(cut), cut, new.region, target.id or 0)
            act.adds(row)
        return _out(row)


def led_to(parent: Drawing, model: Model, cut: AnyCut, region: Region, target: int) -> CalloutReference:
    """A region of a drawing, called out, that leads to another one. Raises `Refused` where it does not lie in the
    drawing."""
    return CalloutReference(
        project_id=parent.project_id,
        drawing_id=parent.id or 0,
        target_id=target,
        region=tied(model, cut, region)[0].region.model_dump(mode="json"),
        marker=FREE.model_dump(mode="json"),
    )


def edit_reference(reference_id: int, edit: ReferenceEdit, author: str) -> ReferenceOut:
    with transaction() as session:
        row = current_row(session, CalloutReference, reference_id, edit.version, _out)
        parent = held_row(session, Drawing, row.drawing_id)
        region = target = None
        if edit.region is not None:
            followed = followed_in(session, row.project_id)
            cut = followed.cut_of(parent)
            region = tied(followed.model_of(cut), cut, edit.region)[0].region
        if edit.target_id is not None:
            target = target_of(session, parent, edit.target_id)
        with recorded(session, row.project_id, "edit callout", author) as act:
            act.edits(row)
            if region is not None:
                row.region = region.model_dump(mode="json")
            if target is not None:
                row.target_id = target.id or 0
            if edit.marker is not None:
                row.marker = edit.marker.model_dump(mode="json")
            session.add(row)
        return _out(row)


def delete_reference(reference_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, CalloutReference, reference_id)
        with recorded(session, row.project_id, "delete callout", author) as act:
            act.removes(row)


def _blank(session: Session, act: Act, parent: Drawing, new: ReferenceNew) -> Drawing:
    assert new.blank is not None
    style = DrawingSpec.model_validate(parent.style)
    scale = beginning_scale("detail", style.scale)
    blank = DrawingSpec(scale=scale, standard=style.standard, levels=False, grid=False, frame=True)
    row = Drawing(
        project_id=parent.project_id,
        parent_id=parent.id,
        name=new.name.strip(),
        letter=next_mark(session, parent.project_id, "detail"),
        cut=BlankCut(**new.blank.model_dump()).model_dump(mode="json"),
        style=blank.model_dump(mode="json"),
    )
    act.adds(row)
    return row


def target_of(session: Session, parent: Drawing, target_id: int) -> Drawing:
    """The drawing that `parent` may lead to by a callout. Raises `Refused` where that would lead back to itself."""
    target = session.get(Drawing, target_id)
    if target is None or target.project_id != parent.project_id:
        raise NotFound("The drawing that this callout should lead to is not there any more.")
    if parent.id in _reached(session, target):
        raise Refused(
            "That drawing leads to this one, by its callouts; a callout back to it would go round in a circle.",
            "target_id",
        )
    return target


def _reached(session: Session, start: Drawing) -> set[int]:
    """The drawings that callouts lead to from one drawing, itself among them."""
    project = start.project_id
    ways: dict[int, list[int]] = {}
    called = select(Drawing.parent_id, Drawing.id).where(
        col(Drawing.project_id) == project, col(Drawing.callout).is_not(None)
    )
    referred = select(CalloutReference.drawing_id, CalloutReference.target_id).where(
        col(CalloutReference.project_id) == project
    )
    for parent, child in [*session.exec(called).all(), *session.exec(referred).all()]:
        ways.setdefault(parent or 0, []).append(child or 0)
    found, left = {start.id or 0}, [start.id or 0]
    while left:
        fresh = set(ways.get(left.pop(), ())) - found
        found |= fresh
        left += sorted(fresh)
    return found


def _out(row: CalloutReference) -> ReferenceOut:
    return ReferenceOut.model_validate(row.model_dump(exclude={"project_id"}))
