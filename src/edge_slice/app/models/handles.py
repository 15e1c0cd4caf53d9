"""What of an element can be taken hold of to correct it: its faces in a drawing, the sides of its opening."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from edge_slice.app.documents import Point
from edge_slice.app.drawings.documents import ViewRequest
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import bare_model, corrections_of, load_model, model_in_file, newest_revision
from edge_slice.app.row_lookup import project_row
from edge_slice.app.views.composed import shown_cut_of
from edge_slice.core.cut import PlanCut
from edge_slice.core.cut.placing.handles import Handle, flat_faces, handles_of
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.documents import Correction, FaceElsewhere, MovedElements
from edge_slice.core.model.corrections.fillings import FILLS
from edge_slice.core.model.corrections.materials import materials_of
from edge_slice.core.model.corrections.openings import looks_at, sides_of
from edge_slice.core.model.corrections.saying import FacePlane
from edge_slice.core.model.corrections.steps import steps_of
from edge_slice.core.model.parts.places import Vector
from edge_slice.store.database import reading

NEAR = 1e-3  # metres between planes that are one
NOT_CLOSED = "Its body is not closed: take it out of the model, and draw what shall be there."
ELSEWHERE = "It is put elsewhere by a correction; its faces can be moved where its file has it."
IN_NO_FILE = "It is in no file: it is corrected where it is said."
NO_FLAT = "None of its faces is flat, but those of its layers."
NO_FACES = "No face of it can be pushed or pulled here: none is seen edge-on, but those of its layers."


class HandlesWanted(ViewRequest):
    element: str = Field(min_length=1, max_length=300, description="Its GlobalId")
    to_meet: bool = Field(default=False, description="All its faces, for others to be led up to them")


class HandleOut(BaseModel):
    """A face: the plane in which its file has it, that in which it is drawn, its edge in the drawing, metres, and the
    unit vector that it is pulled along there."""

    face: FacePlane
    drawn: FacePlane
    start: Point
    end: Point
    out: Point


class HandlesOut(BaseModel):
    """`why_not`: why it has none, empty where it has some."""

    faces: list[HandleOut]
    why_not: str


class FlatFaceOut(BaseModel):
    """A face in the model: the plane in which its file has it, that in which it is drawn, and its middle, metres of the
    model."""

    face: FacePlane
    drawn: FacePlane
    middle: tuple[float, float, float]


class FlatFacesOut(BaseModel):
    """`why_not`: why it has none, empty where it has some."""

    faces: list[FlatFaceOut]
    why_not: str


class PlaneOut(BaseModel):
    """Where the outline of a new body lies that is drawn in a drawing: the zero of the drawing, metres as surveyed, and
    its axes. In a plan the zero lies on the floor of its storey."""

    at: tuple[float, float, float]
    x: tuple[float, float, float]
    y: tuple[float, float, float]


class OpeningOut(BaseModel):
    """The opening of a window or door as its file has it: the way one looks through it, its sides, metres as surveyed
    along what is to the right of that and up, and how high its sill lies above the floor of its storey, null where it
    is in none."""

    looks: tuple[float, float, float]
    left: float
    right: float
    sill: float
    head: float
    above_floor: float | None


class StepsOut(BaseModel):
    """The steps of a straight flight: how many risers, how high and how far each goes, metres."""

    risers: int
    rise: float
    going: float


class InFileOut(BaseModel):
    """What an element is in its file: all its materials, whether it has layers (these are corrected as such), and its
    steps, null where it has none that can be others, and why."""

    materials: list[str]
    layered: bool
    steps: StepsOut | None
    why_no_steps: str


def handles_in(project_id: int, wanted: HandlesWanted) -> HandlesOut:
    """The faces of an element that can be pushed or pulled in a drawing."""
    with reading() as session:
        said = corrections_of(project_row(session, project_id))
        bare = bare_model(session, newest_revision(session, project_id))
    model, _, result = shown_cut_of(project_id, wanted.cut, wanted.style)
    k = model.element_by_guid.get(wanted.element)
    if k is None:
        raise NotFound("This element is not in the model.")
    if wanted.to_meet:
        return HandlesOut(faces=[_out(handle, []) for handle in handles_of(model, result, k, True)], why_not="")
    if why := _why_none(bare, wanted.element, said):
        return HandlesOut(faces=[], why_not=why)
    of_it = [one for one in said if isinstance(one, FaceElsewhere) and one.element == wanted.element]
    faces = [_out(handle, of_it) for handle in handles_of(model, result, k)]
    return HandlesOut(faces=faces, why_not="" if faces else NO_FACES)


def faces_of(project_id: int, guid: str) -> FlatFacesOut:
    """The flat faces of an element (GlobalId) that can be pushed or pulled in the model."""
    with reading() as session:
        said = corrections_of(project_row(session, project_id))
        newest = newest_revision(session, project_id)
        bare, model = bare_model(session, newest), load_model(session, newest)
    k = model.element_by_guid.get(guid)
    if k is None:
        raise NotFound("This element is not in the model.")
    if why := _why_none(bare, guid, said):
        return FlatFacesOut(faces=[], why_not=why)
    of_it = [one for one in said if isinstance(one, FaceElsewhere) and one.element == guid]
    faces = [FlatFaceOut(**_planes(one.looks, one.at, of_it), middle=one.middle) for one in flat_faces(model, k)]
    return FlatFacesOut(faces=faces, why_not="" if faces else NO_FLAT)


def plane_of(project_id: int, wanted: ViewRequest) -> PlaneOut:
    """Where what is drawn in a drawing lies in the model. Raises `Refused` where it has no single plane."""
    model, cut, result = shown_cut_of(project_id, wanted.cut, wanted.style)
    if result.lens is not None or len(result.leaves) > 1:
        raise Refused(
            "A body is drawn in a straight section, an elevation or a plan: here there is no one plane.", "cut"
        )
    axes = result.axes
    at = axes.origin + np.array(model.origin)
    if isinstance(cut, PlanCut):
        floor = next((s.elevation for s in model.storeys if s.guid == cut.storey), None)
        at[2] = at[2] if floor is None else floor + model.origin[2]
    return PlaneOut(at=_triple(at), x=_triple(axes.u), y=_triple(axes.v))


def _triple(vector: NDArray[np.float64]) -> tuple[float, float, float]:
    x, y, z = vector.tolist()
    return x, y, z


def opening_of(project_id: int, guid: str) -> OpeningOut | None:
    """The opening of an element (GlobalId), without corrections; None where it is no window and no door of a file."""
    model = model_in_file(project_id)
    k = model.element_by_guid.get(guid)
    looks = None if k is None or model.elements[k].kind not in FILLS else looks_at(model, k)
    if k is None or looks is None:
        return None
    left, right, sill, head = sides_of(model, k, looks)
    storey = model.elements[k].storey
    floor = None if storey < 0 else model.storeys[storey].elevation + model.origin[2]
    above = None if floor is None else round(sill - floor, 6)
    return OpeningOut(looks=looks, left=left, right=right, sill=sill, head=head, above_floor=above)


def in_file(project_id: int, guid: str) -> InFileOut:
    """What of an element (GlobalId) can be corrected, without corrections."""
    model = model_in_file(project_id)
    k = model.element_by_guid.get(guid)
    if k is None:
        raise NotFound(IN_NO_FILE)
    found = steps_of(model, k)
    return InFileOut(
        materials=materials_of(model, k),
        layered=model.elements[k].build_up >= 0,
        steps=None if isinstance(found, str) else StepsOut(
            risers=found.risers, rise=round(found.rise, 6), going=round(found.going, 6)
        ),
        why_no_steps=found if isinstance(found, str) else "",
    )  # fmt: skip


def _why_none(bare: Model, guid: str, said: list[Correction]) -> str:
    k = bare.element_by_guid.get(guid)
    if k is None:
        return IN_NO_FILE
    if k in bare.leaking:
        return NOT_CLOSED
    moved = any(isinstance(one, MovedElements) and guid in one.elements for one in said)
    return ELSEWHERE if moved else ""


def _out(handle: Handle, said: list[FaceElsewhere]) -> HandleOut:
    planes = _planes(handle.looks, handle.at, said)
    start, end = ((u / 1000.0, v / 1000.0) for u, v in (handle.start, handle.end))
    return HandleOut(**planes, start=start, end=end, out=handle.out)


def _planes(looks: Vector, at: float, said: list[FaceElsewhere]) -> dict[str, FacePlane]:
    """The plane in which a face is drawn, and that in which its file has it."""
    drawn = FacePlane(looks=looks, at=round(at, 9))
    return {"face": next((one.face for one in said if _same(one.to, drawn)), drawn), "drawn": drawn}


def _same(one: FacePlane, other: FacePlane) -> bool:
    apart = max(abs(a - b) for a, b in zip(one.looks, other.looks, strict=True))
    return apart < NEAR and abs(one.at - other.at) < NEAR
