"""python -m edge_slice.worker: run one worker until it is told to stop."""

from __future__ import annotations

import asyncio
import logging
import os
import signal
import threading
import time

from edge_slice.app.jobs import HEARTBEAT, STALLED_AFTER, app, take_up_stalled, tidy
from edge_slice.app.models.reader_process import get_ready
from edge_slice.core.compiled import compile_kernels
from edge_slice.core.memory import MEMORY
from edge_slice.settings import settings

STEADY, LONGEST_PAUSE = 5.0, 4.0  # seconds that a connection holds; between two tries
TIDY_EVERY = 120.0  # seconds
log = logging.getLogger("worker")


async def _take_jobs() -> None:
    """Take jobs, and look after those of dead workers, until the database is lost or this is cancelled."""
    async with app.open_async():
        upkeep = asyncio.create_task(_upkeep())
        try:
            await app.run_worker_async(
                concurrency=2,
                delete_jobs="successful",
                update_heartbeat_interval=HEARTBEAT,
                stalled_worker_timeout=STALLED_AFTER,
                fetch_job_polling_interval=1.0,
                shutdown_graceful_timeout=1.0,
                install_signal_handlers=False,
            )
        finally:
            upkeep.cancel()


async def _upkeep() -> None:
    tidied = -TIDY_EVERY
    while True:
        await take_up_stalled()
        if time.monotonic() - tidied > TIDY_EVERY:
            await tidy()
            tidied = time.monotonic()
        await asyncio.sleep(HEARTBEAT)


async def work() -> None:
    """Until a signal comes; a lost database is waited for."""
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
        taking.exception()  # known: the database is away
        await asyncio.wait({stop}, timeout=pause)
        pause = min(2 * pause, LONGEST_PAUSE)


if __name__ == "__main__":
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    for noisy in ("procrastinate", "psycopg.pool"):
        logging.getLogger(noisy).setLevel(logging.CRITICAL)
    with asyncio.Runner() as runner:
        runner.run(work())
        os._exit(0)  # not waiting for a job in a thread: another worker takes it up again
