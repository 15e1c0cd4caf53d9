"""The callouts of a project, as their drawings have them now."""

from __future__ import annotations

from collections.abc import Mapping

from sqlmodel import Session, col, select

from edge_slice.app.followed import Followed
from edge_slice.core.cut.callouts import Region
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.annotations.called_out import CalledOut
from edge_slice.core.drawing.spec import CalloutStyle
from edge_slice.store.tables import CalloutReference, Drawing

Texts = Mapping[int, tuple[str, str]]
NO_TEXTS: Texts = {}


def called_out(session: Session, project_id: int, followed: Followed, texts: Texts = NO_TEXTS) -> list[CalledOut]:
    """All callouts that a project has; `texts` of bubbles by the drawing they lead to."""
    mine = select(Drawing).where(col(Drawing.project_id) == project_id, col(Drawing.callout).is_not(None))
    found = []
    for row in session.exec(mine.order_by(col(Drawing.id))).all():
        parent, region = _parent(session, row), followed.region_of(row)
        if parent is None or region is None or row.id is None:
            continue
        style = DrawingSpec.model_validate(row.style)
        found.append(_called(f"drawing:{row.id}", row, parent, region, style.callout, followed, texts))
    others = select(CalloutReference).where(col(CalloutReference.project_id) == project_id)
    for reference in session.exec(others.order_by(col(CalloutReference.id))).all():
        parent, target = session.get(Drawing, reference.drawing_id), session.get(Drawing, reference.target_id)
        if parent is None or target is None:
            continue
        region = followed.held(parent, Region.model_validate(reference.region))
        marker = CalloutStyle.model_validate(reference.marker)
        found.append(_called(f"reference:{reference.id}", target, parent, region, marker, followed, texts))
    return found


def _parent(session: Session, row: Drawing) -> Drawing | None:
    return session.get(Drawing, row.parent_id) if row.parent_id is not None else None


def _called(
    source: str, target: Drawing, parent: Drawing, region: Region, style: CalloutStyle, followed: Followed, texts: Texts
) -> CalledOut:
    upper, lower = texts.get(target.id or 0, (target.letter or "–", "–"))
    ring = tuple((u, v) for u, v in region.outline.tolist())
    scale = DrawingSpec.model_validate(target.style).scale
    return CalledOut(
        source, target.id or 0, parent.id or 0, upper, lower, followed.cut_of(parent), ring, region.shape, scale, style
    )
