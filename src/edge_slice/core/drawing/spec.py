"""How a drawing is shown: the document beside its cut."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field


class DrawingSpec(BaseModel):
    """How a drawing is shown: scale denominator, and which annotations stand at its edge."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    scale: float = Field(default=50, gt=0, le=100_000, allow_inf_nan=False)
    levels: bool = True
    grid: bool = True
    rooms: bool = True
