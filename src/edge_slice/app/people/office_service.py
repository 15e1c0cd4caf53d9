"""Signing in by the service where an office keeps its accounts: OpenID Connect Core 1.0, by code, with PKCE (RFC 7636).
What is signed is checked by Authlib's libraries."""

from __future__ import annotations

import secrets
import time
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Any
from urllib.parse import urlsplit

import requests
from authlib.integrations.base_client import OAuthError
from authlib.integrations.requests_client import OAuth2Session
from joserfc import jwt
from joserfc.errors import JoseError
from joserfc.jwk import KeySet
from sqlmodel import Session, col, delete, select

from edge_slice.app.people.audit import audit
from edge_slice.app.people.rights import Person
from edge_slice.app.people.secrets_held import token_hash
from edge_slice.app.people.signing_in import begin
from edge_slice.settings import LOOPBACK, settings
from edge_slice.store.database import transaction
from edge_slice.store.people import Account, OfficeWay

LASTS = timedelta(minutes=10)  # that somebody may take at the service
SIGNED_BY = ["RS256", "PS256", "ES256", "EdDSA"]  # never "none", never a shared secret
SCOPE = "openid email profile"
WAIT, LEEWAY = 10, 60  # seconds for an answer; that clocks may differ
KNOWN_FOR = 600  # seconds that what the service says of itself counts


class WayFailed(Exception):
    """Somebody did not come in by the service; `why` names the reason for the page to sign in at."""

    def __init__(self, why: str, said: str = "") -> None:
        super().__init__(said or why)
        self.why = why


def is_set() -> bool:
    """Whether an office's service is set."""
    return bool(settings().oidc_issuer)


def begin_way(back: str, to: str) -> tuple[str, str]:
    """Where a browser goes to sign in, and what it holds until it comes `back`; `to`: our page that it wanted. Raises
    `WayFailed`."""
    state, nonce, verifier, token = (secrets.token_urlsafe(32) for _ in range(4))
    with _client(back) as client:
        where, _ = client.create_authorization_url(
            _about()["authorization_endpoint"], state=state, nonce=nonce, code_verifier=verifier
        )
    now = datetime.now(UTC)
    with transaction() as session:
        session.exec(delete(OfficeWay).where(col(OfficeWay.ends_at) < now))
        session.add(
            OfficeWay(token_hash=token_hash(token), state=state, nonce=nonce, verifier=verifier, to=_own_page(to),
                      ends_at=now + LASTS)
        )  # fmt: skip
    return str(where), token


def _own_page(to: str) -> str:
    """A page of ours, whatever was asked for."""
    return to if to.startswith("/") and not to.startswith("//") and "\\" not in to else "/"


def end_way(token: str, said: Mapping[str, str], back: str, device: str, address: str) -> tuple[str, str]:
    """Somebody came back from the service: what their browser is to hold from now on, and the page they wanted. Each
    way is gone once. Raises `WayFailed`."""
    with transaction() as session:
        way = session.exec(select(OfficeWay).where(col(OfficeWay.token_hash) == token_hash(token))).first()
        if way is not None:
            session.delete(way)
    if way is None or way.ends_at <= datetime.now(UTC):
        raise WayFailed("late")
    if not secrets.compare_digest(said.get("state", ""), way.state):
        raise WayFailed("failed", "the state of another way")
    if "error" in said or not said.get("code"):
        raise WayFailed("refused", f"the service said {said.get('error', 'nothing')[:100]}")
    claims = _claims(said["code"], way, back)
    with transaction() as session:
        row = _account(session, claims, address)
        if row.closed_at is not None:
            raise WayFailed("closed")
        return begin(session, row, device, address), way.to


def _client(back: str) -> Any:
    limits = settings()
    return OAuth2Session(
        limits.oidc_client, limits.oidc_secret, scope=SCOPE, redirect_uri=back, code_challenge_method="S256",
        default_timeout=WAIT,
    )  # fmt: skip


def _claims(code: str, way: OfficeWay, back: str) -> dict[str, Any]:
    """What the service says of who came, after all of it was checked (OpenID Connect Core 1.0, 3.1.3.7)."""
    limits = settings()
    try:
        with _client(back) as client:
            got = client.fetch_token(_about()["token_endpoint"], code=code, code_verifier=way.verifier)
        signed = jwt.decode(got["id_token"], _keys(), algorithms=SIGNED_BY)
        jwt.JWTClaimsRegistry(
            leeway=LEEWAY, iss={"essential": True, "value": limits.oidc_issuer},
            aud={"essential": True, "value": limits.oidc_client}, sub={"essential": True}, exp={"essential": True},
            iat={"essential": True}, nonce={"essential": True, "value": way.nonce},
        ).validate(signed.claims)  # fmt: skip
    except (requests.RequestException, OAuthError, JoseError, KeyError, ValueError, TypeError) as error:
        raise WayFailed("failed", f"{type(error).__name__}: {error}"[:300]) from error
    if signed.claims.get("azp", limits.oidc_client) != limits.oidc_client:
        raise WayFailed("failed", "this was said to another program")
    return dict(signed.claims)


def _account(session: Session, claims: Mapping[str, Any], address: str) -> Account:
    """The account of who came: by what the service calls them, or, the first time, by a mail address that it proved."""
    name = f"{claims['iss']} {claims['sub']}"
    row = session.exec(select(Account).where(col(Account.office_name) == name).with_for_update()).first()
    if row is not None:
        return row
    mail = str(claims.get("email", "")).strip().lower()
    if not mail or claims.get("email_verified") is not True:
        raise WayFailed("unproved")
    row = session.exec(select(Account).where(col(Account.mail) == mail).with_for_update()).first()
    if row is not None and row.office_name is not None:
        raise WayFailed("failed", f"{mail} is another one's at the service")
    if row is None:
        if not settings().oidc_makes_accounts:
            raise WayFailed("unknown", mail)
        # no password fits none: they come by the service alone
        row = Account(mail=mail, name=str(claims.get("name") or mail)[:80], password="", may_make=False)
    row.office_name = name
    session.add(row)
    session.flush()
    audit(session, Person(row.name, row.id, address=address), "is known to the office's service from now on", mail)
    return row


def _about() -> dict[str, Any]:
    return _about_at(int(time.time() // KNOWN_FOR))


def _keys() -> KeySet:
    return _keys_at(int(time.time() // 60))  # another key is known within a minute


@lru_cache(maxsize=1)
def _about_at(_: int) -> dict[str, Any]:
    """What the service says of itself (OpenID Connect Discovery 1.0)."""
    issuer = settings().oidc_issuer
    found = _asked(f"{issuer.rstrip('/')}/.well-known/openid-configuration")
    if found.get("issuer") != issuer:
        raise WayFailed("failed", f"the service calls itself {found.get('issuer')}")
    for key in ("authorization_endpoint", "token_endpoint", "jwks_uri"):
        _check_address(str(found.get(key, "")))
    return found


@lru_cache(maxsize=1)
def _keys_at(_: int) -> KeySet:
    keys: Any = _asked(_about()["jwks_uri"])
    return KeySet.import_key_set(keys)


def _asked(address: str) -> dict[str, Any]:
    _check_address(address)
    try:
        found = requests.get(address, timeout=WAIT)
        found.raise_for_status()
        answer = found.json()
    except (requests.RequestException, ValueError) as error:
        raise WayFailed("away", f"{address}: {error}"[:300]) from error
    if not isinstance(answer, dict):
        raise WayFailed("away", f"{address} is no document")
    return answer


def _check_address(address: str) -> None:
    """What is asked for over the network is asked for by TLS."""
    parts = urlsplit(address)
    if parts.scheme != "https" and not (parts.scheme == "http" and parts.hostname in LOOPBACK):
        raise WayFailed("failed", f"{address} is not asked by TLS")
