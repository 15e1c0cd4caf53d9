"""Files and geometry by content hash, streamed in chunks."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, delete, select

from edge_slice.store.tables import Blob, BlobChunk, Issue, IssuedSheet, ModelImport, Publication, Revision

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
    """Whether bytes of this name were not there; those that somebody else stores just now are waited for."""
    row = insert(Blob).values(hash=name, size=size).on_conflict_do_nothing().returning(col(Blob.hash))
    return session.connection().execute(row).first() is not None


def read_chunks(session: Session, name: str) -> Iterator[bytes]:
    part = 0
    while (chunk := session.get(BlobChunk, (name, part))) is not None:
        yield chunk.data
        session.expunge(chunk)
        part += 1


def drop_unused(session: Session, name: str | None) -> None:
    """Delete bytes that nothing needs any more."""
    if name is None:
        return
    used = session.exec(
        select(Revision.id).where((col(Revision.file_hash) == name) | (col(Revision.geometry_hash) == name))
    ).first()
    waiting = session.exec(
        select(ModelImport.id).where((col(ModelImport.file_hash) == name) | (col(ModelImport.geometry_hash) == name))
    ).first()
    kept = any(
        session.exec(select(column).where(column == name).limit(1)).first() is not None
        for column in (col(Issue.pdf_hash), col(IssuedSheet.pdf_hash), col(IssuedSheet.screen_hash),
                       col(Publication.file_hash))
    )  # fmt: skip
    if used is None and waiting is None and not kept:
        session.exec(delete(Blob).where(col(Blob.hash) == name))
