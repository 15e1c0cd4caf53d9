"""Routes of callouts."""

from __future__ import annotations

from flask import Response

from edge_slice.app.drawings import callouts, typical, wall_sections
from edge_slice.app.drawings.callout_documents import (
    CalloutNew,
    EnlargementsNew,
    ReferenceEdit,
    ReferenceNew,
    ReferenceOut,
    WallPlace,
    WallSectionNew,
    WallSectionOut,
)
from edge_slice.app.drawings.documents import DrawingOut
from edge_slice.app.drawings.typical import UseInstead
from edge_slice.app.people.rights import InProject
from edge_slice.store.tables import CalloutReference, Drawing, Project
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes
from edge_slice.web.drawings.lineage import DrawingList

api = routes("callouts", __name__)


@api.post("/drawings/<int:id>/callouts", responses={201: DrawingOut})
@needs(InProject.EDIT, Drawing)
def add_callout(path: ById, body: CalloutNew) -> Response:
    """Call a region of a drawing out: a new drawing at a larger scale, whose cut follows that drawing's"""
    return answer(callouts.add_callout(path.id, body, author()), 201)


@api.post("/drawings/<int:id>/callout-references", responses={201: ReferenceOut})
@needs(InProject.EDIT, Drawing)
def add_reference(path: ById, body: ReferenceNew) -> Response:
    """Let a region of a drawing lead to another drawing, or to a new blank detail"""
    return answer(callouts.add_reference(path.id, body, author()), 201)


@api.post("/drawings/<int:id>/use-instead", responses={200: DrawingOut})
@needs(InProject.EDIT, Drawing)
def use_instead(path: ById, body: UseInstead) -> Response:
    """Let what calls a detail out lead to another, like one, and take the detail away"""
    return answer(typical.use_instead(path.id, body, author()))


@api.patch("/callout-references/<int:id>", responses={200: ReferenceOut})
@needs(InProject.EDIT, CalloutReference)
def edit_reference(path: ById, body: ReferenceEdit) -> Response:
    """Change the region, the target or the marker of a callout that leads to another drawing"""
    return answer(callouts.edit_reference(path.id, body, author()))


@api.delete("/callout-references/<int:id>", responses={204: None})
@needs(InProject.EDIT, CalloutReference)
def delete_reference(path: ById) -> tuple[str, int]:
    """Delete such a callout; the drawing that it led to stays"""
    callouts.delete_reference(path.id, author())
    return "", 204


@api.post("/projects/<int:id>/wall-section-proposals", responses={200: WallSectionOut})
@needs(InProject.LOOK, Project)
def propose_wall_section(path: ById, body: WallPlace) -> Response:
    """The section of the wall at a place on plan, broken where nothing happens, with its junctions; nothing is saved"""
    return answer(wall_sections.proposed(path.id, body))


@api.post("/projects/<int:id>/wall-sections", responses={201: DrawingList})
@needs(InProject.EDIT, Project)
def make_wall_section(path: ById, body: WallSectionNew) -> Response:
    """Make that section, and details of its chosen junctions, in one act"""
    return answer(list(wall_sections.make(path.id, body, author())), 201)


@api.post("/drawings/<int:id>/enlargements", responses={201: DrawingList})
@needs(InProject.EDIT, Drawing)
def enlarge(path: ById, body: EnlargementsNew) -> Response:
    """Enlarge stairs, rooms and the like of a plan, in one act"""
    return answer(list(wall_sections.enlarge(path.id, body, author())), 201)
