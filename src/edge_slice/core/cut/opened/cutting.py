"""A view of a model that is opened by other planes than its own: what they take away is gone, and what they cut shows
in their planes as it does in a section there."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.engine import cut_planes
from edge_slice.core.cut.opened.facets import Facet, facets_of, space_of
from edge_slice.core.cut.opened.standing import SeenFaces, StandingFaces
from edge_slice.core.cut.pieces import CutFace, MaterialRules
from edge_slice.core.cut.planes.leaves import axes_square_to
from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.shown import shown_elements, whole_elements
from edge_slice.core.cut.spec import Extents, ImpossibleCut, PlaneCut
from edge_slice.core.cut.surfaces.overlay import common, whole
from edge_slice.core.cut.surfaces.scene import STANDING, hiding_in, scene_of, seen_by_viewer, window_of
from edge_slice.core.cut.surfaces.visible import seen_of
from edge_slice.core.model import Model
from edge_slice.core.model.mesh.taken import Space, mesh_less
from edge_slice.core.remembered import Remembered, corners_of
from edge_slice.core.stages import stage

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NO_DEPTH = 0.01  # metres behind a plane of which only the faces are wanted
SLIVER = 1e-3  # mm²; a smaller rest of a face is none
REACH = 1.0  # metres beyond all elements to which planes go
FINE = 1e-6  # metres; faces are cropped to shapes that are told this finely

_faces: Remembered[tuple[CutFace, ...]] = Remembered(
    "faces of openings", 1_000_000, lambda faces: corners_of([face.polygon for face in faces])
)
_models: Remembered[tuple[Model, I64]] = Remembered("opened models", 4_000_000, lambda one: len(one[0].mesh.vertices))


def cut_opened(model: Model, spec: PlaneCut, rules: MaterialRules) -> CutResult:
    """What a view of the opened model shows. Raises `ImpossibleCut` where nothing is left of it."""
    plain = spec.model_copy(update={"openings": ()})
    shown = shown_elements(model, spec) & np.isfinite(model.boxes[:, 0, 0])
    takes = shown & ~whole_elements(model, spec)
    if not shown.any():
        return cut_planes(model, plain, rules)
    with stage("opened"):
        said = repr(spec.openings) + takes.tobytes().hex()
        opened, edge = _models.get(said, partial(_opened, model, spec, takes), model)
        if not len(opened.mesh.triangles):
            raise ImpossibleCut("The openings take all of the building away; turn one of their planes round.")
    with stage("faces of openings"):
        bounds = (model.boxes[shown, 0].min(axis=0) - REACH, model.boxes[shown, 1].max(axis=0) + REACH)
        facets = facets_of(spec.openings, bounds, _behind(spec))
        standing = [_standing(model, plain, rules, facet) for facet in facets]
    result = cut_planes(opened, plain, rules, None, tuple(one for one in standing if one is not None))
    # whoever looks at lines knows the whole model: what is left of an edge is that edge
    lines = replace(result.lines, edge=edge[result.lines.edge].astype(result.lines.edge.dtype))
    result = replace(result, lines=lines)
    with stage("seen of faces"):
        return _with_seen(result)


def _opened(model: Model, spec: PlaneCut, takes: NDArray[np.bool_]) -> tuple[Model, I64]:
    mesh, edge = mesh_less(model.mesh, [space_of(opening) for opening in spec.openings], takes)
    return replace(model, mesh=mesh), edge


def _behind(spec: PlaneCut) -> Space:
    """What lies behind the view's own plane, as deep as it looks."""
    w = axes_square_to(spec.point, spec.normal).w
    at = float(w @ np.array(spec.point))
    if spec.depth is None:
        return Space(w[None], np.array([at]))
    return Space(np.array([w, -w]), np.array([at, -at - spec.depth]))


def _standing(model: Model, plain: PlaneCut, rules: MaterialRules, facet: Facet) -> StandingFaces | None:
    """The faces that a plane of an opening cuts, where it bounds what is taken."""
    ring = np.round(shapely.get_coordinates(facet.shape)[:-1] / FINE) * FINE
    left, base, right, top = shapely.Polygon(ring).bounds  # the ground goes beyond the building
    change = {
        "point": facet.plane.point, "normal": facet.plane.normal, "depth": NO_DEPTH, "perspective": None,
        "hidden": "off",
        "extents": Extents(left=left, base=base, right=right, top=top, polygon=tuple(map(tuple, ring.tolist()))),
        "see_through": (), "see_through_kinds": (),
    }  # fmt: skip
    cut = plain.model_copy(update=change)
    key = (cut.model_dump_json(), facet.less.wkb, rules.digest())
    faces = _faces.get(key, partial(_faces_in, model, cut, rules, facet), model)
    if not faces:
        return None
    return StandingFaces(facet.axes, faces, whole([face.polygon for face in faces]))


def _faces_in(model: Model, cut: PlaneCut, rules: MaterialRules, facet: Facet) -> tuple[CutFace, ...]:
    found = cut_planes(model, cut, rules).faces
    if facet.less.is_empty:
        return found
    gone = shapely.transform(facet.less, lambda at: at * 1000.0)
    shapes = shapely.difference(np.array([face.polygon for face in found], dtype=object), gone)
    return tuple(
        CutFace(face.element, face.material, face.layer, part, face.strip, face.leaf)
        for face, shape in zip(found, shapes, strict=True)
        for part in shapely.get_parts(shape)
        if part.geom_type == "Polygon" and part.area > SLIVER
    )


def _with_seen(result: CutResult) -> CutResult:
    """The result with what is seen of the standing faces."""
    memory = result.memory
    if memory is None or not memory.standing:
        return result
    scene = scene_of(memory, 0)
    window = window_of(scene.leaf, result.polygon)
    seen = seen_by_viewer(scene, hiding_in(scene, memory), window)
    wanted = seen.flat <= STANDING
    parts = seen_of(seen.faces, wanted)
    found = []
    for k, standing in enumerate(memory.standing):
        mine = [parts[n] for n in np.flatnonzero(seen.flat == STANDING - k).tolist() if parts[n] is not None]
        shape = common(whole(mine), window) if mine else shapely.Polygon()
        if not shape.is_empty:
            found.append(SeenFaces(standing, shape, scene.leaf.axes, scene.lens))
    return replace(result, standing=tuple(found))
