"""Starter sets that projects keep for others: their drawings, and the rules, standards and shown sets that these
follow."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from pydantic import BaseModel
from sqlmodel import Session, col, select

from edge_slice.app.drawings.documents import KeptSetNew, KeptSetOut, PlacedByHand
from edge_slice.app.drawings.drawing_rows import annotations_of, project_drawings
from edge_slice.app.drawings.kept_documents import KeptDrawing, KeptNames, KeptSet
from edge_slice.app.errors import NotFound, Refused, first_words
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import own_key, own_row
from edge_slice.app.rules.followed import rule_in, rules_of
from edge_slice.core.annotating.set_rules import SETS
from edge_slice.core.cut import (
    AnyCut,
    CutSpec,
    ElevationCut,
    Extents,
    ImpossibleCut,
    PlanCut,
    SectionCut,
    leaves_of,
)
from edge_slice.core.cut.following.callouts import Callout, anchored, derived
from edge_slice.core.cut.following.refit import OF_ITS_MODEL, ModelFrame, Refit, refitted, region_refitted
from edge_slice.core.cut.shown import SHIPPED_SETS
from edge_slice.core.drawing import SHIPPED, DrawingSpec
from edge_slice.core.model import Model
from edge_slice.core.project.drawing_rules import DrawingRule
from edge_slice.core.project.followed import CUT, Followed
from edge_slice.core.sheet import CORNER, shipped_designs
from edge_slice.store.changes import Act
from edge_slice.store.database import reading, transaction
from edge_slice.store.forms import FORM, newest
from edge_slice.store.tables import Drawing, DrawingRuleRow, SheetDesignRow, ShownSet, Standard, StarterSet

FIRST = "fine-line"  # the standard of drawings whose own one was lost


NONE_BY_HAND: Mapping[int, PlacedByHand] = {}


class Placed(BaseModel):
    """A drawing of a kept set in another model; `cut` is None where it has no place there. Of a callout its region in
    the drawing that it is called out from, which is the set's number `parent`."""

    drawing: KeptDrawing
    cut: CutSpec | None
    how: str
    parent: int | None = None
    callout: Callout | None = None


def list_kept() -> list[KeptSetOut]:
    with reading() as session:
        rows = session.exec(select(StarterSet).order_by(col(StarterSet.name), col(StarterSet.id))).all()
        return [_out(row) for row in rows]


def kept_of(session: Session, project_id: int, new: KeptSetNew) -> tuple[KeptSet, list[Drawing]]:
    """A project's drawings as a set, and their rows. Raises `Refused` where there are none."""
    model = load_model(session, newest_revision(session, project_id))
    source = ProjectSource(session, project_id)
    rows = [d for d in project_drawings(session, project_id) if new.drawings is None or d.id in new.drawings]
    if not rows:
        raise Refused("There are no drawings to keep.", "drawings")
    drawings = _kept_drawings(session, source, rows)
    followed_rules = {d.rule for d in drawings}
    rules = {key: rule for key, rule in rules_of(session, project_id).items() if key in followed_rules}
    styles = [*(d.style for d in drawings), *(r.style for r in rules.values())]
    cuts = [*(d.cut.shown_set for d in drawings), *(r.cut.shown_set for r in rules.values())]
    designs = {rule.begins.design for rule in rules.values()}
    names = own_names(session, project_id, {s.standard for s in styles}, {*cuts}, designs)
    return KeptSet(frame=ModelFrame.of(model), drawings=drawings, rules=rules, **dict(names)), rows


def stored(session: Session, name: str, kept: KeptSet) -> KeptSetOut:
    row = StarterSet(name=name.strip(), document=kept.model_dump(mode="json"), form=FORM)
    session.add(row)
    session.flush()
    return _out(row)


def own_names(
    session: Session, project_id: int, standards: set[str], shown_sets: set[str], designs: Collection[str] = ()
) -> KeptNames:
    """Of what is named by these keys what the project made itself."""
    return KeptNames(
        designs=named_documents(session, SheetDesignRow, project_id, set(designs)),
        standards=named_documents(session, Standard, project_id, standards - set(SHIPPED)),
        shown_sets=named_documents(session, ShownSet, project_id, shown_sets - set(SHIPPED_SETS)),
    )


def delete_kept(set_id: int) -> None:
    with transaction() as session:
        session.delete(kept_row(session, set_id))


def kept_set(session: Session, set_id: int) -> KeptSet:
    row = kept_row(session, set_id)
    return KeptSet.model_validate(newest("starter_set", row.document, row.form))


def placed_in(model: Model, kept: KeptSet, by_hand: Mapping[int, PlacedByHand] = NONE_BY_HAND) -> list[Placed]:
    """The drawings of a kept set, each fitted to a model; some are placed `by_hand`. Raises `Refused` where one can't
    be there."""
    found: dict[int, Placed] = {}
    for k, hand in by_hand.items():
        if not 0 <= k < len(kept.drawings):
            raise Refused(f"“kept {k}” is not in this set; read it again.", "places")
        drawing = kept.drawings[k]
        found[k] = Placed(drawing=drawing, cut=_by_hand(model, drawing.cut, hand), how="placed by hand")
    for k in range(len(kept.drawings)):
        _place(model, kept, k, found)
    return [found[k] for k in range(len(kept.drawings))]


def _by_hand(model: Model, cut: AnyCut, hand: PlacedByHand) -> AnyCut:
    """A kept cut where somebody puts it. Raises `Refused`."""
    change: dict[str, Any] = {**OF_ITS_MODEL, "extents": Extents().model_dump()}
    if isinstance(cut, PlanCut):
        if hand.storey not in {s.guid for s in model.storeys}:
            raise Refused("Say on which storey of this model the plan lies.", "places")
        change["storey"] = hand.storey
    elif isinstance(cut, SectionCut | ElevationCut) and hand.line is not None:
        change |= {"line": hand.line, "look": hand.look or cut.look}
        change |= {"depths": (), "corners": "steps"} if isinstance(cut, SectionCut) else {"space": ""}
    else:
        raise Refused("Say along which line of this model the drawing is cut.", "places")
    try:
        moved = CUT.validate_python({**cut.model_dump(), **change})
        leaves_of(model, moved)
    except (ImpossibleCut, ValueError) as error:
        raise Refused(f"It can't be cut there: {first_words(error)}", "places") from error
    return moved


def _kept_drawings(session: Session, source: ProjectSource, rows: list[Drawing]) -> list[KeptDrawing]:
    followed = Followed(source)
    place = {row.id: k for k, row in enumerate(rows)}
    found = []
    for row in rows:
        called, region = place.get(row.parent_id) if row.callout is not None else None, followed.region_of(row)
        callout = None
        if called is not None and region is not None:
            callout = Callout.model_validate(row.callout).model_copy(update={"region": region})
        style = DrawingSpec.model_validate(row.style)
        strips = tuple(
            s.model_copy(update={"drawing": place[s.drawing] + 1}) for s in style.strips if s.drawing in place
        )
        placed = [str(a.document["rule"]) for a in annotations_of(session, row.id or 0)]
        found.append(
            KeptDrawing(name=row.name, cut=followed.cut_of(row), style=style.model_copy(update={"strips": strips}),
                        parent=called, callout=callout, rule=row.rule, letter=row.letter,
                        by_hand=placed.count(""),
                        touch_ups=len(source.touch_ups(row.id)),
                        sets=[rule for rule, one in SETS.items() if rule in placed and not one.of_wall])
        )  # fmt: skip
    return found


def _place(model: Model, kept: KeptSet, k: int, found: dict[int, Placed]) -> Placed:
    """The drawing number `k` of a set in a model; a callout after what it is called out from."""
    if k in found:
        return found[k]
    drawing = kept.drawings[k]
    called = drawing.callout
    if drawing.parent is None or called is None or not 0 <= drawing.parent < len(kept.drawings):
        refit: Refit = refitted(model, drawing.cut, kept.frame)
        found[k] = Placed(drawing=drawing, cut=refit.cut, how=refit.how)
        return found[k]
    found[k] = Placed(drawing=drawing, cut=None, how="it is called out from itself")  # were it so, it would not end
    parent = _place(model, kept, drawing.parent, found)
    found[k] = Placed(drawing=drawing, cut=None, how="what it is called out from has no place in this model")
    if parent.cut is not None:
        try:
            was = kept.drawings[drawing.parent].cut
            region = region_refitted(model, was, parent.cut, kept.frame, called.region)
            callout = called.model_copy(update={"region": anchored(model, parent.cut, region)})
            own = drawing.cut.model_copy(update=OF_ITS_MODEL)
            cut = derived(model, parent.cut, own, callout).cut
            how = "in the same place of what it is called out from"
            found[k] = Placed(drawing=drawing, cut=cut, how=how, parent=drawing.parent, callout=callout)
        except ImpossibleCut as error:
            found[k] = Placed(drawing=drawing, cut=None, how=str(error))
    return found[k]


class Brought:
    """The standards, shown sets and rules that kept documents name, in another project: one of the same name there is
    taken, others are made in the same act."""

    def __init__(self, session: Session, project_id: int, kept: KeptNames, act: Act) -> None:
        self._session, self._project, self._kept, self._act = session, project_id, kept, act
        self._keys: dict[str, str] = {}

    def standard(self, key: str) -> str:
        if key in SHIPPED:
            return key
        if key not in self._kept.standards:
            return FIRST
        name, document = self._kept.standards[key]
        return self._brought(f"standard {key}", Standard(project_id=self._project, name=name, document=document))

    def shown_set(self, key: str) -> str:
        if not key or key in SHIPPED_SETS:
            return key
        if key not in self._kept.shown_sets:
            return ""
        name, rule = self._kept.shown_sets[key]
        return self._brought(f"shown set {key}", ShownSet(project_id=self._project, name=name, rule=rule))

    def design(self, key: str) -> str:
        """A sheet design; the shipped one where it was lost."""
        if key in shipped_designs():
            return key
        if key not in self._kept.designs:
            return CORNER
        name, document = self._kept.designs[key]
        return self._brought(f"design {key}", SheetDesignRow(project_id=self._project, name=name, document=document))

    def rule(self, rule: DrawingRule | None) -> str:
        """The key of the rule of that name and kind; empty for none."""
        if rule is None:
            return ""
        row = self.there(rule)
        if row is None:
            row = DrawingRuleRow(project_id=self._project, document=self.as_here(rule).model_dump(mode="json"))
            self._act.adds(row)
        return own_key(row)

    def there(self, rule: DrawingRule) -> DrawingRuleRow | None:
        """The rule of that name and kind in the project."""
        wanted = select(DrawingRuleRow).where(col(DrawingRuleRow.project_id) == self._project)
        same = (rule.name, rule.kind)
        return next((r for r in self._session.exec(wanted) if (rule_in(r).name, rule_in(r).kind) == same), None)

    def as_here(self, rule: DrawingRule) -> DrawingRule:
        """A rule that names what the project has."""
        design = self.design(rule.begins.design) if rule.begins.design else ""
        return rule.naming(self.standard(rule.style.standard), self.shown_set(rule.cut.shown_set), "", design)

    def _brought(self, what: str, row: Standard | ShownSet | SheetDesignRow) -> str:
        if what not in self._keys:
            table = type(row)
            same = select(table).where(col(table.project_id) == self._project, col(table.name) == row.name)
            there = self._session.exec(same).first()
            if there is None:
                self._act.adds(row)
            self._keys[what] = own_key(there if isinstance(there, Standard | ShownSet | SheetDesignRow) else row)
        return self._keys[what]


def named_documents(
    session: Session, table: type[Standard] | type[ShownSet] | type[SheetDesignRow], project_id: int, keys: set[str]
) -> dict[str, tuple[str, dict[str, Any]]]:
    """Names and documents of a project's own standards, shown sets or sheet designs; of shipped and lost ones none."""
    found: dict[str, tuple[str, dict[str, Any]]] = {}
    for key in sorted(keys):
        row = own_row(session, table, project_id, key)  # type: ignore[type-var]
        if isinstance(row, Standard | SheetDesignRow):
            found[key] = (row.name, row.document)
        elif isinstance(row, ShownSet):
            found[key] = (row.name, row.rule)
    return found


def kept_row(session: Session, set_id: int) -> StarterSet:
    row = session.get(StarterSet, set_id)
    if row is None:
        raise NotFound("This starter set is not there any more.")
    return row


def _out(row: StarterSet) -> KeptSetOut:
    return KeptSetOut(
        id=row.id or 0,
        name=row.name,
        drawings=len(row.document["drawings"]),
        sheets=len(row.document.get("sheets", [])),
    )
