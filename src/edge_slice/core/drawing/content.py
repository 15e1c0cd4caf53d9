"""What a cut face shows at a scale: layers joined or kept, like neighbours merged, ground filled to a depth."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import CutFace, CutResult
from edge_slice.core.cut.result import Strip
from edge_slice.core.drawing.standard import Content, DrawingStandard
from edge_slice.core.model import Model

SNAP = 0.01  # mm of model; faces closer than this share their border


@dataclass(frozen=True)
class Piece:
    """A cut face as shown: model mm, with the class of its material and, where known, the run of its layer."""

    element: int
    kind: str
    layer: int
    polygon: shapely.Polygon
    strip: Strip | None


def shown_pieces(
    model: Model, result: CutResult, standard: DrawingStandard, content: Content, scale: float
) -> list[Piece]:
    """Pieces by the content rules: at small scales a build-up is one piece of its main material; at middle
    scales layers thinner than the standard's `thin_layer` on paper join their stronger neighbour."""
    classes = standard.classes(model)
    pieces: list[Piece] = []
    joined: dict[tuple[int, int], list[CutFace]] = {}
    for face in result.faces:
        if face.layer < 0:
            pieces.append(Piece(face.element, classes[face.material], -1, face.polygon, None))
            continue
        target = _layer_targets(model, face.element, standard, classes, content, scale)[face.layer]
        joined.setdefault((face.element, target), []).append(face)
    for (element, layer), faces in joined.items():
        build_up = model.build_ups[model.elements[element].build_up]
        kind = classes[build_up.layers[layer].material]
        if len(faces) == 1:
            pieces.append(Piece(element, kind, layer, faces[0].polygon, faces[0].strip))
            continue
        whole = shapely.union_all([f.polygon for f in faces], grid_size=SNAP)
        strips = [f.strip for f in faces if f.strip is not None]
        strip = Strip(strips[0].normal, min(s.low for s in strips), max(s.high for s in strips)) if strips else None
        pieces += [Piece(element, kind, layer, p, strip) for p in parts(whole)]
    return pieces


def parts(geometry: shapely.Geometry) -> list[shapely.Polygon]:
    return [p for p in shapely.get_parts(geometry) if p.geom_type == "Polygon" and p.area > SNAP]


def _layer_targets(
    model: Model, element: int, standard: DrawingStandard, classes: list[str], content: Content, scale: float
) -> list[int]:
    """For each layer of the element's build-up, the layer as which it is shown."""
    layers = model.build_ups[model.elements[element].build_up].layers
    if content in ("solid", "outline"):
        main = max(range(len(layers)), key=lambda k: layers[k].thickness)
        return [main] * len(layers)
    if content == "membranes":
        return list(range(len(layers)))

    def strength(k: int) -> float:
        return standard.materials[classes[layers[k].material]].strength

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


def merge_groups(pieces: list[Piece], standard: DrawingStandard) -> NDArray[np.int64]:
    """A number by piece (p,): neighbours with the same number show no line between them. Like materials merge
    unless their class keeps elements apart."""
    numbers: dict[tuple[str, int], int] = {}
    keys = [(p.kind, -1 if standard.materials[p.kind].merge else p.element) for p in pieces]
    return np.array([numbers.setdefault(k, len(numbers)) for k in keys], dtype=np.int64)


def ground_band(
    polygon: shapely.Polygon, window: tuple[float, float, float, float], depth: float, upright: bool
) -> tuple[shapely.Geometry, list[NDArray[np.float64]]]:
    """Cut ground shows as a band `depth` mm thick under its surface. Returns the band and the surface lines.

    In a section (`upright`) the surface is what faces up or sideways; on plan, every edge but the crop's.
    """
    u0, v0, u1, v1 = window
    lines: list[NDArray[np.float64]] = []
    polygon = shapely.orient_polygons(polygon)
    for ring in (polygon.exterior, *polygon.interiors):
        p = np.asarray(ring.coords)
        a, b = p[:-1], p[1:]
        on_crop = (
            ((np.abs(a[:, 0] - u0) < 1) & (np.abs(b[:, 0] - u0) < 1))
            | ((np.abs(a[:, 0] - u1) < 1) & (np.abs(b[:, 0] - u1) < 1))
            | ((np.abs(a[:, 1] - v0) < 1) & (np.abs(b[:, 1] - v0) < 1))
            | ((np.abs(a[:, 1] - v1) < 1) & (np.abs(b[:, 1] - v1) < 1))
        )
        surface = ~on_crop & ((b[:, 0] - a[:, 0] < 1) if upright else True)
        lines += [np.array([a[i], b[i]]) for i in np.flatnonzero(surface)]
    if not lines:
        return polygon, []
    merged = shapely.line_merge(shapely.multilinestrings([shapely.linestrings(np.array(lines))]))
    merged = merged[0] if isinstance(merged, np.ndarray) else merged
    band = shapely.intersection(polygon, shapely.buffer(merged, depth, cap_style="flat", join_style="round"))
    return band, [np.asarray(g.coords) for g in shapely.get_parts(merged)]
