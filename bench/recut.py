"""python -m bench.recut: what cutting again costs after a change, as a share of cutting anew, in one run."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np

from bench.timing import median
from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.drawing import default_standard
from edge_slice.core.model import Model
from edge_slice.core.model.ifc.reading import read_ifc

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"


def shifted(model: Model, element: int) -> Model:
    """The model with one element moved by 50 mm."""
    mesh = model.mesh
    mine = np.unique(mesh.triangles[mesh.triangle_element == element])
    vertices = mesh.vertices.copy()
    vertices[mine] += np.array([0.05, 0.0, 0.0])
    return replace(model, mesh=replace(mesh, vertices=vertices))


def main() -> None:
    model = read_ifc(DEMO)
    rules = default_standard().cut_rules(model)
    spec = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5)
    first = cut_model(model, spec, rules)
    anew = median(lambda: cut_model(model, spec, rules))
    chair = next(k for k, e in enumerate(model.elements) if e.kind == "furniture" and k in first.lines.element)
    moved = shifted(model, chair)
    cases = [
        ("nothing", model, spec),
        ("depth", model, spec.model_copy(update={"depth": 5.2})),
        ("hidden lines on", model, spec.model_copy(update={"hidden": "dashed"})),
        ("one element moved", moved, spec),
        ("line moved", model, spec.model_copy(update={"line": ((-3, 2.2), (25, 2.2))})),
    ]
    print(f"cut anew: {anew * 1000:.1f} ms\n")
    print(f"{'changed':<20}{'time':>10}{'share':>8}   {'computed anew'}")
    for name, changed, cut in cases:
        changed.digests  # noqa: B018  as a stored revision has them
        again = cut_model(changed, cut, rules, earlier=first)
        taken = median(lambda m=changed, c=cut: cut_model(m, c, rules, earlier=first))
        stages = ", ".join(again.work.stages) or "nothing"
        work = f"{stages}: {again.work.sliced} sliced, {again.work.traced} traced"
        print(f"{name:<20}{taken * 1000:>7.1f} ms{taken / anew:>8.0%}   {work}")


if __name__ == "__main__":
    main()
