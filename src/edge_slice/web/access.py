"""The one place where it is decided who may do what. Each route says which right it needs, and of which row; one that
says nothing keeps the server from starting. Where nobody signs in, everybody may do everything."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

from flask import Flask, current_app, g, request
from sqlmodel import Session, SQLModel

from edge_slice.app.errors import NotAllowed, NotFound, SignedOut
from edge_slice.app.people.costs import Cost, count_cost
from edge_slice.app.people.rights import EVERYBODY, InInstallation, InProject, Person, held_by
from edge_slice.app.people.rows import may_by_link, role_at
from edge_slice.app.people.signing_in import who_holds
from edge_slice.settings import settings
from edge_slice.store.database import reading

F = TypeVar("F", bound=Callable[..., object])
MARK = "access_needed"
WORDS = {
    InProject.REMARK: "Your role in this project is to look.",
    InProject.EDIT: "Your role in this project is to look and to remark; who owns it can let you edit.",
    InProject.OWN: "Only who owns this project may do this.",
    InInstallation.MAKE: "Your account may not make projects.",
    InInstallation.KEEP: "Your account may not change what the office keeps for all projects.",
    InInstallation.RUN: "Only who sees to the installation may do this.",
}


@dataclass(frozen=True)
class Need:
    """The right, and the table of the row that the path's `id` names, or the name of something that is found otherwise
    (`people.rows`). `by_link`: also for those who came by a link that leads to the row. `or_running`: also for who sees
    to the installation. `also`: a right beside it. `costs`: of what one may not have too much."""

    right: InProject | InInstallation
    of: type[SQLModel] | str = ""
    by_link: bool = False
    or_running: bool = False
    also: InInstallation | None = None
    costs: Cost | None = None


def needs(
    right: InProject | InInstallation,
    of: type[SQLModel] | str = "",
    by_link: bool = False,
    or_running: bool = False,
    also: InInstallation | None = None,
    costs: Cost | None = None,
) -> Callable[[F], F]:
    """Say of a route what it needs."""

    def said(function: F) -> F:
        setattr(function, MARK, Need(right, of, by_link, or_running, also, costs))
        return function

    return said


def person() -> Person:
    """Who asks."""
    found: Person = g.person
    return found


def let_in(server: Flask) -> None:
    """Ask of each request whether it may pass. Raises `RuntimeError` for a route that does not say what it needs."""
    silent = [
        rule.rule
        for rule in server.url_map.iter_rules()
        if not rule.rule.startswith("/openapi") and not hasattr(server.view_functions[rule.endpoint], MARK)
    ]
    if silent:
        raise RuntimeError(f"Say who may do this (web.access.needs): {', '.join(sorted(silent))}")
    server.before_request(_check)


def _check() -> None:
    if not settings().sign_in:
        g.person = EVERYBODY
        return
    need: Need | None = getattr(current_app.view_functions.get(request.endpoint or ""), MARK, None)
    if need is None:
        return  # pages: whoever they are for, they hold nothing of anybody's
    address = request.remote_addr or ""
    with reading() as session:
        known = who_holds(session, held_by(request.headers.get("Authorization", ""), request.cookies), address)
        g.person = known or Person(address=address, may=frozenset({InInstallation.ANYBODY}))
        _check_need(session, need, _row())
    if need.costs is not None:
        count_cost(g.person, need.costs)


def _row() -> int | str | None:
    """What the path names."""
    named = request.view_args or {}
    found: int | str | None = named.get("id", named.get("name"))
    return found


def check(need: Need, row: int | str | None) -> None:
    """Whether who asks may do something to a row that is named beside the path. Raises `SignedOut`, `NotAllowed`, or
    `NotFound` where they may not even know that it is there."""
    if not person().sees_all:
        with reading() as session:
            _check_need(session, need, row)


def _check_need(session: Session, need: Need, row: int | str | None) -> None:
    who = person()
    if isinstance(need.right, InInstallation):
        _check_account(who, need.right)
        return
    if who.link is not None:
        if need.by_link and may_by_link(session, who.link, need.of, row):
            return
        raise NotFound("This is not there, or the link does not lead to it.")
    if who.account is None:
        raise SignedOut("Sign in first.")
    has = role_at(session, who, need.of, row)
    if has is not None and has >= need.right:
        if need.also is not None:
            _check_account(who, need.also)
        return
    if need.or_running and InInstallation.RUN in who.may:
        return
    if has is None:
        raise NotFound("This is not there any more.")
    raise NotAllowed(WORDS[need.right])


def _check_account(who: Person, right: InInstallation) -> None:
    if right in who.may:
        return
    if who.account is None and who.link is None:
        raise SignedOut("Sign in first.")
    raise NotAllowed(WORDS.get(right, "This is for people with an account."))
