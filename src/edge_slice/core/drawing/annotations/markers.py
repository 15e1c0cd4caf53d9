"""Markers of sections and elevations: the cutting line, and its heads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.drawing.annotations.head_room import HeadRoom
from edge_slice.core.drawing.display import Box, Item, Label, Link, Pen, circle, paths_of, run_of
from edge_slice.core.drawing.rules.hatch_rules import Data
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import PLAIN, MarkerHead, MarkerKind, MarkerStyle
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.drawing.texts.lettering import font_size

F64 = NDArray[np.float64]
Point = tuple[float, float]


Ends = tuple[float, float]
MOST_STEPS = 24  # half radii that a head steps back from others, and from what it would stand on
NEAR_STEPS = 12  # of these, for the sake of lines alone
MOST_PLACES = 100  # radii that a lone head moves along its plane
AIR = 1.3  # radii around a head that are clear
WEDGE = (1.1, 0.6)  # radii from the middle of a head to the middle of its wedge, and that one's clear half
HEAD_ROOM = 2.6  # radii between the middles of heads that are clear of each other
OPEN_REACH = 2.0  # overhangs of fine line that stay at each end of an open middle
GROUND = "#ffffff"  # what heads are filled with


class MarkerShape(Data):
    """A path of a marker's head, mm from its centre. One that turns has its points along the cutting line and towards
    the side looked at; another stays upright. A `clear` one covers what lies under it, without a line."""

    role: str
    points: tuple[Point, ...]
    closed: bool
    fill: Literal["pen", "ground", "clear", "none"]
    turns: bool


class MarkerText(Data):
    """A centred text of a head: its base line, mm over the centre, the height of its capitals and its font size."""

    role: str
    y: float
    height: float
    size: float


class MarkerForm(Data):
    """A section marker in mm on paper: the heads stand `overhang` beyond the ends of the cutting line; its ends and,
    for `corner` to either side, its corners are heavy; `dash` in widths of its pen. The forms of its heads, of which
    one is `usual`. Two texts: number and sheet."""

    radius: float
    overhang: float
    corner: float
    dash: tuple[float, ...]
    usual: MarkerHead
    heads: dict[MarkerHead, tuple[MarkerShape, ...]]
    texts: tuple[MarkerText, ...]


@dataclass(frozen=True)
class Marker:
    """A cut to be shown in another drawing: upper and lower text of its head, its line in the axes of that drawing
    (metres) and the side of it that is looked at; `steps`: which of its stretches cut nothing, none where not said."""

    drawing: int
    upper: str
    lower: str
    line: tuple[Point, ...]
    look: str
    kind: MarkerKind = "section"
    style: MarkerStyle = PLAIN
    steps: tuple[bool, ...] = ()


def placed_markers(
    markers: Sequence[Marker],
    scale: float,
    standard: DrawingStandard,
    pen: Pen,
    frame: Box,
    room: HeadRoom | None = None,
) -> tuple[list[Item], list[Link]]:
    """A section's cutting line with heavier ends and corners (ISO 128-40), and at its ends a head: number over sheet,
    wedge to the side looked at. Of an elevation the head alone, clear of other heads where there is room.

    A line that runs out of the drawing's `frame` ends there; one that lies outside is not shown. Where it runs out in a
    step, which cuts nothing, it has no head.
    """
    form = marker_form(standard)
    items: list[Item] = []
    links: list[Link] = []
    for marker, laid in zip(markers, laid_out(markers, scale, form, frame, room), strict=True):
        for piece in laid.pieces:
            items += _cutting_line(marker, form, piece, standard.marker.heavy, pen)
        for head in laid.heads:
            shapes, link = _head(marker, form, head, pen)
            items += shapes
            links.append(link)
    return items, links


@dataclass(frozen=True)
class Head:
    """Where a head stands, mm on the drawing's paper (2,), and the direction of its line (2,)."""

    centre: F64
    along: F64


@dataclass(frozen=True)
class LaidPiece:
    """A stretch of a cutting line that a drawing shows (n, 2), mm on paper; at which of its ends it may have a head,
    and how far that stands further out along it than usual."""

    line: F64
    ends: tuple[bool, bool]
    aside: Ends = (0.0, 0.0)


@dataclass(frozen=True)
class Laid:
    """Where a marker stands in a drawing: its line as far as it is shown (of sections alone), and its heads."""

    pieces: tuple[LaidPiece, ...]
    heads: tuple[Head, ...]


NOWHERE = Laid((), ())


def laid_out(
    markers: Sequence[Marker], scale: float, form: MarkerForm, frame: Box, room: HeadRoom | None = None
) -> list[Laid]:
    """Where each marker stands. Heads of sections stand at the ends of their lines, clear of one another and, where
    there is `room`, of what is drawn: each steps back from those before it, but for those that somebody moved, which
    stay where they were put. Heads of elevations stand at the middle of their planes, or near the edge of a drawing
    that does not reach them, moved along the plane until they are clear of all others and, where they can be, of what
    is drawn."""
    lines = [np.array(m.line) * 1000 / scale for m in markers]
    taken = np.zeros((0, 2))
    found = [NOWHERE] * len(markers)
    for k, marker in enumerate(markers):
        if marker.kind == "section":
            found[k] = _section_laid(marker, form, _within(lines[k], marker.steps, frame), taken, room)
            taken = np.array([*taken, *(head.centre for head in found[k].heads)]).reshape(-1, 2)
    for k, marker in enumerate(markers):
        if marker.kind != "section":
            head = _lone_head(marker.look, form, lines[k], frame, taken, room)
            found[k] = Laid((), (head,))
            taken = np.array([*taken, head.centre])
    return found


def _section_laid(marker: Marker, form: MarkerForm, pieces: list[LaidPiece], taken: F64, room: HeadRoom | None) -> Laid:
    heads: list[Head] = []
    laid: list[LaidPiece] = []
    for piece in pieces:
        points, aside = piece.line, [0.0, 0.0]
        ends = (("first", points[0], points[0] - points[1]), ("last", points[-1], points[-1] - points[-2]))
        for k, (name, at, out) in enumerate(ends):
            if marker.style.heads not in ("both", name) or not piece.ends[k]:
                continue
            away, shift = _unit(out), marker.style.shift[k]
            usual = at + away * (form.overhang + form.radius + shift)
            others = np.array([*taken, *(h.centre for h in heads)]).reshape(-1, 2) if heads else taken
            along = -away if k == 0 else away
            view = _looks(along, marker.look)
            aside[k] = 0.0 if shift else _step_back(usual, away, view, others, form.radius, room)
            heads.append(Head(usual + away * aside[k], along))
        laid.append(LaidPiece(points, piece.ends, (aside[0], aside[1])))
    return Laid(tuple(laid), tuple(heads))


def _step_back(usual: F64, away: F64, view: F64, taken: F64, radius: float, room: HeadRoom | None) -> float:
    """The least of a few steps along a line (2,) at which a head that looks to `view` (2,) is clear of those that stand
    already (n, 2), and of what is drawn: of all of it if that is not far, else of what is solid."""
    steps = np.arange(MOST_STEPS) * radius / 2
    places = usual + steps[:, None] * away
    found = _first_free(places, view, NEAR_STEPS, taken, radius, room)
    return 0.0 if found is None else float(steps[found])


def _first_free(places: F64, view: F64, near: int, taken: F64, radius: float, room: HeadRoom | None) -> int | None:
    """The first of places (n, 2) at which a head that looks to `view` (2,) is clear of other heads and of what is
    drawn; clear of lines, too, only among the first `near` of them. Where none is clear of what is drawn, the first
    that is clear of other heads."""
    apart = np.hypot(*(places[:, None] - taken).transpose(2, 0, 1))
    clear = (apart >= HEAD_ROOM * radius - 1e-9).all(axis=1)
    wanted = [clear]
    if room is not None:
        reach = AIR * radius
        open_ = clear & room.solid.free(places + view * WEDGE[0] * radius, WEDGE[1] * radius)
        wanted = [open_[:near] & room.all.free(places[:near], reach), open_ & room.solid.free(places, reach), clear]
    return next((int(k.argmax()) for k in wanted if k.any()), None)


def _looks(along: F64, look: str) -> F64:
    """The direction (2,) that a head on a line along `along` (2,) looks to."""
    return np.array([-along[1], along[0]]) * (1 if look == "left" else -1)


def _lone_head(look: str, form: MarkerForm, line: F64, frame: Box, others: F64, room: HeadRoom | None) -> Head:
    along = _unit(line[-1] - line[0])
    beyond = form.overhang + 2 * form.radius
    low, high = np.array(frame[:2]) - beyond, np.array(frame[2:]) + beyond
    middle = np.clip((line[0] + line[-1]) / 2, low, high)
    reach = min(int(np.hypot(*(line[-1] - line[0])) / 2 / form.radius), MOST_PLACES)
    steps = np.array(sorted(range(-reach, reach + 1), key=lambda n: (abs(n), n)))
    places = middle + (steps * form.radius)[:, None] * along
    found = _first_free(places, _looks(along, look), NEAR_STEPS, others, form.radius, room)
    return Head(middle if found is None else places[found], along)


def _within(line: F64, steps: Sequence[bool], frame: Box) -> list[LaidPiece]:
    """The stretches of a line that lie in a frame, from its first point on, and whether each end lies on a leg."""
    if (line >= frame[:2]).all() and (line <= frame[2:]).all():
        return [LaidPiece(line, (True, True))]
    found: list[list[F64]] = []
    legs: list[list[bool]] = []
    for k, (a, b) in enumerate(pairwise(line)):
        span = _clipped(a, b, frame)
        if span is None:
            continue
        start, end = (a + t * (b - a) for t in span)
        leg = not (steps and steps[k])
        if found and span[0] == 0.0 and np.allclose(found[-1][-1], start):
            found[-1].append(end)
            legs[-1].append(leg)
        else:
            found.append([start, end])
            legs.append([leg])
    return [LaidPiece(np.array(p), (on[0], on[-1])) for p, on in zip(found, legs, strict=True)]


def _clipped(a: F64, b: F64, frame: Box) -> tuple[float, float] | None:
    """Which shares of the way from a to b lie in a box (Liang and Barsky 1984), if more than a point does."""
    low, high = 0.0, 1.0
    for k in (0, 1):
        d, least, most = float(b[k] - a[k]), frame[k] - float(a[k]), frame[k + 2] - float(a[k])
        if d == 0.0:
            if least > 0 or most < 0:
                return None
            continue
        t0, t1 = sorted((least / d, most / d))
        low, high = max(low, t0), min(high, t1)
    return (low, high) if high - low > 1e-9 else None


def _unit(d: F64) -> F64:
    return d / max(float(np.hypot(*d)), 1e-9)


def _cutting_line(marker: Marker, form: MarkerForm, piece: LaidPiece, heavy: float, pen: Pen) -> list[Item]:
    source, points = f"marker:{marker.drawing}", piece.line
    ways = (_unit(points[0] - points[1]), _unit(points[-1] - points[-2]))
    tips = [points[0], points[-1]]
    strokes: list[list[Point]] = []
    for k, way in enumerate(ways):
        if piece.ends[k]:
            tips[k] = tips[k] + way * (form.overhang + marker.style.shift[k] + piece.aside[k])
            inner = tips[k] - way * form.overhang
            strokes.append([(float(inner[0]), float(inner[1])), (float(tips[k][0]), float(tips[k][1]))])
    strokes += [_corner(points[k - 1 : k + 2], form.corner) for k in range(1, len(points) - 1)]
    whole = np.array([tips[0], *points[1:-1], tips[1]])
    ends = [paths_of("cutting line end", strokes, Pen(heavy, pen.colour), source=source)] if strokes else []
    fine = _fine_parts(whole, marker.style, form)
    return [*stroked("cutting line", [run_of(fine)], pen, source), *ends]


def _fine_parts(whole: F64, style: MarkerStyle, form: MarkerForm) -> list[F64]:
    """The fine line: all of it, or what is left beside its ends and corners when the middle is left open."""
    if not style.open_middle:
        return [whole]
    parts = []
    for a, b in pairwise(whole):
        far = float(np.hypot(*(b - a)))
        reach = min(form.overhang * OPEN_REACH, far / 2)
        d = (b - a) / max(far, 1e-9)
        parts += [np.array([a, a + d * reach]), np.array([b - d * reach, b])]
    return parts


def _corner(points: F64, length: float) -> list[Point]:
    """The heavy part of a cutting line about one of its corners."""
    before, corner, after = points
    ends = []
    for p in (before, after):
        d = p - corner
        far = float(np.hypot(*d))
        ends.append(corner + d / max(far, 1e-9) * min(length, far / 2))
    return [(float(q[0]), float(q[1])) for q in (ends[0], corner, ends[1])]


def _head(marker: Marker, form: MarkerForm, head: Head, pen: Pen) -> tuple[list[Item], Link]:
    """One head of a marker, and the box that leads to its drawing."""
    centre, d = head.centre, head.along
    n = _looks(d, marker.look)
    source = f"marker:{marker.drawing}"
    fine = Pen(pen.width, pen.colour)
    fills = {"pen": pen.colour, "ground": GROUND, "clear": GROUND, "none": None}
    items: list[Item] = []
    for shape in form.heads[marker.style.head or form.usual]:
        points = np.array(shape.points)
        placed = centre + (points @ np.array([d, n]) if shape.turns else points)
        stroke = None if shape.fill in ("pen", "clear") else fine
        items.append(paths_of(shape.role, [placed], stroke, fills[shape.fill], shape.closed, source))
    for text, said in zip(form.texts, (marker.upper, marker.lower), strict=True):
        x, y = float(centre[0]), float(centre[1]) + text.y
        items.append(Label(text.role, said, x, y, text.height, pen.colour, "centre", source=source))
    x, y, r = float(centre[0]), float(centre[1]), form.radius
    return items, Link((x - r, y - r, x + r, y + r), f"drawing:{marker.drawing}")


def _heads(r: float) -> dict[MarkerHead, tuple[MarkerShape, ...]]:
    """The forms of heads of a radius, which all reach as far."""
    ring = tuple(circle(0.0, 0.0, r))
    wedge = MarkerShape(
        role="marker wedge", closed=True, fill="pen", turns=True,
        points=((0.0, r * 1.65), (r * 0.9, r * 0.42), (-r * 0.9, r * 0.42)),
    )  # fmt: skip
    tip = MarkerShape(
        role="marker wedge", closed=True, fill="pen", turns=True,
        points=((0.0, r * 1.65), (r * 0.26, r * 1.1), (-r * 0.26, r * 1.1)),
    )  # fmt: skip
    disc = MarkerShape(role="marker head", points=ring, closed=True, fill="ground", turns=False)
    cleared = MarkerShape(role="marker head", points=ring, closed=True, fill="clear", turns=False)
    bar = MarkerShape(role="marker head", points=((-r, 0.0), (r, 0.0)), closed=False, fill="none", turns=False)
    return {"wedge": (wedge, disc, bar), "arrow": (tip, disc, bar), "open": (tip, cleared, bar)}


def marker_form(standard: DrawingStandard) -> MarkerForm:
    """The parts of a marker by a standard: the one description that the drawing and the screen share."""
    rule, r = standard.marker, standard.marker.head_radius
    big, small = standard.text.label, standard.text.small
    return MarkerForm(
        radius=r,
        overhang=rule.overhang,
        corner=rule.overhang / 2,
        dash=standard.pens["marker"].dash,
        usual=rule.head,
        heads=_heads(r),
        texts=(
            MarkerText(role="marker number", y=r * 0.2, height=big, size=font_size(big)),
            MarkerText(role="marker sheet", y=-r * 0.2 - small, height=small, size=font_size(small)),
        ),
    )
