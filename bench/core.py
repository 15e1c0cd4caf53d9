"""python -m bench.core: how long the core takes for the demo's drawings, stage by stage.

Times are medians of a few runs in one process; the ratios to a yardstick (sorting a million numbers) are what to
compare between machines and versions.
"""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np

from bench.timing import median
from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.render.screen import to_screen

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"


def main() -> None:
    standard = default_standard()
    start = time.perf_counter()
    model = read_ifc(DEMO)
    reading = time.perf_counter() - start
    strengths = standard.cut_rules(model)
    numbers = np.random.default_rng(1).random(1_000_000)
    yard = median(lambda: np.sort(numbers))
    print(f"demo: {len(model.mesh.triangles)} triangles, {len(model.elements)} elements; read in {reading:.1f} s")
    print(f"yardstick: {yard * 1000:.1f} ms\n")
    print(f"{'drawing':<28}{'cut':>10}{'compose':>10}{'screen':>10}{'all':>10}{'yardsticks':>12}")
    specs: list[tuple[str, AnyCut, float]] = [
        ("long section 1:50", SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5), 50),
        ("cross section 1:50", SectionCut(line=((10.6, -3), (10.6, 13)), depth=8), 50),
        ("section, unlimited, 1:20", SectionCut(line=((-3, 6.9), (25, 6.9))), 20),
        ("lower plan 1:100", PlanCut(storey=model.storeys[1].guid, depth=2.4), 100),
    ]
    for name, spec, scale in specs:
        style = DrawingSpec(scale=scale)
        result = cut_model(model, spec, strengths)
        display = compose_drawing(model, result, spec, style, standard)
        times = [
            median(lambda s=spec: cut_model(model, s, strengths)),
            median(lambda r=result, s=spec, t=style: compose_drawing(model, r, s, t, standard)),
            median(lambda d=display: to_screen(d, {})),
        ]
        row = "".join(f"{t * 1000:>7.0f} ms" for t in (*times, sum(times)))
        print(f"{name:<28}{row}{sum(times) / yard:>12.1f}")


if __name__ == "__main__":
    main()
