"""What two parts both hold: found by what their bodies take of the same room, drawn once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model, Twice
from edge_slice.core.model.parts.disciplines import leading
from edge_slice.core.model.parts.openings import other_holes

F64 = NDArray[np.float64]
COVERED = 0.6  # of a body, which others must take up of it, so that both hold the same
PIERCED = ("wall", "slab", "roof")  # kinds of which openings are compared
STEP = 0.1  # metres between the places at which outlines are compared
TOLERANCE = 0.005  # metres by which bodies that are the same may differ
_ALIKE = {"member": "beam", "plate": "slab", "roof": "slab"}
_NEVER = ("ground", "planting", "person", "vehicle")


@dataclass
class _Piece:
    """An element with its room: outline on plan and from where to where it reaches."""

    part: int
    element: int
    outline: shapely.Geometry
    low: float
    high: float
    leads: bool
    by: list[tuple[float, _Piece]] = field(default_factory=list)

    @property
    def room(self) -> float:
        return float(self.outline.area) * (self.high - self.low)


@dataclass(frozen=True)
class Once:
    """Of each part the elements that are drawn by another one, and what was found."""

    left_out: tuple[frozenset[int], ...]
    twice: tuple[Twice, ...]


def held_twice(models: Sequence[Model], disciplines: Sequence[str]) -> Once:
    """What of parts, as they lie in one building, another part holds as well. Of each kind one discipline leads; an
    element of another part that is taken up to `COVERED` by elements of that kind is not drawn."""
    left: list[set[int]] = [set() for _ in models]
    found: list[Twice] = []
    kinds = sorted({_alike(e.kind) for m in models for e in m.elements} - set(_NEVER))
    for kind in kinds:
        holders = [k for k, m in enumerate(models) if any(_alike(e.kind) == kind for e in m.elements)]
        if len(holders) < 2:
            continue
        first = holders[leading(kind, [disciplines[k] for k in holders])]
        near = _near_others([(k, models[k], _of_kind(models[k], kind)) for k in holders])
        pieces = [piece for k in holders for piece in _pieces(models[k], k, near[k], k == first)]
        found += _covered(models, pieces, left)
    return Once(tuple(frozenset(one) for one in left), tuple(found))


def _alike(kind: str) -> str:
    """What kinds count as: that which two programs name differently is the same."""
    return _ALIKE.get(kind, kind)


def _of_kind(model: Model, kind: str) -> list[int]:
    """Elements of a kind that have a height."""
    tall = model.boxes[:, 1, 2] - model.boxes[:, 0, 2]
    return [k for k, e in enumerate(model.elements) if _alike(e.kind) == kind and np.isfinite(tall[k]) and tall[k] > 0]


def _near_others(holders: Sequence[tuple[int, Model, list[int]]]) -> dict[int, list[int]]:
    """Of the elements of each part those whose boxes touch one of another part: no other is held twice."""
    part = np.repeat([k for k, _, _ in holders], [len(of) for _, _, of in holders])
    element = np.array([e for _, _, of in holders for e in of], dtype=np.int64)
    boxes = np.concatenate([model.boxes[of] for _, model, of in holders])
    flat = shapely.box(boxes[:, 0, 0], boxes[:, 0, 1], boxes[:, 1, 0], boxes[:, 1, 1])
    a, b = shapely.STRtree(flat).query(flat)
    near = np.zeros(len(element), dtype=bool)
    as_high = np.minimum(boxes[a, 1, 2], boxes[b, 1, 2]) > np.maximum(boxes[a, 0, 2], boxes[b, 0, 2])
    near[a[(part[a] != part[b]) & as_high]] = True
    return {k: element[near & (part == k)].tolist() for k, _, _ in holders}


def _pieces(model: Model, part: int, elements: Sequence[int], leads: bool) -> list[_Piece]:
    found = []
    for k in elements:
        outline = model.footprint(k)
        if outline.area > 0:
            low, high = model.boxes[k, :, 2].tolist()
            found.append(_Piece(part, k, outline, low, high, leads))
    return found


def _covered(models: Sequence[Model], pieces: list[_Piece], left: list[set[int]]) -> list[Twice]:
    """The pieces that leading ones take up. Of parts that don't lead, the one that comes first leads the others."""
    if not pieces:
        return []
    order = sorted(pieces, key=lambda p: (not p.leads, p.part, p.element))
    tree = shapely.STRtree([p.outline for p in order])
    a, b = tree.query([p.outline for p in order], predicate="intersects")
    for i, j in sorted(zip(a.tolist(), b.tolist(), strict=True)):
        one, other = order[i], order[j]
        if j < i and one.part != other.part:
            high, low = min(one.high, other.high), max(one.low, other.low)
            if high > low:
                one.by.append((float(one.outline.intersection(other.outline).area) * (high - low), other))
    found = []
    for piece in order:
        by = [(shared, other) for shared, other in piece.by if other.element not in left[other.part] and shared > 0]
        if not by or sum(shared for shared, _ in by) < COVERED * piece.room:
            continue
        left[piece.part].add(piece.element)
        main = max(by, key=lambda pair: (pair[0], -pair[1].element))[1]
        element = models[piece.part].elements[piece.element]
        drawn = models[main.part].elements[main.element].guid
        beyond = _beyond(piece, [p for _, p in by])
        holes, at = 0.0, None
        if element.kind in PIERCED:
            those = [(models[p.part], p.element) for _, p in by]
            holes, at = other_holes((models[piece.part], piece.element), those)
        found.append(Twice(drawn, element.guid, element.name, piece.part, *beyond, holes, at))
    return found


def _beyond(piece: _Piece, by: list[_Piece]) -> tuple[float, float]:
    """How far a piece goes beyond those that are drawn for it, metres: on plan, in height; 0 within the tolerance."""
    drawn = shapely.union_all([p.outline for p in by])
    # not at corners alone: those of a wall lie in the walls that it meets
    beyond = shapely.segmentize(piece.outline.difference(drawn), STEP)
    spots = shapely.points(shapely.get_coordinates(beyond))
    aside = float(shapely.distance(spots, drawn).max()) if len(spots) else 0.0
    over = max(min(p.low for p in by) - piece.low, piece.high - max(p.high for p in by), 0.0)
    return tuple(round(d, 4) if d > TOLERANCE else 0.0 for d in (aside, over))  # type: ignore[return-value]
