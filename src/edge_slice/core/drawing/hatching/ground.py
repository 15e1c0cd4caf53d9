"""Cut ground: a band under its surface and under what stands in it, and strokes that sit along the surface."""

from __future__ import annotations

from functools import partial
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.display import Runs
from edge_slice.core.drawing.hatching.clipping import clip_lines
from edge_slice.core.drawing.rules.hatch_rules import EdgeStrokes
from edge_slice.core.drawing.strokes.borders import on_frame
from edge_slice.core.remembered import Remembered, corners_of, marks_of

F64 = NDArray[np.float64]
Band = tuple[int, shapely.Polygon]  # element, its shown part in mm of the building
OVERHANG = 0.5  # sine of the angle by which a side may face downwards and still be a surface
CONTACT = 2.0  # mm of the building; ground this near to what stands in it has no earth line
STEEP, DEEP = 0.35, 300.0  # a side of a pit: how much it may slope, and its least height in mm
BACKFILL = 1000.0  # mm; narrower gaps between a pit and what stands in it are filled
NARROW = 0.5  # mm; gaps between faces that are no gaps
_touching: Remembered[shapely.Geometry] = Remembered("what ground touches", 200_000, lambda shape: corners_of([shape]))
SHARPEST = 2.0  # mitre limit; corners of the band's lower limit that are sharper than 60 degrees are cut off


def drawn_ground(
    pieces: list[Piece], built: list[shapely.Polygon], frame: shapely.Geometry, depth: float, rises: bool
) -> tuple[list[Band], list[F64]]:
    """Cut ground as it is drawn: a band `depth` mm thick under its surface, and the earth lines, with the ground at
    their right. It runs on under what stands in it (`built`), also where the ground itself has a hole for that or is a
    surface only. `frame` is what the drawing is cropped to; `rises`: up in the drawing leads upwards."""
    if not pieces:
        return [], []
    ground = shapely.union_all([p.polygon for p in pieces])
    reach = shapely.total_bounds([p.polygon for p in pieces])
    ends = (float(reach[0]), float(reach[2]))
    touching: shapely.Geometry = shapely.Polygon()
    if rises and built:
        near = _near(built, ground, depth)
        below = shapely.intersection(_under(ground, near), frame)
        ground = shapely.union(ground, below)
        touching = _touching.get(tuple(marks_of(near)), partial(_grown, near))
    bands: list[shapely.Polygon] = []
    lines: list[F64] = []
    for part in polygons_in(ground):
        band, surface = ground_band(part, frame, depth, rises, ends)
        bands += polygons_in(band)
        lines += [
            np.asarray(g.coords)
            for line in surface
            for g in shapely.get_parts(shapely.difference(shapely.LineString(line), touching))
            if g.geom_type == "LineString" and g.length > CONTACT
        ]
    return _by_element(bands, pieces), lines


def _grown(near: list[shapely.Polygon]) -> shapely.Geometry:
    return shapely.buffer(shapely.union_all(near), CONTACT, join_style="mitre")


def _near(built: list[shapely.Polygon], ground: shapely.Geometry, depth: float) -> list[shapely.Polygon]:
    """What stands in or on the ground, rather than high above it."""
    left, _, right, top = ground.bounds
    boxes = shapely.bounds(np.array(built))
    chosen = (boxes[:, 1] < top + depth) & (boxes[:, 2] > left) & (boxes[:, 0] < right)
    return [built[k] for k in np.flatnonzero(chosen)]


def _by_element(bands: list[shapely.Polygon], pieces: list[Piece]) -> list[Band]:
    """Each part of the band with the element of ground that it is of; what was filled in is of the largest one."""
    largest = max(pieces, key=lambda p: p.polygon.area)
    if len({p.element for p in pieces}) == 1:
        return [(largest.element, b) for b in bands]
    found: list[Band] = []
    others = shapely.union_all([p.polygon for p in pieces if p.element != largest.element])
    for band in bands:
        found += [(largest.element, q) for q in polygons_in(shapely.difference(band, others))]
        for p in pieces:
            if p.element != largest.element and p.polygon.intersects(band):
                found += [(p.element, q) for q in polygons_in(shapely.intersection(band, p.polygon))]
    return found


def _under(ground: shapely.Geometry, built: list[shapely.Polygon]) -> shapely.Geometry:
    """The ground that must be there besides what is cut: in holes and pits with a building in them, all that no part of
    the building lies under. Narrow gaps beside it are filled up to the surface, wide ones to its underside."""
    filled = []
    bottom = ground.bounds[1]
    for (a, top_a), (b, top_b), through in _hollows(ground):
        hollow = shapely.Polygon([(a, bottom), (a, top_a), (b, top_b), (b, bottom)])
        inside = shapely.intersection(np.array(built), shapely.make_valid(hollow))
        whole = _closed_up(shapely.union_all(inside))
        if whole.is_empty or whole.area < 1.0:
            continue
        earth = shapely.difference(shapely.difference(hollow, ground), _shadow(whole, max(top_a, top_b)))
        for left, right in _gaps(whole, a, b):
            if right - left > BACKFILL:
                level = _underside(whole, left, right) if through else bottom
                earth = shapely.difference(earth, shapely.box(left, level, right, max(top_a, top_b) + 1.0))
        filled += polygons_in(earth)
    return shapely.union_all(filled)


Corner = tuple[float, float]


def _hollows(ground: shapely.Geometry) -> list[tuple[Corner, Corner, bool]]:
    """Where the ground is open from above: the upper corners at the left and right of each hollow, and whether it goes
    all through."""
    spans = sorted(((p.bounds[0], p.bounds[2], p) for p in polygons_in(ground)), key=lambda span: span[:2])
    found: list[tuple[Corner, Corner, bool]] = []
    reach, last = -np.inf, None
    for left, right, polygon in spans:
        if last is not None and left > reach + NARROW:
            found.append(((reach, _top(last, reach)), (left, _top(polygon, left)), True))
        if right > reach:
            reach, last = right, polygon
    for _, _, polygon in spans:
        ring = np.asarray(shapely.orient_polygons(polygon, exterior_cw=True).exterior.coords)
        run, rise = np.diff(ring, axis=0).T
        steep = (np.abs(rise) >= DEEP) & (np.abs(run) <= STEEP * np.abs(rise))
        falls = [k for k in np.flatnonzero(steep & (rise < 0)).tolist()]
        climbs = [k for k in np.flatnonzero(steep & (rise > 0)).tolist()]
        for k in falls:
            at = ring[k + 1, 0]
            after = [c for c in climbs if ring[c, 0] > at]
            if not after:
                continue
            c = min(after, key=lambda c: ring[c, 0])
            if ring[c + 1, 1] > ring[k + 1, 1] and ring[k, 1] > ring[c, 1]:
                found.append(((float(at), float(ring[k, 1])), (float(ring[c, 0]), float(ring[c + 1, 1])), False))
    return found


def _top(polygon: shapely.Polygon, u: float) -> float:
    """The height of a polygon at one of its ends."""
    ring = np.asarray(polygon.exterior.coords)
    return float(ring[np.abs(ring[:, 0] - u) < NARROW, 1].max())


def _closed_up(shape: shapely.Geometry) -> shapely.Geometry:
    grown = shapely.buffer(shape, NARROW, join_style="mitre")
    return shapely.buffer(grown, -NARROW, join_style="mitre")


def _shadow(shape: shapely.Geometry, top: float) -> shapely.Geometry:
    """A shape and everything above it, up to `top`."""
    quads = []
    for polygon in polygons_in(shape):
        ring = np.asarray(polygon.exterior.coords)
        for (u0, v0), (u1, v1) in pairwise(ring.tolist()):
            if u0 != u1:
                high = max(top, v0, v1) + 1.0
                quads.append(shapely.Polygon([(u0, v0), (u1, v1), (u1, high), (u0, high)]))
    return shapely.union_all([shape, *quads])


def _gaps(shape: shapely.Geometry, a: float, b: float) -> list[tuple[float, float]]:
    """Where nothing of a shape stands between a and b."""
    spans = sorted((p.bounds[0], p.bounds[2]) for p in polygons_in(shape))
    gaps, at = [], a
    for left, right in spans:
        if left > at + NARROW:
            gaps.append((at, left))
        at = max(at, right)
    return gaps + ([(at, b)] if b > at + NARROW else [])


def _underside(shape: shapely.Geometry, left: float, right: float) -> float:
    """The lowest point of what stands beside a gap."""
    beside = [p.bounds[1] for p in polygons_in(shape) if abs(p.bounds[2] - left) < 1 or abs(p.bounds[0] - right) < 1]
    return float(min(beside, default=shape.bounds[1]))


def ground_band(
    polygon: shapely.Polygon, frame: shapely.Geometry, depth: float, rises: bool, ends: tuple[float, float]
) -> tuple[shapely.Geometry, list[F64]]:
    """Cut ground shows as a band `depth` mm thick under its surface. Returns the band and the surface lines, which
    have the ground at their right; neither follows `frame`, what the drawing is cropped to.

    Where up in the drawing leads upwards (`rises`) the surface is what faces up or sideways, except at the `ends`, the
    least and greatest u of all ground, where the model of it ends; on plan it is every edge.
    """
    surfaces = surface_of(polygon, frame, rises, ends)
    if not surfaces:
        return (polygon if not rises else shapely.Polygon()), []
    spines = [shapely.LineString(_led_on(line, ends, depth) if rises else line) for line in surfaces]
    around = shapely.buffer(
        shapely.MultiLineString(spines), depth, cap_style="flat", join_style="mitre", mitre_limit=SHARPEST
    )
    return shapely.intersection(polygon, around), surfaces


def surface_of(
    polygon: shapely.Polygon,
    frame: shapely.Geometry | None,
    rises: bool,
    ends: tuple[float, float] = (-np.inf, np.inf),
    overhang: float = OVERHANG,
) -> list[F64]:
    """The surface lines of ground, as in `ground_band`; `overhang`: sine of the angle by which a side may face
    downwards, below 0 by which it must face upwards."""
    polygon = shapely.orient_polygons(polygon, exterior_cw=True)
    rings = [np.asarray(ring.coords) for ring in (polygon.exterior, *polygon.interiors)]
    sides = np.concatenate([np.column_stack((p[:-1], p[1:])) for p in rings])
    surface = np.ones(len(sides), dtype=bool) if frame is None else ~on_frame(sides, frame)
    if rises:
        at_end = [(np.abs(sides[:, [0, 2]] - end) < 1).all(axis=1) for end in ends]
        across, along = (sides[:, 2:] - sides[:, :2]).T
        surface &= (across > -overhang * np.hypot(across, along)) & ~at_end[0] & ~at_end[1]
    if not surface.any():
        return []
    lines = shapely.linestrings(sides[surface].reshape(-1, 2, 2))
    merged = shapely.line_merge(shapely.multilinestrings([lines]), directed=True)[0]
    return [np.asarray(g.coords) for g in shapely.get_parts(merged)]


def _led_on(line: F64, ends: tuple[float, float], by: float) -> F64:
    """A surface that runs to an end of the ground, led on level beyond it, so that a band along it ends upright."""
    before = [line[0] - (by, 0.0)] if abs(line[0, 0] - ends[0]) < 1 else []
    after = [line[-1] + (by, 0.0)] if abs(line[-1, 0] - ends[1]) < 1 else []
    return np.array([*before, *line, *after])


def edge_strokes(surface: list[F64], bands: list[shapely.Polygon], rule: EdgeStrokes) -> Runs:
    """Strokes that hang from surface lines (paper mm, the ground at their right), cut to the bands."""
    if not surface or not bands:
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    strokes = [stroke for line in surface for stroke in _strokes(line, rule)]
    return clip_lines(strokes, bands)


def _strokes(line: F64, rule: EdgeStrokes) -> F64:
    """The strokes (k, 2, 2) along one line: groups in even steps, 45° to the line, leaning to and fro."""
    steps = np.hypot(*np.diff(line, axis=0).T)
    marks = np.r_[0.0, np.cumsum(steps)]
    groups = max(1, int(marks[-1] / rule.every))
    first = (marks[-1] - (groups - 1) * rule.every) / 2
    g, k = (a.ravel() for a in np.meshgrid(np.arange(groups), np.arange(rule.strokes), indexing="ij"))
    s = first + g * rule.every + (k - (rule.strokes - 1) / 2) * rule.apart
    on_line = (s >= 0) & (s <= marks[-1])
    s, lean = s[on_line], np.where(g[on_line] % 2 == 1, -1.0, 1.0)
    i = np.clip(np.searchsorted(marks, s, side="right") - 1, 0, len(steps) - 1)
    d = (line[i + 1] - line[i]) / np.maximum(steps[i], 1e-9)[:, None]
    start = line[i] + d * (s - marks[i])[:, None]
    into = np.column_stack((d[:, 1], -d[:, 0]))
    return np.stack((start, start + (into + lean[:, None] * d) * rule.length / np.sqrt(2)), axis=1)
