"""Sheets, placements, designs and the register as they go in and out of the use cases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, RowId, Version
from edge_slice.core.project.documents import OnPaper, PlacementTitle, SheetFields, Trim
from edge_slice.core.sheet import SheetDesign, SheetSize

PaperBox = tuple[float, float, float, float]


class PlacementOut(BaseModel):
    """`box` is what is shown of the frame on the sheet in mm: left, base, right, top; `whole` the frame without
    trimming. `home`: markers show the number of this placement of the drawing."""

    id: int
    sheet_id: int
    drawing_id: int
    number: str
    x: float
    y: float
    home: bool
    trim: Trim
    title: PlacementTitle
    stack: int
    version: int
    box: PaperBox
    whole: PaperBox


class AreaOut(BaseModel):
    name: str
    box: PaperBox


class SheetOut(BaseModel):
    """`picture` is another text whenever the sheet looks different. `folder` is the key of its folder, `place` where
    it stands in it; `areas` are where drawings are laid out, `frame` what the margins leave. `issued`: the code of the
    newest issue that it was in."""

    id: int
    project_id: int
    number: str
    title: str
    size: SheetSize
    width: float
    height: float
    design: str
    folder: str
    place: float
    fields: SheetFields
    version: int
    frame: PaperBox
    areas: list[AreaOut]
    placements: list[PlacementOut]
    issued: str
    picture: str


class SheetPictures(Input):
    """Sheets whose pictures are wanted together."""

    ids: Annotated[list[RowId], Field(min_length=1, max_length=50)]


class SheetNew(Input):
    """Without a number it gets the next one of its folder; without a folder it comes into the one for drawings like
    the one it is made `for_drawing`."""

    number: str = Field(default="", max_length=20)
    title: str = Field(default="", max_length=200)
    size: SheetSize = "A1"
    design: str = Field(default="corner-block", max_length=40)
    folder: str = Field(default="", max_length=30)
    for_drawing: RowId | None = None


class SheetEdit(Input):
    version: Version
    number: str | None = Field(default=None, min_length=1, max_length=20, pattern=r"\S")
    title: str | None = Field(default=None, min_length=1, max_length=200)
    size: SheetSize | None = None
    design: str | None = Field(default=None, max_length=40)
    folder: str | None = Field(default=None, max_length=30)
    fields: SheetFields | None = None


class PlacementNew(Input):
    """Where told: at (x, y), or in a drawing area; else in the first free area, else in the first free place."""

    drawing_id: RowId
    x: OnPaper | None = None
    y: OnPaper | None = None
    area: str | None = Field(default=None, max_length=60)


class PlacementEdit(Input):
    """`home`: true makes this the placement whose number markers show. `area`: to the middle of that drawing area.
    `drawing_id`: exchanged for that drawing, which takes its place, number, trim and title."""

    version: Version
    drawing_id: RowId | None = None
    x: OnPaper | None = None
    y: OnPaper | None = None
    number: str | None = Field(default=None, min_length=1, max_length=10, pattern=r"\S")
    home: Literal[True] | None = None
    trim: Trim | None = None
    title: PlacementTitle | None = None
    stack: Literal["front", "back"] | None = None
    area: str | None = Field(default=None, max_length=60)


class PlacementsMoved(Input):
    """Several placements of a sheet moved in one act: each with the version that is moved and where it shall stand."""

    class Move(Input):
        id: RowId
        version: Version
        x: OnPaper
        y: OnPaper

    moves: Annotated[list[Move], Field(min_length=1, max_length=60)]


class Arrangement(Input):
    """Drawings to arrange on a sheet, in this order; `all`: those that stand there already are arranged anew with them.
    `numbers`: number all by reading order. `smallest`: the sheet takes the smallest size on which all find room;
    `largest`: the drawings, which have one scale, take the largest one at which all find room on it."""

    drawings: Annotated[list[RowId], Field(max_length=60)] = Field(default=[])
    all: bool = False
    numbers: bool = False
    smallest: bool = False
    largest: bool = False


class LeftOver(BaseModel):
    """A drawing that found no room, and what would help."""

    drawing: int
    title: str
    says: str


class ArrangedOut(BaseModel):
    sheet: SheetOut
    left_over: list[LeftOver]


class GuideOut(BaseModel):
    """A line of a placement that others snap to: across or up the sheet at a place (mm). Two guides of the same `of`
    can be brought together: the same level, the same grid line, the same axis of the model."""

    placement: int
    way: Literal["x", "y"]
    at: float
    of: str
    says: str


class DesignOut(BaseModel):
    """`key` is what sheets name it by; `id` is null for those that come with the application. `problems`: what has no
    room on the sizes that the project's sheets of this design have."""

    key: str
    id: int | None
    name: str
    version: int
    document: SheetDesign
    sheets: int
    problems: list[str]


class DesignNew(Input):
    """A copy of another design under a name, or one that was exported before."""

    copy_of: str = "corner-block"
    name: str | None = Field(default=None, min_length=1, max_length=60, pattern=r"\S")
    document: SheetDesign | None = None


class DesignEdit(Input):
    version: Version
    document: SheetDesign


class DesignPreview(Input):
    """A design to draw on a sheet without saving it."""

    document: SheetDesign


class RenumberWanted(Input):
    """Sheets in the order in which they are to be numbered, each in its folder, from a counter on. `apply`: false
    shows what would become of them."""

    sheets: Annotated[list[RowId], Field(min_length=1, max_length=1000)]
    start: Annotated[int, Field(ge=0, le=100_000)] = 1
    apply: bool = False


class Renumbered(BaseModel):
    """`drawings`: how many drawings stand on it; `markers`: on how many drawings a marker says the number."""

    sheet: int
    title: str
    before: str
    after: str
    drawings: int
    markers: int


class RenumberOut(BaseModel):
    sheets: list[Renumbered]
    applied: bool


class Reordered(Input):
    """All sheets of a folder in their new order; sheets of other folders among them come into it."""

    folder: str = Field(max_length=30)
    sheets: Annotated[list[RowId], Field(min_length=1, max_length=1000)]
