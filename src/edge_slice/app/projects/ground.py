"""The ground of a project: said, drawn, moved by its points, and what it takes to make the proposed one."""

from __future__ import annotations

import math
from dataclasses import asdict

import numpy as np
import shapely
from pydantic import ValidationError
from sqlmodel import Session, col, select

from edge_slice.app.drawings.drawing_rows import project_drawings
from edge_slice.app.errors import Refused, Stale, first_words
from edge_slice.app.models.in_memory import bare_model, grounds_of, newest_revision, reliefs_in
from edge_slice.app.project_source import ProjectSource
from edge_slice.app.projects.ground_documents import (
    EarthworksOut,
    GroundDrawn,
    GroundEdit,
    GroundHandleOut,
    GroundOut,
    GroundRows,
    GroundText,
    HandleMoved,
    PointMoved,
    SectionWorksOut,
)
from edge_slice.core.cut import AnyCut, ImpossibleCut
from edge_slice.core.cut.placing.ground_handles import handles_of, moved, profile_of, upright_axes
from edge_slice.core.cut.planes.leaves import leaves_of
from edge_slice.core.model.files.units import METRES
from edge_slice.core.model.ground.documents import Ground, Grounds, PointsGround, ProfileGround
from edge_slice.core.model.ground.earthworks import Rise, earthworks, profile_areas
from edge_slice.core.model.ground.made import GroundProblem
from edge_slice.core.model.ground.typed import Untyped, typed_points
from edge_slice.core.project.called_out import title_of
from edge_slice.core.project.followed import Followed
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import GroundRow

FAR = 1000.0  # metres that a drawing without a depth sees


def ground_of(project_id: int) -> GroundOut:
    with reading() as session:
        return _out(session, project_id)


def edit_ground(project_id: int, edit: GroundEdit, author: str) -> GroundOut:
    with reading() as session:
        _rise(session, project_id, edit.grounds)  # a large survey takes seconds, in which others go on
    with transaction() as session:
        return _save(session, project_id, edit.version, edit.grounds, author)


def read_text(project_id: int, wanted: GroundText) -> GroundRows:
    """Rows of a text in metres of the model. Raises `Refused`."""
    try:
        typed = typed_points(wanted.text, wanted.what)
    except Untyped as error:
        raise Refused(str(error), "text") from error
    with reading() as session:
        model = bare_model(session, newest_revision(session, project_id))
    rows = np.array(typed.rows) * METRES[wanted.unit]
    if wanted.coordinates == "file":
        rows -= model.origin if wanted.what == "points" else (0.0, model.origin[2])
    kept = [[round(value, 6) for value in row] for row in rows.tolist()]
    try:
        if wanted.what == "points":
            PointsGround.model_validate({"points": kept})
        else:
            ProfileGround.model_validate({"start": (0, 0), "end": (1, 0), "heights": kept})
    except ValidationError as error:
        raise Refused(first_words(error), "text") from error
    return GroundRows(rows=kept, notes=list(typed.notes))


def draw_profile(project_id: int, drawn: GroundDrawn, author: str) -> GroundOut:
    """A profile drawn in a section becomes ground."""
    with transaction() as session:
        grounds = grounds_of(session, project_id)
        model = bare_model(session, newest_revision(session, project_id))
        before: Ground = getattr(grounds, drawn.role) or Ground()
        try:
            shape = profile_of(model, drawn.cut, [(u, v) for u, v in drawn.points])
        except (ImpossibleCut, ValidationError) as error:
            raise Refused(first_words(error), "points") from error
        changed = grounds.model_copy(update={drawn.role: before.model_copy(update={"shape": shape})})
        return _save(session, project_id, drawn.version, changed, author)


def handles(project_id: int, cut: AnyCut) -> list[GroundHandleOut]:
    """The points of the ground that a drawing can move; none in one that can't."""
    with reading() as session:
        grounds = grounds_of(session, project_id)
        model = bare_model(session, newest_revision(session, project_id))
    try:
        found = handles_of(model, cut, grounds)
    except ImpossibleCut:
        return []
    return [GroundHandleOut(**asdict(h)) for h in found]


def move_handle(project_id: int, to: HandleMoved, author: str) -> GroundOut:
    with transaction() as session:
        model = bare_model(session, newest_revision(session, project_id))
        try:
            changed = moved(model, to.cut, grounds_of(session, project_id), (to.role, to.index), (to.u, to.v))
        except (ImpossibleCut, ValidationError) as error:
            raise Refused(first_words(error), "v") from error
        return _save(session, project_id, to.version, changed, author)


def move_point(project_id: int, to: PointMoved, author: str) -> GroundOut:
    """Give a point another height."""
    with transaction() as session:
        grounds = grounds_of(session, project_id)
        ground: Ground | None = getattr(grounds, to.role)
        shape = ground.shape if ground else None
        if ground is None or not isinstance(shape, PointsGround) or to.index >= len(shape.points):
            raise Refused("This point of the ground is not there any more.", "index")
        other = ground.model_copy(update={"shape": shape.raised(to.index, to.height)})
        return _save(session, project_id, to.version, grounds.model_copy(update={to.role: other}), author)


def store_ground(session: Session, project_id: int, grounds: Grounds) -> None:
    """Keep the ground that a file says, of a project that is being made."""
    if grounds.any:
        session.add(GroundRow(project_id=project_id, document=grounds.model_dump(mode="json"), digest=grounds.digest))
        session.flush()


def _row(session: Session, project_id: int) -> GroundRow | None:
    return session.exec(select(GroundRow).where(col(GroundRow.project_id) == project_id)).first()


def _save(session: Session, project_id: int, version: int, grounds: Grounds, author: str) -> GroundOut:
    """Raises `Stale`, and `Refused` for ground that can't be made of the model."""
    hold(session, project_id)
    row = _row(session, project_id)
    if (row.version if row else 0) != version:
        raise Stale("The ground was changed in another window; its newer state is shown.", _out(session, project_id))
    _rise(session, project_id, grounds)
    with recorded(session, project_id, "edit ground", author) as act:
        document, digest = grounds.model_dump(mode="json"), grounds.digest
        if row is None:
            act.adds(GroundRow(project_id=project_id, document=document, digest=digest))
        else:
            act.edits(row)
            row.document, row.digest = document, digest
            session.add(row)
    return _out(session, project_id)


def _rise(session: Session, project_id: int, grounds: Grounds) -> Rise | None:
    """How much the ground rises, None where only one is said. Raises `Refused` for ground that can't be made of the
    model."""
    try:
        return reliefs_in(session, newest_revision(session, project_id), grounds).rise
    except GroundProblem as error:
        raise Refused(str(error), "grounds") from error


def _out(session: Session, project_id: int) -> GroundOut:
    row, grounds = _row(session, project_id), grounds_of(session, project_id)
    works, rise, problem = None, None, ""
    sections: list[SectionWorksOut] = []
    if grounds.any:
        try:
            rise = _rise(session, project_id, grounds)
        except Refused as error:
            problem = str(error)
    if rise is not None:
        whole = earthworks(rise)
        works = EarthworksOut(cut=round(whole.cut, 3), fill=round(whole.fill, 3), area=round(whole.area, 3))
        sections = _in_sections(session, project_id, rise)
    has = any(e.kind == "ground" for e in bare_model(session, newest_revision(session, project_id)).elements)
    version = row.version if row else 0
    return GroundOut(
        grounds=grounds, version=version, model_has=has, problem=problem, works=works, sections=sections
    )  # fmt: skip


def _in_sections(session: Session, project_id: int, rise: Rise) -> list[SectionWorksOut]:
    """Cut and fill in what each section along one line sees."""
    source = ProjectSource(session, project_id)
    followed, found = Followed(source), []
    for drawing in project_drawings(session, project_id):
        cut = followed.cut_of(drawing)
        if cut.kind != "section" or drawing.callout is not None:
            continue
        try:
            axes, (leaf,) = upright_axes(source.model, cut), leaves_of(source.model, cut)
        except ImpossibleCut:
            continue  # a line that turns, or is seen in perspective, sees no strip of the plan
        ends = axes.to_model(np.array([(leaf.window[0], 0.0), (leaf.window[2], 0.0)]))[:, :2]
        deep = axes.w[:2] * (leaf.far / 1000.0 if math.isfinite(leaf.far) else FAR)
        seen = shapely.Polygon([ends[0], ends[1], ends[1] + deep, ends[0] + deep])
        areas, volumes = profile_areas(rise, (ends[0], ends[1])), earthworks(rise, seen)
        found.append(
            SectionWorksOut(
                drawing=drawing.id or 0, title=title_of(source, followed, drawing), cut_area=round(areas[0], 3),
                fill_area=round(areas[1], 3), cut=round(volumes.cut, 3), fill=round(volumes.fill, 3),
            )
        )  # fmt: skip
    return found
