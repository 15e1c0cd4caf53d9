"""What goes in and out where cuts are placed and judged: reports, markers, acts on a line, picks, shown sets."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.callout_documents import CalloutOut
from edge_slice.app.documents import Point, RowId, Version, ViewRequest
from edge_slice.app.inputs import Input
from edge_slice.core.cut import CutSpec, Extents, SectionCut
from edge_slice.core.cut.fitting import Fit
from edge_slice.core.cut.shared_extents import ExtentsBox, Side
from edge_slice.core.cut.shown import ShownRule
from edge_slice.core.cut.spec import MOST_LEFT_OUT, Guid
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import MarkerKind, MarkerStyle

Offset = Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)]


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


class MissOut(BaseModel):
    """An opening, stair, column or room that the cut just misses: `distance` and `along` in metres."""

    guid: str
    kind: str
    name: str
    distance: float
    side: Literal["behind", "before"]
    along: float


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


class MarkerOut(BaseModel):
    """A drawing's marker on another one: the texts of its heads, its line in the axes of that other one (metres), and
    the side of it that is looked at; `at` is where the head of an elevation stands there; `aside` is how far the heads
    of a section stand further out than usual, mm on paper, clear of others."""

    drawing: int
    kind: MarkerKind
    upper: str
    lower: str
    line: list[Point]
    look: Literal["left", "right"]
    style: MarkerStyle
    aside: tuple[float, float]
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


class ShownSetOut(BaseModel):
    """`key` is what drawings name it by; `id` is null for those that come with the application."""

    key: str
    id: int | None
    name: str
    rule: ShownRule
    version: int


class ShownSetNew(Input):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    rule: ShownRule


class ShownSetEdit(ShownSetNew):
    version: Version


class SharedExtentsOut(BaseModel):
    """`key` is what drawings name them by."""

    id: int
    key: str
    name: str
    box: ExtentsBox
    version: int


class SharedExtentsNew(Input):
    """A box, or the drawing whose extents and depth are taken; that one then follows it."""

    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    box: ExtentsBox | None = None
    drawing_id: RowId | None = None


class SharedExtentsEdit(Input):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    box: ExtentsBox
    version: Version


class SharedExtentsSide(Input):
    """The face that a side of a drawing with this cut shows is moved, so that the side lies at `to`, metres in the
    drawing."""

    version: Version
    cut: CutSpec
    side: Side
    to: Offset


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
    drawing that was asked about."""

    guid: str
    name: str
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


class DrawingsChosen(Input):
    ids: Annotated[list[RowId], Field(min_length=1, max_length=500)]


class RecutOut(BaseModel):
    """How many drawings of a project were cut anew in the background."""

    done: int
    of: int


class WallSectionRequest(Input):
    """A line drawn across a wall, and the side that is looked at."""

    line: tuple[tuple[Offset, Offset], tuple[Offset, Offset]]
    look: Literal["left", "right"] = "left"


SettingsPart = Literal["scale", "graphics", "shows", "depth", "base and top"]


class SettingsGiven(Input):
    """Some settings of a drawing, given to others of its project."""

    to: Annotated[list[RowId], Field(min_length=1, max_length=500)]
    parts: Annotated[list[SettingsPart], Field(min_length=1, max_length=5)]


class ProposedOut(BaseModel):
    """A drawing that a starter set proposes, and why there; `there`: the drawing of the project that is like it, if it
    has one already, and whether that is `placed` on a sheet; `fits` when the model has a place for it."""

    key: str
    title: str
    scale: float
    why: str
    cut: CutSpec
    there: int | None
    placed: bool
    fits: bool = True


class StarterWanted(BaseModel):
    kept: RowId | None = Field(default=None, description="A set that a project kept; else the one for this model")


class KeptSetOut(BaseModel):
    """A starter set that a project kept for others, and how many drawings it has."""

    id: int
    name: str
    drawings: int


class KeptSetNew(Input):
    """A project's drawings, or some of them, kept as a starter set."""

    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    drawings: Annotated[list[RowId], Field(max_length=500)] | None = None


class StarterChoice(Input):
    """The drawings of a starter set that are wanted, by key; of one that a project kept, or the one for this model."""

    kept: RowId | None = None
    keys: Annotated[list[Annotated[str, Field(max_length=100)]], Field(min_length=1, max_length=100)]


class DrawingCopies(Input):
    """Copies of a section: one `by` each so many metres to the side that it looks at (negative: back), its line then
    turned about its middle by `turned` degrees against the clock."""

    by: Annotated[
        list[Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)]], Field(min_length=1, max_length=40)
    ]
    turned: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
