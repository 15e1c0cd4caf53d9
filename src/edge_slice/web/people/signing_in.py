"""Routes of signing in and out, of invitations and links that lead in, and of one's own account."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from edge_slice.app.documents import Input, Problem, RowId
from edge_slice.app.people import accounts, links, members, signing_in
from edge_slice.app.people.documents import (
    CodesOut,
    InvitationSeenOut,
    InvitationTaken,
    LinkOpened,
    OwnAccountEdit,
    OwnAccountOut,
    PasswordEdit,
    ProgramNew,
    ProgramOut,
    SecondOut,
    SecondWanted,
    SessionOut,
    SignedInOut,
    SignIn,
    Token,
    WithPassword,
)
from edge_slice.app.people.office_service import is_set
from edge_slice.app.people.rights import InInstallation
from edge_slice.settings import settings
from edge_slice.web.access import needs, person
from edge_slice.web.common import answer, routes
from edge_slice.web.people.held import check_signing_in, device, holding, letting_go

api = routes("signing_in", __name__, errors={429: Problem})


class Held(Input):
    token: Token


class HeldInvitation(InvitationTaken):
    token: Token


class HeldLink(LinkOpened):
    token: Token


class WordedOut(BaseModel):
    """`worded`: whether a word has to be said first."""

    worded: bool


class ByNumber(BaseModel):
    number: RowId


@api.get("/session", responses={200: SessionOut})
@needs(InInstallation.ANYBODY)
def read_session() -> Response:
    """Who asks, and what they may do beside projects"""
    who = person()
    if not settings().sign_in:
        return answer(SessionOut(signing_in=False, signed_in=True, runs=True, may_make=True, may_keep=True))
    return answer(
        SessionOut(
            signing_in=True,
            signed_in=who.account is not None,
            account=who.account,
            name=who.name,
            runs=InInstallation.RUN in who.may,
            may_make=InInstallation.MAKE in who.may,
            may_keep=InInstallation.KEEP in who.may,
            link=links.seen_by_link(who),
            office=settings().oidc_name if is_set() else "",
        )
    )


@api.post("/session", responses={200: SignedInOut})
@needs(InInstallation.ANYBODY)
def sign_in(body: SignIn) -> Response:
    """Sign in by mail address and password, with a one-time code where the account asks for one"""
    check_signing_in()
    found, token = signing_in.sign_in(body, device(), person().address)
    response = answer(found)
    return holding(response, token) if token else response


@api.delete("/session", responses={204: None})
@needs(InInstallation.ANYBODY)
def sign_out() -> Response:
    """Sign out here"""
    signing_in.sign_out(person())
    return letting_go(Response(status=204))


@api.post("/invitation/look", responses={200: InvitationSeenOut})
@needs(InInstallation.ANYBODY)
def look_at_invitation(body: Held) -> Response:
    """What an invitation is to"""
    check_signing_in()
    return answer(members.look_at_invitation(body.token))


@api.post("/invitation/accept", responses={204: None})
@needs(InInstallation.ANYBODY)
def accept_invitation(body: HeldInvitation) -> Response:
    """Make the account that one is invited to make, and sign in"""
    check_signing_in()
    return holding(Response(status=204), members.accept(body.token, body, device(), person().address))


@api.post("/link/look", responses={200: WordedOut})
@needs(InInstallation.ANYBODY)
def look_at_link(body: Held) -> Response:
    """Whether a link asks for a word"""
    check_signing_in()
    return answer(WordedOut(worded=links.is_worded(body.token)))


@api.post("/link/open", responses={204: None})
@needs(InInstallation.ANYBODY)
def open_link(body: HeldLink) -> Response:
    """Look by a link from now on"""
    check_signing_in()
    return holding(Response(status=204), links.open_link(body.token, body.word, device(), person().address))


@api.get("/account", responses={200: OwnAccountOut})
@needs(InInstallation.SIGNED_IN)
def own_account() -> Response:
    """One's own account, and where one is signed in"""
    return answer(accounts.own(person()))


@api.patch("/account", responses={200: OwnAccountOut})
@needs(InInstallation.SIGNED_IN)
def edit_own(body: OwnAccountEdit) -> Response:
    """Another name for oneself, and whether notices come by mail"""
    return answer(accounts.edit_own(person(), body))


@api.post("/account/password", responses={200: OwnAccountOut})
@needs(InInstallation.SIGNED_IN)
def change_password(body: PasswordEdit) -> Response:
    """Another password; everywhere else one is signed out"""
    return answer(accounts.change_password(person(), body))


@api.get("/account/second", responses={200: SecondOut})
@needs(InInstallation.SIGNED_IN)
def propose_second() -> Response:
    """A secret for one-time codes, in use once one of its codes is said"""
    return answer(accounts.propose_second(person()))


@api.post("/account/second", responses={200: CodesOut})
@needs(InInstallation.SIGNED_IN)
def begin_second(body: SecondWanted) -> Response:
    """Ask for a one-time code at signing in; recovery codes"""
    return answer(accounts.begin_second(person(), body))


@api.post("/account/second/end", responses={200: OwnAccountOut})
@needs(InInstallation.SIGNED_IN)
def end_second(body: WithPassword) -> Response:
    """Ask for no one-time code any more"""
    return answer(accounts.end_second(person(), body.password))


@api.post("/account/recovery", responses={200: CodesOut})
@needs(InInstallation.SIGNED_IN)
def new_recovery(body: WithPassword) -> Response:
    """Other recovery codes in place of those before"""
    return answer(accounts.new_recovery(person(), body.password))


@api.delete("/account/devices/<int:number>", responses={204: None})
@needs(InInstallation.SIGNED_IN)
def end_device(path: ByNumber) -> tuple[str, int]:
    """Sign out on another device, or end the token of a program"""
    signing_in.end_device(person(), path.number)
    return "", 204


@api.post("/account/programs", responses={201: ProgramOut})
@needs(InInstallation.SIGNED_IN)
def add_program(body: ProgramNew) -> Response:
    """A token for a program, shown once"""
    return answer(signing_in.add_program(person(), body), 201)
