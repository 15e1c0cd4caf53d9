"""Notices: what concerns somebody who signs in, told in the application, and by mail where that is set."""

from __future__ import annotations

import json
from collections.abc import Collection
from datetime import UTC, datetime
from email.message import EmailMessage
from typing import cast

from sqlalchemy import func, or_, update
from sqlmodel import Session, col, select

from edge_slice.app.people.mailing import QUEUE, is_set, send
from edge_slice.app.people.rights import Person
from edge_slice.app.review.documents import NoticeOut, NoticeWhat
from edge_slice.settings import settings
from edge_slice.store.changes import tell
from edge_slice.store.database import reading, transaction
from edge_slice.store.people import Account, Member
from edge_slice.store.queue import defer
from edge_slice.store.review import Notice, Remark
from edge_slice.store.tables import Issue, Project

TASK = "mail-notice"
SHOWN, LONGEST = 100, 300
NOTICES = "notices"  # what windows of one account hear
SAID: dict[NoticeWhat, str] = {
    "remark": "{by} remarked",
    "answer": "{by} answered a remark",
    "done": "{by} took a remark as done",
    "issue": "{by} issued sheets",
}


def notify_people(
    session: Session, to: Collection[int], by: Person, what: NoticeWhat, text: str, of: Remark | Issue
) -> None:
    """Tell these accounts, but for who did it, within the act."""
    for account in sorted(set(to) - {by.account}):
        row = Notice(
            account_id=account, project_id=of.project_id, what=what, by=by.name, text=text[:LONGEST],
            remark_id=of.id if isinstance(of, Remark) else None, issue_id=of.id if isinstance(of, Issue) else None,
        )  # fmt: skip
        session.add(row)
        session.flush()
        if is_set():
            defer(session, QUEUE, TASK, {"notice_id": row.id})
        _told(session, account)


def _told(session: Session, account: int) -> None:
    tell(session, json.dumps({"project": None, "what": NOTICES, "account": account}))


def who_hears_of(session: Session, row: Remark, what: NoticeWhat) -> set[int]:
    """Of a new remark: to whom it is, or, where that is nobody's name, who edits the project. Of what becomes of it:
    who made it, who answered, and to whom it is."""
    members = session.exec(
        select(Account.id, Account.name, Account.mail, Member.role)
        .join(Member, col(Member.account_id) == col(Account.id))
        .where(col(Member.project_id) == row.project_id)
    ).all()
    wanted = row.to.strip().lower()
    named = {number or 0 for number, name, mail, _ in members if wanted and wanted in (name.lower(), mail)}
    if what == "remark":
        return named or {number or 0 for number, _, _, role in members if role in ("owner", "editor")}
    spoke = {one.get("account") for one in row.answers} | {row.account_id}
    return named | {number for number, *_ in members if number is not None and number in spoke}


def members_of(session: Session, project_id: int) -> set[int]:
    return set(session.exec(select(Member.account_id).where(col(Member.project_id) == project_id)).all())


def notices_of(person: Person) -> list[NoticeOut]:
    """The newest notices of somebody, of projects that they still belong to."""
    query = (
        select(Notice, Project.name)
        .join(Project, col(Project.id) == col(Notice.project_id))
        .join(Member, (col(Member.project_id) == col(Notice.project_id)) & (col(Member.account_id) == person.account))
        .where(col(Notice.account_id) == person.account)
        .order_by(col(Notice.id).desc())
        .limit(SHOWN)
    )
    with reading() as session:
        return [
            NoticeOut(
                id=row.id or 0, project=row.project_id, project_name=name, remark=row.remark_id, issue=row.issue_id,
                what=cast(NoticeWhat, row.what), by=row.by, text=row.text, at=row.at, seen=row.seen_at is not None,
            )
            for row, name in session.exec(query).all()
        ]  # fmt: skip


def seen(person: Person, last: int) -> None:
    """Somebody has seen their notices up to one."""
    with transaction() as session:
        mine = col(Notice.account_id) == person.account
        unseen = mine & (col(Notice.id) <= last) & col(Notice.seen_at).is_(None)
        done = session.connection().execute(update(Notice).where(unseen).values(seen_at=func.now()))
        if done.rowcount and person.account is not None:
            _told(session, person.account)


def mail_notice(notice_id: int) -> None:
    """Send one notice by mail, unless it was seen, sent, or does not concern its account any more. Raises `OSError`
    where the letter can't be given to anybody; it is then tried again."""
    with reading() as session:
        found = session.exec(
            select(Notice, Account, Project)
            .join(Account, col(Account.id) == col(Notice.account_id))
            .join(Project, col(Project.id) == col(Notice.project_id))
            .join(
                Member,
                (col(Member.project_id) == col(Notice.project_id)) & (col(Member.account_id) == col(Account.id)),
            )
            .where(col(Notice.id) == notice_id, col(Account.closed_at).is_(None), col(Account.mails))
            .where(~or_(col(Notice.seen_at).is_not(None), col(Notice.mailed_at).is_not(None)))
        ).first()
    if found is None:
        return
    notice, account, project = found
    send(_letter(notice, account, project))
    with transaction() as session:
        row = session.get(Notice, notice_id)
        if row is not None:
            row.mailed_at = datetime.now(UTC)
            session.add(row)


def _letter(notice: Notice, account: Account, project: Project) -> EmailMessage:
    letter = EmailMessage()
    said = SAID[cast(NoticeWhat, notice.what)].format(by=notice.by)
    letter["To"] = account.mail
    letter["Subject"] = " ".join(f"{project.name}: {said}".split())
    where = f"{settings().address.rstrip('/')}/projects/{project.id}" if settings().address else ""
    letter.set_content("\n\n".join(part for part in (said + ":", notice.text, where, "— Edge Slice") if part))
    return letter
