"""What becomes of the drawings on a sheet that changes its size or its design."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from edge_slice.core.drawing.display import Box
from edge_slice.core.sheet.arranging import Place, Wanted, arranged, reading_order
from edge_slice.core.sheet.design import SheetDesign, overlap
from edge_slice.core.sheet.sizes import SheetSize

SHARES = (0.0, 1.0, 0.5)  # of the free room, that are tried where the own share is taken


@dataclass(frozen=True)
class Standing:
    """A drawing on a sheet: where the lower left corner of its frame stands, and what room it takes."""

    place: Place
    wanted: Wanted

    @property
    def box(self) -> Box:
        return self.wanted.at(self.place)


def resettled(
    standing: Sequence[Standing], before: tuple[SheetDesign, SheetSize], after: tuple[SheetDesign, SheetSize]
) -> list[Place]:
    """Where drawings stand afterwards: those of one area together as they were, in the same share of what is free in
    it; where they do not fit so, arranged anew; what finds no room at all as far within its area as it goes."""
    old, new, taken = _areas(*before), _areas(*after), after[0].taken(after[1])
    found: dict[int, Place] = {}
    groups: dict[str, list[int]] = {}
    for k, one in enumerate(standing):
        groups.setdefault(max(old, key=lambda name: _shared(one.box, old[name])), []).append(k)
    full = list(taken)
    for name, members in groups.items():
        area = new.get(name) or next(iter(new.values()))
        group = [standing[k] for k in members]
        places = _together(group, old[name], area, full) or _anew(group, area, full)
        for k, place in zip(members, places, strict=True):
            found[k] = place
            full.append(standing[k].wanted.at(place))
    return [found[k] for k in range(len(standing))]


def _areas(design: SheetDesign, size: SheetSize) -> dict[str, Box]:
    return design.area_boxes(size) or {"": design.frame(size)}


def _together(group: Sequence[Standing], old: Box, new: Box, taken: Sequence[Box]) -> list[Place] | None:
    """The group moved as one, so that what was level or in line stays so; None where it has no room."""
    boxes = [one.box for one in group]
    left, base = min(b[0] for b in boxes), min(b[1] for b in boxes)
    wide, high = max(b[2] for b in boxes) - left, max(b[3] for b in boxes) - base
    free = new[2] - new[0] - wide, new[3] - new[1] - high
    if min(free) < -1e-6:
        return None
    own = _share(left - old[0], old[2] - old[0] - wide), _share(base - old[1], old[3] - old[1] - high)
    for across in (own[0], *SHARES):
        for up in (own[1], *SHARES):
            dx, dy = new[0] + across * free[0] - left, new[1] + up * free[1] - base
            moved = [(b[0] + dx, b[1] + dy, b[2] + dx, b[3] + dy) for b in boxes]
            if not any(overlap(box, other) for box in moved for other in taken):
                return [(round(one.place[0] + dx, 3), round(one.place[1] + dy, 3)) for one in group]
    return None


def _share(at: float, free: float) -> float:
    return min(max(at / free, 0.0), 1.0) if free > 1e-6 else 0.5


def _anew(group: Sequence[Standing], area: Box, taken: Sequence[Box]) -> list[Place]:
    order = reading_order([one.box for one in group])
    places = dict(zip(order, arranged([group[k].wanted for k in order], [area], taken), strict=True))
    return [places[k] or _held_in(one.wanted, area) for k, one in enumerate(group)]


def _held_in(wanted: Wanted, area: Box) -> Place:
    """As much of a drawing within an area as can be, from its lower left corner on."""
    left, base, right, _ = wanted.room
    x = min(area[0] + left, area[2] - right - wanted.wide)
    return round(max(x, area[0]), 3), round(area[1] + base, 3)


def _shared(a: Box, b: Box) -> float:
    wide, high = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
    return max(wide, 0.0) * max(high, 0.0)
