"""Figures fitted between the faces of a layer. Layers of one material that meet end to end or at a corner are one run:
the figure goes round the corner, squeezed on its inner side, as a batt does."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.display import Runs, together
from edge_slice.core.drawing.hatching.clipping import clip_lines, parallel_lines
from edge_slice.core.drawing.rules.hatch_rules import Fitted
from edge_slice.core.remembered import Remembered, marks_of

F64 = NDArray[np.float64]
FIT = 0.96  # of a layer's thickness that a figure across it spans: it stays clear of the faces
BIGHT, BIGHT_PARTS = 0.28, 14  # radius of a batt's bights as a share of its pitch, and points of one
THIN = 0.35  # mm on paper; in thinner layers a figure would be a smear
TOUCHING = 0.05  # mm on paper


MOST_KEPT = 1_000_000  # points of figures
_kept: Remembered[Runs] = Remembered("batts", MOST_KEPT, lambda runs: len(runs[0]) + 1)


@dataclass(frozen=True)
class Course:
    """One layer's piece on paper: its middle line from `a` to `b` and half its thickness."""

    polygon: shapely.Polygon
    a: F64
    b: F64
    half: float

    @property
    def along(self) -> F64:
        d: F64 = (self.b - self.a) / max(float(np.hypot(*(self.b - self.a))), 1e-9)
        return d


def course_of(polygon: shapely.Polygon, normal: tuple[float, float] | None, low: float, high: float) -> Course:
    """A layer's course from its strip (paper mm); without one, the longest side of the piece is taken as its run."""
    if normal is None:
        box = shapely.minimum_rotated_rectangle(polygon)
        ring = np.asarray((box if box.geom_type == "Polygon" else polygon).exterior.coords)[:4]
        sides = np.roll(ring, -1, axis=0) - ring
        lengths = np.hypot(sides[:, 0], sides[:, 1])
        d = sides[int(lengths.argmax())] / max(float(lengths.max()), 1e-9)
        n = np.array([-d[1], d[0]])
        across = ring @ n
        low, high = float(across.min()), float(across.max())
    else:
        n = np.array(normal)
        d = np.array([n[1], -n[0]])
    reach = np.asarray(polygon.exterior.coords) @ d
    middle = n * (low + high) / 2
    return Course(polygon, middle + d * reach.min(), middle + d * reach.max(), (high - low) / 2)


def fitted_lines(courses: list[Course], rule: Fitted) -> Runs:
    """The figure of a hatch in all courses of its material."""
    runs: list[Runs] = []
    if rule.figure in ("along", "grain", "plies"):
        runs = [_along(course, rule) for course in courses if course.half * 2 >= THIN]
    else:
        thick = [c for c in courses if c.half * 2 >= THIN]
        runs = [_across_kept(thick, chain, rule) for chain in _chains(thick)]
    return together(runs)


def _across_kept(courses: list[Course], chain: list[tuple[int, F64, F64]], rule: Fitted) -> Runs:
    marks = marks_of([courses[k].polygon for k, _, _ in chain])
    key = tuple((mark, courses[k].half, a.tobytes(), b.tobytes()) for mark, (k, a, b) in zip(marks, chain, strict=True))
    return _kept.get(key, lambda: _across(courses, chain, rule), rule)


def _along(course: Course, rule: Fitted) -> Runs:
    """Lines that follow a layer, a whole number of spacings between its faces."""
    d, thick = course.along, course.half * 2
    parts = int(thick / rule.spacing) + 1
    low = float(np.array([-d[1], d[0]]) @ course.a) - course.half
    spacing = thick / parts
    if rule.figure == "along":
        return parallel_lines(course.polygon, float(d[0]), float(d[1]), spacing, low)
    runs = []
    for k in range(parts):
        if rule.figure == "grain":  # uneven: each line wanders in its place, with pauses of its own
            at, dash = low + (k + 0.5 + 0.28 * math.sin(2.4 * k + 1.0)) * spacing, (6.0 + 4.0 * math.sin(k * 1.7), 0.5)
            runs.append(_one_line(course, d, at, dash))
        else:
            if k:
                runs.append(_one_line(course, d, low + k * spacing, ()))
            if k % 2:
                runs.append(_ticks(course, d, low + k * spacing, spacing))
    return together(runs)


def _one_line(course: Course, d: F64, at: float, dash: tuple[float, ...]) -> Runs:
    return parallel_lines(course.polygon, float(d[0]), float(d[1]), 1e6, at, dash)


def _ticks(course: Course, d: F64, low: float, high: float) -> Runs:
    """Short slanting strokes in one ply."""
    n = np.array([-d[1], d[0]])
    start, end = float(course.a @ d), float(course.b @ d)
    s = np.arange(math.floor(start / 1.6), math.ceil(end / 1.6) + 1) * 1.6
    strokes = [np.array([d * x + n * low, d * (x + high * 0.8) + n * (low + high)]) for x in s.tolist()]
    return clip_lines(strokes, [course.polygon])


# runs of courses round corners


@dataclass(frozen=True)
class _Joint:
    """Ends of two courses that meet: course and end (0 or 1) of both, and where."""

    ends: tuple[tuple[int, int], tuple[int, int]]
    at: F64
    cost: float


def _chains(courses: list[Course]) -> list[list[tuple[int, F64, F64]]]:
    """Courses in runs: each link is (course, where it begins, where it ends)."""
    joint_of: dict[tuple[int, int], _Joint] = {}
    for joint in sorted(_joints(courses), key=lambda j: (j.cost, j.ends)):
        if joint.ends[0] not in joint_of and joint.ends[1] not in joint_of:
            joint_of[joint.ends[0]] = joint_of[joint.ends[1]] = joint
    done: set[int] = set()
    chains = []
    loose_first = sorted(range(len(courses)), key=lambda k: ((k, 0) in joint_of and (k, 1) in joint_of, k))
    for first in loose_first:
        if first in done:
            continue
        chain, at, enter = [], first, 1 if (first, 1) not in joint_of and (first, 0) in joint_of else 0
        while at not in done:
            done.add(at)
            course, leave = courses[at], 1 - enter
            points = [course.a, course.b]
            ends = [joint_of[(at, e)].at if (at, e) in joint_of else points[e] for e in (enter, leave)]
            chain.append((at, ends[0], ends[1]))
            following = joint_of.get((at, leave))
            if following is None:
                break
            at, enter = following.ends[1] if following.ends[0] == (at, leave) else following.ends[0]
        chains.append(chain)
    return chains


def _joints(courses: list[Course]) -> list[_Joint]:
    if len(courses) < 2:
        return []
    shapes = np.array([c.polygon for c in courses])
    first, second = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=TOUCHING)
    found = []
    for i, j in zip(first[first < second].tolist(), second[first < second].tolist(), strict=True):
        joint = _joint(i, courses[i], j, courses[j])
        if joint is not None:
            found.append(joint)
    return found


def _joint(i: int, p: Course, j: int, q: Course) -> _Joint | None:
    """Where the middle lines of two courses meet near an end of both."""
    u, v = p.along, q.along
    turn = float(u[0] * v[1] - u[1] * v[0])
    reach = p.half + q.half + TOUCHING
    if abs(turn) > 0.2:
        t = float((q.a - p.a)[0] * v[1] - (q.a - p.a)[1] * v[0]) / turn
        at = p.a + u * t
    else:
        ends = [(float(np.hypot(*(x - y))), x, y) for x in (p.a, p.b) for y in (q.a, q.b)]
        gap, x, y = min(ends, key=lambda row: row[0])
        if gap > reach * 0.5:
            return None
        at = (x + y) / 2
    far = [[float(np.hypot(*(at - x))) for x in (c.a, c.b)] for c in (p, q)]
    e, f = int(np.argmin(far[0])), int(np.argmin(far[1]))
    cost = far[0][e] + far[1][f]
    if far[0][e] > reach or far[1][f] > reach:
        return None
    return _Joint(((i, e), (j, f)), at, cost)


def _across(courses: list[Course], chain: list[tuple[int, F64, F64]], rule: Fitted) -> Runs:
    """A figure from face to face along a run of courses, cut to them."""
    nodes = [chain[0][1], *(end for _, _, end in chain)]
    halves = [courses[k].half for k, _, _ in chain]
    s, left, right = _faces(nodes, halves)
    thick = 2 * float(np.mean(halves))
    figures = {"batt": _batt, "lattice": _lattice, "across": _joints_across, "members": _members}
    lines: list[F64] = figures[rule.figure](float(s[-1]), thick, rule)
    place = _placer(s, left, right)
    return clip_lines([place(line) for line in lines], [courses[k].polygon for k, _, _ in chain])


def _faces(nodes: list[F64], halves: list[float]) -> tuple[F64, F64, F64]:
    """Length along a run (n,), and its left and right face (n, 2): mitred at corners, and square again one thickness
    away from them."""
    marks: list[tuple[float, F64, F64]] = []
    length = 0.0
    for k, half in enumerate(halves):
        a, b = nodes[k], nodes[k + 1]
        size = max(float(np.hypot(*(b - a))), 1e-9)
        d = (b - a) / size
        n = np.array([-d[1], d[0]])
        for share, node, other in ((0.0, a, k - 1), (1.0, b, k + 1)):
            at = length + share * size
            corner = _mitre(nodes, halves, k, other) if 0 <= other < len(halves) else None
            if corner is None:
                marks.append((at, node + n * half, node - n * half))
                continue
            clear = min(half * 2.5, size / 2)
            inner = node + d * clear * (1 if share == 0 else -1)
            square = (at + clear * (1 if share == 0 else -1), inner + n * half, inner - n * half)
            marks += [(at, *corner), square] if share == 0 else [square, (at, *corner)]
        length += size
    s = np.array([m[0] for m in marks])
    return s, np.array([m[1] for m in marks]), np.array([m[2] for m in marks])


def _mitre(nodes: list[F64], halves: list[float], k: int, other: int) -> tuple[F64, F64] | None:
    """Where the faces of two neighbouring links meet; None where they run on straight."""
    first, second = min(k, other), max(k, other)
    node = nodes[second]
    u = (node - nodes[first]) / max(float(np.hypot(*(node - nodes[first]))), 1e-9)
    v = (nodes[second + 1] - node) / max(float(np.hypot(*(nodes[second + 1] - node))), 1e-9)
    turn = float(u[0] * v[1] - u[1] * v[0])
    if abs(turn) < 0.05:
        return None
    corners = []
    for side in (1.0, -1.0):
        p = node + side * halves[first] * np.array([-u[1], u[0]])
        q = node + side * halves[second] * np.array([-v[1], v[0]])
        t = float((q - p)[0] * v[1] - (q - p)[1] * v[0]) / turn
        corners.append(p + u * t)
    return corners[0], corners[1]


def _placer(s: F64, left: F64, right: F64) -> Callable[[F64], F64]:
    """From (length along, 0 right face to 1 left face) to the paper."""

    # runs on straight beyond both ends, by as much as a figure may begin before and end after
    more = np.r_[s[0] - 1e3, s, s[-1] + 1e3]

    def ahead(face: F64) -> F64:
        first, last = face[1] - face[0], face[-1] - face[-2]
        starts = face[0] - first * 1e3 / max(s[1] - s[0], 1e-9)
        ends = face[-1] + last * 1e3 / max(s[-1] - s[-2], 1e-9)
        longer: F64 = np.vstack((starts, face, ends))
        return longer

    longer_left, longer_right = ahead(left), ahead(right)

    def place(line: F64) -> F64:
        a = np.column_stack([np.interp(line[:, 0], more, longer_left[:, k]) for k in range(2)])
        b = np.column_stack([np.interp(line[:, 0], more, longer_right[:, k]) for k in range(2)])
        placed: F64 = b + line[:, 1:] * (a - b)
        return placed

    return place


def _waves(length: float, pitch: float) -> int:
    return max(1, round(length / pitch))


def _batt(length: float, thick: float, rule: Fitted) -> list[F64]:
    """Round bights at both faces, joined by straight lines that lean back, a whole number of them."""
    count = _waves(length, rule.pitch * thick)
    pitch = length / count
    high = thick * FIT
    r = min(BIGHT * pitch, 0.45 * high)
    lean = math.atan2(high - 2 * r, pitch / 2) + math.asin(min(1.0, 2 * r / math.hypot(pitch / 2, high - 2 * r)))
    turn = lean - math.pi / 2
    angles = np.linspace(math.pi - turn, 2 * math.pi + turn, BIGHT_PARTS)
    low = np.column_stack((r * np.cos(angles), r + r * np.sin(angles)))
    top = np.column_stack((pitch - low[:, 0], high - low[:, 1]))[::-1] - np.array([pitch / 2, 0.0])
    wave = np.concatenate((low, top))
    line = np.concatenate([wave + np.array([k * pitch, 0.0]) for k in range(-1, count + 1)])
    return [np.column_stack((line[:, 0], line[:, 1] / thick + (1 - FIT) / 2))]


def _lattice(length: float, thick: float, rule: Fitted) -> list[F64]:
    """Crossing slanting lines from face to face."""
    count = 2 * _waves(length, rule.pitch * thick * 2)
    k = np.arange(count + 1)
    up = np.where(k % 2 == 0, (1 - FIT) / 2, (1 + FIT) / 2)
    return [np.column_stack((k * length / count, up)), np.column_stack((k * length / count, 1 - up))]


def _joints_across(length: float, thick: float, rule: Fitted) -> list[F64]:
    """Joints square to the layer."""
    count = _waves(length, rule.spacing)
    return [np.array([(k * length / count, 0.0), (k * length / count, 1.0)]) for k in range(1, count)]


def _members(length: float, thick: float, rule: Fitted) -> list[F64]:
    """Rectangles from face to face, each crossed by a diagonal, as cut members are."""
    count = _waves(length, rule.spacing)
    starts = (np.arange(count) + 0.5) * length / count - rule.width / 2
    half = np.array([(0.0, 0.0), (0.0, 1.0), (1.0, 0.0), (1.0, 1.0)]) * np.array([rule.width, 1.0])
    return [half + np.array([start, 0.0]) for start in starts.tolist()]
