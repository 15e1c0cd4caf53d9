"""python bench/core.py: how long the core takes for the demo's drawings, stage by stage.

Times are medians of a few runs in one process; the ratios are what to compare between machines and versions:
each stage against a yardstick (sorting a million numbers) timed in between, and the growth of a cut's time when
the model is laid out 4 and 16 times.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np

from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.model import Model
from edge_slice.core.model.ifc import read_ifc
from edge_slice.core.model.mesh import build_mesh
from edge_slice.core.render.screen import to_screen

RUNS = 7
DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"


def median(act: Callable[[], object], runs: int = RUNS) -> float:
    act()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def repeated(model: Model, across: int) -> Model:
    """The model laid out across x across times, 60 m apart."""
    vertices, triangles, owner, material = [], [], [], []
    count, points = len(model.elements), len(model.mesh.vertices)
    for k in range(across * across):
        step = np.array([60.0 * (k % across), 60.0 * (k // across), 0.0])
        vertices.append(model.mesh.vertices + step)
        triangles.append(model.mesh.triangles + k * points)
        owner.append(model.mesh.triangle_element + k * count)
        material.append(model.mesh.triangle_material)
    mesh = build_mesh(*(np.concatenate(part) for part in (vertices, triangles, owner, material)))
    return replace(model, mesh=mesh, elements=model.elements * across**2)


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
    print(f"\n{'growth':<28}{'triangles':>12}{'cut':>10}{'ratio':>8}{'size':>8}")
    base = 0.0
    for across in (1, 2, 4):
        large = repeated(model, across)
        spec = SectionCut(line=((-3, 2.1), (60.0 * across, 2.1)))
        taken = median(lambda m=large, s=spec: cut_model(m, s, strengths), 3)
        base = base or taken
        name = f"{across * across:>3} buildings"
        size = f"{len(large.mesh.triangles):>12}"
        print(f"{name:<28}{size}{taken * 1000:>7.0f} ms{taken / base:>8.1f}{across**2:>8}")


if __name__ == "__main__":
    main()
