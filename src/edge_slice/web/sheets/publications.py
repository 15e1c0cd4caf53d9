"""Routes of files of sheets, and of issues."""

from __future__ import annotations

from flask import Response

from edge_slice.app.output import issues, publications
from edge_slice.app.output.documents import IssueChangesOut, IssuesOut, MarksPlaced, PublicationNew, PublicationOut
from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InProject
from edge_slice.app.sheets import revision_marks
from edge_slice.store.tables import Issue, IssuedSheet, Project, Publication
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, binary, download, routes

api = routes("publications", __name__)


@api.post("/projects/<int:id>/publications", responses={202: PublicationOut})
@needs(InProject.EDIT, Project, costs=Cost.SET)
def publish(path: ById, body: PublicationNew) -> Response:
    """Make a file of sheets in the background, or issue them"""
    return answer(publications.start(path.id, body, author()), 202)


@api.get("/publications/<int:id>", responses={200: PublicationOut})
@needs(InProject.LOOK, Publication)
def publication(path: ById) -> Response:
    """How far a file is"""
    return answer(publications.get(path.id))


@api.delete("/publications/<int:id>", responses={200: PublicationOut})
@needs(InProject.EDIT, Publication)
def cancel(path: ById) -> Response:
    """Stop making a file"""
    return answer(publications.cancel(path.id))


@api.post("/publications/<int:id>/retry", responses={202: PublicationOut})
@needs(InProject.EDIT, Publication, costs=Cost.SET)
def retry(path: ById) -> Response:
    """Make a file once more that could not be made"""
    return answer(publications.retry(path.id), 202)


@api.get("/publications/<int:id>/file", responses={200: BINARY})
@needs(InProject.LOOK, Publication)
def publication_file(path: ById) -> Response:
    """The file that was made"""
    return download(publications.file_of(path.id))


@api.get("/projects/<int:id>/issues", responses={200: IssuesOut})
@needs(InProject.LOOK, Project)
def list_issues(path: ById) -> Response:
    """The issues of a project, the newest first"""
    return answer(issues.list_issues(path.id))


@api.get("/issues/<int:id>/file", responses={200: BINARY})
@needs(InProject.LOOK, Issue, by_link=True)
def issue_file(path: ById) -> Response:
    """The PDF of an issue, to the byte as it was issued"""
    return download(issues.issue_file(path.id))


@api.get("/issues/<int:id>/changes", responses={200: IssueChangesOut})
@needs(InProject.LOOK, Issue)
def changes(path: ById) -> Response:
    """What has changed since an issue, sheet by sheet"""
    return answer(issues.changes_since(path.id))


@api.get("/issues/<int:id>/changes.pdf", responses={200: BINARY})
@needs(InProject.LOOK, Issue, costs=Cost.FILE)
def changes_file(path: ById) -> Response:
    """All changed sheets laid over what was issued"""
    return download(issues.changes_file(path.id))


@api.get("/issued-sheets/<int:id>/file", responses={200: BINARY})
@needs(InProject.LOOK, IssuedSheet, by_link=True)
def issued_sheet_file(path: ById) -> Response:
    """The PDF of one sheet of an issue"""
    return download(issues.issued_sheet_file(path.id))


@api.post("/issued-sheets/<int:id>/revision-marks", responses={200: MarksPlaced})
@needs(InProject.EDIT, IssuedSheet)
def mark_changes(path: ById) -> Response:
    """Marks of a revision around what has changed on the drawings of a sheet since an issue"""
    return answer(revision_marks.mark_changes(path.id, author()))


@api.get("/issued-sheets/<int:id>/view", responses={200: BINARY})
@needs(InProject.LOOK, IssuedSheet, by_link=True)
def issued_view(path: ById) -> Response:
    """A sheet as it was issued, in the compact form"""
    return binary(issues.issued_screen(path.id))


@api.get("/issued-sheets/<int:id>/changes", responses={200: BINARY})
@needs(InProject.LOOK, IssuedSheet)
def changes_view(path: ById) -> Response:
    """The sheet as it is now over what was issued, in the compact form"""
    return binary(issues.changes_screen(path.id))
