"""Routes of the checks."""

from __future__ import annotations

from flask import Response
from pydantic import RootModel

from edge_slice.app.people.rights import InProject
from edge_slice.app.sheets import checks
from edge_slice.app.sheets.check_documents import FindingOut, LeaveFinding, SweepOut
from edge_slice.app.sheets.sweeping import swept
from edge_slice.store.tables import Project, Sheet
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes

api = routes("checks", __name__)


class SweepList(RootModel[list[SweepOut]]):
    pass


class FindingList(RootModel[list[FindingOut]]):
    pass


@api.get("/projects/<int:id>/checks", responses={200: FindingList})
@needs(InProject.LOOK, Project)
def checks_of(path: ById) -> Response:
    """What is wrong, doubtful or worth a remark in a project's drawings and sheets"""
    return answer(list(checks.checks_of(path.id)))


@api.get("/sheets/<int:id>/text-checks", responses={200: FindingList})
@needs(InProject.LOOK, Sheet)
def text_checks(path: ById) -> Response:
    """What is wrong with the texts of a sheet"""
    return answer(list(checks.text_checks_of(path.id)))


@api.get("/projects/<int:id>/sweeps", responses={200: SweepList})
@needs(InProject.LOOK, Project)
def sweeps_of(path: ById) -> Response:
    """Where one more section would explain most, along x and along y"""
    return answer(swept(path.id))


@api.post("/projects/<int:id>/left-findings", responses={204: None})
@needs(InProject.EDIT, Project)
def leave(path: ById, body: LeaveFinding) -> tuple[str, int]:
    """Leave a finding as it is, because …; without a reason it counts again"""
    checks.leave(path.id, body, author())
    return "", 204
