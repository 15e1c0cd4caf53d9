"""Corrections of a project to its model: what became of each, and what there is to correct."""

from __future__ import annotations

import uuid

import numpy as np
from pydantic import BaseModel, ValidationError
from sqlmodel import Session

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import bare_model, corrections_of, model_in_file, newest_revision
from edge_slice.app.row_lookup import project_row
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.becoming import became, boxes_as_surveyed
from edge_slice.core.model.corrections.documents import (
    LISTED,
    BuildUpCorrection,
    CopiedElements,
    Correction,
    LeftOut,
    MovedElements,
    OtherFlight,
    OtherMaterial,
    OtherOpening,
    WantedLayer,
    wish_of,
)
from edge_slice.core.model.corrections.fillings import with_fillings
from edge_slice.core.model.corrections.layers import layers_of, why_not
from edge_slice.core.model.corrections.materials import materials_of, said_of
from edge_slice.core.model.corrections.new_bodies import guid_of_copy, new_guid
from edge_slice.core.model.corrections.new_documents import NewLayer, NewThing
from edge_slice.core.model.corrections.openings import sides_of
from edge_slice.core.model.corrections.saying import OfElements
from edge_slice.core.model.corrections.states import State, name_of, state_of
from edge_slice.core.model.corrections.steps import said_of as said_of_steps
from edge_slice.core.model.corrections.steps import steps_of
from edge_slice.core.model.corrections.wanted import Corrected
from edge_slice.store.database import reading


class RefusedOut(BaseModel):
    why: str
    elements: int


class CorrectionOut(BaseModel):
    """A correction, what it is of in words, and what became of it. Of those that elements are drawn by (there are so
    many `elements`): `open`; `asked` where it was sent to others; `answered` by a remark, or as done; `refused` by
    them; `changed` where the file has since changed what it is a correction of, of `changed` elements: they are drawn
    by it until somebody says it anew, or takes it back. `in the file` where the file has it itself, so that it does
    nothing any more; `lost` where what it is of is gone; `impossible` where none can have it. `already`: elements that
    have it in the file. `where`: one of its elements (GlobalId), or the new one, empty where there is none."""

    correction: Correction
    name: str
    state: State
    elements: int
    already: int
    changed: int
    refused: list[RefusedOut]
    where: str


class BuildUpOut(BaseModel):
    """The build-up of an element as its file has it: its name, how many elements have one of that name, its layers from
    the first to the last, and why it can't be corrected, empty where it can."""

    name: str
    elements: int
    layers: list[WantedLayer]
    why_not: str


def list_corrections(project_id: int) -> list[CorrectionOut]:
    with reading() as session:
        project = project_row(session, project_id)
        newest = newest_revision(session, project_id)
        model = bare_model(session, newest)
        return [_out(model, told) for told in became(model, corrections_of(project))]


def build_up_of(project_id: int, guid: str) -> BuildUpOut:
    """The build-up of an element (GlobalId), without corrections."""
    model = model_in_file(project_id)
    k = model.element_by_guid.get(guid)
    if k is None:
        raise NotFound("This element is not in the model.")
    number = model.elements[k].build_up
    if number < 0:
        return BuildUpOut(name="", elements=0, layers=[], why_not=why_not(model, k))
    return _build_up(model, number, len(_having(model, model.build_ups[number].name)), why_not(model, k))


def named_build_up(project_id: int, name: str) -> BuildUpOut:
    """A build-up that elements of a model have, without corrections; it can be corrected where any of these can."""
    model = model_in_file(project_id)
    having = _having(model, name)
    if not having:
        raise NotFound("No element of the model has a build-up of this name.")
    reasons = [why_not(model, k) for k in having]
    return _build_up(model, model.elements[having[0]].build_up, len(having), "" if "" in reasons else reasons[0])


def _having(model: Model, name: str) -> list[int]:
    """The elements with a build-up of this name."""
    named = {n for n, one in enumerate(model.build_ups) if one.name == name}
    return [k for k, element in enumerate(model.elements) if element.build_up in named]


def _build_up(model: Model, number: int, elements: int, reason: str) -> BuildUpOut:
    build_up = model.build_ups[number]
    return BuildUpOut(name=build_up.name, elements=elements, layers=list(layers_of(model, build_up)), why_not=reason)


def said_of_model(
    session: Session, project_id: int, wanted: list[Correction], before: list[Correction]
) -> list[Correction]:
    """Corrections with what they say of the model as its file has it now, where they don't say it: where elements
    stood, with what stands in their openings, and what layers were instead. Raises `Refused` for one that nothing in
    the model can have; what was wished before may stay, whatever else is said of it."""
    wished = {wish_of(one) for one in before}
    new = [one for one in wanted if wish_of(one) not in wished]
    if not new:
        return wanted
    model = bare_model(session, newest_revision(session, project_id))
    own = _in_no_file(wanted) - {"", *model.element_by_guid}
    for told in became(model, new):
        if own & _elements_of(told.of):
            raise Refused(
                "This is in no file, but a correction itself: take that back, or say it otherwise.", "corrections"
            )
        _check(told)
    names = {one.topic for one in wanted}
    found = []
    for one in wanted:
        said = _known_before(_said_of(model, one), before, names) if one in new else one
        names.add(said.topic)
        found.append(said)
    try:
        return LISTED.validate_python(found)
    except ValidationError as error:  # what stands in an opening is moved, or taken out, by another one
        raise Refused("Windows or doors in it are put elsewhere, or taken out, already.", "corrections") from error


def _in_no_file(corrections: list[Correction]) -> set[str]:
    """The elements (GlobalIds) that come of corrections."""
    found = {one.body for one in corrections if isinstance(one, NewThing)}
    for one in corrections:
        if isinstance(one, CopiedElements):
            found |= {guid_of_copy(guid, by) for guid in one.elements for by in one.copies}
    return found


def _elements_of(one: Correction) -> set[str]:
    """The elements (GlobalIds) that a correction names."""
    if isinstance(one, OfElements):
        return set(one.elements)
    if isinstance(one, NewThing):
        return {one.element} if isinstance(one, NewLayer) else set()
    return {one.element}


def _check(told: Corrected) -> None:
    one = told.of
    if isinstance(one, LeftOut) and told.already:
        raise Refused(f"{told.already} of these elements are not in the model.", "corrections")
    if told.lost:
        build_up = one.build_up if isinstance(one, BuildUpCorrection) else ""
        what = f"build-up “{build_up}”" if build_up else "such element"
        raise Refused(f"The model has no {what}.", "corrections")
    if isinstance(one, NewThing) and told.already:
        raise Refused("The model has such a body there already.", "corrections")
    whole = isinstance(one, MovedElements | CopiedElements | OtherMaterial)  # or nothing of it
    if told.refused and (not told.elements or whole):
        raise Refused(f"This can't be corrected: {told.refused[0][0]}", "corrections")


def _known_before(one: Correction, before: list[Correction], names: set[str]) -> Correction:
    """A correction under the name by which it may have been sent before it was said otherwise, if that is not another
    one's (`names`)."""
    if one.topic:
        return one
    mine = (b.topic for b in before if b.topic not in {"", *names} and set(b.subjects) & set(one.subjects))
    was = next(mine, "")
    return one.model_copy(update={"topic": was or str(uuid.uuid4())})


def _said_of(model: Model, one: Correction) -> Correction:
    if isinstance(one, LeftOut | CopiedElements):
        return one.model_copy(update={"elements": with_fillings(model, one.elements)})
    if isinstance(one, NewThing) and not one.body:
        return one.model_copy(update={"body": new_guid()})
    if isinstance(one, OtherOpening) and one.stood is None:
        return one.model_copy(update={"stood": sides_of(model, model.element_by_guid[one.element], one.looks)})
    if isinstance(one, MovedElements) and not one.stood:
        elements = with_fillings(model, one.elements)
        stood = np.round(boxes_as_surveyed(model, elements), 6).tolist()
        boxes = tuple((tuple(low), tuple(high)) for low, high in stood)
        return one.model_copy(update={"elements": elements, "stood": boxes})
    if isinstance(one, OtherMaterial) and not one.had:
        had = tuple(said_of(materials_of(model, model.element_by_guid[guid])) for guid in one.elements)
        return one.model_copy(update={"had": had})
    if isinstance(one, OtherFlight) and one.had is None:
        steps = steps_of(model, model.element_by_guid[one.element])
        return one if isinstance(steps, str) else one.model_copy(update={"had": said_of_steps(steps)})
    if isinstance(one, BuildUpCorrection) and not one.instead_of:
        k = next(iter(became(model, [one])[0].found))
        return one.model_copy(update={"instead_of": layers_of(model, model.build_ups[model.elements[k].build_up])})
    return one


def _out(model: Model, told: Corrected) -> CorrectionOut:
    one = told.of
    first = model.elements[told.found[0]] if told.found else None
    where = one.body if isinstance(one, NewThing) else "" if first is None else first.guid
    refused = [RefusedOut(why=why, elements=count) for why, count in told.refused]
    return CorrectionOut(
        correction=one, name=name_of(model, told), state=state_of(told), elements=told.elements, already=told.already,
        changed=told.changed, refused=refused, where=where,
    )  # fmt: skip
