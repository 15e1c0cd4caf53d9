"""What is kept in memory, all of it in one place: its bytes together are limited, and its use can be read."""

from __future__ import annotations

import itertools
import sys
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from threading import Lock
from typing import Any, Protocol
from weakref import WeakSet

import numpy as np
import shapely

MOST = 1 << 30  # bytes, where an installation says nothing else
SAMPLE = 64  # items of a long list that are weighed; the others weigh as much as these in the middle
SHAPE, CORNER = 200, 16  # bytes of a shape without its corners, and of each of them


@dataclass(frozen=True)
class Figures:
    """Of one place where values are kept: how many, their bytes (estimated), how often one was asked for, and made."""

    name: str
    values: int
    size: int
    asked: int
    made: int


class Shelf(Protocol):
    """A place where values are kept: `size` in bytes."""

    @property
    def size(self) -> int: ...
    def figures(self) -> Figures: ...
    def oldest(self) -> int | None:
        """When the value that was used longest ago was used; None where there is none."""

    def let_go(self) -> None:
        """Drop the value that was used longest ago, if there is one."""


class Memory:
    """All shelves of a process. `most`: their bytes together."""

    def __init__(self, most: int = MOST) -> None:
        self.most = most
        self._shelves: WeakSet[Any] = WeakSet()
        self._count = itertools.count(1)
        self._lock = Lock()

    def add(self, shelf: Shelf) -> None:
        with self._lock:
            self._shelves.add(shelf)

    def now(self) -> int:
        """A number larger than all before it."""
        return next(self._count)

    def size(self) -> int:
        return sum(shelf.size for shelf in self._all())

    def make_room(self) -> None:
        """Drop what was used longest ago, on whichever shelf it lies, until the rest is within the limit."""
        while self.size() > self.most:
            ages = [(age, shelf) for shelf in self._all() if (age := shelf.oldest()) is not None]
            if not ages:
                return
            min(ages, key=lambda one: one[0])[1].let_go()

    def figures(self) -> list[Figures]:
        """Shelves of one name (each mesh has one) are told together; the largest first."""
        found: dict[str, Figures] = {}
        for one in (shelf.figures() for shelf in self._all()):
            old = found.get(one.name, Figures(one.name, 0, 0, 0, 0))
            found[one.name] = Figures(
                one.name, old.values + one.values, old.size + one.size, old.asked + one.asked, old.made + one.made
            )
        return sorted(found.values(), key=lambda f: (-f.size, f.name))

    def _all(self) -> list[Shelf]:
        with self._lock:
            return list(self._shelves)


MEMORY = Memory()


def bytes_of(value: object, without: tuple[type, ...] = ()) -> int:
    """About how many bytes a value holds, with all that it refers to but values of the types `without`, which belong
    to somebody else."""
    seen: set[int] = set()

    def weigh(one: object) -> float:
        if id(one) in seen or isinstance(one, (type, Callable, *without)):  # type: ignore[arg-type]
            return 0.0
        seen.add(id(one))
        if isinstance(one, np.ndarray):
            return float(one.nbytes) + (_sampled(one.tolist(), weigh) if one.dtype == object else 0.0)
        if isinstance(one, shapely.Geometry):
            return float(SHAPE + CORNER * int(shapely.get_num_coordinates(one)))
        own = float(sys.getsizeof(one))
        if isinstance(one, dict):
            return own + _sampled(list(one.items()), weigh)
        if isinstance(one, (list, tuple, set, frozenset)):
            return own + _sampled(list(one), weigh)
        return own + (_sampled(list(vars(one).values()), weigh, whole=True) if hasattr(one, "__dict__") else 0.0)

    return int(weigh(value))


def _sampled(items: list[Any], weigh: Callable[[object], float], whole: bool = False) -> float:
    """What items weigh; where they are many, by some of them that stand evenly among them."""
    if whole or len(items) <= SAMPLE:
        return sum(map(weigh, items))
    some: Iterable[Any] = items[:: len(items) // SAMPLE + 1]
    weights = [weigh(item) for item in some]
    return sum(weights) / len(weights) * len(items)
