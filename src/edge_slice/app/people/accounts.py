"""Accounts: one's own, and those of an installation."""

from __future__ import annotations

import io
import time
from datetime import UTC, datetime

import segno
from sqlalchemy import func
from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.people.audit import audit
from edge_slice.app.people.documents import (
    AccountEdit,
    AccountOut,
    CodesOut,
    OwnAccountEdit,
    OwnAccountOut,
    PasswordEdit,
    SecondOut,
    SecondWanted,
)
from edge_slice.app.people.mailing import letter_to_account
from edge_slice.app.people.rights import Person
from edge_slice.app.people.secrets_held import (
    check_new_password,
    fits,
    hashed,
    new_codes,
    new_second_secret,
    second_step,
    second_uri,
)
from edge_slice.app.people.signing_in import devices_of, end_windows, own_account, sign_out_everywhere, wants_codes
from edge_slice.app.people.tries import SIGNING_IN_AS, count_try, forget_tries
from edge_slice.store.changes import notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.people import Account, Member, SignedIn
from edge_slice.store.tables import Project


def own(person: Person) -> OwnAccountOut:
    """One's own account."""
    with transaction() as session:
        row = own_account(session, person)
        return OwnAccountOut(
            mail=row.mail, name=row.name, second=row.second_secret != "",
            codes_left=len(row.recovery), mails=row.mails, devices=devices_of(session, person),
            wants_codes=wants_codes(row),
        )  # fmt: skip


def edit_own(person: Person, said: OwnAccountEdit) -> OwnAccountOut:
    """Another name for oneself, or letters or none."""
    with transaction() as session:
        row = own_account(session, person)
        row.name = row.name if said.name is None else said.name.strip()
        row.mails = row.mails if said.mails is None else said.mails
        session.add(row)
    return own(person)


def change_password(person: Person, said: PasswordEdit) -> OwnAccountOut:
    """Another password; everywhere else one is signed out."""
    _check_password(person, said.password)
    with transaction() as session:
        row = own_account(session, person)
        check_new_password(said.new_password, row.mail, row.name)
        row.password = hashed(said.new_password)
        session.add(row)
        sign_out_everywhere(session, row.id, person.session)
        audit(session, person, "changed the password")
        letter_to_account(session, row, "Your password was changed; on all other devices you are signed out.")
    return own(person)


def _check_password(person: Person, password: str) -> None:
    """Raise `Refused` where who sits at a browser that is signed in does not know the password; `TooOften`."""
    with reading() as session:
        row = session.get(Account, person.account)
        mail, known = (row.mail, row.password) if row is not None else ("", "")
    count_try(SIGNING_IN_AS, mail, person.address)
    if not fits(password, known):
        raise Refused("This is not the password.", "password")
    forget_tries(SIGNING_IN_AS, mail, person.address)


def propose_second(person: Person) -> SecondOut:
    """A secret for one-time codes by time, for an application that makes them; in use once one of its codes is said."""
    with reading() as session:
        row = session.get(Account, person.account)
        mail = row.mail if row is not None else ""
    secret = new_second_secret()
    uri, drawn = second_uri(secret, mail), io.BytesIO()
    segno.make(uri).save(drawn, kind="svg", scale=4, xmldecl=False, svgns=True)
    return SecondOut(secret=secret, uri=uri, picture=drawn.getvalue().decode())


def begin_second(person: Person, wanted: SecondWanted) -> CodesOut:
    """Ask for a one-time code from now on; recovery codes for when there is none."""
    _check_password(person, wanted.password)
    step = second_step(wanted.secret, wanted.code, time.time(), 0)
    if step is None:
        raise Refused("This is not the code of now; check the clock of the device.", "code")
    with transaction() as session:
        row = own_account(session, person)
        codes, row.recovery = new_codes()
        row.second_secret, row.second_step = wanted.secret, step
        session.add(row)
        sign_out_everywhere(session, row.id, person.session)
        audit(session, person, "asks for one-time codes from now on")
        letter_to_account(session, row, "From now on a one-time code is asked for when you sign in.")
    return CodesOut(codes=codes)


def new_recovery(person: Person, password: str) -> CodesOut:
    """Other recovery codes; those before are worth nothing any more."""
    _check_password(person, password)
    with transaction() as session:
        row = own_account(session, person)
        if not row.second_secret:
            raise Refused("No one-time code is asked for; there is nothing to recover.", "")
        codes, row.recovery = new_codes()
        session.add(row)
        audit(session, person, "made new recovery codes")
        letter_to_account(session, row, "There are new recovery codes; those before are worth nothing any more.")
    return CodesOut(codes=codes)


def end_second(person: Person, password: str) -> OwnAccountOut:
    """Ask for no one-time code any more."""
    _check_password(person, password)
    with transaction() as session:
        row = own_account(session, person)
        row.second_secret, row.second_step, row.recovery = "", 0, []
        session.add(row)
        audit(session, person, "asks for no one-time codes any more")
        letter_to_account(session, row, "No one-time code is asked for any more when you sign in.")
    return own(person)


def list_accounts() -> list[AccountOut]:
    with reading() as session:
        seen = {
            number: at
            for number, at in session.exec(
                select(SignedIn.account_id, func.max(col(SignedIn.seen_at))).group_by(col(SignedIn.account_id))
            ).all()
        }
        rows = session.exec(select(Account).order_by(func.lower(col(Account.name)))).all()
        return [_out(row, seen.get(row.id)) for row in rows]


def edit_account(person: Person, number: int, edit: AccountEdit) -> AccountOut:
    """What an account may do, or whether it is closed. Raises `Refused` where nobody would see to the installation, or
    to a project, any more."""
    with transaction() as session:
        # those who see to the installation are counted while nobody changes any of them
        running = session.exec(select(Account).where(col(Account.runs)).with_for_update()).all()
        row = session.get(Account, number, with_for_update=True)
        if row is None:
            raise NotFound("There is no such account.")
        others = [one for one in running if one.id != number and one.closed_at is None]
        if row.runs and not others and (edit.runs is False or edit.closed):
            raise Refused("Nobody else sees to the installation; let somebody else do so first.", "runs")
        if edit.closed:
            _check_owned(session, number)
        for key in ("name", "runs", "may_make", "may_keep"):
            if (value := getattr(edit, key)) is not None and value != getattr(row, key):
                setattr(row, key, value)
                audit(session, person, f"{key.replace('_', ' ')}: {value}".lower(), row.mail)
        if edit.closed is not None and edit.closed != (row.closed_at is not None):
            row.closed_at = datetime.now(UTC) if edit.closed else None
            audit(session, person, "closed an account" if edit.closed else "opened an account again", row.mail)
        session.add(row)
        if edit.closed:
            sign_out_everywhere(session, number)
        end_windows(session, number)
        notify(session, None, "people")
        session.flush()
        return _out(row, None)


def _check_owned(session: Session, number: int) -> None:
    """Raise `Refused` where an account alone owns a project."""
    mine = select(Member.project_id).where(col(Member.account_id) == number, col(Member.role) == "owner")
    for project in session.exec(mine).all():
        owners = select(Member.account_id).join(Account, col(Account.id) == col(Member.account_id)).where(
            col(Member.project_id) == project, col(Member.role) == "owner", col(Account.closed_at).is_(None),
            col(Member.account_id) != number,
        )  # fmt: skip
        if session.exec(owners).first() is None:
            row = session.get(Project, project)
            raise Refused(f"Nobody else owns the project {row.name if row else project}; make somebody its owner.", "")


def _out(row: Account, seen: datetime | None) -> AccountOut:
    return AccountOut(
        id=row.id or 0, mail=row.mail, name=row.name, runs=row.runs, may_make=row.may_make, may_keep=row.may_keep,
        closed=row.closed_at is not None, second=row.second_secret != "",
        last_seen=seen,
    )  # fmt: skip
