"""Where one more section of a project would explain most."""

from __future__ import annotations

import numpy as np

from edge_slice.app.drawings.drawing_rows import project_drawings
from edge_slice.app.errors import Refused
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.row_lookup import project_row
from edge_slice.app.sheets.check_documents import SweepOut
from edge_slice.core.cut import ImpossibleCut, SectionCut
from edge_slice.core.cut.advice.sweep import Sweep, sweeps
from edge_slice.core.project.followed import Followed
from edge_slice.core.recent import Recent
from edge_slice.store.database import reading

_swept: Recent[tuple[Sweep, Sweep]] = Recent("sweeps", 20)


def swept(project_id: int) -> list[SweepOut]:
    """Along x and along y, beside the building sections that a project has."""
    with reading() as session:
        project_row(session, project_id)
        source = ProjectSource(session, project_id)
        followed = Followed(source)
        cuts = [followed.cut_of(row) for row in project_drawings(session, project_id) if row.callout is None]
        sections = [cut for cut in cuts if isinstance(cut, SectionCut) and cut.of == "building"]
        key = "\0".join((source.geometry, *sorted(cut.model_dump_json() for cut in sections)))
        try:
            found = _swept.get(key, lambda: sweeps(source.model, sections))
        except ImpossibleCut as error:
            raise Refused(str(error)) from error
    return [_out(one) for one in found]


def _out(one: Sweep) -> SweepOut:
    places, explains, changes = (np.round(x, 3).tolist() for x in (one.places, one.explains, one.changes))
    return SweepOut(
        axis=one.axis, places=places, explains=explains, changes=changes, standing=list(one.standing), best=one.best,
        line=[(x, y) for x, y in one.line], through=list(one.through),
    )  # fmt: skip
