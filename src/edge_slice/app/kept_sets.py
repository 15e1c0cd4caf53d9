"""Starter sets that projects keep for others: their drawings, and the standards and shown sets that these follow."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from sqlmodel import Session, col, select

from edge_slice.app.bench_documents import KeptSetNew, KeptSetOut
from edge_slice.app.drawing_rows import project_drawings
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models import load_model, newest_revision
from edge_slice.app.rows import own_key, own_row
from edge_slice.app.source import followed_in
from edge_slice.core.cut import CutSpec
from edge_slice.core.cut.refit import ModelFrame, Refit, refitted
from edge_slice.core.cut.shown import SHIPPED_SETS
from edge_slice.core.drawing import SHIPPED, DrawingSpec
from edge_slice.core.model import Model
from edge_slice.store.changes import Act
from edge_slice.store.database import reading, transaction
from edge_slice.store.forms import FORM, newest
from edge_slice.store.tables import ShownSet, Standard, StarterSet

FIRST = "fine-line"  # the standard of drawings whose own one was lost


class KeptDrawing(BaseModel):
    name: str
    cut: CutSpec
    style: DrawingSpec


class KeptSet(BaseModel):
    """`standards` and `shown_sets` are what drawings name by these keys: name and document."""

    frame: ModelFrame
    drawings: list[KeptDrawing]
    standards: dict[str, tuple[str, dict[str, Any]]] = {}
    shown_sets: dict[str, tuple[str, dict[str, Any]]] = {}


class Placed(BaseModel):
    """A drawing of a kept set in another model; `cut` is None where it has no place there."""

    drawing: KeptDrawing
    cut: CutSpec | None
    how: str


def list_kept() -> list[KeptSetOut]:
    with reading() as session:
        rows = session.exec(select(StarterSet).order_by(col(StarterSet.name), col(StarterSet.id))).all()
        return [_out(row) for row in rows]


def keep(project_id: int, new: KeptSetNew) -> KeptSetOut:
    """Keep a project's drawings as a starter set."""
    with transaction() as session:
        model = load_model(session, newest_revision(session, project_id))
        followed = followed_in(session, project_id)
        drawings = [
            KeptDrawing(name=d.name, cut=followed.cut_of(d), style=DrawingSpec.model_validate(d.style))
            for d in project_drawings(session, project_id)
            if new.drawings is None or d.id in new.drawings
        ]
        if not drawings:
            raise Refused("There are no drawings to keep.", "drawings")
        standards = _named(session, Standard, project_id, {d.style.standard for d in drawings} - set(SHIPPED))
        shown = _named(session, ShownSet, project_id, {d.cut.shown_set for d in drawings} - set(SHIPPED_SETS))
        kept = KeptSet(frame=ModelFrame.of(model), drawings=drawings, standards=standards, shown_sets=shown)
        row = StarterSet(name=new.name.strip(), document=kept.model_dump(mode="json"), form=FORM)
        session.add(row)
        session.flush()
        return _out(row)


def delete_kept(set_id: int) -> None:
    with transaction() as session:
        session.delete(_row(session, set_id))


def kept_set(session: Session, set_id: int) -> KeptSet:
    row = _row(session, set_id)
    return KeptSet.model_validate(newest("starter_set", row.document, row.form))


def placed_in(model: Model, kept: KeptSet) -> list[Placed]:
    """The drawings of a kept set, each fitted to a model."""
    found = []
    for drawing in kept.drawings:
        refit: Refit = refitted(model, drawing.cut, kept.frame)
        found.append(Placed(drawing=drawing, cut=refit.cut, how=refit.how))
    return found


class Brought:
    """The standards and shown sets that drawings of a kept set follow, in another project: one of the same name there
    is taken, others are made in the same act."""

    def __init__(self, session: Session, project_id: int, kept: KeptSet, act: Act) -> None:
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

    def _brought(self, what: str, row: Standard | ShownSet) -> str:
        if what not in self._keys:
            table = type(row)
            same = select(table).where(col(table.project_id) == self._project, col(table.name) == row.name)
            there = self._session.exec(same).first()
            if there is None:
                self._act.adds(row)
            self._keys[what] = own_key(there if isinstance(there, Standard | ShownSet) else row)
        return self._keys[what]


def _named(
    session: Session, table: type[Standard] | type[ShownSet], project_id: int, keys: set[str]
) -> dict[str, tuple[str, dict[str, Any]]]:
    """Names and documents of a project's own standards or shown sets; of those that are lost, none."""
    found: dict[str, tuple[str, dict[str, Any]]] = {}
    for key in sorted(keys):
        row = own_row(session, table, project_id, key)  # type: ignore[type-var]
        if isinstance(row, Standard):
            found[key] = (row.name, row.document)
        elif isinstance(row, ShownSet):
            found[key] = (row.name, row.rule)
    return found


def _row(session: Session, set_id: int) -> StarterSet:
    row = session.get(StarterSet, set_id)
    if row is None:
        raise NotFound("This starter set is not there any more.")
    return row


def _out(row: StarterSet) -> KeptSetOut:
    return KeptSetOut(id=row.id or 0, name=row.name, drawings=len(row.document["drawings"]))
