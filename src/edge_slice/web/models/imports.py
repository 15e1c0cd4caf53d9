"""Routes of model files on their way in."""

from __future__ import annotations

import tempfile
from pathlib import Path

from flask import Response
from flask_openapi3 import APIBlueprint, FileStorage
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import Problem
from edge_slice.app.models import imports
from edge_slice.app.models.import_documents import ImportOut
from edge_slice.web.common import ERRORS, ById, answer

api = APIBlueprint("imports", __name__, url_prefix="/api", abp_responses=ERRORS)


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
def list_imports() -> Response:
    """Imports under way, and those that failed"""
    return answer(list(imports.list_imports()))


@api.get("/imports/<int:id>", responses={200: ImportOut})
def get_import(path: ById) -> Response:
    """State of one import"""
    return answer(imports.get_import(path.id))


@api.post("/imports", responses={202: ImportOut, 413: Problem})
def upload(form: Upload) -> Response:
    """Upload a model; a worker makes a project of it"""
    with tempfile.NamedTemporaryFile() as stream:
        form.file.save(stream.name)
        name = form.file.filename or "model.ifc"
        row = imports.accept_upload(Path(stream.name), name, form.unit, form.up, form.into, form.beside)
    return answer(row, 202)


@api.post("/imports/<int:id>/retry", responses={202: ImportOut})
def retry(path: ById) -> Response:
    """Read a file once more that was given up"""
    return answer(imports.retry_import(path.id), 202)


@api.delete("/imports/<int:id>", responses={204: None})
def drop(path: ById) -> tuple[str, int]:
    """Cancel an import, or dismiss its note"""
    imports.drop_import(path.id)
    return "", 204
