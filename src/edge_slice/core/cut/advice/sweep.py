"""Where one more section would explain most: a plane swept through the building in both directions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.cut.advice.uncut import met_by
from edge_slice.core.cut.placing.explaining import Explaining, line_at, names_of
from edge_slice.core.cut.spec import SectionCut
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
STEP = 0.25  # metres between places that are tried
MOST = 240  # places in one direction
ALONG = 0.999  # cosine of the angle within which a section stands in a direction of the sweep


@dataclass(frozen=True)
class Sweep:
    """Sections along an axis of the model (0: x, 1: y). `places` (n,): where they would stand across it, metres;
    `explains` (n,): what a section there would go through that none does yet, 1 for the most of both directions;
    `changes` (n,): how much of what is cut is other than one place before, 0 to 1; `standing`: where sections of this
    direction stand. `best`: the place where one explains most, with its line and what it goes through; None where none
    would explain anything new."""

    axis: int
    places: F64
    explains: F64
    changes: F64
    standing: tuple[float, ...]
    best: float | None
    line: tuple[tuple[float, float], ...]
    through: tuple[str, ...]


def sweeps(model: Model, sections: Sequence[SectionCut]) -> tuple[Sweep, Sweep]:
    """Along x and along y. `sections`: those that the building has. Raises `ImpossibleCut`."""
    known = met_by(model, sections)
    found = [_swept(model, axis, sections, known) for axis in (0, 1)]
    most = max(float(s.explains.max(initial=0.0)) for s in found)
    first, second = (replace(s, explains=s.explains / (most or 1.0)) for s in found)
    return first, second


def _swept(model: Model, axis: int, sections: Sequence[SectionCut], known: set[str]) -> Sweep:
    across = 1 - axis
    low, high = (float(b[across]) for b in model.bounds)
    places = np.linspace(low, high, min(max(int((high - low) / STEP), 2), MOST) + 1)
    explaining = Explaining(model, axis, known)
    gains = np.array([max(explaining.gain(p), 0.0) for p in places.tolist()])
    inside = [p for p in explaining.places if explaining.gain(p) > 0]
    best = max(inside, key=explaining.worth, default=None)
    through = tuple(names_of(explaining.met(best))) if best is not None else ()
    if not through:
        best = None
    line = tuple(line_at(model, axis, best)) if best is not None else ()
    return Sweep(axis, places, gains, _changes(model, across, places), _standing(sections, axis), best, line, through)


def _changes(model: Model, across: int, places: F64) -> F64:
    """By the boxes of what stands: how much of what is cut at a place, or one before, is cut at one of both alone."""
    boxes = model.boxes[model.standing]
    boxes = boxes[np.isfinite(boxes[:, 0, 0])]
    size = boxes[:, 1] - boxes[:, 0]
    area = size[:, 1 - across] * size[:, 2]
    cut = (boxes[:, 0, across] <= places[:, None]) & (boxes[:, 1, across] >= places[:, None])
    both = (cut[1:] & cut[:-1]) @ area
    either = (cut[1:] | cut[:-1]) @ area
    found: F64 = np.r_[0.0, 1.0 - np.divide(both, either, out=np.ones_like(both), where=either > 0)]
    return found


def _standing(sections: Sequence[SectionCut], axis: int) -> tuple[float, ...]:
    """Where the legs of sections stand that run along an axis, metres."""
    found = set()
    for cut in sections:
        points = np.array(cut.line)
        for a, b in pairwise(points):
            way = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
            if abs(way[axis]) > ALONG:
                found.add(round(float((a + b)[1 - axis]) / 2, 3))
    return tuple(sorted(found))
