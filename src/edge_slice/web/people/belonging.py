"""Routes of who belongs to a project or to the installation, of links for others, and of the audit list."""

from __future__ import annotations

from datetime import datetime

from flask import Response
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.people import accounts, audit, links, members
from edge_slice.app.people.documents import (
    AccountEdit,
    AccountOut,
    AuditOut,
    InvitationNew,
    InvitationOut,
    InvitedOut,
    LinkNew,
    LinkOut,
    PeopleOut,
    RoleEdit,
)
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.store.tables import Project
from edge_slice.web.access import needs, person
from edge_slice.web.common import ById, answer, routes
from edge_slice.web.people.held import check_signing_in

api = routes("belonging", __name__)
api.before_request(check_signing_in)


class AccountList(RootModel[list[AccountOut]]):
    pass


class InvitedList(RootModel[list[InvitedOut]]):
    pass


class LinkList(RootModel[list[LinkOut]]):
    pass


class AuditList(RootModel[list[AuditOut]]):
    pass


class OfMember(ById):
    account: RowId


class ByNumber(ById):
    number: RowId


class Before(BaseModel):
    before: datetime | None = Field(default=None, description="Only what was before this time")


@api.get("/accounts", responses={200: AccountList})
@needs(InInstallation.RUN)
def list_accounts() -> Response:
    """The accounts of the installation"""
    return answer(list(accounts.list_accounts()))


@api.patch("/accounts/<int:id>", responses={200: AccountOut})
@needs(InInstallation.RUN)
def edit_account(path: ById, body: AccountEdit) -> Response:
    """What an account may do beside projects, and whether it is closed"""
    return answer(accounts.edit_account(person(), path.id, body))


@api.post("/accounts/<int:id>/way-back", responses={201: InvitationOut})
@needs(InInstallation.RUN)
def way_back(path: ById) -> Response:
    """A way back into an account whose password or one-time codes are lost"""
    return answer(members.way_back(person(), path.id), 201)


@api.get("/invitations", responses={200: InvitedList})
@needs(InInstallation.RUN)
def list_invited() -> Response:
    """Who is invited to the installation, without a project"""
    return answer(list(members.invited_to_installation()))


@api.post("/invitations", responses={201: InvitationOut})
@needs(InInstallation.RUN)
def invite_to_installation(body: InvitationNew) -> Response:
    """Invite somebody to the installation"""
    return answer(members.invite(person(), None, body), 201)


@api.delete("/invitations/<int:id>", responses={204: None})
@needs(InInstallation.RUN)
def take_back_invitation(path: ById) -> tuple[str, int]:
    """Take an invitation to the installation back"""
    members.take_back(person(), None, path.id)
    return "", 204


@api.get("/projects/<int:id>/people", responses={200: PeopleOut})
@needs(InProject.LOOK, Project, or_running=True)
def people(path: ById) -> Response:
    """Who belongs to a project, and who is invited to it"""
    return answer(members.people_of(person(), path.id))


@api.patch("/projects/<int:id>/people/<int:account>", responses={200: PeopleOut})
@needs(InProject.OWN, Project, or_running=True)
def give_role(path: OfMember, body: RoleEdit) -> Response:
    """Another role for somebody"""
    return answer(members.give_role(person(), path.id, path.account, body.role))


@api.delete("/projects/<int:id>/people/<int:account>", responses={200: PeopleOut})
@needs(InProject.OWN, Project, or_running=True)
def take_out(path: OfMember) -> Response:
    """Take somebody out of a project"""
    return answer(members.take_out(person(), path.id, path.account))


@api.post("/projects/<int:id>/invitations", responses={201: InvitationOut})
@needs(InProject.OWN, Project, or_running=True)
def invite(path: ById, body: InvitationNew) -> Response:
    """Invite somebody to a project; who has an account belongs to it at once"""
    return answer(members.invite(person(), path.id, body), 201)


@api.delete("/projects/<int:id>/invitations/<int:number>", responses={204: None})
@needs(InProject.OWN, Project, or_running=True)
def take_back(path: ByNumber) -> tuple[str, int]:
    """Take an invitation to a project back"""
    members.take_back(person(), path.id, path.number)
    return "", 204


@api.get("/projects/<int:id>/links", responses={200: LinkList})
@needs(InProject.EDIT, Project)
def list_links(path: ById) -> Response:
    """The links by which others look at an issue or at sheets"""
    return answer(list(links.links_of(path.id)))


@api.post("/projects/<int:id>/links", responses={201: LinkOut})
@needs(InProject.EDIT, Project)
def make_link(path: ById, body: LinkNew) -> Response:
    """A link to an issue, or to sheets as they are"""
    return answer(links.make_link(person(), path.id, body), 201)


@api.delete("/projects/<int:id>/links/<int:number>", responses={200: LinkOut})
@needs(InProject.EDIT, Project)
def withdraw(path: ByNumber) -> Response:
    """Withdraw a link: nobody looks by it any more"""
    return answer(links.withdraw(person(), path.id, path.number))


@api.get("/projects/<int:id>/audit", responses={200: AuditList})
@needs(InProject.OWN, Project)
def audit_of_project(path: ById, query: Before) -> Response:
    """Who did what to whose rights in a project"""
    return answer(list(audit.listed(path.id, query.before)))


@api.get("/audit", responses={200: AuditList})
@needs(InInstallation.RUN)
def audit_of_installation(query: Before) -> Response:
    """Who signed in, and who did what to whose rights"""
    return answer(list(audit.listed(None, query.before)))
