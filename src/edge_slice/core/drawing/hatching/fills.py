"""Fills and hatches of cut pieces, by the drawing's way of filling."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.display import Item, Pattern, PatternLine, Pen, Runs, joined, paths_of, together
from edge_slice.core.drawing.hatching.alternation import variants
from edge_slice.core.drawing.hatching.batts import Course, course_of, fitted_lines
from edge_slice.core.drawing.hatching.bounds import Covered, bounded
from edge_slice.core.drawing.hatching.clipping import rings_of
from edge_slice.core.drawing.hatching.filling import (
    pattern_line,
    pattern_strokes,
    ring_lines,
    scatter_shapes,
    tile_lines,
)
from edge_slice.core.drawing.hatching.ground import edge_strokes, surface_of
from edge_slice.core.drawing.rules.hatch_rules import Fitted, Hatch, LineFamily
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.remembered import Remembered, corners_of, marks_of

F64 = NDArray[np.float64]
ALONG = LineFamily(angle=90, spacing=3.0, dash=(4.0, 2.0))  # a layer seen along its faces
FACES_UP = 0.2  # sine of the angle from the vertical at which a side of a drawn shape is the surface of its ground


def rings_on_paper(polygons: list[shapely.Polygon], scale: float) -> list[F64]:
    return [np.asarray(r.coords)[:-1] / scale for p in polygons for r in (p.exterior, *p.interiors)]


def on_paper(polygon: shapely.Polygon, scale: float) -> shapely.Polygon:
    scaled: shapely.Polygon = shapely.transform(polygon, lambda p: p / scale)
    return scaled


def fills(pieces: list[Piece], standard: DrawingStandard, scale: float, one_tone: bool) -> list[Item]:
    """One fill by class, or one solid tone for everything."""
    groups: dict[str, list[shapely.Polygon]] = {}
    for piece in pieces:
        tint = standard.ink if one_tone else standard.materials[piece.kind].tint
        groups.setdefault(tint, []).append(piece.polygon)
    return [paths_of("cut fill", rings_on_paper(ps, scale), None, tint, True) for tint, ps in groups.items()]


def hatch_of(piece: Piece, standard: DrawingStandard) -> str:
    if piece.hatch in standard.hatches:
        return piece.hatch
    rule = standard.materials[piece.kind]
    return rule.hatch_across if piece.across and rule.hatch_across else rule.hatch


def hatches(
    pieces: list[Piece],
    groups: NDArray[np.int64],
    standard: DrawingStandard,
    pen: Pen,
    scale: float,
    upright: bool,
) -> tuple[list[Item], list[str]]:
    """The hatches of all pieces, and findings where one had to be drawn coarser; groups (p,): which pieces merge."""
    every = [hatch_of(p, standard) for p in pieces]
    hatched = np.array([bool(name) for name in every], dtype=bool)  # a class may have none
    pieces, groups = [p for p, name in zip(pieces, every, strict=True) if name], groups[hatched]
    names = [name for name in every if name]
    covered: dict[str, Covered] = {}
    for piece, name in zip(pieces, names, strict=True):
        covered[name] = covered.get(name, Covered(0.0)) + _covered(piece, scale)
    shown, findings = bounded(standard.hatches, covered, scale, upright)
    ways = variants(pieces, names, groups)
    ink = _Ink()
    courses: dict[str, list[Course]] = {}
    marks = marks_of([p.polygon for p in pieces])
    for piece, name, way, mark in zip(pieces, names, ways, marks, strict=True):
        hatch = shown[name]
        ink.add(_kept.get((mark, scale, upright, way), partial(_plain, piece, hatch, scale, upright, way), hatch))
        if hatch.fitted is not None and piece.along:
            ink.patterned.append(_field(on_paper(piece.polygon, scale)))
        elif hatch.fitted is not None:
            courses.setdefault(name, []).append(
                _courses.get((mark, scale, piece.strip), partial(_course, piece, scale))
            )
    for name, runs in courses.items():
        fitted = shown[name].fitted
        assert isinstance(fitted, Fitted)
        ink.lines.append(fitted_lines(runs, fitted.at(scale)))
    return ink.items(pen), findings


def _field(paper: shapely.Polygon) -> tuple[tuple[PatternLine, ...], Runs, Runs]:
    """What a figure between the faces of its layer becomes where the cut runs along the layer and shows no face."""
    line = pattern_line(ALONG)
    return (line,), pattern_strokes(paper, line), rings_of(paper)


def _covered(piece: Piece, scale: float) -> Covered:
    area = piece.polygon.area / scale**2
    if piece.strip is not None:
        thick = max((piece.strip.high - piece.strip.low) / scale, 1e-3)
        return Covered(area, area / thick, thick)
    long = shapely.length(piece.polygon) / scale / 2
    return Covered(area, long, max(area / max(long, 1e-9), 1e-3))


def _course(piece: Piece, scale: float) -> Course:
    s = piece.strip
    normal, low, high = (s.normal, s.low / scale, s.high / scale) if s else (None, 0.0, 0.0)
    return course_of(on_paper(piece.polygon, scale), normal, low, high)


class _Ink:
    """Strokes, filled shapes and outlined shapes as they are made; `patterned`: strokes of lines, with the rings that
    they fill."""

    def __init__(self) -> None:
        self.patterned: list[tuple[tuple[PatternLine, ...], Runs, Runs]] = []
        self.lines: list[Runs] = []
        self.dots: list[Runs] = []
        self.shapes: list[Runs] = []
        self.solid: list[F64] = []

    def add(self, other: _Ink) -> None:
        self.patterned += other.patterned
        self.lines += other.lines
        self.dots += other.dots
        self.shapes += other.shapes
        self.solid += other.solid

    @property
    def points(self) -> int:
        runs = (*self.lines, *self.dots, *self.shapes, *(drawn for _, drawn, _ in self.patterned))
        return sum(len(p) for p, _ in runs) + sum(len(p) for p in self.solid) + 1

    def items(self, pen: Pen) -> list[Item]:
        solid = [paths_of("hatch", self.solid, None, pen.colour, True)] if self.solid else []
        return [
            *solid,
            *self._pattern_items(pen),
            *joined("hatch", self.lines, pen),
            *joined("hatch", self.dots, None, pen.colour, True),
            *joined("hatch", self.shapes, pen, None, True),
        ]

    def _pattern_items(self, pen: Pen) -> list[Item]:
        """One item for each pattern, however many shapes it fills."""
        found: list[Item] = []
        for lines in dict.fromkeys(one for one, _, _ in self.patterned):
            mine = [(drawn, rings) for one, drawn, rings in self.patterned if one == lines]
            points, starts = together([rings for _, rings in mine])
            items = joined("hatch", [drawn for drawn, _ in mine], pen)
            found += [replace(item, pattern=Pattern(points, starts, lines)) for item in items]
        return found


MOST_KEPT = 2_000_000  # points of hatches, and of figures in layers
_kept: Remembered[_Ink] = Remembered("hatches", MOST_KEPT, lambda ink: ink.points)
_courses: Remembered[Course] = Remembered("courses of hatches", 1_000_000, lambda course: corners_of([course.polygon]))


def _plain(piece: Piece, hatch: Hatch, scale: float, upright: bool, way: int) -> _Ink:
    """The parts of a hatch that fill any shape."""
    ink = _Ink()
    _fill_shape(ink, on_paper(piece.polygon, scale), hatch, scale, upright, way)
    return ink


def _fill_shape(ink: _Ink, paper: shapely.Polygon, hatch: Hatch, scale: float, upright: bool, way: int) -> None:
    if hatch.solid:
        ink.solid += rings_on_paper([paper], 1.0)
    factors = [(family, family.factor(scale, upright)) for family in hatch.families]
    lines = tuple(pattern_line(family, factor, way) for family, factor in factors if factor)
    if lines:
        strokes = together([pattern_strokes(paper, line) for line in lines])
        ink.patterned.append((lines, strokes, rings_of(paper)))
    for tile in hatch.tiles:
        factor = tile.factor(scale, upright)
        if factor:
            ink.lines.append(tile_lines(paper, tile, factor, way))
    for rule in hatch.scatter:
        (ink.dots if rule.shape == "dot" else ink.shapes).append(scatter_shapes(paper, rule, way))
    if hatch.rings is not None:
        ink.lines.append(ring_lines(paper, hatch.rings, way))
    if hatch.edge is not None:  # of a shape that is no ground of the model all that faces up is surface
        ink.lines.append(edge_strokes(surface_of(paper, None, upright, overhang=-FACES_UP), [paper], hatch.edge))


def swatch(hatch: Hatch, shape: shapely.Polygon, strip: tuple[tuple[float, float], float, float] | None, pen: Pen,
           scale: float) -> list[Item]:  # fmt: skip
    """A hatch in one shape (paper mm), for previews; `strip` is the run of the layer: normal, low, high."""
    ink = _Ink()
    _fill_shape(ink, shape, hatch, scale, True, 0)
    if hatch.fitted is not None:
        normal, low, high = strip or (None, 0.0, 0.0)
        ink.lines.append(fitted_lines([course_of(shape, normal, low, high)], hatch.fitted.at(scale)))
    return ink.items(pen)
