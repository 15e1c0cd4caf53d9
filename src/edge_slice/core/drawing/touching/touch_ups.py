"""Touch-ups: what people change of generated linework. They refer to edges, sides and faces of elements, so that they
stay with them through changes of the model, of the cut and of the scale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from edge_slice.core.cut import CutResult
from edge_slice.core.cut.anchors.anchor import Anchor, State, held, held_sides
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.cut.anchors.references import edges_of, line_reference
from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.display import Item, Pen, TouchedUp, paths_of
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.spec import COLOUR
from edge_slice.core.drawing.touching.touched_surfaces import TouchedSurface, outlines_of, surface_now

F64 = NDArray[np.float64]
Flags = NDArray[np.bool_]
Act = Literal["hide", "restyle", "cut back", "mask", "hatch"]
GROUND = "#ffffff"
WIDE = 0.3  # mm; what lies that near to a side is taken for a part of it
MOST = 5000  # lines, sides and faces of one touch-up
ORDER: dict[State, int] = {"exact": 0, "near": 1, "lost": 2}
_Mm = Annotated[float, Field(allow_inf_nan=False, ge=-1e9, le=1e9)]
_Guid = Annotated[str, Field(max_length=64)]


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class TouchedLine(_Data):
    """An edge of an element, as `LineReference` has it; of one that is cut back the stretch that goes, as shares of the
    edge from its lower end."""

    element: _Guid
    ends: tuple[tuple[_Mm, _Mm, _Mm], tuple[_Mm, _Mm, _Mm]]
    at: tuple[_Mm, _Mm]
    span: tuple[float, float] | None = None


class TouchedSide(_Data):
    """A side of a cut face; of one that is cut back the stretch that goes, mm from the anchor's place along it."""

    anchor: Anchor
    span: tuple[_Mm, _Mm] | None = None


class TouchUp(_Data):
    """`act` on lines, sides, faces (anchors within them) and seen surfaces, or on an area (`ring`, mm in the drawing,
    tied to `tie`). Of what is restyled: width (mm), ink and dash (mm), each where given; of a cut face its `hatch` and
    `tint`, of a seen surface its pattern and colour."""

    act: Act
    lines: Annotated[tuple[TouchedLine, ...], Field(max_length=MOST)] = ()
    sides: Annotated[tuple[TouchedSide, ...], Field(max_length=MOST)] = ()
    faces: Annotated[tuple[Anchor, ...], Field(max_length=MOST)] = ()
    surfaces: Annotated[tuple[TouchedSurface, ...], Field(max_length=MOST)] = ()
    ring: Annotated[tuple[tuple[_Mm, _Mm], ...], Field(max_length=500)] = ()
    tie: Anchor | None = None
    width: Annotated[float, Field(ge=0.05, le=5, allow_inf_nan=False)] | None = None
    ink: Annotated[str, Field(pattern=COLOUR)] | None = None
    dash: Annotated[tuple[Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)], ...], Field(max_length=8)] | None = None  # fmt: skip  # noqa: E501
    hatch: Annotated[str, Field(max_length=60)] | None = None
    tint: Annotated[str, Field(pattern=COLOUR)] | None = None

    @model_validator(mode="after")
    def _does_something(self) -> TouchUp:
        if self.act == "mask":
            shape = shapely.Polygon(self.ring) if len(self.ring) > 2 else shapely.Polygon()
            if shape.area < 1e-3 or not shape.is_valid:
                raise ValueError("ring: an area to mask needs three corners or more, and its sides must not cross")
        elif self.act == "hatch" and not (self.faces or self.surfaces):
            raise ValueError("faces: there is neither a cut face here nor a surface that is seen; click within one")
        elif not (self.lines or self.sides or self.faces or self.surfaces):
            raise ValueError("lines: there is nothing to touch up here; click on a line or within a cut face")
        if self.act == "restyle" and self.width is None and self.ink is None and self.dash is None:
            raise ValueError("width: say how the lines shall look: a width, a colour or a dash")
        return self


@dataclass
class Style:
    width: float | None
    ink: str | None
    dash: tuple[float, ...] | None

    def of(self, pen: Pen) -> Pen:
        dash = pen.dash if self.dash is None else self.dash
        return Pen(self.width or pen.width, self.ink or pen.colour, dash)


@dataclass
class Touched:
    """All touch-ups of a drawing, found in its cut. `gone` are lines (lines,) that are not drawn any more or drawn
    elsewhere; `instead` their segments (n, 4) that stay, by row; `restyled` rows by style; sides and faces likewise;
    `dressed_surfaces` by the number of their flat face."""

    result: CutResult
    gone: Flags
    instead: list[tuple[int, F64]]
    restyled: list[tuple[Flags, Style]]
    sides: list[tuple[F64, Style | None]]
    hidden_faces: list[tuple[int, shapely.Point]]
    dressed_faces: list[tuple[int, shapely.Point, TouchUp]]
    dressed_surfaces: dict[int, TouchUp]
    masks: list[F64]
    told: list[TouchedUp]

    @staticmethod
    def on(features: Features, touch_ups: Sequence[tuple[str, TouchUp]], scale: float) -> Touched:
        """`touch_ups`: by source, such as "touch-up:3"."""
        count = len(features.result.lines.points)
        found = Touched(features.result, np.zeros(count, dtype=bool), [], [], [], [], [], {}, [], [])
        finder = Finder(features)
        for source, one in touch_ups:
            found._take(finder, source, one, scale)
        return found

    def _take(self, finder: Finder, source: str, one: TouchUp, scale: float) -> None:
        states: list[State] = []
        ghost: list[F64] = []
        style = Style(one.width, one.ink, one.dash) if one.act == "restyle" else None
        rows = np.zeros(len(self.gone), dtype=bool)
        for line in one.lines:
            state, found = finder.line(line)
            states.append(state)
            if one.act == "cut back" and line.span is not None:
                ghost += self._cut_back(finder, found, line)
            else:
                rows[found] = True
        ghost += list(self.result.lines.points[rows].reshape(-1, 2, 2))
        if style is not None:
            self.restyled.append((rows & ~self.gone, style))
        self.gone |= rows
        for side in one.sides:
            now, ends = held_sides(finder.features, side.anchor)
            states.append(now.state)
            ends = _stretch(ends, now.at, side.span) if one.act == "cut back" and side.span is not None else ends
            self.sides.append((ends, style))
            ghost += list(ends.reshape(-1, 2, 2))
        for face in one.faces:
            now = held(finder.features, face)
            states.append(now.state)
            element = finder.features.model.element_by_guid.get(face.name, -1)
            if element >= 0:
                point = shapely.Point(now.at)
                if one.act == "hatch":
                    self.dressed_faces.append((element, point, one))
                else:
                    self.hidden_faces.append((element, point))
                ghost += finder.outline(element, point)
        for surface in one.surfaces:
            state, flat = surface_now(finder.features.model, surface)
            states.append(state)
            if flat is not None:
                self.dressed_surfaces[flat] = one
                ghost += outlines_of(self.result, flat)
        if one.act == "mask":
            ring, state = finder.ring(one)
            states.append(state)
            self.masks.append(ring)
            ghost.append(np.concatenate((ring, ring[:1])))
        worst: State = max(states, key=lambda s: ORDER[s], default="exact")
        finding = "What a touch-up changed is not there any more; it has no effect." if worst == "lost" else ""
        self.told.append(TouchedUp(source, worst, tuple(line / scale for line in ghost), finding))

    def _cut_back(self, finder: Finder, rows: Sequence[int], line: TouchedLine) -> list[F64]:
        """Take a stretch out of the lines of an edge; what was taken out."""
        assert line.span is not None
        taken: list[F64] = []
        for row in rows:
            kept, gone = finder.parted(row, line.span)
            self.gone[row] = True
            if len(kept):
                self.instead.append((row, kept))
            taken += list(gone.reshape(-1, 2, 2))
        return taken

    def lines_left(self) -> CutResult:
        """The cut without lines that are hidden or restyled, and with what is left of those cut back."""
        if not self.gone.any():
            return self.result
        lines = self.result.lines
        left = lines.pick(~self.gone)
        parts = [left]
        for row, kept in self.instead:
            same = lines.pick(np.full(len(kept), row, dtype=np.int64))
            parts.append(replace(same, points=kept))
        return replace(self.result, lines=type(lines).join(parts))

    def restyled_lines(self) -> Iterator[tuple[CutResult, Style]]:
        """For each style the cut with the lines alone that have it."""
        for rows, style in self.restyled:
            if rows.any():
                yield replace(self.result, lines=self.result.lines.pick(rows)), style

    def pieces(self, pieces: list[Piece], standard: DrawingStandard) -> tuple[list[Piece], DrawingStandard]:
        """Without hidden faces; those with a hatch or tint of their own as a class of material of their own."""
        if not self.hidden_faces and not self.dressed_faces:
            return pieces, standard
        found: list[Piece | None] = list(pieces)
        for element, point in self.hidden_faces:
            k = _face_at(found, element, point)
            if k is not None:
                found[k] = None
        materials = dict(standard.materials)
        for n, (element, point, one) in enumerate(self.dressed_faces):
            k = _face_at(found, element, point)
            piece = found[k] if k is not None else None
            if k is None or piece is None:
                continue
            change: dict[str, object] = {}
            if one.hatch is not None and one.hatch in standard.hatches:
                change |= {"hatch": one.hatch, "hatch_across": ""}
            if one.tint is not None:
                change["tint"] = one.tint
            kind = f"{piece.kind}, touched up {n}"
            materials[kind] = materials[piece.kind].model_copy(update=change)
            found[k] = replace(piece, kind=kind, hatch="" if "hatch" in change else piece.hatch)
        return [p for p in found if p is not None], standard.model_copy(update={"materials": materials})

    def borders(self, segments: F64) -> tuple[F64, list[tuple[F64, Style]]]:
        """Of borders of faces (n, 4), what stays as it is, and what is drawn in a style of its own."""
        if not self.sides or not len(segments):
            return segments, []
        styled: list[tuple[F64, Style]] = []
        left = shapely.linestrings(segments.reshape(-1, 2, 2))
        for ends, style in self.sides:
            if not len(ends):
                continue
            area = shapely.union_all(
                shapely.buffer(shapely.linestrings(ends.reshape(-1, 2, 2)), WIDE, cap_style="flat")
            )
            touching = shapely.intersects(area, left) & _parallel(left, ends)
            if style is not None:
                styled.append((_segments(shapely.intersection(left[touching], area)), style))
            rest = shapely.difference(left[touching], area)
            left = np.concatenate((left[~touching], shapely.get_parts(rest)))
            left = left[shapely.length(left) > 1e-6]
        return _segments(left), styled

    def mask_items(self, scale: float) -> list[Item]:
        if not self.masks:
            return []
        return [paths_of("touch-up mask", [ring / scale for ring in self.masks], None, GROUND, True)]


def _parallel(lines: NDArray[np.object_], ends: F64) -> Flags:
    """Which straight lines run along the first of some segments (n, 4), within a degree."""
    points = shapely.get_coordinates(lines).reshape(-1, 2, 2)
    d = points[:, 1] - points[:, 0]
    e = ends[0, 2:] - ends[0, :2]
    size = np.maximum(np.hypot(d[:, 0], d[:, 1]) * np.hypot(*e), 1e-12)
    return np.asarray(np.abs(d[:, 0] * e[1] - d[:, 1] * e[0]) / size < 0.02)


def _segments(lines: object) -> F64:
    found = shapely.get_parts(lines)
    found = found[shapely.get_type_id(found) == shapely.GeometryType.LINESTRING]
    parts = [np.column_stack((c[:-1], c[1:])) for c in (shapely.get_coordinates(x) for x in found) if len(c) > 1]
    return np.concatenate(parts) if parts else np.zeros((0, 4))


def way_of(ends: F64) -> F64:
    """The direction (2,) of collinear sides (n, 4): to the right, or up."""
    d = ends[0, 2:] - ends[0, :2]
    d = d / max(float(np.hypot(*d)), 1e-9)
    return np.asarray(-d if d[0] < -1e-9 or (abs(d[0]) <= 1e-9 and d[1] < 0) else d)


def _stretch(ends: F64, at: tuple[float, float], span: tuple[float, float]) -> F64:
    """The part of collinear sides (n, 4) from one distance to another from a place on them."""
    if not len(ends):
        return ends
    d = way_of(ends)
    low, high = sorted(span)
    found = []
    for a, b in ends.reshape(-1, 2, 2):
        t0, t1 = sorted((float((a - at) @ d), float((b - at) @ d)))
        s0, s1 = max(t0, low), min(t1, high)
        if s1 > s0:
            found.append(np.concatenate((np.array(at) + d * s0, np.array(at) + d * s1)))
    return np.array(found).reshape(-1, 4)


def _face_at(pieces: Sequence[Piece | None], element: int, point: shapely.Point) -> int | None:
    own = [(k, p.polygon) for k, p in enumerate(pieces) if p is not None and p.element == element]
    return min(own, key=lambda row: row[1].distance(point))[0] if own else None


class Finder:
    """Finds in a cut what touch-ups refer to; edges of an element are worked out once."""

    def __init__(self, features: Features) -> None:
        self.features = features
        self._edges: dict[int, tuple[NDArray[np.int64], F64]] = {}

    def line(self, line: TouchedLine) -> tuple[State, list[int]]:
        """The rows of the lines that an edge gives now. Exact where it is the same in its element, whether that moved
        or not; near where the nearest one is a little aside."""
        element = self.features.model.element_by_guid.get(line.element, -1)
        rows, ends = self._of(element)
        if not len(rows):
            return "lost", []
        off = np.linalg.norm(ends - np.array(line.ends), axis=2).max(axis=1)
        best = float(off.min())
        if best > 100.0:
            return "lost", []
        return ("exact" if best <= 0.5 else "near"), rows[off <= best + 1e-6].tolist()

    def _of(self, element: int) -> tuple[NDArray[np.int64], F64]:
        if element not in self._edges:
            lines = self.features.result.lines
            rows = np.flatnonzero(lines.element == element) if element >= 0 else np.zeros(0, np.int64)
            ends = edges_of(self.features.model, element, lines.edge[rows].astype(np.int64)) if len(rows) else None
            self._edges[element] = rows, ends if ends is not None else np.zeros((0, 2, 3))
        return self._edges[element]

    def drawn_edge(self, row: int) -> F64:
        """Both ends (2, 2) of the whole edge of a line in the drawing, the lower end in its element's frame first."""
        lines, mesh = self.features.result.lines, self.features.model.mesh
        element = int(lines.element[row])
        edge = lines.edge[row : row + 1].astype(np.int64)
        ends = self.features.drawn(mesh.vertices[mesh.edges[edge[0]]])
        raw = line_reference(self.features.model, self.features.result, row)
        from_mesh = edges_of(self.features.model, element, edge, ordered=False)[0]
        return ends if np.allclose(from_mesh[0], raw.ends[0], atol=1e-6) else ends[::-1]

    def parted(self, row: int, span: tuple[float, float]) -> tuple[F64, F64]:
        """What stays (n, 4) and what goes (m, 4) of a line when a stretch of its edge does."""
        a, b = self.drawn_edge(row)
        d = b - a
        size = max(float(d @ d), 1e-12)
        p, q = self.features.result.lines.points[row].reshape(2, 2)
        t0, t1 = sorted((float((p - a) @ d / size), float((q - a) @ d / size)))
        low, high = sorted(span)
        kept = [(t0, min(t1, low)), (max(t0, high), t1)]
        gone = [(max(t0, low), min(t1, high))]

        def segments(parts: list[tuple[float, float]]) -> F64:
            found = [np.concatenate((a + d * s, a + d * e)) for s, e in parts if e - s > 1e-9]
            return np.array(found).reshape(-1, 4)

        return segments(kept), segments(gone)

    def outline(self, element: int, point: shapely.Point) -> list[F64]:
        faces = self.features.faces(element)
        if not faces:
            return []
        face = min(faces, key=lambda f: f.polygon.distance(point))
        return [np.asarray(face.polygon.exterior.coords)]

    def ring(self, one: TouchUp) -> tuple[F64, State]:
        ring = np.array(one.ring)
        if one.tie is None:
            return ring, "exact"
        now = held(self.features, one.tie)
        return ring + (np.array(now.at) - np.array(one.tie.at)), now.state
