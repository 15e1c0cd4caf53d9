"""Drawings laid over their earlier revisions."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from sqlmodel import Session

from edge_slice.app.annotating.boards import drawing_display
from edge_slice.app.drawings.drawing_rows import drawing_row
from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import IN_THE_FILE, newest_revision, numbered_revision
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.app.views.composed import ScreenView, saved_as, screen_facts
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.comparison import Compared, CutModel, States, compared, revision_regions
from edge_slice.core.model.revisions import revised
from edge_slice.core.project.shown import cut_of, key_of
from edge_slice.core.recent import Recent
from edge_slice.core.render.screen import to_screen
from edge_slice.store.database import reading
from edge_slice.store.tables import Drawing

_compared: Recent[Compared] = Recent("comparisons", 24)


def comparison_of(drawing_id: int, number: int) -> ScreenView:
    """A drawing over an earlier revision, in the compact form, as it is without being held; its head says where it
    changed (`places`), and which regions are proposed for marks of a revision (`regions`, mm on paper)."""
    with reading() as session:
        row = drawing_row(session, drawing_id)
        key, found = compared_with(session, row, number)
        shown = saved_as(session, row, newest_revision(session, row.project_id))
        facts: dict[str, Any] = screen_facts(shown, cut_of(shown))
        facts["places"] = [asdict(p) for p in found.places]
        facts["regions"] = revision_regions(found.places)
        return ScreenView(key, to_screen(found.display, facts))


def compared_with(session: Session, row: Drawing, number: int) -> tuple[str, Compared]:
    """A drawing over an earlier revision, or over the model as its file has it (`IN_THE_FILE`), and the name of this
    comparison."""
    newest = newest_revision(session, row.project_id)
    earlier = numbered_revision(session, row.project_id, number)
    in_the_file = number == IN_THE_FILE
    if earlier.number >= newest.number and not in_the_file:
        raise Refused(f"Revision {number} is the newest one; choose an earlier one to compare with.", "with")
    around = SheetsAround(session, row.project_id)
    now, was = saved_as(session, row, newest), saved_as(session, row, earlier, () if in_the_file else None)
    states_said = [(shown.cut.model_dump_json(), shown.source.geometry) for shown in (now, was)]
    key = key_of("comparison", around.drawn(row), repr(states_said))

    def make() -> Compared:
        before, after = cut_of(was), cut_of(now)
        _, changes = revised(was.model, now.model)
        fold = Fold.of(after.extents, now.cut.extents, now.style.scale, now.standard.breaks)
        display = drawing_display(session, row, newest)
        states = States(CutModel(was.model, before), CutModel(now.model, after))
        return compared(states, display, changes, fold, now.style.scale)

    return key, _compared.get(key, make)
