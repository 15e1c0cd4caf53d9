"""Kept projects: what a project is besides its model, kept for others, and fitted to another one in one act."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.annotating.documents import SetWanted
from edge_slice.app.annotating.drawing_annotations import renew_set
from edge_slice.app.drawings.documents import KeptMadeOut, KeptSetNew, KeptSetOut, StarterChoice
from edge_slice.app.drawings.kept_documents import KeptPlacement, KeptSet, KeptSheet
from edge_slice.app.drawings.kept_sets import Brought, kept_of, kept_row, named_documents, stored
from edge_slice.app.drawings.starter_sets import made_from, proposed_in
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.projects.listing import switched_off
from edge_slice.app.row_lookup import own_key, project_row
from edge_slice.app.sheets.check_documents import CHECKED
from edge_slice.app.sheets.documents import SheetNew
from edge_slice.app.sheets.numbered_sheets import new_sheet
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.app.sheets.templates import Templates
from edge_slice.app.tables.acts import document_of, tables_of
from edge_slice.core.project.documents import PlacementTitle, SheetFields, Trim
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.sheets import folder_of, size_of
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.sheet.checks import place_findings
from edge_slice.core.sheet.numbering import Register
from edge_slice.core.tables.content import WrongTable, check_table
from edge_slice.core.tables.documents import TableDocument, TableSpec
from edge_slice.core.tables.rows import TableRow
from edge_slice.store.changes import Act, hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.forms import UnknownForm, newest
from edge_slice.store.tables import Drawing, Placement, ProjectTable, SharedExtents, Sheet, SheetDesignRow

MOST_BYTES = 50_000_000
KIND = "edge-slice kept project"  # what such a file says that it is


def keep(project_id: int, new: KeptSetNew) -> KeptSetOut:
    """Keep a project's drawings with their sheets, tables and annotation sets."""
    with transaction() as session:
        kept, rows = kept_of(session, project_id, new)
        return stored(session, new.name, _with_sheets(session, project_id, kept, rows))


def file_of(set_id: int) -> tuple[str, str, bytes]:
    """Name, media type and bytes of a kept project as a file."""
    with reading() as session:
        row = kept_row(session, set_id)
        said = {"kind": KIND, "form": row.form, "name": row.name, "document": row.document}
        data = json.dumps(said, ensure_ascii=False, indent=1).encode()
        return f"{plain_name(row.name)}.json", "application/json", data


def read_file(data: bytes) -> KeptSetOut:
    """Keep what a file says. Raises `Refused` for one that is none."""
    try:
        said = json.loads(data) if len(data) <= MOST_BYTES else None
        if not isinstance(said, dict) or said.get("kind") != KIND:
            raise Refused("This is no file of a kept project.", "file")
        kept = KeptSet.model_validate(newest("starter_set", said["document"], int(said["form"])))
        name = str(said["name"])[:60].strip() or "Kept project"
    except UnknownForm as error:
        raise Refused(str(error), "file") from error
    except ValidationError as error:
        raise Refused(f"The file can't be used: {first_words(error)}", "file") from error
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise Refused("This is no file of a kept project.", "file") from error
    with transaction() as session:
        return stored(session, name, kept)


def make(project_id: int, choice: StarterChoice, author: str) -> KeptMadeOut:
    """The chosen drawings of a kept project with their sheets, tables and annotation sets in one act; what does not
    come along is named with its reason."""
    if choice.kept is None:
        raise Refused("Say which kept project.", "kept")
    with transaction() as session:
        hold(session, project_id)
        proposed, kept = proposed_in(session, project_id, choice.kept, choice.places)
        assert kept is not None  # as one was named
        with recorded(session, project_id, "kept project", author) as act:
            rows = made_from(session, act, project_id, choice, (proposed, kept))
            made = dict(zip((int(key.removeprefix("kept ")) for key in dict.fromkeys(choice.keys)), rows, strict=True))
            found = _Made(session, act, project_id, kept, made)
            found.left += [
                f"Drawing “{found.name(k)}”: {'it was not chosen' if one.fits else one.why}."
                for k, one in enumerate(proposed)
                if k not in made
            ]
            found.all()
        return KeptMadeOut(
            drawings=[row.id or 0 for row in rows], sheets=found.sheets, tables=found.tables, left=found.left
        )


def _with_sheets(session: Session, project_id: int, kept: KeptSet, rows: list[Drawing]) -> KeptSet:
    around = SheetsAround(session, project_id)
    place = {row.id: k for k, row in enumerate(rows)}
    sheets = []
    for sheet in around.sheets:
        placements = [
            KeptPlacement(drawing=place[p.drawing_id], x=p.x, y=p.y, number=p.number,
                          trim=Trim.model_validate(p.trim), title=PlacementTitle.model_validate(p.title))
            for p in around.on(sheet) if p.drawing_id in place
        ]  # fmt: skip
        fields = SheetFields.model_validate(sheet.fields)
        sheets.append(
            KeptSheet(number=sheet.number, title=sheet.title, size=size_of(sheet), design=sheet.design,
                      folder=folder_of(around.register, sheet), placements=placements,
                      fields=fields.model_copy(update={"issued": [], "revision": "", "date": ""}))
        )  # fmt: skip
    project = project_row(session, project_id)
    templates = project.templates.get("templates", ())
    named = {s.design for s in sheets} | {t["design"] for t in templates}
    designs = named_documents(session, SheetDesignRow, project_id, named)
    tables = {own_key(row): document_of(row).spec for row in tables_of(session, project_id)}
    boxes = session.exec(select(SharedExtents).where(col(SharedExtents.project_id) == project_id)).all()
    more = {
        "sheets": sheets, "designs": kept.designs | designs, "tables": tables, "register_": around.register,
        "templates": project.templates, "unchecked": sorted(switched_off(project)),
        "shared_extents": sorted(box.name for box in boxes),
    }  # fmt: skip
    return kept.model_copy(update=more)


class _Made:
    """A kept project on its way into another one; `made`: the drawings by their place in the set."""

    def __init__(self, session: Session, act: Act, project_id: int, kept: KeptSet, made: dict[int, Drawing]) -> None:
        self.session, self.act, self.project_id, self.kept, self.made = session, act, project_id, kept, made
        self.brought = Brought(session, project_id, kept, act)
        self.sheets: list[str] = []
        self.tables: list[str] = []
        self.left: list[str] = []
        self._table_keys: dict[str, str] = {}

    def all(self) -> None:
        self._annotated()
        self._of_elements()
        self._settings()
        self._register()
        self._tables()
        for sheet in self.kept.sheets:
            self._sheet(sheet)
        self._beyond()

    def name(self, k: int) -> str:
        drawing = self.kept.drawings[k]
        return drawing.name or f"{drawing.cut.kind} {k + 1}"

    def _annotated(self) -> None:
        around = Drawings(ProjectSource(self.session, self.project_id))
        for k, row in self.made.items():
            for rule in self.kept.drawings[k].sets:
                try:
                    renew_set(self.session, self.act, row, SetWanted(rule=rule), around)
                except Refused as error:
                    self.left.append(f"Annotation set “{rule}” of “{self.name(k)}”: {error}")

    def _of_elements(self) -> None:
        """Say what stays with the elements of the model that it was tied to."""
        for k in self.made:
            drawing = self.kept.drawings[k]
            for count, what in ((drawing.by_hand, "annotation"), (drawing.touch_ups, "touch-up")):
                if count:
                    said = f"{count} {what}{'s' if count > 1 else ''} by hand of “{self.name(k)}”"
                    self.left.append(f"{said}: tied to elements of the model that it was made on.")
        for name in self.kept.shared_extents:
            self.left.append(f"Shared extents “{name}”: they are a place in another model; drawings keep their own.")

    def _settings(self) -> None:
        """The templates and the checks, where the project has none of its own."""
        project = project_row(self.session, self.project_id)
        templates, off = self.kept.templates, sorted(set(self.kept.unchecked) & set(CHECKED))
        if templates and project.templates:
            if _but_designs(templates) != _but_designs(project.templates):
                self.left.append("Templates: the project has its own, and keeps them.")
            templates = {}
        if templates or (off and not project.checks):
            self.act.edits(project)
            project.templates = self._of_here(templates) if templates else project.templates
            project.checks = project.checks or {"off": off}
            self.session.add(project)
            self.session.flush()

    def _of_here(self, templates: dict[str, Any]) -> dict[str, Any]:
        """Templates that name the designs of this project."""
        told = [t | {"design": self.brought.design(t["design"])} for t in templates.get("templates", ())]
        return Templates.model_validate({"templates": told}).model_dump(mode="json") if told else {}

    def _register(self) -> None:
        """The kept register, as long as the project has no sheet of its own."""
        project = project_row(self.session, self.project_id)
        kept = self.kept.register_
        if kept is None or kept == Register.model_validate(project.sheet_register):
            return
        if self.session.exec(select(Sheet.id).where(col(Sheet.project_id) == self.project_id)).first() is not None:
            self.left.append("Register: the project has sheets already, and stays with its own.")
            return
        self.act.edits(project)
        project.sheet_register = kept.model_dump(mode="json")
        self.session.add(project)
        self.session.flush()

    def _tables(self) -> None:
        around = SheetsAround(self.session, self.project_id)
        there = {document_of(row).spec.name.casefold(): row for row in tables_of(self.session, self.project_id)}
        for key, spec in self.kept.tables.items():
            row = there.get(spec.name.casefold())
            if row is None:
                fitted = self._fitted(spec, around.tables.rows(spec))
                if fitted is None:
                    continue
                document = TableDocument(spec=fitted).model_dump(mode="json")
                row = ProjectTable(project_id=self.project_id, document=document)
                self.act.adds(row)
                self.tables.append(spec.name)
            self._table_keys[key] = own_key(row)

    def _fitted(self, spec: TableSpec, rows: list[TableRow]) -> TableSpec | None:
        """A table without the columns that mean nothing in this model; None where none is left."""
        while True:
            try:
                check_table(spec, rows)
                return spec
            except WrongTable as error:
                self.left.append(f"Table “{spec.name}”: {error}")
                gone = error.column
                columns = tuple(c for c in spec.columns if c.key != gone)
                if not columns or len(columns) == len(spec.columns):
                    return None
                spec = spec.model_copy(
                    update={
                        "columns": columns,
                        "filters": tuple(f for f in spec.filters if f.column != gone),
                        "groups": tuple(g for g in spec.groups if g != gone),
                        "order": tuple(o for o in spec.order if o.column != gone),
                    }
                )

    def _sheet(self, sheet: KeptSheet) -> None:
        placements = [p for p in sheet.placements if p.drawing in self.made]
        places = [
            t.model_copy(update={"table": self._table_keys[t.table]})
            for t in sheet.fields.tables
            if t.table in self._table_keys
        ]
        missing = len(sheet.placements) - len(placements)
        if not placements and not places and (sheet.placements or sheet.fields.tables):
            self.left.append(f"Sheet {sheet.number} {sheet.title}: nothing of it is there.")
            return
        if missing:
            self.left.append(f"Sheet {sheet.number} {sheet.title}: {missing} of its drawings are not there.")
        row = self._new_sheet(sheet)
        row.fields = sheet.fields.model_copy(update={"tables": places}).model_dump(mode="json")
        self.session.add(row)
        self.sheets.append(row.number)
        for p in placements:
            drawing = self.made[p.drawing].id or 0
            settled = self.session.exec(select(Placement.id).where(col(Placement.drawing_id) == drawing)).first()
            self.act.adds(
                Placement(project_id=self.project_id, sheet_id=row.id or 0, drawing_id=drawing, number=p.number, x=p.x,
                          y=p.y, home=settled is None, trim=p.trim.model_dump(), title=p.title.model_dump())
            )  # fmt: skip

    def _new_sheet(self, sheet: KeptSheet) -> Sheet:
        """With its number, or the next one where that is taken."""
        numbers = self.session.exec(select(Sheet.number).where(col(Sheet.project_id) == self.project_id)).all()
        number = "" if sheet.number in numbers else sheet.number
        keys = [
            f.key for f in Register.model_validate(project_row(self.session, self.project_id).sheet_register).folders
        ]
        folder = sheet.folder if sheet.folder in keys else ""
        new = SheetNew(number=number, title=sheet.title, size=sheet.size, design=self.brought.design(sheet.design),
                       folder=folder)  # fmt: skip
        row = new_sheet(self.session, self.act, self.project_id, new)
        if not number:
            self.left.append(f"Sheet {sheet.number} {sheet.title}: its number is taken; it is {row.number}.")
        return row

    def _beyond(self) -> None:
        """Say which drawings reach beyond their places, as the model has other sizes."""
        around = SheetsAround(self.session, self.project_id)
        for row in around.sheets:
            if row.number in self.sheets:
                boxes = [(p.number, around.box(p)) for p in around.on(row)]
                found = place_findings(around.design(row), size_of(row), boxes)
                self.left += [f"Sheet {row.number}: {f.says} Arrange it." for _, f in found]


def _but_designs(templates: dict[str, Any]) -> list[dict[str, Any]]:
    """Templates without the designs that they name, whose keys are others in each project."""
    return [{key: said for key, said in t.items() if key != "design"} for t in templates.get("templates", ())]
