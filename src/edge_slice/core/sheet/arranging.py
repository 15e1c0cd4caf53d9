"""Where drawings find room on a sheet: the first free place, or all of them in rows, in reading order."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely

from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import METRIC
from edge_slice.core.sheet.design import SheetDesign, design_problems, overlap
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

Place = tuple[float, float]
Origin = tuple[str, float]
STEP = 10.0  # mm between the places that are tried
TITLE_ROOM = 16.0  # mm that a title takes below what hangs below its drawing
HEADS = 18.0  # mm that heads of markers and bubbles of the grid take
USUAL_ROOM: Box = (15.0, HEADS + TITLE_ROOM, 40.0, 15.0)  # mm around a frame: what levels, heads and titles take
SPREADS = (1e6, 80.0, 40.0, 10.0, 0.0)  # mm by which rows and drawings are spread at most beyond what they need
LARGER = 1.25  # times as wide or high as it needs to be may a column or a row become so that its drawings are in line
LITTLE = 0.5  # of the height of another row may a row grow by one more drawing in its last column
WIDTHS_TRIED = 16  # of rows, from all of an area's down to an even share


@dataclass(frozen=True)
class Wanted:
    """A drawing that looks for a place: width and height of its frame on paper, and how far what stands at its edges
    goes beyond them (left, base, right, top), mm; its scale; and where the model's origin lies along it (`axis`) and up
    in it (`level`), mm from the lower left corner of its frame, with the name of the direction."""

    wide: float
    high: float
    room: Box = USUAL_ROOM
    scale: float = 0.0
    axis: Origin | None = None
    level: Origin | None = None

    @property
    def outer(self) -> tuple[float, float]:
        left, base, right, top = self.room
        return self.wide + left + right, self.high + base + top

    def at(self, place: Place) -> Box:
        """What it takes up with its frame's lower left corner at a place."""
        left, base, right, top = self.room
        return (place[0] - left, place[1] - base, place[0] + self.wide + right, place[1] + self.high + top)

    def at_scale(self, scale: float) -> Wanted:
        """The same at another scale: the frame grows or shrinks, what stands around it does not."""
        by = self.scale / scale
        axis, level = (o and (o[0], o[1] * by) for o in (self.axis, self.level))
        return replace(self, wide=self.wide * by, high=self.high * by, scale=scale, axis=axis, level=level)

    def alone(self) -> Wanted:
        """The same, in line with nothing."""
        return replace(self, axis=None, level=None)


def areas_of(design: SheetDesign, size: SheetSize) -> list[Box]:
    """Where drawings are laid out: the drawing areas, or the whole frame of a design without any."""
    return list(design.area_boxes(size).values()) or [design.frame(size)]


def free_place(wanted: Wanted, inside: Box, taken: Sequence[Box]) -> Place | None:
    """The first place from the upper left of a box where a drawing meets nothing; None where there is none."""
    left, base, right, top = inside
    room = wanted.room
    for y in _steps(top - room[3] - wanted.high, base + room[1], -STEP):
        for x in _steps(left + room[0], right - room[2] - wanted.wide, STEP):
            if not any(overlap(wanted.at((x, y)), box) for box in taken):
                return round(x, 3), round(y, 3)
    return None


def centred(wanted: Wanted, area: Box) -> Place | None:
    """The place at which a drawing with all around it lies in the middle of an area; None where it is larger."""
    wide, high = wanted.outer
    if wide > area[2] - area[0] + 1e-6 or high > area[3] - area[1] + 1e-6:
        return None
    x = (area[0] + area[2] - wide) / 2 + wanted.room[0]
    y = (area[1] + area[3] - high) / 2 + wanted.room[1]
    return round(x, 3), round(y, 3)


def arranged(wanted: Sequence[Wanted], areas: Sequence[Box], taken: Sequence[Box] = ()) -> list[Place | None]:
    """Places of drawings in reading order: in rows from the upper left of the first area on; None for one that finds no
    room. Drawings of a row share their levels, else the frames stand level at their bases; those of a column share
    their axes. `taken`: where none may stand."""
    found: list[Place | None] = [None] * len(wanted)
    waiting = list(range(len(wanted)))
    full = list(taken)
    for area in areas:
        rows = _rows([wanted[k] for k in waiting], area, full)
        placed = [(waiting[n], place) for n, place in rows]
        for k, place in placed:
            found[k] = place
            full.append(wanted[k].at(place))
        waiting = [k for k in waiting if found[k] is None]
    for k in waiting:  # one that is too large for what is left of the rows may fit between others
        for area in areas:
            free = free_place(wanted[k], area, full)
            if free is not None:
                found[k] = free
                full.append(wanted[k].at(free))
                break
    return found


Column = list[int]
Row = list[Column]


def _rows(wanted: Sequence[Wanted], area: Box, taken: Sequence[Box]) -> list[tuple[int, Place]]:
    """Rows from the top of an area, as far as they fit, as evenly filled as they can be: in line where that costs no
    drawing its place."""
    inline = _in_rows(wanted, area, taken)
    if len(inline) == len(wanted):
        return inline
    alone = _in_rows([one.alone() for one in wanted], area, taken)
    return alone if len(alone) > len(inline) else inline


def _in_rows(wanted: Sequence[Wanted], area: Box, taken: Sequence[Box]) -> list[tuple[int, Place]]:
    """What is left between the rows is spread evenly, over all of the area where nothing stands in the way, else less
    far."""
    wide, high = area[2] - area[0], area[3] - area[1]
    fitting = [k for k, one in enumerate(wanted) if one.outer[0] <= wide]
    rows = _filled(wanted, fitting, wide)
    for limit in np.linspace(wide, wide / max(len(rows), 1), WIDTHS_TRIED)[1:]:
        narrower = _filled(wanted, fitting, float(limit))
        if len(narrower) == len(rows) and _total(wanted, narrower) <= _total(wanted, rows) + 1e-6:
            rows = narrower
    while rows and _total(wanted, rows) > high + 1e-6:
        rows.pop()
    best: list[tuple[int, Place]] = []
    for most in SPREADS:
        found = [
            (k, place)
            for k, place in _spread(wanted, rows, area, most)
            if not any(overlap(wanted[k].at(place), box) for box in taken)
        ]
        if len(found) > len(best):
            best = found
    return best


def _filled(wanted: Sequence[Wanted], order: Sequence[int], wide: float) -> list[Row]:
    """Rows of columns in reading order: what is low enough stands under the one before it, beside a higher one; so does
    what finds no room at the end of a row, where that makes the row little higher than another one would the sheet."""
    rows: list[Row] = []
    for k in order:
        row = rows[-1] if rows else []
        stacked = [*row[:-1], [*row[-1], k]] if len(row) > 1 else []
        beside = [*row, [k]]
        grown = _height(wanted, stacked) - _height(wanted, row) if stacked else np.inf
        stacks = bool(stacked) and _width(wanted, stacked) <= wide
        if stacks and grown <= 1e-6:
            rows[-1] = stacked
        elif row and _width(wanted, beside) <= wide:
            rows[-1] = beside
        elif stacks and grown <= LITTLE * _height(wanted, [[k]]):
            rows[-1] = stacked
        else:
            rows.append([[k]])
    return rows


def _spread(wanted: Sequence[Wanted], rows: list[Row], area: Box, most: float) -> Iterator[tuple[int, Place]]:
    """Places of rows, `most` mm apart beyond what they need: frames at the foot of a row's columns level, others of a
    column evenly above them, those of a column in line."""
    spare = area[3] - area[1] - _total(wanted, rows)
    gap, y = min(spare / (len(rows) + 1), most), area[3]
    for grid in _grids(wanted, rows, area[2] - area[0]):
        columns = [_column(wanted, [k for row in grid for k in row[n]]) for n in range(len(grid[0]))]
        aside = min((area[2] - area[0] - sum(wide for wide, _ in columns)) / (len(columns) + 1), most)
        for row in grid:
            high, rises = _height(wanted, row), _rises(wanted, row)
            foot, below = y - gap - high, _below(wanted, row, rises)
            x = area[0]
            for column, rise, (wide, along) in zip(row, rises, columns, strict=True):
                x += aside
                at = below + rise - wanted[column[-1]].room[1]
                free = high - at - sum(wanted[k].outer[1] for k in column)
                for k in reversed(column):
                    yield k, (round(x + along[k], 3), round(foot + at + wanted[k].room[1], 3))
                    at += wanted[k].outer[1] + (free / (len(column) - 1) if len(column) > 1 else 0.0)
                x += wide
            y -= gap + high


def _grids(wanted: Sequence[Wanted], rows: list[Row], wide: float) -> Iterator[list[Row]]:
    """Rows one under the other whose columns are in line with one another, together."""
    grid: list[Row] = []
    for row in rows:
        joined = [*grid, row]
        if grid and (
            len(row) != len(grid[0])
            or not all(_alike(wanted[a[-1]], wanted[b[-1]], "axis") for a, b in zip(grid[0], row, strict=True))
            or sum(_column(wanted, [k for r in joined for k in r[n]])[0] for n in range(len(row))) > wide
        ):
            yield grid
            joined = [row]
        grid = joined
    if grid:
        yield grid


def _alike(one: Wanted, other: Wanted, which: Literal["axis", "level"]) -> bool:
    a, b = (one.axis, other.axis) if which == "axis" else (one.level, other.level)
    return a is not None and b is not None and a[0] == b[0] and abs(one.scale - other.scale) < 1e-9


def _column(wanted: Sequence[Wanted], column: Column) -> tuple[float, dict[int, float]]:
    """How wide a column is, and how far from its left the frames of its drawings begin: in line where that does not
    make it much wider."""
    first = wanted[column[0]]
    widest = max(wanted[k].outer[0] for k in column)
    at = {k: o[1] for k in column if (o := wanted[k].axis) is not None and _alike(first, wanted[k], "axis")}
    line = max((at[k] + wanted[k].room[0] for k in at), default=0.0)
    along = {k: line - at[k] if k in at else wanted[k].room[0] for k in column}
    wide = max(along[k] + wanted[k].wide + wanted[k].room[2] for k in column)
    return (wide, along) if wide <= LARGER * widest else (widest, {k: wanted[k].room[0] for k in column})


def _rises(wanted: Sequence[Wanted], row: Row) -> list[float]:
    """How far above the lowest frame of a row the frames at the foot of its columns stand, so that they share their
    levels, where that does not make it much higher."""
    feet = [wanted[column[-1]] for column in row]
    first = next((one for one in feet if one.level is not None), None)
    at = [one.level[1] if one.level and first and _alike(first, one, "level") else None for one in feet]
    line = max((y for y in at if y is not None), default=0.0)
    rises = [0.0 if y is None else line - y for y in at]
    plain = [0.0] * len(row)
    return rises if _tall(wanted, row, rises) <= LARGER * _tall(wanted, row, plain) else plain


def _below(wanted: Sequence[Wanted], row: Row, rises: Sequence[float]) -> float:
    """How far above the foot of a row the lowest line of its frames is."""
    return max(wanted[column[-1]].room[1] - rise for column, rise in zip(row, rises, strict=True))


def _tall(wanted: Sequence[Wanted], row: Row, rises: Sequence[float]) -> float:
    below = _below(wanted, row, rises)
    return max(
        below + rise + sum(wanted[k].outer[1] for k in column) - wanted[column[-1]].room[1]
        for column, rise in zip(row, rises, strict=True)
    )


def _width(wanted: Sequence[Wanted], row: Row) -> float:
    return sum(_column(wanted, column)[0] for column in row)


def _height(wanted: Sequence[Wanted], row: Row) -> float:
    """Of a row whose lowest frames stand level."""
    return _tall(wanted, row, _rises(wanted, row))


def _total(wanted: Sequence[Wanted], rows: Sequence[Row]) -> float:
    return sum(_height(wanted, row) for row in rows)


def smallest_size(
    wanted: Sequence[Wanted], design: SheetDesign, like: SheetSize, in_a_row: bool = False
) -> SheetSize | None:
    """The smallest size of the same series as `like` on which all drawings find room at their scales, or (`in_a_row`)
    come to stand beside each other; None where there is none."""
    series = [s for s in SHEET_SIZES if s.rstrip("0123456789ABCDE") == like.rstrip("0123456789ABCDE")]
    for size in sorted(series, key=lambda s: SHEET_SIZES[s]):
        if design_problems(design, size):
            continue
        places = arranged(wanted, areas_of(design, size), design.taken(size))
        level = {round(p[1], 3) for p in places if p is not None}
        if None not in places and (len(level) == 1 or not in_a_row):
            return size
    return None


def empty_share(boxes: Sequence[Box], design: SheetDesign, size: SheetSize) -> float:
    """The share of a sheet's room for drawings that no drawing takes (boxes with all that stands around them)."""
    parts = shapely.union_all([shapely.box(*box) for box in design.taken(size)])
    room = shapely.difference(shapely.union_all([shapely.box(*area) for area in areas_of(design, size)]), parts)
    used = shapely.intersection(room, shapely.union_all([shapely.box(*box) for box in boxes]))
    return float(1.0 - used.area / max(room.area, 1e-9))


def beside_their_own(parents: Sequence[int | None]) -> list[int]:
    """The order in which drawings are laid out so that each stands after what it explains: `parents` are places in the
    list, None where what it was called out from is not in it."""
    children: dict[int | None, list[int]] = {}
    for k, parent in enumerate(parents):
        children.setdefault(parent if parent != k else None, []).append(k)
    ordered: list[int] = []

    def take(k: int) -> None:
        if k not in ordered:
            ordered.append(k)
            for child in children.get(k, []):
                take(child)

    for k in children.get(None, []):
        take(k)
    return [*ordered, *(k for k in range(len(parents)) if k not in ordered)]


def scale_that_fits(
    wanted: Sequence[Wanted], which: int, areas: Sequence[Box], taken: Sequence[Box] = ()
) -> float | None:
    """The largest scale of the usual ones, smaller than its own, at which a drawing finds room beside the others that
    do; None where there is none."""
    for scale in (s for s in METRIC if s > wanted[which].scale):
        tried = [w.at_scale(scale) if k == which else w for k, w in enumerate(wanted)]
        if arranged(tried, areas, taken)[which] is not None:
            return scale
    return None


def larger_scale(wanted: Sequence[Wanted], areas: Sequence[Box], taken: Sequence[Box] = ()) -> float | None:
    """The largest of the usual scales at which all drawings of a sheet, which have one scale, still find room; None
    where they are at it."""
    for scale in (s for s in METRIC if s < min(w.scale for w in wanted) - 1e-9):
        tried = [w.at_scale(scale) for w in wanted]
        if all(p is not None for p in arranged(tried, areas, taken)):
            return scale
    return None


def largest_scale(wanted: Sequence[Wanted], areas: Sequence[Box], taken: Sequence[Box] = ()) -> float | None:
    """The largest of the usual scales at which all drawings of a sheet find room; None where there is none."""
    for scale in METRIC:
        if all(p is not None for p in arranged([w.at_scale(scale) for w in wanted], areas, taken)):
            return scale
    return None


def reading_order(boxes: Sequence[Box]) -> list[int]:
    """Indices of boxes by rows from the top, in a row from the left: a row is what overlaps in height with its highest
    one by half or more."""
    left = sorted(range(len(boxes)), key=lambda k: -boxes[k][3])
    found: list[int] = []
    while left:
        first = boxes[left[0]]
        row = [
            k
            for k in left
            if min(first[3], boxes[k][3]) - max(first[1], boxes[k][1])
            >= 0.5 * min(first[3] - first[1], boxes[k][3] - boxes[k][1])
        ]
        found += sorted(row, key=lambda k: boxes[k][0])
        left = [k for k in left if k not in row]
    return found


def _steps(start: float, end: float, step: float) -> Iterator[float]:
    """Places from a start to an end, the end included only by chance."""
    at = start
    while (at <= end + 1e-9) if step > 0 else (at >= end - 1e-9):
        yield at
        at += step
