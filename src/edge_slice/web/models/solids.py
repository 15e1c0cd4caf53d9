"""Routes of the Model bench."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.models import solids
from edge_slice.app.models.solid_documents import (
    BodiesWanted,
    DrawingPlanesOut,
    LightOut,
    LightWanted,
    PlaneCutOut,
    PlaneWanted,
    SolidLookOut,
    SolidOut,
    StopOut,
    ViewWanted,
)
from edge_slice.app.people.rights import InProject
from edge_slice.store.tables import Project
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, download, routes

api = routes("solids", __name__)
A_YEAR = 31_536_000  # seconds


class PartPath(BaseModel):
    id: RowId
    number: int = Field(ge=0, le=10_000)


class PartWanted(BaseModel):
    of: str = Field(max_length=80, description="The geometry that the part is wanted of")
    whole: bool = Field(False, description="All of its storey, also what is left out of large models")


class LookWanted(BaseModel):
    standard: str = Field("", max_length=80, description="The standard whose colours are wanted; empty: the usual one")
    shown_set: str = Field("", max_length=80, description="What leaves out kinds and elements; empty: none")


class PlanesWanted(BaseModel):
    drawing: RowId | None = Field(None, description="The drawing whose planes are wanted; none: of all")


class Direction(BaseModel):
    """A direction in the model."""

    x: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)
    y: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)
    z: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)


class PlaneList(RootModel[list[DrawingPlanesOut]]):
    pass


class StopList(RootModel[list[StopOut]]):
    pass


@api.get("/projects/<int:id>/solid", responses={200: SolidOut})
@needs(InProject.LOOK, Project)
def solid(path: ById) -> Response:
    """The model in three dimensions: its parts, storey by storey"""
    return answer(solids.solid_of(path.id))


@api.get("/projects/<int:id>/solid/<int:number>", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def part(path: PartPath, query: PartWanted) -> Response:
    """A part of the model in its compact form; it never changes under its geometry"""
    response = Response(
        solids.solid_part(path.id, query.of, path.number, query.whole), mimetype="application/octet-stream"
    )
    response.headers["Content-Encoding"] = "gzip"
    response.headers["Cache-Control"] = f"private, max-age={A_YEAR}, immutable"
    return response


@api.get("/projects/<int:id>/solid-look", responses={200: SolidLookOut})
@needs(InProject.LOOK, Project)
def look(path: ById, query: LookWanted) -> Response:
    """Colours of the model by a standard, and what a shown set leaves out of it"""
    return answer(solids.look_of(path.id, query.standard, query.shown_set))


@api.get("/projects/<int:id>/planes", responses={200: PlaneList})
@needs(InProject.LOOK, Project)
def planes(path: ById, query: PlanesWanted) -> Response:
    """The planes of the cuts of all drawings, or of one"""
    return answer(list(solids.planes_of(path.id, query.drawing)))


@api.post("/projects/<int:id>/planes", responses={200: PlaneCutOut})
@needs(InProject.LOOK, Project)
def plane_cut(path: ById, body: PlaneWanted) -> Response:
    """A plane as a cut of the kind that fits; nothing is saved"""
    return answer(solids.plane_cut(path.id, body))


@api.post("/projects/<int:id>/views", responses={200: PlaneCutOut})
@needs(InProject.LOOK, Project)
def view(path: ById, body: ViewWanted) -> Response:
    """The building as it is seen from somewhere, opened, as a cut; nothing is saved"""
    return answer(solids.view_of(path.id, body))


@api.get("/projects/<int:id>/plane-stops", responses={200: StopList})
@needs(InProject.LOOK, Project)
def stops(path: ById, query: Direction) -> Response:
    """Levels, grid lines, faces and openings that a plane square to a direction may come to rest at"""
    return answer(list(solids.stops_of(path.id, (query.x, query.y, query.z))))


@api.post("/projects/<int:id>/light", responses={200: LightOut})
@needs(InProject.LOOK, Project)
def light(path: ById, body: LightWanted) -> Response:
    """The way the light of a sun goes in the model"""
    return answer(solids.light_of(path.id, body))


@api.post("/projects/<int:id>/bodies", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def bodies(path: ById, body: BodiesWanted) -> Response:
    """The model cut open as closed bodies, a file"""
    return download(solids.bodies(path.id, body))
