"""What people do with rules for new drawings: make, change, give and leave them. A change of a rule is one act with
all that follows it."""

from __future__ import annotations

from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.checked_names import check_rule
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.drawing_rows import annotations_of, drawing_of
from edge_slice.app.drawings.lineage import drawing_out, drawings_out
from edge_slice.app.errors import NotFound, Refused, first_words
from edge_slice.app.models.in_memory import newest_revision
from edge_slice.app.project_source import ProjectSource, followed_in
from edge_slice.app.row_lookup import current_row, held_row, own_key
from edge_slice.app.rules.documents import (
    DrawingRuleEdit,
    DrawingRuleNew,
    DrawingRuleOut,
    FollowingOut,
    RuleBack,
    RuleGiven,
)
from edge_slice.app.rules.followed import (
    checked_for,
    followed_rule,
    form_of,
    is_for,
    put,
    rule_in,
    rule_named,
    rules_of,
    shown_in,
)
from edge_slice.app.rules.kept import kept_rule, office_row
from edge_slice.core.annotating.set_rules import SETS
from edge_slice.core.project.called_out import title_of
from edge_slice.core.project.drawing_rules import (
    Begins,
    DrawingRule,
    Shown,
    back,
    departures,
    differing,
    renewed,
    rule_of,
)
from edge_slice.core.project.naming import kind_of
from edge_slice.store.changes import Act, hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, DrawingRuleRow


def list_rules(project_id: int) -> list[DrawingRuleOut]:
    with reading() as session:
        newest_revision(session, project_id)
        wanted = select(DrawingRuleRow).where(col(DrawingRuleRow.project_id) == project_id)
        return [rule_out(session, row) for row in session.exec(wanted.order_by(col(DrawingRuleRow.id))).all()]


def add_rule(project_id: int, new: DrawingRuleNew, author: str) -> DrawingRuleOut:
    with transaction() as session:
        newest_revision(session, project_id)
        hold(session, project_id)
        drawing = None
        if new.drawing_id is not None:
            drawing = _own_drawing(session, project_id, new.drawing_id)
            rule = _made_of(session, drawing, new.name)
        elif new.rule is not None:
            rule = new.rule.model_copy(update={"name": new.name.strip()})
        else:
            raise Refused("Give what the rule says, or a drawing that shows it.", "rule")
        check_rule(session, project_id, rule)
        _check_name(session, project_id, rule)
        row = DrawingRuleRow(project_id=project_id, document=rule.model_dump(mode="json"))
        with recorded(session, project_id, "new drawing rule", author) as act:
            act.adds(row)
            if drawing is not None:
                act.edits(drawing)
                drawing.rule = own_key(row)
                session.add(drawing)
        return rule_out(session, row)


def follows(rule_id: int, edit: DrawingRuleEdit) -> list[FollowingOut]:
    """What an edit of a rule would do to each drawing that follows it; nothing is saved."""
    with reading() as session:
        row = session.get(DrawingRuleRow, rule_id)
        if row is None:
            raise NotFound("This drawing rule is not there any more.")
        before, after = rule_in(row), _edited(session, row, edit)
        source, followed = ProjectSource(session, row.project_id), followed_in(session, row.project_id)
        found = []
        for drawing in _followers(session, row):
            shown = shown_in(drawing)
            keeps = departures(before, shown)
            changes = renewed(before, after, shown)[1]
            title = title_of(source, followed, drawing)
            found.append(FollowingOut(drawing=drawing.id or 0, title=title, changes=list(changes), keeps=list(keeps)))
        return found


def edit_rule(rule_id: int, edit: DrawingRuleEdit, author: str) -> DrawingRuleOut:
    with transaction() as session:
        row = current_row(session, DrawingRuleRow, rule_id, edit.version, lambda newer: rule_out(session, newer))
        before, after = rule_in(row), _edited(session, row, edit)
        check_rule(session, row.project_id, after, before)
        if after.name != before.name:
            _check_name(session, row.project_id, after)
        with recorded(session, row.project_id, "edit drawing rule", author) as act:
            change_rule(session, act, row, after)
        return rule_out(session, row)


def change_rule(session: Session, act: Act, row: DrawingRuleRow, after: DrawingRule) -> None:
    """Let a rule say something else as part of an act, and what follows it."""
    before, followers = rule_in(row), _followers(session, row)
    act.edits(row)
    row.document = after.model_dump(mode="json")
    session.add(row)
    for drawing in followers:
        shown, changed = renewed(before, after, shown_in(drawing))
        if changed:
            act.edits(drawing)
            put(drawing, shown)
            session.add(drawing)


def delete_rule(rule_id: int, author: str) -> None:
    """Delete a rule. Drawings that follow it stay as they are, and follow none."""
    with transaction() as session:
        row = held_row(session, DrawingRuleRow, rule_id)
        with recorded(session, row.project_id, "delete drawing rule", author) as act:
            for drawing in _named(session, row):
                act.edits(drawing)
                drawing.rule = ""
                session.add(drawing)
            act.removes(row)


def give_rule(project_id: int, given: RuleGiven, author: str) -> list[DrawingOut]:
    """Let drawings follow a rule, or none, in one act."""
    with transaction() as session:
        newest_revision(session, project_id)
        hold(session, project_id)
        rule = rule_named(session, project_id, given.rule) if given.rule else None
        rows = [_own_drawing(session, project_id, number) for number in dict.fromkeys(given.to)]
        for row in rows:
            if rule is not None:
                checked_for(rule, shown_in(row)[0], form_of(row))
        with recorded(session, project_id, "give drawing rule" if rule else "leave drawing rule", author) as act:
            for row in rows:
                act.edits(row)
                row.rule = given.rule
                if rule is not None and not given.keep:
                    put(row, back(rule, shown_in(row)))
                session.add(row)
        return drawings_out(session, rows)


def go_back(drawing_id: int, wanted: RuleBack, author: str) -> DrawingOut:
    """Let a drawing say again what its rule says."""
    with transaction() as session:
        row = current_row(session, Drawing, drawing_id, wanted.version, lambda newer: drawing_out(session, newer))
        rule = followed_rule(rules_of(session, row.project_id), row)
        if rule is None:
            raise Refused("This drawing follows no rule; choose one first.", "lines")
        unknown = {*(wanted.lines or ())} - {*rule.lines}
        if unknown:
            raise Refused(f"“{min(unknown)}” is nothing that this rule says.", "lines")
        with recorded(session, row.project_id, "back to drawing rule", author) as act:
            act.edits(row)
            put(row, back(rule, shown_in(row), wanted.lines))
            session.add(row)
        return drawing_out(session, row)


def _edited(session: Session, row: DrawingRuleRow, edit: DrawingRuleEdit) -> DrawingRule:
    """A rule as an edit has it. Raises `Refused`."""
    rule = rule_in(row)
    if edit.drawing_id is not None:
        drawing = _own_drawing(session, row.project_id, edit.drawing_id)
        if not is_for(rule, drawing):
            raise Refused(f"“{rule.name}” is a rule for drawings of the kind {rule.kind}.", "drawing_id")
        made = _made_of(session, drawing, rule.name)
        rule = made.model_copy(update={"begins": rule.begins.model_copy(update={"sets": made.begins.sets})})
    said = {"name": edit.name and edit.name.strip(), "cut": edit.cut, "style": edit.style, "begins": edit.begins}
    try:
        return DrawingRule.model_validate({**dict(rule), **{k: v for k, v in said.items() if v is not None}})
    except ValidationError as error:
        raise Refused(first_words(error), "style") from error


def _check_name(session: Session, project_id: int, rule: DrawingRule) -> None:
    """Raises `Refused` for a name that another rule of that kind has."""
    if any((one.name, one.kind) == (rule.name, rule.kind) for one in rules_of(session, project_id).values()):
        raise Refused(f"There is a rule “{rule.name}” for drawings of the kind {rule.kind}; name it apart.", "name")


def _made_of(session: Session, drawing: Drawing, name: str) -> DrawingRule:
    """A rule that says what a drawing shows. Raises `Refused`."""
    cut = followed_in(session, drawing.project_id).cut_of(drawing)
    shown: Shown = (cut, shown_in(drawing)[1])
    try:
        rule = rule_of(name.strip(), kind_of(cut, form_of(drawing)), shown)
    except ValidationError as error:
        raise Refused(first_words(error), "drawing_id") from error
    given = {row.document["rule"] for row in annotations_of(session, drawing.id or 0)}
    sets = tuple(name for name, one in SETS.items() if name in given and not one.of_wall)
    return rule.model_copy(update={"begins": Begins(sets=sets)})


def _followers(session: Session, row: DrawingRuleRow) -> list[Drawing]:
    """The drawings that follow a rule."""
    rule = rule_in(row)
    return [drawing for drawing in _named(session, row) if is_for(rule, drawing)]


def _named(session: Session, row: DrawingRuleRow) -> list[Drawing]:
    """The drawings that name a rule."""
    mine = select(Drawing).where(col(Drawing.project_id) == row.project_id, col(Drawing.rule) == own_key(row))
    return list(session.exec(mine.order_by(col(Drawing.id))).all())


def _own_drawing(session: Session, project_id: int, number: int) -> Drawing:
    row = drawing_of(session, project_id, number)
    session.refresh(row)
    return row


def rule_out(session: Session, row: DrawingRuleRow) -> DrawingRuleOut:
    rule, key = rule_in(row), own_key(row)
    drawings = len(_followers(session, row))
    office = office_row(session, rule)
    kept = kept_rule(office).rule if office is not None else rule
    return DrawingRuleOut(
        id=row.id or 0, key=key, rule=rule, lines=list(rule.lines), drawings=drawings, version=row.version,
        office=office.id if office is not None else None, departs=list(differing(kept, rule)),
    )  # fmt: skip
