"""Routes of callouts."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from edge_slice.app import callouts
from edge_slice.app.callout_documents import CalloutNew, ReferenceEdit, ReferenceNew, ReferenceOut
from edge_slice.app.documents import DrawingOut
from edge_slice.web.common import ERRORS, ById, answer, author

api = APIBlueprint("callouts", __name__, url_prefix="/api", abp_responses=ERRORS)


@api.post("/drawings/<int:id>/callouts", responses={201: DrawingOut})
def add_callout(path: ById, body: CalloutNew) -> Response:
    """Call a region of a drawing out: a new drawing at a larger scale, whose cut follows that drawing's"""
    return answer(callouts.add_callout(path.id, body, author()), 201)


@api.post("/drawings/<int:id>/callout-references", responses={201: ReferenceOut})
def add_reference(path: ById, body: ReferenceNew) -> Response:
    """Let a region of a drawing lead to another drawing, or to a new blank detail"""
    return answer(callouts.add_reference(path.id, body, author()), 201)


@api.patch("/callout-references/<int:id>", responses={200: ReferenceOut})
def edit_reference(path: ById, body: ReferenceEdit) -> Response:
    """Change the region, the target or the marker of a callout that leads to another drawing"""
    return answer(callouts.edit_reference(path.id, body, author()))


@api.delete("/callout-references/<int:id>", responses={204: None})
def delete_reference(path: ById) -> tuple[str, int]:
    """Delete such a callout; the drawing that it led to stays"""
    callouts.delete_reference(path.id, author())
    return "", 204
