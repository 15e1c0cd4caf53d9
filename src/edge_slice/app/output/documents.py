"""Files of sheets, and issues, as they go in and out of the use cases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from edge_slice.app.documents import Input, RowId
from edge_slice.core.render.outputs import Form
from edge_slice.core.sheet.plots import PlotSpec

State = Literal["waiting", "working", "ready", "failed", "cancelled"]
Day = Annotated[str, Field(pattern=r"^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$")]


class IssueNew(Input):
    """A dated release of the sheets: its code stands in the revision tables and fields of these."""

    code: str = Field(min_length=1, max_length=10, pattern=r"^\S+$")
    date: Day
    purpose: str = Field(default="", max_length=120)
    issued_by: str = Field(default="", max_length=40)


class PublicationNew(Input):
    """Sheets wanted as one PDF, or each as a file of its own in an archive; all of the register where none are named.
    With `issue` they are issued: frozen as they are. With `plot` their one PDF is for a printer."""

    sheets: Annotated[list[RowId], Field(max_length=1000)] = Field(default=[])
    form: Form = "pdf"
    dpi: float = Field(default=150, ge=30, le=1200, allow_inf_nan=False)
    issue: IssueNew | None = None
    plot: PlotSpec | None = None

    @model_validator(mode="after")
    def _plots_alone(self) -> PublicationNew:
        if self.plot is not None and (self.form != "pdf" or self.issue is not None):
            raise ValueError("a plot is one PDF, and no issue; issue the sheets first, then plot them")
        return self


class PublicationOut(BaseModel):
    """`done` of `of` sheets are drawn; `message` says what went wrong."""

    id: int
    project_id: int
    state: State
    done: int
    of: int
    message: str
    file_name: str
    issue_id: int | None
    form: str


class IssuedSheetOut(BaseModel):
    """A sheet as it was issued. `there`: whether the sheet is still in the register."""

    id: int
    sheet_id: int
    number: str
    title: str
    there: bool


class IssueOut(BaseModel):
    """`revision` is that of the model."""

    id: int
    project_id: int
    code: str
    date: str
    purpose: str
    issued_by: str
    revision: int
    sheets: list[IssuedSheetOut]


class IssuesOut(BaseModel):
    """The issues of a project, the newest first, and the code that the next one would have."""

    issues: list[IssueOut]
    next_code: str


class SheetChangeOut(BaseModel):
    """What became of a sheet since an issue: `says` in words; `issued_sheet` as it was, null for a new one."""

    sheet_id: int
    issued_sheet: int | None
    number: str
    title: str
    state: Literal["unchanged", "changed", "new", "gone"]
    says: list[str]


class MarksPlaced(BaseModel):
    """Marks of a revision that were placed on the drawings of a sheet, and on how many drawings; `left`: drawings that
    were moved or scaled since, whose lines all lie elsewhere, so that none was marked."""

    marks: int
    drawings: int
    left: list[str]


class IssueChangesOut(BaseModel):
    code: str
    sheets: list[SheetChangeOut]
