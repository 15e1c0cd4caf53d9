"""Projects: list, rename, delete."""

from __future__ import annotations

from sqlmodel import Session, col, select

from edge_slice.app.models.corrections import said_of_model
from edge_slice.app.models.in_memory import (
    corrections_of,
    grounds_of,
    kept_corrections,
    newest_revision,
    said_here,
    written,
)
from edge_slice.app.people.audit import audit
from edge_slice.app.people.rights import Person, projects_of
from edge_slice.app.projects.documents import ModelFacts, ProjectEdit, ProjectOut
from edge_slice.app.projects.standards import check_materials_here, check_settled
from edge_slice.app.row_lookup import current_row, held_row, project_row
from edge_slice.app.sheets.check_documents import known_rules
from edge_slice.app.sheets.templates import Templates
from edge_slice.core.project.naming import NameTemplates
from edge_slice.core.sheet.numbering import Register
from edge_slice.store.blobs import drop_unused
from edge_slice.store.changes import notify, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.issued import issued_hashes
from edge_slice.store.tables import Drawing, ModelImport, Project, Revision, RevisionPart


def switched_off(row: Project) -> set[str]:
    """The rules of the checks that a project does not look for."""
    return set(row.checks.get("off", ()))


def list_projects(person: Person) -> list[ProjectOut]:
    """The projects that somebody may see."""
    with reading() as session:
        rows = session.exec(select(Project).order_by(col(Project.id))).all()
        mine = None if person.sees_all else projects_of(session, person)
        return [_out(session, p) for p in rows if mine is None or p.id in mine]


def get_project(project_id: int) -> ProjectOut:
    with reading() as session:
        return _out(session, project_row(session, project_id))


def edit_project(project_id: int, edit: ProjectEdit, author: str) -> ProjectOut:
    with transaction() as session:
        row = current_row(session, Project, project_id, edit.version, lambda newer: _out(session, newer))
        with recorded(session, project_id, "edit project", author) as act:
            act.edits(row)
            for key in ("name", "client", "lengths"):
                if (value := getattr(edit, key)) is not None:
                    setattr(row, key, value)
            if edit.names is not None:
                row.names = edit.names.model_dump()
            if edit.sheet_register is not None:
                row.sheet_register = edit.sheet_register.model_dump()
            if edit.templates is not None:
                row.templates = edit.templates.model_dump()
            if edit.unchecked is not None:
                row.checks = {"off": known_rules(edit.unchecked)}
            if edit.materials is not None:
                check_settled(session, project_id, edit.materials, row.materials)
                row.materials = edit.materials
            if edit.materials_here is not None:
                check_materials_here(session, project_id, edit.materials_here, said_here(row))
                row.materials_here = [one.model_dump() for one in edit.materials_here]
            if edit.corrections is not None:
                said = said_of_model(session, project_id, edit.corrections, corrections_of(row))
                signed = [one if one.author else one.model_copy(update={"author": author}) for one in said]
                row.corrections = kept_corrections(signed)
        return _out(session, row)


def delete_project(project_id: int, person: Person) -> None:
    """Delete a project with its drawings, sheets and model."""
    with transaction() as session:
        row = held_row(session, Project, project_id)
        if person.account is not None:
            audit(session, person, "deleted a project", row.name)
        revisions = session.exec(select(Revision).where(col(Revision.project_id) == project_id)).all()
        of_parts = select(RevisionPart).where(col(RevisionPart.revision_id).in_([r.id for r in revisions]))
        kept: list[Revision | RevisionPart] = [*revisions, *session.exec(of_parts).all()]
        hashes = [name for row in kept for name in (row.file_hash, row.geometry_hash)]
        hashes += issued_hashes(session, project_id)
        for drawing in session.exec(select(Drawing).where(col(Drawing.project_id) == project_id)).all():
            drawing.parent_id = None
        session.flush()
        session.delete(row)
        session.flush()
        session.expire_all()
        for name in hashes:
            drop_unused(session, name)
        notify(session, project_id, "delete project")
        notify(session, None, "project")


def _in_ground(session: Session, project_id: int, facts: ModelFacts) -> ModelFacts:
    """What a model has, with the ground of its project instead of its own."""
    grounds = grounds_of(session, project_id)
    if not grounds.any:
        return facts
    kinds = {**facts.kinds, "ground": (grounds.existing is not None) + (grounds.proposed is not None)}
    return facts.model_copy(update={"kinds": dict(sorted(kinds.items()))})


def _proposed(session: Session, project_id: int) -> int:
    found = select(ModelImport.id).where(ModelImport.into_id == project_id, ModelImport.state == "proposed")
    return len(session.exec(found).all())


def _out(session: Session, row: Project) -> ProjectOut:
    assert row.id is not None
    revision = newest_revision(session, row.id)
    return ProjectOut(
        id=row.id,
        name=row.name,
        client=row.client,
        lengths=written(row),
        names=NameTemplates.model_validate(row.names),
        sheet_register=Register.model_validate(row.sheet_register),
        templates=Templates.model_validate(row.templates),
        unchecked=sorted(switched_off(row)),
        materials=row.materials,
        materials_here=said_here(row),
        corrections=corrections_of(row),
        version=row.version,
        file_name=revision.file_name,
        revision=revision.number,
        proposed=_proposed(session, row.id),
        facts=_in_ground(session, row.id, ModelFacts.model_validate(revision.facts)),
    )
