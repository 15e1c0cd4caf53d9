"""Ground as heights over a plan: closed bodies of the right volume, and cut and fill against closed forms."""

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from edge_slice.core.model.ground.body import body_of
from edge_slice.core.model.ground.earthworks import Rise, earthworks, profile_areas, rise_of
from edge_slice.core.model.ground.made import _through
from edge_slice.core.model.ground.relief import Relief, departing, highest, lowered, overlaid, replaced
from edge_slice.core.model.mesh.triangles import build_mesh

SQUARE = shapely.box(-10, -10, 10, 10)
Points = list[tuple[int, int, float]]
spots = st.lists(
    st.tuples(st.integers(-90, 90), st.integers(-90, 90), st.floats(-3, 3)), min_size=4, max_size=14,
    unique_by=lambda p: p[:2],
)  # fmt: skip


def plane(a: float, b: float = 0.0, c: float = 0.0, over: shapely.Polygon = SQUARE) -> Relief:
    return Relief.of(np.array([over]), np.array([[a, b, c]]))


def rise_between(existing: Relief, proposed: Relief) -> Rise:
    return rise_of(overlaid(existing, proposed))


def hilly(points: Points) -> Relief:
    """Ground through points (in tenths of a metre on plan), level beyond them as far as the square."""
    placed = np.array([(x / 10, y / 10, z) for x, y, z in points])
    assume(np.linalg.svd(placed[:, :2] - placed[:, :2].mean(axis=0), compute_uv=False)[1] > 0.5)
    return _through(placed, SQUARE)


def volume(relief: Relief, bottom: float) -> tuple[float, int]:
    """Volume of the body under a relief, and how many of its elements are open."""
    corners, triangles, source = body_of(relief, bottom)
    numbers = np.unique(source, return_inverse=True)[1].astype(np.int32)
    mesh = build_mesh(corners, triangles.astype(np.int32), numbers, np.full(len(triangles), -1, np.int32))
    return float(mesh.volumes(numbers.max() + 1).sum()), len(mesh.open_elements)


def above(relief: Relief, bottom: float) -> float:
    """The same by the heights over the middles of a fine grid of cells."""
    at = np.arange(-10 + 0.05, 10, 0.1)
    places = np.stack(np.meshgrid(at, at), axis=-1).reshape(-1, 2)
    return float((relief.heights(places) - bottom).mean() * 400)


@given(spots)
@settings(max_examples=12, deadline=None)
def test_ground_through_points_is_a_closed_body_that_goes_through_them(points: Points) -> None:
    relief = hilly(points)
    assert shapely.area(relief.cells).sum() == pytest.approx(400, abs=1e-3)
    held = relief.heights(np.array([(x / 10, y / 10) for x, y, _ in points]))
    assert held == pytest.approx([z for _, _, z in points], abs=1e-9)
    found, leaking = volume(relief, -5)
    assert leaking == 0
    assert found == pytest.approx(above(relief, -5), rel=1e-3)


@given(spots, spots)
@settings(max_examples=25, deadline=None)
def test_cut_and_fill_are_the_difference_of_the_volumes_and_change_sides(first: Points, second: Points) -> None:
    a, b = hilly(first), hilly(second)
    works, back = earthworks(rise_between(a, b)), earthworks(rise_between(b, a))
    assert works.area == pytest.approx(400, abs=1e-3)
    assert works.fill - works.cut == pytest.approx(volume(b, -5)[0] - volume(a, -5)[0], abs=0.02)
    assert (back.cut, back.fill) == pytest.approx((works.fill, works.cut), abs=1e-6)
    left = earthworks(rise_between(a, b), shapely.box(-10, -10, 0.3, 10))
    right = earthworks(rise_between(a, b), shapely.box(0.3, -10, 10, 10))
    assert left.cut + right.cut == pytest.approx(works.cut, abs=1e-3)
    assert min(works.cut, works.fill) >= 0


def test_cut_and_fill_between_planes_are_those_of_wedges() -> None:
    works = earthworks(rise_between(plane(0.0), plane(0.0, 0.1)))  # from -1 m at the left to 1 m at the right
    assert (works.cut, works.fill) == pytest.approx((100, 100))
    assert profile_areas(
        rise_between(plane(0.0), plane(0.0, 0.1)), (np.array([-10, 3]), np.array([10, 3]))
    ) == pytest.approx((5, 5))
    half = earthworks(rise_between(plane(0.0), plane(0.0, 0.1)), shapely.box(0, -10, 10, 10))
    assert (half.cut, half.fill) == pytest.approx((0, 100))


def test_what_departs_is_told_with_its_profile() -> None:
    slope, pad = plane(0.0, 0.1), plane(0.5, over=shapely.box(-2, -2, 8, 2))
    former = departing(overlaid(slope, pad))
    assert shapely.area(former.cells).sum() == pytest.approx(40)
    pieces = former.along((np.array([-10.0, 1.0]), np.array([10.0, 1.0])))
    assert pieces[:, :, 0].min() == pytest.approx(8)
    assert pieces[:, :, 0].max() == pytest.approx(18)
    assert pieces[:, :, 1] == pytest.approx((pieces[:, :, 0] - 10) * 0.1)
    assert not len(departing(overlaid(slope, slope)).cells)
    assert former.digest != departing(overlaid(slope, plane(0.6, over=shapely.box(-2, -2, 7, 2)))).digest


def test_a_section_along_a_border_counts_it_once() -> None:
    halves = Relief.of(
        np.array([shapely.box(-10, -10, 10, 0), shapely.box(-10, 0, 10, 10)]), np.array([[1.0, 0, 0]] * 2)
    )
    rise = rise_between(plane(0.0), halves)
    assert profile_areas(rise, (np.array([-10, 0.0]), np.array([10, 0.0]))) == pytest.approx((0, 20))


def test_a_pyramid_of_fill_on_level_ground() -> None:
    peak = _through(np.array([(-3, -3, 0), (3, -3, 0), (3, 3, 0), (-3, 3, 0), (0, 0, 2.0)]), SQUARE)
    works = earthworks(rise_between(plane(0.0), peak))
    assert (works.cut, works.fill) == pytest.approx((0, 36 * 2 / 3), abs=1e-6)
    assert profile_areas(rise_between(plane(0.0), peak), (np.array([-8, 0]), np.array([8, 0])))[1] == pytest.approx(6)


def test_proposed_ground_stands_with_upright_sides_in_what_is_there() -> None:
    pad = plane(2.0, over=shapely.box(-2, -2, 2, 2))
    both = replaced(overlaid(plane(0.0, 0.1), Relief.of(pad.cells, pad.planes, 1)))
    assert sorted(set(both.source.tolist())) == [0, 1]
    assert both.heights(np.array([(0, 0), (5.0, 0)])) == pytest.approx([2, 0.5])
    assert volume(both, -5) == (pytest.approx(400 * 5 + 16 * 2, abs=1e-3), 0)


def test_borders_that_cross_over_one_another_leave_the_body_closed() -> None:
    pad = plane(0.0, over=shapely.box(-2, -2, 2, 2))  # the slope passes it in its middle
    both = replaced(overlaid(plane(0.0, 0.1), pad))
    assert volume(both, -5) == (pytest.approx(2000, abs=1e-3), 0)


@given(spots, st.floats(-2, 2), st.integers(-8, 5), st.integers(-8, 5))
@settings(max_examples=25, deadline=None)
def test_pits_take_what_lies_above_them_and_nothing_else(points: Points, floor: float, x: int, y: int) -> None:
    ground, hole = hilly(points), shapely.box(x, y, x + 3, y + 4)
    dug = lowered(ground, plane(floor, over=hole))
    assert volume(dug, -5)[1] == 0
    taken = volume(ground, -5)[0] - volume(dug, -5)[0]
    assert taken == pytest.approx(earthworks(rise_between(ground, plane(floor, over=hole))).cut, abs=0.02)
    at = np.random.default_rng(1).uniform(-9.9, 9.9, (200, 2))
    inside = shapely.contains_xy(hole, at)
    expected = np.where(inside, np.minimum(ground.heights(at), floor), ground.heights(at))
    assert dug.heights(at) == pytest.approx(expected, abs=1e-3)


def test_of_faces_over_one_another_the_highest_and_the_lowest_show() -> None:
    low = np.array([[(-5, -5, 0), (5, -5, 0), (5, 5, 0)]], dtype=float)
    slope = np.array([[(-5, -5, -1), (5, -5, 1), (5, 5, 1)]], dtype=float)
    both = np.concatenate((low, slope))
    at = np.random.default_rng(2).uniform(-5, 5, (300, 2))
    at = at[at[:, 1] < at[:, 0]]
    assert highest(both).heights(at) == pytest.approx(np.maximum(0, at[:, 0] / 5), abs=1e-4)
    assert highest(both, lowest=True).heights(at) == pytest.approx(np.minimum(0, at[:, 0] / 5), abs=1e-4)
