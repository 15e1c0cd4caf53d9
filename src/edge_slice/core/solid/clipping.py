"""Bodies cut by a plane and closed again."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
SAME = 1e-7  # metres; crossings nearer to each other are one
TURNS = (0.0, 0.7, 1.9, 2.6)  # radians by which a cut face is turned until it can be divided into triangles


@dataclass(frozen=True)
class Body:
    """vertices (n, 3) metres; triangles (m, 3), counter-clockwise seen from outside; `cut` (m,): which of them close
    a cut. `open`: a cut could not be closed, as the body leaks or runs through itself there."""

    vertices: F64
    triangles: I64
    cut: NDArray[np.bool_]
    open: bool = False

    @property
    def volume(self) -> float:
        """Cubic metres; of closed bodies."""
        if not len(self.triangles):
            return 0.0
        base = self.vertices[self.triangles[0, 0]]  # measured from a point of it, for precision far from the origin
        a, b, c = (self.vertices[self.triangles[:, k]] - base for k in range(3))
        return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6.0)


def body_of(vertices: F64, triangles: I64, neighbours: I64 | None = None) -> Body:
    """A body of triangles of a larger mesh, with the vertices that it needs; with `neighbours` (m, 3), the triangle
    across each side or -1, parts that lie back to back are one, and parts that touch along an edge hang together no
    more: each edge has two triangles then, where the body is closed."""
    used, index = np.unique(triangles, return_inverse=True)
    rows = index.reshape(-1, 3)
    if neighbours is not None and (_sides_of(rows)[2] != 2).any():
        kept = np.flatnonzero(~_back_to_back(rows))
        place = np.full(len(rows) + 1, -1)
        place[kept] = np.arange(len(kept))
        rows, neighbours = rows[kept], place[neighbours[kept]]
        corners = _grouped(*_same_corners(rows, _beside(rows, neighbours)), 3 * len(rows))
        first, index = np.unique(corners, return_inverse=True)
        used, rows = used[rows.ravel()[first]], index.reshape(-1, 3)
    return Body(vertices[used], rows, np.zeros(len(rows), dtype=bool))


def _sides_of(triangles: I64) -> tuple[I64, I64, I64]:
    """Of the sides of triangles (side k of triangle t is row k * m + t): the edge of each, the sides in the order of
    their edges, and how many sides each edge has."""
    t = triangles
    sides = np.sort(np.concatenate((t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]])), axis=1)
    _, edge, count = np.unique(sides, axis=0, return_inverse=True, return_counts=True)
    return edge.ravel(), np.argsort(edge.ravel(), kind="stable"), count


def _back_to_back(triangles: I64) -> NDArray[np.bool_]:
    """Triangles (m,) of which another one is the back."""
    first = np.take_along_axis(triangles, (triangles.argmin(axis=1)[:, None] + np.arange(3)) % 3, axis=1)
    fronts, backs = set(map(tuple, first.tolist())), first[:, [0, 2, 1]].tolist()
    return np.array([tuple(b) in fronts for b in backs], dtype=bool)


def _beside(triangles: I64, neighbours: I64) -> I64:
    """The triangle across each side (m, 3): the other one of an edge of two, else the one that is told."""
    edge, order, count = _sides_of(triangles)
    found = neighbours.copy()
    pairs = order[count[edge[order]] == 2].reshape(-1, 2)
    m = len(triangles)
    for one, other in ((pairs[:, 0], pairs[:, 1]), (pairs[:, 1], pairs[:, 0])):
        found[one % m, one // m] = other % m
    return found


def _same_corners(triangles: I64, neighbours: I64) -> tuple[I64, I64]:
    """Pairs of corners (three times the triangle, and which) that neighbours share."""
    one, other = [], []
    for side in range(3):
        t = np.flatnonzero(neighbours[:, side] >= 0)
        s = neighbours[t, side]
        for corner in (side, (side + 1) % 3):
            at = triangles[s] == triangles[t, corner][:, None]
            row, where = np.nonzero(at)
            one.append(3 * t[row] + corner)
            other.append(3 * s[row] + where)
    return np.concatenate(one), np.concatenate(other)


def _grouped(one: I64, other: I64, count: int) -> I64:
    """The lowest number (count,) that each number hangs together with by pairs."""
    label = np.arange(count)
    while True:
        lower = label.copy()
        np.minimum.at(lower, one, label[other])
        np.minimum.at(lower, other, label[one])
        lower = lower[lower]
        if (lower == label).all():
            return label
        label = lower


def separated(body: Body) -> list[Body]:
    """Parts of a body that touch along edges, boards say, each by itself where each is closed; else the body."""
    _, _, count = _sides_of(body.triangles)
    if (count == 2).all():
        return [body]
    shells = shells_of(body)
    return shells if all((_sides_of(s.triangles)[2] == 2).all() for s in shells) else [body]


def shells_of(body: Body) -> list[Body]:
    """The parts of a body that hang together by edges of exactly two triangles, each with vertices of its own."""
    t = body.triangles
    edge, order, count = _sides_of(t)
    one, other = (order[count[edge[order]] == 2] % len(t)).reshape(-1, 2).T
    label = _grouped(one, other, len(t))
    return [_tidy(body.vertices, t[label == k], body.cut[label == k], body.open) for k in np.unique(label)]


def joined_shells(shells: list[Body]) -> Body:
    """Several bodies as one, side by side."""
    starts = np.cumsum([0, *(len(s.vertices) for s in shells)])
    return Body(
        np.concatenate([s.vertices for s in shells]),
        np.concatenate([s.triangles + at for s, at in zip(shells, starts, strict=False)]),
        np.concatenate([s.cut for s in shells]),
        any(s.open for s in shells),
    )


def clipped(body: Body, point: F64, normal: F64) -> Body:
    """What of a body lies behind a plane, which its normal (a unit vector) looks away from; closed where it was cut. A
    vertex on the plane counts as before it, so that every crossed triangle has exactly two crossed edges."""
    if not len(body.triangles):
        return body
    height = (body.vertices - point) @ normal
    gone = height[body.triangles] >= 0
    count = gone.sum(axis=1)
    if (count == 0).all():
        return body
    kept, kept_cut = body.triangles[count == 0], body.cut[count == 0]
    crossed = (count == 1) | (count == 2)
    if not crossed.any():
        return _tidy(body.vertices, kept, kept_cut, body.open)
    triangles, cut, points, enter, leave = _split(body, height, crossed)
    vertices = np.concatenate((body.vertices, points))
    segments = np.column_stack((enter, leave))
    segments = segments[segments[:, 0] != segments[:, 1]]
    caps, closed = _caps(points, segments, normal)
    offset = len(body.vertices)
    every = np.concatenate((kept, triangles, caps + offset))
    marks = np.concatenate((kept_cut, cut, np.ones(len(caps), dtype=bool)))
    return _tidy(vertices, every, marks, body.open or not closed)


def _split(body: Body, height: F64, crossed: NDArray[np.bool_]) -> tuple[I64, NDArray[np.bool_], F64, I64, I64]:
    """What is left of crossed triangles; the crossings (k, 3), once each; and of each triangle the crossings where the
    cut enters and leaves it, seen along its turn."""
    rows = body.triangles[crossed]
    gone = height[rows] >= 0
    # turn each so that its first corner is the one that is alone on its side
    alone = np.where(gone.sum(axis=1) == 1, gone.argmax(axis=1), (~gone).argmax(axis=1))
    turned = np.take_along_axis(rows, (alone[:, None] + np.arange(3)) % 3, axis=1)
    first_gone = height[turned[:, 0]] >= 0
    pairs = np.sort(np.concatenate((turned[:, [0, 1]], turned[:, [0, 2]])), axis=1)
    edges, index = np.unique(pairs, axis=0, return_inverse=True)
    low, high = edges.T
    share = (height[low] / (height[low] - height[high]))[:, None]
    points = body.vertices[low] + share * (body.vertices[high] - body.vertices[low])
    _, first, welded = np.unique(
        np.rint(points / SAME).astype(np.int64), axis=0, return_index=True, return_inverse=True
    )
    points, index = points[first], welded.ravel()[index.ravel()]
    one, other = index[: len(turned)], index[len(turned) :]  # on the sides to the second and the third corner
    n = len(body.vertices)
    a, b, c = turned.T
    tips = np.column_stack((a, one + n, other + n))[~first_gone]
    quads = np.concatenate((np.column_stack((one + n, b, c)), np.column_stack((one + n, c, other + n))))
    quads = quads[np.concatenate((first_gone, first_gone))]
    cut = body.cut[crossed]
    marks = np.concatenate((cut[~first_gone], cut[first_gone], cut[first_gone]))
    # along the turn of what is left: a tip is left from `one` to `other`, the rest from `other` to `one`
    enter, leave = np.where(first_gone, other, one), np.where(first_gone, one, other)
    return np.concatenate((tips, quads)), marks, points, enter, leave


def _caps(points: F64, segments: I64, normal: F64) -> tuple[I64, bool]:
    """Triangles (k, 3) that close the cut along directed segments (n, 2), and whether all of it could be closed."""
    forth, back = np.unique(segments, axis=0).reshape(-1, 2), set(map(tuple, segments[:, ::-1].tolist()))
    once = np.array([s for s in forth.tolist() if tuple(s) not in back], dtype=np.int64).reshape(-1, 2)
    if not len(once):
        return np.zeros((0, 3), dtype=np.int64), True
    u = np.cross(normal, [1.0, 0, 0] if abs(normal[0]) < 0.9 else [0, 1.0, 0])
    u /= np.linalg.norm(u)
    v = np.cross(normal, u)
    found = np.zeros((0, 3), dtype=np.int64)
    for turn in TURNS:  # what touches itself is divided in one direction, and not in another
        along = np.cos(turn) * u + np.sin(turn) * v
        flat = points @ np.column_stack((along, np.cross(normal, along)))
        try:
            found = _triangles_in(flat, once)
        except shapely.GEOSException:
            continue
        if _closes(found, once):
            return found, True
    return found, False


def _triangles_in(flat: F64, segments: I64) -> I64:
    """Triangles (k, 3) of what directed segments enclose in the plane, counter-clockwise."""
    faces = shapely.get_parts(shapely.polygonize(shapely.linestrings(flat[segments])))
    where = {tuple(p): k for k, p in enumerate(flat.tolist())}
    around = [_winding(flat, segments, face.representative_point()) for face in faces.tolist()]
    triangles = [
        [where.get((x, y), -1) for x, y in shapely.get_coordinates(t)[:3].tolist()]
        for face, times in zip(faces.tolist(), around, strict=True)
        if times
        for t in shapely.get_parts(shapely.constrained_delaunay_triangles(face)).tolist()
    ]
    found = np.array(triangles, dtype=np.int64).reshape(-1, 3)
    found = found[(found >= 0).all(axis=1)]
    area = np.cross(flat[found[:, 1]] - flat[found[:, 0]], flat[found[:, 2]] - flat[found[:, 0]])
    found[area < 0] = found[area < 0][:, ::-1]
    return found


def _winding(flat: F64, segments: I64, at: shapely.Point) -> int:
    """How often the cut runs around a place."""
    a, b = flat[segments[:, 0]], flat[segments[:, 1]]
    up = (a[:, 1] <= at.y) & (b[:, 1] > at.y)
    down = (b[:, 1] <= at.y) & (a[:, 1] > at.y)
    rise = np.where(b[:, 1] == a[:, 1], 1.0, b[:, 1] - a[:, 1])
    x = a[:, 0] + (at.y - a[:, 1]) / rise * (b[:, 0] - a[:, 0])
    return int((up & (x > at.x)).sum()) - int((down & (x > at.x)).sum())


def _closes(caps: I64, segments: I64) -> bool:
    """Whether the border of the caps runs along all segments, the other way round."""
    sides = np.concatenate((caps[:, [0, 1]], caps[:, [1, 2]], caps[:, [2, 0]]))
    every = set(map(tuple, sides.tolist()))
    border = {s for s in every if (s[1], s[0]) not in every}
    return border == {(b, a) for a, b in segments.tolist()}


def _tidy(vertices: F64, triangles: I64, cut: NDArray[np.bool_], leaks: bool) -> Body:
    a, b, c = triangles.T if len(triangles) else np.zeros((3, 0), dtype=np.int64)
    real = (a != b) & (b != c) & (c != a)
    triangles, cut = triangles[real], cut[real]
    used, index = np.unique(triangles, return_inverse=True)
    return Body(vertices[used], index.reshape(-1, 3), cut, leaks)
