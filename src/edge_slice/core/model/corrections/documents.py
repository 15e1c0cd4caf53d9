"""What a correction says."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.model.digests import digest_of_said

Name = Annotated[str, Field(max_length=300)]
Stays = Literal["first", "last", "middle"]
LEAST, MOST = 1e-4, 5.0  # metres that a layer is thick
MOST_LAYERS, MOST_CORRECTIONS = 40, 2000


class WantedLayer(BaseModel):
    """A layer as it shall be, metres. A `material` that the model does not have is of the class `is_a`, or what words
    say of its name."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    material: Annotated[str, Field(min_length=1, max_length=300)]
    thickness: Annotated[float, Field(ge=LEAST, le=MOST, allow_inf_nan=False)]
    is_a: Annotated[str, Field(max_length=60)] = ""


class BuildUpCorrection(BaseModel):
    """The layers that one `element` (GlobalId), or all elements of one `build_up` (name), shall have, in the order of
    the file's, and which face `stays` where it is: that of the first layer, of the last, or the middle between both.
    What is said of an element goes before what is said of its build-up."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    element: Name = ""
    build_up: Name = ""
    layers: Annotated[tuple[WantedLayer, ...], Field(min_length=1, max_length=MOST_LAYERS)]
    stays: Stays = "first"
    author: Annotated[str, Field(max_length=100)] = ""
    reason: Annotated[str, Field(max_length=500)] = ""

    @model_validator(mode="after")
    def _meant(self) -> BuildUpCorrection:
        if bool(self.element) == bool(self.build_up):
            raise ValueError("corrections: say one element or one build-up")
        return self

    @property
    def of(self) -> tuple[str, str]:
        """What it is a correction of; there is one of the same."""
        return self.element, self.build_up


def _each_once(said: list[BuildUpCorrection]) -> list[BuildUpCorrection]:
    """Raises ValueError where two are of the same."""
    if len({one.of for one in said}) < len(said):
        raise ValueError("corrections: there are two of the same element or build-up")
    return said


Corrections = Annotated[list[BuildUpCorrection], Field(max_length=MOST_CORRECTIONS), AfterValidator(_each_once)]


def digest_of(corrections: Sequence[BuildUpCorrection]) -> str:
    """Another text where something else is corrected, whoever says so; empty where nothing is."""
    return digest_of_said(corrections, exclude={"author", "reason"})
