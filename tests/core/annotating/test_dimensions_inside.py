"""Chains through rooms, and along any line: every value is the building's, none stands over another text."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import composed
from edge_slice.core.annotating.crossing import JOINT, NO_PARTS, Crossed
from edge_slice.core.annotating.documents import AnyAnnotation, Dimension
from edge_slice.core.annotating.inside import _runs
from edge_slice.core.annotating.rooms_shown import rooms_shown
from edge_slice.core.annotating.sets import proposed, renewed
from edge_slice.core.cut import PlanCut, SectionCut, cut_model
from edge_slice.core.cut.planes.sets import plans_of
from edge_slice.core.drawing import DrawingSpec, compose_drawing, default_standard
from edge_slice.core.drawing.display import Item, Label
from edge_slice.core.drawing.texts.lettering import box_of
from edge_slice.core.model import Model
from tests.bodies import box, model_of

STANDARD = default_standard()


def board_of(model: Model, cut: PlanCut | SectionCut, scale: float = 100.0) -> Board:
    spec = DrawingSpec(scale=scale)
    return Board.of(model, cut_model(model, cut, STANDARD.cut_rules(model)), cut, spec, STANDARD)


def values(dimension: AnyAnnotation) -> list[float]:
    """What it measures, mm."""
    assert isinstance(dimension, Dimension)
    along = sorted((np.array([a.at for a in dimension.anchors]) @ dimension.way).tolist())
    return [round(float(x), 2) for x in np.diff(along)]


# three walls across x, 200, 100 and 300 thick
WALLS = model_of(
    box((0, 0, 0), (0.2, 5, 3)), box((3, 0, 0), (3.1, 5, 3)), box((7, 0, 0), (7.3, 5, 3)),
    kinds=["wall", "wall", "wall"],
)  # fmt: skip


def test_a_line_measures_everything_that_it_crosses() -> None:
    board = board_of(WALLS, SectionCut(line=((-1, 2), (9, 2)), look="left", depth=1.0))
    level = Crossed(board).chain(np.array([0.0, 1500.0]), np.array([10_000.0, 1500.0]))
    assert level is not None
    assert values(level) == [200.0, 2800.0, 100.0, 3900.0, 300.0]
    assert level.points == ((0.0, 1500.0),)
    back = Crossed(board).chain(np.array([10_000.0, 1500.0]), np.array([0.0, 1500.0]))
    assert back is not None
    assert values(back) == values(level)
    assert Crossed(board).chain(np.array([1500.0, 1500.0]), np.array([3500.0, 1500.0])) is None
    assert Crossed(board).chain(np.array([0.0, 0.0]), np.array([0.0, 0.0])) is None


@settings(max_examples=40, deadline=None)
@given(st.floats(-0.9, 0.9), st.floats(300.0, 2700.0))
def test_aslant_its_values_are_those_of_the_line(slope: float, high: float) -> None:
    board = board_of(WALLS, SectionCut(line=((-1, 2), (9, 2)), look="left", depth=1.0))
    a, b = np.array([0.0, high]), np.array([10_000.0, high + slope * 200])
    found = Crossed(board).chain(a, b)
    assert found is not None
    stretch = np.hypot(1.0, slope * 200 / 10_000.0)
    assert values(found) == pytest.approx([x * stretch for x in (200, 2800, 100, 3900, 300)], abs=0.5)


@pytest.fixture(scope="module")
def ground_floor(demo: Model) -> tuple[Crossed, shapely.Geometry]:
    """The lines that cross a plan of the demo, and what they cross as one."""
    board = board_of(demo, plans_of(demo, (0.3, 1.5))[1])
    kinds = [demo.elements[f.element].kind for f in board.result.faces]
    cut = [f.polygon for f, kind in zip(board.result.faces, kinds, strict=True) if kind not in NO_PARTS]
    return Crossed(board), shapely.union_all(cut)


PLACES = st.tuples(st.integers(-2_000, 26_000), st.integers(-2_000, 14_000))
BESIDE = (4.37, 4.41)  # mm, so that no line lies along a side


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(PLACES, PLACES), min_size=1, max_size=5))
def test_between_sides_a_line_lies_by_turns_in_what_is_cut_and_beside_it(
    ground_floor: tuple[Crossed, shapely.Geometry], drawn: list[tuple[tuple[int, int], tuple[int, int]]]
) -> None:
    crossed, solid = ground_floor
    lines = np.array(drawn) + BESIDE
    for (a, b), sides in zip(lines, crossed.sides(lines), strict=True):
        middles = shapely.points((sides[:-1] + sides[1:]) / 2)
        into = bool(shapely.distance(solid, shapely.Point(a)) <= JOINT)
        for k, middle in enumerate(middles):
            within = (k % 2 == 0) != into
            away = shapely.distance(solid, middle)
            assert away <= JOINT if within else away > 0
        long = shapely.length(shapely.intersection(solid, shapely.LineString([a, b])))
        ends = [a, *sides] if into else [*sides]
        pairs = np.array([*ends, b] if len(ends) % 2 else ends).reshape(-1, 2, 2)
        assert np.hypot(*(pairs[:, 1] - pairs[:, 0]).T).sum() == pytest.approx(long, abs=JOINT * 2 * (len(sides) + 2))


def drawn_on(board: Board, items: list[Item], rule: str) -> tuple[list[AnyAnnotation], list[Label]]:
    """A set, and its texts."""
    found = proposed(board, rule, items).annotations  # type: ignore[arg-type]
    texts = [i for one in found for i in composed(board, one, "").items if isinstance(i, Label)]
    return list(found), texts


@pytest.mark.parametrize("number", range(4))
def test_rooms_of_the_demo_are_measured_true_and_clear(demo: Model, number: int) -> None:
    cut = plans_of(demo, (0.3, 1.5))[number]
    board = board_of(demo, cut)
    items: list[Item] = list(compose_drawing(demo, board.result, cut, board.spec, STANDARD).items)
    others = [i for i in items if isinstance(i, Label)]
    placed: list[Label] = []
    for rule in ("outside", "inside"):
        found, texts = drawn_on(board, items, rule)
        again, _ = drawn_on(board, items, rule)
        assert found == again
        assert renewed(list(enumerate(found)), again).changed == {}
        boxes = [shapely.box(*box_of(text)) for text in (*texts, *placed, *others)]
        one, other = shapely.STRtree(boxes).query(boxes[: len(texts)], predicate="overlaps")
        assert not (one != other).any()
        placed += texts
        items += [i for a in found for i in composed(board, a, "").items]
    rooms = dict(rooms_shown(board))
    assert found or not rooms
    for chain in found:
        assert isinstance(chain, Dimension)
        for anchor in chain.anchors:  # to half a millimetre at the side of a wall, or of what else is cut
            near = min(f.polygon.boundary.distance(shapely.Point(anchor.at)) for f in board.result.faces)
            assert near <= 0.5


def test_nothing_is_measured_inside_of_other_drawings(demo: Model) -> None:
    board = board_of(demo, SectionCut(line=((4, -2), (4, 12)), depth=2.0))
    assert proposed(board, "inside", []).annotations == ()


@given(corners=st.lists(st.tuples(st.integers(0, 10), st.integers(0, 10)), min_size=4, max_size=9))
def test_how_far_lines_run_in_a_room_of_any_shape(corners: list[tuple[int, int]]) -> None:
    parts = shapely.get_parts(shapely.make_valid(shapely.Polygon(corners)))
    shape = shapely.MultiPolygon([part for part in parts if part.geom_type == "Polygon"])
    assume(shape.area > 1.0)
    at = np.arange(-1.0, 11.0) + 0.3137
    spans, long = _runs(shape, at)
    for y, span, length in zip(at.tolist(), spans, long.tolist(), strict=True):
        run = shapely.intersection(shape, shapely.LineString([(-1.0, y), (11.0, y)]))
        assert length == pytest.approx(run.length, abs=1e-6)
        if length > 0:
            assert span.tolist() == pytest.approx([run.bounds[0], run.bounds[2]], abs=1e-6)
