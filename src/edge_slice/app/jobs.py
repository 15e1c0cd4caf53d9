"""Long work as jobs of a queue in PostgreSQL, taken by workers that may run anywhere."""

from __future__ import annotations

import asyncio
from datetime import timedelta

import procrastinate
from procrastinate.exceptions import ConnectorException
from sqlalchemy.exc import DBAPIError, OperationalError

from edge_slice.app.models import imports
from edge_slice.app.models.reader_process import DatabaseAway, ReaderDied, read_in_a_process
from edge_slice.app.output import publications
from edge_slice.app.people import mailing
from edge_slice.app.people.retention import drop_ended
from edge_slice.app.review import notices
from edge_slice.app.views import recut
from edge_slice.settings import settings
from edge_slice.store.blobs import collect_pictures
from edge_slice.store.database import lasting_address, transaction
from edge_slice.store.kept import prune

HEARTBEAT = 1.0  # seconds between a worker's signs of life
# seconds without one, after which its jobs are taken up by others; on a busy machine one that lives is heard of late
STALLED_AFTER = settings().worker_lost_s

SHORT = (recut.QUEUE, mailing.QUEUE)
LONG = (publications.QUEUE, imports.QUEUE)  # no short one waits for these
AT_ONCE = {SHORT: 1, LONG: 2}  # jobs of a worker

LOOSE = timedelta(days=1)  # that a picture may wait for somebody to place it

app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=lasting_address()))


LATER = procrastinate.RetryStrategy(max_attempts=8, exponential_wait=5, retry_exceptions={OSError, OperationalError})
AWAY = procrastinate.RetryStrategy(max_attempts=10, wait=3, retry_exceptions={OperationalError, DatabaseAway})


@app.task(name=imports.TASK, queue=imports.QUEUE, retry=AWAY)
async def read_model(import_id: int) -> None:
    try:
        await read_in_a_process(import_id)
    except ReaderDied as died:
        if await asyncio.to_thread(imports.count_crash, import_id, str(died)):
            await read_model.defer_async(import_id=import_id)


@app.task(name=recut.TASK, queue=recut.QUEUE, retry=AWAY, pass_context=True)
def recut_project(context: procrastinate.JobContext, project_id: int) -> None:
    recut.run(project_id, context.should_abort)


@app.task(name=notices.TASK, queue=mailing.QUEUE, retry=LATER)
def mail_notice(notice_id: int) -> None:
    notices.mail_notice(notice_id)


@app.task(name=mailing.TO_ACCOUNT, queue=mailing.QUEUE, retry=LATER)
def mail_account(account_id: int, what: str) -> None:
    mailing.mail_account(account_id, what)


@app.task(name=publications.TASK, queue=publications.QUEUE, retry=AWAY)
async def publish(publication_id: int) -> None:
    await asyncio.to_thread(publications.run, publication_id)


async def take_up_stalled() -> None:
    """Jobs whose worker was killed or stopped go back into the queue."""
    try:
        await asyncio.to_thread(imports.queue_lost)
        await asyncio.to_thread(publications.queue_lost)
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER):
            await app.job_manager.retry_job(job)
    except (ConnectorException, DBAPIError):
        return  # the database is away; whoever comes back first finds them


async def tidy() -> None:
    """Drop what is kept for speed beyond its limits, pictures that nothing shows any more, what of people is over."""
    try:
        await asyncio.to_thread(_tidy)
    except DBAPIError:
        return  # the database is away: another time


def _tidy() -> None:
    limits = settings()
    prune(int(limits.kept_mb_by_project * 2**20), int(limits.kept_mb * 2**20))
    with transaction() as session:
        collect_pictures(session, LOOSE)
    drop_ended()
