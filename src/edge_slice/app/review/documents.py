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


Stroke = Annotated[list[tuple[Mm, Mm]], Field(min_length=2, max_length=1500)]
MOST_POINTS = 8000  # of a sketch


class RemarkNew(Input):
    """On a sheet, a sheet as it was issued, or a drawing. `at`, and a `sketch` about it: mm on the sheet, or mm of the
    building in the drawing's axes. `picture`: the name of one that was loaded for the project."""

    sheet: RowId | None = None
    issued: RowId | None = None
    drawing: RowId | None = None
    at: tuple[Mm, Mm]
    text: Words
    to: Somebody = ""
    due: Day = ""
    sketch: Annotated[list[Stroke], Field(default_factory=list, max_length=60)]
    picture: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""

    @model_validator(mode="after")
    def _on_one(self) -> RemarkNew:
        if sum(one is not None for one in (self.sheet, self.issued, self.drawing)) != 1:
            raise ValueError("a remark is on a sheet, on an issued sheet or on a drawing")
        if sum(len(stroke) for stroke in self.sketch) > MOST_POINTS:
            raise ValueError(f"a sketch has {MOST_POINTS:,} points at most")
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
    """`text`: empty where somebody said no more than that it is of another state now."""

    author: str
    at: datetime
    text: str
    state: State


class RemarkOut(BaseModel):
    """`where`: what it is on, in words; `here`: whether that is still there. `point`: its place in the model, metres
    from the origin of the model in use, where it has one. `issued`: the issued sheet that it was made on. `own`:
    whether who asks made it."""

    id: int
    number: int
    author: str
    own: bool
    text: str
    to: str
    due: str
    state: State
    sheet: int | None
    issued: int | None
    drawing: int | None
    at: Point
    picture: str
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
    """Where a remark is: mm of the building in a drawing's axes, or mm on a sheet. `sketch`: in the same coordinates,
    where it was made for what is shown."""

    remark: int
    number: int
    state: State
    at: Point
    sketch: list[list[Point]] = []


class IssuedPinOut(PinOut):
    """On a sheet as it was issued, in the `state` of that day; `carried`: it was made before, and not done by then."""

    carried: bool


class BecameOut(BaseModel):
    """What became of a remark, at one time: on an `issued` sheet with the `code` of its issue, or (none) as the sheet
    is now. `at`: its place there, mm on the sheet; none where what it is on is not there any more. `says`: what changed
    there since the one before."""

    issued: int | None
    code: str
    date: str
    sheet: int
    number: str
    at: Point | None
    state: State
    says: list[str]
