"""What goes in and out about the ground of a project."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, Offset, Point, RowId, Version
from edge_slice.core.cut import CutSpec
from edge_slice.core.model.files.units import Unit
from edge_slice.core.model.ground.documents import GroundRole, Grounds


class EarthworksOut(BaseModel):
    """From the ground as it is to the proposed one: cubic metres cut and filled, over square metres."""

    cut: float
    fill: float
    area: float


class SectionWorksOut(BaseModel):
    """The same in a drawing: square metres in its plane, and cubic metres in what it sees behind that."""

    drawing: RowId
    title: str
    cut_area: float
    fill_area: float
    cut: float
    fill: float


class GroundOut(BaseModel):
    """The ground of a project. `model_has`: whether its model has ground of its own, which is what is there unless the
    project says otherwise; `problem`: why it can't be made of the model as it is now; `version` is 0 as long as nothing
    was said."""

    grounds: Grounds
    version: int
    model_has: bool
    problem: str
    works: EarthworksOut | None
    sections: list[SectionWorksOut]


class GroundEdit(Input):
    version: Version
    grounds: Grounds


class GroundText(Input):
    """Points or a profile as somebody pasted them, or had them in a file; heights and places in the coordinates of the
    model, or of its file."""

    text: str = Field(max_length=4_000_000)
    what: Literal["points", "profile"] = "points"
    unit: Unit = "m"
    coordinates: Literal["model", "file"] = "model"


class GroundRows(BaseModel):
    """Points (x, y, height) or places of a profile (distance, height), metres in the model, and how the text was
    understood."""

    rows: list[list[float]]
    notes: list[str]


class GroundDrawn(Input):
    """A profile through points (u, v) of a drawing, metres, as the ground that is there or that is proposed."""

    version: Version
    cut: CutSpec
    role: GroundRole = "existing"
    points: list[Point] = Field(min_length=2, max_length=1000)


class HandlesWanted(Input):
    cut: CutSpec


class GroundHandleOut(BaseModel):
    role: GroundRole
    index: int
    u: float
    v: float
    moves: Literal["height", "place"]


class HandleMoved(Input):
    version: Version
    cut: CutSpec
    role: GroundRole
    index: int = Field(ge=0)
    u: Offset
    v: Offset


class PointMoved(Input):
    """A point of ground given another height, where it is seen in three dimensions."""

    version: Version
    role: GroundRole
    index: int = Field(ge=0)
    height: Offset
