"""`compose_drawing`: fills, hatches, strokes and annotations of one drawing."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult, Role
from edge_slice.core.drawing.annotations import SectionMarker, annotate
from edge_slice.core.drawing.borders import LAYER, OTHER, STRUCTURE, classed_borders
from edge_slice.core.drawing.content import Piece, ground_band, merge_groups, shown_pieces
from edge_slice.core.drawing.display import DisplayList, Label, Paths, Pen, Runs, joined, paths_of, runs_of
from edge_slice.core.drawing.hatching import family_lines, fitted_lines, scatter_shapes
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.drawing.standard import DrawingStandard, content_for, scale_class
from edge_slice.core.model import Model

F64 = NDArray[np.float64]
Item = Paths | Label
GROUND = "earth"


def pens_of(standard: DrawingStandard, scale: float) -> dict[str, Pen]:
    """The pens in use at a scale, by role."""
    k = scale_class(scale)
    return {
        role: Pen(rule.width[k], standard.hatch_ink if role == "hatch" else standard.ink, rule.dash)
        for role, rule in standard.pens.items()
    }


def compose_drawing(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    spec: DrawingSpec,
    standard: DrawingStandard,
    markers: tuple[SectionMarker, ...] = (),
) -> DisplayList:
    """The drawing in paper millimetres; its origin is the drawing's, so that it grows from a fixed point."""
    pens, content = pens_of(standard, spec.scale), content_for(spec.scale)
    pieces = shown_pieces(model, result, standard, content, spec.scale)
    ground = [p for p in pieces if p.kind == GROUND]
    solid = [p for p in pieces if p.kind != GROUND]
    items: list[Item] = []
    fills, hatches, lines = _ground(ground, result, result.upright, standard, pens, spec.scale)
    items += fills + hatches
    items += _fills(solid, standard, spec.scale, content == "solid")
    if content != "solid":
        items += _hatches(solid, standard, pens["hatch"], spec.scale)
    items += _seen(result, standard, pens, spec.scale)
    items += _outlines(solid, standard, pens, spec.scale) + lines
    items += _loose(result, pens, spec.scale)
    u0, v0, u1, v1 = (x / spec.scale for x in result.extents)
    notes, links = annotate(model, result, cut, spec, standard, pens, markers)
    return DisplayList(tuple(items + notes), (u0, v0, u1, v1), tuple(links))


def _rings(polygons: list[shapely.Polygon], scale: float) -> list[F64]:
    return [np.asarray(r.coords)[:-1] / scale for p in polygons for r in (p.exterior, *p.interiors)]


def _fills(pieces: list[Piece], standard: DrawingStandard, scale: float, one_tint: bool) -> list[Item]:
    """One fill by class; at the smallest scales one solid tone for everything."""
    groups: dict[str, list[shapely.Polygon]] = {}
    for m in pieces:
        tint = standard.ink if one_tint else standard.materials[m.kind].tint
        groups.setdefault(tint, []).append(m.polygon)
    return [paths_of("cut fill", _rings(ps, scale), None, tint, True) for tint, ps in groups.items()]


def _scaled(polygon: shapely.Polygon, scale: float) -> shapely.Polygon:
    scaled: shapely.Polygon = shapely.transform(polygon, lambda p: p / scale)
    return scaled


def _hatches(pieces: list[Piece], standard: DrawingStandard, pen: Pen, scale: float) -> list[Item]:
    lines: list[Runs] = []
    dots: list[Runs] = []
    shapes: list[Runs] = []
    for piece in pieces:
        hatch = standard.hatches[standard.materials[piece.kind].hatch]
        paper = _scaled(piece.polygon, scale)
        lines += [family_lines(paper, f) for f in hatch.families]
        for rule in hatch.scatter:
            (dots if rule.shape == "dot" else shapes).append(scatter_shapes(paper, rule))
        if hatch.along or hatch.batt or hatch.zigzag:
            s = piece.strip
            normal, low, high = (s.normal, s.low / scale, s.high / scale) if s else (None, 0.0, 0.0)
            lines.append(fitted_lines(paper, hatch, normal, low, high))
    return [
        *joined("hatch", lines, pen),
        *joined("hatch", dots, None, pen.colour, True),
        *joined("hatch", shapes, pen, None, True),
    ]


def _ground(
    pieces: list[Piece], result: CutResult, upright: bool, standard: DrawingStandard, pens: dict[str, Pen], scale: float
) -> tuple[list[Item], list[Item], list[Item]]:
    """Fill, hatch and earth line of cut ground."""
    rule = standard.materials[GROUND]
    hatch = standard.hatches[rule.hatch]
    bands: list[shapely.Polygon] = []
    surface: list[F64] = []
    for piece in pieces:
        band, edge = ground_band(piece.polygon, result.extents, standard.ground_depth * scale, upright)
        bands += [p for p in shapely.get_parts(band) if p.geom_type == "Polygon"]
        surface += [line / scale for line in edge]
    if not bands:
        return [], [], []
    lines = [family_lines(_scaled(p, scale), f) for p in bands for f in hatch.families]
    fills: list[Item] = [paths_of("cut fill", _rings(bands, scale), None, rule.tint, True)]
    lines_out: list[Item] = [paths_of("earth line", surface, pens["earth line"])] if surface else []
    return fills, list(joined("hatch", lines, pens["hatch"])), lines_out


def _seen(result: CutResult, standard: DrawingStandard, pens: dict[str, Pen], scale: float) -> list[Item]:
    """Lines beyond the cut in three bands of distance, overhead and hidden lines dashed."""
    lines = result.lines
    if not len(lines.points):
        return []
    seen = lines.role == Role.SEEN
    reach = result.reach or (float(lines.depth[seen].max()) if seen.any() else 1.0)
    near, middle = standard.near_share
    share = lines.depth / max(reach, 1.0)
    bands = [
        ("hidden", lines.role == Role.HIDDEN),
        ("seen far", seen & (share > middle)),
        ("seen middle", seen & (share > near) & (share <= middle)),
        ("seen near", seen & (share <= near)),
        ("overhead", lines.role == Role.OVERHEAD),
    ]
    return [
        path
        for role, chosen in bands
        if chosen.any()
        for path in joined(role, [chained(lines.points[chosen] / scale)], pens[role])
    ]


def chained(segments: F64) -> Runs:
    """Segments (n, 4) joined into polylines where exactly two meet."""
    lines = shapely.linestrings(segments.reshape(-1, 2, 2))
    return runs_of(shapely.line_merge(shapely.multilinestrings([lines])))


def _outlines(pieces: list[Piece], standard: DrawingStandard, pens: dict[str, Pen], scale: float) -> list[Item]:
    """Every border once: heavy where an element ends (heavier for structure), fine between layers."""
    rules = [standard.materials[p.kind] for p in pieces]
    structure = np.array([r.structure for r in rules], dtype=bool)
    element = np.array([p.element for p in pieces], dtype=np.int64)
    borders = classed_borders([p.polygon for p in pieces], element, merge_groups(pieces, standard), structure)
    roles = {LAYER: "layer", OTHER: "cut other", STRUCTURE: "cut structure"}
    return [
        path
        for k, role in roles.items()
        if k in borders and pens[role].width > 0
        for path in joined(role, [chained(borders[k] / scale)], pens[role])
    ]


def _loose(result: CutResult, pens: dict[str, Pen], scale: float) -> list[Item]:
    """Outlines of leaking elements, drawn open."""
    if not result.open_chains:
        return []
    return [paths_of("cut other", [points / scale for _, points in result.open_chains], pens["cut other"])]
