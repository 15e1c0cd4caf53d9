"""Patterns of materials in the plane of the face that shows them: true sizes, as seen."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.cut.surfaces.regions import FaceFrame, Region
from edge_slice.core.drawing.display import Pattern, PatternLine, Runs, run_of, together
from edge_slice.core.drawing.hatching.clipping import clip_runs, rings_of
from edge_slice.core.drawing.hatching.filling import pattern_line, pattern_strokes, placed_strokes, scatter_shapes
from edge_slice.core.drawing.rules.hatch_rules import Hatch, Tile
from edge_slice.core.drawing.spec import PatternStart
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
SQUARE = 1e-6  # a face is seen square where a step on it is one in the drawing, but for this
SMALL = 2.0  # repeats of a pattern; faces that are narrower show none of it
MOST_GREY = 0.3  # of the tint that stands for a pattern too fine to be drawn
DENSEST = 400_000  # strokes of one region; beyond it a pattern counts as too fine


@dataclass(frozen=True)
class PatternStrokes:
    """Strokes and closed small shapes in mm of the drawing; `grey`: how much ink stands for parts that would be finer
    on paper than they may be, a share of the pattern's pen. `hatch`: the parts of `even`, strokes too, that files which
    know hatches can say as one, on paper; None where the face is foreshortened. `crowded`: some stand as a tint since
    they would be too many."""

    lines: Runs
    shapes: Runs
    even: Runs
    hatch: Pattern | None
    grey: float
    crowded: bool

    @property
    def points(self) -> int:
        return len(self.lines[0]) + len(self.shapes[0]) + len(self.even[0])


@dataclass(frozen=True)
class FaceBox:
    """The box of a whole flat face on its own paper, mm: width, height, and its lower left corner."""

    wide: float
    high: float
    corner: tuple[float, float]


def face_boxes(model: Model, flats: set[int]) -> dict[int, FaceBox]:
    """The boxes of flat faces by their number."""
    mesh, of = model.mesh, model.flats.of
    order = np.argsort(of, kind="stable")
    starts = np.searchsorted(of[order], np.arange(len(model.flats.first) + 1))
    found = {}
    for flat in flats:
        frame = FaceFrame.of(model.flats.normal[flat], float(model.flats.offset[flat]))
        points = mesh.vertices[mesh.triangles[order[starts[flat] : starts[flat + 1]]]].reshape(-1, 3)
        on = (points - frame.origin) @ np.column_stack((frame.s, frame.t)) * 1000.0
        (left, low), (wide, high) = on.min(axis=0).tolist(), np.ptp(on, axis=0).tolist()
        found[flat] = FaceBox(wide, high, (left, low))
    return found


def started(region: Region, model: Model, start: PatternStart, box: FaceBox) -> Region:
    """A region whose paper counts from where patterns begin."""
    frame = region.frame
    if start.at == "corner":
        return replace(region, start=box.corner)
    place = np.array(start.place) if start.at == "place" else np.zeros(3)
    storey = model.elements[region.element].storey
    if start.at == "storey" and storey >= 0:
        place[2] = model.storeys[storey].elevation
    along = float((place - frame.origin) @ frame.s) if start.at == "place" else 0.0
    rise = float(frame.t[2])  # of a step up the slope; none on a level face, whose courses have no height
    up = place[2] / rise if rise > 0 else float((place - frame.origin) @ frame.t) * (start.at == "place")
    return replace(region, start=(along * 1000.0, float(up) * 1000.0))


def pattern_in(region: Region, hatch: Hatch, box: FaceBox, scale: float, pen: float) -> PatternStrokes:
    """A hatch in a region; box: that of its whole face; `pen`: its width, mm on paper. Sizes of model
    hatches are those of the building, others those of the paper."""
    size = (box.wide, box.high)
    spread = _spread(region)
    there = spread / scale
    paper = 1.0 / math.sqrt(max(_area(there), 1e-12))  # mm of the face for a mm on paper
    shapes = [p for p in polygons_in(shapely.transform(region.shape, region.to_face)) if p.is_valid]
    even: list[tuple[PatternLine, list[Runs]]] = []
    lines: list[Runs] = []
    small: list[Runs] = []
    grey, crowded = 0.0, False
    for family in hatch.families:
        factor = 1.0 if family.model else paper
        if min(size) < SMALL * family.spacing * factor:
            continue
        apart = family.spacing * factor * _across(there, family.angle)
        length = sum(p.area for p in shapes) / (family.spacing * factor)
        dashes = length / (sum(family.dash) * factor) if family.dash else 0.0
        crowded |= apart >= family.least and dashes > DENSEST
        if apart < family.least or dashes > DENSEST:
            inked = sum(family.dash[::2]) / sum(family.dash) if family.dash else 1.0
            grey += min(MOST_GREY, inked * pen / max(apart, pen))
            continue
        line = pattern_line(family, factor)
        even.append((line, [pattern_strokes(p, line) for p in shapes]))
    for tile in hatch.tiles:
        factor = 1.0 if tile.model else paper
        if min(size) < SMALL * tile.repeat * factor:
            continue
        rows, columns = _across(there, 0.0) * tile.height * factor, _across(there, 90.0) * tile.width * factor
        many = sum(p.area for p in shapes) > DENSEST * tile.width * tile.height * factor**2
        crowded |= min(rows, columns) >= tile.least and many
        if min(rows, columns) < tile.least or many:
            grey += min(MOST_GREY, pen * _ink(tile) * factor / max(tile.width * tile.height * factor**2, 1e-9))
            continue
        lines += [_tiled(p, tile, factor) for p in shapes]
    for rule in hatch.scatter:
        larger = rule.model_copy(update={"spacing": rule.spacing * paper, "size": rule.size * paper})
        small += [scatter_shapes(p, larger) for p in shapes]
    strokes = _drawn(region, [run for _, runs in even for run in runs])
    square = region.lens is None and float(np.abs(spread - np.eye(2)).max()) <= SQUARE
    said = _as_hatch(region, [line for line, _ in even], scale) if square and even else None
    return PatternStrokes(_drawn(region, lines), _drawn(region, small), strokes, said, min(grey, MOST_GREY), crowded)


def _as_hatch(region: Region, lines: list[PatternLine], scale: float) -> Pattern:
    """Lines on a face that is seen square, as they lie on the paper of the drawing."""
    points, starts = together([rings_of(p) for p in polygons_in(region.shape)])
    on_paper = tuple(
        PatternLine(one.angle, one.spacing / scale, one.shift / scale, tuple(d / scale for d in one.dash))
        for one in lines
    )
    u, v = region.to_drawing(np.zeros((1, 2)))[0].tolist()
    return Pattern(points / scale, starts, on_paper, (u / scale, v / scale))


def _spread(region: Region) -> F64:
    """How the paper of a face spreads over the drawing, under a lens in the middle of a region: (2, 2), of steps along
    s and t."""
    if region.lens is None:
        return np.stack((region.frame.s, region.frame.t)) @ np.column_stack((region.axes.u, region.axes.v))
    middle = shapely.centroid(region.shape)
    on = region.to_face(np.array([[middle.x, middle.y]]))
    ends = region.to_drawing(on + np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]]))
    found: F64 = np.stack((ends[1] - ends[0], ends[2] - ends[0]))
    return found


def _across(spread: F64, degrees: float) -> float:
    """How far apart lines at an angle are seen that lie 1 mm apart on their face."""
    a = math.radians(degrees)
    along = math.cos(a) * spread[0] + math.sin(a) * spread[1]
    return float(_area(spread) / max(float(np.hypot(*along)), 1e-12))


def _area(spread: F64) -> float:
    """How large 1 mm² of a face is seen."""
    return float(abs(spread[0, 0] * spread[1, 1] - spread[0, 1] * spread[1, 0]))


def _ink(tile: Tile) -> float:
    """The length of a tile's strokes, mm."""
    return sum(float(np.hypot(*np.diff(np.array(s), axis=0).T).sum()) for s in tile.strokes)


def _tiled(polygon: shapely.Polygon, tile: Tile, factor: float) -> Runs:
    """The strokes of a tile wherever it meets a polygon, cut to it."""
    x0, y0, x1, y1 = polygon.bounds
    runs: list[Runs] = []
    for placed in placed_strokes(polygon, tile, factor):
        low, high = placed.min(axis=1), placed.max(axis=1)
        near = (low[:, 0] <= x1) & (high[:, 0] >= x0) & (low[:, 1] <= y1) & (high[:, 1] >= y0)
        length = placed.shape[1]
        runs.append((placed[near].reshape(-1, 2), np.arange(0, length * int(near.sum()) + 1, length, dtype=np.int64)))
    strokes = together(runs)
    return clip_runs(strokes, [polygon]) if len(strokes[0]) else strokes


def _drawn(region: Region, runs: list[Runs]) -> Runs:
    """Runs on the paper of a face, as they are seen."""
    points, starts = together(runs)
    return (region.to_drawing(points), starts) if len(points) else run_of([])
