"""Where drawings find room on a sheet: the first free place, or all of them in rows, in reading order."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import METRIC
from edge_slice.core.sheet.design import SheetDesign, overlap
from edge_slice.core.sheet.sizes import SheetSize

Place = tuple[float, float]
STEP = 10.0  # mm between the places that are tried
TITLE_ROOM = 16.0  # mm that a title takes below what hangs below its drawing
HEADS = 18.0  # mm that heads of markers and bubbles of the grid take
USUAL_ROOM: Box = (15.0, HEADS + TITLE_ROOM, 40.0, 15.0)  # mm around a frame: what levels, heads and titles take
MOST_SPREAD = 40.0  # mm by which rows and drawings are spread beyond what they need


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


def _rows(wanted: Sequence[Wanted], area: Box, taken: Sequence[Box]) -> list[tuple[int, Place]]:
    """Rows from the top of an area, as far as they fit; what is left between them is spread evenly."""
    rows: list[list[int]] = []
    wide, high = area[2] - area[0], area[3] - area[1]
    row: list[int] = []
    for k, one in enumerate(wanted):
        if one.outer[0] > wide:
            continue
        if row and sum(wanted[n].outer[0] for n in row) + one.outer[0] > wide:
            rows.append(row)
            row = []
        row.append(k)
    rows += [row] if row else []
    while rows and sum(_height(wanted, r) for r in rows) > high + 1e-6:
        rows.pop()
    spare = high - sum(_height(wanted, r) for r in rows)
    gap = min(spare / (len(rows) + 1), MOST_SPREAD) if rows else 0.0
    found = []
    y = area[3]
    for r in rows:
        base = y - gap - _height(wanted, r) + max(wanted[k].room[1] for k in r)
        spread = min((wide - sum(wanted[k].outer[0] for k in r)) / (len(r) + 1), MOST_SPREAD)
        x = area[0]
        for k in r:
            place = (round(x + spread + wanted[k].room[0], 3), round(base, 3))
            if not any(overlap(wanted[k].at(place), box) for box in taken):
                found.append((k, place))
            x += spread + wanted[k].outer[0]
        y -= gap + _height(wanted, r)
    return found


def _height(wanted: Sequence[Wanted], row: list[int]) -> float:
    """Of a row whose frames stand level at their bases."""
    below = max(wanted[k].room[1] for k in row)
    return below + max(wanted[k].high + wanted[k].room[3] for k in row)


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
