"""Where the time of an act goes: its stages, timed while somebody listens.

>>> with listening() as heard:
...     with stage("slice"):
...         pass
>>> [one.name for one in heard]
['slice']
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass


@dataclass(frozen=True)
class Timed:
    """A stage that ended: seconds of `time.perf_counter` at its begin, and how long it took. Stages in others are
    counted in both."""

    name: str
    began: float
    took: float


_heard: ContextVar[list[Timed] | None] = ContextVar("heard", default=None)


class stage:
    """A stage of what happens in its block; costs next to nothing while nobody listens."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __enter__(self) -> None:
        self._into = _heard.get()
        self._began = time.perf_counter() if self._into is not None else 0.0

    def __exit__(self, *_: object) -> None:
        if self._into is not None:
            self._into.append(Timed(self._name, self._began, time.perf_counter() - self._began))


@contextmanager
def listening() -> Iterator[list[Timed]]:
    """The stages of what this thread does in the block, in the order in which they end."""
    heard: list[Timed] = []
    token = _heard.set(heard)
    try:
        yield heard
    finally:
        _heard.reset(token)
