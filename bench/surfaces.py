"""python -m bench.surfaces [MODEL.ifc]: what seen surfaces cost beside the lines of the same elevation, in seconds and
yardsticks; how that grows with the building; and how far they agree with the depth of everything in twelve directions.

A yardstick is the time to sort a million numbers, in the same run."""

from __future__ import annotations

import math
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

from bench.office import SIZES, office
from bench.timing import median
from edge_slice.core.compiled import compile_kernels
from edge_slice.core.cut import ElevationCut, Extents, PlaneCut, SectionCut, cut_model
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.cut.surfaces.lit import lit_anew
from edge_slice.core.cut.surfaces.regions import seen_anew, seen_surfaces
from edge_slice.core.cut.surfaces.sun import drafted_light
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.drawing.spec import SurfaceStyle
from edge_slice.core.memory import MEMORY
from edge_slice.core.model import Model
from edge_slice.core.model.files.any_file import read_model
from oracles.surface_check import surface_agreement

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"
POINTS = 1000
STEPS, SHARE = 10, 0.75  # of a section that moves: places, and where along the building it begins
UNLIT = SurfaceStyle(shadow="none", shade="none", outline=0.0, profile=0.0)


def costs(name: str, model: Model, cut: ElevationCut, yard: float) -> tuple[int, float]:
    """Triangles, and seconds of regions."""
    standard = default_standard()
    rules = standard.cut_rules(model)
    result = cut_model(model, cut, rules)
    light = drafted_light(result.axes.u, result.axes.v, result.axes.w)
    seen = seen_surfaces(result)
    presented = DrawingSpec(scale=100, appearance="presentation")
    in_one_light = presented.model_copy(update={"surfaces": UNLIT})
    acts = {
        "lines": lambda: cut_model(model, cut, rules),
        "regions": lambda: seen_anew(result),
        "shadows": lambda: lit_anew(result, seen, light),
        "drawing as lines": lambda: compose_drawing(model, result, cut, DrawingSpec(scale=100), standard),
        "fills and patterns, from regions on": lambda: compose_drawing(model, result, cut, in_one_light, standard),
        "with shadows too": lambda: compose_drawing(model, result, cut, presented, standard),
    }
    print(f"\n{name}: {len(model.mesh.triangles)} triangles, {len(seen.regions)} regions")
    found = {}
    for what, act in acts.items():
        found[what] = median(partial(forgetful, act), 3)
        print(f"  {what:<36}{found[what]:>8.3f} s{found[what] / yard:>8.1f} yardsticks")
    return len(model.mesh.triangles), found["regions"]


def moved(name: str, model: Model, yard: float) -> None:
    """A presented section across the building, each time 0.1 m further, from its cut to its drawing."""
    standard = default_standard()
    rules = standard.cut_rules(model)
    (left, front, base), (right, back, top) = (corner.tolist() for corner in model.bounds)
    found = []
    for k in range(STEPS):
        x = left + SHARE * (right - left) + 0.1 * k
        cut = SectionCut(
            line=((x, front), (x, back)), depth=6.0, without=("planting",), extents=Extents(base=base, top=top)
        )
        result = cut_model(model, cut, rules)
        spec = DrawingSpec(scale=50, appearance="presentation")
        start = time.perf_counter()
        compose_drawing(model, result, cut, spec, standard)
        found.append(time.perf_counter() - start)
    middle = float(np.median(found[1:]))
    print(f"  {f'section of {name}, moved by 0.1 m':<36}{middle:>8.3f} s{middle / yard:>8.1f} yardsticks")


def forgetful(act: Callable[[], object]) -> None:
    """An act for which nothing that was found before is at hand."""
    most, MEMORY.most = MEMORY.most, 0
    MEMORY.make_room()
    MEMORY.most = most
    act()


def agreement(model: Model) -> None:
    """In twelve directions, half of them through the building."""
    low, high = model.bounds
    rules = default_standard().cut_rules(model)
    worst = 1.0
    for number in range(12):
        n = np.random.default_rng(number).normal(size=3)
        n /= np.linalg.norm(n)
        at = (low + high) / 2 + n * float(np.linalg.norm(high - low)) * (0.8 if number % 2 else 0.05)
        x, y, z = n.tolist()
        spec = PlaneCut(point=(float(at[0]), float(at[1]), float(at[2])), normal=(x, y, z))
        result = cut_model(model, spec, rules)
        worst = min(worst, surface_agreement(model, spec, result, seen_surfaces(result), POINTS))
    print(f"\npoints that are right in the worst of twelve directions: {worst:.2%}")


def main(models: list[Path]) -> None:
    compile_kernels()
    numbers = np.random.default_rng(1).random(1_000_000)
    yard = median(lambda: np.sort(numbers))
    print(f"yardstick: {yard * 1000:.1f} ms")
    building = read_model(models[0] if models else DEMO)
    costs("building", building, elevations_of(building, ("planting",))[2], yard)
    moved("the building", building, yard)
    rows = []
    for size in (1, 10):
        model = office(*SIZES[size])
        rows.append(costs(f"office, {size} times", model, elevations_of(model)[0], yard))
    power = math.log(rows[1][1] / rows[0][1]) / math.log(rows[1][0] / rows[0][0])
    print(f"\nregions grow with the power {power:.2f} of the triangles")
    agreement(building)


if __name__ == "__main__":
    main([Path(name) for name in sys.argv[1:]])
