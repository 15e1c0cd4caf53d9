"""What is done for a drawing that is made by a rule."""

from __future__ import annotations

from sqlmodel import Session

from edge_slice.app.annotating.documents import SetWanted
from edge_slice.app.annotating.drawing_annotations import renew_set
from edge_slice.core.project.drawing_rules import DrawingRule
from edge_slice.store.changes import Act
from edge_slice.store.tables import Drawing


def give_sets(session: Session, act: Act, row: Drawing, rule: DrawingRule | None) -> None:
    """The annotation sets that a rule says, on a new drawing. Raises `Refused` where one can't be placed."""
    for name in rule.begins.sets if rule is not None else ():
        renew_set(session, act, row, SetWanted(rule=name))
