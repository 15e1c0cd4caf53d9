"""What goes in and out about the parts that a model is put together from."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Point
from edge_slice.core.model.building import Discipline
from edge_slice.core.model.parts.places import REACH, By, PartPlace

PartName = Annotated[str, Field(min_length=1, max_length=80)]
Coordinate = Annotated[float, Field(ge=-10 * REACH, le=10 * REACH, allow_inf_nan=False)]
Spot = tuple[Coordinate, Coordinate, Coordinate]


class PartState(BaseModel):
    """One part as it is in a revision; the first of them leads."""

    key: str
    name: str
    discipline: Discipline
    file_name: str
    file_hash: str
    geometry_hash: str
    place: PartPlace = PartPlace()
    read_as: dict[str, Any] = {}


class PartOut(BaseModel):
    """A part of a project's model. `since`: the revision of the whole in which it was changed last; `elements` counts
    those that are drawn of it, `left_out` those that another part holds as well, and draws, `differs` those of them
    that are not alike."""

    key: str
    name: str
    discipline: Discipline
    leads: bool
    file_name: str
    place: PartPlace
    since: int
    elements: int
    left_out: int
    differs: int


class FileNames(Input):
    names: list[Annotated[str, Field(max_length=300)]] = Field(max_length=100)


class NamedFile(BaseModel):
    """Whose a file is by its name alone; null where that says nothing."""

    name: str
    discipline: Discipline | None


class PartEdit(Input):
    """`leads`: it gives storeys, grid and north from now on. `points`: two points of the part, as they lie now, and the
    two of the whole that they are to come onto, metres from the model's zero; instead of a `place`."""

    name: PartName | None = None
    discipline: Discipline | None = None
    place: PartPlace | None = None
    points: tuple[Spot, Spot, Spot, Spot] | None = None
    leads: bool | None = None


class PartProposal(BaseModel):
    """Which part a file is that was read: `key` of the one that it is a newer state of, empty for one of its own;
    whether that is sure, and why; where it lies, by what, whether that is sure, and why not."""

    key: str = ""
    name: str
    discipline: Discipline
    sure: bool = True
    says: str = ""
    place: PartPlace = PartPlace()
    by: By = "coordinates"
    placed_surely: bool = True
    placed_says: str = ""


class PartChoice(Input):
    """What somebody says of a file that was read: which part it is (`key`, empty for one of its own), what it is
    called, whose it is, and where it lies: by a `place`, or by `points` as in `PartEdit`."""

    key: str | None = Field(default=None, max_length=20)
    name: PartName | None = None
    discipline: Discipline | None = None
    place: PartPlace | None = None
    points: tuple[Spot, Spot, Spot, Spot] | None = None


class Outline(BaseModel):
    """What an element takes on plan: its ring, metres from the model's zero; and from where to where it reaches."""

    ring: list[Point]
    low: float
    high: float


class PlacePicture(BaseModel):
    """A part beside the rest of the building, to be looked at before it is taken: both on plan and in height; the axes
    and storeys of both by name."""

    rest: list[Outline]
    part: list[Outline]
    axes: list[tuple[str, Point, Point]]
    part_axes: list[tuple[str, Point, Point]]
    levels: list[tuple[str, float]]
    part_levels: list[tuple[str, float]]
