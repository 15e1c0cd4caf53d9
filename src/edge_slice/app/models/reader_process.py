"""Reads one model in a process of its own: a file that brings the reader down does not take the worker with it, and a
worker that is stopped or killed is not held against the file."""

from __future__ import annotations

import asyncio
import ctypes
import signal
import sys

DATABASE_AWAY = 75  # exit code (sysexits.h: temporary failure)
DEATH_SIGNAL = 1  # prctl(2), PR_SET_PDEATHSIG


class ReaderDied(Exception):
    """The reading process ended by itself without a result."""


class DatabaseAway(Exception):
    """The reading process lost the database; the job is tried again."""


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(DEATH_SIGNAL, signal.SIGKILL)


async def read_in_a_process(import_id: int) -> None:
    """Read the file of an import to its end. Raises `ReaderDied`."""
    process = await asyncio.create_subprocess_exec(
        sys.executable, "-m", "edge_slice.worker.reading", str(import_id), preexec_fn=_die_with_parent
    )
    try:
        code = await process.wait()
    except asyncio.CancelledError:
        process.kill()
        raise
    if code == DATABASE_AWAY:
        raise DatabaseAway
    if code != 0:
        reason = signal.Signals(-code).name if code < 0 else f"exit code {code}"
        raise ReaderDied(reason)
