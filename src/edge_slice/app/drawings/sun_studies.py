"""Sun studies: one drawing at several hours of a day."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated

from pydantic import Field, ValidationError, model_validator
from sqlmodel import Session

from edge_slice.app.documents import Input
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.letters import letter_for
from edge_slice.app.drawings.lineage import drawings_out
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import held_row
from edge_slice.app.sheets.designs import design_for
from edge_slice.app.sheets.documents import SheetNew
from edge_slice.app.sheets.numbered_sheets import new_sheet
from edge_slice.app.sheets.placements import put_all
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.sunlight import Sun
from edge_slice.core.project.called_out import title_of
from edge_slice.core.project.followed import Followed
from edge_slice.core.sheet import CORNER
from edge_slice.core.sheet.arranging import areas_of, arranged, smallest_size
from edge_slice.store.changes import Act, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing

Hour = Annotated[float, Field(ge=0, lt=24, allow_inf_nan=False)]


class SunStudyNew(Input):
    """A place and a day, by a sun `by` hour, and the hours of that day as they are written there (9.5: half past
    nine); `in_a_row`: in a row on a new sheet."""

    sun: Sun
    hours: Annotated[list[Hour], Field(min_length=1, max_length=24)]
    in_a_row: bool = False

    @model_validator(mode="after")
    def _by_hour(self) -> SunStudyNew:
        if self.sun.by != "hour":
            raise ValueError("sun: a study is of a place and a day; choose the sun by hour")
        return self


def make(drawing_id: int, wanted: SunStudyNew, author: str) -> list[DrawingOut]:
    """Copies of a drawing, one for each hour, named by it, in one act. Raises `Refused` for an hour when the sun is
    down, and for a callout, whose view is that of its drawing."""
    suns = [(hour, _at(wanted.sun, hour)) for hour in dict.fromkeys(wanted.hours)]
    with transaction() as session:
        row = held_row(session, Drawing, drawing_id)
        project = row.project_id
        if row.callout is not None:
            raise Refused("A callout has the light of its drawing; make the study of that one.")
        source = ProjectSource(session, project)
        followed = Followed(source)
        title, cut = title_of(source, followed, row), followed.cut_of(row)
        style = DrawingSpec.model_validate(row.style)
        made = []
        with recorded(session, project, "sun study", author) as act:
            for hour, sun in suns:
                surfaces = style.surfaces.model_copy(update={"sun": sun})
                lit = style.model_copy(update={"surfaces": surfaces})
                copy = Drawing(
                    project_id=project, parent_id=row.parent_id, letter=letter_for(session, project, cut),
                    name=f"{title}, {_clock(hour)}"[:200], cut=row.cut, style=lit.model_dump(mode="json"),
                    rule=row.rule,
                )  # fmt: skip
                act.adds(copy)
                made.append(copy)
            if wanted.in_a_row:
                _place(session, act, row, made, f"{title}, sun study")
        return drawings_out(session, made)


def _place(session: Session, act: Act, row: Drawing, made: list[Drawing], title: str) -> None:
    """The drawings of a study in a row on a sheet of the smallest size for that, in rows where there is none. Raises
    `Refused` where they find no room."""
    session.flush()
    around = SheetsAround(session, row.project_id)
    design = design_for(session, row.project_id, CORNER)
    sizes = [around.drawn_as.wanted(copy) for copy in made]
    size = smallest_size(sizes, design, "A1", in_a_row=True) or smallest_size(sizes, design, "A1")
    if size is None:
        raise Refused(
            f"{len(made)} drawings of this size find no room on one sheet; take fewer hours or a smaller scale.",
            "hours",
        )
    new = SheetNew(title=title[:200], size=size, design=CORNER, for_drawing=row.id)
    sheet = new_sheet(session, act, row.project_id, new)
    put_all(session, act, sheet, made, arranged(sizes, areas_of(design, size), design.taken(size)), [])


def _at(sun: Sun, hour: float) -> Sun:
    """The sun of the same day and place at another hour. Raises `Refused`."""
    assert sun.when is not None
    midnight = sun.when.replace(hour=0, minute=0, second=0, microsecond=0)
    try:
        return Sun.model_validate({**sun.model_dump(), "when": midnight + timedelta(hours=hour)})
    except ValidationError as error:
        raise Refused(f"At {_clock(hour)} {first_words(error).removeprefix('sun: ')}", "hours") from error


def _clock(hour: float) -> str:
    minutes = round(hour * 60)
    return f"{minutes // 60:02}:{minutes % 60:02}"
