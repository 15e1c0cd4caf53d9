"""Shown sets: those that come with the application, and a project's own."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.projects.documents import ShownSetEdit, ShownSetNew, ShownSetOut
from edge_slice.app.row_lookup import current_row, held_row, own_key, own_row
from edge_slice.app.rules.followed import refuse_if_ruled
from edge_slice.core.cut.shown import SHIPPED_SETS, ShownRule
from edge_slice.core.project.known_names import check_names, in_rule, known_to_model
from edge_slice.store.changes import recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, ShownSet


def rule_for(session: Session, project_id: int, key: str) -> ShownRule | None:
    """The rule of a set that a drawing names; None for no set, or one that is not there any more."""
    if key in SHIPPED_SETS:
        return SHIPPED_SETS[key][1]
    row = own_row(session, ShownSet, project_id, key)
    return None if row is None else ShownRule.model_validate(row.rule)


def list_sets(project_id: int) -> list[ShownSetOut]:
    with reading() as session:
        newest_revision(session, project_id)
        rows = session.exec(select(ShownSet).where(col(ShownSet.project_id) == project_id).order_by(col(ShownSet.id)))
        shipped = [
            ShownSetOut(key=key, id=None, name=name, rule=rule, version=1) for key, (name, rule) in SHIPPED_SETS.items()
        ]
        return shipped + [_out(row) for row in rows.all()]


def add_set(project_id: int, new: ShownSetNew, author: str) -> ShownSetOut:
    with transaction() as session:
        newest_revision(session, project_id)
        _check(session, project_id, new.rule)
        row = ShownSet(project_id=project_id, name=new.name.strip(), rule=new.rule.model_dump(mode="json"))
        with recorded(session, project_id, "new shown set", author) as act:
            act.adds(row)
        return _out(row)


def edit_set(set_id: int, edit: ShownSetEdit, author: str) -> ShownSetOut:
    with transaction() as session:
        row = current_row(session, ShownSet, set_id, edit.version, _out)
        _check(session, row.project_id, edit.rule, ShownRule.model_validate(row.rule))
        with recorded(session, row.project_id, "edit shown set", author) as act:
            act.edits(row)
            row.name = edit.name.strip()
            row.rule = edit.rule.model_dump(mode="json")
            session.add(row)
        return _out(row)


def delete_set(set_id: int, author: str) -> None:
    with transaction() as session:
        row = held_row(session, ShownSet, set_id)
        drawings = session.exec(select(Drawing).where(col(Drawing.project_id) == row.project_id)).all()
        users = sum(d.cut.get("shown_set") == own_key(row) for d in drawings)
        if users:
            raise Refused(f"{users} drawings follow this set; give them another one first.")
        refuse_if_ruled(session, row.project_id, "shown_set", own_key(row))
        with recorded(session, row.project_id, "delete shown set", author) as act:
            act.removes(row)


def _check(session: Session, project_id: int, rule: ShownRule, before: ShownRule | None = None) -> None:
    """What a set names is there, or was named before. Raises `Refused`."""
    model = load_model(session, newest_revision(session, project_id))
    check_names(in_rule(rule), known_to_model(model), in_rule(before) if before is not None else ())


def _out(row: ShownSet) -> ShownSetOut:
    rule = ShownRule.model_validate(row.rule)
    return ShownSetOut(key=own_key(row), id=row.id, name=row.name, rule=rule, version=row.version)
