"""What comes in and goes out about people."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from edge_slice.app.documents import Input, RowId
from edge_slice.app.people.rights import RoleName
from edge_slice.app.people.secrets_held import LONGEST

Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"\S")]
Mail = Annotated[str, Field(min_length=3, max_length=200, pattern=r"^[^\s@<>\"]+@[^\s@<>\"]+$")]
Password = Annotated[str, Field(max_length=LONGEST)]
Token = Annotated[str, Field(min_length=20, max_length=100, pattern=r"^[A-Za-z0-9_-]+$")]
Days = Annotated[int, Field(ge=1, le=365)]


class SessionOut(BaseModel):
    """Who asks, and what they may do beside projects. `signing_in`: whether people sign in at all; `signed_in`: whether
    this one has; `link`: what a link leads to; `office`: what the office's own service to sign in by is called, empty
    for none."""

    signing_in: bool
    signed_in: bool
    account: int | None = None
    name: str = ""
    runs: bool = False
    may_make: bool = False
    may_keep: bool = False
    link: LinkSeenOut | None = None
    office: str = ""


class SignIn(Input):
    """`code`: a one-time code, by time or for recovery, where the account asks for one."""

    mail: Annotated[str, Field(max_length=200)]
    password: Password
    code: Annotated[str, Field(max_length=20)] = ""


class SignedInOut(BaseModel):
    """`needs_code`: the password is right, and a one-time code is asked for."""

    needs_code: bool


class AccountOut(BaseModel):
    id: int
    mail: str
    name: str
    runs: bool
    may_make: bool
    may_keep: bool
    closed: bool
    second: bool
    last_seen: datetime | None


class AccountEdit(Input):
    name: Name | None = None
    runs: bool | None = None
    may_make: bool | None = None
    may_keep: bool | None = None
    closed: bool | None = None


class OwnAccountEdit(Input):
    """`mails`: whether notices go by mail, too."""

    name: Name | None = None
    mails: bool | None = None


class PasswordEdit(Input):
    password: Password
    new_password: Password


class DeviceOut(BaseModel):
    """Where somebody is signed in; `here`: where this is asked from."""

    id: int
    device: str
    address: str
    program: bool
    here: bool
    created_at: datetime
    seen_at: datetime
    ends_at: datetime


class ProgramNew(Input):
    """A token for a program that sends or fetches for somebody."""

    name: Name
    days: Days = 90


class ProgramOut(BaseModel):
    """`token` is shown once."""

    id: int
    token: str


class OwnAccountOut(BaseModel):
    """`wants_codes`: that one sees to the installation only once one-time codes are asked for."""

    mail: str
    name: str
    second: bool
    codes_left: int
    mails: bool
    wants_codes: bool
    devices: list[DeviceOut]


class SecondOut(BaseModel):
    """A new secret for one-time codes by time, not in use yet; `picture`: the same as an SVG to be read by a camera."""

    secret: str
    uri: str
    picture: str


class SecondWanted(Input):
    secret: Annotated[str, Field(pattern=r"^[A-Z2-7]{32}$")]
    code: Annotated[str, Field(pattern=r"^[0-9]{6}$")]
    password: Password


class WithPassword(Input):
    password: Password


class CodesOut(BaseModel):
    """One-time recovery codes, shown once."""

    codes: list[str]


class MemberOut(BaseModel):
    account: int
    name: str
    mail: str
    role: RoleName
    closed: bool


class InvitedOut(BaseModel):
    id: int
    mail: str
    role: RoleName | Literal[""]
    by: str
    ends_at: datetime


class PeopleOut(BaseModel):
    """Who belongs to a project, and who is invited to it; `mine`: the role of who asks."""

    members: list[MemberOut]
    invited: list[InvitedOut]
    mine: RoleName | Literal[""]


class RoleEdit(Input):
    role: RoleName


class InvitationNew(Input):
    """Who has an account already becomes a member at once."""

    mail: Mail
    role: RoleName | None = None


class InvitationOut(BaseModel):
    """`token` is shown once, and leads to making an account; empty where there was one already. `mailed`: whether a
    letter with it is on its way."""

    id: int | None
    token: str
    mailed: bool = False


class InvitationSeenOut(BaseModel):
    """`back`: it leads back into an account that is there."""

    mail: str
    project: str
    role: RoleName | Literal[""]
    by: str
    back: bool


class InvitationTaken(Input):
    name: Name
    password: Password


class LinkNew(Input):
    """Leads to an issue, or to sheets as they are; `word`: has to be said first, empty for none."""

    name: Name
    issue: RowId | None = None
    sheets: Annotated[list[RowId], Field(max_length=500)] = Field(default_factory=list)
    days: Days = 30
    word: Annotated[str, Field(max_length=100)] = ""


class LinkOut(BaseModel):
    """`token` is told once, when the link is made."""

    id: int
    token: str = ""
    name: str
    issue: int | None
    sheets: list[int]
    with_word: bool
    by: str
    created_at: datetime
    ends_at: datetime
    withdrawn: bool


class LinkOpened(Input):
    word: Annotated[str, Field(max_length=100)] = ""


class LinkedSheetOut(BaseModel):
    """A sheet that a link leads to: `issued`, or as it is."""

    id: int
    issued: bool
    number: str
    title: str


class LinkSeenOut(BaseModel):
    name: str
    project: str
    issue: int | None
    ends_at: datetime
    sheets: list[LinkedSheetOut]


class AuditOut(BaseModel):
    at: datetime
    who: str
    act: str
    project: int | None
    of: str
    address: str


SessionOut.model_rebuild()
