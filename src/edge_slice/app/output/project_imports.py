"""A project of files becomes one of the database: an archive as the application exports it, or put together by hand."""

from __future__ import annotations

import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, cast

from pydantic import ValidationError
from sqlmodel import Session

from edge_slice.app.errors import Refused, first_words
from edge_slice.app.models.in_memory import facts_of, kept_corrections
from edge_slice.app.models.part_documents import PartState
from edge_slice.app.models.part_states import keep_states
from edge_slice.app.models.revisions import document_of_changes
from edge_slice.app.projects.ground import store_ground
from edge_slice.app.row_lookup import own_key
from edge_slice.app.sheets.check_documents import known_rules
from edge_slice.app.sheets.templates import Template, Templates
from edge_slice.core.annotating.documents import ANNOTATION
from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.storage import model_to_bytes
from edge_slice.core.project.drawing_rules import DrawingRule
from edge_slice.core.project.file.file_source import PICTURES, FileProject
from edge_slice.core.project.file.file_text import read_project
from edge_slice.core.project.file.model_states import read_states
from edge_slice.core.project.file.pictures import picture_size
from edge_slice.core.project.file.project_file import ProjectFile
from edge_slice.core.project.file.settling import settle
from edge_slice.store.blobs import store_bytes, store_file
from edge_slice.store.tables import (
    Annotation,
    CalloutReference,
    Drawing,
    DrawingRuleRow,
    Placement,
    Project,
    ProjectTable,
    Revision,
    SharedExtents,
    Sheet,
    SheetDesignRow,
    ShownSet,
    Standard,
    TouchUpRow,
)

ARCHIVE = ".zip"
MOST_FILES, MOST_BYTES = 5000, 8 << 30  # that an archive unpacks to
Read = Callable[[Path, ProjectFile, Model | None], Model]  # a model file, and what may be known of it


class ReadProject:
    """What an archive holds, read and settled, before anything of it is kept. Raises `UnreadableModel`."""

    def __init__(self, path: Path, folder: Path, read: Read) -> None:
        self.folder = folder
        try:
            self.document = read_project(_unpacked(path, folder))
            document = self.document
            self.states = read_states(document, lambda name, known: read(self._model(name), document, known))
            self.project = FileProject(document, [s.model for s in self.states], folder, strict=False)
            self.findings = settle(self.project)
            self._unchecked = known_rules(self.document.unchecked)
            self._pictures = {name: self._picture(name) for name in self._named_pictures()}
            self._templates = Templates(templates=tuple(Template.model_validate(t) for t in self.document.templates)) \
                if self.document.templates else None  # fmt: skip
        except ValidationError as error:
            worst = error.errors(include_url=False)[0]
            place = ".".join(str(part) for part in worst["loc"])
            raise UnreadableModel(f"The project file can't be read: {place}: {first_words(error)}") from error
        except Refused as error:
            raise UnreadableModel(f"The project file can't be used: {error}") from error

    def _model(self, name: str) -> Path:
        path = _inside(self.folder, name)
        if not path.is_file():
            raise UnreadableModel(f"The archive has no model {name}, which its project file names.")
        return path

    def _named_pictures(self) -> set[str]:
        notes = [ANNOTATION.validate_python(a.document) for rows in self.project.annotated.values() for a in rows]
        logos = {p.picture for d in self.document.design for p in d.document.parts if p.kind == "logo"}
        return logos | {note.image for note in notes if note.kind == "picture"}

    def _picture(self, name: str) -> bytes:
        data = self.project.picture(name)
        picture_size(data)
        return data

    def store(self, session: Session) -> Project:
        """The project with all its rows."""
        for data in self._pictures.values():
            store_bytes(session, data)
        files = {name: store_file(session, _inside(self.folder, name)) for name in self.document.models}
        document = self.document
        project = Project(
            name=document.name, client=document.client, lengths=document.lengths, names=document.names.model_dump(),
            sheet_register=document.register_.model_dump(),
            checks={"off": self._unchecked}, materials=document.materials,
            corrections=kept_corrections(document.correction),
            materials_here=[one.model_dump() for one in document.material_here],
        )  # fmt: skip
        session.add(project)
        session.flush()
        number = cast(int, project.id)
        store_ground(session, number, document.ground)
        self._revision(session, number, 1, files, {})
        _Rows(session, self.project, number, self._templates).store(project)
        for k, state in enumerate(self.states[1:], 1):
            assert state.changes is not None
            told = document_of_changes(session, number, k, self.states[k - 1].model, state.changes)
            self._revision(session, number, k + 1, files, told.model_dump(mode="json"))
        return project

    def _revision(
        self, session: Session, project: int, number: int, files: dict[str, str], changes: dict[str, Any]
    ) -> None:
        state = self.states[number - 1]
        facts = facts_of(state.model, self.document.unit, self.document.up).model_dump(mode="json")
        row = Revision(
            project_id=project, number=number, file_name=Path(state.file).name, file_hash=files[state.file],
            geometry_hash=store_bytes(session, model_to_bytes(state.model)), facts=facts, changes=changes,
        )  # fmt: skip
        session.add(row)
        session.flush()
        read_as = {name: value for name in ("unit", "up") if (value := getattr(self.document, name))}
        keep_states(session, row, [
            PartState(
                key=part.key, name=part.name, discipline=part.discipline, file_name=Path(part.file).name,
                file_hash=files[part.file], geometry_hash=store_bytes(session, model_to_bytes(part.model)),
                place=part.place, read_as=read_as,
            )
            for part in state.parts
        ])  # fmt: skip


class _Rows:
    """The rows of a project file: what it knows by keys goes by numbers of the database."""

    def __init__(self, session: Session, project: FileProject, number: int, templates: Templates | None) -> None:
        self.session, self.file, self.number, self.templates = session, project, number, templates
        self.own: dict[str, dict[str, str]] = {
            "standard": {},
            "shown_set": {},
            "shared_extents": {},
            "design": {},
            "drawing_rule": {},
            "table": {},
        }
        self.drawings: dict[int, int] = {}
        self.sheets: dict[int, int] = {}

    def store(self, project: Project) -> None:
        document = self.file.document
        for standard in document.standard:
            row = Standard(project_id=self.number, name=standard.name, document=_json(standard.document))
            self.own["standard"][standard.key] = own_key(self._added(row))
        for shown in document.shown_set:
            self.own["shown_set"][shown.key] = own_key(
                self._added(ShownSet(project_id=self.number, name=shown.name, rule=_json(shown.rule)))
            )
        for box in document.shared_extents:
            self.own["shared_extents"][box.key] = own_key(
                self._added(SharedExtents(project_id=self.number, name=box.name, box=_json(box.box)))
            )
        for design in document.design:
            row_of = SheetDesignRow(project_id=self.number, name=design.document.name, document=_json(design.document))
            self.own["design"][design.key] = own_key(self._added(row_of))
        for one in document.drawing_rule:
            self.own["drawing_rule"][one.key] = own_key(self._added(self._rule(one.rule)))
        if self.templates is not None:
            told = [t.model_copy(update={"design": self._own("design", t.design)}) for t in self.templates.templates]
            project.templates = Templates(templates=tuple(told)).model_dump(mode="json")
        self._drawings()
        self._references()
        self._sheets()
        self._tables()

    def _rule(self, rule: DrawingRule) -> DrawingRuleRow:
        standard, shown_set = rule.style.standard, rule.cut.shown_set
        here = rule.naming(
            self._own("standard", standard), self._own("shown_set", shown_set),
            self._own("shared_extents", rule.begins.shared_extents), self._own("design", rule.begins.design),
        )  # fmt: skip
        return DrawingRuleRow(project_id=self.number, document=_json(here))

    def _added(self, row: Any) -> Any:
        self.session.add(row)
        self.session.flush()
        return row

    def _own(self, table: str, key: str) -> str:
        return self.own[table].get(key, key)

    def _drawings(self) -> None:
        """Strips lead to drawings that may come later: their numbers are put in at the end."""
        rows: list[Drawing] = []
        for one in self.file.drawings():
            cut = one.cut | {
                "shown_set": self._own("shown_set", one.cut["shown_set"]),
                "shared_extents": self._own("shared_extents", one.cut["shared_extents"]),
            }
            style = one.style | {"standard": self._own("standard", one.style["standard"])}
            row = self._added(Drawing(project_id=self.number, letter=one.letter, name=one.name, cut=cut,
                                      callout=one.callout, style=style,
                                      rule=self._own("drawing_rule", one.rule)))  # fmt: skip
            rows.append(row)
            self.drawings[one.id or 0] = row.id
            for _, touch_up in self.file.touch_ups(one.id):
                self._added(TouchUpRow(project_id=self.number, drawing_id=row.id, document=_json(touch_up)))
        for row, one in zip(rows, self.file.drawings(), strict=True):
            row.parent_id = self.drawings.get(one.parent_id or 0)
            strips = [s | {"drawing": self.drawings[s["drawing"]]} for s in row.style["strips"]]
            row.style = row.style | {"strips": strips}
            self.session.add(row)
        ordered = sorted(
            ((note, number) for number, notes in self.file.annotated.items() for note in notes),
            key=lambda pair: pair[0].id or 0,
        )
        for note, number in ordered:
            self.session.add(
                Annotation(project_id=self.number, drawing_id=self.drawings[number], document=note.document)
            )
            self.session.flush()

    def _references(self) -> None:
        for one in self.file.references():
            self._added(
                CalloutReference(project_id=self.number, drawing_id=self.drawings[one.drawing_id],
                                 target_id=self.drawings[one.target_id], region=one.region, marker=one.marker)
            )  # fmt: skip

    def _sheets(self) -> None:
        numbers = self.sheets
        for one in self.file.sheets:
            row = self._added(
                Sheet(project_id=self.number, number=one.number, title=one.title, size=one.size,
                      design=self._own("design", one.design), folder=one.folder, place=one.place, fields=one.fields)
            )  # fmt: skip
            numbers[one.id or 0] = row.id
        for placed in self.file.placed:
            self._added(
                Placement(project_id=self.number, sheet_id=numbers[placed.sheet_id],
                          drawing_id=self.drawings[placed.drawing_id], number=placed.number, x=placed.x, y=placed.y,
                          home=placed.home, trim=placed.trim, title=placed.title)
            )  # fmt: skip

    def _tables(self) -> None:
        """Rows go by the numbers of drawings and sheets, and sheets by those of tables: both are there by now."""
        for key, document in self.file.tables.items():
            here = document.of_targets(self._target)
            self.own["table"][key] = own_key(self._added(ProjectTable(project_id=self.number, document=_json(here))))
        for one in self.file.sheets:
            places = [p for p in one.fields["tables"] if p["table"] in self.own["table"]]
            if one.fields["tables"]:
                row = self.session.get_one(Sheet, self.sheets[one.id or 0])
                row.fields = row.fields | {"tables": [p | {"table": self._own("table", p["table"])} for p in places]}
                self.session.add(row)
        self.session.flush()

    def _target(self, target: str) -> str:
        kind, _, name = target.partition(":")
        known = {"drawing": self.drawings, "sheet": self.sheets}.get(kind)
        return target if known is None else f"{kind}:{known[int(name)]}"


def check_archive(path: Path) -> None:
    """Raises `UnreadableModel` for what is plainly no archive of a project."""
    if not zipfile.is_zipfile(path):
        raise UnreadableModel("This is no ZIP archive.")
    with zipfile.ZipFile(path) as archive:
        _check(archive)


def _check(archive: zipfile.ZipFile) -> str:
    """The name of its project file. Raises `UnreadableModel`."""
    entries = [e for e in archive.infolist() if not e.is_dir()]
    if len(entries) > MOST_FILES or sum(e.file_size for e in entries) > MOST_BYTES:
        raise UnreadableModel(f"The archive unpacks to more than {MOST_FILES} files or {MOST_BYTES >> 30} GB.")
    projects = [e.filename for e in entries if "/" not in e.filename and e.filename.lower().endswith(".toml")]
    if len(projects) != 1:
        said = "no project file" if not projects else f"{len(projects)} project files"
        raise UnreadableModel(f"The archive has {said} (NAME.toml) at its top; it needs one, with its model beside it.")
    return projects[0]


def _unpacked(path: Path, folder: Path) -> Path:
    """Unpack the project file, what lies beside it and its pictures; nothing may lead out of the folder."""
    with zipfile.ZipFile(path) as archive:
        project = _check(archive)
        for entry in archive.infolist():
            if entry.is_dir():
                continue
            there = _inside(folder, entry.filename)
            there.parent.mkdir(parents=True, exist_ok=True)
            with archive.open(entry) as source, there.open("wb") as target:
                shutil.copyfileobj(source, target)
    (folder / PICTURES).mkdir(exist_ok=True)
    return folder / project


def _inside(folder: Path, name: str) -> Path:
    there = (folder / name).resolve()
    if folder.resolve() not in there.parents:
        raise UnreadableModel(f"The archive names a file outside of itself: {name}.")
    return there


def _json(document: Any) -> dict[str, Any]:
    found: dict[str, Any] = document.model_dump(mode="json", by_alias=True)
    return found
