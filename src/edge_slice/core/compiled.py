"""Compiles the core's kernels once, by drawing a small model; numba keeps the machine code on disk."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from edge_slice.core.cut import Perspective, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.lines.chains import chains_of
from edge_slice.core.drawing import DrawingSpec, Surroundings, compose_drawing, default_standard
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.model import BuildUp, Element, Layer, LayerFrame, Material, Model, Storey
from edge_slice.core.model.mesh.bodies import box
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.tables.quantities import quantities_of

MATERIALS = ("Brick", "Mineral wool", "Timber", "Concrete", "Rigid insulation", "Precast")
_MARK = CalloutMark("drawing:1", 1, "1", "–", ((0.2, 0.2), (0.8, 0.2), (0.8, 0.8)))


def _sample() -> Model:
    """A row of boxes, one of each material, and a row behind it."""
    count = 2 * len(MATERIALS)
    corners, triangles = box((0, 0, 0), (1, 1, 3))
    places = [np.array([k % len(MATERIALS), 3.0 * (k // len(MATERIALS)), 0.0]) for k in range(count)]
    mesh = build_mesh(
        np.concatenate([corners + p for p in places]),
        np.concatenate([triangles + 8 * k for k in range(count)]).astype(np.int32),
        np.repeat(np.arange(count), 12).astype(np.int32),
        np.full(12 * count, -1, np.int32),
    )
    elements = tuple(Element(str(k), "", "wall", 0, k % len(MATERIALS)) for k in range(count))
    return Model("", mesh, elements, tuple(Material(m) for m in MATERIALS), storeys=(Storey("s", "", 0.0),))


def _layered(model: Model) -> Model:
    """A model whose first element has layers."""
    built = BuildUp("", (Layer(0, 0.4), Layer(1, 0.6)))
    first = replace(model.elements[0], build_up=0, frame=LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0)))
    return replace(model, elements=(first, *model.elements[1:]), build_ups=(built,))


def compile_kernels() -> None:
    """Takes about a minute the first time, a moment from then on."""
    model, standard = _sample(), default_standard()
    section = SectionCut(line=((-1.0, 0.5), (9.0, 0.5)), hidden="dashed")
    deep = section.model_copy(update={"perspective": Perspective(distance=5.0)})
    plan = PlanCut(storey="s", height=1.2, overhead=1.0)
    for cut in (section, deep, plan):
        result = cut_model(model, cut, standard.cut_rules(model))
        chains_of(result.lines)
        compose_drawing(model, result, cut, DrawingSpec(scale=20), standard, Surroundings(callouts=(_MARK,)))
    compose_drawing(model, result, plan, DrawingSpec(scale=20, appearance="presentation"), standard)
    quantities_of(_layered(model))
