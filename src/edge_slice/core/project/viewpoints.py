"""Viewpoints: whence a model is looked at, what opens it, what of it shows, and how."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.cut.spec import MOST_LEFT_OUT, Guid, TakingPlane, Triple
from edge_slice.core.drawing.sunlight import Sun

Word = Annotated[str, Field(max_length=60)]
Number = Annotated[int, Field(ge=1, le=2_147_483_647)]
Kinds = Annotated[tuple[Word, ...], Field(max_length=100)]
AS_DRAWN = "as drawn"  # in place of a shown set: what the drawing that opens the model leaves out is left out
LEAST = 1e-3  # metres between the eye and what it looks at


class _Said(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Eye(_Said):
    """Where the eye is, and what it looks at, metres; `flat`: without perspective."""

    at: Triple
    to: Triple
    flat: bool = False

    @model_validator(mode="after")
    def _looks_somewhere(self) -> Eye:
        if math.dist(self.at, self.to) < LEAST:
            raise ValueError("the eye must stand off from what it looks at")
        return self


class OpenedBy(_Said):
    """What opens the model: a plane of its own (a slice of some `thickness`, metres), or the cuts of drawings, or a box
    of shared extents, by their numbers."""

    plane: TakingPlane | None = None
    thickness: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None
    drawing: Number | None = None
    others: Annotated[tuple[Number, ...], Field(max_length=8)] = ()
    box: Number | None = None


class Looks(_Said):
    """What shows and how: kinds and elements (GlobalId) that are left out, kinds that are seen through, one storey
    (GlobalId) alone; by a shown set (or `AS_DRAWN`) and the colours of a standard. `removed`: what is cut off is gone,
    a ghost or an outline; `ghost`: what is hidden is one."""

    without: Kinds = ()
    left_out: Annotated[tuple[Guid, ...], Field(max_length=MOST_LEFT_OUT)] = ()
    see_through_kinds: Kinds = ()
    storey: Word = ""
    shown_set: Word = ""
    standard: Word = ""
    colours: Literal["kind", "material"] = "material"
    removed: Literal["gone", "ghost", "outline"] = "gone"
    ghost: bool = False
    sun: Sun | None = None


class Seen(_Said):
    """All that a viewpoint keeps of a view; `says` is shown with it in a presentation."""

    eye: Eye
    opened: OpenedBy = OpenedBy()
    looks: Looks = Looks()
    says: Annotated[str, Field(max_length=400)] = ""
