"""A starter set: the drawings that every job begins with, placed where they explain most, each with its reason."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from edge_slice.core.cut.placing.report import ROOM, things
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.cut.planes.sets import elevations_of, facing_of, plans_of, wind
from edge_slice.core.cut.spec import AnyCut, SectionCut
from edge_slice.core.model import Model

BEYOND = 1.5  # metres that a section's line runs on beyond the building
WORTH = {"stair": 5.0, "door": 1.0, "window": 0.4, "column": -0.6, ROOM: 0.3}  # of being passed through the middle
TALLEST = 3.0  # of passing through the tallest space
ENTRANCE = 2.0  # of passing through a door to the outside
IN_WALL = 4.0  # lost for each wall that the line runs along
RUNS_ALONG = 2.0  # metres
MIDDLE = 1 / 3  # share of a thing, in its middle, through which a section explains it
LEAST_MIDDLE = 0.05  # metres to either side of it
FULL_RISE = 1.5  # metres; a flight of steps that rises less is worth less
NEAR_OUTSIDE = 0.5  # metres from the outermost wall
NAMED, MOST_STAIRS = 4, 2  # things, and flights among them, that a reason names
SCALES = (50.0, 100.0, 200.0, 500.0)
SHEET = (700.0, 480.0)  # mm; what one of these drawings may take of an A1 sheet


@dataclass(frozen=True)
class Proposed:
    """A drawing to begin with: `key` tells it from the others, `name` is empty where the automatic one says enough."""

    key: str
    name: str
    cut: AnyCut
    scale: float
    why: str


def starter_set(model: Model, reach: tuple[float, float], without: tuple[str, ...] = ()) -> tuple[Proposed, ...]:
    """Plans of all storeys, four elevations, a long and a cross section. `reach` as for `plans_of`."""
    found: list[Proposed] = []
    for plan in plans_of(model, reach, without=without) if model.storeys else ():
        found.append(Proposed(f"plan {plan.storey}", "", plan, _scale(model, plan), "1.2 m above its floor"))
    for elevation in elevations_of(model, without):
        side = wind(facing_of(model, elevation))
        why = f"the {side} side, from clear of the building"
        found.append(Proposed(f"elevation {side}", "", elevation, _scale(model, elevation), why))
    low, high = model.bounds
    long_axis = 0 if high[0] - low[0] >= high[1] - low[1] else 1
    for name, axis in (("Long section", long_axis), ("Cross section", 1 - long_axis)):
        cut, why = _best_section(model, axis, without)
        found.append(Proposed(name.lower(), name, cut, _scale(model, cut), why))
    return tuple(found)


def _scale(model: Model, cut: AnyCut) -> float:
    """The largest usual scale at which a drawing leaves room on an A1 sheet."""
    left, base, right, top = whole_window(leaves_of(model, cut))
    fits = (s for s in SCALES if (right - left) / s <= SHEET[0] and (top - base) / s <= SHEET[1])
    return next(fits, SCALES[-1])


@dataclass(frozen=True)
class _Target:
    """Something that a section may explain: what it is worth, and from where to where it lies across the section."""

    kind: str
    name: str
    first: float
    last: float
    worth: float

    def explained(self, at: float) -> bool:
        return abs(at - (self.first + self.last) / 2) <= max((self.last - self.first) * MIDDLE / 2, LEAST_MIDDLE)


def _best_section(model: Model, axis: int, without: tuple[str, ...]) -> tuple[SectionCut, str]:
    """The section along an axis of the model (0: x, 1: y) that passes through most of what explains the building."""
    across = 1 - axis
    low, high = (b[:2] for b in model.bounds)
    middle = float(low[across] + high[across]) / 2
    targets = _targets(model, across)
    walls = np.array([model.footprint(k).bounds for k, e in enumerate(model.elements) if e.kind == "wall"])
    walls = walls.reshape(-1, 4)
    long = walls[walls[:, axis + 2] - walls[:, axis] > RUNS_ALONG]

    def worth(at: float) -> float:
        met = [t for t in targets if t.explained(at)]
        stairs = max((t.worth for t in met if t.kind == "stair"), default=0.0)  # a flight in pieces counts once
        in_walls = int(((long[:, across] < at) & (long[:, across + 2] > at)).sum())
        away = abs(at - middle) * 0.01  # of equals, the one nearer to the middle
        return stairs + sum(t.worth for t in met if t.kind != "stair") - IN_WALL * in_walls - away

    places = {round((t.first + t.last) / 2, 2) for t in targets} | {middle}
    best = max(sorted(p for p in places if low[across] < p < high[across]), key=worth)
    ends = (float(low[axis]) - BEYOND, float(high[axis]) + BEYOND)
    line = [(end, best) if axis == 0 else (best, end) for end in ends]
    cut = SectionCut.model_validate(
        {"line": [(round(x, 3), round(y, 3)) for x, y in line], "look": "left", "without": without,
         "depth": round(float(high[across] - low[across]) / 2, 1)}
    )  # fmt: skip
    return cut, _reason([t for t in targets if t.explained(best)])


def _targets(model: Model, across: int) -> list[_Target]:
    tallest = max((s.ceiling - s.floor for s in model.spaces), default=math.inf)
    outer = _outer_doors(model)
    found = []
    for guid, kind, name, outline, base, top in things(model):
        worth, said = WORTH.get(kind, 0.0), name or kind
        if kind == "stair":
            worth *= min(1.0, (top - base) / FULL_RISE)
        elif kind == ROOM and top - base >= tallest:
            worth, said = worth + TALLEST, f"{said} (tallest space)"
        elif guid in outer:
            worth, said = worth + ENTRANCE, f"{said} (way in)"
        bounds = outline.bounds
        found.append(_Target(kind, said, float(bounds[across]), float(bounds[across + 2]), worth))
    return found


def _reason(met: list[_Target]) -> str:
    named: list[str] = []
    for target in sorted((t for t in met if t.worth > 0), key=lambda t: -t.worth):
        several = target.kind == "stair" and sum(t.kind == "stair" and t.name in named for t in met) >= MOST_STAIRS
        if target.name not in named and not several:
            named.append(target.name)
    return f"through {', '.join(named[:NAMED])}" if named else "through the middle of the building"


def _outer_doors(model: Model) -> set[str]:
    """Doors (GlobalId) at the outside of the building: near the walls' outermost places."""
    walls = np.array([model.footprint(k).bounds for k, e in enumerate(model.elements) if e.kind == "wall"])
    if not len(walls):
        return set()
    low, high = walls[:, :2].min(axis=0) + NEAR_OUTSIDE, walls[:, 2:].max(axis=0) - NEAR_OUTSIDE
    boxes = model.boxes
    outside = (boxes[:, 0, :2] < low).any(axis=1) | (boxes[:, 1, :2] > high).any(axis=1)
    return {e.guid for e, out in zip(model.elements, outside, strict=True) if e.kind == "door" and out}
