"""Long work as jobs of a queue in PostgreSQL, taken by workers that may run anywhere."""

from __future__ import annotations

import procrastinate
from procrastinate.exceptions import ConnectorException
from sqlalchemy.exc import OperationalError

from edge_slice.app import imports
from edge_slice.app.errors import Refused
from edge_slice.settings import settings

STALLED_AFTER = 15.0  # seconds without a sign of life from a worker

app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=settings().psycopg_url))


AWAY = procrastinate.RetryStrategy(max_attempts=10, wait=3, retry_exceptions={OperationalError})


@app.task(name="read-model", queue="models", retry=AWAY)
def read_model(import_id: int) -> None:
    imports.run_import(import_id)


async def take_up_stalled() -> None:
    """Jobs whose worker was killed go back into the queue."""
    for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER):
        await app.job_manager.retry_job(job)


def defer_import(import_id: int) -> None:
    """Queue the reading of an import; when that fails the import is dropped again."""
    sync = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=settings().psycopg_url))
    try:
        with sync.open():
            sync.configure_task("read-model", queue="models").defer(import_id=import_id)
    except ConnectorException as error:
        imports.drop_import(import_id)  # cancels it
        imports.drop_import(import_id)  # and takes the cancelled row and its bytes away
        raise Refused("The work queue can't be reached; nothing was kept. Try again in a moment.") from error
