"""What goes in and out about remarks and notices."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from edge_slice.app.documents import Input, Point, RowId, Version

State = Literal["open", "answered", "done"]
Words = Annotated[str, Field(min_length=1, max_length=4000, pattern=r"\S")]
Somebody = Annotated[str, Field(max_length=80)]
Day = Annotated[str, Field(pattern=r"^(\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01]))?$")]
Mm = Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]


class RemarkNew(Input):
    """On a sheet or a drawing. `at`: mm on the sheet, or mm of the building in the drawing's axes."""

    sheet: RowId | None = None
    drawing: RowId | None = None
    at: tuple[Mm, Mm]
    text: Words
    to: Somebody = ""
    due: Day = ""

    @model_validator(mode="after")
    def _on_one(self) -> RemarkNew:
        if (self.sheet is None) == (self.drawing is None):
            raise ValueError("a remark is on a sheet or on a drawing")
        return self


class RemarkEdit(Input):
    version: Version
    text: Words | None = None
    to: Somebody | None = None
    due: Day | None = None
    state: State | None = None


class AnswerNew(Input):
    """A word to a remark, after which it is of a `state`."""

    text: Words
    state: State = "answered"


class AnswerOut(BaseModel):
    author: str
    at: datetime
    text: str
    state: State


class RemarkOut(BaseModel):
    """`where`: what it is on, in words; `here`: whether that is still there. `point`: its place in the model, metres
    from the origin of the model in use; none of a sheet's. `own`: whether who asks made it."""

    id: int
    number: int
    author: str
    own: bool
    text: str
    to: str
    due: str
    state: State
    sheet: int | None
    drawing: int | None
    at: Point
    point: tuple[float, float, float] | None
    where: str
    here: bool
    answers: list[AnswerOut]
    version: int
    created_at: datetime


NoticeWhat = Literal["remark", "answer", "done", "issue"]


class NoticeOut(BaseModel):
    """What concerns who asks: of a `remark` or an `issue`. `by`: whose act it was."""

    id: int
    project: int
    project_name: str
    remark: int | None
    issue: int | None
    what: NoticeWhat
    by: str
    text: str
    at: datetime
    seen: bool


class TopicsRead(BaseModel):
    """Of the topics of a file: how many say more about remarks of the project, how many are `new` remarks, and how many
    are neither."""

    answered: int
    new: int
    others: int


class SeenUpTo(Input):
    """`last`: the newest notice that was seen."""

    last: RowId


class PinOut(BaseModel):
    """Where a drawing shows what a remark is on, mm of the building in its axes."""

    remark: int
    number: int
    state: State
    at: Point
