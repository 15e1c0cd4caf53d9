"""From an uploaded file to a project: accepted at once or refused, read by a worker, all or nothing."""

from __future__ import annotations

import logging
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import and_
from sqlalchemy.exc import OperationalError
from sqlmodel import Session, col, select

from edge_slice.app.drawings.lineage import add_starting_drawings
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.import_documents import ImportOut
from edge_slice.app.models.in_memory import facts_of, newest_revision, numbered_revision
from edge_slice.app.models.part_documents import PartChoice, PartProposal
from edge_slice.app.models.part_states import part_rows
from edge_slice.app.models.proposing import choose, known_before, propose, propose_earlier
from edge_slice.app.models.revision_documents import ModelChangesOut
from edge_slice.app.models.revisions import take_in
from edge_slice.app.output.project_imports import ARCHIVE, ReadProject, check_archive
from edge_slice.app.people.members import owner_of
from edge_slice.app.people.rights import Person, projects_of
from edge_slice.app.room import NO_ROOM, check_room
from edge_slice.app.row_lookup import project_row
from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.files.any_file import check_file, read_model
from edge_slice.core.model.files.units import FILE_KINDS, METRES, SILENT
from edge_slice.core.model.storage import model_to_bytes
from edge_slice.core.project.file.project_file import ProjectFile
from edge_slice.settings import settings
from edge_slice.store.blobs import drop_unused, store_bytes, store_file, write_to
from edge_slice.store.changes import hold, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.queue import defer, without_job
from edge_slice.store.room import is_full
from edge_slice.store.tables import ModelImport, Project, Revision

TAKES = 3  # times the size of a file, of the file and what is read of it
ATTEMPTS = 3  # a file that brings its reader down this often is given up
QUEUE, TASK = "models", "read-model"
log = logging.getLogger(__name__)


class Cancelled(Exception):
    """The user cancelled the import."""


@dataclass(frozen=True)
class Sent:
    """A file as it is sent: `unit` and `up` say of one without building data what it does not say itself; `into`: the
    project that it is a newer revision or another part for, else it becomes a project of its own; `beside`: the import
    whose project it is to be a part of; `sender`: the account of who sends it, where people sign in."""

    file_name: str
    unit: str = ""
    up: str = ""
    into: int | None = None
    beside: int | None = None
    sender: int | None = None


def accept_upload(path: Path, sent: Sent) -> ImportOut:
    """Take a file in for reading. Raises `Refused` for what is plainly no model; then nothing is kept."""
    file_name, unit, up, into, beside = sent.file_name, sent.unit, sent.up, sent.into, sent.beside
    if unit not in ("", *METRES) or up not in ("", "y", "z"):
        raise Refused(f"A unit is one of {', '.join(METRES)}, and up is y or z.", "unit")
    if Path(file_name).suffix.lower() in SILENT and not unit:
        raise Refused(f"{file_name}: files of this kind do not say their unit; say which it is.", "unit")
    check_room(TAKES * path.stat().st_size)
    packed = Path(file_name).suffix.lower() == ARCHIVE
    if packed and (into is not None or beside is not None):
        raise Refused("An archive holds a whole project; load it as a project of its own.", "file")
    try:
        if packed:
            check_archive(path)
        else:
            check_file(path, Path(file_name).suffix)
    except UnreadableModel as error:
        raise Refused(f"{file_name}: {error}", "file") from error
    with transaction() as session:
        if into is not None:
            project_row(session, into)
        stored = store_file(session, path)
        if into is not None:
            _check_new(session, into, stored, file_name)
        row = ModelImport(
            file_name=file_name, file_hash=stored, unit=unit, up=up, into_id=into, sender_id=sent.sender
        )  # fmt: skip
        if beside is not None:
            _put_beside(session, row, beside)
        session.add(row)
        session.flush()
        if beside is None or row.into_id is not None:
            _queue(session, row)
        notify(session, None, "import")
        return _out(row)


def _put_beside(session: Session, row: ModelImport, beside: int) -> None:
    """Let a file wait for another one to become a project, or go into it at once where it has."""
    leading = session.get(ModelImport, beside, with_for_update=True)
    if leading is None or leading.into_id is not None or leading.state in ("failed", "cancelled"):
        raise Refused("The file that this one belongs to was not taken in; send it alone.", "beside")
    if Path(leading.file_name).suffix.lower() == ARCHIVE:
        raise Refused("An archive holds a whole project; send other files into that project.", "beside")
    row.beside_id, row.into_id = beside, leading.project_id


def _let_in(session: Session, leading: ModelImport) -> None:
    """What was to lie beside a file that has become a project goes into it; where it has not, it is not read."""
    waiting = select(ModelImport).where(col(ModelImport.beside_id) == leading.id, col(ModelImport.state) == "waiting")
    for row in session.exec(waiting.order_by(col(ModelImport.id))).all():
        if leading.project_id is not None:
            row.into_id = leading.project_id
            _queue(session, row)
        else:
            row.state = "failed"
            row.message = (
                f"{leading.file_name}, which it was to be read beside, did not become a project. Send it alone."
            )
        session.add(row)


def _check_new(session: Session, project_id: int, stored: str, file_name: str) -> None:
    """Raise `Refused` for a file that a project has already."""
    newest = newest_revision(session, project_id)
    if stored in {newest.file_hash, *(row.file_hash for row in part_rows(session, newest))}:
        raise Refused(f"{file_name} is in use in this project already; nothing in it changed.", "file")


def _queue(session: Session, row: ModelImport) -> None:
    defer(session, QUEUE, TASK, {"import_id": row.id})


def queue_lost() -> None:
    """Queue imports under way that no job is at: their worker was stopped in the midst of them."""
    waits = and_(col(ModelImport.beside_id).is_not(None), col(ModelImport.into_id).is_(None))
    under_way = select(ModelImport.id).where(col(ModelImport.state).in_(("waiting", "reading")), ~waits)
    with transaction() as session:
        numbers = [n for n in session.exec(under_way.with_for_update(skip_locked=True)).all() if n is not None]
        for number in without_job(session, TASK, "import_id", numbers):
            _queue(session, _row(session, number))


def retry_import(import_id: int) -> ImportOut:
    """Read a file once more that was given up."""
    with transaction() as session:
        row = _row(session, import_id)
        if row.state != "failed" or row.file_hash is None:
            raise Refused("This import can't be tried again; upload the file once more.")
        row.state, row.attempts, row.progress, row.message = "waiting", 0, 0.0, ""
        if row.beside_id is not None and row.into_id is None:
            _put_beside(session, row, row.beside_id)
        session.add(row)
        session.flush()
        if row.beside_id is None or row.into_id is not None:
            _queue(session, row)
        notify(session, None, "import")
        return _out(row)


def count_crash(import_id: int, reason: str) -> bool:
    """Hold a crash of the reader against its file; whether it is to be tried again. A file that is given up is kept, to
    be tried again by hand."""
    with transaction() as session:
        row = session.get(ModelImport, import_id, with_for_update=True)
        if row is None or row.state not in ("waiting", "reading"):
            return False
        row.attempts += 1
        if row.attempts >= ATTEMPTS:
            row.state = "failed"
            _let_in(session, row)
            row.message = f"Reading this file brought the reader down {ATTEMPTS} times ({reason}), so it was given up."
        session.add(row)
        notify(session, None, "import")
        return row.state != "failed"


def list_imports(person: Person) -> list[ImportOut]:
    """Those under way or failed that somebody may see: into their projects, or sent by them."""
    with reading() as session:
        rows = session.exec(select(ModelImport).order_by(col(ModelImport.id).desc())).all()
        if not person.sees_all:
            mine = projects_of(session, person)
            rows = [r for r in rows if (r.into_id in mine if r.into_id else r.sender_id == person.account)]
        return [_out(r) for r in rows if r.state != "ready"]


def get_import(import_id: int) -> ImportOut:
    with reading() as session:
        return _out(_row(session, import_id))


def choose_part(import_id: int, choice: PartChoice) -> ImportOut:
    """Say of a file that was read which part of the project it is, and where it lies."""
    return _out(choose(import_id, choice))


def drop_import(import_id: int) -> None:
    """Cancel a running import, or dismiss the note of one that ended; its bytes go too."""
    with transaction() as session:
        row = _row(session, import_id)
        if row.state in ("waiting", "reading"):
            row.state = "cancelled"
            session.add(row)
            _let_in(session, row)
        else:
            into, names = row.into_id, (row.file_hash, row.geometry_hash, row.read_hash, row.part_hash)
            session.delete(row)
            session.flush()
            for name in names:
                drop_unused(session, name)
            if into is not None:
                notify(session, into, "import")
        notify(session, None, "import")


def run_import(import_id: int) -> None:
    """Read the file of an import and make its project. Safe to run again after a killed worker or reader."""
    with transaction() as session:
        row = session.get(ModelImport, import_id)
        if row is None or row.state not in ("waiting", "reading", "cancelled"):
            return
        if row.state == "waiting":
            row.state = "reading"
        session.add(row)
        notify(session, None, "import")
    try:
        _read_and_store(import_id)
    except UnreadableModel as error:
        _end(import_id, "failed", str(error))
    except Cancelled:
        _end(import_id, "cancelled", "Cancelled. Nothing was kept.")
    except OperationalError as error:
        if not is_full(error):
            raise  # the database is away: the queue tries again
        _end(import_id, "failed", f"{NO_ROOM} Nothing was kept; try again when there is room.")
    except Exception as error:
        log.exception("import %s", import_id)
        if is_full(error):
            _end(import_id, "failed", "The disk of the worker is full. Nothing was kept; try again when there is room.")
            return
        _end(import_id, "failed", "Reading this file failed; the worker's log has the details. Nothing was kept.")


def _read_and_store(import_id: int) -> None:
    with tempfile.TemporaryDirectory() as folder:
        reporter, threads = _Reporter(import_id), settings().import_threads
        with transaction() as session:
            row = _row(session, import_id)
            if row.state == "cancelled":
                raise Cancelled
            file_name = row.file_name
            unit: Any = row.unit or None
            up: Any = row.up or None
            suffix = Path(file_name).suffix.lower()
            kind = suffix if suffix in (*FILE_KINDS, ARCHIVE) else ".ifc"
            path = Path(folder) / f"{Path(file_name).stem[:80]}{kind}"
            write_to(session, row.file_hash or "", path)
            known = None if row.into_id is None else known_before(session, row.into_id, file_name)
        if suffix == ARCHIVE:

            def read(file: Path, document: ProjectFile, before: Model | None) -> Model:
                return read_model(file, reporter, threads, document.unit, document.up, before)

            _store_project(import_id, ReadProject(path, Path(folder) / "project", read))
            return
        model = read_model(path, reporter, threads, unit, up, known)
    with transaction() as session:
        mine = _still_reading(session, import_id)
        if mine is None:
            return
        row = mine
        if row.into_id is not None:
            if row.beside_id is not None:
                hold(session, row.into_id)  # several come at once: each is told apart from those before it
            propose(session, row, model)
            _take_if_sure(session, row)
        else:
            _begin_project(session, row, model)


def _begin_project(session: Session, row: ModelImport, model: Model) -> None:
    """A project of a model that was read, with a plan of each storey."""
    geometry = store_bytes(session, model_to_bytes(model))
    project = Project(name=model.name or Path(row.file_name).stem)
    session.add(project)
    session.flush()
    assert project.id is not None
    session.add(
        Revision(project_id=project.id, number=1, file_name=row.file_name, file_hash=row.file_hash or "",
                 geometry_hash=geometry, facts=facts_of(model, row.unit, row.up).model_dump(mode="json"))
    )  # fmt: skip
    owner_of(session, row.sender_id, project.id)
    add_starting_drawings(session, project.id, model)
    row.state, row.progress, row.project_id, row.file_hash = "ready", 1.0, project.id, None
    session.add(row)
    _let_in(session, row)
    notify(session, project.id, "import")
    notify(session, None, "import")


def _take_if_sure(session: Session, row: ModelImport) -> None:
    """Take a part that was sent together with the file that its project was made of, where it is sure which part it is
    and where it lies: nobody has drawn anything yet that it could change."""
    part = PartProposal.model_validate(row.part)
    if row.beside_id is not None and part.sure and part.placed_surely and not part.key:
        try:
            take_in(session, row, False)
        except Refused:  # before anything changed: somebody else took one meanwhile
            log.info("import %s stays proposed", row.id)


def _still_reading(session: Session, import_id: int) -> ModelImport | None:
    """An import, locked, to be brought to its end; None where another reader, of a worker that was taken for dead, was
    sooner. Raises `Cancelled`."""
    row = session.exec(select(ModelImport).where(col(ModelImport.id) == import_id).with_for_update()).one()
    if row.state == "cancelled":
        raise Cancelled
    return row if row.state == "reading" else None


def _store_project(import_id: int, read: ReadProject) -> None:
    """Keep a project of files, in one transaction."""
    with transaction() as session:
        row = _still_reading(session, import_id)
        if row is None:
            return
        project = read.store(session)
        owner_of(session, row.sender_id, project.id or 0)
        stored = row.file_hash
        row.state, row.progress, row.project_id, row.file_hash = "ready", 1.0, project.id, None
        session.add(row)
        session.flush()
        drop_unused(session, stored)
        notify(session, project.id, "import")
        notify(session, None, "import")


def propose_again(project_id: int, number: int) -> ImportOut:
    """Propose an earlier revision of a project's model anew: what would change is told, and nothing does until it is
    taken. So a revision that was taken can be taken back."""
    with transaction() as session:
        hold(session, project_id)
        newest, earlier = newest_revision(session, project_id), numbered_revision(session, project_id, number)
        if earlier.geometry_hash == newest.geometry_hash:
            raise Refused(f"Revision {number} is what is in use; choose another one.", "number")
        open_ones = col(ModelImport.state).in_(("waiting", "reading", "proposed"))
        under_way = select(ModelImport).where(col(ModelImport.into_id) == project_id, open_ones)
        if session.exec(under_way).first() is not None:
            raise Refused("A revision is proposed already: take it, or leave it, first.", "number")
        read_as = earlier.facts.get("read_as", {})
        row = ModelImport(
            file_name=earlier.file_name, file_hash=earlier.file_hash, unit=read_as.get("unit", ""),
            up=read_as.get("up", ""), into_id=project_id,
        )  # fmt: skip
        propose_earlier(session, row, newest, earlier)
        session.flush()
        return _out(row)


class _Reporter:
    """Writes progress at most twice a second, and raises when the user has cancelled."""

    def __init__(self, import_id: int) -> None:
        self.import_id, self.last = import_id, 0.0

    def __call__(self, share: float, text: str) -> None:
        now = time.monotonic()
        if now - self.last < 0.5 and share < 1:
            return
        self.last = now
        with transaction() as session:
            row = _row(session, self.import_id)
            if row.state == "cancelled":
                raise Cancelled
            row.progress, row.message = share, text
            session.add(row)
            notify(session, None, "import")


def _end(import_id: int, state: str, message: str) -> None:
    with transaction() as session:
        row = session.get(ModelImport, import_id)
        if row is None:
            return
        stored = row.file_hash
        row.state, row.message, row.file_hash = state, message, None
        session.add(row)
        session.flush()
        _let_in(session, row)
        drop_unused(session, stored)
        notify(session, None, "import")


def _row(session: Session, import_id: int) -> ModelImport:
    row = session.get(ModelImport, import_id)
    if row is None:
        raise NotFound("This import is not there any more.")
    return row


def _out(row: ModelImport) -> ImportOut:
    facts = row.model_dump(include=set(ImportOut.model_fields) - {"can_retry", "changes", "part"})
    proposed = row.state == "proposed"
    changes = ModelChangesOut.model_validate(row.changes) if proposed else None
    part = PartProposal.model_validate(row.part) if proposed and row.part else None
    return ImportOut(**facts, changes=changes, part=part, can_retry=row.state == "failed" and row.file_hash is not None)
