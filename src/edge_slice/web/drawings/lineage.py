"""Routes of drawings and their views."""

from __future__ import annotations

from dataclasses import asdict

from flask import Response
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.drawings import given_settings, lineage, placing, sun_studies
from edge_slice.app.drawings.documents import (
    DrawingCopies,
    DrawingEdit,
    DrawingNew,
    DrawingOut,
    DrawingsChosen,
    DrawingSet,
    PreviewRequest,
    RecutOut,
    SettingsGiven,
    ViewRequest,
    WallSectionRequest,
)
from edge_slice.app.drawings.markers import markers_on_screen
from edge_slice.app.drawings.placing_documents import (
    CutReportOut,
    DrawingMarkersOut,
    LineActRequest,
    LineThrough,
    MarkersWanted,
    PlacesOut,
)
from edge_slice.app.drawings.sun_studies import SunStudyNew
from edge_slice.app.output.exports import export_drawing
from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InProject
from edge_slice.app.views import composed, recut
from edge_slice.core.cut import SectionCut
from edge_slice.core.render.outputs import FormOrCut
from edge_slice.store.tables import Drawing, Project
from edge_slice.web.access import needs
from edge_slice.web.common import BINARY, ById, answer, author, download, routes, screen

api = routes("drawings", __name__)


class DrawingList(RootModel[list[DrawingOut]]):
    pass


class CalloutsFate(BaseModel):
    """Whether callouts of what is deleted are kept as drawings of their own, or deleted too; refused where there are
    some and nothing is said."""

    callouts: lineage.Fate | None = None


class ByIdAndForm(BaseModel):
    id: RowId
    form: FormOrCut


class OfRevision(BaseModel):
    revision: int | None = Field(default=None, ge=0, le=1_000_000, description="0: the newest, without corrections")


@api.get("/projects/<int:id>/drawings", responses={200: DrawingList})
@needs(InProject.LOOK, Project)
def list_drawings(path: ById) -> Response:
    """All drawings of a project"""
    return answer(list(lineage.list_drawings(path.id)))


@api.post("/projects/<int:id>/drawings", responses={201: DrawingOut})
@needs(InProject.EDIT, Project)
def add_drawing(path: ById, body: DrawingNew) -> Response:
    """Make a drawing from a cut"""
    return answer(lineage.add_drawing(path.id, body, author()), 201)


@api.post("/projects/<int:id>/drawing-sets", responses={201: DrawingList})
@needs(InProject.EDIT, Project)
def add_drawing_set(path: ById, body: DrawingSet) -> Response:
    """Make several drawings in one act: elevations, interior elevations of a room, plans or ceiling plans"""
    return answer(list(lineage.add_drawing_set(path.id, body, author())), 201)


@api.post("/projects/<int:id>/view", responses={200: BINARY})
@needs(InProject.LOOK, Project)
def preview(path: ById, body: PreviewRequest) -> Response:
    """Compose a drawing without saving it; the compact form is described in docs/file-formats.md"""
    return screen(composed.screen_view(path.id, body.cut, body.style, body.drawing, body.moving))


@api.post("/projects/<int:id>/cut-report", responses={200: CutReportOut})
@needs(InProject.LOOK, Project)
def cut_report(path: ById, body: ViewRequest) -> Response:
    """What a cut passes through, in order, and what it just misses"""
    return answer(CutReportOut.model_validate(asdict(composed.report_of(path.id, body.cut, body.style))))


@api.get("/projects/<int:id>/places", responses={200: PlacesOut})
@needs(InProject.LOOK, Project)
def places(path: ById) -> Response:
    """What cuts can be placed by: openings, stairs, columns, rooms, and the grid"""
    return answer(placing.places_of(path.id))


@api.post("/projects/<int:id>/drawings/delete", responses={204: None})
@needs(InProject.EDIT, Project)
def delete_drawings(path: ById, query: CalloutsFate, body: DrawingsChosen) -> tuple[str, int]:
    """Delete several drawings in one act"""
    lineage.delete_drawings(path.id, body.ids, author(), query.callouts)
    return "", 204


@api.post("/projects/<int:id>/recut", responses={202: RecutOut})
@needs(InProject.EDIT, Project, costs=Cost.SET)
def start_recut(path: ById) -> Response:
    """Cut all drawings anew in the background; progress is told with the events"""
    return answer(recut.start(path.id), 202)


@api.delete("/projects/<int:id>/recut", responses={204: None})
@needs(InProject.EDIT, Project)
def cancel_recut(path: ById) -> tuple[str, int]:
    """Stop cutting drawings anew"""
    recut.cancel(path.id)
    return "", 204


class MarkerList(RootModel[list[DrawingMarkersOut]]):
    pass


@api.post("/projects/<int:id>/markers", responses={200: MarkerList})
@needs(InProject.LOOK, Project)
def markers(path: ById, body: MarkersWanted) -> Response:
    """The markers that some drawings show"""
    return answer(list(markers_on_screen(path.id, body.drawings)))


@api.post("/projects/<int:id>/line-through", responses={200: SectionCut})
@needs(InProject.LOOK, Project)
def line_through(path: ById, body: LineThrough) -> Response:
    """Lay a section's line through the middle of chosen things, with the fewest steps; nothing is saved"""
    return answer(placing.line_through(path.id, body))


@api.post("/projects/<int:id>/line-acts", responses={200: SectionCut})
@needs(InProject.LOOK, Project)
def line_act(path: ById, body: LineActRequest) -> Response:
    """Move a section's line beside itself, turn or align it; nothing is saved"""
    return answer(placing.act_on_line(body))


@api.post("/projects/<int:id>/wall-section", responses={200: SectionCut})
@needs(InProject.LOOK, Project)
def wall_section(path: ById, body: WallSectionRequest) -> Response:
    """Make the cut of a wall section of a line across the wall; nothing is saved"""
    return answer(placing.wall_section_of(path.id, body))


@api.post("/drawings/<int:id>/copies", responses={201: DrawingList})
@needs(InProject.EDIT, Drawing)
def copy_section(path: ById, body: DrawingCopies) -> Response:
    """Copy a section beside itself or turned, once or several times, in one act"""
    return answer(list(lineage.copy_section(path.id, body, author())), 201)


@api.post("/drawings/<int:id>/sun-study", responses={201: DrawingList})
@needs(InProject.EDIT, Drawing)
def make_sun_study(path: ById, body: SunStudyNew) -> Response:
    """Copy a drawing for several hours of a day, each with the sun of its hour, in one act"""
    return answer(list(sun_studies.make(path.id, body, author())), 201)


@api.get("/drawings/<int:id>", responses={200: DrawingOut})
@needs(InProject.LOOK, Drawing)
def get_drawing(path: ById) -> Response:
    """One drawing"""
    return answer(lineage.get_drawing(path.id))


@api.patch("/drawings/<int:id>", responses={200: DrawingOut})
@needs(InProject.EDIT, Drawing)
def edit_drawing(path: ById, body: DrawingEdit) -> Response:
    """Change a drawing's cut, graphics or name"""
    return answer(lineage.edit_drawing(path.id, body, author()))


@api.post("/drawings/<int:id>/settings", responses={200: DrawingList})
@needs(InProject.EDIT, Drawing)
def give_settings(path: ById, body: SettingsGiven) -> Response:
    """Give some settings of a drawing to others, in one act"""
    return answer(list(given_settings.give(path.id, body, author())))


@api.delete("/drawings/<int:id>", responses={204: None})
@needs(InProject.EDIT, Drawing)
def delete_drawing(path: ById, query: CalloutsFate) -> tuple[str, int]:
    """Delete a drawing and take it off its sheet"""
    lineage.delete_drawing(path.id, author(), query.callouts)
    return "", 204


@api.get("/drawings/<int:id>/view", responses={200: BINARY})
@needs(InProject.LOOK, Drawing)
def view(path: ById, query: OfRevision) -> Response:
    """A drawing in the compact form; by an earlier revision of the model, if one is named"""
    return screen(composed.view_of(path.id, query.revision))


@api.get("/drawings/<int:id>/export.<form>", responses={200: BINARY})
@needs(InProject.LOOK, Drawing, costs=Cost.FILE)
def export(path: ByIdAndForm, query: OfRevision) -> Response:
    """The drawing as SVG, PDF, DXF, PNG or JSON; laid over an earlier revision, if one is named"""
    return download(export_drawing(path.id, path.form, query.revision))
