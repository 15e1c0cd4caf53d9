"""What goes in and out where cuts are placed and judged: reports, markers, acts on a line, picks."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Offset, Point, RowId
from edge_slice.app.drawings.callout_documents import CalloutOut
from edge_slice.app.drawings.documents import ViewRequest
from edge_slice.core.cut import CutSpec, Extents, SectionCut
from edge_slice.core.cut.placing.fitting import Fit
from edge_slice.core.cut.spec import MOST_LEFT_OUT, Guid
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import MarkerKind, MarkerStyle


class PassageOut(BaseModel):
    """A stretch of an upright drawing that lies in one element or room: `start` to `end` along it, `base` to `top` in
    height, metres in the drawing."""

    guid: str
    kind: str
    name: str
    start: float
    end: float
    base: float
    top: float
    part: str = Field(default="", description="The part of the model that it is of")


class MissOut(BaseModel):
    """An opening, stair, column or room that the cut just misses: `distance` and `along` in metres."""

    guid: str
    kind: str
    name: str
    distance: float
    side: Literal["behind", "before"]
    along: float
    part: str = ""


class CutReportOut(BaseModel):
    """`along`: passages in which the line runs along inside a wall or the like; `clear`: by how much it would have to
    move, metres to the side looked at, to run along in none; null where it does not, or no place is near."""

    passages: list[PassageOut]
    misses: list[MissOut]
    along: list[PassageOut]
    clear: float | None


class ThingOut(BaseModel):
    """An opening, stair, column or room: its outline on plan and its lowest and highest point, metres."""

    guid: str
    kind: str
    name: str
    outline: list[Point]
    base: float
    top: float


class GridLineOut(BaseModel):
    name: str
    start: Point
    end: Point


class PlacesOut(BaseModel):
    """What a cut can be placed by."""

    things: list[ThingOut]
    grid: list[GridLineOut]


class MarkerPieceOut(BaseModel):
    """A stretch of a cutting line that a drawing shows, metres in its axes; at which of its ends it may have a head,
    and how far that stands further out than usual, mm on paper, clear of others."""

    line: list[Point]
    ends: tuple[bool, bool]
    aside: tuple[float, float]


class MarkerOut(BaseModel):
    """A drawing's marker on another one: the texts of its heads, its line in the axes of that other one (metres), the
    side of it that is looked at, and what of the line shows there; `at` is where the head of an elevation stands."""

    drawing: int
    kind: MarkerKind
    upper: str
    lower: str
    line: list[Point]
    look: Literal["left", "right"]
    style: MarkerStyle
    pieces: list[MarkerPieceOut]
    at: Point | None


class DrawingMarkersOut(BaseModel):
    """`view`: the name of the drawing's view with these markers, at this version of it."""

    id: int
    version: int
    view: str
    markers: list[MarkerOut]
    callouts: list[CalloutOut]


class MarkersWanted(BaseModel):
    """Drawings whose markers are wanted together."""

    drawings: Annotated[list[RowId], Field(min_length=1, max_length=20)]


class PickAt(ViewRequest):
    """A point of a drawing, and how near to it lines count, metres."""

    at: tuple[Offset, Offset]
    reach: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = 0.05


class PickIn(ViewRequest):
    """A box in a drawing (left, base, right, top), metres: what it touches, or only what lies in it as a `whole`."""

    box: tuple[Offset, Offset, Offset, Offset]
    whole: bool = False


class ElementsNamed(BaseModel):
    """Words that are all in the name, the kind or the storey of an element."""

    words: str = Field(min_length=2, max_length=100)


class ElementsWanted(Input):
    """Elements by GlobalId; with what shows of them in a drawing, where one is given."""

    cut: CutSpec | None = None
    style: DrawingSpec | None = None
    guids: Annotated[list[Guid], Field(max_length=MOST_LEFT_OUT)]


class ElementOut(BaseModel):
    """Facts of an element; in metres. `layer` counts from 1 where one was cut; `lines` are what shows of it in the
    drawing that was asked about; `part` is the part of the model that it is of, `also` what is said of others that hold
    it as well."""

    guid: str
    name: str
    part: str = ""
    also: list[str] = []
    kind: str
    storey: str
    material: str
    build_up: str
    thickness: float | None
    layer: int | None
    layer_thickness: float | None
    depth: float | None
    properties: list[tuple[str, str]]
    lines: list[list[Point]]


class PropertyChoice(BaseModel):
    """A property that elements of the model have, and its values, the most frequent first."""

    name: str
    values: list[str]


class ModelWords(BaseModel):
    """What rules of shown sets can be made of, beside kinds and storeys."""

    materials: list[str]
    properties: list[PropertyChoice]


class LineThrough(Input):
    """A section whose line is to be laid through the middle of elements or rooms, by GlobalId."""

    cut: SectionCut
    things: Annotated[list[Annotated[str, Field(max_length=64)]], Field(min_length=1, max_length=50)]


class MoveBeside(Input):
    """So many metres to the side that is looked at; back, where negative."""

    kind: Literal["beside"]
    by: Offset


class TurnLine(Input):
    """Degrees against the clock, about the line's middle."""

    kind: Literal["turn"]
    degrees: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]


class AlignLine(Input):
    """By the least angle to run parallel to a direction on plan."""

    kind: Literal["align"]
    direction: tuple[Offset, Offset]


class LineActRequest(Input):
    """An act on a section's line, of which the result is answered; nothing is saved."""

    cut: SectionCut
    act: Annotated[MoveBeside | TurnLine | AlignLine, Field(discriminator="kind")]


class FitRequest(ViewRequest):
    """A drawing whose extents shall hug the building, what is cut, or what is seen."""

    to: Fit


class FittedOut(BaseModel):
    extents: Extents


class StripPlaceRequest(ViewRequest):
    """A plan with its strips, of which one (its `number` in the list, from 0 on), so `long` in metres, looks for the
    place where it covers least."""

    number: Annotated[int, Field(ge=0, le=11)]
    long: Annotated[float, Field(ge=0.05, le=1000, allow_inf_nan=False)]


class StripPlaceOut(BaseModel):
    """From where to where along its section, metres."""

    start: float
    end: float
