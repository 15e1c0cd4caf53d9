"""Cut faces side by side: overlaps go to the stronger material, what lies outside goes, pieces join at steps."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.closing import SLIVER, polygons_in
from edge_slice.core.cut.pieces import CutFace, Strip
from edge_slice.core.cut.planes.leaves import Window
from edge_slice.core.remembered import Remembered, corners_of, marks_of

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
_shared: Remembered[float] = Remembered("shared areas", 50_000)
_rests: Remembered[list[shapely.Polygon]] = Remembered("rests of faces", 1_000_000, corners_of)


def resolve_overlaps(faces: list[CutFace], strength: F64) -> list[CutFace]:
    """Where faces overlap, the stronger material keeps the place; among equals, the earlier element.

    strength (materials + 1,): by material index, the last one for unknown material.
    """
    if len(faces) < 2:
        return faces
    shapes = np.array([f.polygon for f in faces])
    rank = np.array([strength[f.material] for f in faces])
    tree = shapely.STRtree(shapes)
    first, second = tree.query(shapes, predicate="intersects")
    once = (first < second) & (_boxes_share(shapes, first, second) > SLIVER)
    first, second = first[once], second[once]
    marks = marks_of(shapes)
    shared = [
        _shared.get((marks[i], marks[j]), partial(_shared_area, shapes[i], shapes[j]))
        for i, j in zip(first.tolist(), second.tolist(), strict=True)
    ]
    overlap = np.array(shared, dtype=np.float64) > SLIVER
    first, second = first[overlap], second[overlap]
    first_wins = rank[first] >= rank[second]
    winner, loser = np.where(first_wins, first, second), np.where(first_wins, second, first)
    result: list[CutFace] = []
    for i, face in enumerate(faces):
        over = winner[loser == i]
        if not len(over):
            result.append(face)
            continue
        rest = _rests.get((marks[i], *(marks[k] for k in over.tolist())), partial(_rest, face.polygon, shapes[over]))
        result += [replace(face, polygon=p) for p in rest]
    return result


def _boxes_share(shapes: NDArray[np.object_], first: I64, second: I64) -> F64:
    """The area (pairs,) that the bounding boxes of shapes share, mm²: the shapes share no more. Most neighbours only
    touch, and are told from those that overlap by this alone."""
    boxes = shapely.bounds(shapes)
    low = np.maximum(boxes[first, :2], boxes[second, :2])
    high = np.minimum(boxes[first, 2:], boxes[second, 2:])
    shared: F64 = np.maximum(high - low, 0.0).prod(axis=1)
    return shared


def _shared_area(one: shapely.Polygon, other: shapely.Polygon) -> float:
    return float(shapely.area(shapely.intersection(one, other)))


def _rest(polygon: shapely.Polygon, over: NDArray[np.object_]) -> list[shapely.Polygon]:
    return polygons_in(shapely.difference(polygon, shapely.union_all(over)))


def crop(faces: list[CutFace], window: Window, polygon: shapely.Polygon | None) -> list[CutFace]:
    """Faces within a window, and within a polygon too if there is one."""
    if not faces:
        return []
    area = shapely.box(*window) if polygon is None else shapely.intersection(shapely.box(*window), polygon)
    shapes = np.array([f.polygon for f in faces])
    if polygon is None:
        box = shapely.bounds(shapes)
        u0, v0, u1, v1 = window
        inside = (box[:, 0] >= u0) & (box[:, 1] >= v0) & (box[:, 2] <= u1) & (box[:, 3] <= v1)
    else:
        shapely.prepare(area)
        inside = shapely.contains_properly(area, shapes)
    outside = np.flatnonzero(~inside)
    cropped = dict(zip(outside.tolist(), shapely.intersection(shapes[outside], area), strict=True))
    result = []
    for i, face in enumerate(faces):
        if inside[i]:
            result.append(face)
        else:
            result += [replace(face, polygon=p) for p in polygons_in(cropped[i])]
    return result


def across_steps(faces: list[CutFace]) -> list[CutFace]:
    """Pieces of one layer that meet where the cut steps become one face, if the layer runs on straight."""
    groups: dict[tuple[int, int, int, Strip | None], list[CutFace]] = {}
    for face in faces:
        groups.setdefault((face.element, face.material, face.layer, _rounded(face.strip)), []).append(face)
    joined: list[CutFace] = []
    for members in groups.values():
        if len({f.leaf for f in members}) < 2:
            joined += members
            continue
        whole = shapely.union_all([f.polygon for f in members])
        joined += [replace(members[0], polygon=p) for p in polygons_in(whole)]
    return joined


def _rounded(strip: Strip | None) -> Strip | None:
    if strip is None:
        return None
    nu, nv = (round(x, 9) + 0.0 for x in strip.normal)
    return Strip((nu, nv), round(strip.low, 4), round(strip.high, 4))
