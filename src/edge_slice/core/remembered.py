"""What costly functions gave lately: while a cut is moved, most of its faces stay what they were."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from hashlib import blake2b
from threading import Lock
from typing import Generic, TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray

T = TypeVar("T")
Polygons = Sequence[shapely.Geometry] | NDArray[np.object_]


def marks_of(shapes: Polygons) -> list[bytes]:
    """A short mark for each shape, the same for the same coordinates in the same order: a key that stays small, however
    many corners a shape has."""
    return [blake2b(wkb, digest_size=16).digest() for wkb in shapely.to_wkb(np.array(shapes, dtype=object))]


def corners_of(shapes: Polygons) -> int:
    """What shapes weigh: their corners."""
    return int(shapely.get_num_coordinates(np.array(shapes, dtype=object)).sum()) + 1


class Remembered(Generic[T]):
    """Values by key, those used last, up to `most` of their weight together. `rule` belongs to the key too, as the
    very object that it is: it is kept alive, so that no other one can take its identity."""

    def __init__(self, most: int, weigh: Callable[[T], int] = lambda value: 1) -> None:
        self._most, self._weigh, self._weight = most, weigh, 0
        self._values: OrderedDict[Hashable, tuple[object, T, int]] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable, make: Callable[[], T], rule: object = None) -> T:
        """The value of a key; what `make` raises is raised, and nothing is kept. Values are shared: nobody changes
        them."""
        whole = (id(rule), key)
        with self._lock:
            found = self._values.get(whole)
            if found is not None:
                self._values.move_to_end(whole)
                return found[1]
        value = make()
        weight = self._weigh(value)
        with self._lock:
            if whole not in self._values and weight <= self._most:
                self._values[whole] = (rule, value, weight)
                self._weight += weight
                while self._weight > self._most:
                    self._weight -= self._values.popitem(last=False)[1][2]
        return value
