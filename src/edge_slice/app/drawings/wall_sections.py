"""Drawings that are made with their callouts in one act: a wall section with its junctions, enlargements of a plan."""

from __future__ import annotations

from edge_slice.app.annotating.documents import SetWanted
from edge_slice.app.annotating.drawing_annotations import renew_set
from edge_slice.app.drawings.callout_documents import (
    EnlargementsNew,
    JunctionOut,
    WallPlace,
    WallSectionNew,
    WallSectionOut,
)
from edge_slice.app.drawings.callouts import Parent, called
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.letters import letter_for
from edge_slice.app.drawings.lineage import WITHOUT, drawing_out
from edge_slice.app.errors import NotFound, Refused, first_words
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.project_source import followed_in
from edge_slice.app.row_lookup import held_row
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut import ImpossibleCut, PlanCut, SectionCut
from edge_slice.core.cut.following.callouts import SCALES, beginning_scale
from edge_slice.core.cut.placing.junctions import Junction, enlargement, whole_wall_section
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.model import Model
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing

STYLE = DrawingSpec(scale=SCALES["wall"])
ENLARGED_SETS: tuple[Rule, ...] = ("rooms", "doors", "windows", "grid")  # which an enlargement is given


def proposed(project_id: int, place: WallPlace) -> WallSectionOut:
    """The section of the wall at a place, with its junctions; nothing is saved."""
    with reading() as session:
        cut, found = _wall_section(load_model(session, newest_revision(session, project_id)), place)
    scale = beginning_scale("detail", STYLE.scale)
    junctions = [JunctionOut(name=j.name, region=j.region, scale=scale) for j in found]
    return WallSectionOut(cut=cut, style=STYLE, junctions=junctions)


def make(project_id: int, new: WallSectionNew, author: str) -> list[DrawingOut]:
    """The wall section, then the details of its chosen junctions."""
    with transaction() as session:
        plan = held_row(session, Drawing, new.plan)
        if plan.project_id != project_id:
            raise NotFound("The plan of this wall is not there any more.")
        model = load_model(session, newest_revision(session, project_id))
        cut, found = _wall_section(model, new)
        if any(k >= len(found) for k in new.junctions):
            raise Refused(f"This wall section has {len(found)} junctions; look at it again.", "junctions")
        with recorded(session, project_id, "new wall section", author) as act:
            section = Drawing(
                project_id=project_id,
                parent_id=plan.id,
                letter=letter_for(session, project_id, cut),
                cut=cut.model_dump(mode="json"),
                style=STYLE.model_copy(update={"standard": plan.style["standard"]}).model_dump(mode="json"),
            )
            act.adds(section)
            rows = [section]
            for k in sorted(set(new.junctions)):
                rows.append(called(act, Parent(section, model, cut), found[k].region, "detail", found[k].name))
        return [drawing_out(session, row) for row in rows]


def enlarge(drawing_id: int, new: EnlargementsNew, author: str) -> list[DrawingOut]:
    """Enlargements of stairs, rooms and the like of a plan, each named after its thing, in one act."""
    with transaction() as session:
        plan = held_row(session, Drawing, drawing_id)
        cut = followed_in(session, plan.project_id).cut_of(plan)
        if not isinstance(cut, PlanCut):
            raise Refused("Stairs and rooms are enlarged from a plan; choose one.", "things")
        model = load_model(session, newest_revision(session, plan.project_id))
        with recorded(session, plan.project_id, "new enlargements", author) as act:
            rows = []
            for guid in dict.fromkeys(new.things):
                try:
                    name, region = enlargement(model, cut, guid)
                except ImpossibleCut as error:
                    raise Refused(str(error), "things") from error
                row = called(act, Parent(plan, model, cut), region, "plan", name)
                for rule in ENLARGED_SETS:
                    renew_set(session, act, row, SetWanted(rule=rule))
                rows.append(row)
        return [drawing_out(session, row) for row in rows]


def _wall_section(model: Model, place: WallPlace) -> tuple[SectionCut, tuple[Junction, ...]]:
    try:
        return whole_wall_section(model, place.at, place.look, WITHOUT)
    except (ImpossibleCut, ValueError) as error:
        raise Refused(first_words(error), "at") from error
