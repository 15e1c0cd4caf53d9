"""What straight sections of a building explain, by where they stand."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.placing.report import ROOM, things
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
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


@dataclass(frozen=True)
class Target:
    """Something that a section may explain: what it is worth, and from where to where it lies across the section."""

    guid: str
    kind: str
    name: str
    first: float
    last: float
    worth: float

    def explained(self, at: float) -> bool:
        return abs(at - (self.first + self.last) / 2) <= max((self.last - self.first) * MIDDLE / 2, LEAST_MIDDLE)


class Explaining:
    """Sections along an axis of the model (0: x, 1: y). `known`: things (GlobalIds) that are explained already."""

    def __init__(self, model: Model, axis: int, known: Collection[str] = ()) -> None:
        across = 1 - axis
        low, high = (b[:2] for b in model.bounds)
        self._middle = float(low[across] + high[across]) / 2
        self.targets = [t for t in _targets(model, across) if t.guid not in known]
        walls = np.array([model.footprint(k).bounds for k, e in enumerate(model.elements) if e.kind == "wall"])
        walls = walls.reshape(-1, 4)
        self._walls = walls[walls[:, axis + 2] - walls[:, axis] > RUNS_ALONG][:, [across, across + 2]]
        places = {round((t.first + t.last) / 2, 2) for t in self.targets} | {self._middle}
        self.places = sorted(p for p in places if low[across] < p < high[across])

    def met(self, at: float) -> list[Target]:
        """What a section at a place goes through the middle of."""
        return [t for t in self.targets if t.explained(at)]

    def worth(self, at: float) -> float:
        """What a section at a place is worth; of equals, the one nearer to the middle is worth more."""
        return self.gain(at) - abs(at - self._middle) * 0.01

    def gain(self, at: float) -> float:
        """What is explained at a place, less for walls along which a section would run."""
        met = self.met(at)
        stairs = max((t.worth for t in met if t.kind == "stair"), default=0.0)  # a flight in pieces counts once
        in_walls = int(((self._walls[:, 0] < at) & (self._walls[:, 1] > at)).sum())
        return stairs + sum(t.worth for t in met if t.kind != "stair") - IN_WALL * in_walls


def line_at(model: Model, axis: int, at: float) -> list[tuple[float, float]]:
    """The line along an axis through all of the building, metres."""
    low, high = model.bounds
    ends = (float(low[axis]) - BEYOND, float(high[axis]) + BEYOND)
    line = [(end, at) if axis == 0 else (at, end) for end in ends]
    return [(round(x, 3), round(y, 3)) for x, y in line]


def names_of(met: list[Target]) -> list[str]:
    """The names of what is worth being explained, the most first."""
    named: list[str] = []
    for target in sorted((t for t in met if t.worth > 0), key=lambda t: -t.worth):
        several = target.kind == "stair" and sum(t.kind == "stair" and t.name in named for t in met) >= MOST_STAIRS
        if target.name not in named and not several:
            named.append(target.name)
    return named[:NAMED]


def _targets(model: Model, across: int) -> list[Target]:
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
        found.append(Target(guid, kind, said, float(bounds[across]), float(bounds[across + 2]), worth))
    return found


def _outer_doors(model: Model) -> set[str]:
    """Doors (GlobalId) at the outside of the building: near the walls' outermost places."""
    walls = np.array([model.footprint(k).bounds for k, e in enumerate(model.elements) if e.kind == "wall"])
    if not len(walls):
        return set()
    low, high = walls[:, :2].min(axis=0) + NEAR_OUTSIDE, walls[:, 2:].max(axis=0) - NEAR_OUTSIDE
    boxes = model.boxes
    outside = (boxes[:, 0, :2] < low).any(axis=1) | (boxes[:, 1, :2] > high).any(axis=1)
    return {e.guid for e, out in zip(model.elements, outside, strict=True) if e.kind == "door" and out}
