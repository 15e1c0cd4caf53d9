"""What to cut and how far to look: the document behind every drawing.

Lengths are metres in model coordinates. The classes are also the API's and the database's description of a cut.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated, Literal

import shapely
from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.model.building import Discipline

Metres = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]
Depth = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
Place = tuple[Metres, Metres]
Triple = tuple[Metres, Metres, Metres]
Guid = Annotated[str, Field(max_length=64)]
MOST_LEFT_OUT = 20_000
MOST_OPENINGS, MOST_PLANES = 32, 9
MOST_POINTS = 24  # of a cutting line: each leg looks at the whole model
LEAST = 0.01  # metres; shorter than this, a line or a crop is nothing


class ImpossibleCut(ValueError):
    """The cut can't be made; the message says why and what to do."""


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Break(_Data):
    """A part of a drawing that is taken out, from `start` to `end` along its u or its v axis, metres."""

    axis: Literal["u", "v"]
    start: Metres
    end: Metres

    @model_validator(mode="after")
    def _takes_something(self) -> Break:
        if self.end - self.start < LEAST:
            raise ValueError("breaks: a break takes out at least 10 mm; its end must lie beyond its start")
        return self


Edge = Literal["left", "right", "base", "top"]
EDGES: tuple[Edge, ...] = ("left", "right", "base", "top")


class Extents(_Data):
    """The crop of a drawing in its own axes, metres; None: as far as the cutting line or the building goes.
    `polygon` (three corners or more, or none) crops within these sides. `breaks` are taken out of the middle, and the
    rest closes up; `broken` edges end with a break line: where material is cut there, or with `whole_edges` across all
    of the edge."""

    left: Metres | None = None
    right: Metres | None = None
    base: Metres | None = None
    top: Metres | None = None
    polygon: Annotated[tuple[Place, ...], Field(max_length=1000)] = ()
    breaks: Annotated[tuple[Break, ...], Field(max_length=20)] = ()
    broken: Annotated[tuple[Edge, ...], Field(max_length=4)] = ()
    whole_edges: bool = False

    @model_validator(mode="after")
    def _apart(self) -> Extents:
        for axis in ("u", "v"):
            own = sorted((b.start, b.end) for b in self.breaks if b.axis == axis)
            if any(start < end for (_, end), (start, _) in pairwise(own)):
                raise ValueError("extents: two breaks overlap; join them to one, or move them apart")
        return self

    @model_validator(mode="after")
    def _ordered(self) -> Extents:
        for low, high, names in ((self.left, self.right, "left and right"), (self.base, self.top, "base and top")):
            if low is not None and high is not None and high - low < LEAST:
                raise ValueError(f"extents: {names} must be at least 10 mm apart, in this order")
        if self.polygon:
            shape = shapely.Polygon(self.polygon) if len(self.polygon) > 2 else shapely.Polygon()
            if not shape.is_valid or shape.area < LEAST * LEAST:
                raise ValueError("extents: the polygon needs three corners or more, and its sides must not cross")
        return self


class Perspective(_Data):
    """The eye before the picture plane, which is the cut: cut faces keep their true size. Either its `distance`
    or its `field_of_view` across the extents is given; `eye` is where it stands, right and up in the drawing's
    axes, else the middle of the extents at 1.6 m above the floor of the storey that is cut (where the view is not
    upright, the middle of what is seen)."""

    distance: Annotated[float, Field(ge=0.1, le=10_000, allow_inf_nan=False)] | None = None
    field_of_view: Annotated[float, Field(ge=1, le=150, allow_inf_nan=False, description="Degrees")] | None = None
    eye: Place | None = None

    @model_validator(mode="after")
    def _one_of_both(self) -> Perspective:
        if (self.distance is None) == (self.field_of_view is None):
            raise ValueError("perspective: give the eye's distance or the field of view, one of both")
        return self


class Taken(_Data):
    """Elements (GlobalIds) of a held drawing that are as another revision of the model has them."""

    revision: Annotated[int, Field(ge=1, le=2_147_483_647)]
    elements: Annotated[tuple[Guid, ...], Field(min_length=1, max_length=MOST_LEFT_OUT)]


class Hold(_Data):
    """A drawing that stays as a revision of the model has it, by its number, but for what was taken over since."""

    revision: Annotated[int, Field(ge=1, le=2_147_483_647)]
    taken: Annotated[tuple[Taken, ...], Field(max_length=100)] = ()

    @property
    def revisions(self) -> tuple[int, ...]:
        """The numbers of all revisions that it is drawn from."""
        return (self.revision, *(taken.revision for taken in self.taken))


class _Cut(_Data):
    depth: Depth | None = Field(default=None, description="How far behind the cut things are drawn; null: unlimited")
    extents: Extents = Extents()
    without: tuple[str, ...] = Field(default=(), description="Kinds of element that are left out")
    left_out: Annotated[tuple[Guid, ...], Field(max_length=MOST_LEFT_OUT)] = Field(
        default=(), description="Elements that are left out, by GlobalId"
    )
    without_disciplines: Annotated[tuple[Discipline, ...], Field(max_length=5)] = Field(
        default=(), description="Disciplines whose parts of the model are left out"
    )
    shown_set: Annotated[str, Field(max_length=60)] = Field(
        default="", description="Key of the shown set that the drawing follows; whoever cuts looks it up"
    )
    shared_extents: Annotated[str, Field(max_length=60)] = Field(
        default="", description="Key of the shared extents that extents and depth follow; whoever cuts looks it up"
    )
    see_through: Annotated[tuple[Guid, ...], Field(max_length=MOST_LEFT_OUT)] = Field(
        default=(), description="Elements that hide nothing behind them, by GlobalId"
    )
    see_through_kinds: Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=100)] = ()
    whole: Annotated[tuple[Guid, ...], Field(max_length=MOST_LEFT_OUT)] = Field(
        default=(),
        description="Elements that are not cut, by GlobalId: they are drawn whole, as if they stood behind",
    )
    whole_kinds: Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=100)] = Field(
        default=(), description="Kinds of element that are not cut, but drawn whole"
    )
    held: Hold | None = Field(
        default=None, description="The revision of the model that the drawing stays at; whoever cuts looks it up"
    )
    hidden: Literal["off", "dashed", "below ground"] = Field(
        default="off", description="Which hidden lines are dashed: none, all, or those that nothing but ground hides"
    )
    glass: Literal["solid", "clear"] = Field(default="solid", description="Whether things show behind glass")


def _distinct(line: tuple[Place, ...]) -> None:
    for (x0, y0), (x1, y1) in pairwise(line):
        if math.hypot(x1 - x0, y1 - y0) < LEAST:
            raise ValueError("the cutting line has no length: put its points at least 10 mm apart")


class SectionCut(_Cut):
    """A vertical cut along a line on plan; `look` is the side drawn, seen walking from the first point.

    A leg at right angles to the one before it is a step, unless it is the last one or `corners` says that legs
    turn: the line is then unfolded into one plane, as it always is at other angles. `depths` gives each cutting
    leg (steps not counted) a depth of its own, null for unlimited, in the order of the line.
    """

    kind: Literal["section"] = "section"
    line: Annotated[tuple[Place, ...], Field(min_length=2, max_length=MOST_POINTS)]
    look: Literal["left", "right"] = "left"
    of: Literal["building", "wall"] = Field(default="building", description="A wall section shows one wall alone")
    corners: Literal["steps", "turns"] = "steps"
    depths: Annotated[tuple[Depth | None, ...], Field(max_length=MOST_POINTS)] = ()
    step_lines: bool = Field(default=False, description="A fine upright line in the drawing where the cut steps")
    perspective: Perspective | None = None

    @model_validator(mode="after")
    def _is_a_line(self) -> SectionCut:
        _distinct(self.line)
        return self


class ElevationCut(_Cut):
    """A vertical plane that looks at the building from outside, or (`space`: GlobalId of a room) at one wall of
    a room from within. The line is the plane on plan; it also cuts what it meets."""

    kind: Literal["elevation", "interior elevation"] = "elevation"
    line: tuple[Place, Place]
    look: Literal["left", "right"] = "left"
    space: str = ""
    perspective: Perspective | None = None

    @model_validator(mode="after")
    def _is_a_line(self) -> ElevationCut:
        _distinct(self.line)
        return self


class PlanCut(_Cut):
    """A horizontal cut `height` above a storey's finished floor. Looking down, `overhead` is the range above the
    cut that is drawn dashed. Looking up it is a ceiling plan, mirrored so that it overlies the plan."""

    kind: Literal["plan"] = "plan"
    storey: str = Field(description="GlobalId of the storey")
    height: Annotated[float, Field(ge=-100, le=1000, allow_inf_nan=False)] = 1.2
    look: Literal["down", "up"] = "down"
    overhead: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = 0.0


def _has_length(normal: Triple) -> None:
    if math.hypot(*normal) < 1e-6:
        raise ValueError("the plane's normal has no length")


class TakingPlane(_Data):
    """A plane that takes away what lies on the side to which its normal points."""

    point: Triple
    normal: Triple

    @model_validator(mode="after")
    def _has_direction(self) -> TakingPlane:
        _has_length(self.normal)
        return self


class Opening(_Data):
    """What opens a view: what lies before all of its planes together is taken away, and what they cut shows as it does
    in a section there. One plane takes half of all; two at a corner take that corner out."""

    planes: Annotated[tuple[TakingPlane, ...], Field(min_length=1, max_length=MOST_PLANES)]


class PlaneCut(_Cut):
    """A cut in any plane, given by a point in it and its normal, which points to the viewer. A `view` is a drawing of
    the building in three dimensions: its plane stands before that, and `openings` take away what hides the inside."""

    kind: Literal["plane"] = "plane"
    of: Literal["cut", "view"] = Field(default="cut", description="A section, or a view of the opened building")
    point: Triple
    normal: Triple
    perspective: Perspective | None = None
    openings: Annotated[tuple[Opening, ...], Field(max_length=MOST_OPENINGS)] = ()

    @model_validator(mode="after")
    def _has_direction(self) -> PlaneCut:
        _has_length(self.normal)
        return self


class BlankCut(_Cut):
    """No cut: a drawing of a size (metres) with nothing of the model in it, for what is drawn by hand."""

    kind: Literal["blank"] = "blank"
    width: Annotated[float, Field(ge=LEAST, le=1000, allow_inf_nan=False)] = 1.0
    height: Annotated[float, Field(ge=LEAST, le=1000, allow_inf_nan=False)] = 1.0


AnyCut = SectionCut | ElevationCut | PlanCut | PlaneCut | BlankCut
UprightCut = SectionCut | ElevationCut
CutSpec = Annotated[AnyCut, Field(discriminator="kind")]
