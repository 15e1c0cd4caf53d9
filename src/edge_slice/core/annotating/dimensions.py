"""Dimensions (ISO 129-1): chains and running ones, angles, radii, slopes, spot levels. Values are measured."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board, Grip, Sketch, Sketcher, Stand, spot_grip
from edge_slice.core.annotating.documents import (
    Angle,
    AnyAnnotation,
    Dimension,
    Radius,
    Said,
    Slope,
    SpotLevel,
    Witness,
)
from edge_slice.core.annotating.heights import surface_height
from edge_slice.core.annotating.lettered import Align, ending
from edge_slice.core.drawing.breaks.break_lines import GROUND
from edge_slice.core.drawing.breaks.cropping import without
from edge_slice.core.drawing.display import Item, Label, Pen, paths_of
from edge_slice.core.drawing.measures import height_text, length_text
from edge_slice.core.drawing.texts.lettering import box_of, text_width

F64 = NDArray[np.float64]
SAME = 0.05  # mm of the building; references nearer to each other are one
LEAST_FALL = 1e-6
MOST = 2000  # parts of an arc
TRIED = 12  # places at either side of the middle of a stretch


def _reading(d: F64) -> tuple[float, F64]:
    """The angle (degrees) at which a text along a direction (2,) reads from below or from the right, and what is up for
    it."""
    angle = math.degrees(math.atan2(d[1], d[0]))
    angle = (angle + 90.0) % 180.0 - 90.0
    if abs(angle + 90.0) < 1e-6:
        angle = 90.0
    turn = math.radians(angle)
    return angle, np.array([-math.sin(turn), math.cos(turn)])


def _text(board: Board, said: str, at: F64, angle: float, role: str = "dimension text") -> Label:
    return Label(role, said, float(at[0]), float(at[1]), board.height("small"), board.standard.ink, "centre", angle)


def dimension(board: Board, document: Dimension, stand: Stand) -> Sketch:
    d = document.way
    along = stand.spots @ d
    order = [int(k) for k in np.argsort(along, kind="stable")]
    kept = [order[0]]
    for k in order[1:]:
        if along[k] - along[kept[-1]] > SAME:
            kept.append(k)
    line = board.paper(stand.points[0])
    feet = {}
    for k in kept:
        p = board.paper(stand.spots[k])
        feet[k] = line + d * float((p - line) @ d)
    items: list[Item] = []
    grips = [spot_grip("point 0", line)]
    for index, k in enumerate(kept):
        witness = next((w for w in document.witness if w.index == k), None)
        items += _witness(board, board.paper(stand.spots[k]), feet[k], witness)
        grips.append(spot_grip(f"anchor {k}", board.paper(stand.spots[k])))
        items += _end(board, feet[k], d, index == 0, document.form)
    if len(kept) < 2:
        return Sketch(items, grips, ["The references of this dimension lie at one place now."])
    ends = [feet[k] for k in kept]
    items.append(paths_of("dimension line", [np.array([ends[0], ends[-1]])], board.pens["dimension"]))
    said = {s.index: s for s in document.said}
    if document.form == "running":
        texts, more = _running(board, ends, [float(along[k] - along[kept[0]]) for k in kept], d, said)
    else:
        texts, more = _chain(board, ends, [float(along[b] - along[a]) for a, b in pairwise(kept)], d, said)
    items = _outside_strips(board, items) + _break_signs(board, ends, d)
    return Sketch(items + texts, grips + more, [], any(s.typed for s in document.said))


def _witness(board: Board, feature: F64, foot: F64, changed: Witness | None) -> list[Item]:
    """The line from a feature to the dimension line, and a little beyond."""
    if changed is not None and not changed.shown:
        return []
    way = foot - feature
    far = float(np.hypot(*way))
    if far < 1e-6:
        return []
    out = way / far
    start = board.rule.gap + (changed.start if changed is not None else 0.0)
    if changed is not None and changed.length is not None:
        start = far - changed.length
    if start >= far:
        start = max(far - board.rule.over, 0.0)
    run = np.array([feature + out * start, foot + out * board.rule.over])
    return [paths_of("witness line", [run], board.pens["dimension"])]


def _end(board: Board, foot: F64, d: F64, first: bool, form: str) -> list[Item]:
    """What stands where the dimension line meets a witness line."""
    if form == "running":
        return ending(board, foot, d, "dot" if first else "arrow", "dimension")
    if board.rule.ends == "tick":
        up = np.array([-d[1], d[0]])
        reach = (d + up) / math.sqrt(2) * board.rule.tick / 2
        pen = board.pens["dimension"]
        heavy = type(pen)(pen.width * 2, pen.colour)
        return [paths_of("dimension end", [np.array([foot - reach, foot + reach])], heavy)]
    return ending(board, foot, d, board.rule.ends, "dimension")


def _chain(
    board: Board, feet: list[F64], values: list[float], d: F64, said: dict[int, Said]
) -> tuple[list[Item], list[Grip]]:
    """A value over each stretch; one that does not fit stands beside the chain's end, or over its neighbours."""
    angle, up = _reading(d)
    high, beside = board.height("small"), board.rule.beside
    items: list[Item] = []
    grips: list[Grip] = []
    raised = 0
    last = len(values) - 1
    for k, (value, (a, b)) in enumerate(zip(values, pairwise(feet), strict=True)):
        own = said.get(k)
        text = own.typed if own is not None and own.typed else length_text(value / 1000.0, board.lengths)
        middle, room = (a + b) / 2, float(np.hypot(*(b - a)))
        wide = text_width(text, high)
        at = middle + up * beside
        fits = wide <= room - 1.0
        if own is not None and own.moved is not None:
            at = at + np.array(own.moved)
            items.append(paths_of("dimension leader", [np.array([middle, at])], board.pens["dimension"]))
        elif (not fits and k in (0, last) and last > 0) or (not fits and last == 0):
            side = d if k == last else -d
            edge = b if k == last else a
            at = edge + side * (wide / 2 + board.rule.tick) + up * beside
            run = np.array([edge, edge + side * (wide + board.rule.tick)])
            items.append(paths_of("dimension line", [run], board.pens["dimension"]))
        elif not fits:
            raised += 1
            at = middle + up * (beside + high * 1.6 * (1 + raised % 2))
            items.append(paths_of("dimension leader", [np.array([middle, at - up * 0.4])], board.pens["dimension"]))
        written = _text(board, text, at, angle)
        if fits and (own is None or own.moved is None):
            written = _aside(board, written, b - a)
            at = np.array([written.x, written.y])
        items.append(written)
        grips.append(spot_grip(f"text {k}", at + up * high / 2))
        if own is not None and own.typed:
            wave = np.array([at - d * wide / 2 - up * 0.5, at + d * wide / 2 - up * 0.5])
            items.append(paths_of("typed value", [wave], board.pens["dimension"]))  # ISO 129-1: not to scale
        if own is not None and own.under:
            items.append(_text(board, own.under, middle - up * (beside + high), angle))
    return items, grips


def chain_values(board: Board, feet: list[F64], values: list[float], way: F64) -> list[Item]:
    """The values (mm) of a chain between feet (2,) on paper along a way (2,), and what leads to them."""
    return _chain(board, feet, values, way, {})[0]


def _running(
    board: Board, feet: list[F64], values: list[float], d: F64, said: dict[int, Said]
) -> tuple[list[Item], list[Grip]]:
    """Each distance from the first reference, written along its witness line."""
    _, up = _reading(d)
    across, _ = _reading(np.array([-d[1], d[0]]))
    high = board.height("small")
    items: list[Item] = []
    grips: list[Grip] = []
    before = -math.inf
    for k, (foot, value) in enumerate(zip(feet, values, strict=True)):
        own = said.get(k)
        text = own.typed if own is not None and own.typed else length_text(value / 1000.0, board.lengths)
        along = max(float(foot @ d), before + high * 1.3)
        before = along
        at = foot + d * (along - float(foot @ d)) + up * (board.rule.over + 0.6 + text_width(text, high) / 2)
        if own is not None and own.moved is not None:
            at = at + np.array(own.moved)
        turned = math.radians(across)
        drop = np.array([math.sin(turned), -math.cos(turned)]) * high / 2
        items.append(_text(board, text, at + drop, across))
        grips.append(spot_grip(f"text {k}", at))
    return items, grips


def _break_signs(board: Board, ends: list[F64], d: F64) -> list[Item]:
    """Where the drawing is torn apart within a stretch, its line is broken too: the value is the true one."""
    items: list[Item] = []
    n = np.array([-d[1], d[0]])
    for a, b in pairwise(ends):
        for m in board.torn(a, b):
            w, h = board.standard.breaks.width, board.standard.breaks.height
            sign = [m - d * w, m - d * w / 4 + n * h, m + d * w / 4 - n * h, m + d * w]
            mask = np.array([sign[0], sign[3]])
            items.append(paths_of("break mask", [mask], Pen(0.6, GROUND)))
            items.append(paths_of("dimension break", [np.array(sign)], board.pens["dimension"]))
    return items


def _outside_strips(board: Board, items: list[Item]) -> list[Item]:
    """Lines of a dimension stop at the strips that are laid into a plan."""
    if board.opening is None:
        return items
    bands = board.opening.bands
    return [kept for i in items for kept in ([i] if isinstance(i, Label) else without([i], bands))]


def _aside(board: Board, said: Label, way: F64) -> Label:
    """A value at the nearest place on its stretch (`way`, mm) that is clear of the strips in a plan; where it was if
    there is none."""
    if board.opening is None:
        return said
    bands = board.opening.bands
    for share in np.linspace(0.0, 0.5, TRIED).tolist():
        for off in (share * way, -share * way):
            there = replace(said, x=said.x + float(off[0]), y=said.y + float(off[1]))
            if not shapely.intersects(bands, shapely.box(*box_of(there))):
                return there
    return said


def angle(board: Board, document: Angle, stand: Stand) -> Sketch:
    v, a, b = (board.paper(s) for s in stand.spots)
    at = board.paper(stand.points[0])
    radius = max(float(np.hypot(*(at - v))), 1.0)
    ta, tb, to = (math.atan2(*(p - v)[::-1]) for p in (a, b, at))
    sweep = (tb - ta) % (2 * math.pi)
    start = ta
    if (to - ta) % (2 * math.pi) > sweep:
        start, sweep = tb, 2 * math.pi - sweep
    turn = np.linspace(start, start + sweep, int(min(MOST, max(8, sweep * radius / 0.8))))
    arc = v + radius * np.column_stack((np.cos(turn), np.sin(turn)))
    pen = board.pens["dimension"]
    items: list[Item] = [paths_of("dimension line", [arc], pen)]
    for p, t in ((a, ta), (b, tb)):
        out = np.array([math.cos(t), math.sin(t)])
        items += _witness(board, p, v + out * radius, None) if float(np.hypot(*(p - v))) < radius else []
    items += ending(board, arc[0], arc[0] - arc[1], "arrow", "dimension")
    items += ending(board, arc[-1], arc[-1] - arc[-2], "arrow", "dimension")
    true = stand.spots[1:] - stand.spots[0]
    t0, t1 = (math.atan2(y, x) for x, y in true.tolist())
    value = math.degrees((t1 - t0) % (2 * math.pi))
    value = 360.0 - value if start == tb and start != ta else value
    middle = arc[len(arc) // 2]
    tangent = np.array([-(middle - v)[1], (middle - v)[0]])
    said, up = _reading(tangent)
    items.append(_text(board, f"{value:.1f}°", middle + up * board.rule.beside, said))
    grips = [spot_grip("point 0", at), *(spot_grip(f"anchor {k}", p) for k, p in enumerate((v, a, b)))]
    return Sketch(items, grips, [])


def circle_through(points: F64) -> tuple[F64, float] | None:
    """Middle (2,) and radius of the circle through three points (3, 2); None where they lie on a line."""
    a, b, c = points
    m = np.array([b - a, c - a])
    if abs(float(np.linalg.det(m))) < 1e-9:
        return None
    middle = a + np.linalg.solve(m, (m * m).sum(axis=1) / 2)
    return middle, float(np.hypot(*(middle - a)))


def radius(board: Board, document: Radius, stand: Stand) -> Sketch:
    at = board.paper(stand.points[0])
    grips = [spot_grip("point 0", at), *(spot_grip(f"anchor {k}", board.paper(s)) for k, s in enumerate(stand.spots))]
    found = circle_through(stand.spots)
    if found is None:
        return Sketch([], grips, ["The references of this radius lie on a straight line now."])
    middle, size = found
    centre = board.paper(middle)
    way = at - centre
    d = way / max(float(np.hypot(*way)), 1e-9)
    rim = centre + d * size / board.scale
    inside = float(np.hypot(*way)) < size / board.scale
    run = np.array([centre if inside else at, rim])
    text, up = _reading(d)
    said = _text(board, f"R {length_text(size / 1000.0, board.lengths)}", at + up * board.rule.beside, text)
    line = paths_of("dimension line", [run], board.pens["dimension"])
    return Sketch([line, *ending(board, rim, rim - run[0], "arrow", "dimension"), said], grips, [])


def slope(board: Board, document: Slope, stand: Stand) -> Sketch:
    """The arrow points down the fall."""
    a, b = stand.spots
    rise = b[1] - a[1]
    run = abs(b[0] - a[0])
    down = b - a if rise < 0 else a - b
    if not board.upright:
        heights = [surface_height(board.features, *spot.tolist()) for spot in (a, b)]
        if None in heights:
            heights = [anchor.world[2] for anchor in stand.anchors]
        rise = (float(heights[1] or 0) - float(heights[0] or 0)) * 1000.0
        run = float(np.hypot(*(b - a)))
        down = b - a if rise < 0 else a - b
    fall = abs(rise) / max(run, LEAST_FALL)
    said = {
        "percent": f"{fall * 100:.1f} %",
        "ratio": f"1:{1 / fall:.1f}" if fall > LEAST_FALL else "level",
        "degrees": f"{math.degrees(math.atan(fall)):.1f}°",
    }[document.as_]
    at = board.paper(stand.points[0])
    d = down / max(float(np.hypot(*down)), 1e-9)
    text, up = _reading(d)
    half = (text_width(said, board.height("small")) / 2 + 2.0) * d
    items: list[Item] = [
        paths_of("dimension line", [np.array([at - half, at + half])], board.pens["dimension"]),
        *ending(board, at + half, half, "arrow", "dimension"),
        _text(board, said, at + up * board.rule.beside, text),
    ]
    grips = [spot_grip("point 0", at), *(spot_grip(f"anchor {k}", board.paper(s)) for k, s in enumerate(stand.spots))]
    return Sketch(items, grips, [])


def spot_level(board: Board, document: SpotLevel, stand: Stand) -> Sketch:
    """A mark whose tip stands on the level, and the height over the datum beside it."""
    tip, at = board.paper(stand.spots[0]), board.paper(stand.points[0])
    findings: list[str] = []
    if board.upright:
        z: float | None = float(stand.spots[0][1]) / 1000.0
    else:
        z = surface_height(board.features, *stand.spots[0].tolist())
    if z is None:
        findings.append("Nothing lies under this spot level; it has no height.")
    high = board.height(document.height)
    size = high * 0.75
    said = NO_HEIGHT if z is None else height_text(z, board.lengths)
    side = 1.0 if at[0] >= tip[0] else -1.0
    align: Align = "left" if side > 0 else "right"
    pen, ink = board.pens["dimension"], board.standard.ink
    mark = at + np.array([side * size, 0.0])
    items: list[Item] = []
    if board.upright:
        wide = text_width(said, high) + 2 * size + 1.0
        level = np.array([[at[0], tip[1]], [at[0] + side * wide, tip[1]]])
        mark = np.array([at[0] + side * size, tip[1]])
        if abs(float(at[0] - tip[0])) > 0.5:
            items.append(
                paths_of("witness line", [np.array([tip + np.array([side * board.rule.gap, 0]), level[0]])], pen)
            )
        items.append(paths_of("dimension line", [level], pen))
        base = tip[1] + size + 0.6
    else:
        level, upright = np.array([1.2, 0.0]), np.array([0.0, 1.2])
        cross = [np.array([tip - reach, tip + reach]) for reach in (level, upright)]
        items.append(paths_of("spot level", cross, pen))
        if float(np.hypot(*(at - tip))) > 3.0:
            items.append(paths_of("leader", [np.array([tip, at])], pen))
        base = at[1] - high / 2
    if board.upright:
        triangle = np.array([mark, mark + np.array([-size, size]), mark + np.array([size, size])])
        items.append(paths_of("spot level", [triangle], None, ink, True))
    x = float(mark[0] + side * (size + 0.8)) if board.upright else float(at[0] + side * 1.2)
    items.append(Label("spot level", said, x, float(base), high, ink, align))
    if document.upper:
        items.append(Label("spot level", document.upper, x, float(base + high * 1.5), high, ink, align))
    return Sketch(items, [spot_grip("point 0", at), spot_grip("anchor 0", tip)], findings)


NO_HEIGHT = "–"


SKETCHES: dict[type[AnyAnnotation], Sketcher] = {
    Dimension: dimension,
    Angle: angle,
    Radius: radius,
    Slope: slope,
    SpotLevel: spot_level,
}
