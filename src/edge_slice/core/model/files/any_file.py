"""`read_model`: the one way from a file, of whatever kind, to a `Model`."""

from __future__ import annotations

from pathlib import Path

from edge_slice.core.model.building import Model, Progress
from edge_slice.core.model.errors import UnreadableModel
from edge_slice.core.model.files.units import MESH_SUFFIXES, Unit, Up


def read_model(
    path: Path,
    progress: Progress = lambda share, text: None,
    threads: int = 1,
    unit: Unit | None = None,
    up: Up | None = None,
    known: Model | None = None,
) -> Model:
    """The model in a file, by its ending: IFC, glTF, GLB, OBJ, STL or PLY (`unit` and `up` as in `read_meshes`).

    `known`: an earlier state of the same building, whose shapes need not be built again. Raises `UnreadableModel`."""
    # the readers bring large libraries along, which nobody needs whose model was read before
    if path.suffix.lower() in MESH_SUFFIXES:
        from edge_slice.core.model.files.mesh_files import read_meshes

        return read_meshes(path, unit, up, progress)
    from edge_slice.core.model.ifc.reading import read_ifc

    return read_ifc(path, progress, threads, known)


def check_file(path: Path, suffix: str) -> None:
    """Raise `UnreadableModel` for a file that is plainly not what its ending (with the point) says."""
    if suffix.lower() not in MESH_SUFFIXES:
        from edge_slice.core.model.ifc.reading import check_envelope

        check_envelope(path)
    elif not path.stat().st_size:
        raise UnreadableModel("The file is empty.")
