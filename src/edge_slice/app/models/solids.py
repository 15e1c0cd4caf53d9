"""The building in three dimensions: sent part by part, cut by planes that somebody found there, saved as bodies."""

from __future__ import annotations

import gzip
import math

import numpy as np
from sqlmodel import Session

from edge_slice.app.drawings.drawing_rows import drawing_of, project_drawings
from edge_slice.app.drawings.lineage import WITHOUT
from edge_slice.app.errors import NotFound, Refused
from edge_slice.app.models.in_memory import geometry_of, load_model, newest_revision
from edge_slice.app.models.solid_documents import (
    BodiesWanted,
    BodyPlane,
    DrawingPlanesOut,
    LeafOut,
    LightOut,
    LightWanted,
    PlaneCutOut,
    PlaneWanted,
    SolidLookOut,
    SolidOut,
    SolidPartOut,
    StopOut,
    TintOut,
    ViewWanted,
)
from edge_slice.app.output.exports import File
from edge_slice.app.project_source import ProjectSource
from edge_slice.core.cut import AnyCut, BlankCut, ImpossibleCut, PlanCut, leaves_of
from edge_slice.core.cut.planes.leaves import NOWHERE
from edge_slice.core.cut.planes.sets import PLAN_HEIGHT, bearing
from edge_slice.core.cut.shown import left_out_by
from edge_slice.core.drawing import DrawingStandard, default_standard
from edge_slice.core.model import Model
from edge_slice.core.project.called_out import title_of
from edge_slice.core.project.followed import CUT, Followed
from edge_slice.core.project.naming import kind_of, mark_of
from edge_slice.core.project.shown import key_of
from edge_slice.core.recent import Recent
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.solid.directions import building_turn
from edge_slice.core.solid.form import LAYOUT, SolidPart, fitting, in_pieces, part_bytes, solid_parts
from edge_slice.core.solid.opened import Taking, body_file, opened, taking
from edge_slice.core.solid.plane_cuts import (
    Plane,
    View,
    cut_of_plane,
    moved_to_plane,
    parent_level,
    stops_along,
    view_cut,
)
from edge_slice.core.solid.tints import tints_of
from edge_slice.store.database import reading
from edge_slice.store.kept import kept

QUICK = 3  # of gzip's levels: a third of the time of the usual one, for files as small
MEDIA = {"glb": "model/gltf-binary", "stl": "model/stl"}
_parts: Recent[tuple[SolidPart, ...]] = Recent("parts of models for browsers", 8)  # by geometry
_turns: Recent[float] = Recent("directions of buildings", 64)  # by geometry
_stops: Recent[list[StopOut]] = Recent("stops of planes", 64)  # by geometry and direction


def solid_of(project_id: int) -> SolidOut:
    """What parts the model has."""
    with reading() as session:
        geometry, model = _model(session, project_id)
        low, high = model.bounds
        storeys = {k: s for k, s in enumerate(model.storeys)}
        parts = []
        for number, part in enumerate(_parts_of(geometry, model)):
            storey = storeys.get(part.storey)
            floor = storey.elevation if storey else float(low[2])
            parts.append(
                SolidPartOut(
                    number=number, storey=storey.guid if storey else "", name=storey.name if storey else "",
                    elevation=floor, triangles=part.triangles, missing=part.missing,
                )
            )  # fmt: skip
        x0, y0, z0, x1, y1, z1 = (float(v) for v in (*low, *high))
        turn = _turns.get(geometry, lambda: building_turn(model))
        return SolidOut(
            geometry=_form_of(geometry),
            low=(x0, y0, z0),
            high=(x1, y1, z1),
            turn=turn,
            plan_height=PLAN_HEIGHT,
            parts=parts,
        )


def solid_part(project_id: int, form: str, number: int, whole: bool) -> bytes:
    """A part in its compact form, compressed (gzip); `whole`: all that stands on its storey, as far as that alone fits
    in a browser. Raises `NotFound` for one of an earlier model."""
    with reading() as session:
        geometry, model = _model(session, project_id)
        parts = _parts_of(geometry, model)
        if _form_of(geometry) != form or number >= len(parts):
            raise NotFound("The model has changed; it is read again.")

        def make() -> bytes:
            part = parts[number]
            if whole:
                (part,) = fitting(model, tuple(p for p in solid_parts(model) if p.storey == part.storey))
            return gzip.compress(part_bytes(model, part), QUICK, mtime=0)

        return kept(session, project_id, key_of("solid", form, str(number), str(whole)), make)


def planes_of(project_id: int, only: int | None = None) -> list[DrawingPlanesOut]:
    """The planes of all drawings that cut the model by themselves, or of one drawing."""
    with reading() as session:
        source = ProjectSource(session, project_id)
        followed = Followed(source)
        found = []
        for row in source.drawings():
            if only is not None and row.id != only:
                continue
            cut = followed.cut_of(row)
            if row.callout is not None or isinstance(cut, BlankCut) or kind_of(cut) == "opened view":
                continue
            try:
                leaves = _leaves(source.model, cut)
            except ImpossibleCut:
                continue  # the drawing itself says what is wrong with it
            found.append(
                DrawingPlanesOut(
                    drawing=row.id or 0, version=row.version, kind=kind_of(cut), leaves=leaves,
                    letter=mark_of(source.facts, row.letter, cut), title=title_of(source, followed, row),
                )
            )  # fmt: skip
        return found


def light_of(project_id: int, wanted: LightWanted) -> LightOut:
    """The light of a sun in the model."""
    with reading() as session:
        source = ProjectSource(session, project_id)
        model, axes = source.model, NOWHERE
        if wanted.drawing is not None:
            row = drawing_of(session, project_id, wanted.drawing)
            cut = Followed(source).cut_of(row)
            try:
                axes = leaves_of(model, cut)[0].axes
            except ImpossibleCut as error:
                raise Refused(str(error), "drawing") from error
        sun = wanted.sun
        if sun.by == "view" and wanted.drawing is None:
            sun = sun.model_copy(update={"by": "bearing"})  # as it is written: nobody looks at anything
        light = [round(float(v), 9) for v in sun.light(axes, model.north)]
        where = round(bearing(model, -light[0], -light[1]) % 360, 3)
        return LightOut(light=light, bearing=where, height=round(math.degrees(math.asin(-light[2])), 3))


def plane_cut(project_id: int, wanted: PlaneWanted) -> PlaneCutOut:
    """A plane as a cut. Raises `Refused` where it gives none."""
    with reading() as session:
        _, model = _model(session, project_id)
        reach = default_standard().conventions.reach
        plane = Plane(wanted.point, wanted.normal)
        try:
            found = cut_of_plane(model, plane, reach, WITHOUT, wanted.depth, wanted.perspective)
            if wanted.like is not None:
                row = drawing_of(session, project_id, wanted.like)
                found = moved_to_plane(model, CUT.validate_python(row.cut), found)
            leaves = _leaves(model, found)
        except ImpossibleCut as error:
            raise Refused(str(error), "point") from error
        return PlaneCutOut(
            cut=found, kind=kind_of(found), parent_id=_parent(session, project_id, model, found, wanted.point[2]),
            leaves=leaves,
        )  # fmt: skip


def view_of(project_id: int, wanted: ViewWanted) -> PlaneCutOut:
    """The building as it is seen, as a cut. Raises `Refused` where nothing of it is left."""
    with reading() as session:
        _, model = _model(session, project_id)
        view = View(wanted.towards, wanted.eye, wanted.angle, wanted.aspect)
        try:
            found = view_cut(model, view, wanted.openings, WITHOUT)
            leaves = _leaves(model, found)
        except ImpossibleCut as error:
            raise Refused(str(error), "towards") from error
        return PlaneCutOut(cut=found, kind=kind_of(found), parent_id=None, leaves=leaves)


def _parent(session: Session, project_id: int, model: Model, cut: AnyCut, z: float) -> int | None:
    """The plan that shows such a cut: of the storey that the place is on, else the lowest one there is."""
    if isinstance(cut, PlanCut):
        return None
    level = parent_level(model, z)
    plans = [
        (row.id, plan)
        for row in project_drawings(session, project_id)
        if row.callout is None and isinstance(plan := CUT.validate_python(row.cut), PlanCut) and plan.look == "down"
    ]
    return next((n for n, plan in plans if plan.storey == level), next((n for n, _ in plans), None))


def stops_of(project_id: int, normal: tuple[float, float, float]) -> list[StopOut]:
    """Where a plane with this normal may come to rest."""
    with reading() as session:
        geometry, model = _model(session, project_id)

        def make() -> list[StopOut]:
            return [StopOut(at=s.at, says=s.says) for s in stops_along(model, normal)]

        try:
            return _stops.get(key_of("stops", geometry, repr(normal)), make)
        except ImpossibleCut as error:
            raise Refused(str(error), "normal") from error


def look_of(project_id: int, standard: str, shown_set: str) -> SolidLookOut:
    """How the model shows by a standard (empty: the usual one) and a shown set (empty: none). Raises `Refused` for one
    that the project does not have."""
    with reading() as session:
        source = ProjectSource(session, project_id)
        kinds, elements = _left_out(source, shown_set)
        tints = tints_of(source.model, _standard_of(source, standard))
        return SolidLookOut(
            tints=[TintOut(kind=t.kind, material=t.material, colour=t.colour) for t in tints],
            without=list(kinds), left_out=list(elements),
        )  # fmt: skip


def _standard_of(source: ProjectSource, key: str) -> DrawingStandard:
    return source.standard(key) if key else default_standard()


def _left_out(source: ProjectSource, key: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Kinds and elements (GlobalId) that a shown set leaves out; an empty key names none."""
    if not key:
        return (), ()
    rule = source.rule(key)
    if rule is None:
        raise Refused("This shown set is not in the project any more; choose another one.", "shown_set")
    return left_out_by(source.model, rule)


def bodies(project_id: int, wanted: BodiesWanted) -> File:
    """The model cut open as closed bodies."""
    with reading() as session:
        source = ProjectSource(session, project_id)
        model, standard, name = source.model, _standard_of(source, wanted.standard), source.name
        kinds, elements = _left_out(source, wanted.shown_set)
    storeys = {k for k, s in enumerate(model.storeys) if s.guid in set(wanted.storeys)}
    left_out, without = {*wanted.left_out, *elements}, {*wanted.without, *kinds}
    shown = np.array(
        [
            e.kind not in without and e.guid not in left_out and (not wanted.storeys or e.storey in storeys)
            for e in model.elements
        ]
    )
    try:
        pieces = opened(model, [[_taking(p) for p in cut] for cut in wanted.cuts], shown, wanted.thickness)
        data = body_file(model, pieces, wanted.form, standard)
    except ImpossibleCut as error:
        raise Refused(str(error), "cuts") from error
    said = "slice" if wanted.thickness is not None else "opened" if wanted.cuts else "model"
    return File(f"{plain_name(name)}-{said}.{wanted.form}", MEDIA[wanted.form], data)


def _taking(plane: BodyPlane) -> Taking:
    start, end = (-np.inf if plane.start is None else plane.start), (np.inf if plane.end is None else plane.end)
    return taking(plane.point, plane.normal, plane.along, start, end)


def _model(session: Session, project_id: int) -> tuple[str, Model]:
    revision = newest_revision(session, project_id)
    return geometry_of(session, revision), load_model(session, revision)


def _parts_of(geometry: str, model: Model) -> tuple[SolidPart, ...]:
    return _parts.get(geometry, lambda: in_pieces(model, fitting(model, solid_parts(model))))


def _form_of(geometry: str) -> str:
    """Another text for another model, and for another layout of its parts."""
    return f"{geometry}-{LAYOUT}"


def _leaves(model: Model, cut: AnyCut) -> list[LeafOut]:
    found = []
    for leaf in leaves_of(model, cut):
        axes = {name: tuple(float(x) for x in getattr(leaf.axes, name)) for name in ("origin", "u", "v", "w")}
        window = tuple(x / 1000.0 for x in leaf.window)
        depth = None if np.isinf(leaf.far) else leaf.far / 1000.0
        found.append(LeafOut.model_validate({**axes, "window": window, "depth": depth}))
    return found
