"""What a project consists of, wherever it is kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Protocol

from edge_slice.core.cut.following.shared_extents import ExtentsBox
from edge_slice.core.cut.shown import ShownRule
from edge_slice.core.cut.spec import Hold
from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.wanted import Corrected
from edge_slice.core.model.ground.documents import Grounds
from edge_slice.core.project.naming import NameTemplates
from edge_slice.core.sheet import IssuedRow, SheetDesign
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.tables.documents import TableDocument

Placed = Mapping[int, tuple[str, str]]  # number and sheet of the homes of drawings
TouchUps = tuple[tuple[str, TouchUp], ...]  # each with its source


class DrawingRow(Protocol):
    """A drawing: `cut`, `callout` and `style` are documents of the core."""

    id: int | None
    parent_id: int | None
    letter: str
    name: str
    cut: dict[str, Any]
    callout: dict[str, Any] | None
    style: dict[str, Any]
    rule: str
    version: int


class ReferenceRow(Protocol):
    """A region of a drawing that another one enlarges which was there already."""

    id: int | None
    drawing_id: int
    target_id: int
    region: dict[str, Any]
    marker: dict[str, Any]


class AnnotationRow(Protocol):
    id: int | None
    document: dict[str, Any]
    version: int


class SheetRow(Protocol):
    id: int | None
    number: str
    title: str
    size: str
    design: str
    folder: str
    place: float
    fields: dict[str, Any]


class PlacementRow(Protocol):
    id: int | None
    sheet_id: int
    drawing_id: int
    number: str
    x: float
    y: float
    home: bool
    trim: dict[str, Any]
    title: dict[str, Any]


class Source(Protocol):
    """A project with one revision of its model. `key` is another text for another project, `geometry` for another
    model; `facts` are what names say of the model (`naming.named_facts`)."""

    @property
    def key(self) -> str: ...
    @property
    def geometry(self) -> str: ...
    @property
    def facts(self) -> Mapping[str, Any]: ...
    @property
    def model(self) -> Model: ...
    @property
    def corrected(self) -> tuple[Model, Sequence[Corrected]]:
        """The model as its file has it, and what became of each correction with that."""
        ...

    @property
    def grounds(self) -> Grounds:
        """What ground the project says it has; `model` stands in it."""

    @property
    def name(self) -> str: ...
    @property
    def client(self) -> str: ...
    @property
    def lengths(self) -> Lengths: ...
    @property
    def names(self) -> NameTemplates: ...
    @property
    def register(self) -> Register: ...

    def by(self, held: Hold | None) -> tuple[Source, str]:
        """The project with its model as a held drawing shows it, and what is wrong where that isn't there any more:
        then, and for one that isn't held, as it is."""

    def revisions(self) -> Sequence[int]:
        """The numbers of the revisions of its model."""

    def boxes(self) -> Mapping[str, ExtentsBox]:
        """Shared extents by their key."""

    def rule(self, key: str) -> ShownRule | None:
        """A shown set; None for no set, or one that is not there any more."""

    def standard(self, key: str) -> DrawingStandard:
        """A drawing standard. Raises `Refused` for one that the project does not have."""

    def design(self, key: str) -> SheetDesign:
        """A sheet design. Raises `Refused` for one that the project does not have."""

    def table(self, key: str) -> TableDocument | None:
        """A table; None for one that is not there any more."""

    def title_form(self, rule: str) -> str:
        """How drawings that follow a rule are named, empty as the project says."""

    def drawings(self) -> Sequence[DrawingRow]:
        """All, in the order in which they were made."""

    def drawing(self, number: int | None) -> DrawingRow | None: ...

    def callouts(self) -> Sequence[DrawingRow]:
        """The drawings that are called out from another one."""

    def references(self) -> Sequence[ReferenceRow]:
        """All, in the order in which they were made."""

    def homes(self) -> Placed:
        """Number and sheet of each drawing that stands on a sheet, at its home."""

    def touch_ups(self, drawing: int | None) -> TouchUps:
        """The touch-ups of a drawing, in the order in which they were made."""

    def annotations(self, drawing: int) -> Sequence[AnnotationRow]:
        """The annotations of a drawing, in the order in which they were made."""

    def issued(self) -> Mapping[int, tuple[IssuedRow, ...]]:
        """The rows of revision tables by sheet, the newest issue first."""

    def picture(self, name: str) -> bytes:
        """The bytes of a picture by its name."""
