"""Where things stand to each other: which wall a door is in, what a room's surfaces show."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model import Element, Model, Space

F64 = NDArray[np.float64]
INTO = 0.05  # metres that a door's box may stand out of its wall
BESIDE = 0.35  # metres between a room's outline and the walls round it
NEAR = 0.12  # metres between a room's floor or ceiling and what is its floor or ceiling
THIN = 0.25  # metres; a covering that is lower lies on a floor or under a ceiling
ROOMY = 0.5  # share of a room that a floor or ceiling covers at least


@dataclass(frozen=True)
class Opening:
    """Of a door or window: its width and height, metres, how high its foot lies over the floor of its storey, and the
    number of the wall that it is in, -1 for none."""

    width: float
    height: float
    sill: float
    wall: int


class Places:
    def __init__(self, model: Model) -> None:
        self.model = model
        self._walls = [k for k, e in enumerate(model.elements) if e.kind == "wall" and self._shaped(k)]

    def _shaped(self, k: int) -> bool:
        return bool(np.isfinite(self.model.boxes[k, 0, 0]))

    @cached_property
    def openings(self) -> dict[int, Opening]:
        """Doors and windows by the number of their element."""
        found = {}
        for k, e in enumerate(self.model.elements):
            if e.kind in ("door", "window") and self._shaped(k):
                wide, high, foot = self._size(k, e)
                storey = self.model.storeys[e.storey].elevation if e.storey >= 0 else 0.0
                found[k] = Opening(wide, high, foot - storey, self._wall_of(k))
        return found

    def _size(self, k: int, element: Element) -> tuple[float, float, float]:
        """Width along its own x axis, height, and the level of its foot, metres; a file's own sizes before its box's,
        which handles and open leaves make larger."""
        low, high = self.model.boxes[k]
        axis = element.placement.x if element.placement is not None else None
        if axis is None or abs(axis[2]) > 0.5:
            wide = float(max(high[0] - low[0], high[1] - low[1]))
        else:
            along = self.model.element_triangles(k).reshape(-1, 3) @ np.array(axis)
            wide = float(np.ptp(along))
        return wide, float(high[2] - low[2]), float(low[2])

    def _wall_of(self, k: int) -> int:
        low, high = self.model.boxes[k]
        middle = (low + high) / 2
        best, least = -1, np.inf
        for wall in self._walls:
            a, b = self.model.boxes[wall]
            if ((middle >= a - INTO) & (middle <= b + INTO)).all():
                size = float(np.prod(np.maximum(b - a, INTO)))
                if size < least:
                    best, least = wall, size
        return best

    @cached_property
    def openings_in(self) -> dict[int, list[int]]:
        """The doors and windows in each wall."""
        found: dict[int, list[int]] = {}
        for k, opening in self.openings.items():
            found.setdefault(opening.wall, []).append(k)
        return found

    def surfaces(self, room: Space) -> tuple[list[int], list[int], list[int]]:
        """The materials that the floor, the walls and the ceiling of a room show, as indices."""
        outline = shapely.make_valid(shapely.Polygon(room.outline))
        if outline.is_empty:
            return [], [], []
        floor, walls, ceiling = set[int](), set[int](), set[int]()
        low, high = self.model.boxes[:, 0], self.model.boxes[:, 1]
        for k in self._round(outline, room):
            element = self.model.elements[k]
            if element.kind == "wall":
                walls |= self._facing(k, element, outline)
                continue
            if float(high[k, 2] - low[k, 2]) > THIN and element.kind == "covering":
                walls.add(element.material)
                continue
            covers = self.model.footprint(k).intersection(outline).area > ROOMY * outline.area
            if covers and abs(high[k, 2] - room.floor) < NEAR:
                floor.add(self._outer(element, 1.0))
            elif covers and abs(low[k, 2] - room.ceiling) < NEAR:
                ceiling.add(self._outer(element, -1.0))
        return sorted(floor - {-1}), sorted(walls - {-1}), sorted(ceiling - {-1})

    def _round(self, outline: shapely.Geometry, room: Space) -> list[int]:
        """Walls beside a room, and slabs, roofs and coverings over and under it."""
        left, base, right, top = outline.bounds
        low, high = self.model.boxes[:, 0], self.model.boxes[:, 1]
        near = (low[:, 0] < right + BESIDE) & (high[:, 0] > left - BESIDE)
        near &= (low[:, 1] < top + BESIDE) & (high[:, 1] > base - BESIDE)
        near &= (low[:, 2] < room.ceiling + NEAR) & (high[:, 2] > room.floor - NEAR)
        kinds = ("wall", "slab", "roof", "covering")
        grown = outline.buffer(BESIDE)
        return [
            k
            for k in np.flatnonzero(near).tolist()
            if self.model.elements[k].kind in kinds and self.model.footprint(k).intersects(grown)
        ]

    def _facing(self, k: int, element: Element, outline: shapely.Geometry) -> set[int]:
        """The material of the side of a wall that faces a room, where it runs along it."""
        footprint = self.model.footprint(k)
        if footprint.buffer(BESIDE).intersection(outline.exterior).length < BESIDE:
            return set()
        if element.frame is None or element.build_up < 0:
            return {element.material}
        inside = np.array(outline.representative_point().coords[0])
        side = (inside - np.array(element.frame.origin[:2])) @ np.array(element.frame.direction[:2])
        layers = self.model.build_ups[element.build_up].layers
        return {layers[-1 if side > 0 else 0].material}

    def _outer(self, element: Element, way: float) -> int:
        """The material of the upper (1) or lower side of an element."""
        if element.frame is None or element.build_up < 0:
            return element.material
        layers = self.model.build_ups[element.build_up].layers
        return layers[-1 if element.frame.direction[2] * way > 0 else 0].material
