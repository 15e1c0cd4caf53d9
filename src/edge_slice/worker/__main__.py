"""python -m edge_slice.worker: run one worker until it is told to stop."""

from __future__ import annotations

import asyncio
import logging
import os
import signal

from edge_slice.app.jobs import app, take_up_stalled

HEARTBEAT = 4.0  # seconds
log = logging.getLogger("worker")


async def _take_jobs() -> None:
    """Take jobs, and look after those of dead workers, until the database is lost or this is cancelled."""
    async with app.open_async():
        upkeep = asyncio.create_task(_upkeep())
        try:
            await app.run_worker_async(
                concurrency=2,
                update_heartbeat_interval=HEARTBEAT,
                stalled_worker_timeout=4 * HEARTBEAT,
                fetch_job_polling_interval=2.0,
                shutdown_graceful_timeout=1.0,
                install_signal_handlers=False,
            )
        finally:
            upkeep.cancel()


async def _upkeep() -> None:
    while True:
        await take_up_stalled()
        await asyncio.sleep(HEARTBEAT)


async def work() -> None:
    """Until a signal comes; a lost database is waited for."""
    ending = asyncio.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        asyncio.get_running_loop().add_signal_handler(number, ending.set)
    stop = asyncio.create_task(ending.wait())
    while not ending.is_set():
        taking = asyncio.create_task(_take_jobs())
        await asyncio.wait({taking, stop}, return_when=asyncio.FIRST_COMPLETED)
        if ending.is_set():
            taking.cancel()
            await asyncio.wait({taking}, timeout=2)
            return
        log.warning("lost the database (%s); connecting again", taking.exception())
        await asyncio.sleep(1.0)


if __name__ == "__main__":
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    for noisy in ("procrastinate", "psycopg.pool"):
        logging.getLogger(noisy).setLevel(logging.CRITICAL)
    with asyncio.Runner() as runner:
        runner.run(work())
        os._exit(0)  # not waiting for a job in a thread: another worker takes it up again
