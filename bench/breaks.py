"""python -m bench.breaks [MODEL]: how many strong breaks of depth have a line near them, and how much of what is drawn
has a break near it, in 12 random upright cuts and 6 random directions (a depth jump of 60 mm is strong, 2 squares of
8 mm are near). Without a model, the demo's."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

from edge_slice.core.cut import AnyCut, PlaneCut, SectionCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model.reading import read_model
from oracles.break_check import BreakCheck

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"


def main() -> None:
    model = read_model(Path(sys.argv[1]) if len(sys.argv) > 1 else DEMO, threads=2)
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
    rows = []
    rules = default_standard().cut_rules(model)
    for name, cut in cuts:
        check = BreakCheck(model, cut_model(model, cut, rules))
        rows.append((check.drawn, check.justified))
        print(f"{name:<14} drawn {check.drawn:8.3%}   justified {check.justified:8.3%}")
    drawn, justified = np.mean(rows, axis=0)
    print(f"{'mean':<14} drawn {drawn:8.3%}   justified {justified:8.3%}")


if __name__ == "__main__":
    main()
