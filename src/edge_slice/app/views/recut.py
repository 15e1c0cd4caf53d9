"""Cutting all drawings of a project anew in the background, so that each is there when somebody wants to see it."""

from __future__ import annotations

import json
from collections.abc import Callable

from sqlmodel import Session

from edge_slice.app.drawings.documents import RecutOut
from edge_slice.app.drawings.drawing_rows import project_drawings
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.row_lookup import project_row
from edge_slice.app.views.composed import view_of
from edge_slice.store import queue
from edge_slice.store.changes import tell
from edge_slice.store.database import transaction

QUEUE, TASK = "views", "recut"


def start(project_id: int) -> RecutOut:
    """Queue it, unless it is under way already."""
    with transaction() as session:
        project_row(session, project_id)
        count = len(project_drawings(session, project_id))
        if not queue.under_way(session, TASK, "project_id", project_id):
            queue.defer(session, QUEUE, TASK, {"project_id": project_id})
        return RecutOut(done=0, of=count)


def queue_quietly(session: Session, project_id: int) -> None:
    """The same within another act, for what it changed; also where one is under way, which may have passed by what is
    to be cut anew already. What is known is not cut again."""
    queue.defer(session, QUEUE, TASK, {"project_id": project_id})


def cancel(project_id: int) -> None:
    """Stop after the drawing that is being cut; what was cut stays."""
    with transaction() as session:
        project_row(session, project_id)
        for job in queue.under_way(session, TASK, "project_id", project_id):
            queue.cancel(session, job)
        _say(session, project_id, RecutOut(done=0, of=0))


def run(project_id: int, cancelled: Callable[[], bool]) -> None:
    """Cut what is not known yet, drawing after drawing, and tell the project's windows how far it is."""
    with transaction() as session:
        try:
            numbers = [d.id for d in project_drawings(session, project_id) if d.id is not None]
        except NotFound:
            return
    for done, number in enumerate(numbers):
        with transaction() as session:
            if cancelled():
                return
            _say(session, project_id, RecutOut(done=done, of=len(numbers)))
        try:
            view_of(number)
        except (NotFound, Refused):
            continue  # deleted meanwhile, or says itself what is wrong when it is looked at
    with transaction() as session:
        _say(session, project_id, RecutOut(done=len(numbers), of=len(numbers)))


def _say(session: Session, project_id: int, progress: RecutOut) -> None:
    message = {"project": project_id, "what": "recut", "rows": [], "recut": progress.model_dump()}
    tell(session, json.dumps(message))
