"""What a correction says."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Discriminator,
    Field,
    Tag,
    TypeAdapter,
    field_validator,
    model_validator,
)

from edge_slice.core.model.corrections.new_documents import NewBody, NewLayer, NewRun
from edge_slice.core.model.corrections.saying import (
    LEAST,
    MOST,
    MOST_ELEMENTS,
    Along,
    Asked,
    Corner,
    FacePlane,
    Guid,
    Moved,
    Name,
    OfElements,
    Place,
)
from edge_slice.core.model.digests import digest_of_said

Going = Annotated[float, Field(ge=0.05, le=2.0, allow_inf_nan=False)]
Rise = Annotated[float, Field(ge=0.02, le=0.5, allow_inf_nan=False)]
Degrees = Annotated[float, Field(ge=-360.0, le=360.0, allow_inf_nan=False)]
Stays = Literal["first", "last", "middle"]
MOST_LAYERS, MOST_COPIES, MOST_CORRECTIONS = 40, 60, 2000
LEAST_TURNED = 0.2  # cosine between where a face looks and where it shall look


class WantedLayer(BaseModel):
    """A layer as it shall be, metres. A `material` that the model does not have is of the class `is_a`, or what words
    say of its name."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    material: Annotated[str, Field(min_length=1, max_length=300)]
    thickness: Annotated[float, Field(ge=0.0, le=MOST, allow_inf_nan=False)]
    is_a: Annotated[str, Field(max_length=60)] = ""


class BuildUpCorrection(Asked):
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


class MovedElements(OfElements):
    """Elements (GlobalIds) that shall stand elsewhere: turned together by `turn` degrees anticlockwise on plan round
    the middle between them, and moved by x, y and z metres. `stood`: the box of each one when that was said, low and
    high corner, metres as surveyed; from there it is moved, wherever a newer file has it. None: from where its file has
    it."""

    by: tuple[Moved, Moved, Moved] = (0.0, 0.0, 0.0)
    turn: Degrees = 0.0
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


class FaceElsewhere(Asked):
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


class OtherOpening(Asked):
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


class OtherMaterial(OfElements):
    """Elements (GlobalIds) that shall be of another `material`, or those of their parts that are of the material
    `in_place_of`. One that the model does not have is of the class `is_a`, or what words say of its name. `had`: of
    what each of them was when that was said; none: of what its file says."""

    material: Annotated[str, Field(min_length=1, max_length=300)]
    is_a: Annotated[str, Field(max_length=60)] = ""
    in_place_of: Name = ""
    had: Annotated[tuple[Name, ...], Field(max_length=MOST_ELEMENTS)] = ()

    @model_validator(mode="after")
    def _meant(self) -> OtherMaterial:
        if self.material == self.in_place_of:
            raise ValueError("corrections: say another material than the one that is there")
        if self.had and len(self.had) != len(self.elements):
            raise ValueError("corrections: say of what each of the elements was, or of none")
        return self

    @property
    def subjects(self) -> tuple[str, ...]:
        part = f" in place of {self.in_place_of}" if self.in_place_of else ""
        return tuple(f"material of {guid}{part}" for guid in self.elements)


class OtherFlight(Asked):
    """A straight flight of steps (`element`, GlobalId) with so many `risers`, of which each goes as far as `going`
    says, metres; together they rise as far as they did, or each by `rise`. `other_way`: up where it went down.
    `had`: risers, rise, going and the angle from x, degrees, along which it goes up when that was said; None: what its
    file has."""

    element: Guid
    risers: Annotated[int, Field(ge=2, le=80)]
    going: Going
    rise: Rise | None = None
    other_way: bool = False
    had: tuple[Annotated[int, Field(ge=0, le=1000)], Rise, Going, Degrees] | None = None

    @property
    def subjects(self) -> tuple[str, ...]:
        return (f"steps of {self.element}",)

    @property
    def asked_of(self) -> str:
        return self.element


class CopiedElements(OfElements):
    """Elements (GlobalIds) that shall be there once more: moved by each of `copies`, metres along x, y and up.
    `openings`: windows and doors have openings of their own there, in the walls and roofs that they come to stand in,
    which are as wide and high as the ones that they have."""

    openings: bool = False
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


def _what(said: Any) -> str:
    """Which of them is meant, so that what is wrong is told of it alone."""
    named = said if isinstance(said, dict) else vars(said) if isinstance(said, BaseModel) else {}
    told_by = ("layers", "left_out", "face", "looks", "copies", "risers", "outline", "path", "on", "material")
    return next((field for field in told_by if field in named), "elements")


Correction = Annotated[
    Annotated[BuildUpCorrection, Tag("layers")]
    | Annotated[LeftOut, Tag("left_out")]
    | Annotated[FaceElsewhere, Tag("face")]
    | Annotated[OtherOpening, Tag("looks")]
    | Annotated[CopiedElements, Tag("copies")]
    | Annotated[NewBody, Tag("outline")]
    | Annotated[NewRun, Tag("path")]
    | Annotated[NewLayer, Tag("on")]
    | Annotated[OtherMaterial, Tag("material")]
    | Annotated[OtherFlight, Tag("risers")]
    | Annotated[MovedElements, Tag("elements")],
    Discriminator(_what),
]


def wish_of(one: Correction) -> str:
    """What a correction asks for, whoever asks why, and whatever is known of that elsewhere."""
    return one.model_dump_json(exclude=set(Asked.model_fields))


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


LISTED: TypeAdapter[list[Correction]] = TypeAdapter(Corrections)


def digest_of(corrections: Sequence[Correction]) -> str:
    """Another text where something else is corrected, whoever says so; empty where nothing is."""
    return digest_of_said(corrections, exclude={*Asked.model_fields, "instead_of", "had"})
