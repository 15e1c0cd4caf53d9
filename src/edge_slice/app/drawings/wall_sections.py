"""Drawings that are made with their callouts in one act: a wall section with its junctions, enlargements of a plan."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session

from edge_slice.app.annotating.documents import SetWanted
from edge_slice.app.annotating.drawing_annotations import renew_set
from edge_slice.app.drawings.callout_documents import (
    EnlargementsNew,
    JunctionOut,
    LikeOut,
    WallPlace,
    WallSectionNew,
    WallSectionOut,
)
from edge_slice.app.drawings.callouts import Parent, called, led_to, tied
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.drawing_rows import drawing_of, drawing_row
from edge_slice.app.drawings.letters import letter_for
from edge_slice.app.drawings.lineage import WITHOUT, drawing_out, drawings_out
from edge_slice.app.drawings.typical import likes_of
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.project_source import followed_in
from edge_slice.app.projects.standards import standard_for
from edge_slice.app.row_lookup import held_row
from edge_slice.app.rules.begun import give_sets
from edge_slice.app.rules.followed import put, rule_for, series_of
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut import ImpossibleCut, PlanCut, SectionCut
from edge_slice.core.cut.following.callouts import SCALES, beginning_scale
from edge_slice.core.cut.placing.junctions import Junction, enlargement, whole_wall_section
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.model import Model
from edge_slice.core.project.drawing_rules import back
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing

STYLE = DrawingSpec(scale=SCALES["wall"])
ENLARGED_SETS: tuple[Rule, ...] = ("rooms", "doors", "windows", "grid")  # which an enlargement is given


def proposed(project_id: int, place: WallPlace) -> WallSectionOut:
    """The section of the wall at a place, with its junctions; nothing is saved."""
    scale = beginning_scale("detail", STYLE.scale)
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
        cut, found = _wall_section(model, place)
        likes = _likes(session, project_id, model, cut, found)
        junctions = [
            JunctionOut(name=j.name, region=j.region, scale=scale, like=_said(session, like, found))
            for j, like in zip(found, likes, strict=True)
        ]
    return WallSectionOut(cut=cut, style=STYLE, junctions=junctions)


def _likes(
    session: Session, project_id: int, model: Model, cut: SectionCut, found: Sequence[Junction]
) -> list[tuple[int | None, int | None]]:
    """What each junction of a wall section is like (`likes_of`)."""
    standard = standard_for(session, project_id, STYLE.standard)
    return likes_of(session, project_id, standard, [tied(model, cut, j.region)[1] for j in found])


def _said(session: Session, like: tuple[int | None, int | None], found: Sequence[Junction]) -> LikeOut | None:
    drawing, junction = like
    if drawing is not None:
        title = drawing_out(session, drawing_row(session, drawing)).title
        return LikeOut(drawing=drawing, junction=None, title=title)
    return None if junction is None else LikeOut(drawing=None, junction=junction, title=found[junction].name)


def make(project_id: int, new: WallSectionNew, author: str) -> list[DrawingOut]:
    """The wall section, then the details of its chosen junctions."""
    with transaction() as session:
        hold(session, project_id)
        plan = drawing_of(session, project_id, new.plan)
        model = load_model(session, newest_revision(session, project_id))
        cut, found = _wall_section(model, new)
        if any(k >= len(found) for k in new.junctions):
            raise Refused(f"This wall section has {len(found)} junctions; look at it again.", "junctions")
        rule = rule_for(session, project_id, new.rule, cut)
        style = STYLE.model_copy(update={"standard": plan.style["standard"]})
        shown = (cut, style) if rule is None else back(rule, (cut, style))
        with recorded(session, project_id, "new wall section", author) as act:
            letter = letter_for(session, project_id, cut, series_of(rule))
            section = Drawing(project_id=project_id, parent_id=plan.id, letter=letter, rule=new.rule)
            put(section, shown)
            act.adds(section)
            give_sets(session, act, section, rule)
            rows = [section]
            likes = _likes(session, project_id, model, cut, found) if new.shared else []
            made: dict[int, Drawing] = {}
            for k in sorted(set(new.junctions)):
                there, earlier = likes[k] if k in new.shared else (None, None)
                target = there if there is not None else made[earlier].id if earlier in made else None
                if target is not None:
                    act.adds(led_to(section, model, cut, found[k].region, target))
                    continue
                parent = Parent(section, model, cut)
                made[k] = called(act, parent, found[k].region, "detail", found[k].name, new.detail_rule)
                rows.append(made[k])
        return drawings_out(session, rows)


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
                row = called(act, Parent(plan, model, cut), region, "plan", name, new.rule)
                for rule in ENLARGED_SETS if not new.rule else ():
                    renew_set(session, act, row, SetWanted(rule=rule))
                rows.append(row)
        return drawings_out(session, rows)


def _wall_section(model: Model, place: WallPlace) -> tuple[SectionCut, tuple[Junction, ...]]:
    try:
        return whole_wall_section(model, place.at, place.look, WITHOUT)
    except (ImpossibleCut, ValueError) as error:
        raise Refused(first_words(error), "at") from error
