"""Routes of rules for new drawings."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.app.rules import acts, office
from edge_slice.app.rules.documents import (
    DrawingRuleEdit,
    DrawingRuleNew,
    DrawingRuleOut,
    FollowingOut,
    OfficeRuleOut,
    RuleBack,
    RuleGiven,
)
from edge_slice.store.tables import Drawing, DrawingRuleRow, Project
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes
from edge_slice.web.drawings.lineage import DrawingList

api = routes("drawing_rules", __name__)


class DrawingRuleList(RootModel[list[DrawingRuleOut]]):
    pass


class FollowingList(RootModel[list[FollowingOut]]):
    pass


class OfficeRuleList(RootModel[list[OfficeRuleOut]]):
    pass


class TakenRule(BaseModel):
    id: RowId
    rule: RowId


@api.get("/office-rules", responses={200: OfficeRuleList})
@needs(InInstallation.SIGNED_IN)
def list_office() -> Response:
    """The rules that the office keeps for all projects"""
    return answer(list(office.list_office()))


@api.post("/drawing-rules/<int:id>/office", responses={201: OfficeRuleOut})
@needs(InProject.LOOK, DrawingRuleRow, also=InInstallation.KEEP)
def keep_for_office(path: ById) -> Response:
    """Keep a project's rule for all projects of the office"""
    return answer(office.keep_for_office(path.id), 201)


@api.post("/projects/<int:id>/office-rules/<int:rule>", responses={200: DrawingRuleOut})
@needs(InProject.EDIT, Project)
def take_of_office(path: TakenRule) -> Response:
    """Let a project have a rule of the office, or what that says now"""
    return answer(office.take(path.id, path.rule, author()))


@api.delete("/office-rules/<int:id>", responses={204: None})
@needs(InInstallation.KEEP)
def delete_office(path: ById) -> tuple[str, int]:
    """Delete a rule of the office; projects keep those that they took"""
    office.delete_office(path.id)
    return "", 204


@api.get("/projects/<int:id>/drawing-rules", responses={200: DrawingRuleList})
@needs(InProject.LOOK, Project)
def list_rules(path: ById) -> Response:
    """The rules for new drawings of a project"""
    return answer(list(acts.list_rules(path.id)))


@api.post("/projects/<int:id>/drawing-rules", responses={201: DrawingRuleOut})
@needs(InProject.EDIT, Project)
def add_rule(path: ById, body: DrawingRuleNew) -> Response:
    """Make a rule as it is given, or of what a drawing shows"""
    return answer(acts.add_rule(path.id, body, author()), 201)


@api.post("/drawing-rules/<int:id>/follows", responses={200: FollowingList})
@needs(InProject.LOOK, DrawingRuleRow)
def follows(path: ById, body: DrawingRuleEdit) -> Response:
    """What a change of a rule would do to the drawings that follow it"""
    return answer(list(acts.follows(path.id, body)))


@api.patch("/drawing-rules/<int:id>", responses={200: DrawingRuleOut})
@needs(InProject.EDIT, DrawingRuleRow)
def edit_rule(path: ById, body: DrawingRuleEdit) -> Response:
    """Change a rule, and all drawings in what they follow it"""
    return answer(acts.edit_rule(path.id, body, author()))


@api.delete("/drawing-rules/<int:id>", responses={204: None})
@needs(InProject.EDIT, DrawingRuleRow)
def delete_rule(path: ById) -> tuple[str, int]:
    """Delete a rule; drawings that followed it stay as they are"""
    acts.delete_rule(path.id, author())
    return "", 204


@api.post("/projects/<int:id>/drawings/rule", responses={200: DrawingList})
@needs(InProject.EDIT, Project)
def give_rule(path: ById, body: RuleGiven) -> Response:
    """Let drawings follow a rule, or none"""
    return answer(list(acts.give_rule(path.id, body, author())))


@api.post("/drawings/<int:id>/rule/back", responses={200: DrawingOut})
@needs(InProject.EDIT, Drawing)
def go_back(path: ById, body: RuleBack) -> Response:
    """Let a drawing say again what its rule says"""
    return answer(acts.go_back(path.id, body, author()))
