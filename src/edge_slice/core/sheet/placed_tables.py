"""Tables of the building on sheets: a head, rows as far as there is room, several runs of rows in a wide place; what
finds no room goes on in the next place of the table."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from edge_slice.core.drawing.display import Box, Item, Label, Link, paths_of
from edge_slice.core.drawing.texts.typesetting import text_width
from edge_slice.core.sheet.tables import GAP, PAD, ROW, Look, cell_text
from edge_slice.core.tables.content import Line, TableContent
from edge_slice.core.tables.pictures import Picture

PICTURED_ROW = 20.0  # mm, height of rows with a picture
NAME = 8.0  # mm, height of the name over a table
LEAST, WIDEST = 12.0, 60.0  # mm of a column that nobody gave a width
AIR = 1.0  # mm round a picture
LED = ("sheet:", "drawing:")  # targets that pages can lead to


@dataclass(frozen=True)
class TableOnSheet:
    """A table, or what of it stands in one place: `lines` in the `box` (left, base, right, top); `part` of `parts`.
    `pictures` by the target of their rows and the key of their column; `missing`: lines that find no place at all."""

    content: TableContent
    box: Box
    lines: tuple[Line, ...]
    part: int = 1
    parts: int = 1
    missing: int = 0
    pictures: Mapping[tuple[str, str], Picture] = field(default_factory=dict)


class _Runs(NamedTuple):
    """Columns of rows side by side: how many, how wide each is, the widths of its columns."""

    many: int
    wide: float
    widths: list[float]


def lines_that_fit(content: TableContent, box: Box, height: float) -> int:
    """How many lines of a table a place holds at most; `height`: of its texts."""
    return _per_run(content, box) * _runs(content, box, height).many


def _per_run(content: TableContent, box: Box) -> int:
    return max(int((box[3] - box[1] - NAME - ROW) / _row(content) + 1e-6), 0)


def _row(content: TableContent) -> float:
    return PICTURED_ROW if any(c.shows == "picture" for c in content.spec.columns) else ROW


def _runs(content: TableContent, box: Box, height: float) -> _Runs:
    widths = []
    for k, column in enumerate(content.spec.columns):
        if column.wide:
            widths.append(column.wide)
            continue
        texts = [line.cells[k].text for line in content.lines if line.what == "row"]
        longest = max((text_width(t, height) for t in texts), default=0.0)
        if column.shows == "picture":
            longest = PICTURED_ROW
        head = text_width(column.head, height) / (2 if " " in column.head else 1)
        widths.append(min(max(longest, head, LEAST) + 2 * PAD, WIDEST))
    whole, wide = sum(widths), box[2] - box[0]
    needed = -(-len(content.lines) // max(_per_run(content, box), 1))
    count = max(min(int((wide + GAP) / (whole + GAP)), needed), 1)
    each = (wide - (count - 1) * GAP) / count
    return _Runs(count, each, [w * each / whole for w in widths])


def missing_in(placed: TableOnSheet) -> list[str]:
    """What to say of lines that find no place."""
    if not placed.missing:
        return []
    many = "One line finds" if placed.missing == 1 else f"{placed.missing} lines find"
    return [f"{many} no place in table “{placed.content.spec.name}”; enlarge it, or put it on one more sheet."]


def draw_placed(placed: TableOnSheet, look: Look, cut: list[str]) -> tuple[list[Item], list[Link]]:
    """A table in its place; texts that do not fit into theirs are added to `cut`."""
    left, _, _, top = placed.box
    content, standard = placed.content, look.standard
    label = standard.text.label
    runs, row = _runs(content, placed.box, label), _row(content)
    per_run = max(_per_run(content, placed.box), 1)
    name = content.spec.name + (f" ({placed.part} of {placed.parts})" if placed.parts > 1 else "")
    items: list[Item] = [
        Label(
            "table name", name, left, top - NAME + (NAME - standard.text.title) / 2, standard.text.title, standard.ink
        )
    ]
    links: list[Link] = []
    for n in range(runs.many if placed.lines else 1):
        lines = placed.lines[n * per_run : (n + 1) * per_run]
        if n and not lines:
            break
        x = left + n * (runs.wide + GAP)
        items += _head(content, x, top - NAME, runs, look)
        y = top - NAME - ROW
        for line in lines:
            y -= row
            items += _line(placed, line, (x, y, row), runs, look, cut)
            if line.target.startswith(LED):
                links.append(Link((x, y, x + runs.wide, y + row), line.target))
    return items, links


def _head(content: TableContent, x: float, top: float, runs: _Runs, look: Look) -> list[Item]:
    standard, heavy, _ = look
    items: list[Item] = []
    at = x
    for column, unit, wide in zip(content.spec.columns, content.units, runs.widths, strict=True):
        cell = (at, top - ROW, wide, ROW)
        items += cell_text("table head", column.head, cell, (standard.text.small, standard.hatch_ink), [], unit != "")
        at += wide
    return [*items, paths_of("table line", [[(x, top - ROW), (x + runs.wide, top - ROW)]], heavy)]


def _line(
    placed: TableOnSheet, line: Line, place: tuple[float, float, float], runs: _Runs, look: Look, cut: list[str]
) -> list[Item]:
    x, y, row = place
    standard, heavy, fine = look
    label = standard.text.label
    pen = heavy if line.what == "total" and line.level < 0 else fine
    items: list[Item] = [paths_of("table line", [[(x, y), (x + runs.wide, y)]], pen)]
    if line.what == "group":
        whole = (x, y, runs.wide, row)
        return [*items, *cell_text("table group", line.cells[0].text, whole, (label * 1.1, standard.ink), cut)]
    at = x
    for column, unit, cell, wide in zip(
        placed.content.spec.columns, placed.content.units, line.cells, runs.widths, strict=True
    ):
        picture = placed.pictures.get((line.target, column.key))
        if picture is not None and len(picture.lines):
            items.append(_picture(picture, (at, y, wide, row), look))
        right = unit != "" if line.what == "row" else cell.number is not None
        items += cell_text("table text", cell.text, (at, y, wide, row), (label, standard.ink), cut, right)
        at += wide
    return items


def _picture(picture: Picture, cell: Box, look: Look) -> Item:
    """In the middle of a cell (left, base, width, height), as large as fits."""
    left, base, wide, high = cell
    room = (wide - 2 * AIR, high - 2 * AIR)
    scale = min(room[0] / max(picture.wide, 1.0), room[1] / max(picture.high, 1.0))
    x = left + (wide - picture.wide * scale) / 2
    y = base + (high - picture.high * scale) / 2
    lines = picture.lines * scale
    runs = [[(x + a, y + b), (x + c, y + d)] for a, b, c, d in lines.tolist()]
    return paths_of("table picture", runs, look.fine)
