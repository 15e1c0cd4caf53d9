"""Loads the demo project once."""

from __future__ import annotations

from pathlib import Path

from edge_slice.app import imports
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
