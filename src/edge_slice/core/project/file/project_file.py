"""A project as a file: what a person writes down of it, or the application exports."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut.following.callouts import Callout, Region
from edge_slice.core.cut.following.shared_extents import ExtentsBox
from edge_slice.core.cut.shown import ShownRule
from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.spec import FREE, CalloutStyle
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.drawing.touching.touched_bodies import Pointed
from edge_slice.core.model.building import Discipline
from edge_slice.core.model.corrections.documents import Corrections
from edge_slice.core.model.files.units import Unit, Up
from edge_slice.core.model.ground.documents import NONE, Grounds
from edge_slice.core.model.parts.places import PartPlace
from edge_slice.core.model.said import MaterialsHere
from edge_slice.core.project.documents import OnPaper, PlacementTitle, SheetFields, Trim
from edge_slice.core.project.drawing_rules import DrawingRule
from edge_slice.core.project.naming import USUAL, NameTemplates
from edge_slice.core.sheet import CORNER, SheetDesign, SheetSize
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.tables.documents import TableDocument

Key = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")]
Path = Annotated[str, Field(min_length=1, max_length=200)]


class _Table(BaseModel):
    model_config = ConfigDict(extra="forbid")


class OwnStandard(_Table):
    key: Key
    name: Annotated[str, Field(max_length=60)]
    document: DrawingStandard


class OwnShownSet(_Table):
    key: Key
    name: Annotated[str, Field(max_length=60)]
    rule: ShownRule


class OwnExtents(_Table):
    key: Key
    name: Annotated[str, Field(max_length=60)]
    box: ExtentsBox


class OwnRule(_Table):
    key: Key
    rule: DrawingRule


class OwnTable(_Table):
    """A table of the building. What was typed into its own columns goes by the targets of rows: an element or a room
    by its GlobalId, a drawing by its key, a sheet by its number."""

    key: Key
    table: TableDocument


class OwnDesign(_Table):
    key: Key
    document: SheetDesign


class DrawingTable(_Table):
    """A drawing. `cut` and `style` are the documents of the core, with what they do not say as it usually is; a plan
    may name its storey, a room its number or name; the `drawing` of a strip is a key. A callout needs no cut of its own
    but its `parent`. Without a letter, sections and callouts get the next one. An `annotation` is a document of the
    core, or `spots` that it is tied to and the document without its anchors. `annotate`: sets that are placed when the
    file is read, one after the other, beside what is listed. By a `rule` of the project, what `cut` and `style` do not
    say is as that has it, but for the lines that are `as_usual`."""

    key: Key
    parent: Key | None = None
    name: Annotated[str, Field(max_length=200)] = ""
    letter: Annotated[str, Field(max_length=8)] | None = None
    cut: dict[str, Any] | None = None
    callout: Callout | None = None
    style: dict[str, Any] = {}
    rule: Key | None = None
    as_usual: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=60)] = []
    annotate: Annotated[list[Rule], Field(max_length=8)] = []
    annotation: Annotated[list[dict[str, Any]], Field(max_length=5000)] = []
    touch_up: Annotated[list[TouchUp | Pointed], Field(max_length=2000)] = []


class ReferenceTable(_Table):
    """A region of a drawing that leads to another one which is there already."""

    drawing: Key
    target: Key
    region: Region
    marker: CalloutStyle = FREE


class PlacementTable(_Table):
    """A drawing on a sheet, its frame's lower left corner at (x, y) mm. Without a number it gets the next one."""

    drawing: Key
    x: OnPaper
    y: OnPaper
    number: Annotated[str, Field(max_length=10)] | None = None
    home: bool | None = None
    trim: Trim = Trim()
    title: PlacementTitle = PlacementTitle()


class SheetTable(_Table):
    """A sheet; of its placements the one on top last. `arrange`: drawings that are laid out in reading order when the
    file is read, instead of placements."""

    number: Annotated[str, Field(min_length=1, max_length=20, pattern=r"\S")]
    title: Annotated[str, Field(min_length=1, max_length=200)]
    size: SheetSize = "A1"
    design: Annotated[str, Field(max_length=60)] = CORNER
    folder: Annotated[str, Field(max_length=30)] = ""
    place: float = 0.0
    fields: SheetFields = SheetFields()
    placement: Annotated[list[PlacementTable], Field(max_length=60)] = []
    arrange: Annotated[list[Key], Field(max_length=60)] = []


class PartTable(_Table):
    """A file that a model is put together from, the one that leads first. What is not said is told by the file: its
    `name`, whose it is (`discipline`), where it lies (`place`); `key` is the same in all revisions of a part."""

    file: Path
    key: Annotated[str, Field(pattern=r"^([1-9][0-9]{0,5})?$")] = ""
    name: Annotated[str, Field(max_length=80)] = ""
    discipline: Discipline | None = None
    place: PartPlace | None = None


State = Path | Annotated[list[PartTable], Field(min_length=1, max_length=30)]


class ProjectFile(_Table):
    """A whole project. `model`: its file beside this one; of a model with revisions all of them, the oldest first, as
    the newest knows its elements by those before; one that is put together from several files is a list of them.
    `unit` and `up` of files that do not say them. `templates`, and the
    checks that are `unchecked`, are the application's; `materials` are classes by names, above all standards, and
    `material_here` what is said of them in single places; `correction`: to the model, as it is drawn."""

    edge_slice: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=200)]
    client: Annotated[str, Field(max_length=200)] = ""
    model: Path | Annotated[list[State], Field(min_length=1, max_length=100)]
    unit: Unit | None = None
    up: Up | None = None
    lengths: Lengths = "mm"
    names: NameTemplates = USUAL
    register_: Register = Field(default=Register(), alias="register")
    templates: list[dict[str, Any]] = []
    materials: Annotated[dict[str, Annotated[str, Field(max_length=60)]], Field(max_length=5000)] = {}
    material_here: MaterialsHere = []
    correction: Corrections = []
    unchecked: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=100)] = []
    ground: Grounds = NONE
    standard: Annotated[list[OwnStandard], Field(max_length=200)] = []
    shown_set: Annotated[list[OwnShownSet], Field(max_length=500)] = []
    shared_extents: Annotated[list[OwnExtents], Field(max_length=500)] = []
    design: Annotated[list[OwnDesign], Field(max_length=200)] = []
    drawing_rule: Annotated[list[OwnRule], Field(max_length=500)] = []
    table: Annotated[list[OwnTable], Field(max_length=200)] = []
    drawing: Annotated[list[DrawingTable], Field(max_length=5000)] = []
    reference: Annotated[list[ReferenceTable], Field(max_length=5000)] = []
    sheet: Annotated[list[SheetTable], Field(max_length=1000)] = []

    @property
    def states(self) -> list[str | list[PartTable]]:
        """The states of the model, the oldest first: a file, or the files that it is put together from."""
        return [self.model] if isinstance(self.model, str) else list(self.model)

    @property
    def models(self) -> list[str]:
        """All files of the model, each once."""
        named = [[s] if isinstance(s, str) else [part.file for part in s] for s in self.states]
        return list(dict.fromkeys(name for names in named for name in names))
