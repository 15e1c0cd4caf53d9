"""What costly functions gave lately: while a cut is moved, most of its faces stay what they were."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable, Sequence
from hashlib import blake2b
from threading import Lock
from typing import Generic, TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.memory import CORNER, MEMORY, SHAPE, Figures

T = TypeVar("T")
Polygons = Sequence[shapely.Geometry] | NDArray[np.object_]


def marks_of(shapes: Polygons) -> list[bytes]:
    """A short mark for each shape, the same for the same coordinates in the same order: a key that stays small, however
    many corners a shape has."""
    return [blake2b(wkb, digest_size=16).digest() for wkb in shapely.to_wkb(np.array(shapes, dtype=object))]


def mixed(marks: Iterable[bytes]) -> bytes:
    """One mark for several, in their order."""
    return blake2b(b"".join(marks), digest_size=16).digest()


def corners_of(shapes: Polygons) -> int:
    """What shapes weigh: their corners."""
    return int(shapely.get_num_coordinates(np.array(shapes, dtype=object)).sum()) + 1


class Remembered(Generic[T]):
    """Values by key, those used last, up to `most` of their weight together, in corners of shapes or the like; fewer
    where memory is short. `rule` belongs to the key too, as the very object that it is: it is kept alive, so that no
    other one can take its identity."""

    def __init__(self, name: str, most: int, weigh: Callable[[T], int] = lambda value: 1) -> None:
        self.name, self._most, self._weigh, self._weight = name, most, weigh, 0
        self._values: OrderedDict[Hashable, tuple[object, T, int, int]] = OrderedDict()
        self._lock = Lock()
        self._asked = self._made = 0
        MEMORY.add(self)

    def get(self, key: Hashable, make: Callable[[], T], rule: object = None) -> T:
        """The value of a key; what `make` raises is raised, and nothing is kept. Values are shared: nobody changes
        them."""
        whole = (id(rule) if rule is not None else 0, key)
        with self._lock:
            self._asked += 1
            found = self._values.get(whole)
            if found is not None:
                self._use(whole, found)
                return found[1]
        value = make()
        with self._lock:
            self._keep(whole, rule, value)
        return value

    def get_all(self, keys: Sequence[Hashable], make: Callable[[list[int]], Sequence[T]]) -> list[T]:
        """The values of keys, in order; `make` gives those that are missing, all at once, by their places in `keys`."""
        found: dict[Hashable, T] = {}
        with self._lock:
            self._asked += len(keys)
            for key in keys:
                if (one := self._values.get((0, key))) is not None:
                    self._use((0, key), one)
                    found[key] = one[1]
        missing = [k for k, key in enumerate(keys) if key not in found]
        made = make(missing) if missing else []
        with self._lock:
            for k, value in zip(missing, made, strict=True):
                found[keys[k]] = value
                self._keep((0, keys[k]), None, value)
        return [found[key] for key in keys]

    def _use(self, whole: Hashable, found: tuple[object, T, int, int]) -> None:
        self._values[whole] = (*found[:3], MEMORY.now())
        self._values.move_to_end(whole)

    def _keep(self, whole: Hashable, rule: object, value: T) -> None:
        weight = self._weigh(value)
        self._made += 1
        if whole not in self._values and weight <= self._most:
            self._values[whole] = (rule, value, weight, MEMORY.now())
            self._weight += weight
            while self._weight > self._most:
                self._weight -= self._values.popitem(last=False)[1][2]

    @property
    def size(self) -> int:
        return self._weight * CORNER + len(self._values) * SHAPE

    def figures(self) -> Figures:
        with self._lock:
            return Figures(self.name, len(self._values), self.size, self._asked, self._made)

    def oldest(self) -> int | None:
        with self._lock:
            return next((one[3] for one in self._values.values()), None)

    def let_go(self) -> None:
        with self._lock:
            if self._values:
                self._weight -= self._values.popitem(last=False)[1][2]
