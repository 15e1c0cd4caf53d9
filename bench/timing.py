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
