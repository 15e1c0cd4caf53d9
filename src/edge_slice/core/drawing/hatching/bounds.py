"""How much ink a hatch takes, and how it is drawn coarser before that is too much."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.drawing.rules.hatch_rules import Fitted, Hatch, LineFamily, Tile

MOST_POINTS = 1_500_000  # of all hatches of one drawing
STEP = 1.5  # how much coarser the heaviest hatch gets at once
COARSEST = 1e6
BATT_POINTS = 28  # of one wave


@dataclass(frozen=True)
class Covered:
    """What a hatch fills: area in mm² and length of its layers in mm on paper, and the mean thickness of these."""

    area: float
    length: float = 0.0
    thick: float = 1.0

    def __add__(self, other: Covered) -> Covered:
        length = self.length + other.length
        thick = (self.thick * self.length + other.thick * other.length) / length if length else 1.0
        return Covered(self.area + other.area, length, thick)


def points_of(hatch: Hatch, covered: Covered, scale: float, upright: bool) -> float:
    """About how many points a hatch has; rather too many."""
    total = 0.0
    for family in hatch.families:
        factor = family.factor(scale, upright)
        if factor:
            length = covered.area / (family.spacing * factor)
            total += length / 5 + (length / (sum(family.dash) * factor) * len(family.dash) if family.dash else 0.0)
    for tile in hatch.tiles:
        factor = tile.factor(scale, upright)
        if factor:
            total += covered.area / (tile.width * tile.height * factor**2) * sum(len(s) for s in tile.strokes)
    for rule in hatch.scatter:
        total += covered.area / rule.spacing**2 * 7
    if hatch.rings is not None:
        total += covered.area / hatch.rings.spacing * 2.5  # an arc has a point every 0.8 mm, and is cut
    if hatch.fitted is not None:
        total += _fitted(hatch.fitted.at(scale), covered)
    return total


def _fitted(rule: Fitted, covered: Covered) -> float:
    if rule.figure in ("batt", "lattice"):
        return covered.length / (rule.pitch * max(covered.thick, 0.35)) * BATT_POINTS
    if rule.figure in ("across", "members"):
        return covered.length / rule.spacing * 4
    return covered.area / rule.spacing


def coarser(hatch: Hatch, factor: float) -> Hatch:
    """The same hatch with all its sizes that many times larger."""
    if factor == 1.0:
        return hatch

    def times(value: float) -> float:
        return min(value * factor, 10_000.0)

    def family(rule: LineFamily) -> LineFamily:
        dash = tuple(times(d) for d in rule.dash)
        return rule.model_copy(update={"spacing": times(rule.spacing), "shift": rule.shift * factor, "dash": dash})

    def tile(rule: Tile) -> Tile:
        strokes = tuple(tuple((x * factor, y * factor) for x, y in s) for s in rule.strokes)
        change = {"width": times(rule.width), "height": times(rule.height), "strokes": strokes}
        return rule.model_copy(update=change)

    fitted, rings = hatch.fitted, hatch.rings
    if fitted is not None:
        fitted = fitted.model_copy(update={"pitch": fitted.pitch * factor, "spacing": times(fitted.spacing)})
    if rings is not None:
        rings = rings.model_copy(update={"spacing": times(rings.spacing)})
    scatter = tuple(s.model_copy(update={"spacing": times(s.spacing), "size": times(s.size)}) for s in hatch.scatter)
    return hatch.model_copy(
        update={
            "families": tuple(family(f) for f in hatch.families),
            "tiles": tuple(tile(t) for t in hatch.tiles),
            "scatter": scatter,
            "fitted": fitted,
            "rings": rings,
        }
    )


def bounded(
    hatches: dict[str, Hatch], covered: dict[str, Covered], scale: float, upright: bool
) -> tuple[dict[str, Hatch], list[str]]:
    """The hatches in use, the heaviest of them coarser until all together are no more than `MOST_POINTS`, and a finding
    for each of these."""
    shown = {name: hatches[name] for name in covered}
    weight = {name: points_of(shown[name], covered[name], scale, upright) for name in covered}
    factor = dict.fromkeys(covered, 1.0)
    while sum(weight.values()) > MOST_POINTS:
        name = max(weight, key=lambda n: weight[n])
        if factor[name] > COARSEST:
            break
        factor[name] *= STEP
        shown[name] = coarser(hatches[name], factor[name])
        weight[name] = points_of(shown[name], covered[name], scale, upright)
    findings = [
        f"Hatch “{name}” is drawn {factor[name]:.3g} times coarser: as it is, it has too many lines at 1:{scale:g}."
        for name in covered
        if factor[name] > 1.0
    ]
    return shown, findings
