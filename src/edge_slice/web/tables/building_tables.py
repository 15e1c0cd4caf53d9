"""Routes of tables of the building."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.output.exports import File
from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InProject
from edge_slice.app.tables import acts
from edge_slice.app.tables.documents import (
    CellsTyped,
    InTableOut,
    KindOut,
    PictureLinesOut,
    TableContentOut,
    TableEdit,
    TableNew,
    TableOut,
    TakenBackOut,
)
from edge_slice.store.tables import Project, ProjectTable
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, download, routes

api = routes("building_tables", __name__)


class TableList(RootModel[list[TableOut]]):
    pass


class KindList(RootModel[list[KindOut]]):
    pass


class InTableList(RootModel[list[InTableOut]]):
    pass


class TableFile(BaseModel):
    id: RowId
    form: Annotated[str, Field(max_length=10)]


class TableUpload(BaseModel):
    file: FileStorage


class OfTarget(BaseModel):
    target: Annotated[str, Field(min_length=1, max_length=300)]


class OfTargets(BaseModel):
    """The rows by their targets, several of them as `target` again and again."""

    target: Annotated[list[Annotated[str, Field(min_length=1, max_length=300)]], Field(min_length=1, max_length=100)]


class PictureList(RootModel[list[PictureLinesOut]]):
    pass


@api.get("/projects/<int:id>/tables", responses={200: TableList})
@needs(InProject.LOOK, Project)
def list_tables(path: ById) -> Response:
    """The tables of a project"""
    return answer(list(acts.list_tables(path.id)))


@api.get("/projects/<int:id>/table-kinds", responses={200: KindList})
@needs(InProject.LOOK, Project)
def list_kinds(path: ById) -> Response:
    """The kinds of tables, with how many rows each would have"""
    return answer(list(acts.kinds_of(path.id)))


@api.get("/projects/<int:id>/tables-with", responses={200: InTableList})
@needs(InProject.LOOK, Project)
def tables_with(path: ById, query: OfTarget) -> Response:
    """The tables that have a row of an element, a room, a sheet or a drawing"""
    return answer(list(acts.tables_with(path.id, query.target)))


@api.post("/projects/<int:id>/tables", responses={201: TableOut})
@needs(InProject.EDIT, Project)
def add_table(path: ById, body: TableNew) -> Response:
    """Make a table of a kind, as most people want it"""
    return answer(acts.add_table(path.id, body, author()), 201)


@api.patch("/tables/<int:id>", responses={200: TableOut})
@needs(InProject.EDIT, ProjectTable)
def edit_table(path: ById, body: TableEdit) -> Response:
    """Change what a table shows"""
    return answer(acts.edit_table(path.id, body, author()))


@api.delete("/tables/<int:id>", responses={204: None})
@needs(InProject.EDIT, ProjectTable)
def delete_table(path: ById) -> tuple[str, int]:
    """Delete a table that stands on no sheet"""
    acts.delete_table(path.id, author())
    return "", 204


@api.get("/tables/<int:id>/content", responses={200: TableContentOut})
@needs(InProject.LOOK, ProjectTable)
def content(path: ById) -> Response:
    """What a table reads now"""
    return answer(acts.content_out(path.id))


@api.get("/tables/<int:id>/pictures", responses={200: PictureList})
@needs(InProject.LOOK, ProjectTable)
def pictures(path: ById, query: OfTargets) -> Response:
    """The pictures of some rows of a table"""
    return answer(list(acts.pictures_out(path.id, query.target)))


@api.post("/tables/<int:id>/cells", responses={200: TableOut})
@needs(InProject.EDIT, ProjectTable)
def type_cells(path: ById, body: CellsTyped) -> Response:
    """Type into own columns"""
    return answer(acts.type_cells(path.id, body, author()))


@api.get("/tables/<int:id>/file/<string:form>", responses={200: BINARY})
@needs(InProject.LOOK, ProjectTable, costs=Cost.FILE)
def file(path: TableFile) -> Response:
    """A table as CSV or XLSX"""
    return download(File(*acts.file_of(path.id, path.form)))


@api.post("/tables/<int:id>/compare", responses={200: TakenBackOut})
@needs(InProject.LOOK, ProjectTable)
def compare(path: ById, form: TableUpload) -> Response:
    """What an XLSX file would change in own columns; nothing is saved"""
    return answer(acts.compare_file(path.id, form.file.read()))
