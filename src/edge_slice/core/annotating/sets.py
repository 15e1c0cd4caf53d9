"""Automatic sets: annotations that a rule places, as anybody's, and renews without touching what somebody moved."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.documents import OF_FILE, AnyAnnotation, Dimension, LabelNote, LayerNote, Property
from edge_slice.core.annotating.heights_inside import heights_inside
from edge_slice.core.annotating.inside import inside_chains
from edge_slice.core.annotating.notes import NamedLayer, label_lines, layers_named
from edge_slice.core.annotating.outside import HEADS, Chains, outside_chains
from edge_slice.core.annotating.rooms_shown import rooms_shown
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.cut import PlanCut
from edge_slice.core.cut.anchors.anchor import Anchor, on_grid
from edge_slice.core.cut.anchors.anchoring import anchor_at, grid_anchor, level_anchor, point_anchor, room_anchor
from edge_slice.core.drawing.annotations.clear_places import Ink, faces_on_paper
from edge_slice.core.drawing.annotations.levels import fan_out
from edge_slice.core.drawing.display import Item, Label, Paths
from edge_slice.core.drawing.texts.lettering import box_of, text_width
from edge_slice.core.model import Space

F64 = NDArray[np.float64]
REACHES = (6.0, 12.0, 24.0, 48.0)  # mm on paper around what is named in which a clear place is looked for
ROOM_SAYS: tuple[Property, ...] = ("number", "name", "area")
OPENING_SAYS: tuple[Property, ...] = ("mark",)
OUT = 12.0  # mm on paper that dimensions of a set stand outside of the extents
OUT_STEP, OUT_TRIED = 4.0, 8  # mm further out, so many times
VALUE = (7.0, 4.5)  # mm that the value of a dimension takes about its middle
BESIDE_WALL = 9.0  # mm on paper of a chain from its wall
OVER = 8.0  # mm on paper over what lies flat that its note stands
COLUMN = 10.0  # mm on paper between the extents and a column of layer notes
# what columns of notes and chains of levels keep clear of at the edges of a drawing
BESIDE = ("level name", "level height", "dimension line", "callout bubble", "layer note", "note")
LEAST_LAYERS = 2
LEAST_FACE = 6.0  # mm on paper that a build-up must show to be noted


@dataclass(frozen=True)
class Proposed:
    """What a rule places, and what of it had no clear place."""

    annotations: tuple[AnyAnnotation, ...]
    findings: tuple[str, ...] = ()


@dataclass(frozen=True)
class Renewal:
    """What renewing a set does: rows by number."""

    changed: dict[int, AnyAnnotation]
    added: tuple[AnyAnnotation, ...]
    removed: tuple[int, ...]


def renewed(existing: Sequence[tuple[int, AnyAnnotation]], wanted: Sequence[AnyAnnotation]) -> Renewal:
    """How a set is brought up to date: what somebody changed stays as it is."""
    by_subject: dict[str, list[tuple[int, AnyAnnotation]]] = {}
    for number, document in existing:
        by_subject.setdefault(document.subject, []).append((number, document))
    changed: dict[int, AnyAnnotation] = {}
    added: list[AnyAnnotation] = []
    for document in wanted:
        rows = by_subject.get(document.subject)
        if not rows:
            added.append(document)
            continue
        number, before = rows.pop(0)
        if not before.by_hand and before != document:
            changed[number] = document
    left = [row for rows in by_subject.values() for row in rows]
    return Renewal(changed, tuple(added), tuple(number for number, document in left if not document.by_hand))


# --- labels -----------------------------------------------------------------------------------------------------------


def _labels(board: Board, rule: Rule, drawn: Sequence[Item], told: tuple[Property, ...]) -> Proposed:
    """Labels of rooms, doors or windows, which say what is told, else what they usually do; the nearest clear place to
    each, no text over another or over a cut face."""
    if rule == "rooms":
        wanted, says = [(s.guid, at) for s, at in _rooms(board)], told or ROOM_SAYS
    else:
        wanted, says = _openings(board, "door" if rule == "doors" else "window"), told or OPENING_SAYS
    left, base, right, top = board.frame
    ink = Ink.of(list(drawn), (left - OUT, base - OUT, right + OUT, top + OUT))
    ink = ink.with_shapes(faces_on_paper(board.result.faces, board.on_paper))
    found: list[AnyAnnotation] = []
    findings: list[str] = []
    for guid, at in wanted:
        anchor = _named_anchor(board, rule, guid, at)
        label = LabelNote(
            anchors=(anchor,), points=(anchor.at,), subject=guid, says=says, rule=rule,
            height="label" if rule == "rooms" else "small", framed=rule != "rooms",
        )  # fmt: skip
        lines = label_lines(board.model, board.lengths, label) or [""]
        height = board.height(label.height)
        wide = max(text_width(line, height) for line in lines) + 2.0
        high = height * (1.5 * (len(lines) - 1) + 1) + 2.0
        place = _clear(ink, board.paper(at), wide, high)
        if place is None:
            findings.append(f"{lines[0]} has no clear place for its label at this scale; it stands where it is.")
            place = board.paper(at)
        ink.enter((place[0] - wide / 2, place[1] - high / 2, place[0] + wide / 2, place[1] + high / 2))
        spot = _unfolded(board, at, place)
        found.append(label.model_copy(update={"points": (spot,)}))
    return Proposed(tuple(found), tuple(findings))


def _clear(ink: Ink, at: F64, wide: float, high: float) -> F64 | None:
    for reach in REACHES:
        area = shapely.box(at[0] - reach - wide, at[1] - reach - high, at[0] + reach + wide, at[1] + reach + high)
        place = ink.place(area, wide, high)
        if place is not None:
            return np.array(place)
    return None


def _unfolded(board: Board, at: F64, place: F64) -> tuple[float, float]:
    """A place on paper near `at` (mm of the drawing), in mm of the drawing."""
    u, v = (np.array(at) + (place - board.paper(at)) * board.scale).tolist()
    return round(u, 2), round(v, 2)


def _named_anchor(board: Board, rule: Rule, guid: str, at: F64) -> Anchor:
    u, v = at.tolist()
    if rule == "rooms":
        return room_anchor(board.features, guid, u, v)
    element = board.model.element_by_guid[guid]
    found = anchor_at(board.features, u, v, 5000.0, ("corner", "vertex"), element)
    return found if found.to != "point" else point_anchor(board.features, u, v)


def _rooms(board: Board) -> Iterator[tuple[Space, F64]]:
    """Rooms that a plan passes through and a place in each, mm of the drawing."""
    for space, shown in rooms_shown(board):
        middle = shown.representative_point()
        yield space, np.array([middle.x, middle.y])


def _openings(board: Board, kind: str) -> list[tuple[str, F64]]:
    """Doors or windows that a drawing shows, and the middle of what it shows of each, mm."""
    boxes: dict[int, list[F64]] = {}
    for k in board.features.cut_elements:
        if board.model.elements[k].kind == kind:
            boxes[k] = [np.array(f.polygon.bounds).reshape(2, 2) for f in board.features.faces(k)]
    if not isinstance(board.cut, PlanCut):
        lines = board.result.lines
        for k in np.unique(lines.element[lines.role == 0]).tolist():
            if board.model.elements[k].kind == kind:
                boxes.setdefault(k, []).append(lines.points[lines.element == k].reshape(-1, 2))
    found = []
    for k in sorted(boxes):
        points = np.concatenate(boxes[k])
        found.append((board.model.elements[k].guid, (points.min(axis=0) + points.max(axis=0)) / 2))
    return found


# --- layer notes ------------------------------------------------------------------------------------------------------


def layer_notes(board: Board, drawn: Sequence[Item], only: Literal["left", "right"] | None = None) -> Proposed:
    """A note for every build-up that is cut, once each, in a column at the left or right of the extents, whichever is
    nearer to it, or at the `only` side; in each column from the top down, apart."""
    window = shapely.box(*board.result.extents)
    best: dict[int, tuple[float, int, F64]] = {}  # by build-up: size on paper, element, a place in it
    for element in board.features.cut_elements:
        build_up = board.model.elements[element].build_up
        if build_up < 0 or len(board.model.build_ups[build_up].layers) < LEAST_LAYERS:
            continue
        faces = [f for f in board.features.faces(element) if f.layer >= 0]
        if not faces:
            continue
        face = max(faces, key=lambda f: f.polygon.area)
        shown = shapely.intersection(face.polygon, window)
        size = float(np.ptp(np.array(shown.bounds).reshape(2, 2), axis=0).max()) / board.scale if shown.area else 0.0
        if size >= LEAST_FACE and (build_up not in best or size > best[build_up][0]):
            middle = shown.representative_point()
            best[build_up] = size, element, np.array([middle.x, middle.y])
    left, _, right, _ = board.frame
    centre = (left + right) / 2
    columns: dict[str, list[tuple[float, int, F64, list[str]]]] = {"left": [], "right": []}
    for _, element, at in best.values():
        named = layers_named(board, element, at, thickness=True)
        if named is not None and len(named[0]) >= LEAST_LAYERS:
            side = only or ("left" if board.paper(at)[0] < centre else "right")
            columns[side].append((_beside(board, at, *named), element, at, [n.said for n in named[0]]))
    found: list[AnyAnnotation] = []
    height = board.height("label")
    spacing = height * board.rule.line_spacing
    edges = _edges(board, drawn)
    for column, rows in columns.items():
        rows.sort(key=lambda row: row[0])
        tall = max((len(r[3]) for r in rows), default=0) * spacing + height
        tops = fan_out([r[0] for r in rows], tall)
        x = edges[column]
        for (_, element, at, _), y in zip(rows, tops, strict=True):
            anchor = anchor_at(board.features, float(at[0]), float(at[1]), 1.0, ("inside",), element)
            if anchor.to != "inside":
                continue
            spot = _unfolded(board, at, np.array([x, y]))
            name = board.model.build_ups[board.model.elements[element].build_up].name
            found.append(
                LayerNote(anchors=(anchor,), points=(spot,), rule="layers", subject=name[:64],
                          align="right" if column == "left" else "left")
            )  # fmt: skip
    return Proposed(tuple(found))


def _beside(board: Board, at: F64, named: list[NamedLayer], normal: F64) -> float:
    """How high the first line of a note stands best (mm on paper): of a wall so that its lines are about the leader; of
    what lies flat over its uppermost layer, so that the leader leaves it upwards."""
    y = float(board.paper(at)[1])
    height = board.height("label")
    if abs(normal[1]) < 0.5:
        return y + len(named) * height * board.rule.line_spacing / 2
    tops = [board.paper(at + normal * (n.middle - at @ normal))[1] for n in named]
    return float(max(tops)) + OVER


def _edges(board: Board, drawn: Sequence[Item]) -> dict[str, float]:
    """Where columns of notes stand, clear of what stands at the edges already, such as levels."""
    left, _, right, _ = board.frame
    boxes = [box_of(i) for i in drawn if isinstance(i, Label) and i.role in BESIDE]
    boxes += [
        (*i.points.min(axis=0).tolist(), *i.points.max(axis=0).tolist())
        for i in drawn
        if isinstance(i, Paths) and i.role in BESIDE and len(i.points)
    ]
    lefts = [x0 for x0, _, x1, _ in boxes if x1 < left]
    rights = [x1 for x0, _, x1, _ in boxes if x0 > right]
    return {"left": min([left, *lefts]) - COLUMN, "right": max([right, *rights]) + COLUMN}


# --- dimensions -------------------------------------------------------------------------------------------------------


def _grid_chains(board: Board, drawn: Sequence[Item]) -> list[AnyAnnotation]:
    """Chains across the grid lines: of a plan under it and at its left, of an upright drawing under it; of a plan as
    far out as their values are clear of heads of markers."""
    left, base, right, top = (float(x) for x in board.result.extents)
    across: dict[str, list[tuple[float, str]]] = {"u": [], "v": []}
    for axis in board.model.grid:
        spot = on_grid(board.features, axis.name, (left + right) / 2, (base + top) / 2)
        if spot is None:
            continue  # runs along the cut
        if isinstance(board.cut, PlanCut):
            ends = board.result.axes.to_drawing(np.array([(*axis.start, 0.0), (*axis.end, 0.0)]))[:, :2]
            d = np.abs(ends[1] - ends[0])
            if min(d) > 0.02 * max(d):
                continue  # runs aslant
            which = "u" if d[1] > d[0] else "v"
        else:
            which = "u"
        at = spot[0] if which == "u" else spot[1]
        if (left <= at <= right) if which == "u" else (base <= at <= top):
            across[which].append((at, axis.name))
    found: list[AnyAnnotation] = []
    for which, named in across.items():
        if len(named) < 2:
            continue
        places = [(at, base) if which == "u" else (left, at) for at, _ in named]
        anchors = tuple(grid_anchor(board.features, n, *s) for (_, n), s in zip(named, places, strict=True))
        ends = np.sort([at for at, _ in named])
        values = [(at, base) if which == "u" else (left, at) for at in (ends[:-1] + ends[1:]) / 2]
        away = _clear_out(board, which == "u", np.array(values), drawn) if isinstance(board.cut, PlanCut) else OUT
        out = away * board.scale
        line = (named[0][0], base - out) if which == "u" else (left - out, named[0][0])
        found.append(
            Dimension(anchors=anchors, points=(line,), direction=0.0 if which == "u" else 90.0, rule="grid",
                      subject=f"grid {which}")
        )  # fmt: skip
    return found


def _clear_out(board: Board, along: bool, values: F64, drawn: Sequence[Item]) -> float:
    """How far out of the extents (mm on paper) a chain stands first where its values (n, 2), on the edge,
    meet no head of a marker and no text; as near as usual where there is no such place."""
    boxes = [box_of(i) for i in drawn if isinstance(i, Label)]
    boxes += [
        (*i.points.min(axis=0).tolist(), *i.points.max(axis=0).tolist())
        for i in drawn
        if isinstance(i, Paths) and i.role in HEADS and len(i.points)
    ]
    if not boxes:
        return OUT
    taken = shapely.STRtree(shapely.box(*np.array(boxes).T))
    places = np.array([board.paper(v) for v in values])
    for out in OUT + np.arange(OUT_TRIED) * OUT_STEP:
        x, y = (places - ((0.0, out) if along else (out, 0.0))).T
        side, over = VALUE  # half as wide as a value, and how high it stands over its line
        low, high = ((x - side, y - 1), (x + side, y + over)) if along else ((x - over, y - side), (x + 1, y + side))
        if not len(taken.query(shapely.box(*low, *high), predicate="intersects")[0]):
            return float(out)
    return OUT


def _level_chain(board: Board, drawn: Sequence[Item]) -> list[AnyAnnotation]:
    """A chain from level to level at the left of an upright drawing."""
    if not board.upright:
        return []
    left, base, _, top = (float(x) for x in board.result.extents)
    inside = [s for s in board.model.storeys if base <= s.elevation * 1000.0 <= top]
    if len(inside) < 2:
        return []
    anchors = tuple(level_anchor(board.features, s.guid, left) for s in inside)
    line = (_edges(board, drawn)["left"] * board.scale, anchors[0].at[1])
    return [Dimension(anchors=anchors, points=(line,), direction=90.0, rule="levels", subject="levels")]


def _opening_chain(board: Board, wall: str) -> list[AnyAnnotation]:
    """A chain along a wall of a plan: its ends and the sides of its openings."""
    element = board.model.element_by_guid.get(wall, -1)
    corners = board.features.corners(element) if element >= 0 else None
    if corners is None or len(corners.at) < 2:
        return []
    points = corners.at
    d = _run_of(points)
    sides = []
    for n in (np.array([-d[1], d[0]]), np.array([d[1], -d[0]])):
        face = points[np.abs(points @ n - (points @ n).max()) < 1.0]
        sides.append((float(np.ptp(face @ d)), n, face))
    _, n, outer = max(sides, key=lambda side: side[0])  # at a corner of the house the outer face is the longer one
    order = np.argsort(outer @ d)
    kept: list[F64] = []
    for k in order:
        if not kept or float((outer[k] - kept[-1]) @ d) > 1.0:
            kept.append(outer[k])
    if len(kept) < 2:
        return []
    anchors = tuple(anchor_at(board.features, float(p[0]), float(p[1]), 1.0, ("corner",), element) for p in kept)
    line = kept[0] + n * BESIDE_WALL * board.scale
    angle = float(np.degrees(np.arctan2(d[1], d[0])))
    return [
        Dimension(anchors=anchors, points=((round(float(line[0]), 2), round(float(line[1]), 2)),),
                  direction=round(angle, 6), rule="openings", subject=wall)
    ]  # fmt: skip


def _run_of(points: F64) -> F64:
    """The unit vector (2,) along the longer way of some points, to the right or up."""
    ring = np.asarray(shapely.minimum_rotated_rectangle(shapely.multipoints(points)).exterior.coords)
    sides = np.diff(ring[:3], axis=0)
    d = sides[int(np.hypot(sides[:, 0], sides[:, 1]).argmax())]
    d = d / max(float(np.hypot(*d)), 1e-9)
    return np.asarray(-d if d[0] < -1e-9 or (abs(d[0]) <= 1e-9 and d[1] < 0) else d)


def _of_plan(chains: Callable[[Board, Sequence[Item]], Chains], board: Board, drawn: Sequence[Item]) -> Proposed:
    """Chains of a plan; of another drawing, none."""
    if not isinstance(board.cut, PlanCut):
        return Proposed(())
    found = chains(board, drawn)
    return Proposed(tuple(found.dimensions), tuple(found.findings))


LABELS: tuple[Rule, ...] = ("rooms", "doors", "windows")
Place = Callable[[Board, Sequence[Item], str], Proposed]


# how each set but labels is placed: on a board, clear of what is drawn (paper), for a wall if it is one of a wall
PLACES: dict[Rule, Place] = {
    "grid": lambda board, drawn, _: Proposed(tuple(_grid_chains(board, drawn))),
    "outside": lambda board, drawn, _: _of_plan(outside_chains, board, drawn),
    "inside": lambda board, drawn, _: _of_plan(inside_chains, board, drawn),
    "levels": lambda board, drawn, _: Proposed(tuple(_level_chain(board, drawn))),
    "heights": lambda board, drawn, _: Proposed(tuple(heights_inside(board, drawn))),
    "layers": lambda board, drawn, _: layer_notes(board, drawn),
    "openings": lambda board, _, wall: Proposed(tuple(_opening_chain(board, wall))),
}


def proposed(
    board: Board, rule: Rule, drawn: Sequence[Item], subject: str = "", says: tuple[Property, ...] = ()
) -> Proposed:
    """The annotations of a rule on a drawing, clear of what is `drawn` (paper) and of one another; `subject` is the
    GlobalId of the wall that a set of one wall is for, `says` what labels say instead of what they usually do."""
    return _labels(board, rule, drawn, says) if rule in LABELS else PLACES[rule](board, drawn, subject)


def said_by(documents: Sequence[AnyAnnotation]) -> tuple[Property, ...]:
    """What the labels of a set say, as most of them do; nothing where there are none."""
    says = [document.says for document in documents if isinstance(document, LabelNote)]
    return max(says, key=says.count) if says else ()


def unsaid(board: Board, rule: Rule, says: Sequence[Property]) -> str | None:
    """The first property of the file that nothing has of what the labels of a rule are for."""
    if rule == "rooms":
        known = {name for space in board.model.spaces for name, _ in space.properties}
    else:
        kind = "door" if rule == "doors" else "window"
        known = {name for e in board.model.elements if e.kind == kind for name, _ in e.properties}
    asked = (one.removeprefix(OF_FILE) for one in says if one.startswith(OF_FILE))
    return next((name for name in asked if name not in known), None)
