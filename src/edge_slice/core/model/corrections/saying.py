"""What every correction says: who asks why, of which elements, of which face."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, field_validator

Name = Annotated[str, Field(max_length=300)]
Guid = Annotated[str, Field(min_length=1, max_length=300)]
Author = Annotated[str, Field(max_length=100)]
Reason = Annotated[str, Field(max_length=500)]
Moved = Annotated[float, Field(ge=-1000.0, le=1000.0, allow_inf_nan=False)]  # metres
Place = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]  # metres
Corner = tuple[Place, Place, Place]
Along = Annotated[float, Field(ge=-1.0, le=1.0, allow_inf_nan=False)]
UUID = "[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}"
TOPIC = rf"^$|^{UUID}$"
DAY = r"^$|^[0-9]{4}-[0-9]{2}-[0-9]{2}$"
MOST_REMARKS = 50
Remarked = Annotated[str, Field(max_length=2200)]  # who, when, what
LEAST, MOST = 1e-4, 5.0  # metres that all layers together are thick at least, and one of them at most
MOST_ELEMENTS = 500


class Answered(BaseModel):
    """What somebody answered to a correction that was asked for: the last `status` and remarks."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    status: Annotated[str, Field(max_length=100)] = ""
    remarks: Annotated[tuple[Remarked, ...], Field(max_length=MOST_REMARKS)] = ()


class Asked(BaseModel):
    """Who asks why; `topic`: under which name (UUID) it is sent to others; `asked`: the day on which it last was;
    `answer`: what they said to it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    author: Author = ""
    reason: Reason = ""
    topic: Annotated[str, Field(pattern=TOPIC)] = ""
    asked: Annotated[str, Field(pattern=DAY)] = ""
    answer: Answered | None = None


class OfElements(Asked):
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
