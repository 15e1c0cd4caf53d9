"""Help to place cuts: acts on their lines, what they are placed by, wall sections."""

from __future__ import annotations

import shapely

from edge_slice.app.documents import Point
from edge_slice.app.drawings.documents import WallSectionRequest
from edge_slice.app.drawings.lineage import WITHOUT
from edge_slice.app.drawings.placing_documents import (
    GridLineOut,
    LineActRequest,
    LineThrough,
    MoveBeside,
    PlacesOut,
    ThingOut,
    TurnLine,
)
from edge_slice.app.errors import Refused, first_words
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.core.cut import ImpossibleCut, SectionCut
from edge_slice.core.cut.placing.report import things
from edge_slice.core.cut.placing.wall_section import wall_section
from edge_slice.core.cut.planes.line_acts import Target, aligned, beside, through_all, turned
from edge_slice.store.database import reading


def act_on_line(wanted: LineActRequest) -> SectionCut:
    """The cut after an act on its line."""
    act = wanted.act
    try:
        if isinstance(act, MoveBeside):
            return beside(wanted.cut, act.by)
        if isinstance(act, TurnLine):
            return turned(wanted.cut, act.degrees)
        return aligned(wanted.cut, act.direction)
    except ImpossibleCut as error:
        raise Refused(str(error), "act") from error


def wall_section_of(project_id: int, wanted: WallSectionRequest) -> SectionCut:
    """The cut of a wall section along a line that was drawn across the wall."""
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
    try:
        return wall_section(model, wanted.line, wanted.look, WITHOUT)
    except (ImpossibleCut, ValueError) as error:
        raise Refused(first_words(error), "line") from error


def places_of(project_id: int) -> PlacesOut:
    """What cuts of a project are placed by: openings, stairs, columns, rooms, and the grid."""
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
    found = [
        ThingOut(guid=guid, kind=kind, name=name, outline=_ring(outline), base=round(base, 4), top=round(top, 4))
        for guid, kind, name, outline, base, top in things(model)
    ]
    return PlacesOut(things=found, grid=[GridLineOut(name=a.name, start=a.start, end=a.end) for a in model.grid])


def _ring(outline: shapely.Geometry) -> list[Point]:
    return [(round(x, 4), round(y, 4)) for x, y in shapely.get_coordinates(outline).tolist()]


def line_through(project_id: int, wanted: LineThrough) -> SectionCut:
    """The cut with its line laid through the middle of the things named, with the fewest steps."""
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
    known = {guid: Target(f"{name or kind}", outline) for guid, kind, name, outline, _, _ in things(model)}
    lost = [guid for guid in wanted.things if guid not in known]
    if lost:
        raise Refused(f"{lost[0]} is no opening, stair, column or room of this model.", "things")
    try:
        return through_all(wanted.cut, [known[guid] for guid in dict.fromkeys(wanted.things)])
    except ImpossibleCut as error:
        raise Refused(str(error), "things") from error
