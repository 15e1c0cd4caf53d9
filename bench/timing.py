"""How long a call takes: the median of a few runs after one to warm up."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def median(act: Callable[[], object], runs: int = 7) -> float:
    act()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def spread(took: list[float]) -> tuple[float, float]:
    """Of times the one in the middle, and the one that 95 % are no longer than."""
    order = sorted(took)
    return statistics.median(order), order[int(0.95 * (len(order) - 1))]
