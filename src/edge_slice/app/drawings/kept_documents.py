"""What is kept of a project for others: drawings, and besides them sheets, tables, annotation sets, the register."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut import CutSpec
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.cut.following.refit import ModelFrame
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.project.documents import PlacementTitle, SheetFields, Trim
from edge_slice.core.project.drawing_rules import DrawingRule
from edge_slice.core.sheet import SheetSize
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.tables.documents import TableSpec


class KeptDrawing(BaseModel):
    """`parent`: the place in the set of what a callout was called out from, counted from 0; strips name their section
    by its place, counted from 1. `sets`: the annotation sets that it has; `by_hand`, `touch_ups`: how
    many annotations and touch-ups it has besides, which stay with the elements of their model."""

    name: str
    cut: CutSpec
    style: DrawingSpec
    parent: int | None = None
    callout: Callout | None = None
    rule: str = ""
    sets: list[Rule] = []
    letter: str = ""
    by_hand: int = 0
    touch_ups: int = 0


class KeptNames(BaseModel):
    """What kept documents name by these keys that a project made itself: name and document."""

    standards: dict[str, tuple[str, dict[str, Any]]] = {}
    shown_sets: dict[str, tuple[str, dict[str, Any]]] = {}
    designs: dict[str, tuple[str, dict[str, Any]]] = {}


class KeptPlacement(BaseModel):
    """`drawing`: its place in the set, counted from 0."""

    drawing: int
    x: float
    y: float
    number: str
    trim: Trim = Trim()
    title: PlacementTitle = PlacementTitle()


class KeptSheet(BaseModel):
    """Without what it was issued as; its tables by their keys in the set."""

    number: str
    title: str
    size: SheetSize
    design: str
    folder: str
    fields: SheetFields
    placements: list[KeptPlacement]


class KeptSet(KeptNames):
    """`rules` are those that the drawings follow, by their keys. Sets that were kept before sheets were have none, and
    no register. `shared_extents`: the names of those, which stay with their model."""

    frame: ModelFrame
    drawings: list[KeptDrawing]
    rules: dict[str, DrawingRule] = {}
    sheets: list[KeptSheet] = []
    tables: dict[str, TableSpec] = {}
    templates: dict[str, Any] = {}
    unchecked: list[str] = []
    shared_extents: list[str] = []
    register_: Register | None = None
