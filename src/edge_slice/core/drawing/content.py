"""What a cut face shows at a scale: layers joined or kept, membranes as lines, like neighbours merged."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import CutFace, CutResult, Strip
from edge_slice.core.drawing.rules.standard import Content, DrawingStandard, FaceClasses
from edge_slice.core.model import Model
from edge_slice.core.remembered import Remembered, corners_of, marks_of

F64 = NDArray[np.float64]
SNAP = 0.01  # mm of model; faces closer than this share their border
ACROSS = 0.7  # cosine; a cut nearer than 45° to square across the grain shows its end
ALONG = 3.0  # times its own thickness that a layer is wide in a cut along it
MEMBRANE = "membrane"
_unions: Remembered[list[shapely.Polygon]] = Remembered("joined faces", 1_000_000, corners_of)


@dataclass(frozen=True)
class Piece:
    """A cut face as shown: model mm, with the class of its material and, where known, the run of its layer; `across`:
    a long element cut across its length; `along`: a layer that is cut along rather than across; `hatch`: one of its
    own instead of its class's, empty for none."""

    element: int
    kind: str
    layer: int
    polygon: shapely.Polygon
    strip: Strip | None
    across: bool = False
    along: bool = False
    hatch: str = ""


def shown_pieces(
    model: Model, result: CutResult, standard: DrawingStandard, content: Content, scale: float
) -> list[Piece]:
    """Pieces by the content rules: at small scales a build-up is one piece of its main material; at middle
    scales layers thinner than the standard's `thin_layer` on paper join their stronger neighbour; where membranes
    show, they are lines (`membrane_lines`) and their place belongs to their stronger neighbour."""
    class_of = standard.face_classes(model)
    hatch = [material.hatch for material in model.materials] + [""]  # the last one of what has no material
    pieces: list[Piece] = []
    joined: dict[tuple[int, int], list[CutFace]] = {}
    targets: dict[int, list[int]] = {}
    for face in result.faces:
        if face.layer < 0:
            kind = class_of(model.elements[face.element], face.material, -1)
            across = bool(standard.materials[kind].hatch_across) and _is_across(model, face, result)
            pieces.append(Piece(face.element, kind, -1, face.polygon, None, across, hatch=hatch[face.material]))
            continue
        if face.element not in targets:
            targets[face.element] = _layer_targets(model, face.element, standard, class_of, content, scale)
        joined.setdefault((face.element, targets[face.element][face.layer]), []).append(face)
    for (element, layer), faces in joined.items():
        kind = class_of(model.elements[element], -1, layer)
        own = hatch[model.build_ups[model.elements[element].build_up].layers[layer].material]
        if len(faces) == 1:
            along = _is_along(model, element, faces, faces[0].strip)
            pieces.append(Piece(element, kind, layer, faces[0].polygon, faces[0].strip, along=along, hatch=own))
            continue
        whole = _unions.get(tuple(marks_of([f.polygon for f in faces])), partial(_union, faces))
        strips = [f.strip for f in faces if f.strip is not None]
        strip = Strip(strips[0].normal, min(s.low for s in strips), max(s.high for s in strips)) if strips else None
        along = _is_along(model, element, faces, strip)
        pieces += [Piece(element, kind, layer, p, strip, along=along, hatch=own) for p in whole]
    return pieces


def _is_along(model: Model, element: int, faces: list[CutFace], strip: Strip | None) -> bool:
    """Whether layers look much thicker in the cut than they are, as it runs along them; curved ones, whose run no strip
    tells, never."""
    frame = model.elements[element].frame
    if strip is None or frame is None:
        return strip is None and frame is not None and frame.radius <= 0
    layers = model.build_ups[model.elements[element].build_up].layers
    true = sum(layers[k].thickness for k in {f.layer for f in faces}) * 1000.0
    return strip.high - strip.low > ALONG * true


def _union(faces: list[CutFace]) -> list[shapely.Polygon]:
    return parts(shapely.union_all([f.polygon for f in faces], grid_size=SNAP))


def parts(geometry: shapely.Geometry) -> list[shapely.Polygon]:
    return [p for p in shapely.get_parts(geometry) if p.geom_type == "Polygon" and p.area > SNAP]


def _is_across(model: Model, face: CutFace, result: CutResult) -> bool:
    """Whether the cut meets a long element nearer to square across its length than along it."""
    axis = model.long_axis(face.element)
    return axis is not None and abs(float(axis @ result.leaves[face.leaf].axes.w)) > ACROSS


def _layer_targets(
    model: Model, element: int, standard: DrawingStandard, class_of: FaceClasses, content: Content, scale: float
) -> list[int]:
    """For each layer of the element's build-up, the layer as which it is shown."""
    layers = model.build_ups[model.elements[element].build_up].layers
    kinds = [class_of(model.elements[element], -1, k) for k in range(len(layers))]
    if content in ("solid", "outline"):
        main = max(range(len(layers)), key=lambda k: layers[k].thickness)
        return [main] * len(layers)

    def strength(k: int) -> float:
        return standard.materials[kinds[k]].strength

    if content == "membranes":
        thick = [k for k in range(len(layers)) if kinds[k] != MEMBRANE]
    else:
        thick = [k for k, layer in enumerate(layers) if layer.thickness * 1000.0 / scale >= standard.thin_layer]
    if not thick:
        return [max(range(len(layers)), key=strength)] * len(layers)
    targets = []
    for k in range(len(layers)):
        before = [t for t in thick if t <= k]
        after = [t for t in thick if t >= k]
        near = {t for t in (before[-1:] + after[:1])}
        targets.append(k if k in near else max(sorted(near), key=strength))
    return targets


def membrane_lines(model: Model, result: CutResult, standard: DrawingStandard) -> list[F64]:
    """The middle line (2, 2) of every cut membrane layer, in model mm."""
    classes = standard.classes(model)
    lines = []
    for face in result.faces:
        if face.strip is None or classes[face.material] != MEMBRANE:
            continue
        n = np.array(face.strip.normal)
        d = np.array([-n[1], n[0]])
        reach = np.asarray(face.polygon.exterior.coords) @ d
        middle = n * (face.strip.low + face.strip.high) / 2
        line = shapely.LineString([middle + d * (reach.min() - 1), middle + d * (reach.max() + 1)])
        cut = shapely.intersection(line, face.polygon)
        lines += [np.asarray(g.coords) for g in shapely.get_parts(cut) if g.geom_type == "LineString"]
    return lines


def merge_groups(pieces: list[Piece], standard: DrawingStandard) -> NDArray[np.int64]:
    """A number by piece (p,): neighbours with the same number show no line between them. Like materials merge
    unless their class keeps elements apart."""
    numbers: dict[tuple[str, str, int], int] = {}
    keys = [(p.kind, p.hatch, -1 if standard.materials[p.kind].merge else p.element) for p in pieces]
    return np.array([numbers.setdefault(k, len(numbers)) for k in keys], dtype=np.int64)
