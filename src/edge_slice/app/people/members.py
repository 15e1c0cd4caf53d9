"""Who belongs to a project and may do what in it; invitations to those who have no account yet."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import Literal, cast

from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.people.audit import audit
from edge_slice.app.people.documents import (
    InvitationNew,
    InvitationOut,
    InvitationSeenOut,
    InvitationTaken,
    InvitedOut,
    MemberOut,
    PeopleOut,
)
from edge_slice.app.people.mailing import letter_to_account, sent_invitation
from edge_slice.app.people.rights import Person, RoleName
from edge_slice.app.people.secrets_held import check_new_password, hashed, new_token, token_hash
from edge_slice.app.people.signing_in import begin, end_windows, sign_out_everywhere
from edge_slice.app.row_lookup import project_row
from edge_slice.store.changes import hold, notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.people import Account, Invitation, Member
from edge_slice.store.tables import Project

INVITED, BACK = timedelta(days=7), timedelta(days=1)
PAGE = "/invitation"
GONE = "This invitation was used, has ended, or was taken back. Ask for another one."


def people_of(person: Person, project_id: int) -> PeopleOut:
    with reading() as session:
        return _people(session, person, project_id)


def _people(session: Session, person: Person, project_id: int) -> PeopleOut:
    query = (
        select(Member, Account)
        .join(Account, col(Account.id) == col(Member.account_id))
        .where(col(Member.project_id) == project_id)
        .order_by(col(Account.name))
    )
    members = [
        MemberOut(account=a.id or 0, name=a.name, mail=a.mail, role=_role(m.role), closed=a.closed_at is not None)
        for m, a in session.exec(query).all()
    ]
    mine: RoleName | Literal[""] = next((one.role for one in members if one.account == person.account), "")
    return PeopleOut(members=members, invited=_invited(session, project_id), mine=mine)


def _role(name: str) -> RoleName:
    return cast(RoleName, name)


def _invited(session: Session, project_id: int | None) -> list[InvitedOut]:
    query = (
        select(Invitation, Account)
        .outerjoin(Account, col(Account.id) == col(Invitation.by_id))
        .where(col(Invitation.project_id) == project_id, col(Invitation.used_at).is_(None))
        .where(col(Invitation.account_id).is_(None))
        .where(col(Invitation.ends_at) > datetime.now(UTC))
        .order_by(col(Invitation.id))
    )
    rows: Sequence[tuple[Invitation, Account | None]] = session.exec(query).all()
    return [
        InvitedOut(id=row.id or 0, mail=row.mail, role=_role(row.role) if row.role else "",
                   by=by.name if by else "", ends_at=row.ends_at)
        for row, by in rows
    ]  # fmt: skip


def invited_to_installation() -> list[InvitedOut]:
    with reading() as session:
        return _invited(session, None)


def give_role(person: Person, project_id: int, account_id: int, role: RoleName) -> PeopleOut:
    """Another role for a member. Raises `Refused` for the last owner."""
    with transaction() as session:
        row = _held_member(session, project_id, account_id)
        if row.role == "owner" and role != "owner":
            _check_other_owner(session, project_id, account_id)
        row.role = role
        session.add(row)
        _told(session, person, project_id, account_id, f"made {role}")
        return _people(session, person, project_id)


def take_out(person: Person, project_id: int, account_id: int) -> PeopleOut:
    """Nobody of the project any more. Raises `Refused` for the last owner."""
    with transaction() as session:
        row = _held_member(session, project_id, account_id)
        if row.role == "owner":
            _check_other_owner(session, project_id, account_id)
        session.delete(row)
        _told(session, person, project_id, account_id, "taken out of the project")
        return _people(session, person, project_id)


def _held_member(session: Session, project_id: int, account_id: int) -> Member:
    hold(session, project_id)
    row = session.get(Member, (project_id, account_id), populate_existing=True)
    if row is None:
        raise NotFound("This person does not belong to the project.")
    return row


def _check_other_owner(session: Session, project_id: int, account_id: int) -> None:
    owners = select(Member).join(Account, col(Account.id) == col(Member.account_id)).where(
        col(Member.project_id) == project_id, col(Member.role) == "owner", col(Member.account_id) != account_id,
        col(Account.closed_at).is_(None),
    )  # fmt: skip
    if session.exec(owners).first() is None:
        raise Refused("A project has an owner; make somebody else one first.", "role")


def _told(session: Session, person: Person, project_id: int, account_id: int, act: str) -> None:
    account = session.get(Account, account_id)
    audit(session, person, act, account.mail if account else "", project_id)
    end_windows(session, account_id)
    notify(session, project_id, "people")
    session.flush()


def owner_of(session: Session, account_id: int | None, project_id: int) -> None:
    """Who makes a project owns it, where people sign in."""
    if account_id is not None:
        session.add(Member(project_id=project_id, account_id=account_id, role="owner"))
        session.flush()


def invite(person: Person, project_id: int | None, wanted: InvitationNew) -> InvitationOut:
    """Invite somebody to a project, or, with none, to the installation; by mail where that is set. Who has an account
    already belongs to the project at once."""
    made, words = _invite(person, project_id, wanted)
    return _sent(made, wanted.mail.strip(), words)


def _sent(made: InvitationOut, mail: str, words: str) -> InvitationOut:
    """With a letter on its way, where there is anything to send."""
    mailed = made.token != "" and sent_invitation(mail, PAGE, made.token, words)
    return made.model_copy(update={"mailed": mailed})


def _invite(person: Person, project_id: int | None, wanted: InvitationNew) -> tuple[InvitationOut, str]:
    """The invitation, and what a letter says of it."""
    mail = wanted.mail.strip().lower()
    role = (wanted.role or "reviewer") if project_id is not None else ""
    with transaction() as session:
        to = ""
        if project_id is not None:
            hold(session, project_id)
            to = f" to the project {project_row(session, project_id).name}"
        account = session.exec(select(Account).where(col(Account.mail) == mail)).first()
        if account is not None:
            _let_in(session, person, project_id, account, role)
            return InvitationOut(id=None, token=""), ""
        token = new_token()
        row = Invitation(token_hash=token_hash(token), mail=mail, project_id=project_id, role=role,
                         by_id=person.account, ends_at=datetime.now(UTC) + INVITED)  # fmt: skip
        session.add(row)
        session.flush()
        audit(session, person, f"invited as {role}" if role else "invited", mail, project_id)
        notify(session, project_id, "people")
        return InvitationOut(id=row.id, token=token), f"{person.name} invites you{to}. Make your account here:"


def way_back(person: Person, account_id: int) -> InvitationOut:
    """A way back into an account whose password, or one-time codes, are lost. Raises `NotFound` and `Refused`."""
    with transaction() as session:
        account = session.get(Account, account_id)
        if account is None:
            raise NotFound("There is no such account.")
        if account.closed_at is not None:
            raise Refused("This account is closed; open it again first.", "")
        token = new_token()
        row = Invitation(token_hash=token_hash(token), mail=account.mail, account_id=account_id,
                         by_id=person.account, ends_at=datetime.now(UTC) + BACK)  # fmt: skip
        session.add(row)
        session.flush()
        audit(session, person, "made a way back in", account.mail)
        made, mail = InvitationOut(id=row.id, token=token), account.mail
    return _sent(made, mail, f"{person.name} lets you back into your account. Choose another password here:")


def _let_in(session: Session, person: Person, project_id: int | None, account: Account, role: str) -> None:
    if project_id is None:
        raise Refused("Who has this mail address has an account already.", "mail")
    if account.closed_at is not None:
        raise Refused("This account is closed; who sees to the installation can open it again.", "mail")
    number = account.id or 0
    if session.get(Member, (project_id, number)) is not None:
        raise Refused(f"{account.name} belongs to this project already.", "mail")
    session.add(Member(project_id=project_id, account_id=number, role=role))
    session.flush()
    _told(session, person, project_id, number, f"let in as {role}")


def take_back(person: Person, project_id: int | None, number: int) -> None:
    """Take an invitation back that nobody has used."""
    with transaction() as session:
        row = session.get(Invitation, number, with_for_update=True)
        if row is None or row.project_id != project_id or row.used_at is not None:
            raise NotFound("There is no such invitation any more.")
        audit(session, person, "took an invitation back", row.mail, project_id)
        session.delete(row)
        notify(session, project_id, "people")


def look_at_invitation(token: str) -> InvitationSeenOut:
    """What a token invites to. Raises `NotFound`."""
    with reading() as session:
        row = _open_invitation(session, token)
        project = session.get(Project, row.project_id) if row.project_id else None
        by = session.get(Account, row.by_id) if row.by_id else None
        return InvitationSeenOut(mail=row.mail, project=project.name if project else "",
                                 role=_role(row.role) if row.role else "", by=by.name if by else "",
                                 back=row.account_id is not None)  # fmt: skip


def accept(token: str, said: InvitationTaken, device: str, address: str) -> str:
    """Make the account that somebody was invited to make: the token that their browser is to hold."""
    with transaction() as session:
        row = _open_invitation(session, token, locked=True)
        if row.account_id is not None:
            return _come_back(session, row, said, device, address)
        if session.exec(select(Account.id).where(col(Account.mail) == row.mail)).first() is not None:
            raise NotFound(GONE)
        check_new_password(said.password, said.name, row.mail)
        account = Account(
            mail=row.mail, name=said.name.strip(), password=hashed(said.password),
            may_make=row.project_id is None,  # who comes for one project may be of another office
        )  # fmt: skip
        session.add(account)
        session.flush()
        assert account.id is not None
        row.used_at = datetime.now(UTC)
        session.add(row)
        if row.project_id is not None:
            session.add(Member(project_id=row.project_id, account_id=account.id, role=row.role))
        person = Person(account.name, account.id, address=address)
        audit(session, person, "accepted an invitation", account.mail, row.project_id)
        notify(session, row.project_id, "people")
        return begin(session, account, device, address)


def _come_back(session: Session, row: Invitation, said: InvitationTaken, device: str, address: str) -> str:
    account = session.get(Account, row.account_id, with_for_update=True)
    if account is None or account.closed_at is not None:
        raise NotFound(GONE)
    check_new_password(said.password, said.name, row.mail)
    account.name, account.password = said.name.strip(), hashed(said.password)
    account.second_secret, account.second_step, account.recovery = "", 0, []
    row.used_at = datetime.now(UTC)
    session.add_all((account, row))
    sign_out_everywhere(session, account.id)
    audit(session, Person(account.name, account.id, address=address), "came back in", row.mail)
    letter_to_account(session, account, "You were let back into your account, with another password and without codes.")
    return begin(session, account, device, address)


def _open_invitation(session: Session, token: str, locked: bool = False) -> Invitation:
    query = select(Invitation).where(col(Invitation.token_hash) == token_hash(token))
    row = session.exec(query.with_for_update() if locked else query).first()
    if row is None or row.used_at is not None or row.ends_at <= datetime.now(UTC):
        raise NotFound(GONE)
    return row
