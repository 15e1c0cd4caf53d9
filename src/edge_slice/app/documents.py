"""What goes in and out of the use cases; the API's types are made from these."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from edge_slice.app.inputs import Input
from edge_slice.app.revision_documents import ModelChangesOut
from edge_slice.app.templates import Templates
from edge_slice.core.cut import CutSpec, PlanCut, SectionCut
from edge_slice.core.cut.callouts import Callout
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.drawing.annotations.markers import MarkerForm
from edge_slice.core.drawing.hatch_rules import Hatch
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.project.naming import DrawingKind, NameTemplates
from edge_slice.core.sheet.numbering import Register

Point = tuple[float, float]
RowId = Annotated[int, Field(ge=1, le=2_147_483_647)]
Version = Annotated[int, Field(ge=0, le=2**53 - 1)]  # what JavaScript counts exactly


class StoreyOut(BaseModel):
    guid: str
    name: str
    elevation: float


class SpaceOut(BaseModel):
    guid: str
    number: str
    name: str
    storey: int


class ModelFacts(BaseModel):
    """What the application needs of a model without its geometry; metres."""

    name: str
    model_schema: str
    unit: str
    north: Point
    origin: tuple[float, float, float]
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    elements: int
    triangles: int
    kinds: dict[str, int]
    storeys: list[StoreyOut]
    spaces: list[SpaceOut] = []
    leaking: list[str]
    problems: list[str]
    read_as: dict[str, str] = Field(default={}, description="Unit and axis that points up, where the file did not say")


class ProjectOut(BaseModel):
    """`sheet_register`: its folders and how sheets are numbered. `lengths`: how they are written and typed: mm, m, or
    feet and inches."""

    id: int
    name: str
    client: str
    lengths: Lengths
    names: NameTemplates
    sheet_register: Register
    templates: Templates
    version: int
    file_name: str
    revision: int
    facts: ModelFacts


class ProjectEdit(Input):
    version: Version
    name: str | None = Field(default=None, min_length=1, max_length=200)
    client: str | None = Field(default=None, max_length=200)
    lengths: Lengths | None = None
    names: NameTemplates | None = None
    sheet_register: Register | None = None
    templates: Templates | None = None


class ImportOut(BaseModel):
    """`into_id`: the project that it is a newer revision for; read, it is proposed there with what changed."""

    id: int
    file_name: str
    state: Literal["waiting", "reading", "proposed", "ready", "failed", "cancelled"]
    progress: float
    message: str
    project_id: int | None
    into_id: int | None = None
    changes: ModelChangesOut | None = None
    can_retry: bool = False


class PlacementRef(BaseModel):
    id: int
    sheet_id: int
    sheet_number: str
    number: str


class DrawingOut(BaseModel):
    """`title` is the name shown: the given one, or made from kind, letter and direction of view. `callout` is null but
    for a callout, whose cut is its parent's within its region. `view` is another text whenever the drawing looks
    different: the name of its view, which the view's answers carry too (as ETag).
    `annotated`: whether it has annotations. `placement` is its home, whose number markers show; `also_on` are
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


class DrawingNew(Input):
    parent_id: RowId | None = None
    name: str = Field(default="", max_length=200)
    cut: CutSpec
    style: DrawingSpec = DrawingSpec()


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
    storey's GlobalId)."""

    kind: Literal["elevations", "interior elevations", "plans", "ceiling plans"]
    space: str = ""
    heights: dict[str, Annotated[float, Field(ge=-100, le=1000, allow_inf_nan=False)]] = Field(default={})
    scale: float = Field(default=100, ge=0.1, le=100_000, allow_inf_nan=False)


class StandardOut(BaseModel):
    """`key` is what drawings name it by; `id` is null for those that come with the application."""

    key: str
    id: int | None
    name: str
    version: int
    document: DrawingStandard


class StandardNew(Input):
    """A copy of another standard under a name, or one that was exported before."""

    copy_of: str = "fine-line"
    name: str | None = Field(default=None, min_length=1, max_length=60, pattern=r"\S")
    document: DrawingStandard | None = None


class StandardEdit(Input):
    version: Version
    document: DrawingStandard


class HatchRequest(Input):
    """A hatch to draw without saving it, in the tint of its material, at a scale."""

    hatch: Hatch
    tint: str = Field(default="#eeece6", pattern=r"^#[0-9a-fA-F]{6}$")
    scale: float = Field(default=20, ge=0.1, le=1000, allow_inf_nan=False)
    thickness: float = Field(default=140, gt=0, le=5000, allow_inf_nan=False, description="Of layers, mm")


class ViewRequest(Input):
    """A drawing to compute without saving it."""

    cut: CutSpec
    style: DrawingSpec = DrawingSpec()


class PreviewRequest(ViewRequest):
    drawing: RowId | None = Field(default=None, description="The drawing of which this is a change, if it is one")


class StepOut(BaseModel):
    """A step of the history: what was done, about what, by whom (as the window said), and when (ISO 8601)."""

    act: str
    label: str
    about: str
    author: str
    at: str
    undone: bool


class StepWanted(Input):
    """The step that shall be the last one done."""

    act: str = Field(max_length=64)


class PresenceIn(Input):
    """A window and the person in it say which drawing they look at; null: they leave."""

    window: str = Field(min_length=1, max_length=64)
    name: str = Field(max_length=40)
    drawing: RowId | None = None
    here: bool = True


class HistoryOut(BaseModel):
    """What was undone or redone; empty when there was nothing."""

    label: str


class ScaleOut(BaseModel):
    scale: float
    name: str


class SettingsOut(BaseModel):
    """Limits and choices of an installation. `new_style` and `new_section` are what a new section begins with; its line
    is a placeholder."""

    upload_limit_mb: float
    file_kinds: list[str]
    units: list[str]
    scales: list[float]
    imperial_scales: list[ScaleOut]
    sheet_sizes: list[str]
    marker: MarkerForm
    new_style: DrawingSpec
    new_section: SectionCut
    new_plan: PlanCut


class Problem(BaseModel):
    """Every error: what happened and what to do; `field` says where; `current` is the newer state at a clash."""

    message: str
    field: str = ""
    current: dict[str, Any] | None = None
