"""How a drawing is shown: the document beside its cut."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.sunlight import Sun
from edge_slice.core.model.building import Discipline

COLOUR = r"^#[0-9a-fA-F]{6}$"
Colour = Annotated[str, Field(pattern=COLOUR)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


Metres = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
SurfaceFill = Literal["none", "material", "kind", "storey", "distance", "colour"]
Shade = Literal["none", "steps", "smooth"]
Shadow = Literal["none", "tint", "hatch", "outline"]


class MaterialException(BaseModel):
    """What one drawing does differently with a class of material; null: as in the standard."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    hatch: Annotated[str, Field(max_length=60)] | None = None
    tint: Annotated[str, Field(pattern=COLOUR)] | None = None
    merge: bool | None = None
    pattern: Annotated[str, Field(max_length=60)] | None = None
    seen_tint: Colour | None = None


class Conventions(BaseModel):
    """Which conventions a plan follows; null: as in its standard."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    doors: bool | None = None
    stairs: bool | None = None
    windows: bool | None = None
    heads: bool | None = Field(default=None, description="Heads of openings above the cut are left out")
    shafts: bool | None = None
    voids: bool | None = None
    services: bool | None = Field(
        default=None,
        description="Services as lines with letters; as in the standard: those of parts of that discipline",
    )


class EdgeEnds(BaseModel):
    """Where the ends of levels or grid lines stand: at the usual side (levels at the right; grid lines below an upright
    drawing, at both ends on a plan), at the left or base (`start`), at the right or top (`end`), or both; `offset` mm
    on paper further out than usual; `hidden` ones by GlobalId of the storey, or name of the grid line."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    side: Literal["usual", "start", "end", "both"] = "usual"
    offset: Annotated[float, Field(ge=-2, le=300, allow_inf_nan=False)] = 0.0
    hidden: Annotated[tuple[Annotated[str, Field(max_length=200)], ...], Field(max_length=500)] = ()


class ElementLook(BaseModel):
    """What one drawing does differently with elements (GlobalId), or with all of a kind: one width for their lines (mm,
    0: none), ink, tint of their cut faces and seen surfaces, hatch of the one and pattern of the other; null: as the
    standard has it."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    elements: Annotated[tuple[Annotated[str, Field(max_length=64)], ...], Field(max_length=20_000)] = ()
    kind: Annotated[str, Field(max_length=60)] = ""
    pen: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] | None = None
    ink: Annotated[str, Field(pattern=COLOUR)] | None = None
    tint: Annotated[str, Field(pattern=COLOUR)] | None = None
    hatch: Annotated[str, Field(max_length=60)] | None = None
    pattern: Annotated[str, Field(max_length=60)] | None = None


DisciplineLook = Literal["as drawn", "grey", "outline"]
DisciplineLooks = dict[Discipline, DisciplineLook]


class PatternStart(BaseModel):
    """Where patterns of seen surfaces begin: at the model's zero, at the floor of the storey that an element stands in,
    at the lower left corner of each face, or at a `place` in the model, metres. Courses run on in one plane and round
    corners but where each face has its own corner."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    at: Literal["zero", "storey", "corner", "place"] = "zero"
    place: tuple[Metres, Metres, Metres] = (0.0, 0.0, 0.0)


FROM_ZERO = PatternStart()


class SurfaceStyle(BaseModel):
    """What one drawing does differently with seen surfaces than its appearance; null: as that has it."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    fill: SurfaceFill | None = None
    colour: Colour | None = None
    strength: Share | None = None
    fade: Share | None = None
    patterns: bool | None = None
    pattern_start: PatternStart | None = None
    shade: Shade | None = None
    shadow: Shadow | None = None
    shadow_strength: Share | None = None
    shadow_colour: Colour | None = None
    sun: Sun | None = None
    glass_strength: Share | None = None
    profile: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] | None = None
    outline: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] | None = None
    outline_gap: Annotated[float, Field(ge=0.05, le=1000, allow_inf_nan=False)] | None = None


AS_IT_IS = SurfaceStyle()
MarkerKind = Literal["section", "elevation", "interior elevation"]


Shift = Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)]


MarkerHead = Literal["wedge", "arrow", "open"]


class MarkerStyle(BaseModel):
    """How the marker of a drawing looks on others: heads at both ends of its cutting line or at one, moved along it by
    `shift` mm on paper (outwards; inwards where negative); whether the middle of the line is left out; the form of its
    `head`: a disc with a wedge or with a slim arrow to the side looked at, or the arrow without a disc; null: as the
    standard of the drawing that shows it has it. Not `shown`, as of a study, it is on no drawing."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    shown: bool = True
    head: MarkerHead | None = None
    heads: Literal["both", "first", "last"] = "both"
    open_middle: bool = False
    shift: tuple[Shift, Shift] = (0.0, 0.0)


PLAIN = MarkerStyle()
Paper = Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)]


class CalloutStyle(BaseModel):
    """How the marker of a callout stands: its bubble where it was put (mm on paper from the middle of the region), or
    by itself in a clear place; its leader straight or with an elbow; on drawings of which scales (the largest
    denominator), else by the standard."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    bubble: tuple[Paper, Paper] | None = None
    elbow: bool = False
    shown_up_to: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None = None


FREE = CalloutStyle()


Height = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]


class InsetStrip(BaseModel):
    """A strip of a section laid into a plan: the section (its drawing's number), from which height to which, metres,
    and from where to where along it (null: as far as the section goes). The plan is broken open for it along the
    cutting line, or it `replaces` a band of the plan, which keeps its size; it may have markers of `levels` and notes
    of the layers of what it cuts."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    drawing: Annotated[int, Field(ge=1, le=2_147_483_647)]
    base: Height = 0.0
    top: Height = 1.0
    start: Height | None = None
    end: Height | None = None
    replaces: bool = False
    levels: bool = False
    layer_notes: bool = False

    @model_validator(mode="after")
    def _has_size(self) -> InsetStrip:
        if self.top - self.base < 0.05:
            raise ValueError("strip: a strip is at least 50 mm high; its top must lie above its base")
        if self.start is not None and self.end is not None and self.end - self.start < 0.05:
            raise ValueError("strip: a strip is at least 50 mm long; its end must lie beyond its start")
        return self


def strips_listed(style: Any) -> Any:
    """The document of a style that was kept while a plan had one `strip` at most, as it is said now; any other one as
    it is."""
    if not isinstance(style, dict) or "strip" not in style:
        return style
    rest = {key: value for key, value in style.items() if key != "strip"}
    return rest if style["strip"] is None else {"strips": [style["strip"]], **rest}


class DrawingSpec(BaseModel):
    """How a drawing is shown: scale denominator, which annotations stand at its edge, by which drawing standard, how
    cut faces are filled (tint and hatch by material; one solid tone; tints alone; not at all), how much of build-ups
    shows (`auto`: by scale), and what it does differently: pen widths in mm by role, materials by class."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    scale: float = Field(default=50, ge=0.1, le=100_000, allow_inf_nan=False)
    levels: bool = True
    level_ends: EdgeEnds = EdgeEnds()
    grid: bool = True
    grid_ends: EdgeEnds = EdgeEnds()
    frame: bool = Field(default=False, description="Whether the border of the extents is drawn")
    rooms: bool = True
    section_rooms: bool = Field(default=False, description="Names of the rooms that a section cuts")
    conventions: Conventions = Conventions()
    marker: MarkerStyle = MarkerStyle()
    shown_markers: tuple[MarkerKind, ...] = Field(
        default=("section", "elevation", "interior elevation"), max_length=3, description="Whose markers it shows"
    )
    callout: CalloutStyle = Field(default=FREE, description="Of a callout: how its marker stands on others")
    callouts: bool = Field(default=True, description="Whether it shows the markers of callouts")
    strips: tuple[InsetStrip, ...] = Field(
        default=(), max_length=12, description="Of a plan: the strips of sections laid into it"
    )
    note_margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] | None = Field(
        default=None, description="How far beyond the extents annotations may stand, mm on paper; null: by the standard"
    )
    annotations: bool = Field(default=True, description="Whether its annotations show")
    standard: str = Field(default="fine-line", min_length=1, max_length=60)
    fill: Literal["material", "solid", "colour", "none"] = "material"
    content: Literal["auto", "outline", "layers", "membranes"] = "auto"
    lengths: Literal["project", "mm", "m", "ft-in"] = Field(
        default="project", description="How heights and areas are written; project: as its project does, else metres"
    )
    pens: dict[str, Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)]] = {}
    materials: dict[str, MaterialException] = {}
    looks: Annotated[tuple[ElementLook, ...], Field(max_length=200)] = ()
    disciplines: DisciplineLooks = Field(
        default={},
        description="How parts of the model show by discipline, instead of as the standard has it",
    )
    appearance: str = Field(
        default="lines", min_length=1, max_length=60, description="Of the standard: how seen surfaces show"
    )
    surfaces: SurfaceStyle = AS_IT_IS

    @model_validator(mode="before")
    @classmethod
    def _from_one_strip(cls, data: Any) -> Any:
        return strips_listed(data)

    @property
    def written(self) -> Lengths:
        """How lengths are written where no project says it."""
        return "m" if self.lengths == "project" else self.lengths
