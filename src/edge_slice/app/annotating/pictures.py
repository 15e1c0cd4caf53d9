"""Pictures that annotations and title blocks show."""

from __future__ import annotations

from sqlmodel import Session

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.row_lookup import project_row
from edge_slice.core.project.file.pictures import LARGEST, SIGNATURE, picture_size
from edge_slice.store.blobs import read_chunks, size_of, store_bytes
from edge_slice.store.database import reading, transaction
from edge_slice.store.people import ProjectPicture


def store_picture(project_id: int, data: bytes) -> tuple[str, int, int]:
    """Keep a picture for annotations of a project: its name, width and height in pixels. Raises `Refused`."""
    wide, high = picture_size(data)
    with transaction() as session:
        project_row(session, project_id)
        name = store_bytes(session, data)
        session.merge(ProjectPicture(project_id=project_id, hash=name))
    return name, wide, high


def picture(name: str) -> bytes:
    with reading() as session:
        data = kept_picture(session, name)
    if data is None:
        raise NotFound("There is no such picture.")
    return data


def check_kept(session: Session, name: str, field: str) -> None:
    """Raises `Refused` for the name of what is no picture, or is not kept here: what shows it could not be drawn."""
    data = kept_picture(session, name)
    if data is None:
        raise Refused("This picture is not kept here; load it first.", field)
    picture_size(data)


def check_loaded(session: Session, project_id: int, name: str, field: str) -> None:
    """Raises `Refused` for the name of a picture that was not loaded for a project."""
    if session.get(ProjectPicture, (project_id, name)) is None:
        raise Refused("This picture is not kept here; load it first.", field)


def kept_picture(session: Session, name: str) -> bytes | None:
    """The bytes under a name, if they may be a picture: models are kept so too, and are large. None where none is."""
    size = size_of(session, name)
    if size is None or size > LARGEST:
        return None
    data = b"".join(read_chunks(session, name))
    return data if data.startswith(SIGNATURE) else None
