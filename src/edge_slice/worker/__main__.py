"""python -m edge_slice.worker: run one worker until it is told to stop."""

from __future__ import annotations

import asyncio
import logging

import procrastinate

from edge_slice.app.jobs import app

HEARTBEAT = 5.0  # seconds


async def work() -> None:
    """Take jobs; after a lost database, wait and begin again."""
    while True:
        try:
            async with app.open_async():
                await app.run_worker_async(
                    concurrency=2, update_heartbeat_interval=HEARTBEAT, stalled_worker_timeout=4 * HEARTBEAT,
                    fetch_job_polling_interval=2.0, shutdown_graceful_timeout=2.0,
                )  # fmt: skip
            return
        except (procrastinate.exceptions.ConnectorException, OSError) as error:
            logging.warning("the queue can't be reached (%s); trying again", error)
            await asyncio.sleep(2.0)


if __name__ == "__main__":
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    asyncio.run(work())
