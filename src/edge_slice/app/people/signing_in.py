"""Signing in and out: by a password, with a one-time code where an account asks for one. Where somebody is signed in is
kept in the database, and ends there at once."""

from __future__ import annotations

import json
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused, SignedOut
from edge_slice.app.people.audit import audit
from edge_slice.app.people.documents import DeviceOut, ProgramNew, ProgramOut, SignedInOut, SignIn
from edge_slice.app.people.mailing import letter_to_account
from edge_slice.app.people.rights import InInstallation, OfLink, Person
from edge_slice.app.people.secrets_held import (
    codes_left,
    fits,
    hashed,
    is_outdated,
    new_token,
    second_step,
    token_hash,
)
from edge_slice.app.people.tries import (
    SIGNING_IN_AS,
    SIGNING_IN_AT_ALL,
    SIGNING_IN_FROM,
    check_tries,
    count_try,
    forget_tries,
)
from edge_slice.settings import settings
from edge_slice.store.changes import tell
from edge_slice.store.database import afterwards, transaction
from edge_slice.store.people import Account, SharedLink, SignedIn

HEARD = timedelta(minutes=5)  # how exactly it is known when one was heard of
RIGHTS = "rights"  # what the notice says that ends windows
WRONG = "This mail address and password don't belong together."


def sign_in(said: SignIn, device: str, address: str) -> tuple[SignedInOut, str]:
    """Sign somebody in: what is missing, and the token that their browser is to hold, empty where something is. Raises
    `Refused`, always with the same words for a wrong name and a wrong password, and `TooOften`."""
    mail = said.mail.strip().lower()
    check_tries(SIGNING_IN_FROM, address)
    # counted before the password is looked at: many at once are not more than as many after one another
    count_try(SIGNING_IN_AS, mail, address)
    count_try(SIGNING_IN_AT_ALL, mail)
    with transaction() as session:
        row = session.exec(select(Account).where(col(Account.mail) == mail).with_for_update()).first()
        known = row.password if row is not None and row.closed_at is None else ""
        if fits(said.password, known) and row is not None:
            if row.second_secret and not said.code:
                return SignedInOut(needs_code=True), ""
            if _code_fits(session, row, said.code):
                if is_outdated(row.password):
                    row.password = hashed(said.password)
                session.add(row)
                forget_tries(SIGNING_IN_AS, mail, address)
                forget_tries(SIGNING_IN_AT_ALL, mail)
                return SignedInOut(needs_code=False), begin(session, row, device, address)
    count_try(SIGNING_IN_FROM, address)
    with transaction() as session:
        audit(session, Person(name=mail[:200], address=address), "failed to sign in")
    raise Refused("This code is not right, or was used." if said.code else WRONG, "code" if said.code else "password")


def _code_fits(session: Session, row: Account, code: str) -> bool:
    """Whether a one-time code may pass, which then can't any more."""
    if not row.second_secret:
        return True
    step = second_step(row.second_secret, code, time.time(), row.second_step)
    if step is not None:
        row.second_step = step
        return True
    if (left := codes_left(code, row.recovery)) is None:
        return False
    row.recovery = left
    letter_to_account(session, row, f"Somebody signed in with a recovery code; {len(left)} are left.")
    return True


def begin(session: Session, row: Account, device: str, address: str) -> str:
    """Somebody is signed in from now on: the token that tells it."""
    token, now = new_token(), datetime.now(UTC)
    session.add(
        SignedIn(token_hash=token_hash(token), account_id=row.id, device=device[:200], address=address,
                 ends_at=now + lasts())
    )  # fmt: skip
    audit(session, Person(row.name, row.id, address=address), "signed in", device[:200])
    return token


def lasts() -> timedelta:
    """How long a browser is signed in, at most."""
    return timedelta(hours=settings().signed_in_hours)


def who_holds(session: Session, token: str, address: str, asks: bool = True) -> Person | None:
    """Who a token tells of; None where it tells of nobody any more. `asks`: whether they do something, and are not
    only looked after."""
    if not token:
        return None
    now = datetime.now(UTC)
    found = session.exec(select(SignedIn).where(col(SignedIn.token_hash) == token_hash(token))).first()
    idle = timedelta(hours=settings().idle_hours)
    if found is None or found.ends_at <= now or (not found.program and found.seen_at + idle <= now):
        return None
    person = _person_of_link(session, found, now) if found.link_id else _person_of(session, found)
    if person is None:
        return None
    if asks and now - found.seen_at > min(HEARD, idle / 6):
        number = found.id
        afterwards(session, lambda _: _heard(number, now, address))
    return replace(person, session=found.id, address=address)


def _person_of(session: Session, found: SignedIn) -> Person | None:
    row = session.get(Account, found.account_id)
    if row is None or row.closed_at is not None:
        return None
    may = {InInstallation.ANYBODY, InInstallation.SIGNED_IN}
    may |= {right for right, has in (
        (InInstallation.RUN, row.runs and not wants_codes(row)),
        (InInstallation.MAKE, row.may_make), (InInstallation.KEEP, row.may_keep),
    ) if has}  # fmt: skip
    return Person(row.name, row.id, may=frozenset(may))


def wants_codes(row: Account) -> bool:
    """Whether an account has to ask for one-time codes before it may see to the installation."""
    return row.runs and not row.second_secret and settings().codes_to_run


def _person_of_link(session: Session, found: SignedIn, now: datetime) -> Person | None:
    link = session.get(SharedLink, found.link_id)
    if link is None or link.withdrawn_at is not None or link.ends_at <= now:
        return None
    of = OfLink(found.link_id or 0, link.project_id, link.issue_id, frozenset(link.sheets))
    return Person(link.name, may=frozenset({InInstallation.ANYBODY}), link=of)


def _heard(number: int | None, now: datetime, address: str) -> None:
    with transaction() as session:
        if (row := session.get(SignedIn, number)) is not None:
            row.seen_at, row.address = now, address or row.address
            session.add(row)


def sign_out(person: Person) -> None:
    """End where somebody is signed in."""
    with transaction() as session:
        if person.session is not None and (row := session.get(SignedIn, person.session)) is not None:
            session.delete(row)
            audit(session, person, "signed out")
            end_windows(session, row.account_id)


def devices_of(session: Session, person: Person) -> list[DeviceOut]:
    now = datetime.now(UTC)
    mine = select(SignedIn).where(col(SignedIn.account_id) == person.account).order_by(col(SignedIn.seen_at).desc())
    return [
        DeviceOut(
            id=row.id or 0, device=row.device, address=row.address, program=row.program,
            here=row.id == person.session, created_at=row.created_at, seen_at=row.seen_at, ends_at=row.ends_at,
        )
        for row in session.exec(mine).all()
        if row.ends_at > now
    ]  # fmt: skip


def end_device(person: Person, number: int) -> None:
    """Sign somebody out on another device, or a program of theirs."""
    with transaction() as session:
        row = session.get(SignedIn, number)
        if row is None or row.account_id is None or row.account_id != person.account:
            raise NotFound("This device is not signed in any more.")
        session.delete(row)
        audit(session, person, "signed out a device", row.device)
        end_windows(session, person.account)


def add_program(person: Person, wanted: ProgramNew) -> ProgramOut:
    """A token for a program that acts for somebody."""
    token = new_token()
    with transaction() as session:
        row = SignedIn(
            token_hash=token_hash(token), account_id=person.account, program=True, device=wanted.name.strip(),
            ends_at=datetime.now(UTC) + timedelta(days=wanted.days),
        )  # fmt: skip
        session.add(row)
        session.flush()
        audit(session, person, "made a token for a program", row.device)
        return ProgramOut(id=row.id or 0, token=token)


def own_account(session: Session, person: Person) -> Account:
    """The account of who asks, for a change of it. Raises `SignedOut`."""
    row = session.get(Account, person.account, with_for_update=True) if person.account is not None else None
    if row is None or row.closed_at is not None:
        raise SignedOut("Sign in first.")
    return row


def sign_out_everywhere(session: Session, account_id: int | None, but: int | None = None) -> None:
    """End everything of an account but one session."""
    for row in session.exec(select(SignedIn).where(col(SignedIn.account_id) == account_id)).all():
        if row.id != but:
            session.delete(row)
    end_windows(session, account_id)


def end_windows(session: Session, account_id: int | None) -> None:
    """Have the open windows of an account look anew at what they may see."""
    tell(session, json.dumps({"project": None, "what": RIGHTS, "account": account_id or 0}))
