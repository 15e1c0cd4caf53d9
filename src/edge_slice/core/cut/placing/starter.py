"""A starter set: the drawings that every job begins with, placed where they explain most, each with its reason."""

from __future__ import annotations

from dataclasses import dataclass

from edge_slice.core.cut.placing.explaining import Explaining, Target, line_at, names_of
from edge_slice.core.cut.planes.leaves import leaves_of, whole_window
from edge_slice.core.cut.planes.sets import elevations_of, facing_of, plans_of, wind
from edge_slice.core.cut.spec import AnyCut, SectionCut
from edge_slice.core.model import Model

SCALES = (50.0, 100.0, 200.0, 500.0)
SHEET = (700.0, 480.0)  # mm; what one of these drawings may take of an A1 sheet


@dataclass(frozen=True)
class Proposed:
    """A drawing to begin with: `key` tells it from the others, `name` is empty where the automatic one says enough."""

    key: str
    name: str
    cut: AnyCut
    scale: float
    why: str


def starter_set(model: Model, reach: tuple[float, float], without: tuple[str, ...] = ()) -> tuple[Proposed, ...]:
    """Plans of all storeys, four elevations, a long and a cross section. `reach` as for `plans_of`."""
    found: list[Proposed] = []
    for plan in plans_of(model, reach, without=without) if model.storeys else ():
        found.append(Proposed(f"plan {plan.storey}", "", plan, _scale(model, plan), "1.2 m above its floor"))
    for elevation in elevations_of(model, without):
        side = wind(facing_of(model, elevation))
        why = f"the {side} side, from clear of the building"
        found.append(Proposed(f"elevation {side}", "", elevation, _scale(model, elevation), why))
    low, high = model.bounds
    long_axis = 0 if high[0] - low[0] >= high[1] - low[1] else 1
    for name, axis in (("Long section", long_axis), ("Cross section", 1 - long_axis)):
        cut, why = _best_section(model, axis, without)
        found.append(Proposed(name.lower(), name, cut, _scale(model, cut), why))
    return tuple(found)


def _scale(model: Model, cut: AnyCut) -> float:
    """The largest usual scale at which a drawing leaves room on an A1 sheet."""
    left, base, right, top = whole_window(leaves_of(model, cut))
    fits = (s for s in SCALES if (right - left) / s <= SHEET[0] and (top - base) / s <= SHEET[1])
    return next(fits, SCALES[-1])


def _best_section(model: Model, axis: int, without: tuple[str, ...]) -> tuple[SectionCut, str]:
    """The section along an axis of the model (0: x, 1: y) that passes through most of what explains the building."""
    explaining = Explaining(model, axis)
    low, high = (b[:2] for b in model.bounds)
    best = max(explaining.places, key=explaining.worth)
    cut = SectionCut.model_validate(
        {"line": line_at(model, axis, best), "look": "left", "without": without,
         "depth": round(float(high[1 - axis] - low[1 - axis]) / 2, 1)}
    )  # fmt: skip
    return cut, _reason(explaining.met(best))


def _reason(met: list[Target]) -> str:
    """Targets as a reason names them."""
    named = names_of(met)
    return f"through {', '.join(named)}" if named else "through the middle of the building"
