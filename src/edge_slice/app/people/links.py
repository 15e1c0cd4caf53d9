"""Links by which people without an account look at an issue, or at chosen sheets: until a day, with a word, or until
they are withdrawn."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlmodel import Session, col, select

from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.people.audit import audit
from edge_slice.app.people.documents import LinkedSheetOut, LinkNew, LinkOut, LinkSeenOut
from edge_slice.app.people.rights import Person
from edge_slice.app.people.secrets_held import fits, hashed, new_token, token_hash
from edge_slice.app.people.tries import WORD_OF_LINK, count_try, forget_tries
from edge_slice.app.row_lookup import project_row
from edge_slice.store.changes import notify
from edge_slice.store.database import reading, transaction
from edge_slice.store.people import SharedLink, SignedIn
from edge_slice.store.tables import Issue, IssuedSheet, Project, Sheet

LOOKS = timedelta(hours=12)  # how long a browser that opened a link looks, before it opens it again
GONE = "This link leads nowhere any more: it has ended, or was withdrawn."


def links_of(project_id: int) -> list[LinkOut]:
    with reading() as session:
        mine = select(SharedLink).where(col(SharedLink.project_id) == project_id).order_by(col(SharedLink.id).desc())
        return [_out(row) for row in session.exec(mine).all()]


def make_link(person: Person, project_id: int, wanted: LinkNew) -> LinkOut:
    """A link to an issue, or to sheets of a project. Raises `Refused` for neither, both, or others'."""
    with transaction() as session:
        project_row(session, project_id)
        if (wanted.issue is None) == (not wanted.sheets):
            raise Refused("A link leads either to an issue, or to chosen sheets.", "sheets")
        if wanted.issue is not None:
            issue = session.get(Issue, wanted.issue)
            if issue is None or issue.project_id != project_id:
                raise Refused("This issue is not in this project.", "issue")
        chosen = select(Sheet.id).where(col(Sheet.project_id) == project_id, col(Sheet.id).in_(wanted.sheets))
        if set(session.exec(chosen).all()) != set(wanted.sheets):
            raise Refused("A sheet that was chosen is not in this project any more.", "sheets")
        token, word = new_token(), wanted.word.strip()
        row = SharedLink(
            token_hash=token_hash(token), project_id=project_id, issue_id=wanted.issue,
            sheets=list(dict.fromkeys(wanted.sheets)), name=wanted.name.strip(), word=hashed(word) if word else "",
            by_name=person.name, ends_at=datetime.now(UTC) + timedelta(days=wanted.days),
        )  # fmt: skip
        session.add(row)
        session.flush()
        audit(session, person, "made a link", row.name, project_id)
        notify(session, project_id, "links")
        return _out(row).model_copy(update={"token": token})


def withdraw(person: Person, project_id: int, number: int) -> LinkOut:
    """Nobody looks by this link any more, from now on."""
    with transaction() as session:
        row = session.get(SharedLink, number, with_for_update=True)
        if row is None or row.project_id != project_id:
            raise NotFound("There is no such link.")
        if row.withdrawn_at is None:
            row.withdrawn_at = datetime.now(UTC)
            audit(session, person, "withdrew a link", row.name, project_id)
        session.add(row)
        notify(session, project_id, "links")
        session.flush()
        return _out(row)


def is_worded(token: str) -> bool:
    """Whether a word has to be said first. Raises `NotFound`."""
    with reading() as session:
        return _open(session, token).word != ""


def open_link(token: str, word: str, device: str, address: str) -> str:
    """Look by a link: the token that the browser is to hold. Raises `NotFound`, `Refused` and `TooOften`."""
    with reading() as session:
        row = _open(session, token)
    if row.word:
        count_try(WORD_OF_LINK, str(row.id), address)
        if not fits(word.strip(), row.word):
            raise Refused("This is not the word.", "word")
        forget_tries(WORD_OF_LINK, str(row.id), address)
    held, now = new_token(), datetime.now(UTC)
    with transaction() as session:
        session.add(
            SignedIn(token_hash=token_hash(held), link_id=row.id, device=device[:200], address=address,
                     ends_at=min(row.ends_at, now + LOOKS))
        )  # fmt: skip
        audit(session, Person(f"link {row.name}", address=address), "opened a link", device[:200], row.project_id)
    return held


def seen_by_link(person: Person) -> LinkSeenOut | None:
    """What somebody who came by a link may look at."""
    if person.link is None:
        return None
    with reading() as session:
        row = session.get(SharedLink, person.link.id)
        project = session.get(Project, person.link.project)
        if row is None or project is None:
            return None
        return LinkSeenOut(name=row.name, project=project.name, issue=row.issue_id, ends_at=row.ends_at,
                           sheets=_sheets(session, row))  # fmt: skip


def _sheets(session: Session, row: SharedLink) -> list[LinkedSheetOut]:
    if row.issue_id is not None:
        issued = select(IssuedSheet).where(col(IssuedSheet.issue_id) == row.issue_id).order_by(col(IssuedSheet.place))
        return [
            LinkedSheetOut(id=one.id or 0, issued=True, number=one.number, title=one.title)
            for one in session.exec(issued).all()
        ]
    chosen = select(Sheet).where(col(Sheet.id).in_(row.sheets), col(Sheet.project_id) == row.project_id)
    there = {one.id: one for one in session.exec(chosen).all()}
    return [
        LinkedSheetOut(id=number, issued=False, number=there[number].number, title=there[number].title)
        for number in row.sheets
        if number in there
    ]


def _open(session: Session, token: str) -> SharedLink:
    row = session.exec(select(SharedLink).where(col(SharedLink.token_hash) == token_hash(token))).first()
    if row is None or row.withdrawn_at is not None or row.ends_at <= datetime.now(UTC):
        raise NotFound(GONE)
    return row


def _out(row: SharedLink) -> LinkOut:
    return LinkOut(
        id=row.id or 0, name=row.name, issue=row.issue_id, sheets=row.sheets, with_word=row.word != "",
        by=row.by_name, created_at=row.created_at, ends_at=row.ends_at, withdrawn=row.withdrawn_at is not None,
    )  # fmt: skip
