"""Flights of steps, as they are told from the level surfaces of a body."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.building import Model

F64 = NDArray[np.float64]
FLAT = 0.999  # cosine; treads are level
SAME = 0.01  # metres; surfaces nearer in height are one tread
LEAST_TREAD = 0.04  # square metres
RISES = (0.09, 0.3)  # metres; anything else between two surfaces is no step
MOST_GOING = 0.6  # metres; a longer tread is a landing


@dataclass(frozen=True)
class Flight:
    """The treads of a stair from the lowest up: heights (n,), middles (n, 2) and outlines, metres; `base` is where its
    first riser stands, `rise` and `going` are its steps' measures."""

    heights: F64
    middles: F64
    outlines: tuple[shapely.Geometry, ...]
    base: float
    rise: float
    going: float

    def risers(self, levels: list[float]) -> int:
        """From the base up to the last tread, or to the one of the `levels` (metres) that a last riser leads up to."""
        last = float(self.heights[-1])
        top = next((z for z in levels if 0.5 * self.rise < z - last < 1.5 * self.rise), last)
        return round((top - self.base) / self.rise)


def flight_of(model: Model, element: int) -> Flight | None:
    """The flight in an element, from its level surfaces; None where they make no steps."""
    triangles = model.element_triangles(element)
    if not len(triangles):
        return None
    normal = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    area = np.linalg.norm(normal, axis=1)
    level = triangles[normal[:, 2] > FLAT * np.maximum(area, 1e-12)]
    if not len(level):
        return None
    height = level[:, :, 2].mean(axis=1)
    order = np.argsort(height, kind="stable")
    groups = np.split(order, np.flatnonzero(np.diff(height[order]) > SAME) + 1)
    treads = []
    for rows in groups:
        shape = shapely.union_all(shapely.polygons(level[rows][:, :, :2]))
        if shape.area >= LEAST_TREAD:
            treads.append((float(height[rows].mean()), shape))
    heights = np.array([h for h, _ in treads])
    steps = np.diff(heights)
    usual = steps[(steps >= RISES[0]) & (steps <= RISES[1])]
    if len(treads) < 3 or len(usual) < 2:
        return None
    middles = np.array([shape.centroid.coords[0] for _, shape in treads])
    rise = float(np.median(usual))
    apart = np.hypot(*np.diff(middles, axis=0).T)
    short = apart[apart < MOST_GOING]
    foot = float(model.boxes[element][0, 2])
    base = foot if heights[0] - foot < 1.5 * rise else float(heights[0] - rise)
    if heights[0] - foot < rise / 2:  # the lowest level surface is the floor that it stands on, or a plinth
        base = float(heights[0])
    outlines = tuple(shape for _, shape in treads)
    return Flight(heights, middles, outlines, base, rise, float(np.median(short)) if len(short) else 0.0)


@dataclass(frozen=True)
class Steps:
    """A straight flight: the unit vector (3,) that it goes along, where its first riser stands along that, the height
    from which it rises, the measures of its steps, and how many of them it has."""

    way: F64
    start: float
    base: float
    going: float
    rise: float
    risers: int
    treads: int

    @property
    def run(self) -> float:
        """From the first riser to that of the last tread, metres."""
        return self.going * (self.treads - 1)

    def slope(self, along: F64) -> F64:
        """How high the line through the feet of the risers is above its base."""
        return np.asarray(self.rise * np.clip(along - self.start, 0.0, self.run) / self.going)
