"""How often something may be tried in a while: counted in the database, so that all web servers count together."""

from __future__ import annotations

import time

from limits import RateLimitItem, parse
from limits.storage import Storage
from limits.strategies import FixedWindowRateLimiter
from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError

from edge_slice.app.errors import TooOften
from edge_slice.store.database import engine

_ADD = text(
    "INSERT INTO tries AS t (key, count, ends_at) VALUES (:key, :amount, :ends_at) ON CONFLICT (key) DO UPDATE SET"
    " count = CASE WHEN t.ends_at > :now THEN t.count + :amount ELSE :amount END,"
    " ends_at = CASE WHEN t.ends_at > :now THEN t.ends_at ELSE :ends_at END RETURNING count"
)


class InDatabase(Storage):
    """Counts of the library `limits` in PostgreSQL. A count is kept whatever becomes of the act that it is of."""

    STORAGE_SCHEME = ["edge-slice"]  # noqa: RUF012 (as the library declares it)

    @property
    def base_exceptions(self) -> type[Exception]:
        return SQLAlchemyError

    def incr(self, key: str, expiry: int, amount: int = 1) -> int:
        now = time.time()
        said = {"key": key, "amount": amount, "now": now, "ends_at": now + expiry}
        with engine().begin() as link:
            return int(link.execute(_ADD, said).scalar_one())

    def get(self, key: str) -> int:
        return self._one("SELECT count FROM tries WHERE key = :key AND ends_at > :now", key)

    def get_expiry(self, key: str) -> float:
        with engine().connect() as link:
            found = link.execute(text("SELECT ends_at FROM tries WHERE key = :key"), {"key": key}).scalar()
        return float(found) if found is not None else time.time()

    def check(self) -> bool:
        with engine().connect() as link:
            return bool(link.execute(text("SELECT true")).scalar())

    def reset(self) -> int:
        with engine().begin() as link:
            return link.execute(text("DELETE FROM tries")).rowcount

    def clear(self, key: str) -> None:
        with engine().begin() as link:
            link.execute(text("DELETE FROM tries WHERE key = :key"), {"key": key})

    def _one(self, query: str, key: str) -> int:
        with engine().connect() as link:
            return int(link.execute(text(query), {"key": key, "now": time.time()}).scalar() or 0)


_limiter = FixedWindowRateLimiter(InDatabase())
SIGNING_IN_FROM = parse("30 per 10 minutes")  # failures from one address
SIGNING_IN_AS = parse("10 per 10 minutes")  # for one account from one address
SIGNING_IN_AT_ALL = parse("90 per hour")  # for one account, from anywhere (OWASP ASVS 2.2.1: at most 100)
WORD_OF_LINK = parse("10 per 10 minutes")


def check_tries(limit: RateLimitItem, *of: str) -> None:
    """Raise `TooOften` where that was tried too often lately."""
    if not _limiter.test(limit, *of):
        _refuse(limit, *of)


def count_try(limit: RateLimitItem, *of: str, cost: int = 1) -> None:
    """Count one, or as many as it costs; raises `TooOften` where that is too many."""
    if not _limiter.hit(limit, *of, cost=cost):
        _refuse(limit, *of)


def forget_tries(limit: RateLimitItem, *of: str) -> None:
    _limiter.clear(limit, *of)


def _refuse(limit: RateLimitItem, *of: str) -> None:
    wait = max(1, round(_limiter.get_window_stats(limit, *of).reset_time - time.time()))
    raise TooOften(f"This was asked for too often. Try again in {wait} s.", wait)
