"""Cuts of one model fitted to another: storeys by name or rank, lines by shares of the building."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.cut import ElevationCut, Extents, PlanCut, PlaneCut, SectionCut
from edge_slice.core.cut.following.refit import ModelFrame, refitted
from edge_slice.core.cut.planes.sets import elevations_of
from edge_slice.core.model import Model, Storey
from tests.bodies import box, model_of


def house(size: tuple[float, float, float], names: dict[str, float], at: tuple[float, float] = (0, 0)) -> Model:
    made = model_of(box((*at, 0), (at[0] + size[0], at[1] + size[1], size[2])))
    return replace(made, storeys=tuple(Storey(f"{n} {size}", n, z) for n, z in names.items()))


OLD = house((20, 10, 6), {"Cellar": -3.0, "Ground": 0.0, "Upper": 3.0})
FRAME = ModelFrame.of(OLD)
LARGER = house((40, 20, 12), {"Lower ground": -2.9, "ground": 0.1, "First": 3.2, "Second": 6.4}, at=(100, 50))
ACROSS = house((10, 20, 6), {"Ground": 0.0}, at=(100, 50))


def plan_of(storey: str) -> PlanCut:
    guid = next(s.guid for s in OLD.storeys if s.name == storey)
    return PlanCut(storey=guid, height=1.4, extents=Extents(left=1, right=5))


@pytest.mark.parametrize(
    ("storey", "name", "how"),
    [
        ("Ground", "ground", "same name"),
        ("Upper", "First", "in the place of Upper"),
        ("Cellar", "Lower ground", "Cellar"),
    ],
)
def test_plans_go_to_the_storey_of_their_name_or_of_their_rank(storey: str, name: str, how: str) -> None:
    refit = refitted(LARGER, plan_of(storey), FRAME)
    assert isinstance(refit.cut, PlanCut)
    assert next(s.name for s in LARGER.storeys if s.guid == refit.cut.storey) == name
    assert (refit.cut.height, refit.cut.extents) == (1.4, Extents())
    assert how in refit.how


def test_what_has_no_place_is_left_out_and_says_why() -> None:
    assert refitted(ACROSS, plan_of("Upper"), FRAME) == refitted(ACROSS, plan_of("Upper"), FRAME)
    assert refitted(ACROSS, plan_of("Upper"), FRAME).cut is None
    assert "no storey 1 above" in refitted(ACROSS, plan_of("Upper"), FRAME).how
    bare = replace(ACROSS, storeys=())
    assert "no storeys" in refitted(bare, plan_of("Ground"), FRAME).how
    wall = ElevationCut(kind="interior elevation", line=((1, 1), (2, 1)), space="room")
    assert refitted(LARGER, wall, FRAME).cut is None


def test_a_section_keeps_its_share_of_the_building_and_what_it_runs_beyond_it() -> None:
    cut = SectionCut(line=((5, -1.5), (5, 11.5)), depth=4, extents=Extents(base=-1, top=6.5, left=0, right=3))
    moved = refitted(LARGER, cut, FRAME).cut
    assert isinstance(moved, SectionCut)
    assert moved.line == ((110, 48.5), (110, 71.5))
    assert (moved.depth, moved.extents) == (8, Extents(base=-1, top=12.5))
    assert moved.look == cut.look


def test_a_building_that_is_long_the_other_way_turns_sections_with_it() -> None:
    cut = SectionCut(line=((5, -1.5), (5, 11.5)), depth=4)
    refit = refitted(ACROSS, cut, FRAME)
    assert isinstance(refit.cut, SectionCut)
    assert refit.cut.line == ((111.5, 55), (98.5, 55))  # a cross section still, a quarter along
    assert refit.cut.depth == pytest.approx(4)
    assert "turned" in refit.how


def test_elevations_stay_clear_of_the_building_and_name_their_side() -> None:
    for elevation in elevations_of(OLD):
        moved = refitted(LARGER, elevation, FRAME)
        assert isinstance(moved.cut, ElevationCut)
        xs, ys = zip(*moved.cut.line, strict=True)
        outside = max(xs) <= 100 or min(xs) >= 140 or max(ys) <= 50 or min(ys) >= 70
        assert outside
        assert "side" in moved.how


number = st.floats(-5, 25)


@given(number, number, number, number)
def test_a_model_fits_itself(x0: float, y0: float, x1: float, y1: float) -> None:
    if abs(x1 - x0) + abs(y1 - y0) < 0.1:
        return
    cut = SectionCut(line=((x0, y0), (x1, y1)), depth=3, left_out=("gone",), see_through=("gone",))
    moved = refitted(OLD, cut, FRAME).cut
    assert isinstance(moved, SectionCut)
    for p, q in zip(moved.line, cut.line, strict=True):
        assert p == pytest.approx(q, abs=1e-3)
    assert (moved.left_out, moved.see_through) == ((), ())
    plane = PlaneCut(point=(x0, y0, 1), normal=(0, -1, 0.3))
    again = refitted(OLD, plane, FRAME).cut
    assert isinstance(again, PlaneCut)
    assert again.point == pytest.approx(plane.point, abs=1e-3)
