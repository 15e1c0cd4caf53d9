"""Cutting all drawings of a project anew in the background, so that each is there when somebody wants to see it."""

from __future__ import annotations

import json

from sqlalchemy import text
from sqlmodel import Session

from edge_slice.app.bench_documents import RecutOut
from edge_slice.app.drawing_rows import project_drawings
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.projects import project_row
from edge_slice.app.views import view_of
from edge_slice.store.changes import tell
from edge_slice.store.database import transaction
from edge_slice.store.queue import defer

QUEUE, TASK = "models", "recut"
_MINE = (
    "task_name = :task AND (args->>'project_id')::bigint = :project AND status IN ('todo', 'doing')"
    " AND NOT abort_requested"
)
_UNDER_WAY = text(f"SELECT count(*) FROM procrastinate_jobs WHERE {_MINE}")
_CANCEL = text(
    "UPDATE procrastinate_jobs SET abort_requested = true,"
    f" status = CASE status WHEN 'todo' THEN 'cancelled' ELSE status END WHERE {_MINE}"
)


def start(project_id: int) -> RecutOut:
    """Queue it, unless it is under way already."""
    with transaction() as session:
        project_row(session, project_id)
        count = len(project_drawings(session, project_id))
        if not session.connection().execute(_UNDER_WAY, {"task": TASK, "project": project_id}).scalar_one():
            defer(session, QUEUE, TASK, {"project_id": project_id})
        return RecutOut(done=0, of=count)


def cancel(project_id: int) -> None:
    """Stop after the drawing that is being cut; what was cut stays."""
    with transaction() as session:
        project_row(session, project_id)
        session.connection().execute(_CANCEL, {"task": TASK, "project": project_id})
        _say(session, project_id, RecutOut(done=0, of=0))


def run(project_id: int, job_id: int | None) -> None:
    """Cut what is not known yet, drawing after drawing, and tell the project's windows how far it is."""
    with transaction() as session:
        try:
            numbers = [d.id for d in project_drawings(session, project_id) if d.id is not None]
        except NotFound:
            return
    for done, number in enumerate(numbers):
        with transaction() as session:
            if _cancelled(session, job_id):
                return
            _say(session, project_id, RecutOut(done=done, of=len(numbers)))
        try:
            view_of(number)
        except (NotFound, Refused):
            continue  # deleted meanwhile, or says itself what is wrong when it is looked at
    with transaction() as session:
        _say(session, project_id, RecutOut(done=len(numbers), of=len(numbers)))


def _cancelled(session: Session, job_id: int | None) -> bool:
    wanted = text("SELECT abort_requested FROM procrastinate_jobs WHERE id = :job")
    return job_id is not None and bool(session.connection().execute(wanted, {"job": job_id}).scalar())


def _say(session: Session, project_id: int, progress: RecutOut) -> None:
    message = {"project": project_id, "what": "recut", "rows": [], "recut": progress.model_dump()}
    tell(session, json.dumps(message))
