"""Names of composed drawings: another one whenever a drawing would look different."""

from __future__ import annotations

import json
from functools import cached_property
from typing import Literal

from sqlalchemy import text
from sqlmodel import Session

from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import own_row
from edge_slice.core.cut import AnyCut, PlanCut
from edge_slice.core.drawing import SHIPPED, DrawingSpec
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.shown import key_of
from edge_slice.core.project.source import Placed
from edge_slice.core.project.strips import strips_in
from edge_slice.store.tables import Standard

NO_TEXTS: Placed = {}

# what markers on plans look like, and where they stand, depends on of the drawings that they stand for
_MARKS = text(
    "SELECT md5(string_agg(concat_ws(' ', id, cut->>'line', cut->>'look', cut->>'extents', cut->>'shared_extents',"
    " style->>'marker'), ',' ORDER BY id)) FROM drawing WHERE project_id = :project AND cut->>'kind' IN"
    " ('section', 'elevation', 'interior elevation')"
)


_ROWS_OF = {
    table: text(
        f"SELECT drawing_id, md5(string_agg(id || ' ' || version, ',' ORDER BY id)) FROM {table}"
        " WHERE project_id = :project GROUP BY drawing_id"
    )
    for table in ("touch_up", "annotation")
}


class ViewKeys:
    """The names of a project's views, for one transaction, of the newest revision or of what `source` has: what they
    share is read once. `texts` of the bubbles of callouts are only needed where these are drawn."""

    def __init__(
        self, session: Session, project_id: int, texts: Placed = NO_TEXTS, source: ProjectSource | None = None
    ) -> None:
        self._session, self._project = session, project_id
        self.source = source or ProjectSource(session, project_id)
        self.revision = self.source.revision
        self.drawings = Drawings(self.source, homes=texts)
        self.followed = self.drawings.followed
        self._lengths = self.source.project.lengths
        self._rules: dict[str, str] = {}
        self._standards: dict[str, str] = {}

    def of(self, found: tuple[AnyCut, str], style: DrawingSpec, drawing_id: int | None) -> str:
        """The name of the view of a cut as what it follows has it, and what is wrong with that (`Followed.found`), in a
        drawing; one that is none yet has no markers whose places its labels leave free."""
        cut, finding = found
        standard = self._standards.get(style.standard)
        if standard is None:
            standard = self._standards[style.standard] = self._standard(style.standard)
        return key_of(
            "view", self.source.by(cut.held)[0].geometry, cut.model_dump_json(), style.model_dump_json(), standard,
            self._lengths if style.lengths == "project" else "", self._rule(cut.shown_set),
            f"{drawing_id} {self._marks}"
            if drawing_id is not None and isinstance(cut, PlanCut) and style.rooms and style.shown_markers else "",
            repr([(c.source, c.ring, c.shape, c.style) for c in self.callouts_on(drawing_id, cut, style)]),
            self._kept_clear(cut, style, drawing_id),
            self._strips(cut, style),
            self.touched.get(drawing_id or 0, ""), finding,
        )  # fmt: skip

    def _kept_clear(self, cut: AnyCut, style: DrawingSpec, drawing_id: int | None) -> str:
        """The annotations of which bubbles and labels that are part of a view keep clear."""
        labelled = style.rooms if isinstance(cut, PlanCut) else style.section_rooms
        if drawing_id is None or not (labelled or self.callouts_on(drawing_id, cut, style)):
            return ""
        return self.annotated.get(drawing_id, "")

    @cached_property
    def touched(self) -> dict[int, str]:
        """What touch-ups a drawing has, by drawing."""
        return self._said_of("touch_up")

    @cached_property
    def annotated(self) -> dict[int, str]:
        """What annotations a drawing has, by drawing."""
        return self._said_of("annotation")

    def _said_of(self, table: Literal["touch_up", "annotation"]) -> dict[int, str]:
        found = self._session.connection().execute(_ROWS_OF[table], {"project": self._project}).all()
        return {int(drawing): str(said) for drawing, said in found}

    @cached_property
    def _marks(self) -> str:
        """What the labels of rooms on plans keep clear of."""
        found = self._session.connection().execute(_MARKS, {"project": self._project}).scalar_one()
        return f"{found} {self.followed.boxes_said}"

    def _strips(self, cut: AnyCut, style: DrawingSpec) -> str:
        """What the strips in a plan look like."""
        wanted = strips_in(self.source, self.followed, cut, style)
        return " ".join(s if isinstance(s, str) else self.of((s.cut, ""), s.style, None) for s in wanted)

    def callouts_on(self, drawing_id: int | None, cut: AnyCut, style: DrawingSpec) -> tuple[CalloutMark, ...]:
        """The callouts that a drawing shows."""
        return self.drawings.callouts_on(drawing_id, cut, style)

    def _rule(self, key: str) -> str:
        """What a drawing depends on of its shown set; one that is lost leaves nothing out."""
        if key and key not in self._rules:
            rule = self.source.rule(key)
            self._rules[key] = "" if rule is None else rule.model_dump_json()
        return self._rules.get(key, "")

    def _standard(self, key: str) -> str:
        """What a drawing depends on of a standard; one that is lost has a name too."""
        row = None if key in SHIPPED else own_row(self._session, Standard, self._project, key)
        own = key if row is None else json.dumps(row.document, sort_keys=True)
        settled = self.source.project.materials
        return f"{own} {json.dumps(settled, sort_keys=True)}" if settled else own
