"""Tables as they go in and out of the use cases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Version
from edge_slice.core.tables.documents import Key, Kind, TableSpec, Words


class TableOut(BaseModel):
    """`key` is what sheets name it by; `sheets`: the numbers of those that it stands on."""

    id: int
    project_id: int
    key: str
    spec: TableSpec
    sheets: list[str]
    version: int


class TableNew(Input):
    """A table as most people want it, of a kind; `of`: the kind of element of a table of elements."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Kind
    of: Annotated[str, Field(max_length=80)] = ""


class TableEdit(Input):
    version: Version
    spec: TableSpec


class CellTyped(Input):
    """What is typed into an own column; an empty text empties it."""

    column: Key
    target: Annotated[str, Field(max_length=300)]
    text: Words


class CellsTyped(Input):
    cells: Annotated[list[CellTyped], Field(min_length=1, max_length=100_000)]


class LineOut(BaseModel):
    """`cells`: what stands in each column."""

    what: Literal["row", "group", "total"]
    target: str
    level: int
    cells: list[str]


class PictureLinesOut(BaseModel):
    """Lines of an element as an SVG path, mm from its upper left corner down."""

    target: str
    column: str
    wide: float
    high: float
    path: str


class FieldOut(BaseModel):
    key: str
    head: str
    unit: str


class TableContentOut(BaseModel):
    """What a table reads now. `fields` and `properties`: what its columns may show."""

    spec: TableSpec
    version: int
    units: list[str]
    lines: list[LineOut]
    notes: list[str]
    count: int
    fields: list[FieldOut]
    properties: list[str]


class CellChangeOut(BaseModel):
    """A cell that a file has otherwise; `row`: what its row is called."""

    column: str
    target: str
    row: str
    before: str
    after: str


class TakenBackOut(BaseModel):
    """What a file would change, and what of it was not understood; nothing is saved."""

    changes: list[CellChangeOut]
    notes: list[str]


class KindOut(BaseModel):
    """A kind of table, and how many rows it would have."""

    kind: Kind
    of: str
    count: int


class InTableOut(BaseModel):
    """A table that has a row of an element or a room."""

    table: int
    name: str
    target: str
