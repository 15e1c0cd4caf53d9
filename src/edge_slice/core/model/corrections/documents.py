"""What a correction says."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal

import shapely
from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Discriminator,
    Field,
    Tag,
    field_validator,
    model_validator,
)

from edge_slice.core.model.digests import digest_of_said

Name = Annotated[str, Field(max_length=300)]
Guid = Annotated[str, Field(min_length=1, max_length=300)]
Author = Annotated[str, Field(max_length=100)]
Reason = Annotated[str, Field(max_length=500)]
Moved = Annotated[float, Field(ge=-1000.0, le=1000.0, allow_inf_nan=False)]  # metres
Place = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]  # metres
Corner = tuple[Place, Place, Place]
Along = Annotated[float, Field(ge=-1.0, le=1.0, allow_inf_nan=False)]
Stays = Literal["first", "last", "middle"]
UUID = "[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}"
TOPIC = rf"^$|^{UUID}$"
DAY = r"^$|^[0-9]{4}-[0-9]{2}-[0-9]{2}$"
NEW_GUID = r"^$|^[0-9A-Za-z_$]{22}$"  # as IFC files write them (ISO 16739)
MOST_REMARKS = 50
Remarked = Annotated[str, Field(max_length=2200)]  # who, when, what
LEAST, MOST = 1e-4, 5.0  # metres that all layers together are thick at least, and one of them at most
MOST_LAYERS, MOST_ELEMENTS, MOST_CORRECTIONS = 40, 500, 2000
MOST_COPIES = 60
NewKind = Literal["wall", "slab", "column", "beam", "member", "footing", "covering", "accessory", "object"]
BACK = 0.9  # cosine between two stretches of a run of which the second goes back along the first
LEAST_TURNED = 0.2  # cosine between where a face looks and where it shall look


class WantedLayer(BaseModel):
    """A layer as it shall be, metres. A `material` that the model does not have is of the class `is_a`, or what words
    say of its name."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    material: Annotated[str, Field(min_length=1, max_length=300)]
    thickness: Annotated[float, Field(ge=0.0, le=MOST, allow_inf_nan=False)]
    is_a: Annotated[str, Field(max_length=60)] = ""


class Answered(BaseModel):
    """What somebody answered to a correction that was asked for: the last `status` and remarks."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    status: Annotated[str, Field(max_length=100)] = ""
    remarks: Annotated[tuple[Remarked, ...], Field(max_length=MOST_REMARKS)] = ()


class _Asked(BaseModel):
    """Who asks why; `topic`: under which name (UUID) it is sent to others; `asked`: the day on which it last was;
    `answer`: what they said to it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    author: Author = ""
    reason: Reason = ""
    topic: Annotated[str, Field(pattern=TOPIC)] = ""
    asked: Annotated[str, Field(pattern=DAY)] = ""
    answer: Answered | None = None


class BuildUpCorrection(_Asked):
    """The layers that one `element` (GlobalId), or all elements of one `build_up` (name), shall have, in the order of
    the file's, and which face `stays` where it is: that of the first layer, of the last, or the middle between both.
    What is said of an element goes before what is said of its build-up. `instead_of`: the layers that the file had when
    that was said, if anybody knows; where a newer file has others than both, somebody is asked."""

    element: Name = ""
    build_up: Name = ""
    layers: Annotated[tuple[WantedLayer, ...], Field(min_length=1, max_length=MOST_LAYERS)]
    stays: Stays = "first"
    instead_of: Annotated[tuple[WantedLayer, ...], Field(max_length=MOST_LAYERS)] = ()

    @model_validator(mode="after")
    def _meant(self) -> BuildUpCorrection:
        if bool(self.element) == bool(self.build_up):
            raise ValueError("corrections: say one element or one build-up")
        if sum(layer.thickness for layer in self.layers) < LEAST:
            raise ValueError("corrections: all layers together have no thickness")
        return self

    @property
    def subjects(self) -> tuple[str, ...]:
        """What it is a correction of; there is one of the same."""
        return (f"layers of {self.element}" if self.element else f"build-up {self.build_up}",)

    @property
    def asked_of(self) -> str:
        """What it is a correction of, for people, if it has no name."""
        return self.build_up or self.element


class OfElements(_Asked):
    """What is said of some elements (GlobalIds)."""

    elements: Annotated[tuple[Guid, ...], Field(min_length=1, max_length=MOST_ELEMENTS)]

    @field_validator("elements")
    @classmethod
    def _once(cls, said: tuple[str, ...]) -> tuple[str, ...]:
        if len(set(said)) < len(said):
            raise ValueError("corrections: an element is named twice")
        return said

    @property
    def asked_of(self) -> str:
        return ", ".join(self.elements)


class MovedElements(OfElements):
    """Elements (GlobalIds) that shall stand elsewhere: turned together by `turn` degrees anticlockwise on plan round
    the middle between them, and moved by x, y and z metres. `stood`: the box of each one when that was said, low and
    high corner, metres as surveyed; from there it is moved, wherever a newer file has it. None: from where its file has
    it."""

    by: tuple[Moved, Moved, Moved] = (0.0, 0.0, 0.0)
    turn: Annotated[float, Field(ge=-360.0, le=360.0, allow_inf_nan=False)] = 0.0
    stood: Annotated[tuple[tuple[Corner, Corner], ...], Field(max_length=MOST_ELEMENTS)] = ()

    @model_validator(mode="after")
    def _meant(self) -> MovedElements:
        if not any(self.by) and not self.turn % 360.0:
            raise ValueError("corrections: say by how much elements are moved or turned")
        if self.stood and len(self.stood) != len(self.elements):
            raise ValueError("corrections: say where each of the elements stood, or of none")
        return self

    @property
    def subjects(self) -> tuple[str, ...]:
        return tuple(f"place of {guid}" for guid in self.elements)


class LeftOut(OfElements):
    """Elements (GlobalIds) that shall not be there."""

    left_out: Literal[True]

    @property
    def subjects(self) -> tuple[str, ...]:
        return tuple(f"presence of {guid}" for guid in self.elements)


class FacePlane(BaseModel):
    """The plane of a face: the unit vector that it looks along, and how far along that from the zero it lies, metres as
    surveyed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    looks: tuple[Along, Along, Along]
    at: Place

    @field_validator("looks")
    @classmethod
    def _unit(cls, said: tuple[float, float, float]) -> tuple[float, float, float]:
        if abs(math.hypot(*said) - 1.0) > 1e-6:
            raise ValueError("corrections: a face looks along a vector of length 1")
        return said


class FaceElsewhere(_Asked):
    """A flat face of one `element` (GlobalId) that lay in the plane `face` when that was said, and shall lie in the
    plane `to`; the faces beside it stay in theirs. `onto`: the element up to which that is, for people."""

    element: Guid
    face: FacePlane
    to: FacePlane
    onto: Name = ""

    @model_validator(mode="after")
    def _meant(self) -> FaceElsewhere:
        if self.face == self.to:
            raise ValueError("corrections: say where the face shall lie")
        if sum(a * b for a, b in zip(self.face.looks, self.to.looks, strict=True)) < LEAST_TURNED:
            raise ValueError("corrections: a face can't look another way")
        return self

    @property
    def subjects(self) -> tuple[str, ...]:
        x, y, z = (round(v, 3) + 0.0 for v in self.face.looks)
        return (f"face {x} {y} {z} at {round(self.face.at, 3) + 0.0} of {self.element}",)

    @property
    def asked_of(self) -> str:
        return self.element


class OtherOpening(_Asked):
    """The opening of a window or door (`element`, GlobalId) with that in it, of another size or elsewhere in its wall:
    by how many metres its sides move, `left` and `right` towards the right as somebody sees them who looks along
    `looks` (unit vector square to the wall or roof), `sill` and `head` upwards. `stood`: where the four sides of the
    window lay when that was said, in that order, metres along the same directions as surveyed; None: where its file
    has them."""

    element: Guid
    looks: tuple[Along, Along, Along]
    left: Moved = 0.0
    right: Moved = 0.0
    sill: Moved = 0.0
    head: Moved = 0.0
    stood: tuple[Place, Place, Place, Place] | None = None

    @model_validator(mode="after")
    def _meant(self) -> OtherOpening:
        if not any((self.left, self.right, self.sill, self.head)):
            raise ValueError("corrections: say which sides of the opening lie elsewhere")
        if abs(math.hypot(*self.looks) - 1.0) > 1e-6:
            raise ValueError("corrections: an opening is seen along a vector of length 1")
        return self

    @property
    def subjects(self) -> tuple[str, ...]:
        return (f"opening of {self.element}",)

    @property
    def asked_of(self) -> str:
        return self.element


class CopiedElements(OfElements):
    """Elements (GlobalIds) that shall be there once more: moved by each of `copies`, metres along x, y and up."""

    copies: Annotated[tuple[tuple[Moved, Moved, Moved], ...], Field(min_length=1, max_length=MOST_COPIES)]

    @field_validator("copies")
    @classmethod
    def _apart(cls, said: tuple[tuple[float, float, float], ...]) -> tuple[tuple[float, float, float], ...]:
        if len({(0.0, 0.0, 0.0), *said}) <= len(said):
            raise ValueError("corrections: two copies stand in one place, or one where it is copied from")
        return said

    @property
    def subjects(self) -> tuple[str, ...]:
        return tuple(f"copies of {guid}" for guid in self.elements)


class NewThing(_Asked):
    """What is in no file. `body`: the GlobalId that it has; empty: one is given to it."""

    body: Annotated[str, Field(pattern=NEW_GUID)] = ""
    name: Annotated[str, Field(min_length=1, max_length=200)]
    kind: NewKind
    material: Annotated[str, Field(min_length=1, max_length=300)]
    is_a: Annotated[str, Field(max_length=60)] = ""

    @property
    def subjects(self) -> tuple[str, ...]:
        return (f"new {self.body}",) if self.body else ()

    @property
    def asked_of(self) -> str:
        return self.name


class NewBody(NewThing):
    """An `outline` in a plane, whose zero is `at` (metres as surveyed) and whose axes are the unit vectors `x` and `y`,
    extruded along x × y from `start` to `end`, metres."""

    outline: Annotated[tuple[tuple[Moved, Moved], ...], Field(min_length=3, max_length=200)]
    at: Corner
    x: tuple[Along, Along, Along]
    y: tuple[Along, Along, Along]
    start: Moved
    end: Moved

    @model_validator(mode="after")
    def _meant(self) -> NewBody:
        square = abs(sum(a * b for a, b in zip(self.x, self.y, strict=True))) < 1e-6
        if not square or abs(math.hypot(*self.x) - 1.0) > 1e-6 or abs(math.hypot(*self.y) - 1.0) > 1e-6:
            raise ValueError("corrections: the axes of an outline are square to each other and of length 1")
        if self.end - self.start < LEAST:
            raise ValueError("corrections: what is new ends after it begins")
        ring = shapely.Polygon(self.outline)
        if not ring.is_valid or ring.area < LEAST * LEAST:
            raise ValueError("corrections: an outline crosses itself, or has no area")
        return self


class NewRun(NewThing):
    """A pipe, gutter, rail or the like along a `path` (metres as surveyed), which is its middle: so `wide` and `high`,
    metres, `round` or with corners."""

    path: Annotated[tuple[Corner, ...], Field(min_length=2, max_length=100)]
    wide: Annotated[float, Field(ge=0.002, le=MOST, allow_inf_nan=False)]
    high: Annotated[float, Field(ge=0.002, le=MOST, allow_inf_nan=False)]
    round: bool = False

    @model_validator(mode="after")
    def _meant(self) -> NewRun:
        steps = [tuple(q - p for p, q in zip(a, b, strict=True)) for a, b in pairwise(self.path)]
        if min(math.hypot(*step) for step in steps) < LEAST:
            raise ValueError("corrections: two points of a run lie on each other")
        for a, b in pairwise(steps):
            if sum(p * q for p, q in zip(a, b, strict=True)) < -BACK * math.hypot(*a) * math.hypot(*b):
                raise ValueError("corrections: a run turns back on itself")
        return self


def _what(said: Any) -> str:
    """Which of them is meant, so that what is wrong is told of it alone."""
    named = said if isinstance(said, dict) else vars(said) if isinstance(said, BaseModel) else {}
    told_by = ("layers", "left_out", "face", "looks", "copies", "outline", "path")
    return next((field for field in told_by if field in named), "elements")


Correction = Annotated[
    Annotated[BuildUpCorrection, Tag("layers")]
    | Annotated[LeftOut, Tag("left_out")]
    | Annotated[FaceElsewhere, Tag("face")]
    | Annotated[OtherOpening, Tag("looks")]
    | Annotated[CopiedElements, Tag("copies")]
    | Annotated[NewBody, Tag("outline")]
    | Annotated[NewRun, Tag("path")]
    | Annotated[MovedElements, Tag("elements")],
    Discriminator(_what),
]


def wish_of(one: Correction) -> str:
    """What a correction asks for, whoever asks why, and whatever is known of that elsewhere."""
    return one.model_dump_json(exclude=set(_Asked.model_fields))


def _each_once(said: list[Correction]) -> list[Correction]:
    """Raises ValueError where two are of the same, or are sent under one name."""
    topics = [one.topic for one in said if one.topic]
    if len(set(topics)) < len(topics):
        raise ValueError("corrections: two are sent under one name")
    subjects = [subject for one in said for subject in one.subjects]
    if len(set(subjects)) < len(subjects):
        twice = next(subject for subject in subjects if subjects.count(subject) > 1)
        raise ValueError(f"corrections: there are two of the {twice}")
    return said


Corrections = Annotated[list[Correction], Field(max_length=MOST_CORRECTIONS), AfterValidator(_each_once)]


def digest_of(corrections: Sequence[Correction]) -> str:
    """Another text where something else is corrected, whoever says so; empty where nothing is."""
    return digest_of_said(corrections, exclude={*_Asked.model_fields, "instead_of"})
