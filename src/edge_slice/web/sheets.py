"""Routes of sheets and placements."""

from __future__ import annotations

from typing import Literal

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, RootModel

from edge_slice.app import sheets
from edge_slice.app.documents import PlacementEdit, PlacementNew, RowId, SheetEdit, SheetNew, SheetOut, SheetPictures
from edge_slice.app.exports import export_sheet
from edge_slice.web.common import BINARY, ERRORS, ById, answer, author, binary, download

api = APIBlueprint("sheets", __name__, url_prefix="/api", abp_responses=ERRORS)


class SheetList(RootModel[list[SheetOut]]):
    pass


class ByIdAndForm(BaseModel):
    id: RowId
    form: Literal["svg", "pdf", "dxf"]


@api.get("/projects/<int:id>/sheets", responses={200: SheetList})
def list_sheets(path: ById) -> Response:
    """The register: all sheets of a project by number"""
    return answer(list(sheets.list_sheets(path.id)))


@api.post("/projects/<int:id>/sheets", responses={201: SheetOut})
def add_sheet(path: ById, body: SheetNew) -> Response:
    """Add a sheet; without a number it gets the next one"""
    return answer(sheets.add_sheet(path.id, body, author()), 201)


@api.post("/projects/<int:id>/sheet-pictures", responses={200: BINARY})
def sheet_pictures(path: ById, body: SheetPictures) -> Response:
    """Several sheets in the compact form at once, each with its length before it"""
    return binary(sheets.sheet_screens(path.id, body))


@api.patch("/sheets/<int:id>", responses={200: SheetOut})
def edit_sheet(path: ById, body: SheetEdit) -> Response:
    """Renumber, rename or resize a sheet, or fill its title block"""
    return answer(sheets.edit_sheet(path.id, body, author()))


@api.delete("/sheets/<int:id>", responses={204: None})
def delete_sheet(path: ById) -> tuple[str, int]:
    """Delete a sheet; its drawings stay"""
    sheets.delete_sheet(path.id, author())
    return "", 204


@api.get("/sheets/<int:id>/view", responses={200: BINARY})
def view(path: ById) -> Response:
    """The sheet in the compact form"""
    return binary(sheets.sheet_screen(path.id))


@api.get("/sheets/<int:id>/export.<form>", responses={200: BINARY})
def export(path: ByIdAndForm) -> Response:
    """The sheet as PDF or SVG"""
    return download(export_sheet(path.id, path.form))


@api.post("/sheets/<int:id>/placements", responses={201: SheetOut})
def place(path: ById, body: PlacementNew) -> Response:
    """Put a drawing on a sheet"""
    return answer(sheets.place_drawing(path.id, body, author()), 201)


@api.patch("/placements/<int:id>", responses={200: SheetOut})
def edit_placement(path: ById, body: PlacementEdit) -> Response:
    """Move or renumber a placement"""
    return answer(sheets.edit_placement(path.id, body, author()))


@api.delete("/placements/<int:id>", responses={204: None})
def remove_placement(path: ById) -> tuple[str, int]:
    """Take a drawing off its sheet"""
    sheets.remove_placement(path.id, author())
    return "", 204
