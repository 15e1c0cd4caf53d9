"""Pictures that annotations and title blocks show."""

from __future__ import annotations

import hashlib
import struct

from edge_slice.app.errors import NotFound, Refused
from edge_slice.store.blobs import read_chunks, store_bytes
from edge_slice.store.database import reading, transaction

LARGEST_PICTURE = 6 << 20


def store_picture(data: bytes) -> tuple[str, int, int]:
    """Keep a picture for annotations: its name, width and height in pixels."""
    wide, high = check_picture(data)
    with transaction() as session:
        store_bytes(session, data)
    return hashlib.sha256(data).hexdigest(), wide, high


def check_picture(data: bytes) -> tuple[int, int]:
    """Width and height of a picture in pixels. Raises `Refused` for what is none, or too large."""
    if len(data) > LARGEST_PICTURE:
        raise Refused(f"This picture is larger than {LARGEST_PICTURE >> 20} MB; make it smaller.", "file")
    size = _png_size(data)
    if size is None:
        raise Refused("This is no PNG picture; save it as PNG and try again.", "file")
    return size


def picture(name: str) -> bytes:
    with reading() as session:
        data = b"".join(read_chunks(session, name))
    if _png_size(data) is None:
        raise NotFound("There is no such picture.")
    return data


def _png_size(data: bytes) -> tuple[int, int] | None:
    if data[:8] != b"\x89PNG\r\n\x1a\n" or len(data) < 33 or data[12:16] != b"IHDR":
        return None
    wide, high = struct.unpack(">II", data[16:24])
    return (wide, high) if wide and high else None
