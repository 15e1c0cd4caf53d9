"""Curved walls: their axis from the body, and their layers as rings at any cut."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import Extents, PlanCut, PlaneCut, SectionCut, cut_model
from edge_slice.core.model import LayerFrame, Model
from edge_slice.core.model.ifc.curved import round_axis
from tests.bodies import Body, box, model_of

LAYERS = [("Plaster", 0.02), ("Concrete", 0.2), ("Brick", 0.1)]
THICK = 0.32


def arc_wall(inner: float, first: float, last: float, parts: int = 240, centre: tuple[float, float] = (0, 0)) -> Body:
    a = np.linspace(first, last, parts + 1)
    ring = np.column_stack((np.cos(a), np.sin(a)))
    low = np.concatenate((ring * inner, ring[::-1] * (inner + THICK))) + np.array(centre)
    n = len(low)
    vertices = np.vstack((np.column_stack((low, np.zeros(n))), np.column_stack((low, np.full(n, 2.5)))))
    faces = []
    for i in range(n):
        j = (i + 1) % n
        faces += [(j, i, n + i), (j, n + i, n + j)]
    for k in range(parts):
        p, q, r, s = k, k + 1, n - 2 - k, n - 1 - k
        faces += [(p, q, r), (p, r, s), (n + p, n + r, n + q), (n + p, n + s, n + r)]
    return vertices, np.array(faces)


@given(st.floats(1.5, 20), st.floats(0, 6), st.floats(0.8, 3.0), st.floats(-50, 50))
@settings(max_examples=30)
def test_axis_and_radii_are_found_from_the_body(inner: float, first: float, sweep: float, x: float) -> None:
    body = arc_wall(inner, first, first + sweep, 48, (x, -x))
    found = round_axis(*body)
    assert found is not None
    centre, low, high = found
    assert centre == pytest.approx([x, -x], abs=0.01)
    assert (low, high) == pytest.approx((inner, inner + THICK), abs=0.01)


def test_straight_bodies_are_not_round() -> None:
    assert round_axis(*box((0, 0, 0), (4, 0.3, 2.5))) is None


def round_wall(outward: bool = True) -> Model:
    frame = LayerFrame((0.0, 0.0, 0.0), (1.0 if outward else -1.0, 0.0, 0.0), 3.0 if outward else 3.0 + THICK)
    return model_of(arc_wall(3.0, 0.2, 2.9), layers=LAYERS, frame=frame)


@pytest.mark.parametrize("outward", [True, False])
def test_layers_of_a_plan_are_rings_of_their_thickness(outward: bool) -> None:
    faces = cut_model(round_wall(outward), PlanCut(storey="storey-0")).faces
    radius = 3.0
    sizes = [t for _, t in LAYERS] if outward else [t for _, t in LAYERS][::-1]
    order = sorted(range(3), reverse=not outward)
    areas = {k: sum(f.polygon.area for f in faces if f.layer == k) / 1e6 for k in range(3)}
    for k, thick in zip(order, sizes, strict=True):
        assert areas[k] == pytest.approx(2.7 / 2 * ((radius + thick) ** 2 - radius**2), rel=0.02)
        radius += thick
    assert sum(areas.values()) == pytest.approx(sum(f.polygon.area for f in faces) / 1e6)


def test_layers_of_a_section_have_their_slanting_thickness() -> None:
    """A plane that passes the axis at a distance cuts the rings between two lines each."""
    faces = cut_model(round_wall(), SectionCut(line=((-6, 1.0), (6, 1.0)), extents=Extents(base=0, top=2.5))).faces
    bounds = np.cumsum([3.0] + [t for _, t in LAYERS])
    reach = np.sqrt(bounds**2 - 1.0)
    for k in range(3):
        areas = sorted(f.polygon.area / 2.5e6 for f in faces if f.layer == k)
        assert areas == pytest.approx([reach[k + 1] - reach[k]] * 2, rel=0.03)


def test_oblique_planes_cut_rings_to_ellipses() -> None:
    tilt = math.radians(30)
    spec = PlaneCut(point=(0, 0, 1.2), normal=(0, math.sin(tilt), math.cos(tilt)))
    level = cut_model(round_wall(), PlanCut(storey="storey-0")).faces
    faces = cut_model(round_wall(), spec).faces
    middle = sum(f.polygon.area for f in faces if f.layer == 1)
    assert 0 < middle < sum(f.polygon.area for f in level if f.layer == 1) / math.cos(tilt)
    assert {f.layer for f in faces} == {0, 1, 2}
