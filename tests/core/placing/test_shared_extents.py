"""Shared extents give drawings their sides and depth; a side that is moved moves the box."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import ElevationCut, Extents, ImpossibleCut, PlanCut, PlaneCut, SectionCut, leaves_of
from edge_slice.core.cut.following.shared_extents import ExtentsBox, box_of, boxed, with_side
from edge_slice.core.model import Model, Storey
from tests.bodies import box, model_of


@pytest.fixture(scope="module")
def house() -> Model:
    made = model_of(box((0, 0, 0), (10, 6, 3)), box((2, 1, 3), (8, 5, 6)))
    return replace(made, storeys=(Storey(guid="upper", name="Upper", elevation=3.0),))


SIDES = ("left", "base", "right", "top", "depth")
BOX = ExtentsBox(low=(1, 2, -0.5), high=(7, 5, 4.5))
EAST = SectionCut(line=((-1, 3), (12, 3)), look="left", extents=Extents(top=99), depth=77)


def sides(cut) -> tuple:
    e = cut.extents
    return e.left, e.base, e.right, e.top, cut.depth


def test_a_section_takes_its_sides_and_depth_from_the_box(house: Model) -> None:
    assert sides(boxed(house, EAST, BOX)) == pytest.approx((2, -0.5, 8, 4.5, 2))
    turned_round = EAST.model_copy(update={"look": "right"})
    assert sides(boxed(house, turned_round, BOX)) == pytest.approx((12 - 7, -0.5, 12 - 1, 4.5, 1))
    elevation = ElevationCut(line=((20, -4), (20, 9)), look="left")
    assert sides(boxed(house, elevation, BOX)) == pytest.approx((6, -0.5, 9, 4.5, 19))


def test_a_stepped_line_has_a_depth_for_each_leg(house: Model) -> None:
    stepped = SectionCut(line=((-1, 3), (4, 3), (4, 4), (12, 4)), look="left")
    found = boxed(house, stepped, BOX)
    assert isinstance(found, SectionCut)
    assert found.depths == pytest.approx((2, 1))
    assert sides(found)[:4] == pytest.approx((2, -0.5, 8, 4.5))
    far = SectionCut(line=((-1, 3), (4, 3), (4, 5.5), (12, 5.5)), look="left")  # its second leg stands behind the box
    found = boxed(house, far, BOX)
    assert isinstance(found, SectionCut)
    assert (found.depths[0], found.extents.left, found.extents.right) == pytest.approx((2, 2, 5))


def test_a_plan_takes_its_outline_and_what_is_above_and_below(house: Model) -> None:
    plan = PlanCut(storey="upper", height=1.0)
    found = boxed(house, plan, BOX)
    assert isinstance(found, PlanCut)
    assert (*sides(found), found.overhead) == pytest.approx((1, 2, 7, 5, 4.5, 0.5))
    ceiling = boxed(house, plan.model_copy(update={"look": "up"}), BOX)
    assert ceiling.depth == pytest.approx(0.5)
    turned = boxed(house, plan, ExtentsBox(low=(1, 2, 0), high=(3, 3, 5), turn=30))
    assert len(turned.extents.polygon) == 4
    assert math.dist(turned.extents.polygon[0], turned.extents.polygon[1]) == pytest.approx(1, abs=1e-3)
    with pytest.raises(ImpossibleCut, match="above or below"):
        boxed(house, plan.model_copy(update={"height": 20}), BOX)


def test_a_cut_that_looks_away_from_the_box_can_t_follow_it(house: Model) -> None:
    with pytest.raises(ImpossibleCut, match="lie behind this cut"):
        boxed(house, SectionCut(line=((-1, 5.5), (12, 5.5)), look="left"), BOX)


def test_a_free_plane_follows_too(house: Model) -> None:
    upright = PlaneCut(point=(0, 3, 0), normal=(0, -1, 0))
    assert sides(boxed(house, upright, BOX)) == pytest.approx((1, -0.5, 7, 4.5, 2))


def test_a_box_of_a_drawing_is_what_it_shows(house: Model) -> None:
    cut = SectionCut(line=((1, 1), (9, 1)), extents=Extents(left=1, right=5, base=0, top=3), depth=2.5)
    found = box_of(house, cut)
    assert (*found.low, *found.high, found.turn) == pytest.approx((2, 1, 0, 6, 3.5, 3, 0))
    slanted = SectionCut(line=((0, 0), (4, 4)), extents=Extents(base=0, top=3), depth=1)
    found = box_of(house, slanted)
    assert abs(found.turn) == pytest.approx(45)
    size = sorted(b - a for a, b in zip(found.low, found.high, strict=True))
    assert size == pytest.approx([1, 3, math.sqrt(32)], abs=2e-3)
    unlimited = box_of(house, PlanCut(storey="upper", height=1.0))
    assert unlimited.low[2] < 0
    assert unlimited.high[0] > 10


number = st.floats(-6, 6)


@given(number, number, number, number, st.sampled_from(["left", "right"]), st.floats(0.5, 8))
@settings(max_examples=60)
def test_a_drawing_follows_its_own_box_unchanged(x0: float, y0: float, x1: float, y1: float, look: str, depth: float):
    if math.hypot(x1 - x0, y1 - y0) < 1:
        return
    house = model_of(box((0, 0, 0), (10, 6, 3)))
    cut = SectionCut(line=((x0, y0), (x1, y1)), look=look, extents=Extents(base=0, top=3), depth=depth)  # type: ignore[arg-type]
    own = boxed(house, cut, box_of(house, cut))
    left, _, right, _ = (x / 1000 for x in leaves_of(house, cut)[0].window)
    assert sides(own) == pytest.approx((left, 0, right, 3, depth), abs=5e-3)


@given(st.sampled_from(["left", "right", "base", "top", "depth"]), st.floats(0.01, 0.9), st.integers(0, 3))
@settings(max_examples=60)
def test_a_moved_side_lies_where_it_was_moved_to(side: str, by: float, turns: int) -> None:
    house = model_of(box((0, 0, 0), (10, 6, 3)))
    ends = [((-1, 3), (12, 3)), ((4, -1), (4, 9)), ((12, 3), (-1, 3)), ((4, 9), (4, -1))][turns]
    cut = SectionCut(line=ends)  # type: ignore[arg-type]
    before = dict(zip(SIDES, sides(boxed(house, cut, BOX)), strict=True))
    to = round(before[side] + (by if side in ("left", "base") else -by), 3)
    moved = with_side(house, cut, BOX, side, to)  # type: ignore[arg-type]
    after = dict(zip(SIDES, sides(boxed(house, cut, moved)), strict=True))
    assert after == pytest.approx({**before, side: to}, abs=1e-6)


def test_faces_that_stand_askew_are_not_moved_by_a_drawing(house: Model) -> None:
    slanted = SectionCut(line=((0, 0), (5, 2)))
    with pytest.raises(ImpossibleCut, match="turned against"):
        with_side(house, slanted, BOX, "left", 1.0)
    assert with_side(house, slanted, BOX, "top", 4.0).high[2] == 4.0
    with pytest.raises(ImpossibleCut, match="pass the opposite"):
        with_side(house, EAST, BOX, "left", 30.0)
