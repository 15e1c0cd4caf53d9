"""Points of ground as people have them: pasted, typed, or in a file of separated values."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from edge_slice.core.model.ground.documents import MOST_POINTS

NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?")
NAMES = {
    "x": ("x", "e", "east", "easting"),
    "y": ("y", "n", "north", "northing"),
    "z": ("z", "h", "height", "level", "elevation"),
    "distance": ("distance", "d", "s", "chainage", "station"),
}
COLUMNS = {"points": ("x", "y", "z"), "profile": ("distance", "z")}
WORDS = {"x": "x", "y": "y", "z": "height", "distance": "distance"}


class Untyped(ValueError):
    """Text that gives no points; the message says which line and why."""


@dataclass(frozen=True)
class TypedPoints:
    """The numbers of each row, in the order of `COLUMNS`, as they were written; and what was understood, in words."""

    rows: tuple[tuple[float, ...], ...]
    notes: tuple[str, ...]


def typed_points(text: str, what: Literal["points", "profile"]) -> TypedPoints:
    """Rows of x, y, height, or of distance, height. Columns are parted by semicolons, tabs, commas or spaces; a first
    line may name them; a number of the point may stand before, and words after. Raises `Untyped`."""
    lines = [(k, line.strip()) for k, line in enumerate(text.lstrip("\ufeff").splitlines(), 1)]
    lines = [(k, line) for k, line in lines if line and not line.startswith("#")]
    if not lines:
        raise Untyped("There are no points in this text: give one line for each, as in “12.5 40.0 3.15”.")
    wanted = COLUMNS[what]
    cells = [(k, _cells(line)) for k, line in lines]
    notes: list[str] = []
    columns, first = _named(cells[0][1], wanted), 1
    if columns is None:
        columns, first = _counted(cells[0], wanted), 0
        if columns[0] == 1:
            notes.append("The first column was read as the number of the point")
    else:
        notes.append(f"The columns {', '.join(WORDS[w] for w in wanted)} were found by their names")
    if len(cells) - first > MOST_POINTS:
        raise Untyped(
            f"These are {len(cells) - first:,} points, and ground holds {MOST_POINTS:,} at most; thin them out, or "
            "leave out those that are far from the building."
        )
    rows = []
    for k, row in cells[first:]:
        if max(columns) >= len(row) or not all(NUMBER.fullmatch(row[c]) for c in columns):
            raise Untyped(
                f"Line {k}: “{' '.join(row)[:60]}” gives no {', '.join(WORDS[w] for w in wanted)}; each line needs "
                f"{len(wanted)} numbers."
            )
        rows.append(tuple(float(row[c].replace(",", ".")) for c in columns))
    once = tuple(dict.fromkeys(rows))
    if len(once) < len(rows):
        notes.append(f"{len(rows) - len(once)} of {len(rows)} lines say the same as others, and were left out")
    return TypedPoints(once, tuple(notes))


def _cells(line: str) -> list[str]:
    for separator in (";", "\t"):
        if separator in line:
            return [c.strip().strip('"') for c in line.split(separator)]
    spaced = line.split()
    if "," not in line or (len(spaced) > 1 and all(NUMBER.fullmatch(c) and not c.endswith(",") for c in spaced)):
        return spaced  # with decimal commas
    return [c.strip().strip('"') for c in line.split(",")]


def _named(row: list[str], wanted: tuple[str, ...]) -> list[int] | None:
    """The columns by their names, None where the first line gives numbers."""
    said = [re.sub(r"[\s\[(].*", "", c).lower() for c in row]
    found = [next((k for k, word in enumerate(said) if word in NAMES[w]), -1) for w in wanted]
    if min(found) >= 0:
        return found
    if any(NUMBER.fullmatch(c) for c in row):
        return None
    names = "; ".join(f"{WORDS[w]}: {', '.join(NAMES[w])}" for w in wanted)
    raise Untyped(f"The first line, “{' '.join(row)[:60]}”, names no columns that are known ({names}).")


def _counted(line: tuple[int, list[str]], wanted: tuple[str, ...]) -> list[int]:
    """The columns by where numbers stand: after the number of a point, where there is one more."""
    _, row = line
    numbers = [bool(NUMBER.fullmatch(c)) for c in row]
    count = len(wanted)
    start = 1 if len(row) > count and all(numbers[1 : count + 1]) else 0
    return list(range(start, start + count))
