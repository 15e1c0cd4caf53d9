"""Stable references to generated linework: to the model, never to an index in a result.

A reference names an element by its GlobalId, a feature in the element's own frame, and where it was seen last. After
a change of the model or of the cut it is resolved again: exactly, else by the nearest like feature of the element,
else it is lost, and says so.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray

from edge_slice.core.cut.pieces import CutFace
from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
NEAR = 100.0  # mm; how far a like feature may have moved
Side = Literal["first", "last", "end", "outline"]


@dataclass(frozen=True)
class LineReference:
    """An edge of an element: both ends (3,) mm in the element's own frame, the lower one first; `at` is the middle of
    the line as drawn last, mm in the drawing."""

    element: str
    ends: tuple[tuple[float, float, float], tuple[float, float, float]]
    at: tuple[float, float]


@dataclass(frozen=True)
class BorderReference:
    """A side of a cut face: which layer of the element (-1: it has none), and which side of it: towards the first or
    the last layer, an end of it, or the outline of a piece without layers."""

    element: str
    layer: int
    side: Side
    at: tuple[float, float]


@dataclass(frozen=True)
class Resolved:
    """`found` are indices of lines, or of cut faces for a border; `at` is where it is now, or was, if lost."""

    state: Literal["exact", "near", "lost"]
    found: tuple[int, ...]
    at: tuple[float, float]


def own_frame(model: Model, element: int) -> tuple[F64, F64]:
    """Origin (3,) and axes (3, 3), rows, of an element's own frame in metres: its placement in the file, or its
    lowest corner where the file gives none."""
    place = model.elements[element].placement
    if place is not None:
        (a, b, c), (d, e, f) = place.x, place.y
        across = (b * f - c * e, c * d - a * f, a * e - b * d)  # numpy's takes longer than all the rest of an anchor
        return np.array(place.origin), np.array((place.x, place.y, across))
    points = model.element_triangles(element).reshape(-1, 3)
    return points.min(axis=0) if len(points) else np.zeros(3), np.eye(3)


def edges_of(model: Model, element: int, edges: I64, ordered: bool = True) -> F64:
    """Ends (n, 2, 3) of edges in the element's own frame, mm, the lower end first, or as the mesh has them."""
    origin, axes = own_frame(model, element)
    local = np.round((model.mesh.vertices[model.mesh.edges[edges]] - origin) @ axes.T * 1000.0, 3) + 0.0
    if not ordered:
        return np.asarray(local, dtype=np.float64)
    a, b = local[:, 0], local[:, 1]
    differ = a != b
    first = differ.argmax(axis=1)
    rows = np.arange(len(a))
    swap = differ.any(axis=1) & (a[rows, first] > b[rows, first])
    local[swap] = local[swap][:, ::-1]
    return np.asarray(local, dtype=np.float64)


def line_reference(model: Model, result: CutResult, line: int) -> LineReference:
    """The reference of a line of the result."""
    lines = result.lines
    element = int(lines.element[line])
    (a, b) = edges_of(model, element, lines.edge[line : line + 1].astype(np.int64))[0].tolist()
    u, v = ((lines.points[line, :2] + lines.points[line, 2:]) / 2).tolist()
    return LineReference(model.elements[element].guid, (tuple(a), tuple(b)), (u, v))


def line_features(model: Model, result: CutResult) -> list[str]:
    """A text for each line that stays the same while its edge does: both ends in the element's own frame, whole mm."""
    lines = result.lines
    texts = [""] * len(lines.points)
    order = np.argsort(lines.element, kind="stable")
    groups = np.split(order, np.flatnonzero(np.diff(lines.element[order])) + 1) if len(order) else []
    for rows in groups:
        ends = edges_of(model, int(lines.element[rows[0]]), lines.edge[rows].astype(np.int64))
        whole = np.rint(ends).astype(np.int64).reshape(-1, 6).tolist()
        for row, numbers in zip(rows.tolist(), whole, strict=True):
            texts[row] = "edge " + " ".join(map(str, numbers))
    return texts


def border_reference(model: Model, result: CutResult, face: int, u: float, v: float) -> BorderReference:
    """The reference of the side of a cut face that is nearest to a point of the drawing (mm)."""
    found = result.faces[face]
    return BorderReference(model.elements[found.element].guid, found.layer, side_of(found, u, v), (u, v))


def side_of(face: CutFace, u: float, v: float) -> Side:
    """Which side of a face lies nearest to a point."""
    if face.strip is None:
        return "outline"
    n = np.array(face.strip.normal)
    d = np.array([-n[1], n[0]])
    ring = np.asarray(face.polygon.exterior.coords)
    along, across = float(np.array([u, v]) @ d), float(np.array([u, v]) @ n)
    distances: dict[Side, float] = {
        "first": abs(across - face.strip.low),
        "last": abs(across - face.strip.high),
        "end": min(abs(along - float((ring @ d).min())), abs(along - float((ring @ d).max()))),
    }
    return min(distances, key=lambda side: distances[side])


def resolve_line(model: Model, result: CutResult, reference: LineReference, near: float = NEAR) -> Resolved:
    """The lines that a reference stands for now."""
    element = model.element_by_guid.get(reference.element, -1)
    rows = np.flatnonzero(result.lines.element == element)
    if element < 0 or not len(rows):
        return Resolved("lost", (), reference.at)
    ends = edges_of(model, element, result.lines.edge[rows].astype(np.int64))
    wanted = np.array(reference.ends)
    off = np.linalg.norm(ends - wanted, axis=2).max(axis=1)
    best = float(off.min())
    if best > near:
        return Resolved("lost", (), reference.at)
    chosen = rows[off <= best + 1e-6]
    middles = (result.lines.points[chosen, :2] + result.lines.points[chosen, 2:]) / 2
    nearest = int(np.hypot(*(middles - np.array(reference.at)).T).argmin())
    u, v = middles[nearest].tolist()
    return Resolved("exact" if best <= 0.5 else "near", tuple(chosen.tolist()), (u, v))


def resolve_border(model: Model, result: CutResult, reference: BorderReference) -> Resolved:
    """The cut faces that a reference stands for now, and the nearest point of its side."""
    element = model.element_by_guid.get(reference.element, -1)
    of_element = [k for k, f in enumerate(result.faces) if f.element == element]
    if not of_element:
        return Resolved("lost", (), reference.at)
    exact = [k for k in of_element if result.faces[k].layer == reference.layer]
    chosen = exact or of_element
    point = shapely.Point(reference.at)
    nearest = min(chosen, key=lambda k: result.faces[k].polygon.distance(point))
    where = _on_side(result.faces[nearest], reference.side, point)
    return Resolved("exact" if exact else "near", tuple(chosen), (where.x, where.y))


def _on_side(face: CutFace, side: Side, point: shapely.Point) -> shapely.Point:
    """The point of one side of a face that is nearest to another point."""
    ring = np.asarray(face.polygon.exterior.coords)
    sides = [
        shapely.LineString([a, b])
        for a, b in pairwise(ring)
        if side == "outline" or side_of(face, *((a + b) / 2).tolist()) == side
    ]
    target = shapely.MultiLineString(sides) if sides else face.polygon.exterior
    return shapely.ops.nearest_points(target, point)[0]
