"""An independent check of opened views: what a line of sight meets first of the whole bodies, less what openings take
away, by brute force.

It knows nothing of clipped triangles, of cut faces or of what hides what: along a line of sight a body is where it
has crossed its faces an odd number of times, and an opening is where the line lies before all of its planes. What is
seen first is the end of a taken stretch within a body, a cut face, or a face of a body outside of any.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import shapely
from numba import njit
from numpy.typing import NDArray

from edge_slice.core.cut import CutResult, PlaneCut, Role
from edge_slice.core.model import Model
from oracles.depth_check import ASIDE, NEARER
from oracles.depth_check import _crossed as crossed

F64 = NDArray[np.float64]
ON_LINE = 0.15  # mm
BORDER = 1.0  # mm; nearer to its border, a point of a face is neither in nor out
FAR = np.inf


class Front(NamedTuple):
    """What is met first: how far behind the drawing's plane, mm, of which element, and whether it is a cut face."""

    depth: float
    element: int
    cut: bool


@njit(cache=True)
def _hits(corners, near, u, v):  # type: ignore[no-untyped-def]
    depth = np.empty(near.shape[0])
    which = np.empty(near.shape[0], np.int64)
    count = 0
    for t in near:
        w, inside = crossed(corners[t], u, v)
        if inside:
            depth[count], which[count] = w, t
            count += 1
    return depth[:count], which[:count]


class OpenedCheck:
    def __init__(self, model: Model, cut: PlaneCut, result: CutResult, shown: NDArray[np.bool_]) -> None:
        """`shown` (elements,): which are there; all of the model lies behind the plane of the drawing."""
        self.result = result
        at = result.axes.to_drawing(model.mesh.vertices)
        seen = at if result.lens is None else result.lens.project(at)
        triangles = np.flatnonzero(shown[model.mesh.triangle_element])
        self.corners = seen[model.mesh.triangles[triangles]]
        self.element = model.mesh.triangle_element[triangles]
        self.open = np.isin(self.element, np.array(model.leaking, dtype=np.int64))
        low, high = self.corners[:, :, :2].min(axis=1), self.corners[:, :, :2].max(axis=1)
        self.boxes = shapely.STRtree(shapely.box(*low.T, *high.T))
        axes = result.axes
        self.spaces = []
        for opening in cut.openings:
            normal = np.array([np.array(p.normal) / np.linalg.norm(p.normal) for p in opening.planes])
            point = axes.to_drawing(np.array([p.point for p in opening.planes]))
            turned = normal @ np.column_stack((axes.u, axes.v, axes.w))
            self.spaces.append((turned, np.einsum("ij,ij->i", turned, point)))

    def taken(self, u: float, v: float) -> list[tuple[float, float]]:
        """The stretches of depth, mm, that openings take of a line of sight."""
        lens = self.result.lens
        start, way = np.array([u, v, 0.0]), np.array([0.0, 0.0, 1.0])
        if lens is not None:
            way = np.array([(u - lens.u) / lens.distance, (v - lens.v) / lens.distance, 1.0])
        found = []
        for normal, offset in self.spaces:
            first, step = normal @ start - offset, normal @ way
            low, high = 0.0, FAR
            for h, s in zip(first.tolist(), step.tolist(), strict=True):
                if abs(s) < 1e-12:
                    low, high = (low, high) if h > 0 else (1.0, 0.0)
                elif s > 0:
                    low = max(low, -h / s)
                else:
                    high = min(high, -h / s)
            if high > low:
                found.append((low, high))
        return sorted(found)

    def front(self, u: float, v: float) -> Front:
        near = self.boxes.query(shapely.Point(u, v))
        depth, which = _hits(self.corners, near, u, v)
        lens = self.result.lens
        depth = _true_depth(depth, lens)
        order = np.argsort(depth, kind="stable")
        depth, element, is_open = depth[order], self.element[which[order]], self.open[which[order]]
        taken = self.taken(u, v)
        best = Front(FAR, -1, False)
        for one in np.unique(element).tolist():
            mine = element == one
            at = depth[mine].tolist()
            faces = is_open[mine].any()  # no body: each of its faces by itself
            spans = [(d, d) for d in at] if faces else list(zip(at[::2], at[1::2], strict=False))
            for start, end in spans:
                left = _first_left(start, end, taken)
                if left is not None and left < best.depth:
                    best = Front(left, one, left > start)
        return best

    def hides(self, u: float, v: float, depth: float) -> bool:
        lens = self.result.lens
        smaller = 1.0 if lens is None else 1.0 + depth / lens.distance  # how much wider a step aside is there
        return self.front(u, v).depth < depth - NEARER * smaller

    def sees(self, u: float, v: float, depth: float, across: tuple[float, float]) -> bool:
        steps = [side * far for far in ASIDE for side in (1, -1)]
        return any(not self.hides(u + s * across[0], v + s * across[1], depth) for s in steps)

    def is_taken(self, u: float, v: float, depth: float) -> bool:
        return any(low - NEARER < depth < high + NEARER for low, high in self.taken(u, v))


def _true_depth(seen, lens):  # type: ignore[no-untyped-def]
    return seen if lens is None else seen / np.maximum(1.0 - seen / lens.distance, 1e-9)


def _first_left(start: float, end: float, taken: list[tuple[float, float]]) -> float | None:
    """Where from start to end it is first not taken."""
    at = start
    for low, high in taken:
        if low <= at < high or (low < at and at <= high and start == end):
            at = high
    return at if at < end or (start == end and at == start) else None


def faces_agree(check: OpenedCheck, count: int, seed: int = 1) -> float:
    """The share of places of a view of which check and result say alike whether a cut face is seen there."""
    rng = np.random.default_rng(seed)
    faces = shapely.union_all([one.seen for one in check.result.standing])
    border = shapely.boundary(faces)
    shapely.prepare(faces)
    left, base, right, top = faces.bounds
    same = asked = 0
    while asked < count:
        u, v = float(rng.uniform(left, right)), float(rng.uniform(base, top))
        place = shapely.Point(u, v)
        if shapely.distance(border, place) < BORDER:
            continue
        asked += 1
        same += check.front(u, v).cut == bool(shapely.contains(faces, place))
    return same / count


def lines_agree(model: Model, check: OpenedCheck, count: int, seed: int = 1) -> tuple[float, float]:
    """The share of points of drawn lines that the check sees, and of points of sharp edges which it sees, that are
    drawn."""
    rng = np.random.default_rng(seed)
    result, lens = check.result, check.result.lens
    edges = result.axes.to_drawing(model.mesh.vertices)[model.mesh.edges]
    seen = edges if lens is None else lens.project(edges)
    keep = np.hypot(*(seen[:, 1, :2] - seen[:, 0, :2]).T) > 0.5
    seen, sharp = seen[keep], seen[keep & model.mesh.edge_sharp]
    tree = shapely.STRtree(shapely.linestrings(seen[:, :, :2]))
    lines = result.lines.points[result.lines.role == Role.SEEN]
    outlines = [
        shapely.transform(shapely.boundary(face.polygon), one.to_drawing)
        for one in result.standing
        for face in one.standing.faces
    ]
    drawn = shapely.STRtree(
        np.concatenate((shapely.linestrings(lines.reshape(-1, 2, 2)), np.array(outlines, dtype=object)))
    )
    lengths = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    right = 0
    for index in rng.choice(len(lines), count, p=lengths / lengths.sum()):
        u, v = lines[index, :2] + rng.uniform(0.02, 0.98) * (lines[index, 2:] - lines[index, :2])
        near = tree.query(shapely.Point(u, v).buffer(ON_LINE), "intersects")
        right += any(check.sees(u, v, *_at(seen[k], u, v, lens)) for k in near)
    found = wanted = 0
    left, base, far_right, top = result.extents
    sizes = np.hypot(*(sharp[:, 1, :2] - sharp[:, 0, :2]).T)
    while wanted < count:
        for edge in sharp[rng.choice(len(sharp), 1000, p=sizes / sizes.sum())]:
            u, v, _ = edge[0] + rng.uniform(0.02, 0.98) * (edge[1] - edge[0])
            w, across = _at(edge, u, v, lens)
            inside = w > 0.5 and left < u < far_right and base < v < top
            if wanted == count or not inside or check.is_taken(u, v, w):
                continue
            if check.hides(u, v, w) or not check.sees(u, v, w, across):
                continue
            wanted += 1
            found += len(drawn.query_nearest(shapely.Point(u, v), max_distance=ON_LINE)) > 0
    return right / count, found / count


def _at(edge: F64, u: float, v: float, lens) -> tuple[float, tuple[float, float]]:  # type: ignore[no-untyped-def]
    """How deep an edge lies at a place of it, mm, and the direction across it."""
    d = edge[1] - edge[0]
    length = float(np.hypot(d[0], d[1])) or 1.0
    w = float(edge[0, 2] + ((u - edge[0, 0]) * d[0] + (v - edge[0, 1]) * d[1]) / length**2 * d[2])
    return float(_true_depth(np.float64(w), lens)), (float(-d[1] / length), float(d[0] / length))
