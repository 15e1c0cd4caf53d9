"""Values kept in memory, each made once however many ask for it at the same time."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Generic, TypeVar

T = TypeVar("T")


class Recent(Generic[T]):
    """The `size` values used last, by key."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._values: OrderedDict[str, T] = OrderedDict()
        self._making: dict[str, Lock] = {}
        self._lock = Lock()

    def get(self, key: str, make: Callable[[], T]) -> T:
        """The value of a key, made by the first who asks; others who want the same wait for it, and nobody else.
        What `make` raises is raised, and nothing is kept."""
        with self._lock:
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
            return self._touched(key) if key in self._values else None

    def put(self, key: str, value: T) -> None:
        with self._lock:
            self._values[key] = value
            self._values.move_to_end(key)
            while len(self._values) > self._size:
                self._values.popitem(last=False)

    def _touched(self, key: str) -> T:
        self._values.move_to_end(key)
        return self._values[key]
