"""Seen surfaces with a pattern or colour of their own: that one alone, and found again after changes of the model."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import AnyCut, ElevationCut, Perspective, cut_model
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.drawing import DisplayList, DrawingSpec, Paths, Surroundings, compose_drawing, default_standard
from edge_slice.core.drawing.spec import SurfaceStyle
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.drawing.touching.touched_bodies import Pointed, touched_up
from edge_slice.core.drawing.touching.touched_surfaces import surface_at, surface_now
from edge_slice.core.model import Model
from tests.bodies import box, model_of

STANDARD = default_standard()
FRONT = ElevationCut(line=((-1, -2), (12, -2)))
RED = "#b03020"


def walls(*aside: float) -> Model:
    """Two walls in one plane, and one before them; the first may have moved (metres)."""
    x, y = aside or (0.0, 0.0)
    return model_of(
        box((0 + x, 0 + y, 0), (4 + x, 0.3 + y, 3)), box((4, 0, 0), (8, 0.3, 3)), box((9, -1, 0), (10, 0, 2)),
        materials=["Brick", "Brick", "Brick"],
    )  # fmt: skip


def pointed(model: Model, u: float, v: float, cut: AnyCut = FRONT, **style: object) -> TouchUp:
    result = cut_model(model, cut, STANDARD.cut_rules(model))
    return touched_up(Features(model, result), Pointed(act="hatch", at=(u, v), style=style))


def drawn(model: Model, one: TouchUp, cut: AnyCut = FRONT, appearance: str = "lines") -> DisplayList:
    result = cut_model(model, cut, STANDARD.cut_rules(model))
    unlit = SurfaceStyle(shade="none", shadow="none")
    spec = DrawingSpec(scale=50, levels=False, grid=False, appearance=appearance, surfaces=unlit)
    return compose_drawing(model, result, cut, spec, STANDARD, Surroundings(touch_ups=(("touch-up:1", one),)))


def filled(display: DisplayList, colour: str) -> shapely.Geometry:
    """What is filled in a colour, metres in the drawing."""
    rings = [
        shapely.Polygon(ring * 0.05)
        for item in display.items
        if isinstance(item, Paths) and item.fill == colour and item.role == "surface fill"
        for ring in np.split(item.points, item.starts[1:-1])
    ]
    return shapely.union_all(rings)


def test_one_wall_alone_gets_a_colour_and_a_pattern_in_a_drawing_of_lines() -> None:
    one = pointed(walls(), 2000, 1500, tint=RED, hatch="brick English bond")
    assert [s.element for s in one.surfaces] == ["element-0"]
    display = drawn(walls(), one)
    assert filled(display, RED).symmetric_difference(shapely.box(1, 0, 5, 3)).area < 1e-6
    strokes = [i.points * 0.05 for i in display.items if isinstance(i, Paths) and i.role == "surface pattern"]
    assert strokes
    assert np.concatenate(strokes)[:, 0].max() < 5 + 1e-6
    assert {i.role for i in drawn(walls(), pointed(walls(), 2000, 1500, tint=RED)).items} >= {"surface fill"}


def test_where_surfaces_show_only_that_one_differs() -> None:
    usual = drawn(walls(), pointed(walls(), 10500, 500, tint=RED), appearance="presentation")
    assert filled(usual, RED).bounds == pytest.approx((10, 0, 11, 2))
    bare = drawn(walls(), pointed(walls(), 2000, 1500, hatch="none"), appearance="presentation")
    left = [i.points * 0.05 for i in bare.items if isinstance(i, Paths) and i.role == "surface pattern"]
    assert np.concatenate(left)[:, 0].min() > 5 - 1e-6


@given(st.integers(-7, 7).map(lambda k: k / 20), st.integers(-7, 7).map(lambda k: k / 20))
@settings(max_examples=20, deadline=None)
def test_a_surface_is_found_again_where_its_wall_has_moved(x: float, y: float) -> None:
    one = pointed(walls(), 2000, 1500, tint=RED)
    moved = walls(x, y)
    display = drawn(moved, one)
    found = filled(display, RED)
    hidden = x > 0 and y > 0  # its end lies behind the other wall
    assert found.bounds == pytest.approx((1 + x, 0, 5 if hidden else 5 + x, 3), abs=1e-6)


def test_one_that_is_gone_is_told() -> None:
    one = pointed(walls(), 2000, 1500, tint=RED)
    assert surface_now(walls(), one.surfaces[0])[0] == "exact"
    without = model_of(box((4, 0, 0), (8, 0.3, 3)), materials=["Brick"])
    lost = replace(without, elements=(replace(without.elements[0], guid="another"),))
    told = drawn(lost, one).touched[0]
    assert (told.state, told.ghost) == ("lost", ())
    turned = one.surfaces[0].model_copy(update={"normal": (0.0, 0.0, -1.0), "at": (0.0, 0.0, 900.0)})
    assert surface_now(walls(), turned) == ("lost", None)  # its underside is too far from there


def test_in_perspective_the_place_is_that_on_the_face() -> None:
    lens = FRONT.model_copy(update={"perspective": Perspective(distance=6.0, eye=(6.0, 1.6))})
    result = cut_model(walls(), lens)
    touched = surface_at(walls(), result, 4000, 1500)
    assert touched is not None
    assert touched.element == "element-0"
    assert touched.normal == pytest.approx((0, -1, 0))
    assert touched.at[1] == pytest.approx(0, abs=1e-3)  # on the front, 2 m behind the picture plane
    assert touched.at[0] == pytest.approx(5000 - (6000 - 4000) * 8 / 6 + 0, abs=1e-3)


def test_where_nothing_is_seen_there_is_nothing_to_touch_up() -> None:
    with pytest.raises(ValueError, match="neither a cut face here nor a surface"):
        pointed(walls(), 2000, 9000, tint=RED)
