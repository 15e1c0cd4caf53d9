"""Rules for new drawings that an office keeps for all its projects. A project takes one as a rule of its own, which
wins; it says in what that departs from the office's, and takes this over when somebody wants it to."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.drawings.kept_sets import Brought, own_names
from edge_slice.app.errors import NotFound
from edge_slice.app.models.in_memory import newest_revision
from edge_slice.app.row_lookup import held_row
from edge_slice.app.rules.acts import change_rule, rule_out
from edge_slice.app.rules.documents import DrawingRuleOut, OfficeRuleOut
from edge_slice.app.rules.followed import rule_in
from edge_slice.app.rules.kept import KeptRule, kept_rule, office_row
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.forms import FORM
from edge_slice.store.tables import DrawingRuleRow, OfficeRule


def list_office() -> list[OfficeRuleOut]:
    with reading() as session:
        rows = session.exec(select(OfficeRule).order_by(col(OfficeRule.kind), col(OfficeRule.name))).all()
        return [OfficeRuleOut(id=row.id or 0, rule=kept_rule(row).rule) for row in rows]


def keep_for_office(rule_id: int) -> OfficeRuleOut:
    """Keep a project's rule for all projects, instead of the office's of that name and kind."""
    with transaction() as session:
        row = held_row(session, DrawingRuleRow, rule_id)
        rule = rule_in(row)
        names = own_names(session, row.project_id, {rule.style.standard}, {rule.cut.shown_set}, {rule.begins.design})
        document = KeptRule(rule=rule, **dict(names)).model_dump(mode="json")
        kept = office_row(session, rule) or OfficeRule(kind=rule.kind, name=rule.name, document={}, form=FORM)
        kept.document, kept.form = document, FORM
        session.add(kept)
        session.flush()
        return OfficeRuleOut(id=kept.id or 0, rule=rule)


def delete_office(office_id: int) -> None:
    with transaction() as session:
        session.delete(_row(session, office_id))


def take(project_id: int, office_id: int, author: str) -> DrawingRuleOut:
    """Let a project have a rule of the office, with its standard and shown set; where it has one of that name and kind,
    this changes, and what follows it."""
    with transaction() as session:
        newest_revision(session, project_id)
        hold(session, project_id)
        kept = kept_rule(_row(session, office_id))
        with recorded(session, project_id, "take rule of the office", author) as act:
            brought = Brought(session, project_id, kept, act)
            rule = brought.as_here(kept.rule)
            row = brought.there(rule)
            if row is None:
                row = DrawingRuleRow(project_id=project_id, document=rule.model_dump(mode="json"))
                act.adds(row)
            else:
                change_rule(session, act, row, rule)
        return rule_out(session, row)


def _row(session: Session, office_id: int) -> OfficeRule:
    row = session.get(OfficeRule, office_id)
    if row is None:
        raise NotFound("This rule of the office is not there any more.")
    return row
