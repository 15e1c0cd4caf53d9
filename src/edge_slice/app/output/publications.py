"""Sheets as files, made by a worker: one linked PDF, or an archive of files; nothing is there before it is whole."""

from __future__ import annotations

import json
import logging
from concurrent.futures import ThreadPoolExecutor

from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as NoConnection
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.output.documents import PublicationNew, PublicationOut
from edge_slice.app.output.exports import File, archive
from edge_slice.app.output.issues import check_code, freeze
from edge_slice.app.people.rights import Person
from edge_slice.app.review.notices import members_of, notify_people
from edge_slice.app.room import NO_ROOM, check_room
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.sheet_views import SheetsAround, screen_of
from edge_slice.core.project.sheets import sheet_file_name, size_of
from edge_slice.core.project.shown import key_of
from edge_slice.core.render.binding import bound, leaf_bytes, leaf_from_bytes
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import OUTPUTS
from edge_slice.core.sheet import IssuedRow
from edge_slice.core.sheet.plots import DoesNotFit, PlotSpec, plot_of
from edge_slice.store.blobs import drop_unused, read_chunks, store_bytes
from edge_slice.store.changes import hold, notify, tell
from edge_slice.store.database import reading, transaction
from edge_slice.store.kept import kept, known
from edge_slice.store.queue import defer, without_job
from edge_slice.store.room import is_full
from edge_slice.store.tables import Blob, Issue, Publication, Sheet

QUEUE, TASK = "publications", "publish"
ATTEMPTS = 5  # what brings its worker down this often is given up
KEPT = 12  # publications of a project that can still be fetched
AT_ONCE = 2  # sheets drawn at the same time
log = logging.getLogger(__name__)


def start(project_id: int, new: PublicationNew, author: str) -> PublicationOut:
    """Queue it. Raises `Refused` for an issue whose code is taken, or without sheets."""
    check_room(0)
    with transaction() as session:
        project_row(session, project_id)
        around = SheetsAround(session, project_id)
        rows = _wanted(around, new)
        if not rows:
            raise Refused("There are no sheets yet; make one first.", "sheets")
        if new.issue is not None:
            check_code(session, project_id, new.issue.code)
        if new.plot is not None:
            _check_papers(rows, around, new.plot)
        row = Publication(project_id=project_id, wanted=new.model_dump(mode="json"), author=author, of=len(rows))
        session.add(row)
        session.flush()
        _drop_old(session, project_id)
        _queue(session, row)
        return _out(row)


def _check_papers(rows: list[Sheet], around: SheetsAround, plot: PlotSpec) -> None:
    """Raise `Refused` where one of the sheets does not fit its paper: now, rather than after the others are drawn."""
    for row in rows:
        try:
            plot_of(plot, size_of(row), around.design(row).frame(size_of(row)), row.number)
        except DoesNotFit as error:
            raise Refused(str(error), "plot") from error


def _queue(session: Session, row: Publication) -> None:
    defer(session, QUEUE, TASK, {"publication_id": row.id})


def retry(publication_id: int) -> PublicationOut:
    """Make a file once more that could not be made, or that was cancelled; of the sheets as they are now."""
    with transaction() as session:
        row = _row(session, publication_id, locked=True)
        if row.state not in ("failed", "cancelled"):
            raise Refused("Only what failed or was cancelled can be started again.", "state")
        wanted = PublicationNew.model_validate(row.wanted)
        if wanted.issue is not None:
            check_code(session, row.project_id, wanted.issue.code)
        row.state, row.message, row.attempts, row.done = "waiting", "", 0, 0
        session.add(row)
        _queue(session, row)
        _say(session, row)
        return _out(row)


def queue_lost() -> None:
    """Queue what is under way and no job is at: its worker was stopped in the midst of it."""
    under_way = select(Publication.id).where(col(Publication.state).in_(("waiting", "working")))
    with transaction() as session:
        numbers = [n for n in session.exec(under_way.with_for_update(skip_locked=True)).all() if n is not None]
        for number in without_job(session, TASK, "publication_id", numbers):
            _queue(session, _row(session, number))


def get(publication_id: int) -> PublicationOut:
    with reading() as session:
        return _out(_row(session, publication_id))


def cancel(publication_id: int) -> PublicationOut:
    """Stop after the sheets that are being drawn; nothing is left of it."""
    with transaction() as session:
        row = _row(session, publication_id, locked=True)
        if row.state in ("waiting", "working"):
            row.state = "cancelled"
            session.add(row)
            _say(session, row)
        return _out(row)


def file_of(publication_id: int) -> File:
    with reading() as session:
        row = _row(session, publication_id)
        if row.file_hash is None:
            raise NotFound("This file is not ready; its state says why.")
        data = b"".join(read_chunks(session, row.file_hash))
    media = "application/zip" if row.file_name.endswith(".zip") else OUTPUTS[_form(row)].media_type
    return File(row.file_name, media, data)


def _form(row: Publication) -> str:
    """The kind of file that is wanted."""
    return str(row.wanted.get("form", "pdf"))


def run(publication_id: int) -> None:
    """Draw the sheets that are not known, then bind all. After a stop it goes on with what was drawn."""
    wanted = _begin(publication_id)
    if wanted is None:
        return
    try:
        project, left = _left(publication_id, wanted)
        with ThreadPoolExecutor(AT_ONCE) as pool:
            for _ in pool.map(lambda number: _draw(publication_id, project, wanted, number), left):
                pass
        with transaction() as session:
            _finish(session, publication_id, wanted)
    except (Refused, NotFound, DoesNotFit) as error:
        _fail(publication_id, str(error))
    except (OperationalError, NoConnection) as error:
        if not is_full(error):
            raise  # the database is away, or others were in the way: the queue tries again
        _fail(publication_id, f"{NO_ROOM} Start it again when there is.")
    except Exception:
        log.exception("publication %s", publication_id)
        _fail(publication_id, "The file could not be made; the worker's log has the details. Start it again.")


def _begin(publication_id: int) -> PublicationNew | None:
    """Say that it is under way; None where it is not, or brought its workers down too often."""
    with transaction() as session:
        wanted = select(Publication).where(col(Publication.id) == publication_id).with_for_update()
        row = session.exec(wanted).first()
        if row is None or row.state not in ("waiting", "working"):
            return None
        row.attempts += 1
        row.state = "working" if row.attempts <= ATTEMPTS else "failed"
        if row.state == "failed":
            row.message = f"Making this file was broken off {ATTEMPTS} times, so it was given up. Start it again."
        session.add(row)
        _say(session, row)
        return PublicationNew.model_validate(row.wanted) if row.state == "working" else None


def _left(publication_id: int, wanted: PublicationNew) -> tuple[int, list[int]]:
    """The project, and the sheets that are still to be drawn."""
    with transaction() as session:
        row = _row(session, publication_id, locked=True)
        around = _around(session, row.project_id, wanted)
        keys = {s.id or 0: _key(around, s, wanted) for s in _wanted(around, wanted)}
        there = known(session, list(keys.values()))
        left = [number for number, key in keys.items() if key not in there]
        row.done, row.of = len(keys) - len(left), len(keys)
        session.add(row)
        _say(session, row)
        return row.project_id, left


def _draw(publication_id: int, project_id: int, wanted: PublicationNew, number: int) -> None:
    """One sheet, if nobody has cancelled meanwhile."""
    with reading() as session:
        row = session.get(Publication, publication_id)
        if row is None or row.state != "working":
            return
        around = _around(session, project_id, wanted)
        sheet = next((s for s in around.sheets if s.id == number), None)
        if sheet is not None:
            _part(around, sheet, wanted)
            if wanted.issue is not None:
                screen_of(sheet, around)  # kept with the issue: not to be drawn while others wait
    with transaction() as session:
        row = _row(session, publication_id, locked=True)
        row.done += 1
        session.add(row)
        _say(session, row)


def _finish(session: Session, publication_id: int, wanted: PublicationNew) -> None:
    project_id = _row(session, publication_id).project_id
    hold(session, project_id)
    row = _row(session, publication_id, locked=True)
    if row.state != "working":
        return
    around = _around(session, project_id, wanted)
    sheets = _wanted(around, wanted)
    project = project_row(session, project_id)
    title = f"{project.name} {wanted.issue.code}" if wanted.issue else project.name
    subject = wanted.issue.purpose if wanted.issue else ""
    bound = OUTPUTS[wanted.form].bound
    said = title if wanted.plot is None else f"{title} {wanted.plot.paper or 'plot'}"
    row.file_name = f"{plain_name(said)}.{wanted.form}" if bound else f"{plain_name(title)}-{wanted.form}.zip"
    keys = [_key(around, s, wanted) for s in sheets]
    archival = "archival" if wanted.plot is not None and wanted.plot.archival else ""
    made = key_of("set", title, subject, wanted.form + archival, *keys)

    def together() -> str:
        return store_bytes(session, _together(around, sheets, wanted, title, subject))

    row.file_hash = kept(session, project_id, made, lambda: together().encode()).decode()
    if session.get(Blob, row.file_hash) is None:  # made before, and dropped since
        row.file_hash = together()
    if wanted.issue is not None:
        pages = [(s, screen_of(s, around), leaf_from_bytes(_part(around, s, wanted)).pdf) for s in sheets]
        row.issue_id = freeze(session, around, wanted.issue, pages, row.file_hash)
        notify(session, project_id, "issue")
        _tell_members(session, row, wanted.issue.code)
    row.state = "ready"
    session.add(row)
    session.flush()
    _say(session, row)


def _tell_members(session: Session, row: Publication, code: str) -> None:
    issue = session.get_one(Issue, row.issue_id)
    notify_people(session, members_of(session, row.project_id), Person(name=row.author), "issue", code, issue)


def _together(around: SheetsAround, sheets: list[Sheet], wanted: PublicationNew, title: str, subject: str) -> bytes:
    """The file of all sheets."""
    if OUTPUTS[wanted.form].bound:
        leaves = [leaf_from_bytes(_part(around, s, wanted)) for s in sheets]
        return bound(leaves, title, subject, wanted.plot is not None and wanted.plot.archival)
    return archive([(sheet_file_name(s, wanted.form), _part(around, s, wanted)) for s in sheets])


def _key(around: SheetsAround, row: Sheet, wanted: PublicationNew) -> str:
    """The name of what a publication keeps of a sheet."""
    if not OUTPUTS[wanted.form].bound:
        return key_of("file", wanted.form, str(wanted.dpi), around.picture(row))
    home = repr([p.home for p in around.on(row)])
    if wanted.plot is not None:
        return key_of("plot", around.picture(row), home, wanted.plot.model_dump_json(exclude={"archival"}))
    return key_of("page", around.picture(row), home)


def _part(around: SheetsAround, row: Sheet, wanted: PublicationNew) -> bytes:
    """What a publication keeps of a sheet: its file, or the page that is bound."""

    def make() -> bytes:
        if not OUTPUTS[wanted.form].bound:
            return around.file(row, wanted.form, wanted.dpi)
        return leaf_bytes(around.leaf(row, wanted.plot))

    return kept(around.session, around.project_id, _key(around, row, wanted), make)


def _around(session: Session, project_id: int, wanted: PublicationNew) -> SheetsAround:
    """What the sheets depend on; with the issue that is being made."""
    around = SheetsAround(session, project_id)
    if wanted.issue is None:
        return around
    issue = wanted.issue
    row = IssuedRow(issue.code, issue.date, issue.purpose, issue.issued_by)
    around.with_issue({s.id or 0 for s in _wanted(around, wanted)}, row)
    return around


def _wanted(around: SheetsAround, wanted: PublicationNew) -> list[Sheet]:
    chosen = set(wanted.sheets)
    mine = {s.id for s in around.sheets}
    if any(number not in mine for number in chosen):
        raise Refused("One of these sheets is not there any more; choose again.", "sheets")
    return [s for s in around.sheets if not chosen or s.id in chosen]


def _fail(publication_id: int, message: str) -> None:
    with transaction() as session:
        row = session.get(Publication, publication_id, with_for_update=True)
        if row is not None and row.state == "working":  # else its project is gone
            row.state, row.message = "failed", message
            session.add(row)
            _say(session, row)


def _drop_old(session: Session, project_id: int) -> None:
    newest = select(Publication).where(col(Publication.project_id) == project_id).order_by(col(Publication.id).desc())
    for row in session.exec(newest.offset(KEPT)).all():
        name = row.file_hash
        session.delete(row)
        session.flush()
        drop_unused(session, name)


def _row(session: Session, publication_id: int, locked: bool = False) -> Publication:
    wanted = select(Publication).where(col(Publication.id) == publication_id)
    if locked:
        wanted = wanted.with_for_update().execution_options(populate_existing=True)
    row = session.exec(wanted).first()
    if row is None:
        raise NotFound("This file is not there any more; make it again.")
    return row


def _say(session: Session, row: Publication) -> None:
    """Tell the project's windows how far it is."""
    session.flush()
    message = {"project": row.project_id, "what": "publication", "rows": [], "publication": _out(row).model_dump()}
    tell(session, json.dumps(message))


def _out(row: Publication) -> PublicationOut:
    fields = row.model_dump(include={"project_id", "state", "done", "of", "message", "file_name", "issue_id"})
    return PublicationOut(id=row.id or 0, form=_form(row), **fields)
