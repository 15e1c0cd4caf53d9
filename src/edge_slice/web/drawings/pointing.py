"""Routes of what shows: shown sets, and the elements that people point at."""

from __future__ import annotations

from flask import Response
from pydantic import RootModel

from edge_slice.app.drawings import picks
from edge_slice.app.drawings.placing_documents import (
    ElementOut,
    ElementsNamed,
    ElementsWanted,
    FitRequest,
    FittedOut,
    ModelWords,
    PickAt,
    PickIn,
    StripPlaceOut,
    StripPlaceRequest,
)
from edge_slice.app.people.rights import InProject
from edge_slice.app.projects import shown_sets
from edge_slice.app.projects.documents import ShownSetEdit, ShownSetNew, ShownSetOut
from edge_slice.store.tables import Project, ShownSet
from edge_slice.web.access import needs
from edge_slice.web.common import ById, answer, author, routes

api = routes("shown", __name__)


class ShownSetList(RootModel[list[ShownSetOut]]):
    pass


class ElementList(RootModel[list[ElementOut]]):
    pass


@api.get("/projects/<int:id>/shown-sets", responses={200: ShownSetList})
@needs(InProject.LOOK, Project)
def list_sets(path: ById) -> Response:
    """The shown sets that a project's drawings can follow"""
    return answer(list(shown_sets.list_sets(path.id)))


@api.post("/projects/<int:id>/shown-sets", responses={201: ShownSetOut})
@needs(InProject.EDIT, Project)
def add_set(path: ById, body: ShownSetNew) -> Response:
    """Make a shown set"""
    return answer(shown_sets.add_set(path.id, body, author()), 201)


@api.patch("/shown-sets/<int:id>", responses={200: ShownSetOut})
@needs(InProject.EDIT, ShownSet)
def edit_set(path: ById, body: ShownSetEdit) -> Response:
    """Change a project's own shown set, and all drawings that follow it"""
    return answer(shown_sets.edit_set(path.id, body, author()))


@api.delete("/shown-sets/<int:id>", responses={204: None})
@needs(InProject.EDIT, ShownSet)
def delete_set(path: ById) -> tuple[str, int]:
    """Delete a shown set that no drawing follows"""
    shown_sets.delete_set(path.id, author())
    return "", 204


@api.post("/projects/<int:id>/pick", responses={200: ElementList})
@needs(InProject.LOOK, Project)
def pick(path: ById, body: PickAt) -> Response:
    """The elements at a point of a drawing, the nearest first, then what lies behind"""
    return answer(list(picks.at_point(path.id, body)))


@api.post("/projects/<int:id>/pick-in", responses={200: ElementList})
@needs(InProject.LOOK, Project)
def pick_in(path: ById, body: PickIn) -> Response:
    """The elements in a box of a drawing: all that it touches, or those wholly in it"""
    return answer(list(picks.in_box(path.id, body)))


@api.post("/projects/<int:id>/fit-extents", responses={200: FittedOut})
@needs(InProject.LOOK, Project)
def fit_extents(path: ById, body: FitRequest) -> Response:
    """Extents that hug the building, what is cut, or what is seen; nothing is saved"""
    return answer(FittedOut(extents=picks.fitted_extents(path.id, body)))


@api.post("/projects/<int:id>/strip-place", responses={200: StripPlaceOut})
@needs(InProject.LOOK, Project)
def strip_place(path: ById, body: StripPlaceRequest) -> Response:
    """Where along its section a strip of a plan covers least of it; nothing is saved"""
    return answer(picks.strip_place(path.id, body))


@api.get("/projects/<int:id>/words", responses={200: ModelWords})
@needs(InProject.LOOK, Project)
def words(path: ById) -> Response:
    """Materials and properties of a project's model, of which shown sets can be made"""
    return answer(picks.words_of(path.id))


@api.get("/projects/<int:id>/elements", responses={200: ElementList})
@needs(InProject.LOOK, Project)
def elements_named(path: ById, query: ElementsNamed) -> Response:
    """Elements by words of their name, kind and storey"""
    return answer(list(picks.with_words(path.id, query.words)))


@api.post("/projects/<int:id>/elements", responses={200: ElementList})
@needs(InProject.LOOK, Project)
def elements(path: ById, body: ElementsWanted) -> Response:
    """Elements by their GlobalId"""
    return answer(list(picks.named(path.id, body)))
