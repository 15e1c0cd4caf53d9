"""Tables on sheets: a head, rows as far as there is room, several columns of rows in a wide place."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from edge_slice.core.drawing.display import Box, Item, Label, Link, Pen, paths_of
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.texts.text_lines import STEP, fitted

ROW = 6.0  # mm, height of a row
WIDE = 170.0  # mm that one run of rows takes at least where there is a choice
GAP = 8.0  # mm between two runs of rows
PAD = 1.5


@dataclass(frozen=True)
class Column:
    """Width in mm; 0: what is left of the table's."""

    name: str
    wide: float = 0.0


class Look(NamedTuple):
    """The standard's texts and inks, the pen under heads, and that between rows."""

    standard: DrawingStandard
    heavy: Pen
    fine: Pen


def table(
    columns: tuple[Column, ...],
    rows: list[tuple[list[str], str]],
    box: Box,
    look: Look,
    cut: list[str],
) -> tuple[list[Item], list[Link]]:
    """Rows (texts, what they lead to) from the top of a box on. Where they do not all fit, the last row says how many
    are missing; `cut`: texts that do not fit into theirs are added to it."""
    left, base, right, top = box
    per_run = max(int((top - base) / ROW + 1e-6) - 1, 1)
    most = max(int((right - left + GAP) / (WIDE + GAP)), 1)
    runs = min(most, max(-(-len(rows) // per_run), 1))
    shown = rows
    if len(rows) > runs * per_run:
        kept = runs * per_run - 1
        shown = [*rows[:kept], (["", f"and {len(rows) - kept} more"] + [""] * (len(columns) - 2), "")]
    wide = (right - left - (runs - 1) * GAP) / runs
    items: list[Item] = []
    links: list[Link] = []
    for k in range(runs):
        part = shown[k * per_run : (k + 1) * per_run]
        x = left + k * (wide + GAP)
        items += _run(columns, [texts for texts, _ in part], (x, top, wide), look, cut)
        for n, (_, target) in enumerate(part):
            if target:
                links.append(Link((x, top - (n + 2) * ROW, x + wide, top - (n + 1) * ROW), target))
    return items, links


def _run(
    columns: tuple[Column, ...],
    rows: list[list[str]],
    place: tuple[float, float, float],
    look: Look,
    cut: list[str],
) -> list[Item]:
    """A head and rows below it, from a place (left, top, width) down."""
    left, top, wide = place
    standard, heavy, fine = look
    fixed = sum(c.wide for c in columns)
    widths = [c.wide or wide - fixed for c in columns]
    starts = [left + sum(widths[:k]) for k in range(len(columns))]
    small, label = standard.text.small, standard.text.label
    items: list[Item] = []
    for column, x in zip(columns, starts, strict=True):
        at = (x + PAD, top - ROW + (ROW - small) / 2)
        items.append(Label("table head", column.name, *at, small, standard.hatch_ink))
    under = [[(left, top - ROW), (left + wide, top - ROW)]]
    items.append(paths_of("table line", under, heavy))
    lines = []
    for n, row in enumerate(rows):
        y = top - (n + 2) * ROW
        lines.append([(left, y), (left + wide, y)])
        for text, x, w in zip(row, starts, widths, strict=True):
            items += cell_text("table text", text, (x, y, w, ROW), (label, standard.ink), cut)
    if lines:
        items.append(paths_of("table line", lines, fine))
    return items


def cell_text(
    role: str, text: str, cell: Box, look: tuple[float, str], cut: list[str], right: bool = False
) -> list[Item]:
    """A text in the middle of a cell (left, base, width, height), in a height and an ink; at its left side, or its
    right one. One that does not fit is added to `cut`."""
    if not text:
        return []
    left, base, wide, high = cell
    height, ink = look
    fit = fitted(text, wide - 2 * PAD, high - 1.0, height)
    cut += [text] if fit.cut else []
    foot = base + (high - fit.high) / 2
    x = left + wide - PAD if right else left + PAD
    return [
        Label(role, line, x, foot + k * STEP * fit.height, fit.height, ink, "right" if right else "left")
        for k, line in enumerate(reversed(fit.lines))
    ]
