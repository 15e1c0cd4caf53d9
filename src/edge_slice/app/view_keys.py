"""Names of composed drawings: another one whenever a drawing would look different."""

from __future__ import annotations

import hashlib
import json
from functools import cached_property
from typing import Literal

from sqlalchemy import text
from sqlmodel import Session

from edge_slice.app.called_out import NO_TEXTS, Texts, called_out
from edge_slice.app.errors import Refused
from edge_slice.app.followed import Followed
from edge_slice.app.models import load_model, newest_revision
from edge_slice.app.naming import NameTemplates
from edge_slice.app.rows import own_row
from edge_slice.app.shown_sets import rule_for
from edge_slice.app.standards import standard_for
from edge_slice.app.strips import strip_in
from edge_slice.core.cut import AnyCut, ImpossibleCut, PlanCut
from edge_slice.core.drawing import SHIPPED, DrawingSpec
from edge_slice.core.drawing.annotations.called_out import CalledOuts
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.store.tables import Project, Revision, Standard

FORMAT = "11"  # part of every key: raise it when the same input is drawn differently


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


def key_of(*parts: str) -> str:
    return hashlib.sha256("\0".join((FORMAT, *parts)).encode()).hexdigest()


class ViewKeys:
    """The names of a project's views, for one transaction and the newest or another revision: what they share is read
    once. `texts` of the bubbles of
    callouts are only needed where these are drawn."""

    def __init__(
        self, session: Session, project_id: int, texts: Texts = NO_TEXTS, revision: Revision | None = None
    ) -> None:
        self._session, self._project, self._texts = session, project_id, texts
        self.revision: Revision = revision or newest_revision(session, project_id)
        self.followed = Followed(session, project_id, self.revision)
        project = session.get_one(Project, project_id)
        self._lengths, self.names = project.lengths, NameTemplates.model_validate(project.names)
        self._rules: dict[str, str] = {}
        self._standards: dict[str, str] = {}

    def of(self, cut: AnyCut, style: DrawingSpec, drawing_id: int | None) -> str:
        """The name of the view of a cut, as its shared extents have it, in a drawing; one that is none yet has no
        markers whose places its labels leave free."""
        standard = self._standards.get(style.standard)
        if standard is None:
            standard = self._standards[style.standard] = self._standard(style.standard)
        return key_of(
            "view", self.revision.geometry_hash, cut.model_dump_json(), style.model_dump_json(), standard,
            self._lengths if style.lengths == "project" else "", self._rule(cut.shown_set),
            f"{drawing_id} {self._marks}"
            if drawing_id is not None and isinstance(cut, PlanCut) and style.rooms and style.shown_markers else "",
            repr([(c.source, c.ring, c.shape, c.style) for c in self.callouts_on(drawing_id, cut, style)]),
            self._strip(cut, style),
            self.touched.get(drawing_id or 0, ""),
        )  # fmt: skip

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

    def _strip(self, cut: AnyCut, style: DrawingSpec) -> str:
        """What the strip in a plan looks like."""
        try:
            strip = strip_in(self._session, self._project, self.followed, cut, style)
        except ImpossibleCut as error:
            return str(error)
        return "" if strip is None else self.of(strip.cut, strip.style, None)

    def callouts_on(self, drawing_id: int | None, cut: AnyCut, style: DrawingSpec) -> tuple[CalloutMark, ...]:
        """The callouts that a drawing shows; by a standard that is lost, none."""
        if drawing_id is None or not style.callouts or self._called is None:
            return ()
        try:
            rule = standard_for(self._session, self._project, style.standard).marker.callouts
        except Refused:
            return ()
        return self._called.on(drawing_id, cut, style.scale, rule)

    @cached_property
    def _called(self) -> CalledOuts | None:
        called = called_out(self._session, self._project, self.followed, self._texts)
        return CalledOuts(load_model(self._session, self.revision), called) if called else None

    def _rule(self, key: str) -> str:
        """What a drawing depends on of its shown set; one that is lost leaves nothing out."""
        if key and key not in self._rules:
            rule = rule_for(self._session, self._project, key)
            self._rules[key] = "" if rule is None else rule.model_dump_json()
        return self._rules.get(key, "")

    def _standard(self, key: str) -> str:
        """What a drawing depends on of a standard; one that is lost has a name too."""
        row = None if key in SHIPPED else own_row(self._session, Standard, self._project, key)
        return key if row is None else json.dumps(row.document, sort_keys=True)
