"""A table as it reads: rows with formulas, filtered, grouped, sorted, with totals."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import groupby
from typing import Literal

from edge_slice.core.drawing.measures import Lengths, height_text, length_text
from edge_slice.core.tables.documents import OwnValues, TableColumn, TableDocument, TableFilter, TableSpec
from edge_slice.core.tables.fields import DECIMALS, FIELDS, PICTURED, Unit
from edge_slice.core.tables.formulas import Formula, Value, WrongFormula, in_order, number_of
from edge_slice.core.tables.rows import TableRow


class WrongTable(ValueError):
    """What is wrong with a table, in words; `column`: the key of the one that is meant, else empty."""

    def __init__(self, words: str, column: str = "") -> None:
        super().__init__(words)
        self.column = column


@dataclass(frozen=True)
class Cell:
    """What a cell reads, and its number in metres, m², m³ where it is one."""

    text: str
    number: float | None = None


@dataclass(frozen=True)
class Line:
    """A row, the head of a group (its first cell says which) or a total; `level`: of the group, 0 the outermost."""

    what: Literal["row", "group", "total"]
    cells: tuple[Cell, ...]
    target: str = ""
    level: int = 0


@dataclass(frozen=True)
class TableContent:
    """`units`: of the columns, "" of texts. `notes`: what a reader should know. `count`: rows."""

    spec: TableSpec
    units: tuple[Unit, ...]
    lines: tuple[Line, ...]
    notes: tuple[str, ...]
    count: int


def unit_of(spec: TableSpec, column: TableColumn) -> Unit:
    if column.shows == "field":
        return FIELDS[spec.kind][column.name].unit
    return "number" if column.shows == "formula" else ""


def check_table(spec: TableSpec, rows: Sequence[TableRow]) -> None:
    """Raise `WrongTable` for a field, property or formula that means nothing in it."""
    said = {name for row in rows for name in row.properties}
    for column in spec.columns:
        if column.shows == "property" and column.name not in said:
            raise WrongTable(f"Nothing in this table has a property “{column.name}” in the model.", column.key)
    _check(spec)


def _check(spec: TableSpec) -> None:
    formulas = {}
    for column in spec.columns:
        if column.shows == "field" and column.name not in FIELDS[spec.kind]:
            known = ", ".join(FIELDS[spec.kind])
            raise WrongTable(f"A table of {spec.kind} has no field “{column.name}”; it has {known}.", column.key)
        if column.shows == "picture" and (spec.kind not in PICTURED or column.name not in ("front", "plan")):
            raise WrongTable("Only elements have pictures: from the front, or as a plan.", column.key)
        if column.shows == "formula":
            formulas[column.key] = _formula(spec, column)
    try:
        in_order(formulas)
    except WrongFormula as error:
        raise WrongTable(str(error), next(iter(formulas))) from error
    for one in spec.filters:
        if one.how in ("at least", "at most") and number_of(one.value) is None:
            raise WrongTable(f"“{one.value}” is no number to compare with.", one.column)


def _formula(spec: TableSpec, column: TableColumn) -> Formula:
    try:
        found = Formula(column.name)
    except WrongFormula as error:
        raise WrongTable(str(error), column.key) from error
    keys = {c.key for c in spec.columns} | set(FIELDS[spec.kind])
    unknown = [name for name in found.columns if name not in keys]
    if unknown:
        raise WrongTable(f"The formula names “{unknown[0]}”, which is no column here.", column.key)
    return found


def content_of(document: TableDocument, rows: Sequence[TableRow], lengths: Lengths = "mm") -> TableContent:
    """What a table reads. Raises `WrongTable` for what could not be saved now; a property that the model has lost since
    leaves its column empty, and is noted."""
    spec = document.spec
    said = {name for row in rows for name in row.properties}
    lost = [c for c in spec.columns if c.shows == "property" and c.name not in said]
    _check(spec)
    read = _Read(document, rows)
    shown = [k for k in range(len(rows)) if all(_stays(f, read.values[f.column][k]) for f in spec.filters)]
    for key, falling in [*((g, False) for g in spec.groups), *((o.column, o.falling) for o in spec.order)][::-1]:
        shown.sort(key=read.ranks(key).__getitem__, reverse=falling)
    writer = _Writer(read, spec, lengths)
    lines = list(writer.lines(shown, 0))
    if spec.totals and any(c.total != "none" for c in spec.columns):
        lines.append(writer.total("", shown, -1))
    notes = [f"The model says no property “{c.name}” any more; its column is empty." for c in lost]
    notes += _unmeasured(read, spec, shown)
    return TableContent(spec, tuple(unit_of(spec, c) for c in spec.columns), tuple(lines), tuple(notes), len(shown))


def _unmeasured(read: _Read, spec: TableSpec, shown: list[int]) -> list[str]:
    for column in spec.columns:
        if column.shows == "field" and unit_of(spec, column) == "volume":
            without = sum(read.values[column.key][k] is None for k in shown)
            if without:
                which = "One row has" if without == 1 else f"{without} rows have"
                return [f"{which} no volume: bodies that are not closed."]
    return []


class _Read:
    """What rows have in each column (`values`, by its key; formulas may use fields of the rows too). Column by column,
    as tables have thousands of rows."""

    def __init__(self, document: TableDocument, rows: Sequence[TableRow]) -> None:
        self._rows = rows
        self._columns = {c.key: c for c in document.spec.columns}
        self.values: dict[str, list[Value]] = {}
        self._ranks: dict[str, list[tuple[object, ...]]] = {}
        formulas = {}
        for key, column in self._columns.items():
            match column.shows:
                case "field":
                    self.values[key] = [row.fields.get(column.name) for row in rows]
                case "property":
                    self.values[key] = [row.properties.get(column.name, "") for row in rows]
                case "own":
                    typed = document.own.get(key, {})
                    self.values[key] = [typed.get(row.target, "") for row in rows]
                case "formula":
                    formulas[key] = Formula(column.name)
                case "picture":
                    self.values[key] = [None] * len(rows)
        for key in in_order(formulas):
            self.values[key] = [formulas[key].value(self._of(k, formulas[key].columns)) for k in range(len(rows))]

    def _of(self, row: int, names: Sequence[str]) -> dict[str, Value]:
        fields = self._rows[row].fields
        return {name: self.values[name][row] if name in self.values else fields.get(name) for name in names}

    def ranks(self, key: str) -> list[tuple[object, ...]]:
        """By which rows are sorted: storeys from below upwards, all else as people count."""
        if key not in self._ranks:
            self._ranks[key] = self._ranked(key)
        return self._ranks[key]

    def _ranked(self, key: str) -> list[tuple[object, ...]]:
        column, values = self._columns[key], self.values[key]
        if column.shows == "field" and column.name == "storey":
            return [(0, row.level, value or "") for row, value in zip(self._rows, values, strict=True)]
        known = {value: natural(value) for value in set(values)}
        return [known[value] for value in values]

    def target(self, row: int) -> str:
        return self._rows[row].target


def _stays(rule: TableFilter, value: Value) -> bool:
    text = "" if value is None else value if isinstance(value, str) else f"{value:g}"
    number, wanted = number_of(value), number_of(rule.value)
    match rule.how:
        case "is":
            return text == rule.value or (number is not None and number == wanted)
        case "is not":
            return text != rule.value and (number is None or number != wanted)
        case "contains":
            return rule.value.casefold() in text.casefold()
        case "at least":
            return number is not None and wanted is not None and number >= wanted
        case "at most":
            return number is not None and wanted is not None and number <= wanted
        case "is empty":
            return not text
    return bool(text)


def natural(value: Value) -> tuple[object, ...]:
    """Sorts numbers by size, and texts as people count: D2 before D10; empty ones last."""
    if value is None or value == "":
        return (2,)
    if isinstance(value, float | int):
        return (0, float(value))
    parts = re.split(r"(\d+)", value.casefold())
    return (1, *((0, int(p)) if p.isdigit() else (1, p) for p in parts if p))


class _Writer:
    def __init__(self, read: _Read, spec: TableSpec, lengths: Lengths) -> None:
        self.read, self.spec, self.lengths = read, spec, lengths
        self._cells = list(zip(*(self._column(c) for c in spec.columns), strict=True))

    def _column(self, column: TableColumn) -> list[Cell]:
        """The cells of all rows; what many of them say is written once."""
        values = self.read.values[column.key]
        known = {value: self.cell(column, value) for value in set(values)}
        return [known[value] for value in values]

    def lines(self, rows: list[int], level: int) -> Iterator[Line]:
        if level == len(self.spec.groups):
            for k in rows:
                yield Line("row", self._cells[k], self.read.target(k))
            return
        at = next(n for n, c in enumerate(self.spec.columns) if c.key == self.spec.groups[level])
        column = self.spec.columns[at]
        for _, found in groupby(rows, key=self.read.ranks(column.key).__getitem__):
            mine = list(found)
            said = self._cells[mine[0]][at].text or "without"
            empty = tuple(Cell("") for _ in self.spec.columns[1:])
            yield Line("group", (Cell(f"{column.head}: {said}"), *empty), level=level)
            yield from self.lines(mine, level + 1)
            if self.spec.totals and any(c.total != "none" for c in self.spec.columns):
                yield self.total(said, mine, level)

    def total(self, of: str, rows: list[int], level: int) -> Line:
        """The total of a group, or of all."""
        cells = []
        for column in self.spec.columns:
            said = [self.read.values[column.key][k] for k in rows] if column.total != "none" else []
            numbers = [n for n in map(number_of, said) if n is not None]
            if column.total == "count":
                filled = sum(value not in (None, "") for value in said)
                cells.append(Cell(str(filled), float(filled)))
            elif numbers:
                cells.append(self.cell(column, sum(numbers)))
            else:
                cells.append(Cell(""))
        if not cells[0].text:
            cells[0] = replace(cells[0], text=f"Total {of}".strip())
        return Line("total", tuple(cells), level=level)

    def cell(self, column: TableColumn, value: Value) -> Cell:
        if value is None or isinstance(value, str):
            return Cell(value or "", number_of(value) if value and column.shows != "field" else None)
        unit = unit_of(self.spec, column)
        if unit == "length" and column.decimals is None:
            return Cell(length_text(value, self.lengths), value)
        if unit == "height" and column.decimals is None:
            return Cell(height_text(value, self.lengths), value)
        plain = 2 if column.shows == "formula" else DECIMALS[unit]
        text = f"{value:.{plain if column.decimals is None else column.decimals}f}"
        return Cell(text.replace("-", "−") if float(text) else text.lstrip("-"), value)


def typed_in(document: TableDocument, cells: Sequence[tuple[str, str, str]], targets: set[str]) -> OwnValues:
    """Own values after some cells (column, target, text) were typed; "" empties one. Raises `WrongTable` for a column
    that is nobody's own, or a row that is not there."""
    own = {c.key for c in document.spec.columns if c.shows == "own"}
    found = {key: dict(values) for key, values in document.own.items()}
    for key, target, text in cells:
        if key not in own:
            raise WrongTable(f"What column “{key}” says comes from the model; only own columns are typed.", key)
        if target not in targets:
            raise WrongTable("This row is not in the table any more.", key)
        values = found.setdefault(key, {})
        if text.strip():
            values[target] = text.strip()
        else:
            values.pop(target, None)
    return {key: values for key, values in found.items() if values}
