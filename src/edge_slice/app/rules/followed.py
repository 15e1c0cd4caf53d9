"""Rules for new drawings, by the keys that drawings name them by."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from sqlmodel import Session, col, select

from edge_slice.app.errors import Refused
from edge_slice.app.row_lookup import own_key, own_row
from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.following.callouts import Callout, Form
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.project.drawing_rules import DrawingRule, Shown, fits, misfit
from edge_slice.core.project.followed import CUT
from edge_slice.core.recent import Recent
from edge_slice.store.tables import Drawing, DrawingRuleRow

Rules = Mapping[str, DrawingRule]
_read: Recent[DrawingRule] = Recent("drawing rules", 100)


def rule_in(row: DrawingRuleRow) -> DrawingRule:
    """What a row says."""
    document = row.document
    return _read.get(f"{row.id} {row.version}", lambda: DrawingRule.model_validate(document))


def rules_of(session: Session, project_id: int) -> Rules:
    """The rules of a project by their keys, the oldest first."""
    wanted = select(DrawingRuleRow).where(col(DrawingRuleRow.project_id) == project_id).order_by(col(DrawingRuleRow.id))
    return {own_key(row): rule_in(row) for row in session.exec(wanted).all()}


def rule_named(session: Session, project_id: int, key: str) -> DrawingRule:
    """Raises `Refused` for a rule that the project does not have."""
    row = own_row(session, DrawingRuleRow, project_id, key)
    if row is None:
        raise Refused("This drawing rule is not in the project any more; choose another one.", "rule")
    return rule_in(row)


def rule_for(session: Session, project_id: int, key: str, cut: AnyCut, form: Form | None = None) -> DrawingRule | None:
    """The rule by which a drawing of a cut begins, None for none (""); `form`: what a callout enlarges. Raises
    `Refused` for one that the project does not have, or that is none for such drawings."""
    return checked_for(rule_named(session, project_id, key), cut, form) if key else None


def checked_for(rule: DrawingRule, cut: AnyCut, form: Form | None = None) -> DrawingRule:
    """A rule. Raises `Refused` where it is none for drawings of a cut."""
    if wrong := misfit(rule, cut, form):
        raise Refused(wrong, "rule")
    return rule


def series_of(rule: DrawingRule | None) -> str:
    """The series that letters of drawings by a rule are of; plain letters without one."""
    return rule.begins.series if rule is not None else ""


def followed_rule(rules: Rules, row: Drawing) -> DrawingRule | None:
    """The rule that a drawing follows; None for none, or one that is none for its kind any more."""
    rule = rules.get(row.rule)
    return rule if rule is not None and is_for(rule, row) else None


def is_for(rule: DrawingRule, row: Drawing) -> bool:
    """Whether a rule is one for a drawing's kind."""
    return fits(rule, CUT.validate_python(row.cut), form_of(row))


def form_of(row: Drawing) -> Form | None:
    """Of a callout what it enlarges; None of another drawing."""
    return Callout.model_validate(row.callout).form if row.callout is not None else None


def shown_in(row: Drawing) -> Shown:
    return CUT.validate_python(row.cut), DrawingSpec.model_validate(row.style)


def put(row: Drawing, shown: Shown) -> None:
    """Let a drawing show something else."""
    row.cut, row.style = (document.model_dump(mode="json") for document in shown)


def refuse_if_ruled(session: Session, project_id: int, said: Literal["standard", "shown_set"], key: str) -> None:
    """Raises `Refused` where a rule says a drawing standard or a shown set that is to go."""
    for rule in rules_of(session, project_id).values():
        if key == (rule.style.standard if said == "standard" else rule.cut.shown_set):
            raise Refused(f"The drawing rule “{rule.name}” says it; let that say another one first.")
