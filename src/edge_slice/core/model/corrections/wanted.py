"""What is to be changed of a model, and what is told of each correction."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Model
from edge_slice.core.model.corrections.documents import BuildUpCorrection, Correction, OtherMaterial
from edge_slice.core.model.corrections.new_documents import NewThing
from edge_slice.core.model.corrections.sides import Body
from edge_slice.core.model.flights import Steps

F64 = NDArray[np.float64]
GONE = "It is not in the model any more."
LEAKS = "Its body is not closed."
OF_GROUND = "The ground is put right where grounds are said."
SAME = 1e-6  # metres; thicknesses nearer to each other are one
Sides = tuple[float, float, float, float]  # left, right, sill, head


@dataclass(frozen=True)
class Corrected:
    """What became of a correction: how many elements have it now, how many have it in their file already, of how many
    their file has since changed what it is a correction of, and of those that can't have it why not, with how many
    there are of each. `found`: the elements (by number) that it is of."""

    of: Correction
    elements: int
    already: int
    changed: int
    refused: tuple[tuple[str, int], ...]
    found: tuple[int, ...]

    @property
    def lost(self) -> bool:
        """Whether the model has nothing any more that it is a correction of."""
        return not self.elements and not self.already and not [why for why, _ in self.refused if why != GONE]


@dataclass(frozen=True)
class Motion:
    """How an element comes to where it shall stand: turned (3, 3) and moved by (3,) metres."""

    turn: F64
    shift: F64


@dataclass(frozen=True)
class Copy:
    """An element (by number) once more, moved by (3,) metres, under a GlobalId of its own."""

    of: int
    by: F64
    guid: str


@dataclass(frozen=True)
class Stretch:
    """An opening of which the sides move: to the right, up, and the way one looks through it (unit vectors (3, 3), a
    row each), where its left and right side, its sill and its head lie along these, by how much they move, and from
    where to where the window in it reaches along the way one looks, metres."""

    axes: F64
    sides: Sides
    by: Sides
    deep: tuple[float, float]

    def applied(self, points: F64) -> F64:
        """Points (n, 3) as they move: those of the left third of the opening with its left side, those of the right
        third with its right side, those between them by a share of both; and so upwards."""
        at, found = points @ self.axes.T, points.copy()
        (left, right, sill, head), by = self.sides, self.by
        for axis, low, high, least, most in ((0, left, right, by[0], by[1]), (1, sill, head, by[2], by[3])):
            third = (high - low) / 3
            far = np.interp(at[:, axis], [low + third, high - third], [least, most])
            found += np.where(np.abs(far) < SAME, 0.0, far)[:, None] * self.axes[axis]
        return found

    def around(self, points: F64) -> bool:
        """Whether the middle of points (n, 3) lies in it, as one looks through it."""
        left, right, sill, head = self.sides
        x, y, _ = (((points.min(axis=0) + points.max(axis=0)) / 2) @ self.axes.T).tolist()
        return bool(left < x < right and sill < y < head)


@dataclass(frozen=True)
class Hole:
    """An opening that is cut into an element (by number) for the window or door of a GlobalId: the directions (3, 3) to
    the right, up, and the way one looks through it, its sides along the first two, and from where to where it goes
    along the third, metres."""

    into: int
    guid: str
    axes: F64
    sides: Sides
    deep: tuple[float, float]


@dataclass
class Wanted:
    """What is to be changed of which elements, by their number: of `bodies` the corners are as they shall be, in the
    order of `Body.of`. `openings`: those that come of other sides of a window's or door's. `copies` and `new`: what
    comes beside them. `rebuilt`: bodies that have other corners, where they are in the end; for `flights` of steps, and
    for `holes`. `materials` are others in all that follows."""

    layers: dict[int, BuildUpCorrection] = field(default_factory=dict)
    bodies: dict[int, Body] = field(default_factory=dict)
    openings: dict[int, Stretch] = field(default_factory=dict)
    moved: dict[int, Motion] = field(default_factory=dict)
    left_out: set[int] = field(default_factory=set)
    copies: list[Copy] = field(default_factory=list)
    new: list[tuple[NewThing, Body]] = field(default_factory=list)
    rebuilt: dict[int, Body] = field(default_factory=dict)
    flights: dict[int, Steps] = field(default_factory=dict)
    holes: list[Hole] = field(default_factory=list)
    materials: list[tuple[int, OtherMaterial]] = field(default_factory=list)

    def __bool__(self) -> bool:
        changed = self.layers or self.bodies or self.moved or self.left_out or self.rebuilt or self.materials
        return bool(changed or self.copies or self.new)

    def body(self, model: Model, k: int) -> Body:
        """The body of an element as it shall be, as far as that is known."""
        return self.bodies[k] if k in self.bodies else Body.of(model, k)


@dataclass
class Told:
    """Of one correction, as it is found out."""

    elements: int = 0
    already: int = 0
    changed: int = 0
    refused: list[str] = field(default_factory=list)
    found: list[int] = field(default_factory=list)

    def of(self, one: Correction) -> Corrected:
        reasons = tuple((why, self.refused.count(why)) for why in dict.fromkeys(self.refused))
        return Corrected(one, self.elements, self.already, self.changed, reasons, tuple(self.found))

    def known(self, model: Model, guid: str) -> int | None:
        """The number of an element that has a body, which then is found; None where there is none, which is told."""
        k = model.element_by_guid.get(guid)
        if k is None:
            self.refused.append(GONE)
            return None
        self.found.append(k)
        if why := why_no_body(model, model.elements[k], k):
            self.refused.append(why)
            return None
        return k


def why_no_body(model: Model, element: Element, k: int) -> str:
    """Why an element (number k) can't stand elsewhere; empty where it can."""
    if element.kind == "ground":
        return OF_GROUND
    return "" if np.isfinite(model.boxes[k]).all() else "It has no body."
