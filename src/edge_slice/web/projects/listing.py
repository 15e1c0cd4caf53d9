"""Routes of projects, their history and the installation's settings."""

from __future__ import annotations

import tempfile
from dataclasses import asdict

from flask import Response, request
from pydantic import RootModel
from werkzeug.wsgi import wrap_file

from edge_slice.app.drawings.lineage import NEW_SECTION, new_plan
from edge_slice.app.output import project_exports
from edge_slice.app.output.project_imports import ARCHIVE
from edge_slice.app.people.costs import Cost
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.app.projects import listing
from edge_slice.app.projects.documents import (
    AnnotationSetOut,
    CheckOut,
    HistoryOut,
    KeptOut,
    OutputOut,
    PresenceIn,
    ProjectEdit,
    ProjectOut,
    ScaleOut,
    SettingsOut,
    StepOut,
    StepWanted,
)
from edge_slice.app.projects.history import go_to, redo_last, steps_of, undo_last
from edge_slice.app.projects.presence import announce
from edge_slice.app.sheets.check_documents import CHECKED
from edge_slice.core.annotating.set_rules import SETS
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.drawing.annotations.markers import marker_form
from edge_slice.core.drawing.measures import IMPERIAL, METRIC, scale_text
from edge_slice.core.memory import MEMORY
from edge_slice.core.model.files.units import FILE_KINDS, METRES
from edge_slice.core.render.outputs import CUT, OUTPUTS
from edge_slice.core.sheet import SHEET_SIZES
from edge_slice.settings import settings
from edge_slice.store.tables import Project
from edge_slice.web.access import needs, person
from edge_slice.web.common import BINARY, ById, answer, attached, author, routes

api = routes("projects", __name__)


PIECE = 1 << 18  # bytes sent at a time


class StepList(RootModel[list[StepOut]]):
    pass


class ProjectList(RootModel[list[ProjectOut]]):
    pass


def _outputs() -> list[OutputOut]:
    cut = OutputOut(form=CUT, name=CUT.upper(), sheets=False, bound=False, dots=False)
    drawn = [OutputOut(form=o.form, name=o.name, sheets=True, bound=o.bound, dots=o.dots) for o in OUTPUTS.values()]
    return [*drawn, cut]


@api.get("/settings", responses={200: SettingsOut})
@needs(InInstallation.ANYBODY)
def read_settings() -> Response:
    """Limits and choices of this installation"""
    return answer(
        SettingsOut(
            upload_limit_mb=settings().upload_limit_mb,
            file_kinds=[*FILE_KINDS, ARCHIVE],
            units=list(METRES),
            scales=list(METRIC),
            imperial_scales=[ScaleOut(scale=s, name=scale_text(s)) for s in IMPERIAL],
            sheet_sizes=list(SHEET_SIZES),
            outputs=_outputs(),
            sets=[
                AnnotationSetOut(rule=rule, words=one.words, drawings=one.drawings, of_wall=one.of_wall)
                for rule, one in SETS.items()
            ],
            checks=[CheckOut(rule=rule, says=says) for rule, says in CHECKED.items()],
            marker=marker_form(default_standard()),
            new_style=DrawingSpec(),
            new_section=NEW_SECTION,
            new_plan=new_plan(),
        )
    )


class MemoryOut(RootModel[list[KeptOut]]):
    pass


@api.get("/memory", responses={200: MemoryOut})
@needs(InInstallation.RUN)
def read_memory() -> Response:
    """What the process that answers keeps in memory, the largest first"""
    return answer([KeptOut(**asdict(one)) for one in MEMORY.figures()])


@api.get("/projects", responses={200: ProjectList})
@needs(InInstallation.SIGNED_IN)
def list_projects() -> Response:
    """All projects"""
    return answer(list(listing.list_projects(person())))


@api.get("/projects/<int:id>", responses={200: ProjectOut})
@needs(InProject.LOOK, Project)
def get_project(path: ById) -> Response:
    """One project with the facts of its model"""
    return answer(listing.get_project(path.id))


@api.patch("/projects/<int:id>", responses={200: ProjectOut})
@needs(InProject.EDIT, Project)
def edit_project(path: ById, body: ProjectEdit) -> Response:
    """Rename a project or its client"""
    return answer(listing.edit_project(path.id, body, author()))


@api.delete("/projects/<int:id>", responses={204: None})
@needs(InProject.OWN, Project)
def delete_project(path: ById) -> tuple[str, int]:
    """Delete a project with everything in it"""
    listing.delete_project(path.id, person())
    return "", 204


@api.get("/projects/<int:id>/files", responses={200: BINARY})
@needs(InProject.EDIT, Project, costs=Cost.SET)
def project_files(path: ById) -> Response:
    """The project as files in an archive: its document, its models, its pictures"""
    stream = tempfile.TemporaryFile()  # noqa: SIM115 (the answer that sends it closes it)
    name = project_exports.export_to(path.id, stream)
    size = stream.tell()
    stream.seek(0)
    response = Response(wrap_file(request.environ, stream, PIECE), mimetype="application/zip")
    response.content_length = size
    return attached(response, name)


@api.get("/projects/<int:id>/history", responses={200: StepList})
@needs(InProject.LOOK, Project)
def history(path: ById) -> Response:
    """The newest steps, newest first"""
    return answer(list(steps_of(path.id)))


@api.post("/projects/<int:id>/history", responses={200: HistoryOut})
@needs(InProject.EDIT, Project)
def go_to_step(path: ById, body: StepWanted) -> Response:
    """Undo or redo until a step is the last one done"""
    return answer(go_to(path.id, body.act))


@api.post("/projects/<int:id>/presence", responses={204: None})
@needs(InProject.LOOK, Project)
def say_presence(path: ById, body: PresenceIn) -> tuple[str, int]:
    """Tell the other windows of a project who is here and on which drawing; nothing is kept"""
    announce(path.id, body.model_copy(update={"name": person().name[:40] or body.name}))
    return "", 204


@api.post("/projects/<int:id>/undo", responses={200: HistoryOut})
@needs(InProject.EDIT, Project)
def undo(path: ById) -> Response:
    """Take the last act back"""
    return answer(undo_last(path.id))


@api.post("/projects/<int:id>/redo", responses={200: HistoryOut})
@needs(InProject.EDIT, Project)
def redo(path: ById) -> Response:
    """Do again what was taken back"""
    return answer(redo_last(path.id))
