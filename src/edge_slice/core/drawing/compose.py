"""`compose_drawing`: fills, hatches, strokes and annotations of one drawing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut import AnyCut, CutResult, Role, SectionCut
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.drawing.annotations.head_room import HeadRoom
from edge_slice.core.drawing.annotations.placing import annotate
from edge_slice.core.drawing.annotations.surroundings import ALONE, Surroundings
from edge_slice.core.drawing.breaks.break_lines import edge_breaks
from edge_slice.core.drawing.breaks.cropping import cropped
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.content import Piece, membrane_lines, merge_groups, shown_pieces
from edge_slice.core.drawing.conventions.plan import plan_conventions
from edge_slice.core.drawing.density import thinned
from edge_slice.core.drawing.display import DisplayList, Item, Pen, TouchedUp, joined, paths_of
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.hatching.filling import pattern_line, patterned
from edge_slice.core.drawing.hatching.fills import fills, hatches, on_paper, rings_on_paper
from edge_slice.core.drawing.hatching.ground import Band, drawn_ground, edge_strokes
from edge_slice.core.drawing.looks import Looks
from edge_slice.core.drawing.opened import opened_items
from edge_slice.core.drawing.paper import check_paper
from edge_slice.core.drawing.pens import pens_of
from edge_slice.core.drawing.rules.hatch_rules import Hatch
from edge_slice.core.drawing.rules.standard import Content, DrawingStandard
from edge_slice.core.drawing.spec import DrawingSpec
from edge_slice.core.drawing.strokes.borders import LAYER, OTHER, STRUCTURE, classed_borders, on_frame
from edge_slice.core.drawing.strokes.chains import chained
from edge_slice.core.drawing.strokes.dashes import stroked
from edge_slice.core.drawing.surfaces.compose import surface_items
from edge_slice.core.drawing.texts.lettering import spelled_out_in
from edge_slice.core.drawing.touching.touch_ups import Touched, TouchUp
from edge_slice.core.model import Model
from edge_slice.core.model.ground.relief import Relief
from edge_slice.core.stages import stage

F64 = NDArray[np.float64]
GROUND = "earth"
UPRIGHT = 0.99  # sine of the angle of up in a drawing to the horizon, from which its heights are true
LEVEL = 0.1  # sine of the tilt under which a drawing has no up


@dataclass(frozen=True)
class Linework:
    """A drawing without what stands at its edge and in it by rule, which depends on other drawings: `under` its cut
    faces, `items` before and `folded` after it is folded; `whole` and `standard` as they were given."""

    draft: Draft
    whole: CutResult
    standard: DrawingStandard
    under: list[Item]
    items: list[Item]
    folded: list[Item]
    fold: Fold
    findings: list[str]
    touched: tuple[TouchedUp, ...]


def compose_drawing(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    spec: DrawingSpec,
    standard: DrawingStandard,
    around: Surroundings = ALONE,
) -> DisplayList:
    """The drawing in paper millimetres; its origin is the drawing's, so that it grows from a fixed point. Raises
    `ImpossibleCut` where it would be larger than `LARGEST`."""
    return lettered(linework_of(model, result, cut, spec, standard, around.touch_ups), around)


def lettered(linework: Linework, around: Surroundings = ALONE) -> DisplayList:
    """A drawing of its linework, in its surroundings; the touch-ups of these are in the linework."""
    draft, fold = linework.draft, linework.fold
    room = None
    if around.markers:
        whole = HeadRoom.of(draft.model, linework.whole, draft.cut, draft.spec, linework.standard)
        room = whole.with_boxes(around.standing)
    with stage("labels"):
        notes = annotate(draft, around, room, linework.items, linework.folded, fold)  # words may stand on patterns
    return DisplayList(
        tuple(linework.under + linework.folded + fold.lines(draft.pens["frame fine"]) + notes.items),
        fold.frame,
        tuple(notes.links),
        tuple(linework.findings + notes.findings + spelled_out_in(notes.items)),
        tuple(notes.callouts),
        touched=linework.touched,
    )


def linework_of(
    model: Model,
    result: CutResult,
    cut: AnyCut,
    spec: DrawingSpec,
    standard: DrawingStandard,
    touch_ups: Sequence[tuple[str, TouchUp]] = (),
) -> Linework:
    """What `compose_drawing` draws whatever is around. Raises as it does."""
    check_paper(result.extents, spec.scale)
    given = (result, standard)
    standard = standard.adapted(spec)
    pens = pens_of(standard, spec.scale)
    content = standard.content_of(spec)
    fill = "solid" if content == "solid" and spec.fill == "material" else spec.fill
    touched = Touched.on(Features(model, result), touch_ups, spec.scale) if touch_ups else None
    if touched is not None:
        result = touched.lines_left()
    draft = Draft(model, result, cut, spec, standard, pens)
    with stage("conventions"):
        usual = plan_conventions(draft)
        result = usual.left_of(result)
        told_apart = thinned(result.lines.points / spec.scale, result.lines.element)
        if not told_apart.all():
            result = replace(result, lines=result.lines.pick(told_apart))
    pieces, ground, items, lines = _pieces(replace(draft, result=result), content, fill)
    with stage("opened"):
        opened, coarse_opened = opened_items(draft, partial(_faces_alone, content=content, fill=fill))
    looks = Looks.on(model, spec.looks, {**standard.disciplines, **spec.disciplines})
    solid, standard = looks.dressed([p for p in pieces if p.kind != GROUND], standard)
    if touched is not None:
        solid, standard = touched.pieces(solid, standard)
    draft = replace(draft, result=result, standard=standard)
    surfaces = surface_items(draft, looks, touched.dressed_surfaces if touched is not None else {})
    cut_items, coarse = _cut_faces(draft, solid, looks, fill, touched)
    items += opened + cut_items + lines + surfaces.over
    if content == "membranes":
        items += _membranes(model, result, standard, pens["membrane"], spec.scale)
    items += _loose(result, pens, spec.scale)
    if model.former_ground is not None:
        items += _former_ground(model.former_ground, result, pens["hidden"], spec.scale)
    if isinstance(cut, SectionCut) and cut.step_lines and result.steps:
        items.append(_steps(result, pens["step"], spec.scale))
    items += cropped(usual.items, shapely.transform(result.frame, lambda at: at / spec.scale))
    if spec.frame:
        border = np.atleast_1d(result.frame).tolist()
        items.append(paths_of("frame", rings_on_paper(border, spec.scale), pens["frame fine"], None, True))
    if touched is not None:
        for restyled, style in touched.restyled_lines():
            everything = np.ones(len(restyled.lines.points), dtype=bool)
            own = {role: style.of(pen) for role, pen in pens.items()}
            items += _seen(restyled, everything, standard, own, spec.scale)
        items += touched.mask_items(spec.scale)
    items += _edges(
        result, cut, [*(p.polygon for p in solid), *(b for _, b in ground)], standard, pens["frame fine"], spec.scale
    )
    with stage("fold"):
        fold = Fold.of(result.extents, cut.extents, spec.scale, standard.breaks)
        folded = fold.items(items)
    return Linework(
        draft, *given, fold.items(surfaces.under), items, folded, fold, coarse + coarse_opened + surfaces.findings,
        _folded_ghosts(touched, fold) if touched is not None else (),
    )  # fmt: skip


def _folded_ghosts(touched: Touched, fold: Fold) -> tuple[TouchedUp, ...]:
    return tuple(replace(one, ghost=tuple(fold.points(line) for line in one.ghost)) for one in touched.told)


def _cut_faces(
    draft: Draft, pieces: list[Piece], looks: Looks, fill: str, touched: Touched | None = None
) -> tuple[list[Item], list[str]]:
    """Fills, hatches, what is seen beyond, and outlines, each look after the other; and findings of hatches."""
    result, standard, scale = draft.result, draft.standard, draft.scale
    with stage("merging"):
        groups = merge_groups(pieces, standard)
    under, seen, over = [], [], []
    findings: list[str] = []
    for k in looks.used:
        chosen = [n for n, piece in enumerate(pieces) if looks.of[piece.element] == k]
        own, own_groups, own_pens = [pieces[n] for n in chosen], groups[chosen], looks.pens(k, draft.pens)
        if fill != "none":
            with stage("fills"):
                under += fills(own, standard, scale, fill == "solid" and not looks.tinted(k))
        if fill == "material":
            with stage("hatches"):
                strokes, coarse = hatches(own, own_groups, standard, own_pens["hatch"], scale, result.upright)
            under += strokes
            findings += coarse
        with stage("seen"):
            seen += _seen(result, looks.of[result.lines.element] == k, standard, own_pens, scale)
        with stage("outlines"):
            over += _outlines(replace(draft, pens=own_pens), own, own_groups, touched)
    return under + seen + over, list(dict.fromkeys(findings))


def _pieces(draft: Draft, content: Content, fill: str) -> tuple[list[Piece], list[Band], list[Item], list[Item]]:
    """All shown pieces of a cut; of these the ground, as its bands, what fills it, and its earth line."""
    standard, scale = draft.standard, draft.scale
    with stage("pieces"):
        pieces = shown_pieces(draft.model, draft.result, standard, content, scale)
    with stage("ground"):
        ground, surface = shown_ground(draft.result, pieces, standard, scale)
        items, lines = _ground(ground, surface, fill, _ground_hatched(standard, pieces), draft.pens, scale)
    return pieces, ground, items, lines


def _faces_alone(draft: Draft, content: Content, fill: str) -> tuple[list[Item], list[str]]:
    """The cut faces of a plane with nothing beyond them: of ground and of what stands in it."""
    model, standard = draft.model, draft.standard
    pieces, _, items, lines = _pieces(draft, content, fill)
    looks = Looks.on(model, draft.spec.looks, {**standard.disciplines, **draft.spec.disciplines})
    solid, standard = looks.dressed([p for p in pieces if p.kind != GROUND], standard)
    found, coarse = _cut_faces(replace(draft, standard=standard), solid, looks, fill)
    return items + found + lines, coarse


def _ground_hatched(standard: DrawingStandard, pieces: list[Piece]) -> DrawingStandard:
    """The standard with the hatch that the shown ground has of its own, if any."""
    own = next((p.hatch for p in pieces if p.kind == GROUND and p.hatch in standard.hatches), None)
    if own is None:
        return standard
    rule = standard.materials[GROUND].model_copy(update={"hatch": own})
    return standard.model_copy(update={"materials": {**standard.materials, GROUND: rule}})


def _ground(
    bands: list[Band], surface: list[F64], fill: str, standard: DrawingStandard, pens: dict[str, Pen], scale: float
) -> tuple[list[Item], list[Item]]:
    """Fill and hatch of cut ground, and its earth line."""
    rule = standard.materials[GROUND]
    hatch = standard.hatches[rule.hatch] if rule.hatch else Hatch()
    shapes = [polygon for _, polygon in bands]
    if not shapes:
        return [], []
    lines = [line / scale for line in surface]
    under: list[Item] = []
    if fill != "none":
        tint = standard.ink if fill == "solid" else rule.tint
        under.append(paths_of("cut fill", rings_on_paper(shapes, scale), None, tint, True))
    if fill == "material":
        paper = [shapely.transform(p, lambda q: q / scale) for p in shapes]
        if hatch.families:
            under += patterned("hatch", paper, tuple(pattern_line(f) for f in hatch.families), pens["hatch"])
        if hatch.edge is not None:
            under += joined("hatch", [edge_strokes(lines, paper, hatch.edge)], pens["hatch"])
    return under, [paths_of("earth line", lines, pens["earth line"])] if lines else []


def shown_ground(
    result: CutResult, pieces: list[Piece], standard: DrawingStandard, scale: float
) -> tuple[list[Band], list[F64]]:
    """Of all shown pieces the ground, as it is drawn: its bands by element, mm of the building, and its surface."""
    ground = [p for p in pieces if p.kind == GROUND]
    built = [p.polygon for p in pieces if p.kind != GROUND]
    rises = abs(result.axes.v[2]) > LEVEL
    return drawn_ground(ground, built, result.frame, standard.ground_depth * scale, rises)


def _seen(
    result: CutResult, wanted: NDArray[np.bool_], standard: DrawingStandard, pens: dict[str, Pen], scale: float
) -> list[Item]:
    """Of the lines beyond the cut the `wanted` (n,) in three bands of distance, overhead and hidden lines dashed."""
    lines = result.lines
    if not wanted.any():
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
        for role, band in bands
        if (chosen := band & wanted).any()
        for path in stroked(role, [chained(lines.points[chosen] / scale)], pens[role])
    ]


def _outlines(draft: Draft, pieces: list[Piece], groups: NDArray[np.int64], touched: Touched | None) -> list[Item]:
    """Every border once: heavy where an element ends (heavier for structure), fine between layers; none where the
    extents cut a piece off."""
    pens, scale = draft.pens, draft.scale
    rules = [draft.standard.materials[p.kind] for p in pieces]
    structure = np.array([r.structure for r in rules], dtype=bool)
    element = np.array([p.element for p in pieces], dtype=np.int64)
    borders = classed_borders([p.polygon for p in pieces], element, groups, structure)
    roles = {LAYER: "layer", OTHER: "cut other", STRUCTURE: "cut structure"}
    frame = draft.result.frame
    items: list[Item] = []
    for k, role in roles.items():
        if k in borders:
            kept = borders[k][~on_frame(borders[k], frame)]
            if touched is not None:
                kept, styled = touched.borders(kept)
                for segments, style in styled:
                    runs = [chained(segments / scale)] if len(segments) else []
                    items += stroked(role, runs, style.of(pens[role]))
            items += stroked(role, [chained(kept / scale)] if len(kept) else [], pens[role])
    return items


def _edges(
    result: CutResult, cut: AnyCut, material: list[shapely.Polygon], standard: DrawingStandard, pen: Pen, scale: float
) -> list[Item]:
    """Break lines at the edges that have them."""
    if not cut.extents.broken:
        return []
    found: list[Item] = []
    shapes = [on_paper(p, scale) for p in material]
    for part in polygons_in(result.frame):
        found += edge_breaks(
            on_paper(part, scale), shapes, cut.extents.broken, standard.breaks, pen, cut.extents.whole_edges
        )
    return found


def _membranes(model: Model, result: CutResult, standard: DrawingStandard, pen: Pen, scale: float) -> list[Item]:
    """One heavy dashed line in the place of each membrane; those of neighbours run on where they meet."""
    lines = membrane_lines(model, result, standard)
    if not lines:
        return []
    segments = np.concatenate([np.column_stack((line[:-1], line[1:])) for line in lines])
    return list(stroked("membrane", [chained(np.round(segments / scale, 4))], pen))


def _loose(result: CutResult, pens: dict[str, Pen], scale: float) -> list[Item]:
    """Outlines of leaking elements, drawn open."""
    if not result.open_chains:
        return []
    return [paths_of("cut other", [points / scale for _, points in result.open_chains], pens["cut other"])]


def _former_ground(former: Relief, result: CutResult, pen: Pen, scale: float) -> list[Item]:
    """A dashed line where the ground is before it becomes the proposed one, in upright cuts."""
    segments = []
    for leaf in result.leaves:
        if leaf.axes.v[2] < UPRIGHT:
            return []
        left, _, right, _ = leaf.window
        ends = leaf.axes.to_model(np.array([(left, 0.0), (right, 0.0)]))
        rows = former.along((ends[0, :2], ends[1, :2]))
        rows = (rows - (0.0, float(leaf.axes.origin[2]))) * 1000.0 + (left, 0.0)
        segments += list(shapely.linestrings(rows))
    if not segments:
        return []
    inside = shapely.get_parts(shapely.intersection(np.array(segments), result.frame))
    lines = inside[shapely.get_type_id(inside) == shapely.GeometryType.LINESTRING]
    runs = shapely.get_coordinates(lines).reshape(-1, 4) / scale
    return list(stroked("hidden", [chained(runs)], pen)) if len(runs) else []


def _steps(result: CutResult, pen: Pen, scale: float) -> Item:
    """Fine upright lines where the cut steps."""
    _, base, _, top = result.extents
    return paths_of("step", [[(u / scale, base / scale), (u / scale, top / scale)] for u in result.steps], pen)
