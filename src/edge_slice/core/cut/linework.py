"""Seen, hidden and overhead lines: which edges can show, clipped to the view, and their visible parts."""

from __future__ import annotations

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut.collinear import line_groups
from edge_slice.core.cut.occlusion import clip_triangles, visible_spans
from edge_slice.core.cut.result import CutFace, CutLines, Role
from edge_slice.core.model import Mesh

F64 = NDArray[np.float64]
Window = tuple[float, float, float, float]
CAP_DEPTH = -1.0  # mm; a little before the cut, so that faces flush with the cut lie behind
EDGE_ON = 1e-7  # sine of the angle under which a face counts as seen edge-on


def facing(mesh: Mesh, look: F64) -> NDArray[np.int8]:
    """Per triangle: 1 seen from outside, -1 from behind, 0 edge-on; `look` (3,) is the view direction."""
    normals = mesh.normals
    across = normals @ look
    limit = EDGE_ON * np.linalg.norm(normals, axis=1)
    return np.where(across < -limit, 1, np.where(across > limit, -1, 0)).astype(np.int8)


def _borders(mesh: Mesh, seen: NDArray[np.int8]) -> NDArray[np.uint8]:
    """Bit k of a triangle: its side k is on the outline, since the triangle across faces another way."""
    across = mesh.neighbours
    other = np.where(across >= 0, seen[across], -2)
    outline = other != seen[:, None]
    bits: NDArray[np.uint8] = (outline @ np.array([1, 2, 4])).astype(np.uint8)
    return bits


def _edges_in_view(
    mesh: Mesh,
    points: F64,
    seen: NDArray[np.int8],
    elements: NDArray[np.bool_],
    open_element: NDArray[np.bool_],
    window: Window,
    near: float,
    far: float,
) -> tuple[F64, NDArray[np.int32]]:
    """Edges that could be visible, clipped to near <= w <= far and to the window: ends (e, 2, 3), edge index (e,)."""
    first, second = mesh.edge_triangles[:, 0], mesh.edge_triangles[:, 1]
    a, b = seen[first], np.where(second >= 0, seen[second], 1)
    front = (a == 1) | (b == 1) | open_element[mesh.edge_element]
    chosen = np.flatnonzero(front & elements[mesh.edge_element] & (mesh.edge_sharp | ((a == 1) != (b == 1))))
    ends = points[mesh.edges[chosen]]
    keep, clipped = _clip(ends, window, near, far)
    return clipped[keep], chosen[keep].astype(np.int32)


@njit(cache=True, nogil=True)
def _clip(ends: F64, window: Window, near: float, far: float):  # type: ignore[no-untyped-def]
    """Clip segments (e, 2, 3) to a box (Liang and Barsky 1984); drops what is seen end-on."""
    keep = np.zeros(ends.shape[0], np.bool_)
    out = np.empty_like(ends)
    low = (window[0], window[1], near)
    high = (window[2], window[3], far)
    for e in range(ends.shape[0]):
        t0, t1 = 0.0, 1.0
        for k in range(3):
            p, q = ends[e, 0, k], ends[e, 1, k]
            d = q - p
            if d == 0:
                if p < low[k] or p > high[k]:
                    t0, t1 = 1.0, 0.0
                continue
            s0, s1 = (low[k] - p) / d, (high[k] - p) / d
            t0, t1 = max(t0, min(s0, s1)), min(t1, max(s0, s1))
        if t0 < t1:
            d3 = ends[e, 1] - ends[e, 0]
            out[e, 0], out[e, 1] = ends[e, 0] + t0 * d3, ends[e, 0] + t1 * d3
            keep[e] = np.hypot(out[e, 1, 0] - out[e, 0, 0], out[e, 1, 1] - out[e, 0, 1]) > 0.05
    return keep, out


def cap_triangles(faces: list[CutFace]) -> F64:
    """Cut faces as triangles (k, 3, 3): they hide what lies behind them, and what lies flush in the cut."""
    if not faces:
        return np.zeros((0, 3, 3))
    parts = shapely.get_parts(shapely.constrained_delaunay_triangles(np.array([f.polygon for f in faces])))
    if not len(parts):
        return np.zeros((0, 3, 3))
    flat = shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]
    return np.concatenate((flat, np.full((len(flat), 3, 1), CAP_DEPTH)), axis=2)


def trace_lines(
    mesh: Mesh,
    points: F64,
    look: F64,
    elements: NDArray[np.bool_],
    open_element: NDArray[np.bool_],
    caps: F64,
    window: Window,
    far: float,
    keep_hidden: bool,
    role: Role = Role.SEEN,
) -> CutLines:
    """What a viewer at the cut sees of the elements (n,) beyond it, down to depth `far` (mm)."""
    seen = facing(mesh, look)
    edges, index = _edges_in_view(mesh, points, seen, elements, open_element, window, 0.0, far)
    if not len(edges):
        return CutLines.empty()
    # Only faces turned to the viewer hide: what lies behind a far face lies in a body, behind its near face
    # or its cut face. Leaking bodies have no such order, so all of their faces hide.
    use = elements[mesh.triangle_element] & ((seen == 1) | open_element[mesh.triangle_element])
    if np.isfinite(far):
        use &= (points[:, 2] < far)[mesh.triangles].any(axis=1)
    corners, bits = clip_triangles(points, mesh.triangles, use, _borders(mesh, seen))
    corners = np.concatenate((caps, corners))
    bits = np.concatenate((np.zeros(len(caps), np.uint8), bits))
    edge, span, hidden = visible_spans(edges, corners, bits, window, keep_hidden)
    start, step = edges[edge, 0], edges[edge, 1] - edges[edge, 0]
    a, b = start + span[:, :1] * step, start + span[:, 1:] * step
    roles = np.where(hidden, Role.HIDDEN, role).astype(np.uint8)
    lines = CutLines(
        np.column_stack((a[:, :2], b[:, :2])), roles, mesh.edge_element[index[edge]], (a[:, 2] + b[:, 2]) / 2
    )
    return _without_doubles(lines)


def _without_doubles(lines: CutLines) -> CutLines:
    """Collinear pieces that overlap are drawn once; the one that begins first keeps the shared part."""
    if not len(lines.points):
        return lines
    group, t0, t1, turned = line_groups(lines.points)
    order = np.lexsort((t0, lines.role, group))
    keys = np.column_stack((group, lines.role))[order]
    new = np.r_[True, (keys[1:] != keys[:-1]).any(axis=1)]
    keep, trim = _sweep(t0[order], t1[order], new)
    share = (trim[keep] - t0[order][keep]) / (t1[order][keep] - t0[order][keep])
    chosen = order[keep]
    kept = turned[chosen].copy()
    kept[:, :2] += share[:, None] * (kept[:, 2:] - kept[:, :2])
    return CutLines(kept, lines.role[chosen], lines.element[chosen], lines.depth[chosen])


@njit(cache=True, nogil=True)
def _sweep(t0: F64, t1: F64, new: NDArray[np.bool_]):  # type: ignore[no-untyped-def]
    keep = np.zeros(t0.shape[0], np.bool_)
    trim = t0.copy()
    reach = 0.0
    for i in range(t0.shape[0]):
        if new[i] or t0[i] >= reach - 0.02:
            keep[i] = True
            reach = t1[i] if new[i] else max(reach, t1[i])
        elif t1[i] > reach + 0.02:
            keep[i] = True
            trim[i] = reach
            reach = t1[i]
    return keep, trim
