"""The rules that an office keeps, as they are kept: with what they name that a project made itself."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.drawings.kept_documents import KeptNames
from edge_slice.core.project.drawing_rules import DrawingRule
from edge_slice.store.forms import newest
from edge_slice.store.tables import OfficeRule


class KeptRule(KeptNames):
    rule: DrawingRule


def office_row(session: Session, rule: DrawingRule) -> OfficeRule | None:
    """The office's rule of the name and kind of one of a project."""
    same = select(OfficeRule).where(col(OfficeRule.kind) == rule.kind, col(OfficeRule.name) == rule.name)
    return session.exec(same).first()


def kept_rule(row: OfficeRule) -> KeptRule:
    return KeptRule.model_validate(newest("office_rule", row.document, row.form))
