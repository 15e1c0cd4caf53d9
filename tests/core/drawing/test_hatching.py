"""Hatches that know their shape, alternation of neighbours, dashes that begin and end on ink."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import SectionCut, Strip, cut_model
from edge_slice.core.drawing import DrawingSpec, Paths, compose_drawing, default_standard, shipped_standard
from edge_slice.core.drawing.content import Piece
from edge_slice.core.drawing.hatching.alternation import variants
from edge_slice.core.drawing.hatching.batts import course_of, fitted_lines
from edge_slice.core.drawing.hatching.filling import pattern_line, pattern_strokes, ring_lines, tile_lines
from edge_slice.core.drawing.hatching.ground import edge_strokes, ground_band
from edge_slice.core.drawing.rules.hatch_rules import EdgeStrokes, Fitted, LineFamily, Rings, Tile
from edge_slice.core.drawing.sampler import SAMPLES, hatch_page, hatch_sample
from edge_slice.core.drawing.strokes.dashes import dashed
from edge_slice.core.model import LayerFrame
from tests.bodies import box, model_of, moved, rotation

Runs = tuple[np.ndarray, np.ndarray]
ACROSS = ("batt", "lattice")
LAYER = shapely.box(0, 0, 60, 4)


def lines_of(runs: Runs) -> list[np.ndarray]:
    points, starts = runs
    return [points[a:b] for a, b in pairwise(starts.tolist())]


def total(runs: Runs) -> float:
    return sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in lines_of(runs))


@pytest.mark.parametrize("figure", ACROSS)
@given(st.floats(0, 6.28), st.floats(0.5, 12), st.floats(15, 90))
@settings(max_examples=25)
def test_figures_run_from_face_to_face_at_any_slope(figure: str, turn: float, thick: float, length: float) -> None:
    d, n = np.array([math.cos(turn), math.sin(turn)]), np.array([-math.sin(turn), math.cos(turn)])
    layer = shapely.Polygon([d * x + n * y for x, y in ((0, 0), (length, 0), (length, thick), (0, thick))])
    course = course_of(layer, (float(n[0]), float(n[1])), 0.0, thick)
    points, _ = fitted_lines([course], Fitted(figure=figure, pitch=0.5))
    across, along = points @ n, points @ d
    assert across.min() == pytest.approx(0.02 * thick, abs=0.01 * thick)
    assert across.max() == pytest.approx(0.98 * thick, abs=0.01 * thick)
    assert along.min() < 0.3 * thick
    assert along.max() > length - 0.3 * thick
    assert shapely.covers(layer.buffer(1e-6), shapely.points(points)).all()


def test_batt_has_a_whole_number_of_bights() -> None:
    for length in (40.0, 41.3, 43.9):
        layer = shapely.box(0, 0, length, 4)
        points, starts = fitted_lines([course_of(layer, (0.0, 1.0), 0.0, 4.0)], Fitted(figure="batt", pitch=0.5))
        low = points[:, 1] < 0.4
        bights = int((np.diff(low.astype(int)) == 1).sum())
        assert len(starts) == 2
        assert bights == pytest.approx(length / 2, abs=1.01)


def corner(turned: bool) -> list:
    foot, wall = shapely.box(0, 0, 40, 4), shapely.box(0, 4, 4, 30)
    courses = [course_of(foot, (0.0, 1.0), 0.0, 4.0), course_of(wall, (1.0, 0.0), 0.0, 4.0)]
    return courses[::-1] if turned else courses


@pytest.mark.parametrize("turned", [False, True])
def test_batt_goes_round_a_butted_corner_in_one_line(turned: bool) -> None:
    runs = fitted_lines(corner(turned), Fitted(figure="batt", pitch=0.5))
    assert len(lines_of(runs)) == 1
    points = runs[0]
    inside = shapely.box(0, 0, 40, 4).union(shapely.box(0, 4, 4, 30)).buffer(1e-6)
    assert shapely.covers(inside, shapely.points(points)).all()
    in_the_corner = points[(points[:, 0] < 4) & (points[:, 1] < 4)]
    assert np.hypot(*in_the_corner.T).min() < 1.6  # it reaches into the outer corner


def test_layers_that_only_pass_each_other_are_not_joined() -> None:
    courses = [*corner(False), course_of(shapely.box(20, 4, 24, 30), (1.0, 0.0), 20.0, 24.0)]
    assert len(lines_of(fitted_lines(courses, Fitted(figure="batt", pitch=0.5)))) == 2


def test_figure_is_cut_out_where_the_layer_is_pierced() -> None:
    layer = shapely.Polygon(LAYER.exterior.coords, [[(20, 1), (30, 1), (30, 3), (20, 3)]])
    points, _ = fitted_lines([course_of(layer, (0.0, 1.0), 0.0, 4.0)], Fitted(figure="lattice", pitch=0.9))
    assert not shapely.contains_xy(shapely.box(20.01, 1.01, 29.99, 2.99), points[:, 0], points[:, 1]).any()


@pytest.mark.parametrize("figure", ["along", "grain", "plies"])
def test_lines_along_a_layer_stay_in_it_and_keep_their_number(figure: str) -> None:
    runs = fitted_lines([course_of(LAYER, (0.0, 1.0), 0.0, 4.0)], Fitted(figure=figure, spacing=1.0))
    assert shapely.covers(LAYER.buffer(1e-6), shapely.points(runs[0])).all()
    level = [line for line in lines_of(runs) if abs(line[0, 1] - line[-1, 1]) < 1e-9]
    assert 3 <= len({round(float(line[0, 1]), 6) for line in level}) <= 5


def test_too_thin_layers_get_no_figure() -> None:
    thin = shapely.box(0, 0, 60, 0.2)
    assert not len(fitted_lines([course_of(thin, (0.0, 1.0), 0.0, 0.2)], Fitted(figure="batt"))[0])


def test_piece_without_a_known_run_takes_its_longest_side() -> None:
    course = course_of(shapely.Polygon([(0, 0), (30, 30), (28, 32), (-2, 2)]), None, 0, 0)
    assert course.half * 2 == pytest.approx(math.sqrt(8))
    assert abs(course.along @ np.array([1, 1])) == pytest.approx(math.sqrt(2))


# model hatches


@pytest.mark.parametrize(("scale", "courses"), [(5, 8), (20, 8), (25, 8), (50, 0), (100, 0)])
def test_brick_courses_have_their_real_size_and_vanish_when_too_fine(scale: float, courses: int) -> None:
    family = next(f for f in shipped_standard("fine-line").hatches["brick"].families if f.model)
    factor = family.factor(scale, True)
    wall = shapely.box(0, 1 / scale, 215 / scale, 601 / scale)
    found = lines_of(pattern_strokes(wall, pattern_line(family, factor))) if factor else []
    assert len(found) == courses
    if courses:
        heights = sorted(float(line[0, 1]) * scale for line in found)
        assert np.diff(heights) == pytest.approx(np.full(courses - 1, 75.0))
    assert family.factor(scale, False) == 0


def test_model_hatch_is_off_below_its_finest_size() -> None:
    family = LineFamily(angle=0, spacing=70, model=True)
    assert family.factor(100, True) == pytest.approx(0.01)
    assert family.factor(101, True) == 0
    assert Tile(width=100, height=60, strokes=[[(0, 0), (1, 1)]], model=True).factor(100, True) == 0


def test_tiles_are_repeated_in_courses_and_cut_to_the_shape() -> None:
    tile = Tile(width=2, height=1, stagger=0.5, strokes=[[(0, 0), (2, 0)], [(0, 0), (0, 1)]])
    shape = shapely.box(0.25, 0.5, 10.25, 4.5)
    runs = tile_lines(shape, tile)
    assert shapely.covers(shape.buffer(1e-9), shapely.linestrings(np.concatenate(lines_of(runs)))).all()
    assert total(runs) == pytest.approx(4 * 10 + 5 * 4, abs=0.6)


def test_end_grain_is_round_and_the_same_every_time() -> None:
    stud = shapely.box(0, 0, 5, 9)
    first, again = ring_lines(stud, Rings(spacing=0.8)), ring_lines(shapely.box(100, 50, 105, 59), Rings(spacing=0.8))
    assert len(lines_of(first)) > 5
    assert again[0] - np.array([100, 50]) == pytest.approx(first[0], abs=1e-9)
    assert shapely.covers(stud.buffer(1e-6), shapely.points(first[0])).all()


def test_long_elements_have_a_grain_and_compact_ones_none() -> None:
    turn = rotation(0.3, 0.4, 0.5)
    model = model_of(moved(box((0, 0, 0), (0.05, 3, 0.2)), turn, np.zeros(3)), box((0, 0, 0), (1, 1.5, 1)))
    axis = model.long_axis(0)
    assert axis is not None
    assert abs(axis @ (turn @ np.array([0, 1, 0]))) == pytest.approx(1, abs=0.01)
    assert model.long_axis(1) is None


# neighbours


def piece(shape: shapely.Polygon) -> Piece:
    return Piece(0, "brick", -1, shape, None)


def test_like_neighbours_differ_and_merged_ones_agree() -> None:
    row = [piece(shapely.box(k * 100, 0, (k + 1) * 100, 100)) for k in range(6)]
    apart = variants(row, ["brick"] * 6, np.arange(6))
    assert all(a != b for a, b in pairwise(apart))
    assert variants(row, ["brick"] * 6, np.array([0, 0, 0, 1, 1, 1])) == [0, 0, 0, 1, 1, 1]
    assert variants(row, ["brick", "block"] * 3, np.arange(6)) == [0] * 6


def test_three_that_all_touch_get_three_variants() -> None:
    shapes = [shapely.box(0, 0, 100, 100), shapely.box(100, 0, 200, 100), shapely.box(0, 100, 200, 200)]
    assert sorted(variants([piece(s) for s in shapes], ["brick"] * 3, np.arange(3))) == [0, 1, 2]


@pytest.mark.parametrize("angle", [0.0, 45.0, 90.0, 30.0])
def test_variants_of_a_family_draw_other_lines(angle: float) -> None:
    shape, family = shapely.box(0, 0, 20, 20), LineFamily(angle=angle, spacing=2)
    first, second = (
        shapely.linestrings(np.array(lines_of(pattern_strokes(shape, pattern_line(family, 1.0, v)))))[3:9]
        for v in (0, 1)
    )
    shared = shapely.length(shapely.intersection(shapely.union_all(first), shapely.union_all(second)))
    assert shared == pytest.approx(0, abs=1e-6)


# ground


def test_strokes_sit_along_the_surface_and_in_the_ground() -> None:
    ground = shapely.Polygon([(0, 0), (0, 20), (40, 25), (80, 20), (80, 0)])
    band, surface = ground_band(ground, shapely.box(0, 0, 80, 60), 8, True, (0, 80))
    assert len(surface) == 1
    assert (
        shapely.hausdorff_distance(shapely.LineString(surface[0]), shapely.LineString([(0, 20), (40, 25), (80, 20)]))
        < 1e-9
    )
    strokes = edge_strokes(surface, [band], EdgeStrokes(every=8, length=3, strokes=3, apart=1))
    line = shapely.LineString(surface[0])
    lines = lines_of(strokes)
    assert len(lines) == 10 * 3
    for stroke in lines:
        assert line.distance(shapely.Point(stroke[0])) < 1e-6
        assert ground.buffer(1e-6).covers(shapely.LineString(stroke))
        assert np.hypot(*(stroke[-1] - stroke[0])) == pytest.approx(3, abs=1e-6)


def surface_length(frame: shapely.Geometry, ends: tuple[float, float], rises: bool = True) -> float:
    """Of a block of ground with a pit 20 wide and 10 deep in the middle of its top."""
    pit = [(30, 20), (30, 10), (50, 10), (50, 20)]
    ground = shapely.Polygon([(0, 0), (0, 20), *pit, (80, 20), (80, 0)])
    return sum(shapely.LineString(line).length for line in ground_band(ground, frame, 4, rises, ends)[1])


def test_surface_of_the_ground_stops_where_its_model_ends_and_at_what_crops_the_drawing() -> None:
    wide, slanting = shapely.box(-20, -20, 100, 60), shapely.Polygon([(0, 20), (30, 20), (50, 10), (80, 20), (0, 80)])
    whole = 30 + 10 + 20 + 10 + 30
    assert surface_length(wide, (0, 80)) == pytest.approx(whole)
    assert surface_length(shapely.box(0, 0, 80, 60), (-1e3, 1e3)) == pytest.approx(whole)
    assert surface_length(slanting, (0, 80)) == pytest.approx(whole - 30)  # a side of the extents, on the left half
    assert surface_length(wide, (0, 80), rises=False) == pytest.approx(whole + 20 + 80 + 20)


# dashes


@given(
    st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=2, max_size=8),
    st.sampled_from([(3.0, 1.0), (8.0, 1.0, 0.2, 1.0)]),
)
@settings(max_examples=80)
def test_dashes_begin_and_end_on_ink_and_follow_the_line(
    points: list[tuple[float, float]], pattern: tuple[float, ...]
) -> None:
    line = np.array(points)
    steps = np.hypot(*np.diff(line, axis=0).T)
    if steps.min() < 0.01:
        return
    strokes = lines_of(dashed((line, np.array([0, len(line)])), pattern))
    assert strokes[0][0] == pytest.approx(line[0], abs=1e-6)
    assert strokes[-1][-1] == pytest.approx(line[-1], abs=1e-6)
    whole = shapely.LineString(line)
    assert all(shapely.distance(whole, shapely.points(s)).max() < 1e-6 for s in strokes)
    inked = sum(float(np.hypot(*np.diff(s, axis=0).T).sum()) for s in strokes)
    if steps.sum() > 3 * sum(pattern):
        assert inked / steps.sum() == pytest.approx(sum(pattern[::2]) / sum(pattern), abs=0.15)
    else:
        assert 0 < inked <= steps.sum() + 1e-6


def test_line_too_short_for_a_gap_stays_whole() -> None:
    strokes = lines_of(dashed((np.array([[0.0, 0], [3.0, 0]]), np.array([0, 2])), (3.0, 1.0)))
    assert len(strokes) == 1


def test_closed_paths_are_dashed_all_round() -> None:
    square = np.array([[0.0, 0], [10, 0], [10, 10], [0, 10]])
    strokes = lines_of(dashed((square, np.array([0, 4])), (2.0, 1.0), closed=True))
    assert strokes[-1][-1] == pytest.approx(square[0])
    assert len(strokes) == 14


# the shipped set


def test_every_shipped_hatch_draws_something_at_every_scale() -> None:
    for key in ("fine-line", "bold"):
        standard = shipped_standard(key)
        for name in standard.hatches:
            for scale, thick in SAMPLES:
                inked = [i for i in hatch_sample(standard, name, scale, thick).items if i.role == "hatch"]
                assert bool(inked) == (name != "none"), (key, name, scale)


def test_page_of_hatches_is_the_same_twice() -> None:
    a, b = hatch_page(shipped_standard("bold")), hatch_page(shipped_standard("bold"))
    assert [i.points.tobytes() for i in a.items if hasattr(i, "points")] == [
        i.points.tobytes() for i in b.items if hasattr(i, "points")
    ]


def test_strip_of_a_layer_is_heeded(demo: object) -> None:
    strip = Strip((0.0, 1.0), 0.0, 4.0)
    assert course_of(LAYER, strip.normal, strip.low, strip.high).half == 2.0


@pytest.mark.parametrize(("turn", "fields"), [(0.0, False), (30.0, False), (80.0, True), (90.0, True)])
def test_insulation_cut_along_its_layer_is_a_plain_field(turn: float, fields: bool) -> None:
    """Across, loops are as wide as the layer; along it there are no loops, which would be as wide as the wall."""
    frame = LayerFrame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    model = model_of(
        box((-4, 0, 0), (4, 0.4, 3)), materials=["Brick", "Mineral wool"], kinds=["wall"],
        layers=[("Brick", 0.12), ("Mineral wool", 0.28)], frame=frame,
    )  # fmt: skip
    way = np.radians(90.0 - turn)
    d = np.array([np.cos(way), np.sin(way)]) * 9
    middle = np.array([0.0, 0.2])
    cut = SectionCut(line=(tuple(middle - d), tuple(middle + d)))
    standard = default_standard()
    result = cut_model(model, cut, standard.cut_rules(model))
    display = compose_drawing(model, result, cut, DrawingSpec(scale=20, levels=False), standard)
    hatch = [i for i in display.items if isinstance(i, Paths) and i.role == "hatch"]
    bends = sum(int((np.diff(i.starts) > 2).sum()) for i in hatch)
    assert (bends == 0) == fields
    assert hatch
