"""What the Model bench sends and gets."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, RowId
from edge_slice.core.cut import CutSpec
from edge_slice.core.cut.spec import MOST_OPENINGS, Depth, Opening, Triple
from edge_slice.core.drawing.sunlight import Sun
from edge_slice.core.project.kinds import DrawingKind

Place3 = tuple[float, float, float]
Key = Annotated[str, Field(max_length=80)]
Finite = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Kinds = Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=100)]


class SolidPartOut(BaseModel):
    """A part of the model to be fetched: what stands on a storey (GlobalId and name; empty: on none), or some of it.
    `missing`: how many elements of the storey are in no part, as the model is larger than what a browser holds."""

    number: int
    storey: str
    name: str
    elevation: float
    triangles: int
    missing: int


class SolidOut(BaseModel):
    """`geometry` is another text for another model: parts are kept under it. Metres; `turn`: degrees by which the
    length of the building is turned from the model's X; `plan_height`: where plans are usually cut, over a floor."""

    geometry: str
    low: Place3
    high: Place3
    turn: float
    plan_height: float
    parts: list[SolidPartOut]


class LeafOut(BaseModel):
    """One plane of a cut: origin (metres), unit vectors right, up and away from the viewer, how far it goes (left,
    base, right, top in its axes, metres), and its depth, null for unlimited."""

    origin: Place3
    u: Place3
    v: Place3
    w: Place3
    window: tuple[float, float, float, float]
    depth: float | None


class DrawingPlanesOut(BaseModel):
    """The planes of a drawing's cut; `letter` as its marker says it."""

    drawing: int
    version: int
    kind: DrawingKind
    letter: str
    title: str
    leaves: list[LeafOut]


class PlaneWanted(Input):
    """A plane by a point in it and its normal, which points to the viewer; metres. `like`: a drawing whose cut is to
    lie in it, with all else as it is."""

    point: Triple
    normal: Triple
    depth: Depth | None = None
    perspective: bool = False
    like: RowId | None = None


class ViewWanted(Input):
    """A drawing of the building as it is seen from a direction (`towards` the viewer), opened. With an `eye` (metres)
    it is in perspective, so wide (degrees) and so many times wider than high."""

    towards: Triple
    eye: Triple | None = None
    angle: Annotated[float, Field(ge=1, le=150)] = 60.0
    aspect: Annotated[float, Field(ge=0.1, le=10)] = 1.5
    openings: Annotated[tuple[Opening, ...], Field(max_length=MOST_OPENINGS)] = ()


class PlaneCutOut(BaseModel):
    """The cut of the kind that fits, its plane, and the drawing that it would be cut from in the lineage."""

    cut: CutSpec
    kind: DrawingKind
    parent_id: int | None
    leaves: list[LeafOut]


class StopOut(BaseModel):
    """A place along a direction where a plane may come to rest, metres from the origin, and what is there."""

    at: float
    says: str


class BodyPlane(Input):
    """What lies before it (its normal points there) is taken away; only from `start` to `end` (metres from the point)
    along a direction in it, where one is given; null: endless."""

    point: Triple
    normal: Triple
    along: Triple | None = None
    start: Finite | None = None
    end: Finite | None = None


class LightWanted(Input):
    """The light of a sun; of one by the view that in a drawing, which is then named."""

    sun: Sun
    drawing: RowId | None = None


class LightOut(BaseModel):
    """The way the light goes, a unit vector in the model; where the sun stands: bearing from true north and height over
    the horizon, degrees."""

    light: list[float] = Field(min_length=3, max_length=3)
    bearing: float
    height: float


class BodiesWanted(Input):
    """The model cut open: what all cuts together take away is gone, each of them takes by any of its planes; with a
    `thickness` (metres) what lies further behind the one plane is gone, too. `without`: kinds left out; `storeys`: only
    these (GlobalId), none for all; `left_out`: elements by GlobalId; `shown_set`: a set that leaves out more;
    `standard`: in whose colours."""

    cuts: Annotated[list[Annotated[list[BodyPlane], Field(max_length=16)]], Field(max_length=6)] = Field(default=[])
    thickness: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    form: Literal["glb", "stl"] = "glb"
    without: Kinds = Field(default=[])
    storeys: Kinds = Field(default=[])
    left_out: Annotated[list[Annotated[str, Field(max_length=64)]], Field(max_length=20_000)] = Field(default=[])
    shown_set: Key = ""
    standard: Key = ""


class TintOut(BaseModel):
    """The colour of what elements of a kind show of a material (its number in parts of the model, -1: unknown)."""

    kind: str
    material: int
    colour: str


class SolidLookOut(BaseModel):
    """How the model shows: its colours by a standard, and what a shown set leaves out: kinds, elements (GlobalId)."""

    tints: list[TintOut]
    without: list[str]
    left_out: list[str]
