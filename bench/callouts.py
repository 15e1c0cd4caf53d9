"""python -m bench.callouts: how long the markers of nine callouts take to be placed in drawings of the demo, beside the
whole composing of the same drawings."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.model.ifc import read_ifc

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"
ROUNDS = 9


def median(act: Callable[[], object]) -> float:
    """ms, after a first time that warms everything."""
    act()
    times = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        act()
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def marks_in(frame: tuple[float, float, float, float], scale: float) -> tuple[CalloutMark, ...]:
    left, base, right, top = (x * scale / 1000 for x in frame)
    places = [(u, v) for u in np.linspace(left, right, 5)[1:4] for v in np.linspace(base, top, 5)[1:4]]
    rings = [((u, v), (u + 0.8, v), (u + 0.8, v + 0.6), (u, v + 0.6)) for u, v in places]
    return tuple(CalloutMark(f"drawing:{k}", k, str(k), "–", ring) for k, ring in enumerate(rings))


def main() -> None:
    model, standard = read_ifc(DEMO, threads=2), default_standard()
    cuts: list[tuple[str, AnyCut]] = [
        ("section", SectionCut(line=((10.6, -2), (10.6, 12)), depth=6)),
        ("plan", PlanCut(storey=model.storeys[1].guid, depth=1.5, overhead=1.5)),
    ]
    for name, cut in cuts:
        for scale in (50.0, 100.0):
            style, shown = DrawingSpec(scale=scale), standard.shown_cut(cut, scale)
            result = cut_model(model, shown, standard.cut_rules(model))

            def composed(marks: tuple[CalloutMark, ...] = (), s=style, c=shown, r=result) -> object:  # type: ignore[no-untyped-def]
                return compose_drawing(model, r, c, s, standard, callouts=marks)

            frame = compose_drawing(model, result, shown, style, standard).frame
            marks = marks_in(frame, scale)
            plain, marked = median(composed), median(lambda m=marks, f=composed: f(m))  # type: ignore[misc]
            print(
                f"{name} 1:{scale:g}: nine markers {marked - plain:.0f} ms, {(marked - plain) / plain:.2f} of composing"
            )


if __name__ == "__main__":
    main()
