"""What a correction says."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

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
Stays = Literal["first", "last", "middle"]
TOPIC = r"^$|^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$"
DAY = r"^$|^[0-9]{4}-[0-9]{2}-[0-9]{2}$"
MOST_REMARKS = 50
Remarked = Annotated[str, Field(max_length=2200)]  # who, when, what
LEAST, MOST = 1e-4, 5.0  # metres that all layers together are thick at least, and one of them at most
MOST_LAYERS, MOST_ELEMENTS, MOST_CORRECTIONS = 40, 500, 2000


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


class _OfElements(_Asked):
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


class MovedElements(_OfElements):
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


class LeftOut(_OfElements):
    """Elements (GlobalIds) that shall not be there."""

    left_out: Literal[True]

    @property
    def subjects(self) -> tuple[str, ...]:
        return tuple(f"presence of {guid}" for guid in self.elements)


def _what(said: Any) -> str:
    """Which of them is meant, so that what is wrong is told of it alone."""
    named = said if isinstance(said, dict) else vars(said) if isinstance(said, BaseModel) else {}
    return next((field for field in ("layers", "left_out") if field in named), "elements")


Correction = Annotated[
    Annotated[BuildUpCorrection, Tag("layers")]
    | Annotated[LeftOut, Tag("left_out")]
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
