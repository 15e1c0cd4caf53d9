"""Markers of callouts: boundary, leader and bubble, placed clear of what is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.annotations.clear_places import Ink
from edge_slice.core.drawing.annotations.markers import GROUND, MarkerForm
from edge_slice.core.drawing.display import Box, Item, Label, Link, Paths, Pen, PlacedCallout, circle, paths_of, run_of
from edge_slice.core.drawing.spec import FREE, CalloutStyle
from edge_slice.core.drawing.strokes.dashes import stroked

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
MARGIN = 45.0  # mm beyond the drawing's frame in which bubbles may stand
SQUARE = 1.5  # mm; of the field in which a clear place is looked for
AIR = 2.0  # mm between a bubble and what it stands clear of
DISTANCES = (4.0, 7.0, 11.0, 16.0, 23.0, 32.0, 45.0)  # mm from the boundary to the edge of a bubble
DIRECTIONS = 32
ELBOW = 6.0  # mm that a leader with an elbow runs level
ON_LINES, IN_REGION, CROSSES, OVER_FACES = 1e3, 2e3, 40.0, 1.5  # what a place costs, in mm of leader
STEP = 2.0  # mm between the places that are tried where all near ones are taken
SAMPLES = 24  # along a leader
MOST_TRIED = 2000  # free places, the nearest ones


@dataclass(frozen=True)
class CalloutMark:
    """A callout as a drawing shows it: what its marker belongs to, the drawing it leads to, the texts of its bubble,
    and the ring (n, 2) of its region in the axes of the drawing, metres."""

    source: str
    target: int
    upper: str
    lower: str
    ring: tuple[tuple[float, float], ...]
    shape: Literal["rectangle", "polygon", "circle"] = "rectangle"
    style: CalloutStyle = FREE


class Paper(NamedTuple):
    """What markers keep clear of, in mm on paper: the drawing's frame, what is drawn, and the faces that are cut."""

    frame: Box
    drawn: list[Item]
    faces: Sequence[shapely.Polygon]


def placed_callouts(
    marks: Sequence[CalloutMark],
    regions: Sequence[F64],
    form: MarkerForm,
    corner: float,
    paper: Paper,
) -> list[PlacedCallout]:
    """Where the marker of each callout stands. A bubble that nobody put somewhere stands near its region where it
    meets no cut face, text or other bubble, if it can no line either, with a short leader that crosses no other one and
    as little as possible; the same drawing gives the same places. `regions` are their rings on paper."""
    if not marks:
        return []
    boundaries = [_boundary(mark, ring, corner) for mark, ring in zip(marks, regions, strict=True)]
    boxes: list[Box] = [shapely.Polygon(ring).bounds for ring in boundaries]
    field = _Field.of(paper.drawn, paper.faces, paper.frame)
    found: list[PlacedCallout | None] = [None] * len(marks)
    leaders: list[F64] = []
    order = sorted(range(len(marks)), key=lambda k: (marks[k].style.bubble is None, k))  # those put by hand first
    for k in order:
        ring, style = boundaries[k], marks[k].style
        middle = (ring.min(axis=0) + ring.max(axis=0)) / 2
        if style.bubble is not None:
            at = middle + np.array(style.bubble)
        else:
            others = [box for i, box in enumerate(boxes) if i != k]
            at = _clear_place(field, ring, middle, form.radius, leaders, others)
        leader = _leader(ring, at, form.radius, style.elbow)
        field.bubbles.append(at)
        if len(leader):
            leaders.append(leader)
        found[k] = PlacedCallout(marks[k].source, ring, leader, (float(at[0]), float(at[1])), form.radius)
    return [placed for placed in found if placed is not None]


def callout_items(
    marks: Sequence[CalloutMark], placed: Sequence[PlacedCallout], form: MarkerForm, pen: Pen, text_pen: Pen
) -> tuple[list[Item], list[Link]]:
    """The markers drawn: the boundary dashed with rounded corners (ISO 128-3), the bubble with number over sheet."""
    items: list[Item] = []
    links: list[Link] = []
    for mark, at in zip(marks, placed, strict=True):
        source = f"callout:{mark.source}"
        ring = np.concatenate((at.boundary, at.boundary[:1]))
        items += stroked("callout boundary", [run_of([ring])], pen, source)
        x, y = at.bubble
        r = at.radius
        if len(at.leader):
            items.append(paths_of("callout leader", [at.leader], text_pen, source=source))
        items.append(paths_of("callout bubble", [circle(x, y, r)], text_pen, GROUND, True, source))
        items.append(paths_of("callout bubble", [[(x - r, y), (x + r, y)]], text_pen, source=source))
        for text, said in zip(form.texts, (mark.upper, mark.lower), strict=True):
            items.append(Label(text.role, said, x, y + text.y, text.height, text_pen.colour, "centre", source=source))
        links.append(Link((x - r, y - r, x + r, y + r), f"drawing:{mark.target}"))
    return items, links


def _boundary(mark: CalloutMark, ring: F64, corner: float) -> F64:
    """The region on paper, its corners rounded."""
    if mark.shape == "circle" or corner <= 0:
        return ring
    polygon = shapely.Polygon(ring)
    left, base, right, top = polygon.bounds
    radius = min(corner, (right - left) / 4, (top - base) / 4)
    rounded = polygon.buffer(-radius).buffer(radius, quad_segs=6)
    if rounded.geom_type != "Polygon" or rounded.is_empty:
        return ring
    return np.asarray(rounded.exterior.coords)[:-1]


def _leader(ring: F64, at: F64, radius: float, elbow: bool) -> F64:
    """From the boundary to the edge of the bubble; none where the bubble meets the region."""
    polygon, point = shapely.Polygon(ring), shapely.Point(at)
    if polygon.distance(point) <= radius:
        return np.zeros((0, 2))
    target = at
    bend: list[F64] = []
    if elbow:
        side = -1.0 if at[0] > ring[:, 0].mean() else 1.0
        bend = [at + np.array([side * (radius + ELBOW), 0.0])]
        target = bend[0]
    start = np.asarray(shapely.shortest_line(polygon.exterior, shapely.Point(target)).coords)[0]
    before = bend[-1] if bend else start
    away = before - at
    end = at + away / max(float(np.hypot(*away)), 1e-9) * radius
    return np.array([start, *bend, end])


@dataclass
class _Field:
    """Squares of the paper around a drawing: which hold a cut face or a text (`solid`), the sums of these and of those
    that hold a line, the bubbles that stand already, and, once asked for, all places clear of what is solid."""

    ink: Ink
    solid: NDArray[np.bool_]
    solids: NDArray[np.int32]
    lines: NDArray[np.int32]
    bubbles: list[F64]
    free: F64 | None = None

    @staticmethod
    def of(drawn: list[Item], faces: Sequence[shapely.Polygon], frame: Box) -> _Field:
        left, base, right, top = frame
        wide = (left - MARGIN, base - MARGIN, right + MARGIN, top + MARGIN)
        known: list[Item] = [item for item in drawn if isinstance(item, Label)]
        lines: list[Item] = [i for i in drawn if isinstance(i, Paths) and i.role != "hatch"]  # these lie in faces
        ink = Ink.of(lines, wide, SQUARE)
        rings = [np.asarray(ring.coords) for face in faces for ring in (face.exterior, *face.interiors)]
        outlines = [paths_of("face", rings, Pen(SQUARE, GROUND))] if rings else []  # thin ones hold no square's middle
        solid = Ink.of([*known, *outlines], wide, SQUARE).with_shapes(list(faces))
        for item in drawn:
            if isinstance(item, Paths) and item.closed and item.fill == GROUND and len(item.points):
                solid.enter((*item.points.min(axis=0).tolist(), *item.points.max(axis=0).tolist()))
        return _Field(ink, solid.taken, _summed(solid.taken), _summed(ink.taken), [])

    def indices(self, points: F64) -> tuple[I64, I64]:
        """Row and column of points (n, 2), the nearest ones of those outside."""
        x = ((points[:, 0] - self.ink.frame[0]) / self.ink.size).astype(np.int64)
        y = ((points[:, 1] - self.ink.frame[1]) / self.ink.size).astype(np.int64)
        return np.clip(y, 0, self.solid.shape[0] - 1), np.clip(x, 0, self.solid.shape[1] - 1)

    def within(self, points: F64, reach: float) -> NDArray[np.bool_]:
        left, base, right, top = self.ink.frame
        low, high = points >= (left + reach, base + reach), points <= (right - reach, top - reach)
        return np.asarray((low & high).all(axis=1))


def _clear_place(field: _Field, ring: F64, middle: F64, radius: float, leaders: list[F64], others: list[Box]) -> F64:
    """The cheapest place of a bubble in rings about a region, better not in `others`; where all of these are taken, the
    nearest free one."""
    places = _candidates(ring, middle, radius)
    inside = field.within(places, radius)
    places = places[inside] if inside.any() else places
    solid = _taken(field, places, radius)
    if solid.all():
        places = np.concatenate((places, _anywhere(field, ring, radius)))
        solid = _taken(field, places, radius)
    low, high = ring.min(axis=0), ring.max(axis=0)
    starts = np.clip(places, low, high)  # about where a leader would begin: boxes do for comparing places
    cost = np.hypot(*(places - starts).T) - radius
    hard = solid | (cost < AIR)
    if not hard.all():  # nothing else that a place costs comes near standing on a face
        places, starts, cost = places[~hard], starts[~hard], cost[~hard]
    cost += ON_LINES * (_covered(field, field.lines, places, radius) > 0)
    for left, base, right, top in others:
        away = np.hypot(*(places - np.clip(places, (left, base), (right, top))).T)
        cost += IN_REGION * (away < radius + AIR)
    share = np.linspace(0.0, 1.0, SAMPLES)[1:-1, None, None]
    along = starts + share * (places - starts)  # (samples, places, 2)
    rows, columns = field.indices(along.reshape(-1, 2))
    cost += OVER_FACES * field.solid[rows, columns].reshape(SAMPLES - 2, -1).sum(axis=0)
    if leaders:
        lines = shapely.linestrings(np.stack((starts, places), axis=1))
        cost += CROSSES * shapely.intersects(lines, shapely.multilinestrings(leaders))
    return np.asarray(places[int(cost.argmin())])


def _anywhere(field: _Field, ring: F64, radius: float) -> F64:
    """The free place of a bubble that is nearest to a region (n, 2), none where there is none."""
    reach = radius + 2 * AIR
    if field.free is None:
        left, base, right, top = field.ink.frame
        u, v = np.meshgrid(np.arange(left + reach, right - reach, STEP), np.arange(base + reach, top - reach, STEP))
        places = np.column_stack((u.ravel(), v.ravel()))
        field.free = places[_covered(field, field.solids, places, radius) == 0]
    free = field.free[~_met(field, field.free, radius)]
    away = np.hypot(*(free - ring.mean(axis=0)).T)
    free = free[np.argsort(away, kind="stable")[:MOST_TRIED]]
    off = shapely.distance(shapely.Polygon(ring), shapely.points(free))
    free, off = free[off > reach], off[off > reach]
    return free[off.argsort(kind="stable")[:1]] if len(free) else np.zeros((0, 2))


def _candidates(ring: F64, middle: F64, radius: float) -> F64:
    """Middles of bubbles (n, 2) at several distances about the box around a region, up and to the right first."""
    turn = np.pi / 4 + 2 * np.pi * np.arange(DIRECTIONS) / DIRECTIONS
    way = np.column_stack((np.cos(turn), np.sin(turn)))
    half = (ring.max(axis=0) - ring.min(axis=0)) / 2
    found = [middle + way * (half + distance + radius) for distance in DISTANCES]
    square = [middle + _on_square(way) * (half + distance + radius) for distance in DISTANCES]
    return np.round(np.concatenate((*found, *square)), 3)


def _on_square(way: F64) -> F64:
    stretched: F64 = way / np.abs(way).max(axis=1, keepdims=True)
    return stretched


def _taken(field: _Field, places: F64, radius: float) -> NDArray[np.bool_]:
    """At which places (n, 2) a bubble would meet a cut face, a text or another bubble."""
    return (_covered(field, field.solids, places, radius) > 0) | _met(field, places, radius)


def _met(field: _Field, places: F64, radius: float) -> NDArray[np.bool_]:
    """At which places (n, 2) a bubble would meet another one."""
    found = np.zeros(len(places), dtype=bool)
    for other in field.bubbles:
        found |= np.hypot(*(places - other).T) < 2 * radius + AIR
    return found


def _summed(taken: NDArray[np.bool_]) -> NDArray[np.int32]:
    """Sums of all squares below and to the left (rows + 1, columns + 1)."""
    total = np.zeros((taken.shape[0] + 1, taken.shape[1] + 1), dtype=np.int32)
    np.cumsum(taken, axis=0, out=total[1:, 1:])
    np.cumsum(total[1:, 1:], axis=1, out=total[1:, 1:])
    return total


def _covered(field: _Field, total: NDArray[np.int32], places: F64, radius: float) -> NDArray[np.int32]:
    """How many squares, of which `total` are the sums, the box about each place (n, 2) covers."""
    reach = radius + AIR
    y0, x0 = field.indices(places - reach)
    y1, x1 = field.indices(places + reach)
    found: NDArray[np.int32] = total[y1 + 1, x1 + 1] - total[y0, x1 + 1] - total[y1 + 1, x0] + total[y0, x0]
    return found
