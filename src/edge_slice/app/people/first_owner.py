"""Who sees to an installation first, or again after nobody can: made on the machine itself, not over the network."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import col, select

from edge_slice.app.errors import Refused
from edge_slice.app.people.audit import audit
from edge_slice.app.people.rights import Person
from edge_slice.app.people.secrets_held import check_new_password, hashed
from edge_slice.app.people.signing_in import sign_out_everywhere
from edge_slice.store.database import transaction
from edge_slice.store.people import Account, Member
from edge_slice.store.tables import Project

HERE = Person(name="this machine")


@dataclass(frozen=True)
class MadeOwner:
    """`new`: whether there was no such account; `projects`: how many that nobody owned are theirs now."""

    new: bool
    projects: int


def make_owner(mail: str, name: str, password: str) -> MadeOwner:
    """An account that sees to the installation, and owns what nobody owns. One that is there gets the password, and
    asks for no one-time code any more. Raises `Refused` for a weak password."""
    mail = mail.strip().lower()
    if "@" not in mail[1:-1] or any(sign.isspace() for sign in mail):
        raise Refused("This is no mail address.", "mail")
    check_new_password(password, mail, name)
    with transaction() as session:
        row = session.exec(select(Account).where(col(Account.mail) == mail).with_for_update()).first()
        new = row is None
        row = row or Account(mail=mail, name=name, password="")
        row.name, row.password, row.closed_at = name, hashed(password), None
        row.second_secret, row.recovery = "", []
        row.runs = row.may_make = row.may_keep = True
        session.add(row)
        session.flush()
        assert row.id is not None
        sign_out_everywhere(session, row.id)
        owned = select(Member.project_id).where(col(Member.role) == "owner")
        left = session.exec(select(Project.id).where(col(Project.id).not_in(owned))).all()
        for project in left:
            session.merge(Member(project_id=project or 0, account_id=row.id, role="owner"))
        audit(session, HERE, "made to see to the installation", mail)
        return MadeOwner(new, len(left))
