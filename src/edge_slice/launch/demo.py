"""Loads the demo project once, and compiles and warms what the first drawing needs."""

from __future__ import annotations

from pathlib import Path

from edge_slice.app import imports, views
from edge_slice.app.drawings import list_drawings
from edge_slice.app.projects import list_projects


def load_demo(model: Path, marker: Path) -> None:
    """Import the demo model unless that was done before; a demo that its user deleted stays away."""
    if marker.exists():
        return
    if not list_projects():
        row = imports.accept_upload(model, model.name)
        imports.run_import(row.id)
        state = imports.get_import(row.id)
        if state.state != "ready":
            raise RuntimeError(f"the demo model could not be read: {state.message}")
    marker.touch()


def warm() -> None:
    """Draw the first project's plans: compiled code and the views are then ready for the browser."""
    for project in list_projects()[:1]:
        for drawing in list_drawings(project.id):
            views.saved_view(drawing.id)
