"""Files and geometry by content hash, streamed in chunks."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import ColumnElement, and_, delete, exists, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from edge_slice.store.tables import (
    Blob,
    BlobChunk,
    Issue,
    IssuedSheet,
    ModelImport,
    Publication,
    Revision,
    RevisionPart,
)

CHUNK = 4 * 1024 * 1024


def store_file(session: Session, path: Path) -> str:
    """Store a file's bytes; returns their hash. Bytes that are there already are not stored again."""
    digest = hashlib.sha256()
    with path.open("rb") as stream:
        while part := stream.read(CHUNK):
            digest.update(part)
    name = digest.hexdigest()
    if _new(session, name, path.stat().st_size):
        with path.open("rb") as stream:
            for index, part in enumerate(iter(lambda: stream.read(CHUNK), b"")):
                session.add(BlobChunk(hash=name, part=index, data=part))
                session.flush()
    return name


def store_bytes(session: Session, data: bytes) -> str:
    name = hashlib.sha256(data).hexdigest()
    if _new(session, name, len(data)):
        session.add_all(
            BlobChunk(hash=name, part=i, data=data[at : at + CHUNK]) for i, at in enumerate(range(0, len(data), CHUNK))
        )
        session.flush()
    return name


def _new(session: Session, name: str, size: int) -> bool:
    """Whether bytes of this name were not there; those that somebody else stores just now are waited for. What is there
    counts as stored now."""
    now = datetime.now(UTC)
    row = insert(Blob).values(hash=name, size=size, stored_at=now).on_conflict_do_nothing().returning(col(Blob.hash))
    if session.connection().execute(row).first() is not None:
        return True
    session.connection().execute(update(Blob).where(col(Blob.hash) == name).values(stored_at=now))
    return False


def size_of(session: Session, name: str) -> int | None:
    """How many bytes are kept under a name; None where there are none."""
    return session.exec(select(Blob.size).where(col(Blob.hash) == name)).first()


def read_chunks(session: Session, name: str) -> Iterator[bytes]:
    part = 0
    while (chunk := session.get(BlobChunk, (name, part))) is not None:
        yield chunk.data
        session.expunge(chunk)
        part += 1


def write_to(session: Session, name: str, path: Path) -> None:
    """Write what is kept under a name into a file."""
    with path.open("wb") as stream:
        for chunk in read_chunks(session, name):
            stream.write(chunk)


def drop_unused(session: Session, name: str | None) -> None:
    """Delete bytes that no row names any more."""
    if name is not None:
        session.connection().execute(delete(Blob).where(col(Blob.hash) == name, _unnamed))


def collect_pictures(session: Session, older_than: timedelta) -> int:
    """Delete what no row names and no document shows, nor could show again by undo or redo: pictures that were taken
    off. What was stored lately may be on its way into a document. How many went."""
    session.flush()
    link = session.connection()
    before = datetime.now(UTC) - older_than
    found = link.execute(select(Blob.hash).where(_unnamed, col(Blob.stored_at) < before)).scalars()
    if loose := set(found):
        loose -= set(link.execute(_SHOWN).scalars())
    for name in sorted(loose):
        link.execute(delete(Blob).where(col(Blob.hash) == name, _unnamed, col(Blob.stored_at) < before))
    return len(loose)


def _is_unnamed() -> ColumnElement[bool]:
    columns = (
        col(Revision.file_hash), col(Revision.geometry_hash), col(ModelImport.file_hash),
        col(ModelImport.geometry_hash), col(ModelImport.read_hash), col(ModelImport.part_hash),
        col(RevisionPart.file_hash), col(RevisionPart.geometry_hash), col(Issue.pdf_hash),
        col(IssuedSheet.pdf_hash), col(IssuedSheet.screen_hash),
        col(Publication.file_hash),
    )  # fmt: skip
    return and_(*(~exists().where(column == col(Blob.hash)) for column in columns))


_unnamed = _is_unnamed()
# names in documents are texts of 64 hexadecimal figures, whatever the field
_NAMES = "regexp_matches({}::text, '\"([0-9a-f]{{64}})\"', 'g')"
_SHOWN = text(
    " UNION ".join(
        f"SELECT found[1] FROM {table} AS t, {_NAMES.format(column)} AS found {where}"
        for table, column, where in (
            ("annotation", "t.document", ""),
            ("sheet_design", "t.document", ""),
            ("change", "coalesce(t.before, '{}')", "WHERE t.state <> 'dropped'"),
            ("change", "coalesce(t.after, '{}')", "WHERE t.state <> 'dropped'"),
        )
    )
)
