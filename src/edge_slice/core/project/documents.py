"""What people say of sheets and of drawings on them."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

OnPaper = Annotated[float, Field(ge=-2000, le=3000, allow_inf_nan=False)]
CutOff = Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)]


class _Said(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Trim(_Said):
    """What is taken off a placement at its sides, mm."""

    left: CutOff = 0.0
    base: CutOff = 0.0
    right: CutOff = 0.0
    top: CutOff = 0.0


class PlacementTitle(_Said):
    """How the title of a placement stands: moved by mm, its line as long as told (0: as its words are)."""

    shown: bool = True
    dx: OnPaper = 0.0
    dy: OnPaper = 0.0
    wide: CutOff = 0.0


class IssuedBefore(_Said):
    """A row of the revision table that a sheet brought along from elsewhere."""

    code: str = Field(min_length=1, max_length=20)
    date: str = Field(default="", max_length=20)
    purpose: str = Field(default="", max_length=200)
    by: str = Field(default="", max_length=60)


class TablePlace(_Said):
    """A table on a sheet, by its key: the lower left corner of its place, its width and height, mm."""

    table: str = Field(max_length=60)
    x: OnPaper
    y: OnPaper
    wide: Annotated[float, Field(ge=20, le=2000, allow_inf_nan=False)] = 180.0
    high: Annotated[float, Field(ge=20, le=2000, allow_inf_nan=False)] = 120.0

    @property
    def box(self) -> tuple[float, float, float, float]:
        return (self.x, self.y, self.x + self.wide, self.y + self.high)


class SheetFields(_Said):
    """Title-block fields (ISO 7200) that a person fills in; `own` are those of the design, by key. `tables`: those that
    stand on it; one that stands in several places goes on from one to the next. `issued`: the rows
    that its revision table had when it came here, the newest first."""

    revision: str = Field(default="", max_length=20)
    date: str = Field(default="", max_length=20)
    drawn: str = Field(default="", max_length=40)
    checked: str = Field(default="", max_length=40)
    own: dict[str, Annotated[str, Field(max_length=200)]] = Field(default={}, max_length=20)
    tables: list[TablePlace] = Field(default=[], max_length=20)
    issued: list[IssuedBefore] = Field(default=[], max_length=200)
