"""What documents of all use cases share: numbers of rows, versions, points, and what went wrong."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

Point = tuple[float, float]
RowId = Annotated[int, Field(ge=1, le=2_147_483_647)]
Version = Annotated[int, Field(ge=0, le=2**53 - 1)]  # what JavaScript counts exactly


class Input(BaseModel):
    """A document that comes in: nothing that is not known is taken."""

    model_config = ConfigDict(extra="forbid")


class Problem(BaseModel):
    """Every error: what happened and what to do; `field` says where; `current` is the newer state at a clash;
    `request`: the number under which the server's log knows it."""

    message: str
    field: str = ""
    current: dict[str, Any] | None = None
    request: str = ""


Offset = Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)]
