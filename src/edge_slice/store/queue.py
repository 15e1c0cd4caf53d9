"""Queueing jobs in the transaction that makes what they are about: there is never one without the other."""

from __future__ import annotations

import json

from sqlalchemy import text
from sqlmodel import Session

_DEFER = text(
    "SELECT procrastinate_defer_jobs_v1(ARRAY[ROW(:queue, :task, 0, NULL, NULL, CAST(:args AS jsonb), NULL)]"
    "::procrastinate_job_to_defer_v1[])"
)


def defer(session: Session, queue: str, task: str, arguments: dict[str, object]) -> None:
    session.connection().execute(_DEFER, {"queue": queue, "task": task, "args": json.dumps(arguments)})
