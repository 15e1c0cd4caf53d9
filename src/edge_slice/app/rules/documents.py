"""Rules for new drawings as they go in and out of the use cases."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, RowId, Version
from edge_slice.app.drawings.documents import RuleKey
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.project.drawing_rules import Begins, CutLines, DrawingRule, RuleName


class DrawingRuleOut(BaseModel):
    """`key` is what drawings name it by; `lines` all that it says; `drawings`: how many follow it."""

    id: int
    key: str
    rule: DrawingRule
    lines: list[str]
    drawings: int
    version: int
    office: int | None = Field(description="The rule of the office of that name and kind")
    departs: list[str] = Field(description="In what it says something else than that")


class OfficeRuleOut(BaseModel):
    """A rule that the office keeps for all projects. Its standard and shown set, where an office made them itself, are
    named as that did."""

    id: int
    rule: DrawingRule


class DrawingRuleNew(Input):
    """A rule as it is given, or one that says what a drawing shows, which then follows it."""

    name: RuleName
    drawing_id: RowId | None = None
    rule: DrawingRule | None = None


class DrawingRuleEdit(Input):
    """What changes of a rule: its name, or what it says, taken from a drawing or given."""

    version: Version
    name: RuleName | None = None
    drawing_id: RowId | None = None
    cut: CutLines | None = None
    style: DrawingSpec | None = None
    begins: Begins | None = None


class FollowingOut(BaseModel):
    """What a change of a rule does to a drawing that follows it: the lines that change, and those in which it has
    departed and stays."""

    drawing: int
    title: str
    changes: list[str]
    keeps: list[str]


class RuleGiven(Input):
    """A rule for several drawings of its kind, empty for none. They then say what it says; with `keep` what they say
    stays as it is, and departs."""

    to: Annotated[list[RowId], Field(min_length=1, max_length=500)]
    rule: RuleKey
    keep: bool = False


class RuleBack(Input):
    """The lines in which a drawing goes back to its rule; null: all."""

    version: Version
    lines: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=60)] | None = None
