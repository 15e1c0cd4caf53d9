"""A project as files: its document, its models and its pictures in one archive."""

from __future__ import annotations

import re
import zipfile
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import IO, Any

from sqlmodel import Session, col, select

from edge_slice.app.models.part_states import part_rows
from edge_slice.app.output.exports import LONG_AGO
from edge_slice.app.projects.listing import switched_off
from edge_slice.app.row_lookup import own_key, project_row
from edge_slice.app.rules.followed import is_for, rule_in, shown_in
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.app.sheets.templates import Templates
from edge_slice.core.annotating.documents import ANNOTATION
from edge_slice.core.cut.following.callouts import Region
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import CalloutStyle
from edge_slice.core.model.files.units import SILENT
from edge_slice.core.project.documents import IssuedBefore, PlacementTitle, SheetFields, Trim
from edge_slice.core.project.drawing_rules import DrawingRule, as_usual
from edge_slice.core.project.file.file_source import PICTURES
from edge_slice.core.project.file.file_text import project_text, told
from edge_slice.core.project.file.project_file import (
    DrawingTable,
    OwnDesign,
    OwnExtents,
    OwnRule,
    OwnShownSet,
    OwnStandard,
    OwnTable,
    PlacementTable,
    ProjectFile,
    ReferenceTable,
    SheetTable,
)
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.naming import has_letter
from edge_slice.core.project.sheets import folder_of, size_of
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.tables.documents import TableDocument
from edge_slice.store.blobs import read_chunks
from edge_slice.store.database import reading
from edge_slice.store.tables import (
    Drawing,
    DrawingRuleRow,
    Placement,
    ProjectTable,
    Revision,
    SharedExtents,
    Sheet,
    SheetDesignRow,
    ShownSet,
    Standard,
)


def export_to(project_id: int, target: IO[bytes]) -> str:
    """Write an archive with NAME.toml, the model of each revision beside it, and a folder of pictures; its name. Of a
    model only a piece is in memory at a time, however large it is."""
    with reading() as session:
        project = project_row(session, project_id)
        written = _Written(session, project_id)
        models = _models(session, project_id)
        text = project_text(written.document(models))
        name = plain_name(project.name)
        with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
            _write(archive, f"{name}.toml", [text.encode()])
            for path, stored in models.files.items():
                _write(archive, path, read_chunks(session, stored))
            for picture in sorted(written.pictures):
                _write(archive, f"{PICTURES}/{picture}.png", read_chunks(session, picture))
    return f"{name}.zip"


def _write(archive: zipfile.ZipFile, name: str, pieces: Iterable[bytes]) -> None:
    entry = zipfile.ZipInfo(name, LONG_AGO)
    entry.compress_type = zipfile.ZIP_DEFLATED
    with archive.open(entry, "w", force_zip64=True) as stream:
        for piece in pieces:
            stream.write(piece)


@dataclass(frozen=True)
class _Models:
    """`states` as the project file has them, the oldest first; `files`: name and content, each once."""

    states: list[str | list[dict[str, Any]]]
    files: dict[str, str]

    @property
    def leading(self) -> str:
        """The file that leads in the newest state."""
        newest = self.states[-1]
        return newest if isinstance(newest, str) else str(newest[0]["file"])


def _models(session: Session, project_id: int) -> _Models:
    rows = select(Revision).where(col(Revision.project_id) == project_id).order_by(col(Revision.number))
    files: dict[str, str] = {}
    states: list[str | list[dict[str, Any]]] = []

    def named(file_name: str, stored: str, number: int) -> str:
        """A name in the archive; the same content of one name has one, another content another."""
        stem, dot, suffix = file_name.rpartition(".")
        name, end = plain_name(stem), f"{dot}{suffix.lower()}"
        tried = [f"{name}{end}", f"{name}-{number}{end}", *(f"{name}-{number}-{n}{end}" for n in range(2, 99))]
        found = next(one for one in tried if files.get(one, stored) == stored)
        files[found] = stored
        return found

    for row in session.exec(rows).all():
        parts = part_rows(session, row)
        states.append([
            {"file": named(p.file_name, p.file_hash, row.number), "key": p.key, "name": p.name,
             "discipline": p.discipline, "place": p.place}
            for p in parts
        ] if parts else named(row.file_name, row.file_hash, row.number))  # fmt: skip
    return _Models(states, files)


class _Written:
    """A project on its way to a file: what is known by numbers goes by keys."""

    def __init__(self, session: Session, project_id: int) -> None:
        self.session, self.project = session, project_row(session, project_id)
        self.around = SheetsAround(session, project_id)
        self.pictures: set[str] = set()
        titles = {n: self.around.title(d) for n, d in self.around.drawings.items()}
        self.drawing_keys = _keys(titles)
        self.standards = self._own(Standard)
        self.shown_sets = self._own(ShownSet)
        self.extents = self._own(SharedExtents)
        self.designs = self._own(SheetDesignRow)
        self.rules = self._own(DrawingRuleRow)
        self.tables = self._own(ProjectTable)
        self.sheet_numbers = {s.id: s.number for s in self.around.sheets}

    def _own(self, table: type[Any]) -> dict[str, tuple[str, Any]]:
        """Rows that the project made itself, with their keys in the file, by the key in the database."""
        wanted = select(table).where(table.project_id == self.project.id).order_by(table.id)
        rows = {row.id: row for row in self.session.exec(wanted).all()}
        keys = _keys({number: _name_of(row) for number, row in rows.items()}, "own-")
        return {own_key(row): (keys[number], row) for number, row in rows.items()}

    def document(self, models: _Models) -> ProjectFile:
        project, source = self.project, self.around.source
        facts = self.around.revision.facts
        told = facts.get("read_as") or ({"unit": facts["unit"]} if models.leading.endswith(SILENT) else {})
        states = models.states
        model = states[0] if len(states) == 1 and isinstance(states[0], str) else states
        return ProjectFile.model_validate({
            "name": project.name, "client": project.client, "model": model, **told,
            "materials": project.materials, "material_here": project.materials_here,
            "correction": project.corrections,
            "lengths": source.lengths, "names": source.names, "register": source.register,
            "templates": self._templates(),
            "unchecked": sorted(switched_off(project)), "ground": source.grounds,
            "standard": [OwnStandard(key=k, name=r.name, document=r.document) for k, r in self.standards.values()],
            "shown_set": [OwnShownSet(key=k, name=r.name, rule=r.rule) for k, r in self.shown_sets.values()],
            "shared_extents": [OwnExtents(key=k, name=r.name, box=r.box) for k, r in self.extents.values()],
            "design": [self._design(k, r) for k, r in self.designs.values()],
            "drawing_rule": [OwnRule(key=k, rule=self._rule(r)) for k, r in self.rules.values()],
            "table": [self._table(k, r) for k, r in self.tables.values()],
            "drawing": [self._drawing(d) for d in self.around.drawings.values()],
            "reference": [
                ReferenceTable(drawing=self.drawing_keys[r.drawing_id], target=self.drawing_keys[r.target_id],
                               region=Region.model_validate(r.region), marker=CalloutStyle.model_validate(r.marker))
                for r in source.references()
            ],
            "sheet": [self._sheet(s) for s in sorted(self.around.sheets, key=lambda s: s.id or 0)],
        })  # fmt: skip

    def _templates(self) -> list[dict[str, Any]]:
        if not self.project.templates:
            return []
        found = Templates.model_validate(self.project.templates).model_dump(mode="json")["templates"]
        return [t | {"design": _renamed(self.designs, t["design"])} for t in found]

    def _design(self, key: str, row: SheetDesignRow) -> OwnDesign:
        found = OwnDesign.model_validate({"key": key, "document": row.document})
        self.pictures |= {p.picture for p in found.document.parts if p.kind == "logo"}
        return found

    def _rule(self, row: DrawingRuleRow) -> DrawingRule:
        rule = rule_in(row)
        standard, shown_set = rule.style.standard, rule.cut.shown_set
        return rule.naming(
            _renamed(self.standards, standard), _renamed(self.shown_sets, shown_set),
            _renamed(self.extents, rule.begins.shared_extents), _renamed(self.designs, rule.begins.design),
        )  # fmt: skip

    def _table(self, key: str, row: ProjectTable) -> OwnTable:
        return OwnTable(key=key, table=TableDocument.model_validate(row.document).of_targets(self._target))

    def _target(self, target: str) -> str:
        """A target of a row, drawings by their keys and sheets by their numbers; "" for one that is gone."""
        kind, _, name = target.partition(":")
        if kind == "drawing":
            return f"drawing:{self.drawing_keys[int(name)]}" if int(name) in self.drawing_keys else ""
        if kind == "sheet":
            return f"sheet:{self.sheet_numbers[int(name)]}" if int(name) in self.sheet_numbers else ""
        return target

    def _followed(self, row: Drawing) -> dict[str, Any]:
        """Which rule a drawing follows, and where it is as usual while its rule says something else."""
        key, ruled = self.rules.get(row.rule, ("", None))
        rule = rule_in(ruled) if ruled is not None else None
        if rule is None or not is_for(rule, row):
            return {}
        return {"rule": key, "as_usual": list(as_usual(rule, shown_in(row)))}

    def _drawing(self, row: Drawing) -> DrawingTable:
        cut = CUT.validate_python(row.cut)
        cut = cut.model_copy(update={
            "shown_set": _renamed(self.shown_sets, cut.shown_set),
            "shared_extents": _renamed(self.extents, cut.shared_extents),
        })  # fmt: skip
        style = DrawingSpec.model_validate(row.style)
        strips = tuple(s for s in style.strips if s.drawing in self.drawing_keys)  # not those whose section is gone
        said = style.model_copy(update={"standard": _renamed(self.standards, style.standard), "strips": strips})
        shown = told(said)
        for strip in shown.get("strips", []):
            strip["drawing"] = self.drawing_keys[strip["drawing"]]
        notes = [ANNOTATION.validate_python(a.document) for a in self.around.source.annotations(row.id or 0)]
        self.pictures |= {note.image for note in notes if note.kind == "picture"}
        return DrawingTable.model_validate({
            "key": self.drawing_keys[row.id or 0],
            "parent": self.drawing_keys.get(row.parent_id or 0),
            "name": row.name,
            "letter": row.letter if row.letter or row.callout is not None or has_letter(cut) else None,
            "cut": told(cut),
            "callout": row.callout,
            "style": shown,
            **self._followed(row),
            "annotation": [told(n) for n in notes],
            "touch_up": [t for _, t in self.around.source.touch_ups(row.id)],
        })  # fmt: skip

    def _sheet(self, row: Sheet) -> SheetTable:
        fields = SheetFields.model_validate(row.fields)
        issued = [
            IssuedBefore(code=r.code, date=r.date, purpose=r.purpose, by=r.by)
            for r in self.around.issued.get(row.id or 0, ())
        ]
        return SheetTable(
            number=row.number, title=row.title, size=size_of(row), design=_renamed(self.designs, row.design),
            folder=folder_of(self.around.register, row), place=row.place,
            fields=fields.model_copy(update={"issued": issued, "tables": [
                t.model_copy(update={"table": _renamed(self.tables, t.table)})
                for t in fields.tables if t.table in self.tables
            ]}),
            placement=[self._placement(p) for p in self.around.on(row)],
        )  # fmt: skip

    def _placement(self, row: Placement) -> PlacementTable:
        return PlacementTable(
            drawing=self.drawing_keys[row.drawing_id], x=row.x, y=row.y, number=row.number, home=row.home,
            trim=Trim.model_validate(row.trim), title=PlacementTitle.model_validate(row.title),
        )  # fmt: skip


def _name_of(row: Any) -> str:
    if isinstance(row, ProjectTable):
        return str(row.document["spec"]["name"])
    return str(row.document["name"]) if isinstance(row, DrawingRuleRow) else str(row.name)


def _renamed(own: Mapping[str, tuple[str, Any]], key: str) -> str:
    return own[key][0] if key in own else key


def _keys(names: Mapping[int, str], begin: str = "") -> dict[int, str]:
    """A key for each name: its letters and figures, told apart by a number where two are alike."""
    found: dict[int, str] = {}
    for number, name in names.items():
        plain = re.sub(r"[^a-z0-9]+", "-", f"{begin}{name}".lower()).strip("-")[:50].strip("-") or "drawing"
        found[number] = next(k for k in _series(plain) if k not in found.values())
    return found


def _series(plain: str) -> Iterable[str]:
    yield plain
    yield from (f"{plain}-{n}" for n in range(2, 100_000))
