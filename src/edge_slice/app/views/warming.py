"""Draw something of every kind before the first user does: compiled code, model and views are then in memory."""

from __future__ import annotations

import gc
import logging

from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as NoConnection

from edge_slice.app.drawings.lineage import list_drawings
from edge_slice.app.people.rights import EVERYBODY
from edge_slice.app.projects.listing import list_projects
from edge_slice.app.views import composed
from edge_slice.core.cut import SectionCut
from edge_slice.core.drawing import DrawingSpec

SELDOM = (20_000, 25, 50)  # new objects, and passes over younger ones, before a pass over each generation


def warm_up() -> None:
    """The first project's saved plans, and a section through its longest direction that is not saved."""
    for project in list_projects(EVERYBODY)[:1]:
        for drawing in list_drawings(project.id):
            composed.view_of(drawing.id)
        (x0, y0, _), (x1, y1, _) = project.facts.low, project.facts.high
        y = y0 + (y1 - y0) * 0.37  # off the middle, where symmetric buildings have a wall
        cut = SectionCut(line=((x0 - 2, y), (x1 + 2, y)), depth=5.0)
        composed.screen_view(project.id, cut, DrawingSpec(scale=50))
    leave_alone_what_stays()


def leave_alone_what_stays() -> None:
    """Have garbage collection pass over what is loaded by now, and run seldom: looking through a million objects that
    stay, in the midst of a cut that is being moved, costs a tenth of a second and frees nothing."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(*SELDOM)


def warm_up_quietly() -> None:
    """As a background thread of the web server: what fails here fails again, and is told, when it is asked for."""
    try:
        warm_up()
    except (OperationalError, NoConnection):
        return  # the database is away, which is told elsewhere
    except Exception:
        logging.getLogger(__name__).warning("warming up failed", exc_info=True)
