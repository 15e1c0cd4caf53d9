"""The callouts of a project, as their drawings have them now."""

from __future__ import annotations

from functools import cached_property

from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.following.callouts import Callout, Region
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.annotations.called_out import CalledOut, CalledOuts
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.spec import CalloutStyle
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.naming import automatic_name
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.source import DrawingRow, Placed, Source


class Callouts:
    """The callouts of a project; `texts` of bubbles by the drawing they lead to are only needed where these are
    drawn."""

    def __init__(self, source: Source, followed: Followed, texts: Placed) -> None:
        self._source, self._followed, self._texts = source, followed, texts

    def on(self, drawing: int | None, cut: AnyCut, style: DrawingSpec) -> tuple[CalloutMark, ...]:
        """Those that a drawing shows; by a standard that is lost, none."""
        if drawing is None or not style.callouts or self._all is None:
            return ()
        try:
            rule = self._source.standard(style.standard).marker.callouts
        except Refused:
            return ()
        return self._all.on(self._source.model, drawing, cut, style.scale, rule)

    @cached_property
    def _all(self) -> CalledOuts | None:
        called = _called_out(self._source, self._followed, self._texts)
        return CalledOuts(self._source.model, called) if called else None


def title_of(source: Source, followed: Followed, row: DrawingRow) -> str:
    """The name shown: the given one, or made from kind, letter and direction of view."""
    form = Callout.model_validate(row.callout).form if row.callout is not None else None
    if row.name:
        return row.name
    own = source.title_form(row.rule)
    return automatic_name(source.facts, row.letter, followed.cut_of(row), source.names, form, own)


def _called_out(source: Source, followed: Followed, texts: Placed) -> list[CalledOut]:
    """All callouts that a project has."""

    def called(key: str, target: DrawingRow, parent: DrawingRow, region: Region, style: CalloutStyle) -> CalledOut:
        upper, lower = texts.get(target.id or 0, (target.letter or "–", "–"))
        ring = tuple((u, v) for u, v in region.outline.tolist())
        scale = DrawingSpec.model_validate(target.style).scale
        cut = followed.cut_of(parent)
        return CalledOut(key, target.id or 0, parent.id or 0, upper, lower, cut, ring, region.shape, scale, style)

    found = []
    for row in source.callouts():
        parent, region = source.drawing(row.parent_id), followed.region_of(row)
        if parent is None or region is None or row.id is None:
            continue
        style = DrawingSpec.model_validate(row.style)
        found.append(called(f"drawing:{row.id}", row, parent, region, style.callout))
    for reference in source.references():
        parent, target = source.drawing(reference.drawing_id), source.drawing(reference.target_id)
        if parent is None or target is None:
            continue
        region = followed.held(parent, Region.model_validate(reference.region))
        marker = CalloutStyle.model_validate(reference.marker)
        found.append(called(f"reference:{reference.id}", target, parent, region, marker))
    return found
