"""Lines, areas, symbols and pictures."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board, Grip, Sketch, Sketcher, Stand, spot_grip
from edge_slice.core.annotating.dimensions import circle_through
from edge_slice.core.annotating.documents import AnyAnnotation, Area, LineWork, Picture, Symbol
from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.display import Image, Item, Label, Pen, paths_of, run_of
from edge_slice.core.drawing.hatching.fills import hatches, rings_on_paper
from edge_slice.core.drawing.rules.standard import MaterialRule
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.drawing.texts.lettering import text_width

F64 = NDArray[np.float64]
STEP = 0.6  # mm on paper between the points of a curve
BULGE = 8.0  # mm on paper, width of the arcs of a revision mark
LETTER = 1.1  # of the height of letters in a line, left free at each side of them
MOST, FEW = 2000, 200  # parts of a curve; letters in a line, arcs of a side: somebody may draw it to the moon
GROUND = "#ffffff"
DRAWN = "drawn area"


def run_through(points: F64, form: str, closed: bool, step: float) -> F64:
    """The corners (n, 2) of a line through points, curves in steps of about `step`."""
    if form == "rectangle":
        (x0, y0), (x1, y1) = points
        return np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0)])
    if form == "arc":
        return _arc(points, step)
    if form == "cloud":
        return _cloud(points, step)
    if form == "spline" and len(points) > 2:
        return _smooth(points, closed, step)
    return np.concatenate((points, points[:1])) if closed else points


def _parts(wanted: float, least: int) -> int:
    """Into how many parts a curve is divided: as many as are wanted, within reason."""
    return int(min(MOST, max(least, math.ceil(wanted))))


def _arc(points: F64, step: float) -> F64:
    found = circle_through(points)
    if found is None:
        return points
    middle, radius = found
    a, b, c = (math.atan2(*(p - middle)[::-1]) for p in points)
    sweep = (c - a) % (2 * math.pi)
    if (b - a) % (2 * math.pi) > sweep:
        sweep -= 2 * math.pi
    turn = np.linspace(a, a + sweep, _parts(abs(sweep) * radius / step, 8))
    return np.asarray(middle + radius * np.column_stack((np.cos(turn), np.sin(turn))))


def _cloud(points: F64, step: float) -> F64:
    """Arcs around the box between two corners, all bulging outwards: the mark of a revision."""
    low, high = points.min(axis=0), points.max(axis=0)
    corners = np.array([low, (high[0], low[1]), high, (low[0], high[1]), low])
    found: list[F64] = []
    for a, b in pairwise(corners):
        far = float(np.hypot(*(b - a)))
        count = min(FEW, _parts(far / (BULGE * step / STEP), 1))
        d = (b - a) / max(far, 1e-9)
        out = np.array([d[1], -d[0]])
        turn = np.linspace(0, np.pi, 13)
        for k in range(count):
            middle, radius = a + (b - a) * (k + 0.5) / count, far / count / 2
            arc = middle - d * radius * np.cos(turn)[:, None] + out * radius * 0.6 * np.sin(turn)[:, None]
            found.append(arc)
    return np.concatenate(found)


def _smooth(points: F64, closed: bool, step: float) -> F64:
    """A centripetal curve through all points (Catmull and Rom, 1974; knots by Yuksel et al., 2011)."""
    p = (
        np.concatenate((points[-1:], points, points[:2]))
        if closed
        else np.concatenate((2 * points[:1] - points[1:2], points, 2 * points[-1:] - points[-2:-1]))
    )
    found = [points[:1]]
    for k in range(1, len(p) - 2):
        q = p[k - 1 : k + 3]
        gaps = np.sqrt(np.maximum(np.hypot(*np.diff(q, axis=0).T), 1e-9))
        t0, t1, t2, t3 = np.concatenate(([0.0], np.cumsum(gaps)))
        count = _parts(float(np.hypot(*(q[2] - q[1]))) / step, 2)
        t = np.linspace(t1, t2, count + 1)[1:, None]
        a1 = ((t1 - t) * q[0] + (t - t0) * q[1]) / (t1 - t0)
        a2 = ((t2 - t) * q[1] + (t - t1) * q[2]) / (t2 - t1)
        a3 = ((t3 - t) * q[2] + (t - t2) * q[3]) / (t3 - t2)
        b1 = ((t2 - t) * a1 + (t - t0) * a2) / (t2 - t0)
        b2 = ((t3 - t) * a2 + (t - t1) * a3) / (t3 - t1)
        found.append(((t2 - t) * b1 + (t - t1) * b2) / (t2 - t1))
    return np.concatenate(found)


def _on_paper(board: Board, stand: Stand, form: str, closed: bool) -> F64:
    run = run_through(stand.points, form, closed, STEP * board.scale)
    return np.asarray(board.on_paper(run))


def line(board: Board, document: LineWork, stand: Stand) -> Sketch:
    run = _on_paper(board, stand, document.form, document.closed)
    rule = board.rule.line_types.get(document.line_type)
    findings = []
    if rule is None:
        findings.append(f"The line type “{document.line_type}” is not in the drawing standard; it is drawn continuous.")
        rule = board.rule.line_types.get("continuous") or next(iter(board.rule.line_types.values()))
    pen = Pen(rule.width, rule.colour or board.standard.ink, tuple(d * rule.width for d in rule.dash))
    parts, letters = _with_letters(board, run, rule.letters, rule.spacing, pen.colour)
    role = "revision mark" if document.form == "cloud" else "drawn line"
    items: list[Item] = [*stroked(role, [run_of(parts)], pen), *letters]
    return Sketch(items, _point_grips(board, stand), findings)


def _with_letters(board: Board, run: F64, letters: str, spacing: float, ink: str) -> tuple[list[F64], list[Item]]:
    """A line with gaps for its letters, which stand evenly along it, turned with it."""
    path = shapely.LineString(run)
    if not letters or path.length < spacing * 0.6:
        return [run], []
    high = board.height("small")
    half = text_width(letters, high) / 2 + high * LETTER / 3
    count = min(FEW, max(1, round(path.length / spacing)))
    labels: list[Item] = []
    stops: list[float] = [0.0]
    for k in range(count):
        at = path.length * (k + 0.5) / count
        a, b, m = (path.interpolate(x) for x in (max(at - half, 0), min(at + half, path.length), at))
        turn = (math.degrees(math.atan2(b.y - a.y, b.x - a.x)) + 90.0) % 180.0 - 90.0
        drop = math.radians(turn)
        x, y = m.x + math.sin(drop) * high / 2, m.y - math.cos(drop) * high / 2
        labels.append(Label("line letter", letters, x, y, high, ink, "centre", turn))
        stops += [max(at - half, 0.0), min(at + half, path.length)]
    stops.append(path.length)
    parts = []
    for start, end in zip(stops[::2], stops[1::2], strict=True):
        if end - start > 1e-6:
            parts.append(np.asarray(shapely.ops.substring(path, start, end).coords))
    return parts, labels


def area(board: Board, document: Area, stand: Stand) -> Sketch:
    run = run_through(stand.points, document.form, True, STEP * board.scale)
    shape = shapely.Polygon(run)
    findings: list[str] = []
    if not shape.is_valid:
        shape = shapely.make_valid(shape)
        findings.append("The sides of this area cross each other.")
    parts = [p for p in shapely.get_parts(shape).tolist() if p.geom_type == "Polygon"]
    items: list[Item] = []
    if document.masks:
        items.append(paths_of("area mask", rings_on_paper(parts, board.scale), None, GROUND, True))
    if document.hatch not in board.standard.hatches:
        findings.append(f"The hatch “{document.hatch}” is not in the drawing standard; the area is left plain.")
    elif document.hatch != "none":
        strokes, coarse = _hatched(board, parts, document.hatch)
        items += strokes
        findings += coarse
    if document.outline:
        items.append(paths_of("area outline", rings_on_paper(parts, board.scale), board.pens["area"], None, True))
    moved = board.fold.items(items)
    return Sketch(moved, _point_grips(board, stand), findings)


def _hatched(board: Board, parts: list[shapely.Polygon], hatch: str) -> tuple[list[Item], list[str]]:
    rule = MaterialRule(hatch=hatch, tint=GROUND, strength=0.0)
    standard = board.standard.model_copy(update={"materials": {**board.standard.materials, DRAWN: rule}})
    pieces = [Piece(-1, DRAWN, -1, p, None) for p in parts]
    groups = np.zeros(len(pieces), dtype=np.int64)
    return hatches(pieces, groups, standard, board.pens["hatch"], board.scale, board.upright)


def symbol(board: Board, document: Symbol, stand: Stand) -> Sketch:
    at = board.paper(stand.points[0])
    form = board.rule.symbols.get(document.symbol)
    grips = [spot_grip("point 0", at)]
    if form is None:
        said = f"The symbol “{document.symbol}” is not in the drawing standard."
        x, y = at.tolist()
        words = Label("symbol", document.symbol, x, y, board.height("small"), board.standard.ink, "centre")
        return Sketch([words], grips, [said])
    turn = math.radians(document.angle) + (_north(board) if form.to_north else 0.0)
    mirror = np.array([-1.0 if document.mirrored else 1.0, 1.0]) * document.size
    c, s = math.cos(turn), math.sin(turn)

    def placed(points: tuple[tuple[float, float], ...]) -> F64:
        return np.asarray((np.array(points) * mirror) @ np.array([(c, s), (-s, c)]) + at)

    items: list[Item] = []
    for path in form.paths:
        pen = board.pens["symbol"]
        pen = Pen(path.width if path.width is not None else pen.width, pen.colour)
        fill = board.standard.ink if path.filled else None
        items.append(paths_of("symbol", [placed(path.points)], None if path.filled else pen, fill, path.closed))
    text = document.text or form.text
    if text and form.text_at is not None:
        x, y = placed((form.text_at,))[0].tolist()
        degrees = (math.degrees(turn) + 90.0) % 180.0 - 90.0 if not form.to_north else 0.0
        align = "centre" if form.to_north else "left"
        items.append(Label("symbol text", text, x, y, board.height("label"), board.standard.ink, align, degrees))  # type: ignore[arg-type]
    reach = max(abs(x) for path in form.paths for x, _ in path.points) * document.size
    grips.append(spot_grip("turn", at + np.array([c, s]) * (reach + 4.0)))
    return Sketch(items, grips, [])


def _north(board: Board) -> float:
    """By how much the drawing's up must be turned to point to true north, radians."""
    axes = board.result.axes
    x, y = board.model.north
    north = np.array([x, y, 0.0])
    return math.atan2(float(north @ axes.v), float(north @ axes.u)) - math.pi / 2


def picture(board: Board, document: Picture, stand: Stand) -> Sketch:
    a, b = (board.paper(p) for p in stand.points)
    low, high = np.minimum(a, b), np.maximum(a, b)
    box = (float(low[0]), float(low[1]), float(high[0]), float(high[1]))
    image = Image("picture", document.image, box, document.fade)
    return Sketch([], _point_grips(board, stand), [], images=(image,))


def _point_grips(board: Board, stand: Stand) -> list[Grip]:
    return [spot_grip(f"point {k}", board.paper(p)) for k, p in enumerate(stand.points)]


SKETCHES: dict[type[AnyAnnotation], Sketcher] = {LineWork: line, Area: area, Symbol: symbol, Picture: picture}
