"""python -m edge_slice.worker: run one worker until it is told to stop."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import os
import signal
import threading
import time
from pathlib import Path

import psycopg
from psycopg_pool import PoolTimeout

from edge_slice.app.jobs import AT_ONCE, HEARTBEAT, STALLED_AFTER, app, take_up_stalled, tidy
from edge_slice.app.models.reader_process import get_ready
from edge_slice.core.compiled import compile_kernels
from edge_slice.core.memory import MEMORY
from edge_slice.logs import write_json
from edge_slice.settings import settings

STEADY, LONGEST_PAUSE = 5.0, 4.0  # seconds that a connection holds; between two tries
TIDY_EVERY = 120.0  # seconds
AUTOGROUP = Path("/proc/self/autogroup")
log = logging.getLogger("worker")


async def _take_jobs() -> None:
    """Take jobs, and look after those of dead workers, until the database is lost or this is cancelled."""
    async with app.open_async():
        upkeep = asyncio.create_task(_upkeep())
        try:
            async with asyncio.TaskGroup() as together:
                for queues, count in AT_ONCE.items():
                    together.create_task(_take_of(queues, count))
        finally:
            upkeep.cancel()


async def _take_of(queues: tuple[str, ...], count: int) -> None:
    await app.run_worker_async(
        queues=list(queues),
        concurrency=count,
        delete_jobs="successful",
        update_heartbeat_interval=HEARTBEAT,
        stalled_worker_timeout=STALLED_AFTER,
        fetch_job_polling_interval=1.0,
        shutdown_graceful_timeout=1.0,
        install_signal_handlers=False,
    )


async def _upkeep() -> None:
    tidied = -TIDY_EVERY
    while True:
        await take_up_stalled()
        if time.monotonic() - tidied > TIDY_EVERY:
            await tidy()
            tidied = time.monotonic()
        await asyncio.sleep(HEARTBEAT)


def _say_of(error: BaseException | None) -> None:
    """Why jobs are not taken any more, but where that is known: the database is away."""
    if isinstance(error, BaseExceptionGroup):
        for one in error.exceptions:
            _say_of(one)
    elif error is not None and not isinstance(error.__cause__ or error, psycopg.OperationalError | PoolTimeout):
        log.error("no jobs are taken: %s", error.__cause__ or error)


def give_way(far: int) -> None:
    """Let other processes come first (0 to 19). Linux shares processors among sessions before it looks at what is in
    them (sched(7), autogroups): where this process has a session of its own, that gives way, too."""
    os.nice(far)
    if os.getsid(0) == os.getpid() and AUTOGROUP.exists():
        with contextlib.suppress(OSError):  # what may not be said is not: it is a wish
            AUTOGROUP.write_text(str(far))


async def work() -> None:
    """Until a signal comes; a lost database is waited for."""
    give_way(settings().worker_nice)  # on a machine that also answers people, they come first
    get_ready()
    threading.Thread(target=compile_kernels, daemon=True).start()  # in memory before the first file is asked for
    MEMORY.most = int(settings().memory_mb * 2**20)
    ending = asyncio.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        asyncio.get_running_loop().add_signal_handler(number, ending.set)
    stop = asyncio.create_task(ending.wait())
    pause = 1.0
    while not ending.is_set():
        began = time.monotonic()
        taking = asyncio.create_task(_take_jobs())
        await asyncio.wait({taking, stop}, return_when=asyncio.FIRST_COMPLETED)
        if ending.is_set():
            taking.cancel()
            await asyncio.wait({taking}, timeout=2)
            return
        if time.monotonic() - began > STEADY:
            pause = 1.0
            log.warning("lost the database; connecting again")
        _say_of(taking.exception())
        await asyncio.wait({stop}, timeout=pause)
        pause = min(2 * pause, LONGEST_PAUSE)


if __name__ == "__main__":
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    write_json("worker")
    for noisy in ("procrastinate", "psycopg.pool"):
        logging.getLogger(noisy).setLevel(logging.CRITICAL)
    with asyncio.Runner() as runner:
        runner.run(work())
        os._exit(0)  # not waiting for a job in a thread: another worker takes it up again
