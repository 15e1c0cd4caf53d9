"""What a correction says of what is in no file."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated, Literal

import shapely
from pydantic import Field, model_validator

from edge_slice.core.model.corrections.saying import (
    LEAST,
    MOST,
    Along,
    Asked,
    Corner,
    FacePlane,
    Guid,
    Moved,
)

NEW_GUID = r"^$|^[0-9A-Za-z_$]{22}$"  # as IFC files write them (ISO 16739)
NewKind = Literal["wall", "slab", "column", "beam", "member", "footing", "covering", "accessory", "object", "ground"]
BACK = 0.9  # cosine between two stretches of a run of which the second goes back along the first


class NewThing(Asked):
    """What is in no file. `body`: the GlobalId that it has; empty: one is given to it."""

    body: Annotated[str, Field(pattern=NEW_GUID)] = ""
    name: Annotated[str, Field(min_length=1, max_length=200)]
    kind: NewKind
    material: Annotated[str, Field(min_length=1, max_length=300)]
    is_a: Annotated[str, Field(max_length=60)] = ""

    @property
    def subjects(self) -> tuple[str, ...]:
        return (f"new {self.body}",) if self.body else ()

    @property
    def asked_of(self) -> str:
        return self.name


class NewBody(NewThing):
    """An `outline` in a plane, whose zero is `at` (metres as surveyed) and whose axes are the unit vectors `x` and `y`,
    extruded along x × y from `start` to `end`, metres."""

    outline: Annotated[tuple[tuple[Moved, Moved], ...], Field(min_length=3, max_length=200)]
    at: Corner
    x: tuple[Along, Along, Along]
    y: tuple[Along, Along, Along]
    start: Moved
    end: Moved

    @model_validator(mode="after")
    def _meant(self) -> NewBody:
        square = abs(sum(a * b for a, b in zip(self.x, self.y, strict=True))) < 1e-6
        if not square or abs(math.hypot(*self.x) - 1.0) > 1e-6 or abs(math.hypot(*self.y) - 1.0) > 1e-6:
            raise ValueError("corrections: the axes of an outline are square to each other and of length 1")
        if self.end - self.start < LEAST:
            raise ValueError("corrections: what is new ends after it begins")
        ring = shapely.Polygon(self.outline)
        if not ring.is_valid or ring.area < LEAST * LEAST:
            raise ValueError("corrections: an outline crosses itself, or has no area")
        return self


class NewRun(NewThing):
    """A pipe, gutter, rail or the like along a `path` (metres as surveyed), which is its middle: so `wide` and `high`,
    metres, `round` or with corners."""

    path: Annotated[tuple[Corner, ...], Field(min_length=2, max_length=100)]
    wide: Annotated[float, Field(ge=0.002, le=MOST, allow_inf_nan=False)]
    high: Annotated[float, Field(ge=0.002, le=MOST, allow_inf_nan=False)]
    round: bool = False

    @model_validator(mode="after")
    def _meant(self) -> NewRun:
        steps = [tuple(q - p for p, q in zip(a, b, strict=True)) for a, b in pairwise(self.path)]
        if min(math.hypot(*step) for step in steps) < LEAST:
            raise ValueError("corrections: two points of a run lie on each other")
        for a, b in pairwise(steps):
            if sum(p * q for p, q in zip(a, b, strict=True)) < -BACK * math.hypot(*a) * math.hypot(*b):
                raise ValueError("corrections: a run turns back on itself")
        return self


class NewLayer(NewThing):
    """A layer of a `thickness` in metres on a flat face of an `element` (GlobalId) that lay in the plane `face` when
    that was said; it goes where that face goes, and round what is cut out of it."""

    element: Guid
    on: FacePlane
    thickness: Annotated[float, Field(ge=LEAST, le=MOST, allow_inf_nan=False)]
