"""Composed views, pages and files, kept under the names of all that they depend on.

A name is never used for two contents, so it does not matter who keeps one, or when. Whatever is made in a transaction
is kept after its end, each in a transaction of its own: nobody who reads or edits waits for it, and it can't fail them.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Collection
from datetime import UTC, datetime, timedelta

from sqlalchemy import text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import SQLAlchemyError
from sqlmodel import Session, col, select

from edge_slice.store.database import afterwards, engine
from edge_slice.store.room import spare_room
from edge_slice.store.tables import KeptView

SEEN_AGAIN = timedelta(hours=1)  # what was used that long ago is said to be used anew
_MADE, _USED = "made to be kept", "kept and used"
PATIENCE = "2s"  # for a lock; what can't be kept by then is made again some time
PRUNING = 0x45_44_47_45  # the advisory lock of the one who prunes

_TOUCH = text(
    "UPDATE kept_view SET used_at = :now WHERE key IN (SELECT key FROM kept_view WHERE key = ANY(:keys)"
    " ORDER BY key FOR UPDATE SKIP LOCKED)"
)
_SPARE = text(
    "SELECT key FROM (SELECT key, sum(size) OVER (PARTITION BY project_id ORDER BY used_at DESC, key) AS mine,"
    " sum(size) OVER (ORDER BY used_at DESC, key) AS everybody_s FROM kept_view) AS counted"
    " WHERE mine > :by_project OR everybody_s > :together"
)
_PRUNE = text(
    "DELETE FROM kept_view WHERE key IN (SELECT key FROM kept_view WHERE key = ANY(:keys)"
    " ORDER BY key FOR UPDATE SKIP LOCKED)"
)


def kept(session: Session, project_id: int, key: str, make: Callable[[], bytes]) -> bytes:
    """What was made under a key before, by whichever process; else it is made now, and kept when the session ends."""
    made = session.info.setdefault(_MADE, {})
    if key in made:
        return bytes(made[key][1])
    found = session.exec(select(KeptView.data, KeptView.used_at).where(col(KeptView.key) == key)).first()
    if found is not None:
        if datetime.now(UTC) - found[1] > SEEN_AGAIN:
            _used(session, {key})
        return found[0]
    data = make()
    keep(session, project_id, key, data)
    return data


def keep(session: Session, project_id: int, key: str, data: bytes) -> None:
    """Keep something when the session ends."""
    session.info.setdefault(_MADE, {})[key] = (project_id, data)
    afterwards(session, _write)


def known(session: Session, keys: Collection[str]) -> set[str]:
    """Those of these keys under which something is kept; they count as used."""
    rows = session.exec(select(KeptView.key, KeptView.used_at).where(col(KeptView.key).in_(keys))).all()
    _used(session, {key for key, used in rows if datetime.now(UTC) - used > SEEN_AGAIN})
    return {key for key, _ in rows}


def _used(session: Session, keys: set[str]) -> None:
    session.info.setdefault(_USED, set()).update(keys)
    afterwards(session, _write)


def _write(session: Session) -> None:
    """Keep what was made in a session, and say what was used. Where that fails it is told in the log alone: what was
    made is there, and is made again another time."""
    made, used = session.info.pop(_MADE, {}), session.info.pop(_USED, set())
    try:
        left = spare_room() if made else None
        for key, (project_id, data) in sorted(made.items() if left is None or left > 0 else ()):
            row = {"key": key, "project_id": project_id, "size": len(data), "data": data, "used_at": datetime.now(UTC)}
            with Session(engine()) as own, own.begin():
                own.connection().execute(text(f"SET LOCAL lock_timeout = '{PATIENCE}'"))
                own.connection().execute(insert(KeptView).values(row).on_conflict_do_nothing())
        if used:
            with Session(engine()) as own, own.begin():
                own.connection().execute(_TOUCH, {"keys": sorted(used), "now": datetime.now(UTC)})
    except SQLAlchemyError as error:
        logging.getLogger(__name__).warning("not kept: %s", str(getattr(error, "orig", error)).splitlines()[0])


def prune(by_project: int, together: int) -> int:
    """Drop what was used longest ago, where a project keeps more than so many bytes, or all of them together do; how
    many went. Of several who prune at once, one does."""
    with Session(engine()) as own, own.begin():
        link = own.connection()
        if not link.execute(text("SELECT pg_try_advisory_xact_lock(:it)"), {"it": PRUNING}).scalar_one():
            return 0
        spare = list(link.execute(_SPARE, {"by_project": by_project, "together": together}).scalars())
        if spare:
            link.execute(_PRUNE, {"keys": spare})
        return len(spare)
