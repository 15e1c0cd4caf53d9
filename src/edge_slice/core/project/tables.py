"""The tables of a project: their rows, and where they stand on its sheets."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property, partial
from typing import TYPE_CHECKING, Any

from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import length_said
from edge_slice.core.model.corrections.states import name_of, state_of
from edge_slice.core.project.documents import SheetFields, TablePlace
from edge_slice.core.project.naming import kind_of
from edge_slice.core.project.source import SheetRow
from edge_slice.core.recent import Recent
from edge_slice.core.sheet.placed_tables import TableOnSheet, lines_that_fit
from edge_slice.core.tables.content import TableContent, content_of
from edge_slice.core.tables.documents import TableDocument, TableSpec
from edge_slice.core.tables.fields import LISTED
from edge_slice.core.tables.formulas import Value
from edge_slice.core.tables.pictures import Picture, View, picture_of
from edge_slice.core.tables.rows import Measured, TableRow
from edge_slice.core.topics.words import words_of

if TYPE_CHECKING:
    from edge_slice.core.project.sheets import Sheets

_measured: Recent[Measured] = Recent("measured models", 4)  # by geometry


def table_places(row: SheetRow) -> list[TablePlace]:
    """The places of tables on a sheet."""
    return SheetFields.model_validate(row.fields).tables


def table_boxes(row: SheetRow) -> list[Box]:
    """The same as boxes, mm."""
    return [place.box for place in table_places(row)]


class Tables:
    """Of the sheets of a project; each table is read once."""

    def __init__(self, sheets: Sheets[Any, Any, Any]) -> None:
        self.sheets = sheets
        self._contents: dict[str, TableContent | None] = {}

    @property
    def measured(self) -> Measured:
        source = self.sheets.source
        return _measured.get(source.geometry, lambda: Measured(source.model))

    def rows(self, spec: TableSpec) -> list[TableRow]:
        """What a table of this kind has, before filters."""
        if spec.kind == "sheets":
            return [self._sheet(row) for row in self.sheets.sheets]
        if spec.kind == "drawings":
            return list(self._drawings())
        if spec.kind == "corrections":
            return list(self._corrections())
        return self.measured.rows(spec)

    def content(self, document: TableDocument) -> TableContent:
        """Raises `WrongTable`."""
        return content_of(document, self.rows(document.spec), self.sheets.source.lengths)

    def pictures(self, spec: TableSpec, targets: Iterable[str]) -> dict[tuple[str, str], Picture]:
        """Of rows, by their targets and the keys of their columns; what is no element has none."""
        found: dict[tuple[str, str], Picture] = {}
        model = self.sheets.source.model
        elements = [(target, model.element_by_guid.get(target.removeprefix("element:"))) for target in targets]
        for column in spec.columns:
            if column.shows != "picture":
                continue
            view: View = "plan" if column.name == "plan" else "front"
            found |= {(t, column.key): picture_of(model, k, view) for t, k in elements if k is not None}
        return found

    def on(self, row: SheetRow) -> list[TableOnSheet]:
        """The tables on a sheet, each with those of its lines that stand in this place; one that is not there any more
        leaves nothing."""
        found = []
        for place in table_places(row):
            content = self._content_of(place.table)
            if content is None:
                continue
            places = self._places[place.table]
            room = [lines_that_fit(content, box, default_standard().text.label) for _, box in places]
            part = places.index((row.id, place.box))
            start = sum(room[:part])
            lines = content.lines[start : start + room[part]]
            last = part == len(places) - 1
            missing = max(len(content.lines) - sum(room), 0) if last else 0
            pictures = self.pictures(content.spec, (line.target for line in lines))
            found.append(TableOnSheet(content, place.box, lines, part + 1, len(places), missing, pictures))
        return found

    def said(self, row: SheetRow) -> str:
        """Another text whenever the tables on a sheet look different, but for the model's part in it."""
        found = []
        for place in table_places(row):
            document = self.sheets.source.table(place.table)
            if document is not None:
                rows = repr(self.rows(document.spec)) if document.spec.kind in LISTED else ""
                found.append(repr((document.model_dump_json(), self._places[place.table], rows)))
        return "\n".join(found)

    @cached_property
    def _places(self) -> dict[str, list[tuple[int | None, Box]]]:
        """Where each table stands, in the order of the register."""
        found: dict[str, list[tuple[int | None, Box]]] = {}
        for sheet in self.sheets.sheets:
            for place in table_places(sheet):
                found.setdefault(place.table, []).append((sheet.id, place.box))
        return found

    def _content_of(self, key: str) -> TableContent | None:
        if key not in self._contents:
            document = self.sheets.source.table(key)
            self._contents[key] = self.content(document) if document is not None else None
        return self._contents[key]

    def _sheet(self, row: SheetRow) -> TableRow:
        fields: dict[str, Value] = {
            "number": row.number,
            "title": row.title,
            "size": row.size,
            "folder": self.sheets.folder_name(row),
            "revision": self.sheets.revision_of(row),
            "drawings": float(len(self.sheets.on(row))),
        }
        return TableRow(f"sheet:{row.id}", fields)

    def _corrections(self) -> Iterator[TableRow]:
        """In the order in which they were said."""
        source = self.sheets.source
        model, corrected = source.corrected
        say = partial(length_said, lengths=source.lengths)
        for number, told in enumerate(corrected, 1):
            one, name = told.of, name_of(model, told)
            _, text = words_of(one.model_copy(update={"reason": ""}), name or one.asked_of, say)
            fields: dict[str, Value] = {
                "number": float(number), "name": name or one.asked_of, "what": text.replace("\n", " "),
                "reason": one.reason, "state": state_of(told), "elements": float(told.elements),
                "author": one.author, "asked": one.asked, "answer": one.answer.status if one.answer else "",
            }  # fmt: skip
            yield TableRow(f"correction:{one.topic or number}", fields)

    def _drawings(self) -> Iterator[TableRow]:
        """Those on sheets in the order of the register, then the others."""
        listed = {entry.target: entry for entry in self.sheets.drawings_listed}
        order = {target: k for k, target in enumerate(listed)}
        for drawing in sorted(
            self.sheets.drawings.values(), key=lambda d: order.get(f"drawing:{d.id}", len(order) + (d.id or 0))
        ):
            target = f"drawing:{drawing.id}"
            entry = listed.get(target)
            cut = self.sheets.drawn_as.followed.cut_of(drawing)
            form = (drawing.callout or {}).get("form")
            fields: dict[str, Value] = {
                "number": entry.number if entry is not None else "",
                "title": self.sheets.title(drawing),
                "kind": kind_of(cut, form).replace("_", " "),
                "scale": self.sheets.scale_text(drawing),
            }
            yield TableRow(target, fields)
