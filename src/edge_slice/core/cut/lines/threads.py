"""Runs compiled kernels, which let go of the interpreter's lock, on all cores of the process."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from typing import TypeVar

T = TypeVar("T")


@cache
def _pool(process: int) -> ThreadPoolExecutor:
    """One pool for each process: threads do not outlive a fork."""
    return ThreadPoolExecutor(len(os.sched_getaffinity(0)), thread_name_prefix=f"kernels-{process}")


def side_by_side(act: Callable[[int, int], T], count: int, chunk: int) -> list[T]:
    """`act(first, last)` over 0..count in chunks; results in order, so that they do not depend on the cores."""
    spans = [(k, min(k + chunk, count)) for k in range(0, max(count, 1), chunk)]
    if len(spans) == 1:
        return [act(*spans[0])]
    return list(_pool(os.getpid()).map(lambda span: act(*span), spans))
