"""Routes of sheets and placements."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.errors import NotAllowed
from edge_slice.app.output.exports import export_sheet
from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InProject
from edge_slice.app.sheets import numbered_sheets, placements, sheet_views
from edge_slice.app.sheets.documents import (
    ArrangedOut,
    Arrangement,
    DesignPreview,
    GuideOut,
    PlacementEdit,
    PlacementNew,
    PlacementsMoved,
    SheetEdit,
    SheetNew,
    SheetOut,
    SheetPictures,
)
from edge_slice.core.render.outputs import Form
from edge_slice.store.tables import Placement, Project, Sheet
from edge_slice.web.access import needs, person
from edge_slice.web.common import BINARY, ById, answer, author, binary, download, routes

api = routes("sheets", __name__)


class SheetList(RootModel[list[SheetOut]]):
    pass


class GuideList(RootModel[list[GuideOut]]):
    pass


class ByIdAndForm(BaseModel):
    id: RowId
    form: Form


class OfDots(BaseModel):
    """Dots an inch of a picture."""

    dpi: float = Field(default=150, ge=30, le=1200, allow_inf_nan=False)


@api.get("/projects/<int:id>/sheets", responses={200: SheetList})
@needs(InProject.LOOK, Project)
def list_sheets(path: ById) -> Response:
    """The register: all sheets of a project in its order"""
    return answer(list(numbered_sheets.list_sheets(path.id)))


@api.post("/projects/<int:id>/sheets", responses={201: SheetOut})
@needs(InProject.EDIT, Project)
def add_sheet(path: ById, body: SheetNew) -> Response:
    """Add a sheet; without a number it gets the next one of its folder"""
    return answer(numbered_sheets.add_sheet(path.id, body, author()), 201)


@api.post("/projects/<int:id>/sheet-pictures", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def list_pictures(path: ById, body: SheetPictures) -> Response:
    """Several sheets in the compact form at once, each with its length before it"""
    return binary(sheet_views.sheet_screens(path.id, body))


@api.patch("/sheets/<int:id>", responses={200: SheetOut})
@needs(InProject.EDIT, Sheet)
def edit_sheet(path: ById, body: SheetEdit) -> Response:
    """Renumber, rename or resize a sheet, give it a design or a folder, or fill its title block"""
    return answer(numbered_sheets.edit_sheet(path.id, body, author()))


@api.delete("/sheets/<int:id>", responses={204: None})
@needs(InProject.EDIT, Sheet)
def delete_sheet(path: ById) -> tuple[str, int]:
    """Delete a sheet; its drawings stay"""
    numbered_sheets.delete_sheet(path.id, author())
    return "", 204


@api.get("/sheets/<int:id>/view", responses={200: BINARY})
@needs(InProject.LOOK, Sheet, by_link=True)
def view(path: ById) -> Response:
    """The sheet in the compact form"""
    return binary(sheet_views.sheet_screen(path.id))


@api.post("/sheets/<int:id>/design-preview", responses={200: BINARY})
@needs(InProject.LOOK, Sheet)
def preview_design(path: ById, body: DesignPreview) -> Response:
    """The sheet by a design that is not saved, in the compact form"""
    return binary(sheet_views.design_screen(path.id, body.document))


@api.get("/sheets/<int:id>/export.<form>", responses={200: BINARY})
@needs(InProject.LOOK, Sheet, by_link=True, costs=Cost.FILE)
def export(path: ByIdAndForm, query: OfDots) -> Response:
    """The sheet as PDF, SVG, DXF or PNG; by a link as PDF alone"""
    if person().link is not None and path.form != "pdf":
        raise NotAllowed("By a link a sheet is taken out as PDF.")
    return download(export_sheet(path.id, path.form, query.dpi))


@api.get("/sheets/<int:id>/guides", responses={200: GuideList})
@needs(InProject.LOOK, Sheet)
def guides(path: ById) -> Response:
    """Lines of the sheet's drawings that others can be brought level or in line with"""
    return answer(list(placements.guides_on(path.id)))


@api.post("/sheets/<int:id>/placements", responses={201: SheetOut})
@needs(InProject.EDIT, Sheet)
def place(path: ById, body: PlacementNew) -> Response:
    """Put a drawing on a sheet"""
    return answer(placements.place_drawing(path.id, body, author()), 201)


@api.post("/sheets/<int:id>/arrange", responses={200: ArrangedOut})
@needs(InProject.EDIT, Sheet)
def arrange(path: ById, body: Arrangement) -> Response:
    """Place several drawings in reading order; what finds no room is told"""
    return answer(placements.arrange(path.id, body, author()))


@api.post("/sheets/<int:id>/move", responses={200: SheetOut})
@needs(InProject.EDIT, Sheet)
def move(path: ById, body: PlacementsMoved) -> Response:
    """Move several placements of a sheet in one act"""
    return answer(placements.move_placements(path.id, body, author()))


@api.patch("/placements/<int:id>", responses={200: SheetOut})
@needs(InProject.EDIT, Placement)
def edit_placement(path: ById, body: PlacementEdit) -> Response:
    """Move, renumber, trim, title or stack a placement, or make it its drawing's home"""
    return answer(placements.edit_placement(path.id, body, author()))


@api.delete("/placements/<int:id>", responses={204: None})
@needs(InProject.EDIT, Placement)
def remove_placement(path: ById) -> tuple[str, int]:
    """Take a drawing off its sheet"""
    placements.remove_placement(path.id, author())
    return "", 204
