"""Reads one model in a process of its own: a file that brings the reader down does not take the worker with it, and a
worker that is stopped or killed is not held against the file. Readers are forked from a process that has loaded all
they need, so that a small file is not kept waiting by that."""

from __future__ import annotations

import asyncio
import ctypes
import logging
import multiprocessing
import os
import signal
import sys
from multiprocessing import forkserver
from multiprocessing.connection import wait
from threading import Thread

from sqlalchemy.exc import OperationalError

from edge_slice.app.models.imports import run_import

NEEDED = "edge_slice.app.models.ready_to_read"  # by every reader
DATABASE_AWAY = 75  # exit code (sysexits.h: temporary failure)
NAME = 15  # prctl(2), PR_SET_NAME

_forking = multiprocessing.get_context("forkserver")
_forking.set_forkserver_preload([NEEDED])


class ReaderDied(Exception):
    """The reading process ended by itself without a result."""


class DatabaseAway(Exception):
    """The reading process lost the database; the job is tried again."""


def get_ready() -> None:
    """Start what readers are forked from, and let it load what they need meanwhile."""
    forkserver.ensure_running()


def _end_with_the_worker() -> None:
    worker = multiprocessing.parent_process()
    assert worker is not None
    wait([worker.sentinel])
    os.kill(os.getpid(), signal.SIGKILL)


def _read(import_id: int) -> None:
    """What a reader does."""
    ctypes.CDLL(None).prctl(NAME, f"reading {import_id}".encode())  # lists of processes say which file it is at
    Thread(target=_end_with_the_worker, daemon=True).start()
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    try:
        run_import(import_id)
    except OperationalError:
        sys.exit(DATABASE_AWAY)


async def read_in_a_process(import_id: int) -> None:
    """Read the file of an import to its end. Raises `ReaderDied`."""
    process = _forking.Process(target=_read, args=(import_id,), daemon=True)
    await asyncio.to_thread(process.start)
    ended, loop = asyncio.Event(), asyncio.get_running_loop()
    loop.add_reader(process.sentinel, ended.set)
    try:
        await ended.wait()
    except asyncio.CancelledError:
        process.kill()
        raise
    finally:
        loop.remove_reader(process.sentinel)
    process.join()
    code = process.exitcode or 0
    process.close()
    if code == DATABASE_AWAY:
        raise DatabaseAway
    if code != 0:
        reason = signal.Signals(-code).name if code < 0 else f"exit code {code}"
        raise ReaderDied(reason)
