"""What every document that comes in has in common."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Input(BaseModel):
    """Nothing that is not known is taken."""

    model_config = ConfigDict(extra="forbid")
