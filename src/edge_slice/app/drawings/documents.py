"""Drawings as they go in and out of the use cases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Offset, Point, RowId, Version
from edge_slice.core.cut import CutSpec
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.project.kinds import DrawingKind


class PlacementRef(BaseModel):
    id: int
    sheet_id: int
    sheet_number: str
    number: str


class DrawingOut(BaseModel):
    """`title` is the name shown: the given one, or made from kind, letter and direction of view. `callout` is null but
    for a callout, whose cut is its parent's within its region. `view` is another text whenever the drawing looks
    different: the name of its view, which the view's answers carry too (as ETag).
    `annotated`: whether it has annotations. `rule`: the key of the rule that it follows, empty for none, and the lines
    in which it `departs` from it. `placement` is its home, whose number markers show; `also_on` are
    others."""

    id: int
    project_id: int
    parent_id: int | None
    kind: DrawingKind
    letter: str
    name: str
    title: str
    cut: CutSpec
    callout: Callout | None
    style: DrawingSpec
    version: int
    placement: PlacementRef | None
    also_on: list[PlacementRef]
    view: str
    annotated: bool
    rule: str
    departs: list[str]


RuleKey = Annotated[str, Field(max_length=20)]


class DrawingNew(Input):
    """A drawing; by a `rule` it begins with what that says wherever `cut` and `style` say nothing."""

    parent_id: RowId | None = None
    name: str = Field(default="", max_length=200)
    cut: CutSpec
    style: DrawingSpec = DrawingSpec()
    rule: RuleKey = ""


class DrawingEdit(Input):
    version: Version
    name: str | None = Field(default=None, max_length=200)
    letter: str | None = Field(default=None, min_length=1, max_length=4, pattern=r"^[A-Z0-9]+$")
    cut: CutSpec | None = None
    callout: Callout | None = None
    style: DrawingSpec | None = None


class DrawingSet(Input):
    """Drawings that are made in one act: the four elevations, one elevation for each wall of a room (`space`), or a
    plan or ceiling plan of each storey, cut 1.2 m above its floor or at its height in `heights` (metres, by the
    storey's GlobalId). By a `rule` all else is as that says."""

    kind: Literal["elevations", "interior elevations", "plans", "ceiling plans"]
    space: str = ""
    heights: dict[str, Annotated[float, Field(ge=-100, le=1000, allow_inf_nan=False)]] = Field(default={})
    scale: float = Field(default=100, ge=0.1, le=100_000, allow_inf_nan=False)
    rule: RuleKey = ""


class ViewRequest(Input):
    """A drawing to compute without saving it."""

    cut: CutSpec
    style: DrawingSpec = DrawingSpec()


class PreviewRequest(ViewRequest):
    drawing: RowId | None = Field(default=None, description="The drawing of which this is a change, if it is one")
    moving: bool = Field(
        default=False,
        description="Whether it is one of many while something is dragged: hatches and what lies far beyond a section's"
        " cut are left out",
    )


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
    has one already, and whether that is `placed` on a sheet; `fits` when the model has a place for it; `parent`: the
    key of what a callout is called out from."""

    key: str
    title: str
    scale: float
    why: str
    cut: CutSpec
    there: int | None
    placed: bool
    fits: bool = True
    parent: str = ""


class StarterWanted(BaseModel):
    kept: RowId | None = Field(default=None, description="A set that a project kept; else the one for this model")


class KeptSetOut(BaseModel):
    """A starter set that a project kept for others, and how many drawings and sheets it has."""

    id: int
    name: str
    drawings: int
    sheets: int


class KeptMadeOut(BaseModel):
    """What came of a kept project: drawings by number, the numbers of sheets, the names of tables; `left`: what did not
    come along, or not as it was, with the reason."""

    drawings: list[int]
    sheets: list[str]
    tables: list[str]
    left: list[str]


class KeptSetNew(Input):
    """A project's drawings, or some of them, kept as a starter set."""

    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    drawings: Annotated[list[RowId], Field(max_length=500)] | None = None


class PlacedByHand(Input):
    """Where a kept drawing goes that has no place in a model by itself: a plan on a storey (GlobalId), a section or an
    elevation along a line, metres."""

    storey: str = Field(default="", max_length=64)
    line: tuple[Point, Point] | None = None
    look: Literal["left", "right"] | None = None


class StarterChoice(Input):
    """The drawings of a starter set that are wanted, by key; of one that a project kept, or the one for this model.
    Drawings of the latter begin by those of the `rules` that are for their kinds. `places`: of kept ones, by key, that
    are placed by hand."""

    kept: RowId | None = None
    keys: Annotated[list[Annotated[str, Field(max_length=100)]], Field(min_length=1, max_length=100)]
    rules: Annotated[list[RuleKey], Field(max_length=50)] = Field(default=[])
    places: dict[Annotated[str, Field(max_length=100)], PlacedByHand] = Field(default={}, max_length=100)


class DrawingCopies(Input):
    """Copies of a section: one `by` each so many metres to the side that it looks at (negative: back), its line then
    turned about its middle by `turned` degrees against the clock."""

    by: Annotated[
        list[Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)]], Field(min_length=1, max_length=40)
    ]
    turned: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
