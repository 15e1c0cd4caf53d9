"""How much room there is for the database, where that is known: its folder is on this machine, or somebody said how
much it may take. Some is spared for what people edit: what is large, or made for speed alone, is kept no more before
that is touched."""

from __future__ import annotations

import errno
import os
import time

from psycopg.errors import DiskFull
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

from edge_slice.settings import settings
from edge_slice.store.database import engine

MB = 2**20
LASTS = 5.0  # seconds that what was found counts
_found: tuple[float, float | None] | None = None  # when, and what


def spare_room() -> float | None:
    """Bytes left beside what is spared, negative where that is touched; None where nobody can know."""
    global _found
    now = time.monotonic()
    if _found is None or now - _found[0] > LASTS:
        _found = (now, _measured())
    return _found[1]


def _measured() -> float | None:
    limits, left = settings(), []
    if limits.database_folder:
        there = os.statvfs(limits.database_folder)
        left.append(float(there.f_bavail * there.f_frsize))
    if limits.database_mb:
        with engine().connect() as link:
            taken = link.execute(text("SELECT pg_database_size(current_database())")).scalar_one()
        left.append(limits.database_mb * MB - float(taken))
    return min(left) - limits.spared_mb * MB if left else None


def is_full(error: BaseException) -> bool:
    """Whether something could not be written for want of room: the database's, or a file here."""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    return isinstance(error, DBAPIError) and isinstance(error.orig, DiskFull)
