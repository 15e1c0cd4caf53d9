"""Values kept in memory, each made once however many ask for it at the same time."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Generic, TypeVar

from edge_slice.core.memory import MEMORY, Figures, bytes_of

T = TypeVar("T")


class Recent(Generic[T]):
    """The `count` values used last, by key; fewer where memory is short. `weigh` says their bytes."""

    def __init__(self, name: str, count: int, weigh: Callable[[T], int] = bytes_of) -> None:
        self.name, self._count, self._weigh = name, count, weigh
        self._values: OrderedDict[str, tuple[T, int, int]] = OrderedDict()  # value, bytes, when it was used
        self._making: dict[str, Lock] = {}
        self._lock = Lock()
        self._asked = self._made = self._size = 0
        MEMORY.add(self)

    def get(self, key: str, make: Callable[[], T]) -> T:
        """The value of a key, made by the first who asks; others who want the same wait for it, and nobody else.
        What `make` raises is raised, and nothing is kept."""
        with self._lock:
            self._asked += 1
            if key in self._values:
                return self._touched(key)
            once = self._making.setdefault(key, Lock())
        with once:
            with self._lock:
                if key in self._values:
                    return self._touched(key)
            try:
                value = make()
                self.put(key, value)
            finally:
                with self._lock:
                    self._making.pop(key, None)
        return value

    def known(self, key: str) -> T | None:
        with self._lock:
            self._asked += 1
            return self._touched(key) if key in self._values else None

    def put(self, key: str, value: T) -> None:
        size = self._weigh(value)
        with self._lock:
            self._made += 1
            self._dropped(key)
            self._values[key] = (value, size, MEMORY.now())
            self._size += size
            while len(self._values) > self._count:
                self._dropped(next(iter(self._values)))
        MEMORY.make_room()

    @property
    def size(self) -> int:
        return self._size

    def figures(self) -> Figures:
        with self._lock:
            return Figures(self.name, len(self._values), self._size, self._asked, self._made)

    def oldest(self) -> int | None:
        with self._lock:
            return next((used for _, _, used in self._values.values()), None)

    def let_go(self) -> None:
        with self._lock:
            if self._values:
                self._dropped(next(iter(self._values)))

    def _dropped(self, key: str) -> None:
        found = self._values.pop(key, None)
        self._size -= found[1] if found else 0

    def _touched(self, key: str) -> T:
        value, size, _ = self._values[key]
        self._values[key] = (value, size, MEMORY.now())
        self._values.move_to_end(key)
        return value
