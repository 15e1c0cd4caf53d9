"""Drawings: what is cut from what, their letters and names."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from sqlmodel import Session, col, select

from edge_slice.app.checked_names import check_drawing
from edge_slice.app.drawings.callout_edits import callout_edited
from edge_slice.app.drawings.documents import (
    DrawingCopies,
    DrawingEdit,
    DrawingNew,
    DrawingOut,
    DrawingSet,
    PlacementRef,
)
from edge_slice.app.drawings.drawing_rows import drawing_of, drawing_row, placed_where, placements_of, project_drawings
from edge_slice.app.drawings.letters import check_letter, letter_for
from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.project_source import followed_in
from edge_slice.app.projects.state import state_of
from edge_slice.app.row_lookup import current_row, held_row
from edge_slice.app.rules.begun import give_sets
from edge_slice.app.rules.followed import Rules, followed_rule, put, rule_for, rules_of, series_of
from edge_slice.app.views.keys import ViewKeys
from edge_slice.core.cut import AnyCut, ImpossibleCut, PlanCut, SectionCut, leaves_of
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.cut.planes.leaves import check_breaks
from edge_slice.core.cut.planes.line_acts import beside, turned
from edge_slice.core.cut.planes.sets import elevations_of, interior_elevations_of, plans_of
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.model import Model
from edge_slice.core.project.called_out import title_of
from edge_slice.core.project.drawing_rules import DrawingRule, Shown, back, begun, departures, in_extents
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.naming import kind_of
from edge_slice.core.recent import Recent
from edge_slice.store.changes import Act, hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Annotation, CalloutReference, Drawing, Placement, Sheet, TouchUpRow

WITHOUT = ("planting",)  # what new drawings leave out
Fate = Literal["keep", "delete"]  # of the callouts of a drawing that is deleted
NEW_SECTION = SectionCut(line=((0.0, 0.0), (1.0, 0.0)), depth=5.0, without=WITHOUT)  # of which a new one has its line


def new_plan() -> PlanCut:
    """What a new plan is, of which it has its storey."""
    below, overhead = default_standard().conventions.reach
    height = PlanCut.model_fields["height"].default
    return PlanCut(storey="", depth=round(height + below, 3), overhead=overhead, without=WITHOUT)


_lists: Recent[list[DrawingOut]] = Recent("lists of drawings", 8)  # by the state of their project


def list_drawings(project_id: int) -> list[DrawingOut]:
    with reading() as session:
        return _lists.get(state_of(session, project_id), lambda: _listed(session, project_id))


def _listed(session: Session, project_id: int) -> list[DrawingOut]:
    rows = project_drawings(session, project_id)
    keys = ViewKeys(session, project_id)
    placed = placements_of(session, project_id)
    rules = rules_of(session, project_id)
    return [_as_out(d, (keys, rules), placed.get(d.id or 0, [])) for d in rows]


def get_drawing(drawing_id: int) -> DrawingOut:
    with reading() as session:
        return drawing_out(session, drawing_row(session, drawing_id))


def add_drawing(project_id: int, new: DrawingNew, author: str) -> DrawingOut:
    with transaction() as session:
        newest_revision(session, project_id)
        with recorded(session, project_id, "new drawing", author) as act:
            row = new_drawing(session, act, project_id, new)
        return drawing_out(session, row)


def new_drawing(session: Session, act: Act, project_id: int, new: DrawingNew) -> Drawing:
    """A drawing as part of an act. Raises `Refused` for a cut that this model does not allow."""
    if new.parent_id is not None:
        drawing_of(session, project_id, new.parent_id)
    cut, style = new.cut, new.style
    rule = rule_for(session, project_id, new.rule, cut)
    if rule is not None:
        cut, style = begun(rule, cut, style)
    check_drawing(session, project_id, cut, style)
    _check(followed_in(session, project_id).model_of(cut), cut)
    hold(session, project_id)
    row = Drawing(
        project_id=project_id,
        parent_id=new.parent_id,
        name=new.name.strip(),
        letter=letter_for(session, project_id, cut, series_of(rule)),
        cut=cut.model_dump(mode="json"),
        style=style.model_dump(mode="json"),
        rule=new.rule,
    )
    act.adds(row)
    give_sets(session, act, row, rule)
    return row


def add_drawing_set(project_id: int, wanted: DrawingSet, author: str) -> list[DrawingOut]:
    """Several drawings in one act, which is undone as one."""
    with transaction() as session:
        model = load_model(session, newest_revision(session, project_id))
        cuts = _set_cuts(model, wanted)
        hold(session, project_id)
        with recorded(session, project_id, f"new {wanted.kind}", author) as act:
            rows = []
            for cut in cuts:
                rule = rule_for(session, project_id, wanted.rule, cut)
                letter = letter_for(session, project_id, cut, series_of(rule))
                row = Drawing(project_id=project_id, letter=letter, rule=wanted.rule)
                put(row, _in_set(wanted, cut, rule))
                rows.append(row)
                act.adds(row)
                give_sets(session, act, row, rule)
        return drawings_out(session, rows)


def copy_section(drawing_id: int, wanted: DrawingCopies, author: str) -> list[DrawingOut]:
    """Copies of a section with all its settings, each with a letter of its own, in one act."""
    with transaction() as session:
        row = drawing_row(session, drawing_id)
        cut = followed_in(session, row.project_id).cut_of(row)
        if not isinstance(cut, SectionCut):
            raise Refused("Only a section has a cutting line that can be copied beside itself.")
        try:
            lines = [turned(beside(cut, by), wanted.turned) for by in wanted.by]
        except ImpossibleCut as error:
            raise Refused(str(error), "by") from error
        hold(session, row.project_id)
        with recorded(session, row.project_id, "copy section", author) as act:
            made = []
            for moved in lines:
                letter = letter_for(session, row.project_id, moved)
                copy = Drawing(project_id=row.project_id, parent_id=row.parent_id, letter=letter,
                               cut=moved.model_dump(mode="json"), style=row.style, rule=row.rule)  # fmt: skip
                act.adds(copy)
                made.append(copy)
        return drawings_out(session, made)


def as_shown(session: Session, numbers: Sequence[int]) -> list[dict[str, Any]]:
    """Drawings as windows show them, without those that are not there."""
    rows = session.exec(select(Drawing).where(col(Drawing.id).in_(numbers))).all()
    return [out.model_dump(mode="json") for out in drawings_out(session, rows)]


def _in_set(wanted: DrawingSet, cut: AnyCut, rule: DrawingRule | None) -> Shown:
    """What a drawing of a set shows: its cut is where the set has it, and how is as its rule says."""
    shown: Shown = (cut, DrawingSpec(scale=wanted.scale))
    if rule is None:
        return shown
    own = {"cut.height"} if isinstance(cut, PlanCut) and cut.storey in wanted.heights else set()
    return back(rule, (in_extents(rule, cut), shown[1]), {*rule.lines} - own)


def _set_cuts(model: Model, wanted: DrawingSet) -> Sequence[AnyCut]:
    try:
        if wanted.kind == "elevations":
            return elevations_of(model, WITHOUT)
        if wanted.kind == "interior elevations":
            return interior_elevations_of(model, wanted.space, WITHOUT)
        look = "up" if wanted.kind == "ceiling plans" else "down"
        return plans_of(model, default_standard().conventions.reach, look, wanted.heights, WITHOUT)
    except ImpossibleCut as error:
        raise Refused(str(error), "space" if wanted.kind == "interior elevations" else "heights") from error


def edit_drawing(drawing_id: int, edit: DrawingEdit, author: str) -> DrawingOut:
    with transaction() as session:
        row = current_row(session, Drawing, drawing_id, edit.version, lambda newer: drawing_out(session, newer))
        changed = callout_edited(session, row, edit) if row.callout is not None else None
        if changed is None and edit.callout is not None:
            raise Refused("This drawing is no callout; it has no region.", "callout")
        if edit.cut is not None and edit.cut.kind != row.cut["kind"]:
            raise Refused("A drawing can't change its kind; make a new one.", "cut")
        if edit.cut is not None or edit.style is not None:
            check_drawing(session, row.project_id, edit.cut, edit.style, row)
        if edit.cut is not None:
            _check(followed_in(session, row.project_id).model_of(edit.cut), edit.cut)
        if edit.letter is not None and edit.letter != row.letter:
            check_letter(session, row, edit.letter)
        with recorded(session, row.project_id, _edit_label(edit), author) as act:
            act.edits(row)
            if edit.name is not None:
                row.name = edit.name.strip()
            if edit.letter is not None:
                row.letter = edit.letter
            if changed is not None:
                row.cut, row.callout = (part.model_dump(mode="json") for part in changed)
            elif edit.cut is not None:
                row.cut = edit.cut.model_dump(mode="json")
            if edit.style is not None:
                row.style = edit.style.model_dump(mode="json")
            if row.rule and followed_rule(rules_of(session, row.project_id), row) is None:
                row.rule = ""  # it is of another kind now
            session.add(row)
            session.flush()
            now = drawing_out(session, row)
            act.shown = lambda _, numbers: [now.model_dump(mode="json")]
        return now


def delete_drawing(drawing_id: int, author: str, callouts: Fate | None = None) -> None:
    with transaction() as session:
        row = held_row(session, Drawing, drawing_id)
        _delete(session, [row], "delete drawing", author, callouts)


def delete_drawings(project_id: int, numbers: Sequence[int], author: str, callouts: Fate | None = None) -> None:
    """Delete several drawings in one act; drawings that are not there any more do not matter."""
    with transaction() as session:
        newest_revision(session, project_id)
        hold(session, project_id)
        wanted = select(Drawing).where(col(Drawing.project_id) == project_id, col(Drawing.id).in_(numbers))
        rows = list(session.exec(wanted).all())
        if rows:
            _delete(session, rows, f"delete {len(rows)} drawings", author, callouts)


def _delete(session: Session, rows: list[Drawing], label: str, author: str, fate: Fate | None) -> None:
    """`fate`: whether callouts of the drawings are kept as drawings of their own or go with them."""
    numbers = {row.id for row in rows}
    if fate == "delete":
        rows = [*rows, *_callouts_below(session, numbers)]
        numbers = {row.id for row in rows}
    children = session.exec(select(Drawing).where(col(Drawing.parent_id).in_(numbers))).all()
    others = [c for c in children if c.id not in numbers]
    callouts = [c for c in others if c.callout is not None]
    these = "this one" if len(rows) == 1 else "these"
    if len(others) > len(callouts):
        raise Refused(f"{len(others) - len(callouts)} drawings were cut from {these}; delete them first.")
    if callouts and fate is None:
        raise Refused(
            f"{len(callouts)} callouts enlarge parts of {these}; keep them as drawings of their own, or delete them"
            " too.",
            "callouts",
        )
    followed = followed_in(session, rows[0].project_id)
    kept = {c.id: followed.cut_of(c) for c in callouts}
    with recorded(session, rows[0].project_id, label, author) as act:
        for callout in callouts:
            act.edits(callout)
            callout.cut, callout.callout, callout.parent_id = kept[callout.id].model_dump(mode="json"), None, None
            session.add(callout)
        session.flush()
        for placed in session.exec(select(Placement).where(col(Placement.drawing_id).in_(numbers))).all():
            act.removes(placed)
        here, there = col(CalloutReference.drawing_id), col(CalloutReference.target_id)
        for note in session.exec(select(Annotation).where(col(Annotation.drawing_id).in_(numbers))).all():
            act.removes(note)
        for touch_up in session.exec(select(TouchUpRow).where(col(TouchUpRow.drawing_id).in_(numbers))).all():
            act.removes(touch_up)
        for reference in session.exec(select(CalloutReference).where(here.in_(numbers) | there.in_(numbers))).all():
            act.removes(reference)
        left = list(rows)
        while left:  # what was cut from another one goes before it
            parents = {row.parent_id for row in left}
            for row in [r for r in left if r.id not in parents]:
                act.removes(row)
                left.remove(row)


def _callouts_below(session: Session, numbers: set[int | None]) -> list[Drawing]:
    """The callouts of drawings, those of these callouts, and so on."""
    found: list[Drawing] = []
    above = set(numbers)
    while above:
        wanted = select(Drawing).where(col(Drawing.parent_id).in_(above), col(Drawing.callout).is_not(None))
        rows = [row for row in session.exec(wanted).all() if row.id not in numbers]
        found += rows
        above = {row.id for row in rows}
    return found


def add_starting_drawings(session: Session, project_id: int, model: Model) -> None:
    """A plan of each storey."""
    for cut in plans_of(model, default_standard().conventions.reach, without=WITHOUT):
        session.add(
            Drawing(project_id=project_id, cut=cut.model_dump(mode="json"), style=DrawingSpec(scale=100).model_dump())
        )
    session.flush()


def drawing_out(session: Session, row: Drawing) -> DrawingOut:
    return drawings_out(session, [row])[0]


def drawings_out(session: Session, rows: Sequence[Drawing]) -> list[DrawingOut]:
    """Drawings of one project."""
    if not rows:
        return []
    project_id = rows[0].project_id
    around = (ViewKeys(session, project_id), rules_of(session, project_id))
    placed = placed_where(session, col(Placement.drawing_id).in_([row.id for row in rows]))
    return [_as_out(row, around, placed.get(row.id or 0, [])) for row in rows]


def _as_out(row: Drawing, around: tuple[ViewKeys, Rules], placed: list[tuple[Placement, Sheet]]) -> DrawingOut:
    assert row.id is not None
    keys, rules = around
    rule = followed_rule(rules, row)
    found, style = keys.followed.found(row), DrawingSpec.model_validate(row.style)
    cut = found[0]
    refs = [
        PlacementRef(id=p.id or 0, sheet_id=p.sheet_id, sheet_number=sheet.number, number=p.number)
        for p, sheet in placed
    ]
    callout = Callout.model_validate(row.callout) if row.callout is not None else None
    form = callout.form if callout is not None else None
    region = keys.followed.region_of(row)
    if callout is not None and region is not None:
        callout = callout.model_copy(update={"region": region})
    return DrawingOut(
        id=row.id,
        project_id=row.project_id,
        parent_id=row.parent_id,
        callout=callout,
        kind=kind_of(cut, form),
        letter=row.letter,
        name=row.name,
        title=title_of(keys.source, keys.followed, row),
        cut=cut,
        style=style,
        version=row.version,
        placement=next(iter(refs), None),
        also_on=refs[1:],
        view=keys.of(found, style, row.id),
        annotated=row.id in keys.annotated,
        rule=row.rule if rule is not None else "",
        departs=list(departures(rule, (CUT.validate_python(row.cut), style))) if rule is not None else [],
    )


def _check(model: Model, cut: AnyCut) -> None:
    try:
        check_breaks(cut, leaves_of(model, cut))
    except ImpossibleCut as error:
        raise Refused(str(error), "cut") from error


def _edit_label(edit: DrawingEdit) -> str:
    said = (("name", edit.name), ("letter", edit.letter), ("cut", edit.cut or edit.callout), ("graphics", edit.style))
    parts = [word for word, value in said if value is not None]
    return f"edit {' and '.join(parts) or 'drawing'}"
