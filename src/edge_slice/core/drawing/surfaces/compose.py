"""Seen surfaces as items of a drawing: under its lines."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import shapely

from edge_slice.core.cut.faces.closing import polygons_in
from edge_slice.core.cut.lines.outlines import sides_of
from edge_slice.core.cut.surfaces.overlay import whole
from edge_slice.core.cut.surfaces.regions import Region, SeenSurfaces, seen_surfaces
from edge_slice.core.drawing.display import Item, Paths, Pattern, PatternLine, Pen, Runs, joined, paths_of, together
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.hatching.bounds import MOST_POINTS
from edge_slice.core.drawing.hatching.filling import patterned
from edge_slice.core.drawing.hatching.fills import rings_on_paper
from edge_slice.core.drawing.looks import AS_USUAL, Looks
from edge_slice.core.drawing.rules.appearance import Appearance
from edge_slice.core.drawing.strokes.borders import on_frame
from edge_slice.core.drawing.strokes.chains import chained
from edge_slice.core.drawing.surfaces.colours import mixed
from edge_slice.core.drawing.surfaces.outlines import parts_before
from edge_slice.core.drawing.surfaces.patterns import PatternStrokes, face_boxes, pattern_in, started
from edge_slice.core.drawing.surfaces.profile import profile_of
from edge_slice.core.drawing.surfaces.tiles import Lighting, base_colours, seen_classes, shadows_of, tiles
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.stages import stage

SHADOW_LINES = PatternLine(45.0, 1.2, 0.0)  # of shadows as a hatch, mm on paper
FAINT = 0.4  # how much of the ink of patterns lies over the colour of their surface


@dataclass(frozen=True)
class SurfaceItems:
    """What lies under the lines of a drawing, the line round the building, over them, and what could not be shown."""

    under: list[Item]
    over: list[Item]
    findings: list[str]


Dressed = Mapping[int, TouchUp]  # surfaces with a pattern or colour of their own, by their flat face
BARE: Dressed = {}


def surface_items(draft: Draft, looks: Looks, dressed: Dressed = BARE) -> SurfaceItems:
    """Seen surfaces by the drawing's appearance, and those that are touched up."""
    appearance = draft.standard.appearance_of(draft.spec)
    if not (appearance.shows or dressed) or draft.result.memory is None:
        return SurfaceItems([], [], [])
    with stage("surfaces"):
        seen = seen_surfaces(draft.result)
    with stage("shadows"):
        lighting = Lighting.of(draft, appearance)
    shows = list(zip(seen.regions, seen_classes(draft, seen.regions), strict=True))
    with stage("patterns"):
        strokes, findings = _patterns(draft, seen, _named(draft, shows, appearance, looks, dressed), appearance)
    with stage("tiles"):
        colours = base_colours(draft, shows, appearance, looks)
        for k, region in enumerate(seen.regions):
            if region.flat in dressed and (tint := dressed[region.flat].tint) is not None:
                colours[k] = tint
        for k, found in strokes.items():
            colours[k] = mixed(colours[k], draft.pens["surface pattern"].colour, found.grey)
        by_colour = tiles(draft, seen, appearance, colours, lighting)
        items = [_tile(draft, colour, shapes) for colour, shapes in sorted(by_colour.items())]
    items += _pattern_items(draft, [(colours[k], strokes[k]) for k in sorted(strokes)])
    if lighting.lit is not None and appearance.shadow in ("hatch", "outline"):
        items += _shadow_items(draft, seen, lighting, appearance)
    with stage("outlines behind"):
        over = _outline_items(draft, seen, appearance) + _profile_items(draft, seen, appearance)
    return SurfaceItems(items, over, findings)


def _tile(draft: Draft, colour: str, shapes: list[shapely.Geometry]) -> Item:
    rings = rings_on_paper([p for shape in shapes for p in polygons_in(shape)], draft.scale)
    return paths_of("surface fill", rings, None, colour, True)


def _named(
    draft: Draft, shows: list[tuple[Region, str]], appearance: Appearance, looks: Looks, dressed: Dressed
) -> dict[int, str]:
    """The patterns of regions, shown with their class of material, that have one."""
    found = {}
    for k, (region, kind) in enumerate(shows):
        own = dressed[region.flat].hatch if region.flat in dressed else None
        if own is not None:
            found[k] = own if own in draft.standard.hatches else ""
        elif appearance.patterns:
            found[k] = _pattern_of(draft, region, kind, looks)
    return {k: name for k, name in found.items() if name}


def _patterns(
    draft: Draft, seen: SeenSurfaces, named: dict[int, str], appearance: Appearance
) -> tuple[dict[int, PatternStrokes], list[str]]:
    """The strokes of patterns by the number of their region; none, and a finding, where they are too many."""
    boxes = face_boxes(draft.model, {seen.regions[k].flat for k in named})
    width = draft.pens["surface pattern"].width
    found: dict[int, PatternStrokes] = {}
    points = 0
    for k, name in named.items():
        box = boxes[seen.regions[k].flat]
        region = started(seen.regions[k], draft.model, appearance.pattern_start, box)
        found[k] = pattern_in(region, draft.standard.hatches[name], box, draft.scale, width)
        points += found[k].points
        if points > MOST_POINTS:
            return {}, [f"Patterns of seen surfaces were left out: they have too many lines at 1:{draft.scale:g}."]
    crowded = sorted({named[k] for k, one in found.items() if one.crowded})
    return found, [f"Pattern “{name}” shows as a tint: it has too many lines at 1:{draft.scale:g}." for name in crowded]


def _pattern_of(draft: Draft, region: Region, kind: str, looks: Looks) -> str:
    look = int(looks.of[region.element])
    own = looks.looks[look].pattern if look != AS_USUAL else None
    name = own if own is not None else draft.standard.materials[kind].pattern
    return name if name in draft.standard.hatches else ""


def _pattern_items(draft: Draft, strokes: list[tuple[str, PatternStrokes]]) -> list[Item]:
    """The strokes of patterns, each a little darker than the colour of its surface; one item for each colour, and for
    each hatch that a file could say."""
    pen, scale = draft.pens["surface pattern"], draft.scale
    lines: dict[Pen, list[Runs]] = {}
    shapes: dict[str, list[Runs]] = {}
    hatches: dict[tuple[Pen, tuple[PatternLine, ...], tuple[float, float]], list[tuple[Runs, Pattern]]] = {}
    for colour, found in strokes:
        own = replace(pen, colour=mixed(colour, pen.colour, FAINT))
        lines.setdefault(own, []).append(_on_paper(found.lines, scale))
        shapes.setdefault(own.colour, []).append(_on_paper(found.shapes, scale))
        even = _on_paper(found.even, scale)
        if found.hatch is None:
            lines[own].append(even)
        else:
            hatches.setdefault((own, found.hatch.lines, found.hatch.origin), []).append((even, found.hatch))
    items: list[Item] = []
    for (own, said, origin), parts in hatches.items():
        points, starts = together([(hatch.points, hatch.starts) for _, hatch in parts])
        pattern = Pattern(points, starts, said, origin)
        items += [replace(one, pattern=pattern) for one in joined("surface pattern", [run for run, _ in parts], own)]
    for own, runs in lines.items():
        items += joined("surface pattern", runs, own)
    for colour, runs in shapes.items():
        items += joined("surface pattern", runs, None, colour, True)
    return items


def _on_paper(run: Runs, scale: float) -> Runs:
    return run[0] / scale, run[1]


def _shadow_items(draft: Draft, seen: SeenSurfaces, lighting: Lighting, appearance: Appearance) -> list[Item]:
    assert lighting.lit is not None
    dark = shadows_of(seen.regions, lighting.lit)
    in_shadow = polygons_in(whole([s for s in dark if not s.is_empty]))
    pen = Pen(draft.pens["hatch"].width, appearance.shadow_colour)
    if appearance.shadow == "outline":
        return [paths_of("shadow", rings_on_paper(in_shadow, draft.scale), pen, None, True)] if in_shadow else []
    paper = [shapely.transform(p, lambda at: at / draft.scale) for p in in_shadow]
    return list(patterned("shadow", paper, (SHADOW_LINES,), pen)) if paper else []


def _outline_items(draft: Draft, seen: SeenSurfaces, appearance: Appearance) -> list[Item]:
    """Lines again, heavier, where what lies behind them is much farther away."""
    if appearance.outline <= 0:
        return []
    segments = parts_before(draft, seen, appearance.outline_gap * 1000.0)
    if not len(segments):
        return []
    return [Paths("profile", *chained(segments / draft.scale), False, Pen(appearance.outline, draft.standard.ink))]


def _profile_items(draft: Draft, seen: SeenSurfaces, appearance: Appearance) -> list[Item]:
    """The line round the building, but where the extents cut it off."""
    if appearance.profile <= 0:
        return []
    segments = sides_of(profile_of(draft, seen))
    segments = segments[~on_frame(segments, draft.result.frame)] if len(segments) else segments
    if not len(segments):
        return []
    pen = Pen(appearance.profile, draft.standard.ink)
    points, starts = chained(segments / draft.scale)
    return [Paths("profile", points, starts, False, pen)]
