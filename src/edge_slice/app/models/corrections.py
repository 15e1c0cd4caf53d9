"""Corrections of a project to its model: what became of each, and what there is to correct."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel
from sqlmodel import Session

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import bare_model, corrected_model, newest_revision
from edge_slice.app.row_lookup import project_row
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import Corrected, became, why_not
from edge_slice.core.model.corrections.documents import BuildUpCorrection, WantedLayer
from edge_slice.store.database import reading

State = Literal["open", "in the file", "lost", "refused"]


class RefusedOut(BaseModel):
    why: str
    elements: int


class CorrectionOut(BaseModel):
    """A correction, what it is of in words, and what became of it: `open` where elements are drawn by it, of which
    there are so many; `in the file` where the file has it itself, so that it does nothing any more; `lost` where what
    it is of is gone; `refused` where none can have it. `already`: elements that have it in the file."""

    correction: BuildUpCorrection
    name: str
    state: State
    elements: int
    already: int
    refused: list[RefusedOut]


class BuildUpOut(BaseModel):
    """The build-up of an element as its file has it: its name, how many elements have one of that name, its layers from
    the first to the last, and why it can't be corrected, empty where it can."""

    name: str
    elements: int
    layers: list[WantedLayer]
    why_not: str


def list_corrections(project_id: int) -> list[CorrectionOut]:
    with reading() as session:
        project_row(session, project_id)
        newest = newest_revision(session, project_id)
        model = bare_model(session, newest)
        return [_out(model, told) for told in corrected_model(session, newest)[1]]


def build_up_of(project_id: int, guid: str) -> BuildUpOut:
    """The build-up of an element (GlobalId), without corrections."""
    with reading() as session:
        project_row(session, project_id)
        model = bare_model(session, newest_revision(session, project_id))
    k = model.element_by_guid.get(guid)
    if k is None:
        raise NotFound("This element is not in the model.")
    element = model.elements[k]
    if element.build_up < 0:
        return BuildUpOut(name="", elements=0, layers=[], why_not=why_not(model, k))
    build_up = model.build_ups[element.build_up]
    return BuildUpOut(
        name=build_up.name,
        elements=sum(e.build_up >= 0 and model.build_ups[e.build_up].name == build_up.name for e in model.elements),
        layers=[
            WantedLayer(material=model.materials[x.material].name, thickness=round(x.thickness, 9))
            for x in build_up.layers
        ],
        why_not=why_not(model, k),
    )


def check_corrections(
    session: Session, project_id: int, wanted: list[BuildUpCorrection], before: list[BuildUpCorrection]
) -> None:
    """Raise `Refused` for a correction that nothing in the model can have; what was said before may stay."""
    new = [one for one in wanted if one not in before]
    if not new:
        return
    model = bare_model(session, newest_revision(session, project_id))
    for told in became(model, new):
        if told.lost:
            what = f"build-up “{told.of.build_up}”" if told.of.build_up else "such element"
            raise Refused(f"The model has no {what}.", "corrections")
        if not told.elements and told.refused:
            raise Refused(f"This can't be corrected: {told.refused[0][0]}", "corrections")


def _out(model: Model, told: Corrected) -> CorrectionOut:
    one = told.of
    k = model.element_by_guid.get(one.element)
    name = one.build_up or ("" if k is None else model.elements[k].name or model.elements[k].kind)
    state: State = (
        "lost" if told.lost else "open" if told.elements else "in the file" if told.already else "refused"
    )  # fmt: skip
    refused = [RefusedOut(why=why, elements=count) for why, count in told.refused]
    return CorrectionOut(
        correction=one, name=name, state=state, elements=told.elements, already=told.already, refused=refused
    )
