"""Axes and extents of cuts, and what is refused."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import Extents, ImpossibleCut, PlanCut, SectionCut, cut_model, leaves_of
from edge_slice.core.cut.planes.leaves import whole_window
from tests.bodies import box, model_of

MODEL = model_of(box((0, 0, 0), (4, 3, 2.5)))
place = st.floats(-500, 500)


@given(st.tuples(place, place), st.tuples(place, place), st.sampled_from(["left", "right"]))
def test_axes_are_square_and_map_back(a: tuple[float, float], b: tuple[float, float], look: str) -> None:
    if np.hypot(b[0] - a[0], b[1] - a[1]) < 0.1:
        return
    axes = leaves_of(MODEL, SectionCut(line=(a, b), look=look))[0].axes
    frame = np.array([axes.u, axes.v, axes.w])
    assert frame @ frame.T == pytest.approx(np.eye(3), abs=1e-9)
    assert np.cross(axes.w, axes.v) == pytest.approx(axes.u)  # looking along w with v up, u is to the right
    points = np.array([[120.0, 3400.0], [-70.0, 0.0]])
    back = axes.to_drawing(axes.to_model(points))
    assert back[:, :2] == pytest.approx(points, abs=1e-6)
    assert back[:, 2] == pytest.approx([0, 0], abs=1e-6)


def test_left_is_seen_walking_along_the_line() -> None:
    north = SectionCut(line=((1, 0), (1, 5)), look="left")
    assert leaves_of(MODEL, north)[0].axes.w == pytest.approx([-1, 0, 0])
    assert leaves_of(MODEL, north.model_copy(update={"look": "right"}))[0].axes.w == pytest.approx([1, 0, 0])


def test_both_looks_show_the_whole_line_from_zero() -> None:
    for look in ("left", "right"):
        spec = SectionCut(line=((1, -1), (1, 4)), look=look)
        left, _, right, _ = whole_window(leaves_of(MODEL, spec))
        assert (left, right) == (0, 5000)
        faces = cut_model(MODEL, spec).faces
        bounds = faces[0].polygon.bounds
        assert (bounds[0], bounds[2]) == pytest.approx((1000, 4000))


def test_open_sides_reach_beyond_the_building_and_given_ones_hold() -> None:
    spec = SectionCut(line=((1, -1), (1, 4)), extents=Extents(base=0.5))
    _, base, _, top = whole_window(leaves_of(MODEL, spec))
    assert base == 500
    assert top > 2500


@pytest.mark.parametrize(
    "fields",
    [
        {"line": ((0, 0), (0, 0.001))},
        {"line": ((0, 0), (0, float("inf")))},
        {"line": ((0, 0), (1, 0)), "depth": 0},
        {"line": ((0, 0), (1, 0)), "depth": float("nan")},
        {"line": ((0, 0), (1, 0)), "look": "up"},
        {"line": ((0, 0), (1, 0)), "extents": {"base": 2, "top": 1}},
        {"line": ((0, 0), (1, 0)), "colour": "red"},
        {"line": ((0, 0),)},
    ],
)
def test_impossible_sections_are_refused(fields: dict) -> None:
    with pytest.raises(ValidationError):
        SectionCut.model_validate(fields)


def test_crop_that_leaves_nothing_is_refused() -> None:
    with pytest.raises(ImpossibleCut, match="enclose nothing"):
        leaves_of(MODEL, SectionCut(line=((0, 0), (4, 0)), extents=Extents(left=30)))


def test_unknown_storey_is_refused() -> None:
    with pytest.raises(ImpossibleCut, match="storey"):
        leaves_of(MODEL, PlanCut(storey="gone"))
