"""What goes in and out about annotations, touch-ups and anchors."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, model_validator

from edge_slice.app.documents import Input, Point, RowId, Version
from edge_slice.core.annotating.documents import AnnotationDocument, Property
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.annotating.spots import Spot
from edge_slice.core.cut.anchors.anchor import State
from edge_slice.core.drawing.touching.touch_ups import Act, TouchUp

Mm = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]
Ids = Annotated[list[RowId], Field(min_length=1, max_length=2000)]
Settled = Annotated[list[RowId], Field(max_length=2000)]


class AnnotationNew(Input):
    """An annotation without its anchors, which are found at the spots; its points are mm in the drawing."""

    spots: Annotated[list[Spot], Field(min_length=1, max_length=200)]
    document: dict[str, Any]


class AnnotationEdit(Input):
    """`change`: what is another of its document; its points are where they stand now. `spots`: anchors by place in
    their list that are tied anew; with `replace`, they are all there are."""

    version: Version
    change: dict[str, Any] = Field(default={})
    spots: dict[int, Spot] = Field(default={}, max_length=200)
    replace: bool = False


class GripOut(BaseModel):
    name: str
    at: Point


class PathOut(BaseModel):
    """Lines (mm on paper): several runs of points; `pen` is width and colour; dashes are runs of their own."""

    role: str
    runs: list[list[Point]]
    closed: bool
    width: float | None
    colour: str | None
    fill: str | None


class SetRunOut(BaseModel):
    """A stretch of a text in one face and direction, from its left end, mm."""

    family: str
    text: str
    leftwards: bool
    x: float
    size: float


class LetteringOut(BaseModel):
    """`runs`: of a text that is not in the drawing face alone, in the order of the paper."""

    role: str
    text: str
    x: float
    y: float
    size: float
    colour: str
    align: Literal["left", "centre", "right"]
    angle: float
    runs: list[SetRunOut] | None = None


class ImageOut(BaseModel):
    name: str
    box: tuple[float, float, float, float]
    fade: float


class HeldOut(BaseModel):
    """Where an anchor is now, mm in the drawing; of a lost one where it was, and a likely new place, if there is."""

    state: State
    at: Point
    guess: Point | None


class LayerSaid(BaseModel):
    """What the model says of a layer (its place in the build-up)."""

    layer: int
    said: str


class AnnotationOut(BaseModel):
    """An annotation as it is drawn: `paths` and `texts` in mm on paper, `box` around them. Its document's `points` are
    where they stand now, mm in the drawing. `worded`: words or values were typed instead of what the model says;
    `shown`: it stands within the note margin; `layers`: of a layer note, line by line."""

    id: int
    drawing_id: int
    version: int
    document: AnnotationDocument
    state: State
    held: list[HeldOut]
    findings: list[str]
    worded: bool
    shown: bool
    box: tuple[float, float, float, float]
    grips: list[GripOut]
    paths: list[PathOut]
    texts: list[LetteringOut]
    images: list[ImageOut]
    layers: list[LayerSaid]


class AnnotationsAct(Input):
    """What is done with several annotations of a drawing in one act: moved by (mm in the drawing), aligned to the
    outermost one's left or right edge, top, base, or middle, spread evenly, given another style (of those that have
    it), deleted, or copied to another drawing."""

    ids: Ids
    act: Literal["move", "align", "spread", "style", "delete", "copy"]
    by: tuple[Mm, Mm] = (0.0, 0.0)
    to: Literal["left", "right", "top", "base", "upright", "level"] = "left"
    change: dict[str, Any] = Field(default={})
    drawing: RowId | None = None


class CrossedLine(Input):
    """A line over a drawing, mm in its axes: everything that it crosses is measured."""

    line: tuple[tuple[Mm, Mm], tuple[Mm, Mm]]


class SetWanted(Input):
    """An automatic set to place or to renew; `subject` is the wall whose openings are dimensioned; `says`: what labels
    say from now on, as those that are there do, or as usual, where it is empty."""

    rule: Rule
    subject: Annotated[str, Field(max_length=64)] = ""
    says: Annotated[tuple[Property, ...], Field(max_length=12)] = ()


class SetOut(BaseModel):
    """What placing or renewing a set did."""

    added: int
    changed: int
    removed: int
    kept: int
    findings: list[str]


class LevelSnap(BaseModel):
    """A level: GlobalId of the storey, its name, and its height in the drawing, mm."""

    guid: str
    name: str
    v: float


class GridSnap(BaseModel):
    """A grid line by name, where it is in the drawing, mm."""

    name: str
    start: Point
    end: Point


class SnapsOut(BaseModel):
    """Places of a drawing (mm in its axes) that annotations can be tied to: corners and vertices as u and v in turn,
    sides as u0, v0, u1, v1; levels and grid lines by name where they are."""

    corners: list[float]
    vertices: list[float]
    sides: list[float]
    levels: list[LevelSnap]
    grid: list[GridSnap]


class FoundText(BaseModel):
    """An annotation that holds the words looked for."""

    id: int
    drawing_id: int
    drawing: str
    kind: str
    text: str


class TouchUpEdit(Input):
    """Another style of a touch-up."""

    version: Version
    style: dict[str, Any]


class TouchUpOut(BaseModel):
    """`said`: what it does, in words."""

    id: int
    drawing_id: int
    version: int
    act: Act
    said: str
    document: TouchUp


class AnchorOut(BaseModel):
    """Something that was tied to the model and is not where it was: of a drawing an annotation, touch-up or callout.
    `moved`: by how much in the model, mm, where all that it is tied to moved by one and the same."""

    what: Literal["annotation", "touch-up", "callout", "drawing"]
    id: int
    drawing_id: int
    drawing: str
    said: str
    state: State
    reason: str
    version: int
    box: tuple[float, float, float, float] | None = None
    can_guess: bool = False
    moved: tuple[float, float, float] | None = None


class Settling(Input):
    """How near and lost ones are settled, in one act: `accept` where they are now (a lost one: at the likely new
    place), or `free`: they stay where they are, tied to the place itself."""

    annotations: Settled = Field(default=[])
    touch_ups: Settled = Field(default=[])
    callouts: Settled = Field(default=[])
    how: Literal["accept", "free"]

    @model_validator(mode="after")
    def _some(self) -> Settling:
        if not (self.annotations or self.touch_ups or self.callouts):
            raise ValueError("annotations: say what is to be settled")
        return self


class CopyWanted(Input):
    """A copy of a drawing with what it has of its own, as chosen; `one_letter`: of a section or elevation, another
    drawing of the same cut, under its letter and its marker."""

    name: str = Field(default="", max_length=200)
    one_letter: bool = False
    annotations: bool = True
    touch_ups: bool = True
    levels: bool = True
