"""A project of a file as the core takes it: keys become numbers, what the file leaves open is settled."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Mapping, Sequence
from copy import copy
from functools import cached_property
from pathlib import Path
from typing import Any

from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.following.shared_extents import ExtentsBox
from edge_slice.core.cut.shown import SHIPPED_SETS, ShownRule
from edge_slice.core.cut.spec import Hold
from edge_slice.core.drawing import SHIPPED, DrawingSpec, DrawingStandard, shipped_standard
from edge_slice.core.drawing.measures import Lengths
from edge_slice.core.drawing.spec import strips_listed
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.model import Model
from edge_slice.core.model.corrections.becoming import became
from edge_slice.core.model.corrections.documents import digest_of as corrections_digest
from edge_slice.core.model.corrections.wanted import Corrected
from edge_slice.core.model.digests import digest_of_said
from edge_slice.core.model.ground.documents import Grounds
from edge_slice.core.model.merging import with_elements
from edge_slice.core.model.storage import model_to_bytes
from edge_slice.core.project.drawing_rules import Shown, begun, fits, in_drawing_rule
from edge_slice.core.project.file.file_rows import FileAnnotation, FileDrawing, FilePlacement, FileReference, FileSheet
from edge_slice.core.project.file.model_states import as_drawn
from edge_slice.core.project.file.pictures import picture_size
from edge_slice.core.project.file.project_file import DrawingTable, ProjectFile
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.known_names import (
    Use,
    check_names,
    in_cut,
    in_style,
    known_to_model,
    known_to_project,
    known_to_standard,
)
from edge_slice.core.project.naming import NameTemplates, kind_of, letter_for, named_facts, next_mark
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.source import Placed, TouchUps
from edge_slice.core.sheet import IssuedRow, SheetDesign, shipped_designs
from edge_slice.core.sheet.numbering import Register, free_number
from edge_slice.core.tables.content import WrongTable, check_table
from edge_slice.core.tables.documents import TableDocument
from edge_slice.core.tables.fields import LISTED
from edge_slice.core.tables.rows import Measured

PICTURE = re.compile(r"[0-9a-f]{64}")
PICTURES = "pictures"  # folder beside the file, of pictures that go by their SHA-256


class FileProject:
    """A project file with the revisions of its model, the newest last.
    Raises `Refused` for what does not fit together; `annotated` and `touched` are
    filled by `settling.settle`, as are the placements of sheets that are arranged. `strict`: names that nothing is
    called are refused, too; a project that was exported may have some whose hatch or class is gone."""

    def __init__(self, document: ProjectFile, models: Sequence[Model], folder: Path, strict: bool = True) -> None:
        self.document, self._folder, self._strict = document, folder, strict
        *self._earlier, model = models
        self._bare, self.model = model, as_drawn(model, document, strict)
        self._held: dict[Hold, FileProject] = {}
        self._taken: dict[str, bytes] = {}  # pictures that the file names by their path
        self.facts: Mapping[str, Any] = named_facts(model)
        self.numbers = _numbered([d.key for d in document.drawing], "drawings")
        for keys, what in (
            ([s.key for s in document.standard], "standards"),
            ([s.key for s in document.shown_set], "shown sets"),
            ([s.key for s in document.shared_extents], "shared extents"),
            ([s.key for s in document.design], "sheet designs"),
            ([s.key for s in document.drawing_rule], "drawing rules"),
            ([s.key for s in document.table], "tables"),
            ([s.number for s in document.sheet], "sheets"),
        ):
            _numbered(keys, what)
        self._rules = {one.key: one.rule for one in document.drawing_rule}
        self._check_rules()
        self._drawings = self._read_drawings()
        self._references = [
            FileReference(k, self.number(r.drawing), self.number(r.target), r.region.model_dump(mode="json"),
                          r.marker.model_dump(mode="json"))
            for k, r in enumerate(document.reference, 1)
        ]  # fmt: skip
        self.sheets = [
            FileSheet(k, s.number.strip(), s.title, s.size, s.design, s.folder, s.place,
                      s.fields.model_dump(mode="json"))
            for k, s in enumerate(document.sheet, 1)
        ]  # fmt: skip
        self.placed = self._read_placements()
        self._sheet_numbers = {s.number: s.id for s in self.sheets}
        self.tables = {one.key: one.table.of_targets(self._target) for one in document.table}
        self._check_tables()
        self.annotated: dict[int, list[FileAnnotation]] = {}
        self.touched: dict[int, list[tuple[int, TouchUp]]] = {}

    def number(self, key: str) -> int:
        """The number of a drawing by its key. Raises `Refused`."""
        if key not in self.numbers:
            raise Refused(f"There is no drawing “{key}” in this project.", "drawing")
        return self.numbers[key]

    # --- as a source --------------------------------------------------------------------------------------------------

    def by(self, held: Hold | None) -> tuple[FileProject, str]:
        if held is None:
            return self, ""
        lost = [n for n in held.revisions if n not in self.revisions()]
        if lost:
            return self, f"The model has no revision {lost[0]}, by which this drawing is held; it shows the newest one."
        if held not in self._held:
            self._held[held] = self._as_held(held)
        return self._held[held], ""

    def revisions(self) -> Sequence[int]:
        return range(1, len(self._earlier) + 2)

    def _as_held(self, held: Hold) -> FileProject:
        model = self._revision(held.revision)
        for taken in held.taken:
            model = with_elements(model, self._revision(taken.revision), taken.elements)
        found = copy(self)
        found.__dict__.pop("geometry", None)
        found.model, found.facts = model, named_facts(model)
        return found

    def _revision(self, number: int) -> Model:
        """A revision of the model by its number, from 1 on, as the project draws it."""
        if number > len(self._earlier):
            return self.model
        return as_drawn(self._earlier[number - 1], self.document, strict=False)

    @property
    def key(self) -> str:
        return f"{self.name} {self.geometry}"

    @cached_property
    def geometry(self) -> str:
        corrections = corrections_digest(self.document.correction)
        said = self.grounds.digest + digest_of_said(self.document.material_here) + corrections
        return hashlib.sha256(model_to_bytes(self.model, compressed=False) + said.encode()).hexdigest()

    @property
    def name(self) -> str:
        return self.document.name

    @property
    def corrected(self) -> tuple[Model, Sequence[Corrected]]:
        return self._bare, became(self._bare, self.document.correction)

    @property
    def grounds(self) -> Grounds:
        return self.document.ground

    @property
    def client(self) -> str:
        return self.document.client

    @property
    def lengths(self) -> Lengths:
        return self.document.lengths

    @property
    def names(self) -> NameTemplates:
        return self.document.names

    @property
    def register(self) -> Register:
        return self.document.register_

    def boxes(self) -> Mapping[str, ExtentsBox]:
        return {s.key: s.box for s in self.document.shared_extents}

    def rule(self, key: str) -> ShownRule | None:
        own = {s.key: s.rule for s in self.document.shown_set}
        return own.get(key) or (SHIPPED_SETS[key][1] if key in SHIPPED_SETS else None)

    def standard(self, key: str) -> DrawingStandard:
        own = next((s.document for s in self.document.standard if s.key == key), None)
        if own is None and key not in SHIPPED:
            raise Refused(f"There is no drawing standard “{key}” in this project.", "standard")
        standard, settled = own or shipped_standard(key), self.document.materials
        return standard.model_copy(update={"settled": settled}) if settled else standard

    def design(self, key: str) -> SheetDesign:
        own = next((s.document for s in self.document.design if s.key == key), None)
        if own is None and key not in shipped_designs():
            raise Refused(f"There is no sheet design “{key}” in this project.", "design")
        return own or shipped_designs()[key]

    def table(self, key: str) -> TableDocument | None:
        return self.tables.get(key)

    def title_form(self, rule: str) -> str:
        return self._rules[rule].begins.title if rule in self._rules else ""

    def drawings(self) -> Sequence[FileDrawing]:
        return self._drawings

    def drawing(self, number: int | None) -> FileDrawing | None:
        return self._drawings[number - 1] if number is not None and 0 < number <= len(self._drawings) else None

    def callouts(self) -> Sequence[FileDrawing]:
        return [d for d in self._drawings if d.callout is not None]

    def references(self) -> Sequence[FileReference]:
        return self._references

    def homes(self) -> Placed:
        sheets = {s.id: s.number for s in self.sheets}
        return {p.drawing_id: (p.number, sheets[p.sheet_id]) for p in self.placed if p.home}

    def touch_ups(self, drawing: int | None) -> TouchUps:
        return tuple((f"touch-up:{number}", one) for number, one in self.touched.get(drawing or 0, ()))

    def annotations(self, drawing: int) -> Sequence[FileAnnotation]:
        return self.annotated.get(drawing, [])

    def issued(self) -> Mapping[int, tuple[IssuedRow, ...]]:
        return {}

    def picture(self, name: str) -> bytes:
        """A picture by its SHA-256, from the folder of pictures, or by its path beside the file. Raises `Refused`."""
        if name in self._taken:
            return self._taken[name]
        path = self._folder / (f"{PICTURES}/{name}.png" if PICTURE.fullmatch(name) else name)
        if self._folder.resolve() not in path.resolve().parents or not path.is_file():
            raise Refused(f"There is no picture {path.name} beside the project file.", "picture")
        return path.read_bytes()

    def take_picture(self, path: str) -> str:
        """The name by which a picture beside the file goes from now on. Raises `Refused`."""
        data = self.picture(path)
        picture_size(data)
        name = hashlib.sha256(data).hexdigest()
        self._taken[name] = data
        return name

    # --- read ---------------------------------------------------------------------------------------------------------

    def _read_drawings(self) -> list[FileDrawing]:
        tables = {d.key: d for d in self.document.drawing}
        used = {d.letter for d in self.document.drawing if d.letter}
        found = []
        for number, one in enumerate(self.document.drawing, 1):
            if one.callout is not None and one.parent not in tables:
                raise Refused(
                    f"Drawing “{one.key}” is a callout; name the drawing that it is called out from.", "parent"
                )
            cut = self._cut(one, tables, ())
            letter = one.letter
            if letter is None and one.callout is not None:
                letter = next_mark(used, one.callout.form)
            elif letter is None:
                letter = letter_for(cut, used)
            used.add(letter)
            parent = self.number(one.parent) if one.parent is not None else None
            callout = one.callout.model_dump(mode="json") if one.callout is not None else None
            found.append(FileDrawing(number, parent, letter, one.name, cut.model_dump(mode="json"), callout,
                                     self._style(one, cut), one.rule or ""))  # fmt: skip
        return found

    def _check_rules(self) -> None:
        shown_sets = (s.key for s in self.document.shown_set)
        known = known_to_model(self.model) | known_to_project(self, [*shown_sets])
        for key, rule in self._rules.items():
            standard = known_to_standard(self.standard(rule.style.standard))
            self.check_names(key, in_drawing_rule(rule), {**known, **standard}, "Drawing rule")

    def _target(self, target: str) -> str:
        """A target of a row, drawings and sheets by their numbers here."""
        kind, _, name = target.partition(":")
        if kind == "drawing":
            return f"drawing:{self.numbers[name]}" if name in self.numbers else ""
        if kind == "sheet":
            return f"sheet:{self._sheet_numbers[name]}" if name in self._sheet_numbers else ""
        return target

    def _check_tables(self) -> None:
        placed = {(s.number, p.table) for s in self.document.sheet for p in s.fields.tables}
        for sheet, key in sorted(placed):
            if key not in self.tables and self._strict:
                raise Refused(f"Sheet {sheet}: there is no table “{key}” in this project.", "tables")
        for key, document in self.tables.items():
            if not self._strict or document.spec.kind in LISTED:
                continue
            try:
                check_table(document.spec, Measured(self.model).rows(document.spec))
            except WrongTable as error:
                raise Refused(f"Table “{key}”: {error}", "table") from error

    def _by_rule(self, one: DrawingTable, cut: AnyCut, style: DrawingSpec) -> Shown:
        """What a drawing shows that says only in what it departs from its rule. Raises `Refused`."""
        if one.rule is None:
            return cut, style
        rule = self._rules.get(one.rule)
        if rule is None:
            raise Refused(f"Drawing “{one.key}”: there is no drawing rule “{one.rule}” in this project.", "rule")
        form = one.callout.form if one.callout is not None else None
        if not fits(rule, cut, form):
            kind = kind_of(cut, form)
            said = f"“{one.rule}” is a rule for drawings of the kind {rule.kind}, not {kind}."
            raise Refused(f"Drawing “{one.key}”: {said}", "rule")
        unknown = {*one.as_usual} - {*rule.lines}
        if unknown:
            raise Refused(f"Drawing “{one.key}”: “{min(unknown)}” is nothing that its rule says.", "as_usual")
        return begun(rule, cut, style, one.as_usual)

    def _cut(self, one: DrawingTable, tables: Mapping[str, DrawingTable], below: tuple[str, ...]) -> AnyCut:
        """The cut of a drawing; that of a callout without one is its parent's."""
        if one.key in below:
            raise Refused(f"Drawing “{one.key}” is called out from itself.", "parent")
        if one.cut is None:
            if one.callout is None or one.parent is None or one.parent not in tables:
                raise Refused(f"Drawing “{one.key}” has no cut.", "cut")
            return self._cut(tables[one.parent], tables, (*below, one.key))
        given = dict(one.cut)
        if given.get("kind") == "plan":
            given["storey"] = self._storey(one.key, given.get("storey"))
        if given.get("space"):
            given["space"] = self._room(one.key, given["space"])
        if "depths" in given:
            given["depths"] = [None if d == "unlimited" else d for d in given["depths"]]
        cut = self._by_rule(one, CUT.validate_python(given), DrawingSpec())[0]
        known = {**known_to_model(self.model), **known_to_project(self, (s.key for s in self.document.shown_set))}
        self.check_names(one.key, in_cut(cut), known)
        return cut

    def _storey(self, key: str, said: Any) -> str:
        storeys = self.model.storeys
        found = [s.guid for k, s in enumerate(storeys) if said in (s.guid, s.name, k)]
        if not found:
            names = ", ".join(s.name for s in storeys) or "none"
            raise Refused(f"Drawing “{key}”: there is no storey {said!r}; the model has: {names}.", "storey")
        return found[0]

    def _room(self, key: str, said: Any) -> str:
        found = [s.guid for s in self.model.spaces if said in (s.guid, s.number, s.name)]
        if not found:
            raise Refused(f"Drawing “{key}”: there is no room {said!r} in the model.", "space")
        return found[0]

    def _style(self, one: DrawingTable, cut: AnyCut) -> dict[str, Any]:
        style = dict(strips_listed(one.style))
        if isinstance(style.get("strips"), list):
            style["strips"] = [self._strip(strip) for strip in style["strips"]]
        found = self._by_rule(one, cut, DrawingSpec.model_validate(style))[1]
        known = {**known_to_model(self.model), **known_to_standard(self.standard(found.standard))}
        self.check_names(one.key, in_style(found), known)
        return found.model_dump(mode="json")

    def _strip(self, strip: Any) -> Any:
        if isinstance(strip, dict) and isinstance(strip.get("drawing"), str):
            return strip | {"drawing": self.number(strip["drawing"])}
        return strip

    def check_names(
        self, key: str, uses: Iterable[Use], known: Mapping[str, Iterable[str]], what: str = "Drawing"
    ) -> None:
        """Raises `Refused` for a name in a drawing, or in `what` else has a key, that nothing is called."""
        if not self._strict:
            return
        try:
            check_names(uses, known)
        except Refused as error:
            raise Refused(f"{what} “{key}”: {error}", error.field) from error

    def _read_placements(self) -> list[FilePlacement]:
        tables = [(k, p) for k, s in enumerate(self.document.sheet, 1) for p in s.placement]
        told = {p.drawing for _, p in tables if p.home}
        found: list[FilePlacement] = []
        for sheet, one in tables:
            drawing = self.number(one.drawing)
            taken = {p.number for p in found if p.sheet_id == sheet}
            number = one.number or free_number(taken)
            if number in taken:
                raise Refused(f"Sheet {self.sheets[sheet - 1].number} has two drawings {number}.", "number")
            first = all(p.drawing_id != drawing for p in found)
            home = bool(one.home) if one.drawing in told else first
            found.append(FilePlacement(len(found) + 1, sheet, drawing, number, one.x, one.y, home,
                                       one.trim.model_dump(), one.title.model_dump()))  # fmt: skip
        return found


def _numbered(keys: Sequence[str], what: str) -> dict[str, int]:
    """Keys by their place from 1 on. Raises `Refused` where one stands twice."""
    twice = next((k for k in keys if keys.count(k) > 1), None)
    if twice is not None:
        raise Refused(f"There are two {what} “{twice}” in this project.", what)
    return {key: number for number, key in enumerate(keys, 1)}
