"""Letters by mail, given to the server that the setting names."""

from __future__ import annotations

import logging
import smtplib
import ssl
from email.message import EmailMessage
from email.utils import formatdate, make_msgid
from urllib.parse import unquote, urlsplit

from sqlmodel import Session

from edge_slice.settings import LOOPBACK, settings
from edge_slice.store.database import reading
from edge_slice.store.people import Account
from edge_slice.store.queue import defer

QUEUE, TO_ACCOUNT = "mail", "mail-account"
WAIT = 10  # seconds for an answer
log = logging.getLogger(__name__)


def is_set() -> bool:
    """Whether letters can be sent."""
    return bool(settings().smtp_url)


def send(letter: EmailMessage) -> None:
    """Give a letter to the server for mail: over TLS, unless that is this machine. Raises `OSError`
    (`smtplib.SMTPException` is one)."""
    parts = urlsplit(settings().smtp_url)
    host = parts.hostname or "127.0.0.1"
    letter["From"] = settings().mail_from
    letter["Date"] = formatdate()
    letter["Message-ID"] = make_msgid(domain=settings().mail_from.rpartition("@")[2].strip("> "))
    context = ssl.create_default_context()
    if parts.scheme == "smtps":
        server: smtplib.SMTP = smtplib.SMTP_SSL(host, parts.port or 465, timeout=WAIT, context=context)
    else:
        server = smtplib.SMTP(host, parts.port or 587, timeout=WAIT)
    with server:
        if parts.scheme != "smtps" and host not in LOOPBACK:
            server.starttls(context=context)
        if parts.username:
            server.login(unquote(parts.username), unquote(parts.password or ""))
        server.send_message(letter)


def sent_invitation(mail: str, page: str, token: str, words: str) -> bool:
    """Whether somebody was told of an invitation by mail; without the setting, or where that fails, who invites sends
    its address by themselves."""
    address = settings().address.rstrip("/")
    if not (is_set() and address):
        return False
    letter = EmailMessage()
    letter["To"] = mail
    letter["Subject"] = "An invitation to Edge Slice"
    letter.set_content(f"{words}\n\n{address}{page}#{token}\n\nThe address works once.\n\n— Edge Slice")
    try:
        send(letter)
    except OSError as error:
        log.warning("no invitation sent: %s", error)
        return False
    return True


def letter_to_account(session: Session, row: Account, what: str) -> None:
    """Have an account told, with the act, what was done to how it signs in: whether it wants notices by mail or not."""
    if is_set():
        session.flush()
        defer(session, QUEUE, TO_ACCOUNT, {"account_id": row.id, "what": what})


def mail_account(account_id: int, what: str) -> None:
    """Send such a letter. Raises `OSError` where it can't be given to anybody; it is then tried again."""
    with reading() as session:
        row = session.get(Account, account_id)
    if row is None:
        return
    letter = EmailMessage()
    letter["To"] = row.mail
    letter["Subject"] = "Your account at Edge Slice"
    was_not = "If that was not you, tell who sees to this installation."
    letter.set_content("\n\n".join(part for part in (what, was_not, settings().address, "— Edge Slice") if part))
    send(letter)
