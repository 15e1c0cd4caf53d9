"""Tiles of seen surface: each with one colour, from the rules of an appearance, light and glass."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.surfaces.lit import lit_shapes
from edge_slice.core.cut.surfaces.overlay import common, minus, whole
from edge_slice.core.cut.surfaces.regions import Region, SeenSurfaces
from edge_slice.core.drawing.draft import Draft
from edge_slice.core.drawing.looks import AS_USUAL, Looks
from edge_slice.core.drawing.rules.appearance import Appearance
from edge_slice.core.drawing.surfaces.colours import TINTS, WHITE, mixed

F64 = NDArray[np.float64]
OWN_SHADOW = 0.7  # of a cast one: surfaces turned away from the sun have light from the sky
STEPS = ((0.6, 0.0), (0.25, 0.05), (0.0, 0.1))  # cosine to the light from which on, how much darker
DISTANCES = 8  # steps by which what is far is paler: neighbours mostly share one, and show no seam
THIN = 1e-4  # mm of the building; narrower strips are slivers
SMOOTH, STAGES = 0.14, 12  # how much darker at most, and in how many stages


@dataclass(frozen=True)
class Lighting:
    """The way the light goes (3,) in the model, and the lit part of each region, None where there is none; both None
    where a drawing shows no light."""

    light: F64 | None = None
    lit: tuple[shapely.Geometry | None, ...] | None = None

    @staticmethod
    def of(draft: Draft, appearance: Appearance) -> Lighting:
        if appearance.shadow == "none" and appearance.shade == "none":
            return Lighting()
        light = appearance.sun.light(draft.result.axes, draft.model.north)
        return Lighting(light, lit_shapes(draft.result, light) if appearance.shadow != "none" else None)


def base_colours(draft: Draft, shows: list[tuple[Region, str]], appearance: Appearance, looks: Looks) -> list[str]:
    """The colour of each region, shown with its class of material, in full light, on paper."""
    reach = draft.result.reach or max((r.depth for r, _ in shows), default=1.0)
    found = []
    for region, kind in shows:
        colour = _colour(draft, (region, kind), appearance, looks)
        far = round(min(1.0, max(0.0, region.depth / max(reach, 1.0))) * DISTANCES) / DISTANCES
        found.append(mixed(mixed(colour, WHITE, 1 - appearance.strength), WHITE, appearance.fade * far))
    return found


def _colour(draft: Draft, shows: tuple[Region, str], appearance: Appearance, looks: Looks) -> str:
    """The colour of a region of a class of material, before distance and light."""
    region, kind = shows
    look = int(looks.of[region.element])
    tint = looks.looks[look].tint if look != AS_USUAL else None
    if tint is not None:
        return tint
    element = draft.model.elements[region.element]
    match appearance.fill:
        case "material":
            rule = draft.standard.materials[kind]
            return rule.seen_tint or rule.tint
        case "kind":
            return TINTS[sorted(draft.model.kinds).index(element.kind) % len(TINTS)]
        case "storey":
            return TINTS[(element.storey + 1) % len(TINTS)]
        case "distance" | "colour":
            return appearance.colour
    return WHITE


def seen_classes(draft: Draft, regions: Sequence[Region]) -> list[str]:
    """The class of material that each region shows."""
    of = draft.standard.face_classes(draft.model)
    return [of(draft.model.elements[r.element], r.material, -1) for r in regions]


def shadows_of(regions: Sequence[Region], lit: Sequence[shapely.Geometry | None]) -> list[shapely.Geometry]:
    """What of each region lies in shadow, but for slivers of rounding along its lit part."""
    found = np.array([r.shape for r in regions], dtype=object)
    mixed = np.flatnonzero([one is not None for one in lit])
    if len(mixed):
        parts, of = shapely.get_parts(minus(found[mixed], np.array(lit, dtype=object)[mixed]), return_index=True)
        wide = shapely.area(parts) > THIN * shapely.length(parts)
        found[mixed] = shapely.Polygon()
        held, owner = np.unique(of[wide], return_inverse=True)
        if len(held):
            found[mixed[held]] = shapely.multipolygons(parts[wide], indices=owner)
    return list(found)


def tiles(
    draft: Draft, seen: SeenSurfaces, appearance: Appearance, colours: list[str], lighting: Lighting
) -> dict[str, list[shapely.Geometry]]:
    """Shapes (mm of the building) by colour; what would be as white as paper has none."""
    glass = _Glass.over(draft, seen, appearance)
    dark = shadows_of(seen.regions, lighting.lit) if lighting.lit is not None and appearance.shadow == "tint" else None
    found: dict[str, list[shapely.Geometry]] = {}
    for k, (region, colour) in enumerate(zip(seen.regions, colours, strict=True)):
        for shape, darker in _parts(region, (k, dark), appearance, lighting):
            tone = mixed(colour, appearance.shadow_colour, darker)
            for piece, tinted in glass.parted(shape, tone):
                if tinted != WHITE and not piece.is_empty:
                    found.setdefault(tinted, []).append(piece)
    return found


def _parts(
    region: Region, shadow: tuple[int, list[shapely.Geometry] | None], appearance: Appearance, lighting: Lighting
) -> list[tuple[shapely.Geometry, float]]:
    """A region, by its number, in light and in `shadow`, that of each region, and how much darker either is than its
    colour."""
    if lighting.light is None:
        return [(region.shape, 0.0)]
    towards = region.towards(lighting.light)
    shaded = _shade(appearance, towards)
    k, dark_shapes = shadow
    if dark_shapes is None or lighting.lit is None:
        return [(region.shape, shaded)]
    lit = lighting.lit[k]
    dark = appearance.shadow_strength * (1.0 if towards > 0 else OWN_SHADOW)
    if lit is None:
        return [(region.shape, dark)]
    return [(lit, shaded), (dark_shapes[k], dark)]


def _shade(appearance: Appearance, towards: float) -> float:
    """How much darker a surface is than its colour; paper without a colour stays white."""
    if appearance.fill == "none":
        return 0.0
    if appearance.shade == "steps":
        return next((darker for least, darker in STEPS if towards >= least), STEPS[-1][1])
    if appearance.shade == "smooth":
        return round((1 - max(towards, 0.0)) * STAGES) / STAGES * SMOOTH
    return 0.0


@dataclass(frozen=True)
class _Glass:
    """Clear glass before what is seen: its shape, and what it does to colours."""

    shape: shapely.Geometry | None
    tint: str
    share: float

    @staticmethod
    def over(draft: Draft, seen: SeenSurfaces, appearance: Appearance) -> _Glass:
        rule = draft.standard.materials.get("glass")
        if not seen.clear or rule is None or appearance.fill == "none":
            return _Glass(None, WHITE, 0.0)
        over = whole([r.shape for r in seen.clear])
        shapely.prepare(over)
        return _Glass(over, rule.seen_tint or rule.tint, appearance.glass_strength)

    def parted(self, shape: shapely.Geometry, colour: str) -> list[tuple[shapely.Geometry, str]]:
        if self.shape is None or not shapely.intersects(self.shape, shape):
            return [(shape, colour)]
        behind = common(shape, self.shape)
        return [(minus(shape, self.shape), colour), (behind, mixed(colour, self.tint, self.share))]
