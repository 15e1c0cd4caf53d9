"""What goes in and out about callouts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Point, RowId, Version
from edge_slice.app.drawings.documents import RuleKey
from edge_slice.core.cut import SectionCut
from edge_slice.core.cut.following.callouts import Form, Region
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import CalloutStyle

Size = Annotated[float, Field(ge=0.01, le=1000, allow_inf_nan=False)]


class CalloutNew(Input):
    """A region of a drawing to enlarge. What it is tied to is found; `form`, where none is given, is a plan's, or a
    detail. By a `rule` it is drawn as that says."""

    region: Region
    form: Form | None = None
    name: str = Field(default="", max_length=200)
    rule: RuleKey = ""


class BlankSize(Input):
    """Of a blank detail, metres."""

    width: Size = 1.0
    height: Size = 1.0


class ReferenceNew(Input):
    """A region of a drawing, and the drawing that enlarges it: one that is there already, or a blank detail that is
    made with it."""

    region: Region
    target_id: RowId | None = None
    blank: BlankSize | None = None
    name: str = Field(default="", max_length=200)


class ReferenceEdit(Input):
    version: Version
    region: Region | None = None
    target_id: RowId | None = None
    marker: CalloutStyle | None = None


class ReferenceOut(BaseModel):
    id: int
    drawing_id: int
    target_id: int
    region: Region
    marker: CalloutStyle
    version: int


class CalloutOut(BaseModel):
    """A callout's marker on a drawing: what it belongs to ("drawing:12" or "reference:3"), the drawing it leads to, the
    texts of its bubble, its region's corners there (metres), whether it was called out from this very drawing, and how
    its marker stands. `version` is that of the drawing or of the reference."""

    source: str
    target: int
    upper: str
    lower: str
    ring: list[Point]
    own: bool
    style: CalloutStyle
    version: int


class WallPlace(Input):
    """A place on plan, metres, at or near a wall; and the side that the section of it looks to."""

    at: Point
    look: Literal["left", "right"] = "left"


class LikeOut(BaseModel):
    """What a junction is like: a detail that is there (`drawing`), or an earlier one of the same list (`junction`); and
    what that is called."""

    drawing: int | None
    junction: int | None
    title: str


class JunctionOut(BaseModel):
    """A junction that is called out of a wall section: its name, its region, the scale of its detail, and the detail
    that it is `like`, which can be used for it too."""

    name: str
    region: Region
    scale: float
    like: LikeOut | None = None


class WallSectionOut(BaseModel):
    """A wall section as it would be made."""

    cut: SectionCut
    style: DrawingSpec
    junctions: list[JunctionOut]


class WallSectionNew(WallPlace):
    """The plan on which the wall was clicked, and which of its junctions are called out: their places in the list;
    those that are `shared` lead to the detail that they are like. The section begins by a `rule`, its details by
    another one."""

    plan: RowId
    junctions: Annotated[tuple[Annotated[int, Field(ge=0, le=1000)], ...], Field(max_length=200)] = ()
    shared: Annotated[tuple[Annotated[int, Field(ge=0, le=1000)], ...], Field(max_length=200)] = ()
    rule: RuleKey = ""
    detail_rule: RuleKey = ""


class EnlargementsNew(Input):
    """Stairs, rooms and the like of which a plan shall have enlargements, by GlobalId; they begin by a `rule`."""

    things: Annotated[list[Annotated[str, Field(max_length=64)]], Field(min_length=1, max_length=200)]
    rule: RuleKey = ""
