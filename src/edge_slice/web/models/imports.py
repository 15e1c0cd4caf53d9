"""Routes of model files on their way in."""

from __future__ import annotations

import tempfile
from pathlib import Path

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import Problem
from edge_slice.app.models import imports
from edge_slice.app.models.import_documents import ImportOut
from edge_slice.app.people.costs import Cost, count_upload
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.store.tables import ModelImport, Project
from edge_slice.web.access import Need, check, needs, person
from edge_slice.web.common import ById, answer, routes

api = routes("imports", __name__)


class Upload(BaseModel):
    """`unit` and `up` are asked of OBJ, STL and PLY files, which do not say them."""

    file: FileStorage
    unit: str = ""
    up: str = ""
    into: int | None = Field(
        default=None, description="The project that the file is a newer revision for, or another part"
    )
    beside: int | None = Field(default=None, description="The import whose project the file is to be a part of")


class ImportList(RootModel[list[ImportOut]]):
    pass


@api.get("/imports", responses={200: ImportList})
@needs(InInstallation.SIGNED_IN)
def list_imports() -> Response:
    """Imports under way, and those that failed"""
    return answer(list(imports.list_imports(person())))


@api.get("/imports/<int:id>", responses={200: ImportOut})
@needs(InProject.LOOK, ModelImport)
def get_import(path: ById) -> Response:
    """State of one import"""
    return answer(imports.get_import(path.id))


@api.post("/imports", responses={202: ImportOut, 413: Problem})
@needs(InInstallation.SIGNED_IN, costs=Cost.SET)
def upload(form: Upload) -> Response:
    """Upload a model; a worker makes a project of it"""
    _check(form)
    sent = imports.Sent(form.file.filename or "model.ifc", form.unit, form.up, form.into, form.beside, person().account)
    with tempfile.NamedTemporaryFile() as stream:
        form.file.save(stream.name)
        count_upload(person(), Path(stream.name))
        return answer(imports.accept_upload(Path(stream.name), sent), 202)


def _check(form: Upload) -> None:
    """Whether who sends a file may change the project that it is for, or make one of it."""
    if form.into is not None:
        check(Need(InProject.EDIT, Project), form.into)
    if form.beside is not None:
        check(Need(InProject.EDIT, ModelImport), form.beside)
    if form.into is None and form.beside is None:
        check(Need(InInstallation.MAKE), None)


@api.post("/imports/<int:id>/retry", responses={202: ImportOut})
@needs(InProject.EDIT, ModelImport, costs=Cost.SET)
def retry(path: ById) -> Response:
    """Read a file once more that was given up"""
    return answer(imports.retry_import(path.id), 202)


@api.delete("/imports/<int:id>", responses={204: None})
@needs(InProject.EDIT, ModelImport)
def drop(path: ById) -> tuple[str, int]:
    """Cancel an import, or dismiss its note"""
    imports.drop_import(path.id)
    return "", 204
