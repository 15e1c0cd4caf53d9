"""python -m bench.callouts: how long the markers of nine callouts take to be placed in drawings of the demo, beside the
whole composing of the same drawings."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from bench.timing import median
from edge_slice.core.cut import AnyCut, PlanCut, SectionCut, cut_model
from edge_slice.core.drawing import DisplayList, DrawingSpec, DrawingStandard, compose_drawing, default_standard
from edge_slice.core.drawing.annotations.callouts import CalloutMark, Paper, placed_callouts
from edge_slice.core.drawing.annotations.clear_places import faces_on_paper
from edge_slice.core.drawing.annotations.markers import marker_form
from edge_slice.core.model import Model
from edge_slice.core.model.ifc.reading import read_ifc

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"


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
            measure(f"{name} 1:{scale:g}", model, standard, cut, DrawingSpec(scale=scale))


def measure(name: str, model: Model, standard: DrawingStandard, cut: AnyCut, style: DrawingSpec) -> None:
    shown = standard.shown_cut(cut, style.scale)
    result = cut_model(model, shown, standard.cut_rules(model))

    def composed() -> DisplayList:
        return compose_drawing(model, result, shown, style, standard)

    display = composed()
    marks = marks_in(display.frame, style.scale)
    rings = [np.array(m.ring) * 1000 / style.scale for m in marks]
    faces = faces_on_paper(result.faces, lambda p: p / style.scale)
    form, corner = marker_form(standard), standard.marker.callouts.corner

    def placed() -> object:
        return placed_callouts(marks, rings, form, corner, Paper(display.frame, list(display.items), faces))

    whole, placing = median(composed) * 1000, median(placed) * 1000
    print(f"{name}: nine markers placed in {placing:.0f} ms, {placing / whole:.2f} of composing")


if __name__ == "__main__":
    main()
