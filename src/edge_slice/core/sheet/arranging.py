"""Where drawings find room on a sheet: the first free place, or all of them in rows, in reading order."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import METRIC
from edge_slice.core.sheet.design import SheetDesign, design_problems, overlap
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

Place = tuple[float, float]
STEP = 10.0  # mm between the places that are tried
TITLE_ROOM = 16.0  # mm that a title takes below what hangs below its drawing
HEADS = 18.0  # mm that heads of markers and bubbles of the grid take
USUAL_ROOM: Box = (15.0, HEADS + TITLE_ROOM, 40.0, 15.0)  # mm around a frame: what levels, heads and titles take
SPREADS = (1e6, 80.0, 40.0, 10.0, 0.0)  # mm by which rows and drawings are spread at most beyond what they need
WIDTHS_TRIED = 16  # of rows, from all of an area's down to an even share


@dataclass(frozen=True)
class Wanted:
    """A drawing that looks for a place: width and height of its frame on paper, and how far what stands at its edges
    goes beyond them (left, base, right, top), mm; its scale."""

    wide: float
    high: float
    room: Box = USUAL_ROOM
    scale: float = 0.0

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
        return replace(self, wide=self.wide * self.scale / scale, high=self.high * self.scale / scale, scale=scale)


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
    """Places of drawings in reading order: in rows from the upper left of the first area on, the frames of a row level
    at their bases; None for one that finds no room. `taken`: where none may stand."""
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
    """Rows from the top of an area, as far as they fit, as evenly filled as they can be. What is left between them is
    spread evenly, over all of the area where nothing stands in the way, else less far."""
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
    """Rows of columns in reading order: what is low enough stands under the one before it, beside a higher one."""
    rows: list[Row] = []
    for k in order:
        row = rows[-1] if rows else []
        stacked = [*row[:-1], [*row[-1], k]] if len(row) > 1 else []
        beside = [*row, [k]]
        if stacked and _width(wanted, stacked) <= wide and _height(wanted, stacked) <= _height(wanted, row) + 1e-6:
            rows[-1] = stacked
        elif row and _width(wanted, beside) <= wide:
            rows[-1] = beside
        else:
            rows.append([[k]])
    return rows


def _spread(wanted: Sequence[Wanted], rows: list[Row], area: Box, most: float) -> Iterator[tuple[int, Place]]:
    """Places of rows, `most` mm apart beyond what they need: frames at the foot of a row's columns level at their
    bases, others of a column evenly above them."""
    spare = area[3] - area[1] - _total(wanted, rows)
    gap, y = min(spare / (len(rows) + 1), most), area[3]
    for row in rows:
        high, below = _height(wanted, row), max(wanted[column[-1]].room[1] for column in row)
        foot, aside = y - gap - high, min((area[2] - area[0] - _width(wanted, row)) / (len(row) + 1), most)
        x = area[0]
        for column in row:
            x += aside
            free = high - below + wanted[column[-1]].room[1] - sum(wanted[k].outer[1] for k in column)
            at = foot + below - wanted[column[-1]].room[1]
            for k in reversed(column):
                yield k, (round(x + wanted[k].room[0], 3), round(at + wanted[k].room[1], 3))
                at += wanted[k].outer[1] + (free / (len(column) - 1) if len(column) > 1 else 0.0)
            x += max(wanted[k].outer[0] for k in column)
        y -= gap + high


def _width(wanted: Sequence[Wanted], row: Row) -> float:
    return sum(max(wanted[k].outer[0] for k in column) for column in row)


def _height(wanted: Sequence[Wanted], row: Row) -> float:
    """Of a row whose lowest frames stand level at their bases."""
    below = max(wanted[column[-1]].room[1] for column in row)
    return below + max(sum(wanted[k].outer[1] for k in column) - wanted[column[-1]].room[1] for column in row)


def _total(wanted: Sequence[Wanted], rows: Sequence[Row]) -> float:
    return sum(_height(wanted, row) for row in rows)


def smallest_size(wanted: Sequence[Wanted], design: SheetDesign, like: SheetSize) -> SheetSize | None:
    """The smallest size of the same series as `like` on which all drawings find room at their scales; None where there
    is none."""
    series = [s for s in SHEET_SIZES if s.rstrip("0123456789ABCDE") == like.rstrip("0123456789ABCDE")]
    for size in sorted(series, key=lambda s: SHEET_SIZES[s]):
        if design_problems(design, size):
            continue
        if all(p is not None for p in arranged(wanted, areas_of(design, size), design.taken(size))):
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
