"""The display list: what is drawn, in paper millimetres, each item with role, pen and source. Renderers read it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Box = tuple[float, float, float, float]
Runs = tuple[F64, I64]  # points (n, 2) and where each path starts (k + 1)


@dataclass(frozen=True)
class Pen:
    """Width and dash lengths in mm, colour as #rrggbb. Ends and joins are round (ISO 128-2)."""

    width: float
    colour: str
    dash: tuple[float, ...] = ()


class PatternLine(NamedTuple):
    """Parallel lines: degrees, mm between them, mm across from the origin to the first, lengths of dashes and gaps. In
    every other line the dashes stand half a pattern further on."""

    angle: float
    spacing: float
    shift: float
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Pattern:
    """What strokes of a hatch come of: rings (as in `Paths`, even-odd) filled with lines fixed to `origin`, mm.
    For files that know hatches."""

    points: F64
    starts: I64
    lines: tuple[PatternLine, ...]
    origin: tuple[float, float] = (0.0, 0.0)

    def moved(self, dx: float, dy: float) -> Pattern:
        x, y = self.origin
        return replace(self, points=self.points + np.array([dx, dy]), origin=(x + dx, y + dy))


@dataclass(frozen=True)
class Paths:
    """Path k is points[starts[k]:starts[k + 1]] (n, 2) mm. `fill` fills all paths together, even-odd.
    `source` says what the paths stand for, e.g. "marker:12". Whoever moves the points takes the `pattern` along, or
    leaves it out: the paths are whole without it."""

    role: str
    points: F64
    starts: I64
    closed: bool
    pen: Pen | None = None
    fill: str | None = None
    source: str = ""
    pattern: Pattern | None = None


@dataclass(frozen=True)
class Label:
    """Text of a given height (of its capitals, ISO 3098) at a point; `y` is the base line."""

    role: str
    text: str
    x: float
    y: float
    height: float
    colour: str
    align: Literal["left", "centre", "right"] = "left"
    angle: float = 0.0
    source: str = ""


@dataclass(frozen=True)
class Image:
    """A picture, PNG or JPEG, in a box (left, base, right, top); `name` is the SHA-256 of its bytes. `fade`: how much
    of it is lost to the ground, 0 to 1."""

    role: str
    name: str
    box: Box
    fade: float = 0.0
    source: str = ""
    data: bytes = field(default=b"", repr=False)


Item = Paths | Label


@dataclass(frozen=True)
class Link:
    """A box that leads to a target, e.g. "drawing:12" or "sheet:3"."""

    box: Box
    target: str


@dataclass(frozen=True)
class PlacedCallout:
    """The marker of a callout on a drawing, mm on paper: `source` is what it belongs to ("drawing:12" or
    "reference:3"), `boundary` (n, 2) its ring, `leader` (k, 2) from the boundary to the bubble, empty where the bubble
    stands on it."""

    source: str
    boundary: F64
    leader: F64
    bubble: tuple[float, float]
    radius: float


@dataclass(frozen=True)
class TouchedUp:
    """What a touch-up did: `source` is "touch-up:3", `state` whether what it changed is still there, `ghost` the lines
    (n, 2) that it took away or changed, mm on paper."""

    source: str
    state: Literal["exact", "near", "lost"]
    ghost: tuple[F64, ...]
    finding: str = ""


@dataclass(frozen=True)
class DisplayList:
    """`frame` is the paper box (left, base, right, top) that the drawing takes up without annotations; `findings` say
    what should be on it and is not, and why; `callouts` are the markers of callouts, whether they are drawn or kept
    free."""

    items: tuple[Item, ...]
    frame: Box
    links: tuple[Link, ...] = field(default=())
    findings: tuple[str, ...] = field(default=())
    callouts: tuple[PlacedCallout, ...] = field(default=())
    images: tuple[Image, ...] = field(default=())
    touched: tuple[TouchedUp, ...] = field(default=())

    def moved(self, dx: float, dy: float) -> DisplayList:
        def shift(item: Item) -> Item:
            if isinstance(item, Paths):
                pattern = item.pattern.moved(dx, dy) if item.pattern is not None else None
                return replace(item, points=item.points + np.array([dx, dy]), pattern=pattern)
            return replace(item, x=item.x + dx, y=item.y + dy)

        def box(b: Box) -> Box:
            return (b[0] + dx, b[1] + dy, b[2] + dx, b[3] + dy)

        links = tuple(Link(box(k.box), k.target) for k in self.links)
        images = tuple(replace(i, box=box(i.box)) for i in self.images)
        return DisplayList(tuple(shift(i) for i in self.items), box(self.frame), links, self.findings, images=images)

    def scaled(self, factor: float) -> DisplayList:
        """All of it smaller or larger from the origin: pens, dashes and letters too. Patterns, which are of real size,
        are left out: their strokes are there."""

        def pen(p: Pen | None) -> Pen | None:
            return p and replace(p, width=p.width * factor, dash=tuple(d * factor for d in p.dash))

        def sized(item: Item) -> Item:
            if isinstance(item, Paths):
                return replace(item, points=item.points * factor, pen=pen(item.pen), pattern=None)
            return replace(item, x=item.x * factor, y=item.y * factor, height=item.height * factor)

        def box(b: Box) -> Box:
            return (b[0] * factor, b[1] * factor, b[2] * factor, b[3] * factor)

        links = tuple(Link(box(k.box), k.target) for k in self.links)
        images = tuple(replace(i, box=box(i.box)) for i in self.images)
        return DisplayList(tuple(sized(i) for i in self.items), box(self.frame), links, self.findings, images=images)


def paths_of(
    role: str,
    lines: list[F64] | list[list[tuple[float, float]]],
    pen: Pen | None = None,
    fill: str | None = None,
    closed: bool = False,
    source: str = "",
) -> Paths:
    """Paths from a list of point lists."""
    points, starts = run_of(lines)
    return Paths(role, points, starts, closed, pen, fill, source)


def starts_of(lengths: NDArray[np.int64]) -> NDArray[np.int64]:
    """Where runs of these lengths (n,) begin, and where the last one ends (n + 1,)."""
    starts = np.zeros(len(lengths) + 1, dtype=np.int64)
    np.cumsum(lengths, out=starts[1:])
    return starts


def run_of(lines: list[F64] | list[list[tuple[float, float]]]) -> Runs:
    """Points and starts from a list of point lists."""
    arrays = [np.asarray(line, dtype=np.float64).reshape(-1, 2) for line in lines]
    starts = starts_of(np.array([len(a) for a in arrays], dtype=np.int64))
    return (np.concatenate(arrays) if arrays else np.zeros((0, 2))), starts


def joined(
    role: str, runs: list[Runs], pen: Pen | None = None, fill: str | None = None, closed: bool = False, source: str = ""
) -> list[Paths]:
    """One item from several runs of paths; none when they are empty."""
    points, starts = together(runs)
    return [Paths(role, points, starts, closed, pen, fill, source)] if len(points) else []


def together(runs: list[Runs]) -> Runs:
    """Several runs of paths as one."""
    runs = [r for r in runs if len(r[0])]
    if not runs:
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    lengths = np.concatenate([np.diff(starts) for _, starts in runs])
    return np.concatenate([points for points, _ in runs]), starts_of(lengths)


def runs_of(geometries: object) -> Runs:
    """Points and starts of all line strings in shapely geometries, but for empty ones."""
    found = shapely.get_parts(geometries)
    found = found[(shapely.get_type_id(found) == shapely.GeometryType.LINESTRING) & ~shapely.is_empty(found)]
    points, index = shapely.get_coordinates(found, return_index=True)
    return points, np.searchsorted(index, np.arange(len(found) + 1)).astype(np.int64)


def circle(x: float, y: float, radius: float, parts: int = 48) -> list[tuple[float, float]]:
    a = np.linspace(0, 2 * np.pi, parts, endpoint=False)
    return [(float(x + radius * np.cos(t)), float(y + radius * np.sin(t))) for t in a]
