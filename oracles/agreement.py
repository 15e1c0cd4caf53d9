"""How far drawn lines and the depth check agree, by sampled points."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from edge_slice.core.cut import CutResult, Role
from edge_slice.core.cut.lines.sight import facing
from edge_slice.core.model import Model
from oracles.depth_check import DepthCheck

ON_LINE = 0.15  # mm


def candidates(model: Model, result: CutResult) -> np.ndarray:
    """All edges that may be drawn, ends (e, 2, 3) in drawing mm: sharp ones and outlines."""
    mesh = model.mesh
    seen = facing(mesh, result.axes.w)
    first, second = mesh.edge_triangles[:, 0], mesh.edge_triangles[:, 1]
    turns = (seen[first] == 1) != (np.where(second >= 0, seen[second], 1) == 1)
    return result.axes.to_drawing(mesh.vertices)[mesh.edges[mesh.edge_sharp | turns]]


def agreement(model: Model, result: CutResult, count: int, seed: int = 1) -> tuple[float, float]:
    """Share of sampled visible points that the check sees too, and of points it sees that are drawn."""
    rng = np.random.default_rng(seed)
    points = result.axes.to_drawing(model.mesh.vertices)
    check = DepthCheck(points[model.mesh.triangles], model.mesh.triangle_element)
    edges = candidates(model, result)
    edges = edges[np.hypot(*(edges[:, 1, :2] - edges[:, 0, :2]).T) > 0.5]
    flat = shapely.linestrings(edges[:, :, :2])
    tree = shapely.STRtree(flat)
    lines = result.lines.points[result.lines.role == Role.SEEN]
    outlines = shapely.get_parts(shapely.boundary(np.array([f.polygon for f in result.faces], dtype=object)))
    drawn = shapely.STRtree(np.concatenate((shapely.linestrings(lines.reshape(-1, 2, 2)), outlines)))

    lengths = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    right = 0
    for index in rng.choice(len(lines), count, p=lengths / lengths.sum()):
        share = rng.uniform(0.02, 0.98)
        u, v = lines[index, :2] + share * (lines[index, 2:] - lines[index, :2])
        right += any(
            check.sees(u, v, *_depth_and_across(edges[k], u, v))
            for k in tree.query(shapely.Point(u, v).buffer(ON_LINE), "intersects")
        )

    found = wanted = 0
    left, base, far_right, top = result.extents
    reach = result.reach or np.inf
    sizes = np.hypot(*(edges[:, 1, :2] - edges[:, 0, :2]).T)
    for edge in _drawn_from(edges, sizes, rng):
        if wanted == count:
            break
        u, v, w = edge[0] + rng.uniform(0.02, 0.98) * (edge[1] - edge[0])
        if not (0.5 < w < reach - 0.5 and left < u < far_right and base < v < top):
            continue
        _, across = _depth_and_across(edge, u, v)
        if check.hides(u, v, w) or not check.sees(u, v, w, across):
            continue
        wanted += 1
        found += len(drawn.query_nearest(shapely.Point(u, v), max_distance=ON_LINE)) > 0
    return right / count, found / count


def _drawn_from(edges: np.ndarray, sizes: np.ndarray, rng: np.random.Generator) -> Iterator[np.ndarray]:
    """Edges without end, the longer the more often."""
    while True:
        yield from edges[rng.choice(len(edges), 1000, p=sizes / sizes.sum())]


def _depth_and_across(edge: np.ndarray, u: float, v: float) -> tuple[float, tuple[float, float]]:
    d = edge[1] - edge[0]
    length = float(np.hypot(d[0], d[1])) or 1.0
    share = ((u - edge[0, 0]) * d[0] + (v - edge[0, 1]) * d[1]) / length**2
    return float(edge[0, 2] + share * d[2]), (float(-d[1] / length), float(d[0] / length))
