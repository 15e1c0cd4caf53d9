"""The cut of a drawing as it shows, cached by what it depends on."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from sqlmodel import Session

from edge_slice.app.errors import Refused
from edge_slice.app.followed import Followed
from edge_slice.app.models import load_model, newest_revision, written
from edge_slice.app.recent import Recent
from edge_slice.app.shown_sets import rule_for
from edge_slice.app.standards import standard_for
from edge_slice.app.view_keys import key_of
from edge_slice.core.cut import AnyCut, CutResult, ImpossibleCut, MaterialRules, cut_model
from edge_slice.core.cut.shown import following
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.model import Model
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing, Project, Revision

KEPT = 24
_cuts: Recent[CutResult] = Recent(KEPT)
_newest: Recent[CutResult] = Recent(KEPT)  # by project and kind of cut


@dataclass(frozen=True)
class Shown:
    """What a drawing is made of: the revision's model, the cut as it shows at its scale, style and standard; and what
    is wrong with it."""

    revision: Revision
    model: Model
    cut: AnyCut
    style: DrawingSpec
    standard: DrawingStandard
    finding: str = ""

    @cached_property
    def rules(self) -> MaterialRules:
        """What materials mean for the cut."""
        return self.standard.cut_rules(self.model)


def shown_as(session: Session, revision: Revision, found: tuple[AnyCut, str], style: DrawingSpec) -> Shown:
    """`found`: the cut as what it follows has it, and what is wrong with that."""
    cut, finding = found
    standard = standard_for(session, revision.project_id, style.standard)
    if style.lengths == "project":
        style = style.model_copy(update={"lengths": written(session.get_one(Project, revision.project_id))})
    model, rule = load_model(session, revision), rule_for(session, revision.project_id, cut.shown_set)
    shown = cut if rule is None else following(model, cut, rule)
    return Shown(revision, model, standard.shown_cut(shown, style.scale), style, standard, finding)


def cut_key(shown: Shown) -> str:
    """The name of a cut: only another model, cut or material rules make another one."""
    return key_of("cut", shown.revision.geometry_hash, shown.cut.model_dump_json(), shown.rules.digest())


def cut_of(shown: Shown) -> CutResult:
    """The cut of a revision. Where it is a new one, only what depends on the change is computed: the last cut of the
    same kind in the project hands on the rest."""
    kind = f"{shown.revision.project_id} {shown.cut.kind}"

    def cut() -> CutResult:
        try:
            return cut_model(shown.model, shown.cut, shown.rules, _newest.known(kind))
        except ImpossibleCut as error:
            raise Refused(str(error), "cut") from error

    found = _cuts.get(cut_key(shown), cut)
    _newest.put(kind, found)
    return found


def saved(session: Session, row: Drawing, revision: Revision | None = None) -> Shown:
    """A saved drawing by a revision of its project's model, the newest one where none is named."""
    found = Followed(session, row.project_id, revision).found(row)
    revision = revision or newest_revision(session, row.project_id)
    return shown_as(session, revision, found, DrawingSpec.model_validate(row.style))


def shown_cut_of(project_id: int, cut: AnyCut, style: DrawingSpec) -> tuple[Model, AnyCut, CutResult]:
    """The model, what is shown of it, and the cut of a view."""
    with transaction() as session:
        found = Followed(session, project_id).of(cut)
        shown = shown_as(session, newest_revision(session, project_id), found, style)
        return shown.model, shown.cut, cut_of(shown)
