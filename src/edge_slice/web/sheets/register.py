"""Routes of the register and of sheet designs."""

from __future__ import annotations

from flask import Response
from pydantic import RootModel

from edge_slice.app.output.exports import File
from edge_slice.app.people.rights import InProject
from edge_slice.app.sheets import designs, documenting, register
from edge_slice.app.sheets.documenting import DocumentedOut, Documenting
from edge_slice.app.sheets.documents import (
    DesignEdit,
    DesignNew,
    DesignOut,
    RenumberOut,
    RenumberWanted,
    Reordered,
    SheetOut,
)
from edge_slice.store.tables import Project, SheetDesignRow
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, download, routes

api = routes("register", __name__)


class DesignList(RootModel[list[DesignOut]]):
    pass


class OrderedSheets(RootModel[list[SheetOut]]):
    pass


@api.post("/projects/<int:id>/document", responses={201: DocumentedOut})
@needs(InProject.EDIT, Project)
def document(path: ById, body: Documenting) -> Response:
    """Annotate drawings, put them on sheets and enter these in the register, in one act"""
    return answer(documenting.document(path.id, body, author()), 201)


@api.post("/projects/<int:id>/renumber", responses={200: RenumberOut})
@needs(InProject.EDIT, Project)
def renumber(path: ById, body: RenumberWanted) -> Response:
    """What numbers sheets would get by the pattern, and giving them these"""
    return answer(register.renumber(path.id, body, author()))


@api.post("/projects/<int:id>/order-of-sheets", responses={200: OrderedSheets})
@needs(InProject.EDIT, Project)
def reorder(path: ById, body: Reordered) -> Response:
    """Put the sheets of a folder in an order"""
    return answer(list(register.reorder(path.id, body, author())))


@api.get("/projects/<int:id>/register.csv", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def register_csv(path: ById) -> Response:
    """The register as CSV"""
    return download(File("register.csv", "text/csv; charset=utf-8", register.register_csv(path.id)))


@api.get("/projects/<int:id>/sheet-designs", responses={200: DesignList})
@needs(InProject.LOOK, Project)
def list_designs(path: ById) -> Response:
    """The sheet designs that a project can use"""
    return answer(list(designs.list_designs(path.id)))


@api.post("/projects/<int:id>/sheet-designs", responses={201: DesignOut})
@needs(InProject.EDIT, Project)
def add_design(path: ById, body: DesignNew) -> Response:
    """A copy of a sheet design, or one that was exported before"""
    return answer(designs.add_design(path.id, body, author()), 201)


@api.patch("/sheet-designs/<int:id>", responses={200: DesignOut})
@needs(InProject.EDIT, SheetDesignRow)
def edit_design(path: ById, body: DesignEdit) -> Response:
    """Change a sheet design, and so all its sheets"""
    return answer(designs.edit_design(path.id, body, author()))


@api.delete("/sheet-designs/<int:id>", responses={204: None})
@needs(InProject.EDIT, SheetDesignRow)
def delete_design(path: ById) -> tuple[str, int]:
    """Delete a sheet design that no sheet has"""
    designs.delete_design(path.id, author())
    return "", 204
