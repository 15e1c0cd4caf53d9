"""Drawings documented in one act: made, annotated by sets, arranged on sheets of their own, entered in the register."""

from __future__ import annotations

from pydantic import BaseModel, Field
from sqlmodel import Session

from edge_slice.app.annotating.documents import SetWanted
from edge_slice.app.annotating.drawing_annotations import renew_set
from edge_slice.app.documents import Input, RowId
from edge_slice.app.drawings.documents import DrawingNew, DrawingOut, StarterChoice
from edge_slice.app.drawings.drawing_rows import drawing_of
from edge_slice.app.drawings.lineage import drawings_out, new_drawing
from edge_slice.app.drawings.starter_sets import made_of
from edge_slice.app.errors import Refused
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import project_row
from edge_slice.app.rules.followed import followed_rule, form_of, rules_of
from edge_slice.app.sheets.designs import check_room, design_for
from edge_slice.app.sheets.documents import LeftOver, SheetNew, SheetOut
from edge_slice.app.sheets.numbered_sheets import as_out, new_sheet
from edge_slice.app.sheets.placements import put_all
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.app.sheets.templates import Template, Templates
from edge_slice.core.project.drawing_rules import AS_USUAL
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.kinds import KINDS, DrawingKind
from edge_slice.core.project.naming import kind_of
from edge_slice.core.sheet import SheetDesign, SheetSize
from edge_slice.core.sheet.arranging import areas_of, arranged
from edge_slice.core.sheet.numbering import Register
from edge_slice.store.changes import Act, recorded
from edge_slice.store.database import transaction
from edge_slice.store.tables import Drawing, Sheet


class Documenting(Input):
    """Drawings that are there, those of a starter set, or new ones, to be documented by a template of the project;
    drawings of each kind come on sheets of their own."""

    template: str = Field(max_length=60)
    drawings: list[RowId] = Field(default=[], max_length=300)
    starter: StarterChoice | None = None
    new: list[DrawingNew] = Field(default=[], max_length=60)
    title: str = Field(default="", max_length=200)


class DocumentedOut(BaseModel):
    """What was made; `left_over`: drawings larger than a sheet; `findings`: sets that could not be placed, and why."""

    drawings: list[DrawingOut]
    sheets: list[SheetOut]
    left_over: list[LeftOver]
    findings: list[str]


def document(project_id: int, wanted: Documenting, author: str) -> DocumentedOut:
    with transaction() as session:
        project = project_row(session, project_id)
        known = {t.name: t for t in Templates.model_validate(project.templates).templates}
        template = known.get(wanted.template)
        if template is None:
            raise Refused(f"The project has no template “{wanted.template}”; choose one of its own.", "template")
        if not wanted.drawings and not wanted.new and wanted.starter is None:
            raise Refused("Choose drawings to document.", "drawings")
        rows = [drawing_of(session, project_id, number) for number in dict.fromkeys(wanted.drawings)]
        with recorded(session, project_id, "document drawings", author) as act:
            if wanted.starter is not None:
                rows += made_of(session, act, project_id, wanted.starter)
            rows += [new_drawing(session, act, project_id, new) for new in wanted.new]
            around = Drawings(ProjectSource(session, project_id))
            findings = [said for row in rows for said in _annotated(session, act, row, template, around)]
            sheets, left = _on_sheets(session, act, project_id, rows, template, wanted.title.strip())
        around_all = SheetsAround(session, project_id)
        return DocumentedOut(
            drawings=drawings_out(session, rows),
            sheets=[as_out(s, around_all) for s in sheets],
            left_over=left,
            findings=findings,
        )


def _annotated(session: Session, act: Act, row: Drawing, template: Template, around: Drawings) -> list[str]:
    """The sets of the drawing's kind; why one could not be placed, or not all of it."""
    found = []
    for rule in template.sets.get(_kind_of(around, row), ()):
        try:
            said = renew_set(session, act, row, SetWanted(rule=rule), around).findings
        except Refused as error:
            said = [str(error)]
        found += [f"{around.title(row)}, {rule}: {one}" for one in said]
    return found


def _kind_of(around: Drawings, row: Drawing) -> DrawingKind:
    return kind_of(around.followed.cut_of(row), form_of(row))


def _on_sheets(
    session: Session, act: Act, project_id: int, rows: list[Drawing], template: Template, title: str
) -> tuple[list[Sheet], list[LeftOver]]:
    register = Register.model_validate(project_row(session, project_id).sheet_register)
    around = SheetsAround(session, project_id)
    kinds: dict[DrawingKind, list[Drawing]] = {}
    for row in rows:
        kinds.setdefault(_kind_of(around.drawn_as, row), []).append(row)
    sheets: list[Sheet] = []
    left_over: list[LeftOver] = []
    for kind, waiting in kinds.items():
        folder = register.folder(template.folder or KINDS[kind].folder).key
        said, first = title or KINDS[kind].title, len(sheets)
        design, size, named = _sheet_of(session, project_id, template, waiting)
        while waiting:
            places = arranged([around.drawn_as.wanted(r) for r in waiting], areas_of(design, size), design.taken(size))
            if not any(places):
                left_over += [_too_large(around, row, template) for row in waiting]
                break
            number = len(sheets) - first + 1
            called = said if number == 1 else f"{said} {number}"
            new = SheetNew(title=called, size=size, design=named, folder=folder)
            sheet = new_sheet(session, act, project_id, new)
            put_all(session, act, sheet, waiting, places, [])
            sheets.append(sheet)
            waiting = [row for row, place in zip(waiting, places, strict=True) if place is None]
    return sheets, left_over


def _sheet_of(
    session: Session, project_id: int, template: Template, rows: list[Drawing]
) -> tuple[SheetDesign, SheetSize, str]:
    """Design, size, and the design's key, of sheets for drawings: as the rule says that all of them follow, else as the
    template does."""
    rules = rules_of(session, project_id)
    ruled = {rule.begins for row in rows if (rule := followed_rule(rules, row)) is not None}
    begins = ruled.pop() if len(ruled) == 1 and all(followed_rule(rules, row) for row in rows) else AS_USUAL
    key, size = begins.design or template.design, begins.size or template.size
    design = design_for(session, project_id, key)
    check_room(design, size)
    return design, size, key


def _too_large(around: SheetsAround, row: Drawing, template: Template) -> LeftOver:
    said = f"is larger than a sheet {template.size}; choose another scale"
    return LeftOver(drawing=row.id or 0, title=around.title(row), says=said)
