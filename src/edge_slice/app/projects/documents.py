"""What goes in and out about projects and what they have of their own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Offset, Point, RowId, Version
from edge_slice.app.sheets.templates import Templates
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut import CutSpec, PlanCut, SectionCut
from edge_slice.core.cut.following.shared_extents import ExtentsBox, Side
from edge_slice.core.cut.shown import ShownRule
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.drawing.annotations.markers import MarkerForm
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.rules.hatch_rules import Hatch
from edge_slice.core.model.building import Discipline
from edge_slice.core.model.corrections.documents import Correction, Corrections
from edge_slice.core.model.said import MaterialHere, MaterialsHere
from edge_slice.core.project.naming import NameTemplates
from edge_slice.core.sheet.numbering import Register


class StoreyOut(BaseModel):
    guid: str
    name: str
    elevation: float


class SpaceOut(BaseModel):
    guid: str
    number: str
    name: str
    storey: int


class PartFacts(BaseModel):
    """One of the files that a model is put together from, and how many elements of it are drawn."""

    key: str
    name: str
    discipline: Discipline
    elements: int


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
    parts: list[PartFacts] = Field(default=[], description="The one that leads first; none of a model of one file")
    unclear: list[str] = Field(default=[], description="Materials of which no word says what they are")
    read_as: dict[str, str] = Field(default={}, description="Unit and axis that points up, where the file did not say")


MaterialName = Annotated[str, Field(min_length=1, max_length=300)]
Settled = Annotated[dict[MaterialName, Annotated[str, Field(min_length=1, max_length=60)]], Field(max_length=5000)]


class ProjectOut(BaseModel):
    """`sheet_register`: its folders and how sheets are numbered. `lengths`: how they are written and typed: mm, m, or
    feet and inches. `unchecked`: the rules of the checks that are switched off; `materials`: what the project says
    that materials are, by their names: classes, above all standards; `materials_here` in single places; `corrections`:
    to its model, as it is drawn; `proposed`:
    how many files are read as newer revisions, and not taken yet."""

    id: int
    name: str
    client: str
    lengths: Lengths
    names: NameTemplates
    sheet_register: Register
    templates: Templates
    unchecked: list[str]
    materials: dict[str, str]
    materials_here: list[MaterialHere]
    corrections: list[Correction]
    version: int
    file_name: str
    revision: int
    proposed: int
    facts: ModelFacts


class ProjectEdit(Input):
    version: Version
    name: str | None = Field(default=None, min_length=1, max_length=200)
    client: str | None = Field(default=None, max_length=200)
    lengths: Lengths | None = None
    names: NameTemplates | None = None
    sheet_register: Register | None = None
    templates: Templates | None = None
    unchecked: list[Annotated[str, Field(max_length=60)]] | None = Field(default=None, max_length=100)
    materials: Settled | None = None
    materials_here: MaterialsHere | None = None
    corrections: Corrections | None = None


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
    """A hatch to draw without saving it, in the tint of its material, at a scale: in cut layers, or `seen` as a pattern
    on a wall, on a slope and in perspective."""

    hatch: Hatch
    tint: str = Field(default="#eeece6", pattern=r"^#[0-9a-fA-F]{6}$")
    scale: float = Field(default=20, ge=0.1, le=1000, allow_inf_nan=False)
    thickness: float = Field(default=140, gt=0, le=5000, allow_inf_nan=False, description="Of layers, mm")
    seen: bool = False


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


class KeptOut(BaseModel):
    """What a process keeps in memory of one kind: how many values, their bytes (estimated), how often one was asked
    for, and made."""

    name: str
    values: int
    size: int
    asked: int
    made: int


class OutputOut(BaseModel):
    """A kind of file that drawings become, by the ending of its name; `sheets`: whether sheets do too, `bound`: all of
    them one file; `dots`: whether it has so many dots an inch."""

    form: str
    name: str
    sheets: bool
    bound: bool
    dots: bool


class AnnotationSetOut(BaseModel):
    """A set of annotations that a rule places: for which drawings, and whether for one wall of them."""

    rule: Rule
    words: str
    drawings: Literal["plan", "upright", "any"]
    of_wall: bool


class CheckOut(BaseModel):
    """What is looked for, by rule."""

    rule: str
    says: str


class SettingsOut(BaseModel):
    """Limits and choices of an installation. `new_style` and `new_section` are what a new section begins with; its line
    is a placeholder."""

    upload_limit_mb: float
    file_kinds: list[str]
    units: list[str]
    scales: list[float]
    imperial_scales: list[ScaleOut]
    sheet_sizes: list[str]
    outputs: list[OutputOut]
    sets: list[AnnotationSetOut]
    checks: list[CheckOut]
    marker: MarkerForm
    new_style: DrawingSpec
    new_section: SectionCut
    new_plan: PlanCut


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
