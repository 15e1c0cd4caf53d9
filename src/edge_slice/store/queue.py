"""Queueing jobs in the transaction that makes what they are about: there is never one without the other."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

import procrastinate
from sqlalchemy import text
from sqlmodel import Session

# never opened: it only speaks through the connections of our own transactions
_queue = procrastinate.App(connector=procrastinate.SyncPsycopgConnector())
_UNDER_WAY = text(
    "SELECT id FROM procrastinate_jobs WHERE task_name = :task AND args->>:name = :value"
    " AND status IN ('todo', 'doing') AND NOT abort_requested ORDER BY id"
)
_ARGUMENTS = text("SELECT args->>:name FROM procrastinate_jobs WHERE task_name = :task AND status IN ('todo', 'doing')")


def defer(session: Session, queue: str, task: str, arguments: dict[str, Any]) -> None:
    own = _connection(session)
    _queue.configure_task(task, allow_unknown=True, queue=queue, connection=own).defer(**arguments)


def under_way(session: Session, task: str, name: str, value: int) -> list[int]:
    """The jobs of a task that wait or run, by one of their arguments."""
    wanted = {"task": task, "name": name, "value": str(value)}
    return [int(n) for n in session.connection().execute(_UNDER_WAY, wanted).scalars()]


def without_job(session: Session, task: str, name: str, values: Collection[int]) -> list[int]:
    """Those of these values of an argument for which no job waits or runs: its worker was stopped in the midst."""
    found = session.connection().execute(_ARGUMENTS, {"task": task, "name": name}).scalars()
    there = {str(value) for value in found}
    return [value for value in values if str(value) not in there]


def cancel(session: Session, job: int) -> None:
    """Take a job that waits out of the queue; one that runs is asked to end."""
    _queue.job_manager.cancel_job_by_id(job, abort=True, connection=_connection(session))


def _connection(session: Session) -> Any:
    session.flush()
    return session.connection().connection.driver_connection
