"""A project of the database as the core takes it: read as it is asked for, for one transaction."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property, partial
from typing import Any

from sqlmodel import Session, col, select

from edge_slice.app.drawings.drawing_rows import annotations_of, homes_as_said, project_drawings
from edge_slice.app.models.in_memory import (
    Other,
    bare_model,
    corrections_of,
    geometry_of,
    grounds_of,
    held_model,
    held_name,
    load_model,
    newest_revision,
    numbered_revision,
    written,
)
from edge_slice.app.projects.shown_sets import rule_for
from edge_slice.app.projects.standards import standard_for
from edge_slice.app.row_lookup import own_key, own_row
from edge_slice.app.rules.followed import Rules, rules_of
from edge_slice.app.sheets.designs import design_for
from edge_slice.core.cut.following.shared_extents import ExtentsBox
from edge_slice.core.cut.shown import ShownRule
from edge_slice.core.cut.spec import Hold, Taken
from edge_slice.core.drawing import DrawingStandard
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.becoming import became
from edge_slice.core.model.corrections.documents import Correction, FaceElsewhere, wish_of
from edge_slice.core.model.corrections.in_hand import dragged_alone, dragged_faces
from edge_slice.core.model.corrections.wanted import Corrected
from edge_slice.core.model.ground.documents import Grounds
from edge_slice.core.project.followed import Followed
from edge_slice.core.project.naming import NameTemplates
from edge_slice.core.project.shown import key_of
from edge_slice.core.project.source import Placed, TouchUps
from edge_slice.core.sheet import IssuedRow, SheetDesign
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.tables.documents import TableDocument
from edge_slice.store.blobs import read_chunks
from edge_slice.store.tables import (
    Annotation,
    CalloutReference,
    Drawing,
    Issue,
    IssuedSheet,
    Project,
    ProjectTable,
    Revision,
    SharedExtents,
    TouchUpRow,
)


class ProjectSource:
    """By its newest model, or another revision: then what is held is not, it is asked for as it would be. `taken`:
    elements that are as other revisions have them. `corrections`: others than those of the project."""

    def __init__(
        self,
        session: Session,
        project_id: int,
        revision: Revision | None = None,
        taken: tuple[Taken, ...] = (),
        corrections: Sequence[Correction] | None = None,
    ) -> None:
        self._session, self._project_id, self._corrections = session, project_id, corrections
        self._stays, self._taken = revision is not None, taken
        self.revision: Revision = revision or newest_revision(session, project_id)
        self._held: dict[Hold, tuple[ProjectSource, str]] = {}

    def by(self, held: Hold | None) -> tuple[ProjectSource, str]:
        if held is None or self._stays:
            return self, ""
        if held not in self._held:
            self._held[held] = self._as_held(held)
        return self._held[held]

    @cached_property
    def _revisions(self) -> dict[int, Revision]:
        mine = select(Revision).where(col(Revision.project_id) == self._project_id).order_by(col(Revision.number))
        return {row.number: row for row in self._session.exec(mine).all()}

    def revisions(self) -> Sequence[int]:
        return list(self._revisions)

    def _as_held(self, held: Hold) -> tuple[ProjectSource, str]:
        known = self._revisions
        lost = [n for n in held.revisions if n not in known]
        if lost:
            said = f"Revision {lost[0]} of the model, by which this drawing is held, is not there any more"
            return self, f"{said}; it shows revision {self.revision.number}."
        revision = known[held.revision]
        return ProjectSource(self._session, self._project_id, revision, held.taken, self._corrections), ""

    @cached_property
    def project(self) -> Project:
        """Its row; held, as a session forgets what nobody holds, and asks again."""
        return self._session.get_one(Project, self._project_id)

    @property
    def key(self) -> str:
        return str(self._project_id)

    @cached_property
    def geometry(self) -> str:
        own = geometry_of(self._session, self.revision, self._corrections)
        return held_name(own, self._others) if self._taken else own

    @property
    def facts(self) -> Mapping[str, Any]:
        return self.revision.facts

    @property
    def grounds(self) -> Grounds:
        return grounds_of(self._session, self._project_id)

    def while_dragged(self, said: Sequence[Correction]) -> ProjectSource | None:
        """What is dragged by a face, alone; None where something else is said to be otherwise."""
        faces = dragged_faces(said, corrections_of(self.project))
        return _Dragged(self, said, faces) if faces else None

    @cached_property
    def model(self) -> Model:
        model = load_model(self._session, self.revision, self._corrections)
        return held_model(self.geometry, model, self._others) if self._taken else model

    @property
    def corrected(self) -> tuple[Model, Sequence[Corrected]]:
        model = bare_model(self._session, self.revision)
        said = corrections_of(self.project) if self._corrections is None else self._corrections
        return model, became(model, said)

    @cached_property
    def _others(self) -> list[Other]:
        """What is taken of which other models."""
        session, project = self._session, self._project_id
        found = []
        for one in self._taken:
            revision = numbered_revision(session, project, one.revision)
            name = geometry_of(session, revision)
            found.append(Other(name, partial(self._load, revision), one.elements))
        return found

    def _load(self, revision: Revision) -> Model:
        return load_model(self._session, revision)

    @property
    def name(self) -> str:
        return self.project.name

    @property
    def client(self) -> str:
        return self.project.client

    @property
    def lengths(self) -> Lengths:
        return written(self.project)

    @cached_property
    def names(self) -> NameTemplates:
        return NameTemplates.model_validate(self.project.names)

    @cached_property
    def register(self) -> Register:
        return Register.model_validate(self.project.sheet_register)

    def boxes(self) -> Mapping[str, ExtentsBox]:
        rows = self._session.exec(select(SharedExtents).where(col(SharedExtents.project_id) == self._project_id))
        return {own_key(row): ExtentsBox.model_validate(row.box) for row in rows.all()}

    def rule(self, key: str) -> ShownRule | None:
        return rule_for(self._session, self._project_id, key)

    def standard(self, key: str) -> DrawingStandard:
        return standard_for(self._session, self._project_id, key)

    def design(self, key: str) -> SheetDesign:
        return design_for(self._session, self._project_id, key)

    def table(self, key: str) -> TableDocument | None:
        row = own_row(self._session, ProjectTable, self._project_id, key)
        return TableDocument.model_validate(row.document) if row is not None else None

    def title_form(self, rule: str) -> str:
        found = self._rules.get(rule) if rule else None
        return found.begins.title if found is not None else ""

    @cached_property
    def _rules(self) -> Rules:
        return rules_of(self._session, self._project_id)

    def drawings(self) -> Sequence[Drawing]:
        return self._drawings

    @cached_property
    def _drawings(self) -> Sequence[Drawing]:
        return project_drawings(self._session, self._project_id)

    def drawing(self, number: int | None) -> Drawing | None:
        row = self._session.get(Drawing, number) if number is not None else None
        return row if row is not None and row.project_id == self._project_id else None

    def callouts(self) -> Sequence[Drawing]:
        mine = select(Drawing).where(col(Drawing.project_id) == self._project_id, col(Drawing.callout).is_not(None))
        return self._session.exec(mine.order_by(col(Drawing.id))).all()

    def references(self) -> Sequence[CalloutReference]:
        mine = select(CalloutReference).where(col(CalloutReference.project_id) == self._project_id)
        return self._session.exec(mine.order_by(col(CalloutReference.id))).all()

    def homes(self) -> Placed:
        return homes_as_said(self._session, self._project_id)

    def touch_ups(self, drawing: int | None) -> TouchUps:
        if drawing is None:
            return ()
        rows = select(TouchUpRow).where(col(TouchUpRow.drawing_id) == drawing).order_by(col(TouchUpRow.id))
        return tuple(
            (f"touch-up:{row.id}", TouchUp.model_validate(row.document)) for row in self._session.exec(rows).all()
        )

    def annotations(self, drawing: int) -> Sequence[Annotation]:
        return annotations_of(self._session, drawing)

    def issued(self) -> Mapping[int, tuple[IssuedRow, ...]]:
        wanted = (
            select(IssuedSheet.sheet_id, Issue)
            .where(col(Issue.project_id) == self._project_id, col(IssuedSheet.issue_id) == col(Issue.id))
            .order_by(col(Issue.id).desc())
        )
        found: dict[int, tuple[IssuedRow, ...]] = {}
        for sheet, issue in self._session.exec(wanted).all():
            row = IssuedRow(issue.code, issue.date, issue.purpose, issue.issued_by)
            found[sheet] = (*found.get(sheet, ()), row)
        return found

    def picture(self, name: str) -> bytes:
        return b"".join(read_chunks(self._session, name))


def followed_in(session: Session, project_id: int, revision: Revision | None = None) -> Followed:
    """The cuts of a project as what they follow has them."""
    return Followed(ProjectSource(session, project_id, revision))


class _Dragged(ProjectSource):
    """By what of the newest model has a face that is dragged, and by nothing else of it."""

    def __init__(self, of: ProjectSource, said: Sequence[Correction], faces: Sequence[FaceElsewhere]) -> None:
        super().__init__(of._session, of._project_id, of.revision)
        self._stays = False  # it is the newest one
        self._said, self._faces = said, faces

    @cached_property
    def geometry(self) -> str:
        return key_of("dragged", super().geometry, *map(wish_of, self._faces))

    @cached_property
    def model(self) -> Model:
        bare = bare_model(self._session, self.revision)
        return dragged_alone(super().model, bare, self._said, self._faces)
