"""Findings of the checks as they go out, and what is said about those that are left."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input

Severity = Literal["serious", "doubtful", "remark"]
MOST_NAMED = 6  # things in one finding


def named(names: Sequence[str]) -> str:
    """Things that a finding names, not all of many."""
    return ", ".join(names[:MOST_NAMED]) + (", …" if len(names) > MOST_NAMED else "")


class FindingOut(BaseModel):
    """`key` is the same as long as the same is wrong; `help` says what to do. Where it is: a sheet and a box on it
    (mm), a drawing. `left`: why somebody leaves it, empty if nobody does."""

    key: str
    severity: Severity
    rule: str
    says: str
    help: str
    sheet_id: int | None
    drawing_id: int | None
    box: tuple[float, float, float, float] | None
    left: str
    left_by: str


class LeaveFinding(Input):
    """Leave a finding as it is, because …; without a reason it counts again."""

    key: str = Field(min_length=1, max_length=80)
    reason: str = Field(max_length=300)
