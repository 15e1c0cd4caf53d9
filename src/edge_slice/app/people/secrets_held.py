"""Secrets that people hold: passwords, words of links, one-time codes, tokens. None is kept as it is, but the secret of
one-time codes by time, which has to be."""

from __future__ import annotations

import hashlib
import secrets
from functools import cache

import pyotp
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from zxcvbn import zxcvbn

from edge_slice.app.errors import Refused

# characters of a password; length counts, not what it is made of (NIST SP 800-63B 5.1.1, OWASP ASVS 2.1.1 and 2.1.2)
SHORTEST, LONGEST = 12, 128
CODES, CODE_BYTES = 10, 5  # recovery codes
STEP = 30  # seconds of a one-time code (RFC 6238)
TRIES = 1e10  # in which nobody may guess a password, who knows those that leaked, words and what keyboards suggest
DISTINCT = 5  # characters that are left beside words that everybody here knows
OURS = ("edge", "slice", "edge-slice", "passwort", "architect", "drawings", "curlew")

_hasher = PasswordHasher()  # argon2id with the library's own parameters (RFC 9106, second choice)


def check_new_password(password: str, *own: str) -> None:
    """Raise `Refused` for a password that is too short, or soon guessed from passwords that leaked, words, figures,
    rows of keys and the `own` words of who chooses it."""
    if not SHORTEST <= len(password) <= LONGEST:
        raise Refused(f"A password has {SHORTEST} to {LONGEST} characters; several words do well.", "password")
    words = {*OURS, *(part for one in own for part in one.lower().replace("@", " ").split())}
    left = password.lower()
    for word in sorted(words, key=len, reverse=True):
        left = left.replace(word, "") if len(word) > 2 else left
    if len(set(left)) < DISTINCT or zxcvbn(password, list(words), max_length=LONGEST)["guesses"] < TRIES:
        raise Refused("This password is easily guessed; take several words that don't belong together.", "password")


def hashed(password: str) -> str:
    return _hasher.hash(password)


def fits(password: str, known: str) -> bool:
    """Whether a password is the one that is known; it takes as long where none is."""
    nobody = _of_nobody()  # for whoever asks first also where there is an account: that takes no less
    try:
        return _hasher.verify(known or nobody, password) and known != ""
    except (VerificationError, InvalidHashError):
        return False


@cache
def _of_nobody() -> str:
    """What is checked where there is no account, so that it takes as long. Made when it is wanted first: hashing is
    slow by design, and most processes ask nobody."""
    return _hasher.hash(secrets.token_hex())


def is_outdated(known: str) -> bool:
    """Whether a password should be hashed anew: by weaker parameters than today's."""
    return _hasher.check_needs_rehash(known)


def new_token() -> str:
    """What a browser, a program or a link holds: 256 bits."""
    return secrets.token_urlsafe(32)


def token_hash(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()


def new_codes() -> tuple[list[str], list[str]]:
    """One-time recovery codes, and what is kept of them: short as they are, hashed as slowly as passwords."""
    codes = [secrets.token_hex(CODE_BYTES) for _ in range(CODES)]
    return [f"{code[:5]}-{code[5:]}" for code in codes], [_hasher.hash(_plain(code)) for code in codes]


def codes_left(code: str, kept: list[str]) -> list[str] | None:
    """What is kept of recovery codes after one was used; None where it is none of them."""
    if len(_typed(code)) != 2 * CODE_BYTES:
        return None  # one by time, say, for which nothing slow is done
    used = next((one for one in kept if fits(_plain(code), one)), None)
    return None if used is None else [one for one in kept if one != used]


def _plain(code: str) -> str:
    """A recovery code however it was typed, as it was hashed before it was hashed slowly, too."""
    return hashlib.sha256(_typed(code).encode()).hexdigest()


def _typed(code: str) -> str:
    """The letters of a code."""
    return code.replace("-", "").replace(" ", "").lower()


def new_second_secret() -> str:
    return pyotp.random_base32()


def second_uri(secret: str, mail: str) -> str:
    """What an application for one-time codes reads."""
    return str(pyotp.TOTP(secret, name=mail, issuer="Edge Slice").provisioning_uri())


def second_step(secret: str, code: str, now: float, last: int) -> int | None:
    """The step in which a one-time code by time is right, now or one step beside; None: in none, or in one that was
    used (RFC 6238, 5.2)."""
    totp, at = pyotp.TOTP(secret), int(now) // STEP
    for step in (at, at - 1, at + 1):
        if step > last and secrets.compare_digest(totp.generate_otp(step), code.replace(" ", "")):
            return step
    return None
