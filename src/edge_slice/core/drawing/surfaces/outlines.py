"""Weight by what lies behind: the parts of lines beyond which the view goes on much deeper, or out into the open."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.lines.linework import true_depth
from edge_slice.core.cut.lines.sight import facing
from edge_slice.core.cut.pieces import Role
from edge_slice.core.cut.surfaces.regions import SeenSurfaces
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.hatching.clipping import spans_inside

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Beside = tuple[I64, F64, F64]
ASIDE = 0.4  # mm on paper beside a line at which it is asked what is seen there: joints and rods are no outlines
SHORT = 1.0  # mm of the building; shorter parts are slips of rounding
OPEN = 1e12  # mm; how far away the sky is


def parts_before(draft: Draft, seen: SeenSurfaces, gap: float) -> F64:
    """The parts (n, 4) of seen lines, mm of the building, with what is seen on one side at least `gap` mm farther away
    than on the other."""
    lines = draft.result.lines
    rows = np.flatnonzero((lines.role == Role.SEEN) & _may_be_outlines(draft))
    ends = lines.points[rows].reshape(-1, 2, 2)
    length = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    ends = ends[length > SHORT]
    if not len(ends):
        return np.zeros((0, 4))
    shapes = np.array([*(r.shape for r in seen.regions), *(f.polygon for f in draft.result.faces)], dtype=object)
    planes = np.array([*(r.plane for r in seen.regions), *((0.0, 0.0, 0.0) for _ in draft.result.faces)]).reshape(-1, 3)
    tree = shapely.STRtree(shapes)
    sides = [_beside(draft, ends, way, (tree, shapes, planes)) for way in (1.0, -1.0)]
    line, spans = _farther(len(ends), sides[0], sides[1], gap)
    step = ends[line, 1] - ends[line, 0]
    found = np.column_stack((ends[line, 0] + spans[:, :1] * step, ends[line, 0] + spans[:, 1:] * step))
    kept: F64 = found[np.hypot(*(found[:, 2:] - found[:, :2]).T) > SHORT]
    return kept


def _may_be_outlines(draft: Draft) -> NDArray[np.bool_]:
    """Lines (n,) of edges that do not have both of their faces turned to the viewer: behind another edge nothing shows.
    In a perspective each may be one, as are those of ground and plants in none."""
    result, mesh = draft.result, draft.model.mesh
    loose = np.array([e.kind in ("ground", "planting", "person") for e in draft.model.elements], dtype=bool)
    edges = result.lines.edge
    if result.lens is not None or len(result.leaves) != 1:
        return ~loose[result.lines.element]
    seen = facing(mesh, result.leaves[0].axes.w) == 1
    first, second = mesh.edge_triangles[edges].T
    both = seen[first] & seen[second] & (second >= 0)
    found: NDArray[np.bool_] = ~loose[result.lines.element] & ~both
    return found


def _beside(draft: Draft, ends: F64, way: float, seen: tuple[shapely.STRtree, NDArray[np.object_], F64]) -> Beside:
    """What is seen beside lines: of which line (k,), from where to where along it (k, 2), 0 to 1, and its depth at both
    (k, 2), mm behind the cut."""
    tree, shapes, planes = seen
    step = ends[:, 1] - ends[:, 0]
    length = np.hypot(*step.T)
    across = np.column_stack((-step[:, 1], step[:, 0])) / length[:, None] * ASIDE * draft.scale * way
    moved = ends + across[:, None, :]
    line, shape = tree.query(shapely.linestrings(moved))
    pair, spans = spans_inside(moved, shapes, (line, shape))
    line, shape = line[pair], shape[pair]
    at = moved[line, :1] + spans[:, :, None] * step[line, None]
    a, b, c = planes[shape].T
    depth = true_depth((a[:, None] * at[:, :, 0] + b[:, None] * at[:, :, 1] + c[:, None]).ravel(), draft.result.lens)
    order = np.lexsort((spans[:, 0], line))
    return line[order].astype(np.int64), spans[order], depth.reshape(-1, 2)[order]


@njit(cache=True, nogil=True)
def _farther(count: int, one: Beside, another: Beside, gap: float):  # type: ignore[no-untyped-def]
    """Lines and the spans (k, 2) along them where one side is seen farther away by `gap` than the other."""
    line, along, depth = one
    other, other_along, other_depth = another
    found_line = np.empty(4 * count + 64, np.int64)
    found = np.empty((len(found_line), 2))
    filled = 0
    i = j = 0
    for k in range(count):
        first, second = i, j
        while i < len(line) and line[i] == k:
            i += 1
        while j < len(other) and other[j] == k:
            j += 1
        marks = np.empty(2 * (i - first + j - second) + 2)
        marks[0], marks[1] = 0.0, 1.0
        marks[2 : 2 + 2 * (i - first)] = along[first:i].copy().reshape(-1)
        marks[2 + 2 * (i - first) :] = other_along[second:j].copy().reshape(-1)
        marks.sort()
        for m in range(len(marks) - 1):
            low, high = marks[m], marks[m + 1]
            if high - low < 1e-9:
                continue
            middle = (low + high) / 2
            left = _depth_at(along[first:i], depth[first:i], middle)
            right = _depth_at(other_along[second:j], other_depth[second:j], middle)
            if abs(left - right) < gap:
                continue
            if filled and found_line[filled - 1] == k and found[filled - 1, 1] >= low - 1e-9:
                found[filled - 1, 1] = high
                continue
            if filled == len(found_line):
                found_line = np.concatenate((found_line, np.empty_like(found_line)))
                found = np.concatenate((found, np.empty_like(found)))
            found_line[filled], found[filled, 0], found[filled, 1] = k, low, high
            filled += 1
    return found_line[:filled], found[:filled]


@njit(cache=True, nogil=True)
def _depth_at(along: F64, depth: F64, at: float) -> float:
    """The least depth of what covers a place along a line; of nothing that of the sky."""
    best = OPEN
    for k in range(len(along)):
        a, b = along[k, 0], along[k, 1]
        if min(a, b) <= at <= max(a, b):
            share = 0.0 if a == b else (at - a) / (b - a)
            best = min(best, depth[k, 0] + share * (depth[k, 1] - depth[k, 0]))
    return best
