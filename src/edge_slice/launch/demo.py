"""Loads the demo project once: the model, a documented set of it on sheets, and the model's second revision."""

from __future__ import annotations

from pathlib import Path

from edge_slice.app.models import imports
from edge_slice.app.models.revisions import take
from edge_slice.app.people.rights import EVERYBODY
from edge_slice.app.projects.listing import list_projects
from edge_slice.app.sheets.documents import SheetPictures
from edge_slice.app.sheets.numbered_sheets import list_sheets
from edge_slice.app.sheets.sheet_views import sheet_screens
from edge_slice.launch.demo_set import document, settle_all


def load_demo(folder: Path, marker: Path) -> None:
    """Import the demo models of a folder unless that was done before; a demo that its user deleted stays away."""
    if marker.exists():
        return
    if not list_projects(EVERYBODY):
        project = _read(folder / "curlew-point.ifc", None)
        document(project)
        for name in ("curlew-point-2", "curlew-point-structure", "curlew-point-services"):
            _read(folder / f"{name}.ifc", project)
        settle_all(project)
        ids = [s.id for s in list_sheets(project)]
        sheet_screens(project, SheetPictures(ids=ids))  # drawn once, so that they are there at the first look
    marker.touch()


def _read(model: Path, into: int | None) -> int:
    """The project that a model was read into."""
    row = imports.accept_upload(model, imports.Sent(model.name, into=into))
    imports.run_import(row.id)
    state = imports.get_import(row.id)
    if into is not None and state.state == "proposed":
        take(row.id, False)
        return into
    if state.state != "ready" or state.project_id is None:
        raise RuntimeError(f"the demo model could not be read: {state.message}")
    return state.project_id
