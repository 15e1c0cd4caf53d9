"""python -m bench.breaks [MODEL]: how many strong breaks of depth have a line near them, and how much of what is drawn
has a break near it, in 12 random upright cuts, 6 random directions, 12 perspectives square to the building and 12 at
random (a depth jump of 60 mm is strong, 2 squares are near: of 8 mm, in perspectives, where what is far is small, of
3 mm). Without a model, the demo's; with --perspectives these alone."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

from edge_slice.core.cut import AnyCut, Perspective, PlaneCut, SectionCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from edge_slice.core.model.files.any_file import read_model
from edge_slice.core.solid.directions import building_turn
from oracles.break_check import BreakCheck

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"


def parallel_cuts(model: Model) -> list[tuple[str, AnyCut]]:
    low, high = model.bounds
    middle, reach = (low + high) / 2, float(np.hypot(*(high - low)[:2])) / 2
    rng = np.random.default_rng(3)
    cuts: list[tuple[str, AnyCut]] = []
    for k in range(12):
        angle = rng.uniform(0, 2 * np.pi)
        d, at = np.array([np.cos(angle), np.sin(angle)]), middle[:2] + rng.uniform(-0.3, 0.3, 2) * reach
        line = (tuple((at - d * reach).tolist()), tuple((at + d * reach).tolist()))
        cuts.append((f"cut {k + 1}", SectionCut(line=line, look="left" if k % 2 else "right")))
    for k in range(6):
        n = rng.normal(size=3)
        n /= np.linalg.norm(n)
        point = middle + n * rng.uniform(-0.3, 0.3) * reach
        cuts.append((f"direction {k + 1}", PlaneCut(point=tuple(point.tolist()), normal=tuple(n.tolist()))))
    return cuts


def perspectives(model: Model, square: bool) -> list[tuple[str, AnyCut]]:
    """Along the building's own directions, or in any."""
    low, high = model.bounds
    middle, reach = (low + high) / 2, float(np.hypot(*(high - low)[:2])) / 2
    rng = np.random.default_rng(5)
    turn = np.radians(building_turn(model))
    along = np.array([np.cos(turn), np.sin(turn)])
    cuts: list[tuple[str, AnyCut]] = []
    for k in range(12):
        d = along if k % 2 else np.array([-along[1], along[0]])
        if not square:
            angle = rng.uniform(0, 2 * np.pi)
            d = np.array([np.cos(angle), np.sin(angle)])
        at = middle[:2] + rng.uniform(-0.3, 0.3, 2) * reach
        line = (tuple((at - d * reach).tolist()), tuple((at + d * reach).tolist()))
        lens = Perspective(distance=float(rng.uniform(4, 15)))
        name = f"{'square' if square else 'askew'} {k + 1}"
        cuts.append((name, SectionCut(line=line, look="left" if k % 4 < 2 else "right", perspective=lens)))
    return cuts


def checked(model: Model, cuts: list[tuple[str, AnyCut]], size: float) -> None:
    rows = []
    rules = default_standard().cut_rules(model)
    for name, cut in cuts:
        check = BreakCheck(model, cut_model(model, cut, rules), size)
        rows.append((check.drawn, check.justified))
        print(f"{name:<14} drawn {check.drawn:8.3%}   justified {check.justified:8.3%}", flush=True)
    drawn, justified = np.mean(rows, axis=0)
    print(f"{'mean':<14} drawn {drawn:8.3%}   justified {justified:8.3%}")


def main() -> None:
    named = [a for a in sys.argv[1:] if not a.startswith("--")]
    model = read_model(Path(named[0]) if named else DEMO, threads=2)
    if "--perspectives" not in sys.argv:
        checked(model, parallel_cuts(model), 8.0)
    checked(model, perspectives(model, square=True), 3.0)
    checked(model, perspectives(model, square=False), 3.0)


if __name__ == "__main__":
    main()
