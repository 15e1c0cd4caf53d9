"""Where an insulation or a membrane that goes round the building is interrupted in a cut.

A layer, or a body of its own, is followed along its band. Between two stretches of one band, and beyond the last one,
it is interrupted where something built stands in the band's wall and nothing of its class does. It goes round the
building where a room lies on one side of it and none on the other (a closed space, in a cut without rooms): what
lies between two rooms, or two storeys, is no concern; nor is a floor, on which inner walls stand.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.pieces import CutFace
from edge_slice.core.cut.placing.report import Passage, room_passages
from edge_slice.core.cut.result import CutResult
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Span = tuple[float, float]
BUILT = ("wall", "slab", "roof", "beam", "column", "member", "plate", "footing")
THERMAL = ("rigid insulation", "soft insulation")  # classes of which one may go on where another ends
TRIM = ("window", "door", "curtain wall", "covering")  # kinds that take a layer's place at openings
RUNS_ON = ("wall", "roof")  # kinds in whose line a layer is looked for beyond its end
LEAST = 20.0  # mm that are an interruption
JOINED = 5.0  # mm between bands, and between stretches, that are one
SLENDER = 2.0  # times longer than thick is a body of its own that has a direction
ABOUT = 300.0  # mm to both sides of a body of its own that are its wall
ASIDE = 60.0  # mm from a wall's face to where it is asked what lies there
ACROSS = 600.0  # mm of a floor, beyond a layer's end, behind which its wall is looked for
GOES_ON = 500.0  # mm of a wall that are worth a layer
UPRIGHT = 0.7  # of its height has the normal of what is rather a wall than a floor or a roof
SHORT = 1000.0  # mm; where more is missing, it is asked whether the building is there at all


@dataclass(frozen=True)
class Interruption:
    """`material`: the class of what is interrupted; `at`: right and up in the drawing, metres; over `length` metres;
    `by`: what stands in its place (GlobalIds), nothing where it is only missing; `of`: the elements that it runs in."""

    material: str
    at: tuple[float, float]
    length: float
    by: tuple[str, ...]
    of: tuple[str, ...]


@dataclass(frozen=True)
class _Stretch:
    """A piece of a band, all mm: across it from `low` to `high`, along it from `start` to `end`; `wall`: from where to
    where across it its element reaches."""

    normal: tuple[float, float]
    low: float
    high: float
    start: float
    end: float
    wall: Span
    element: int


def interruptions(
    model: Model, result: CutResult, classes: Sequence[str], wanted: Collection[str]
) -> list[Interruption]:
    """`classes`: of each material, and one more for an unknown one; `wanted`: those that must not be interrupted. Of a
    cut that is not upright, none."""
    if not result.upright or not result.faces:
        return []
    around = _Around(model, result, [classes[f.material] for f in result.faces])
    found = []
    for material in sorted(wanted):
        mine = [k for k, name in enumerate(around.classes) if name == material]
        stretches = [s for k in mine for s in _stretches(model, result.faces[k])]
        for band in _bands(stretches):
            found += _in_band(around, band, material, wanted)
    return found


class _Around:
    """What stands in a cut: its faces, what of them is built, and what lies within the building."""

    def __init__(self, model: Model, result: CutResult, classes: list[str]) -> None:
        self.model, self.faces, self.classes = model, result.faces, classes
        self.shapes = np.array([f.polygon for f in result.faces], dtype=object)
        kinds = [model.elements[f.element].kind for f in result.faces]
        self.built = np.array([kind in BUILT for kind in kinds], dtype=bool)
        self.trim = np.array([kind in TRIM for kind in kinds], dtype=bool)
        self.runs_on = np.array([kind in RUNS_ON for kind in kinds], dtype=bool)
        self.inside = _inside(model, result, self.shapes)
        shapely.prepare(self.inside)
        ground = np.array([kind == "ground" for kind in kinds], dtype=bool)
        self.ground = shapely.union_all(self.shapes[ground])

    def of_classes(self, wanted: Collection[str]) -> NDArray[np.bool_]:
        return np.array([name in wanted for name in self.classes], dtype=bool)

    def spans(self, box: shapely.Polygon, frame: F64, which: NDArray[np.bool_]) -> list[Span]:
        """From where to where along a band some faces stand in a box, mm. `frame` (2, 2): along and across it."""
        parts = shapely.intersection(self.shapes[which], box)
        parts = shapely.get_parts(parts[~shapely.is_empty(parts)])
        parts = parts[shapely.area(parts) > 1.0]
        return _joined([_extent(shapely.get_coordinates(p) @ frame[0]) for p in parts])

    def goes_round(self, at: float, wall: Span, frame: F64) -> int:
        """Whether the building ends here: 1, or -1, by the side on which it lies; 0 where it lies on both, or none."""
        low, high = (
            bool(shapely.intersects_xy(self.inside, *(np.array([at, w]) @ frame)))
            for w in (wall[0] - ASIDE, wall[1] + ASIDE)
        )
        return int(high) - int(low)


def _inside(model: Model, result: CutResult, shapes: NDArray[np.object_]) -> shapely.Geometry:
    """Rooms, mm; where none is cut, what is closed all round."""
    rooms = [_box(p) for p in room_passages(model, result)]
    if rooms:
        return shapely.union_all(rooms)
    closed = shapely.union_all(shapely.buffer(shapes, JOINED, quad_segs=1, join_style="mitre"))
    holes = [shapely.Polygon(ring) for part in shapely.get_parts(closed) for ring in part.interiors]
    return shapely.union_all(holes)


def _box(room: Passage) -> shapely.Polygon:
    return shapely.box(*(x * 1000.0 for x in (room.start, room.base, room.end, room.top)))


def _stretches(model: Model, face: CutFace) -> list[_Stretch]:
    """The stretches of a face along the middle of its band: none of one that has no direction."""
    across = _across(face)
    if across is None:
        return []
    normal, low, high = across
    wall = (low - ABOUT, high + ABOUT)
    element = model.elements[face.element]
    if face.layer >= 0 and element.build_up >= 0:
        thick = [layer.thickness * 1000.0 for layer in model.build_ups[element.build_up].layers]
        before, after = sum(thick[: face.layer]), sum(thick[face.layer + 1 :])
        turned = face.strip is not None and float(np.dot(normal, face.strip.normal)) < 0
        before, after = (after, before) if turned else (before, after)
        wall = (low - before, high + after)
    along = np.array([-normal[1], normal[0]])
    ts = shapely.get_coordinates(face.polygon) @ along
    middle = (low + high) / 2 * normal
    line = shapely.LineString([middle + along * (ts.min() - 1.0), middle + along * (ts.max() + 1.0)])
    pieces = shapely.get_parts(shapely.intersection(face.polygon, line))
    spans = [_extent(shapely.get_coordinates(p) @ along) for p in pieces[~shapely.is_empty(pieces)]]
    at = (float(normal[0]), float(normal[1]))
    return [_Stretch(at, low, high, start, end, wall, face.element) for start, end in spans if end - start > LEAST]


def _across(face: CutFace) -> tuple[F64, float, float] | None:
    """The direction across a face's band, and from where to where it lies along that, mm."""
    if face.strip is not None:
        normal, low, high = np.array(face.strip.normal), face.strip.low, face.strip.high
    else:
        corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(face.polygon))
        sides = np.diff(corners[:3], axis=0)
        lengths = np.hypot(*sides.T)
        if len(corners) < 4 or lengths.max() < SLENDER * lengths.min():
            return None
        normal = sides[int(lengths.argmin())] / lengths.min()
        low, high = _extent(corners @ normal)
    if normal[0] < -1e-6 or (abs(normal[0]) <= 1e-6 and normal[1] < 0):
        normal, low, high = -normal, -high, -low
    return normal, float(low), float(high)


def _bands(stretches: list[_Stretch]) -> list[list[_Stretch]]:
    """Stretches in one line: of one direction, each over half of the band of the one before."""
    found: list[list[_Stretch]] = []
    for one in sorted(stretches, key=lambda s: (np.round(s.normal, 3).tolist(), s.low + s.high, s.start)):
        for band in reversed(found):
            other = band[-1]
            parallel = abs(one.normal[0] * other.normal[1] - one.normal[1] * other.normal[0]) < 1e-3
            shared = min(one.high, other.high) - max(one.low, other.low) + JOINED
            if parallel and shared >= min(one.high - one.low, other.high - other.low) / 2:
                band.append(one)
                break
        else:
            found.append([one])
    return [sorted(band, key=lambda s: s.start) for band in found]


def _in_band(around: _Around, band: list[_Stretch], material: str, wanted: Collection[str]) -> list[Interruption]:
    normal = np.array(band[0].normal)
    frame = np.array([[-normal[1], normal[0]], normal])
    thermal = material in THERMAL
    like = around.of_classes([m for m in wanted if m in THERMAL] if thermal else [material])
    runs = _runs(band)
    found = []
    for one, other in pairwise(runs):
        start, end = max(s.end for s in one), other[0].start
        sides = {_side(around, run, frame) for run in (one, other)}
        if sides == {-1} or (sides == {1} and abs(normal[1]) < UPRIGHT):
            found += _missing(around, (one[-1], other[0]), (start, end), frame, (material, like))
    if not thermal:  # a membrane belongs to its build-up; insulation goes round the building
        return found
    for run, at, towards in ((runs[0], runs[0][0].start, -1.0), (runs[-1], max(s.end for s in runs[-1]), 1.0)):
        found += _beyond(around, run, (at, towards), frame, (material, like))
    return found


def _runs(band: list[_Stretch]) -> list[list[_Stretch]]:
    """Stretches that follow one another without a gap."""
    found: list[list[_Stretch]] = []
    for one in band:
        if found and one.start - max(s.end for s in found[-1]) <= LEAST:
            found[-1].append(one)
        else:
            found.append([one])
    return found


def _side(around: _Around, run: list[_Stretch], frame: F64) -> int:
    """On which side of most of a run the building lies: 1, -1, or 0 for none or both."""
    said = [around.goes_round(s.start + (s.end - s.start) * k, s.wall, frame) for s in run for k in (0.25, 0.5, 0.75)]
    return int(np.sign(sum(said))) if abs(sum(said)) * 2 > len(said) else 0


def _missing(
    around: _Around, ends: tuple[_Stretch, _Stretch], gap: Span, frame: F64, what: tuple[str, NDArray[np.bool_]]
) -> list[Interruption]:
    """What is missing between two stretches: where something is built there, and nothing like them."""
    wall = (min(s.wall[0] for s in ends), max(s.wall[1] for s in ends))
    band = (max(s.low for s in ends), min(s.high for s in ends))
    material, like = what
    found = []
    for span in _bare(around, (gap, wall, band), frame, like, around.built):
        short = span[1] - span[0] <= SHORT
        if short or around.goes_round((span[0] + span[1]) / 2, wall, frame):
            found.append(_said(around, span, band, frame, (material, like), tuple({s.element for s in ends})))
    return found


def _beyond(
    around: _Around, run: list[_Stretch], end: tuple[float, float], frame: F64, what: tuple[str, NDArray[np.bool_]]
) -> list[Interruption]:
    """The wall in whose line a run ends, where it goes on round the building without what ends."""
    at, towards = end
    last = run[-1] if towards > 0 else run[0]
    side = _side(around, run, frame)
    if not side or (side > 0 and abs(run[0].normal[1]) >= UPRIGHT):
        return []
    reach = (at, at + ACROSS + 10 * SHORT) if towards > 0 else (at - ACROSS - 10 * SHORT, at)
    bare = _bare(around, (reach, last.wall, (last.low, last.high)), frame, what[1], around.runs_on)
    nearest = min(bare, key=lambda s: min(abs(s[0] - at), abs(s[1] - at)), default=None)
    if nearest is None or min(abs(nearest[0] - at), abs(nearest[1] - at)) > ACROSS:
        return []
    middle = sum(nearest) / 2
    if nearest[1] - nearest[0] < GOES_ON or around.goes_round(middle, last.wall, frame) != side:
        return []
    outside = np.array([middle, last.wall[0] - ASIDE if side > 0 else last.wall[1] + ASIDE]) @ frame
    if shapely.intersects_xy(around.ground, *outside):  # a cellar may be cold
        return []
    return [_said(around, nearest, (last.low, last.high), frame, what, (last.element,))]


def _bare(
    around: _Around, where: tuple[Span, Span, Span], frame: F64, like: NDArray[np.bool_], built: NDArray[np.bool_]
) -> list[Span]:
    """Where, in a reach along a band, something is built in its wall and nothing like it stands there, nor the trim of
    an opening in the band itself, mm. `where`: the reach, across the wall, across the band."""
    reach, wall, band = where
    box = _rectangle(reach, wall, frame)
    full = around.spans(box, frame, built & ~like)
    gaps = _without(full, around.spans(box, frame, like))
    gaps = _without(gaps, around.spans(_rectangle(reach, band, frame), frame, around.trim))
    return [span for span in gaps if span[1] - span[0] > LEAST]


def _said(
    around: _Around, span: Span, band: Span, frame: F64, what: tuple[str, NDArray[np.bool_]], of: tuple[int, ...]
) -> Interruption:
    material, like = what
    place = _rectangle(span, band, frame)
    shared = shapely.area(shapely.intersection(around.shapes, place))
    stands = np.flatnonzero((shared > 0.1 * place.area) & ~like & around.built)
    by = {around.faces[k].element for k in stands.tolist()} - set(of)
    at = np.array([sum(span) / 2, sum(band) / 2]) @ frame / 1000.0
    elements = around.model.elements
    return Interruption(
        material, (round(float(at[0]), 3), round(float(at[1]), 3)), round((span[1] - span[0]) / 1000.0, 3),
        tuple(sorted(elements[e].guid for e in by)), tuple(sorted(elements[e].guid for e in of)),
    )  # fmt: skip


def _rectangle(along: Span, across: Span, frame: F64) -> shapely.Polygon:
    corners = [(along[0], across[0]), (along[1], across[0]), (along[1], across[1]), (along[0], across[1])]
    return shapely.Polygon(np.array(corners) @ frame)


def _extent(values: F64) -> Span:
    return float(values.min()), float(values.max())


def _joined(spans: list[Span]) -> list[Span]:
    found: list[Span] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1] + 1.0:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((start, end))
    return found


def _without(spans: list[Span], others: list[Span]) -> list[Span]:
    """What of spans is in none of the others."""
    left = list(spans)
    for start, end in others:
        left = [
            part
            for low, high in left
            for part in ((low, min(high, start)), (max(low, end), high))
            if part[1] - part[0] > 1.0
        ]
    return left
