"""Names in what is saved: those that nothing in the project is called are refused."""

from __future__ import annotations

from collections.abc import Iterable

from sqlmodel import Session, col, select

from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import own_key
from edge_slice.core.cut import AnyCut
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.project.drawing_rules import DrawingRule, in_drawing_rule
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.known_names import (
    check_names,
    in_cut,
    in_style,
    known_to_model,
    known_to_project,
    known_to_standard,
)
from edge_slice.store.tables import Drawing, ShownSet


def check_drawing(
    session: Session, project_id: int, cut: AnyCut | None, style: DrawingSpec | None, before: Drawing | None = None
) -> None:
    """What a drawing's cut and style name, where either is given, but for what it named `before`. Raises `Refused`."""
    source = ProjectSource(session, project_id)
    known = known_to_model(source.model)
    if cut is not None:
        was = in_cut(CUT.validate_python(before.cut)) if before is not None else ()
        check_names(in_cut(cut), {**known, **_of_project(session, project_id, source)}, was)
    if style is not None:
        was = in_style(DrawingSpec.model_validate(before.style)) if before is not None else ()
        check_names(in_style(style), {**known, **known_to_standard(source.standard(style.standard))}, was)


def check_rule(session: Session, project_id: int, rule: DrawingRule, before: DrawingRule | None = None) -> None:
    """What a drawing rule names, but for what it named `before`. Raises `Refused`."""
    source = ProjectSource(session, project_id)
    known = known_to_model(source.model) | known_to_standard(source.standard(rule.style.standard))
    was = in_drawing_rule(before) if before is not None else ()
    check_names(in_drawing_rule(rule), {**known, **_of_project(session, project_id, source)}, was)


def _of_project(session: Session, project_id: int, source: ProjectSource) -> dict[str, Iterable[str]]:
    sets = session.exec(select(ShownSet).where(col(ShownSet.project_id) == project_id)).all()
    return known_to_project(source, map(own_key, sets))
