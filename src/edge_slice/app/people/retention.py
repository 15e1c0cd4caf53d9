"""What is over is dropped after a while; the audit list stays."""

from __future__ import annotations

import time
from datetime import UTC, datetime, timedelta

from sqlmodel import col, delete

from edge_slice.store.database import transaction
from edge_slice.store.people import Invitation, OfficeWay, SharedLink, SignedIn, Tries
from edge_slice.store.review import Notice

NOTICES = timedelta(days=180)  # that one is there
ENDED = timedelta(days=30)  # that it is still told what an invitation or a link was, after it ended


def drop_ended() -> None:
    """Drop counts of tries, ways to the office's service and devices that have ended; invitations and links a month
    after, notices after half a year."""
    now = datetime.now(UTC)
    with transaction() as session:
        for query in (
            delete(Tries).where(col(Tries.ends_at) < time.time()),
            delete(OfficeWay).where(col(OfficeWay.ends_at) < now),
            delete(SignedIn).where(col(SignedIn.ends_at) < now),
            delete(Invitation).where(col(Invitation.ends_at) < now - ENDED),
            delete(SharedLink).where(col(SharedLink.ends_at) < now - ENDED),
            delete(Notice).where(col(Notice.at) < now - NOTICES),
        ):
            session.exec(query)
