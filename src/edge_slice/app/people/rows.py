"""Which project a row belongs to, and what somebody may do there, in one question: whether it is there does not show
in how long it takes."""

from __future__ import annotations

import re
from typing import Any

from sqlalchemy import and_, or_, text
from sqlalchemy.sql.elements import ColumnElement
from sqlmodel import Session, SQLModel, col, select

from edge_slice.app.people.rights import OF_ROLE, InProject, OfLink, Person
from edge_slice.store.people import Member
from edge_slice.store.tables import Issue, IssuedSheet, ModelImport, Project, Sheet

PICTURE = "picture"
NAME = re.compile("[0-9a-f]{64}")
LARGEST = 2_147_483_647
# where a picture is shown, or was loaded for, in projects of an account
_PICTURED = text(
    "SELECT m.role FROM member AS m WHERE m.account_id = :account AND ("
    "EXISTS (SELECT FROM project_picture AS p WHERE p.project_id = m.project_id AND p.hash = :name)"
    " OR EXISTS (SELECT FROM annotation AS a WHERE a.project_id = m.project_id AND a.document::text LIKE :within)"
    " OR EXISTS (SELECT FROM sheet_design AS d WHERE d.project_id = m.project_id AND d.document::text LIKE :within)"
    ") LIMIT 1"
)
_PICTURED_IN = text(
    "SELECT true WHERE EXISTS (SELECT FROM annotation AS a WHERE a.project_id = :project"
    " AND a.document::text LIKE :within)"
    " OR EXISTS (SELECT FROM sheet_design AS d WHERE d.project_id = :project AND d.document::text LIKE :within)"
)


def role_at(session: Session, person: Person, of: type[SQLModel] | str, row: int | str | None) -> InProject | None:
    """What somebody may do in the project of a row; None: the row is none of theirs, or not there."""
    if of == PICTURE:
        return _role_at_picture(session, person, str(row))
    if not isinstance(row, int) or not 1 <= row <= LARGEST or isinstance(of, str):
        return None
    mine = col(Member.account_id) == person.account
    if of is ModelImport:
        return _role_at_import(session, person, row)
    role = session.exec(select(Member.role).where(mine, _belongs(of, row))).first()
    return OF_ROLE[role] if role is not None else None


def _belongs(of: type[SQLModel], row: int) -> ColumnElement[bool]:
    """Whether a member's project is that of a row."""
    project: Any = col(Member.project_id)
    if of is Project:
        return and_(project == row)
    if of is IssuedSheet:
        found = select(Issue.project_id).join(IssuedSheet, col(IssuedSheet.issue_id) == col(Issue.id))
        return and_(project == found.where(col(IssuedSheet.id) == row).scalar_subquery())
    table: Any = of
    return and_(project == select(table.project_id).where(table.id == row).scalar_subquery())


def _role_at_import(session: Session, person: Person, row: int) -> InProject | None:
    """An import is of the project that it goes into; until there is one, of who sent it."""
    goes = select(ModelImport.into_id, ModelImport.project_id, ModelImport.sender_id, Member.role).outerjoin(
        Member,
        and_(
            col(Member.account_id) == person.account,
            or_(
                col(Member.project_id) == col(ModelImport.into_id),
                and_(col(ModelImport.into_id).is_(None), col(Member.project_id) == col(ModelImport.project_id)),
            ),
        ),
    )
    found = session.exec(goes.where(col(ModelImport.id) == row)).first()
    if found is None:
        return None
    into, became, sender, role = found
    if into is None and became is None:
        return InProject.OWN if sender == person.account else None
    return OF_ROLE[role] if role is not None else None


def _role_at_picture(session: Session, person: Person, name: str) -> InProject | None:
    if not NAME.fullmatch(name):
        return None
    said = {"account": person.account, "name": name, "within": f'%"{name}"%'}
    role = session.connection().execute(_PICTURED, said).scalar()
    return OF_ROLE[role] if role is not None else None


def may_by_link(session: Session, link: OfLink, of: type[SQLModel] | str, row: int | str | None) -> bool:
    """Whether a link leads to a row."""
    if of is Issue:
        return link.issue is not None and row == link.issue
    if of is Sheet:
        return link.issue is None and row in link.sheets
    if of == PICTURE and NAME.fullmatch(str(row)):
        said = {"project": link.project, "within": f'%"{row}"%'}
        return bool(session.connection().execute(_PICTURED_IN, said).scalar())
    if of is IssuedSheet and isinstance(row, int):
        mine = select(IssuedSheet.id).where(col(IssuedSheet.id) == row, col(IssuedSheet.issue_id) == link.issue)
        return link.issue is not None and session.exec(mine).first() is not None
    return False
