"""The files of a model with the corrections of its project in them."""

from __future__ import annotations

import tempfile
from collections.abc import Collection
from pathlib import Path

from sqlmodel import Session

from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import bare_model, corrections_of, newest_revision
from edge_slice.app.models.part_documents import PartState
from edge_slice.app.models.part_states import states_of
from edge_slice.app.output.exports import File, archive
from edge_slice.app.row_lookup import project_row
from edge_slice.core.model import Model
from edge_slice.core.model.parts.places import InFile
from edge_slice.core.render.file_names import plain_name
from edge_slice.store.blobs import write_to
from edge_slice.store.database import reading

IFC, MEDIA, ARCHIVE_MEDIA = ".ifc", "application/x-step", "application/zip"
NAMED = 3  # elements that come out otherwise which are named; of others it is said how many there are


def corrected_files(project_id: int, anyway: bool, only: Collection[str] = ()) -> File:
    """The IFC files that corrections change, with them, or with those `only` that are sent under these names; several
    in an archive. What is in no file goes into the first of them. Raises `Refused` where there is none, and, if not
    `anyway`, where a body would be read again otherwise than it is drawn."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        with reading() as session:
            project = project_row(session, project_id)
            newest = newest_revision(session, project_id)
            model = bare_model(session, newest)
            corrections = [one for one in corrections_of(project) if not only or one.topic in only]
            parts = [s for s in states_of(session, newest) if s.file_name.lower().endswith(IFC)]
            paths = [_kept(session, state, folder) for state in parts]
        # what reads IFC is large, and seldom wanted here
        from edge_slice.core.model.ifc.correcting import corrected_ifc

        made = [
            (state.file_name, corrected_ifc(path, model, corrections, _lies(model, state), with_new=k == 0))
            for k, (state, path) in enumerate(zip(parts, paths, strict=True))
        ]
    changed = [(file_name, found) for file_name, found in made if found.changed]
    if not changed:
        raise Refused("No element of an IFC file is corrected; other files are not written.", "")
    if not anyway:
        _check([name for _, found in changed for name in found.otherwise])
    files = [(f"{plain_name(file_name[: -len(IFC)])} corrected{IFC}", found.data) for file_name, found in changed]
    if len(files) == 1:
        return File(files[0][0], MEDIA, files[0][1])
    return File(f"{plain_name(project.name)} corrected.zip", ARCHIVE_MEDIA, archive(files))


def _check(names: list[str]) -> None:
    if names:
        more = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
        raise Refused(
            f"{', '.join(names[:NAMED])}{more} would be read otherwise than drawn here; everything else is exact.",
            "anyway",
        )


def _kept(session: Session, state: PartState, folder: Path) -> Path:
    path = folder / f"{state.key}{IFC}"
    write_to(session, state.file_hash, path)
    return path


def _lies(model: Model, state: PartState) -> InFile:
    """How a part lies in its file."""
    number = next((k for k, part in enumerate(model.parts) if part.key == state.key), 0)
    return InFile.of(model.origin, state.place, number)
