"""`cut_model`: the one way from a model and a cut to faces and lines."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces import close_rings, ground_under, resolve_overlaps, split_layers
from edge_slice.core.cut.linework import cap_triangles, trace_lines
from edge_slice.core.cut.result import CutFace, CutLines, CutResult, Role
from edge_slice.core.cut.slicing import slice_triangles
from edge_slice.core.cut.spec import Axes, PlanCut, SectionCut, axes_of, extents_of
from edge_slice.core.model import Model

F64 = NDArray[np.float64]


def cut_model(model: Model, spec: SectionCut | PlanCut, strength: F64 | None = None) -> CutResult:
    """Cut the model and look.

    strength (materials + 1,) float64: who wins where cut faces overlap, by material index, the last entry for
    an unknown material; without it, the earlier element wins. Raises `ImpossibleCut`.
    """
    axes, window = axes_of(model, spec), extents_of(model, spec)
    mesh = model.mesh
    points = axes.to_drawing(mesh.vertices)
    shown = np.array([e.kind not in spec.without for e in model.elements], dtype=bool)
    ranks = strength if strength is not None else np.zeros(len(model.materials) + 1)
    faces, loose = _cut_faces(model, axes, points, shown, window, ranks)
    leaking = np.zeros(len(model.elements), dtype=bool)
    leaking[list(model.leaking)] = True
    far = np.inf if spec.depth is None else spec.depth * 1000.0
    caps = cap_triangles(faces)
    lines = trace_lines(mesh, points, axes.w, shown, leaking, caps, window, far, spec.hidden == "dashed")
    if isinstance(spec, PlanCut) and spec.overhead > 0:
        lines = CutLines.join([lines, _overhead(model, points, axes, shown, leaking, caps, window, spec.overhead)])
    return CutResult(axes, window, tuple(faces), lines, tuple(loose), None if spec.depth is None else far)


def _overhead(
    model: Model,
    points: F64,
    axes: Axes,
    shown: NDArray[np.bool_],
    leaking: NDArray[np.bool_],
    caps: F64,
    window: tuple[float, float, float, float],
    height: float,
) -> CutLines:
    """What hangs above a plan's cut, as seen looking up from it."""
    mirrored = points * np.array([1.0, 1.0, -1.0])
    return trace_lines(
        model.mesh, mirrored, -axes.w, shown, leaking, caps, window, height * 1000.0, False, Role.OVERHEAD
    )


def _cut_faces(
    model: Model,
    axes: Axes,
    points: F64,
    shown: NDArray[np.bool_],
    window: tuple[float, float, float, float],
    strength: F64,
) -> tuple[list[CutFace], list[tuple[int, F64]]]:
    mesh = model.mesh
    own = np.array([e.material for e in model.elements], dtype=np.int64)
    material = np.where(mesh.triangle_material >= 0, mesh.triangle_material, own[mesh.triangle_element])
    count = len(model.materials) + 1
    group = (mesh.triangle_element.astype(np.int64) * count + material % count).astype(np.int32)
    rings = slice_triangles(points, mesh.triangles, shown[mesh.triangle_element], group)
    if not len(rings.triangle):
        return [], []
    key = group[rings.triangle].astype(np.int64)
    faces = []
    for k, polygons in close_rings(rings, key).items():
        element, index = divmod(k, count)
        of = index if index < count - 1 else -1
        faces += [f for p in polygons for f in split_layers(model, axes, CutFace(element, of, -1, p))]
    loose: list[tuple[int, F64]] = []
    for k in np.flatnonzero(~rings.closed).tolist():
        element, chain = (
            int(mesh.triangle_element[rings.triangle[k]]),
            rings.points[rings.start[k] : rings.start[k + 1]],
        )
        if model.elements[element].kind == "ground" and axes.v[2] > 0.99:
            of = int(key[k] % count)
            faces += [CutFace(element, of if of < count - 1 else -1, -1, p) for p in ground_under(chain, window)]
        else:
            loose.append((element, chain))
    faces = resolve_overlaps(_in_window(faces, window), strength)
    return faces, loose


def _in_window(faces: list[CutFace], window: tuple[float, float, float, float]) -> list[CutFace]:
    """Faces cropped to the extents."""
    if not faces:
        return []
    shapes = np.array([f.polygon for f in faces])
    box = shapely.bounds(shapes)
    u0, v0, u1, v1 = window
    inside = (box[:, 0] >= u0) & (box[:, 1] >= v0) & (box[:, 2] <= u1) & (box[:, 3] <= v1)
    outside = np.flatnonzero(~inside)
    cropped = dict(zip(outside.tolist(), shapely.intersection(shapes[outside], shapely.box(*window)), strict=True))
    result = []
    for i, face in enumerate(faces):
        if inside[i]:
            result.append(face)
        else:
            result += [
                CutFace(face.element, face.material, face.layer, p, face.strip)
                for p in shapely.get_parts(cropped[i])
                if p.geom_type == "Polygon" and p.area > 0.01
            ]
    return result
