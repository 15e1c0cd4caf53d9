"""Sheets that change their size keep their drawings: on the sheet, in their area, level and in line as they were."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.sheet import SHEET_SIZES, SheetSize, shipped_designs
from edge_slice.core.sheet.arranging import (
    Wanted,
    areas_of,
    arranged,
    beside_their_own,
    empty_share,
    smallest_size,
)
from edge_slice.core.sheet.resettling import Standing, resettled
from tests.core.sheets.test_arranging import apart, inside, origins

DESIGNS = shipped_designs()
SIZES: tuple[SheetSize, ...] = ("A0", "A1", "A2", "A3")
sizes = st.builds(Wanted, st.floats(10, 160), st.floats(10, 100), scale=st.just(100.0), axis=origins, level=origins)


@settings(max_examples=40)
@given(st.lists(sizes, min_size=1, max_size=6), st.sampled_from(SIZES), st.sampled_from(SIZES), st.sampled_from(sorted(DESIGNS)), st.sampled_from(sorted(DESIGNS)))  # fmt: skip  # noqa: E501
def test_drawings_stay_on_the_sheet_and_apart(
    wanted: list[Wanted], before: SheetSize, after: SheetSize, design: str, other: str
) -> None:
    was, now = (DESIGNS[design], before), (DESIGNS[other], after)
    places = arranged(wanted, areas_of(*was), was[0].taken(before))
    standing = [Standing(p, w) for p, w in zip(places, wanted, strict=True) if p is not None]
    if not standing:
        return
    moved = resettled(standing, was, now)
    boxes = [one.wanted.at(place) for one, place in zip(standing, moved, strict=True)]
    room = areas_of(*now)
    again = arranged([one.wanted for one in standing], room, now[0].taken(after))
    if len(room) == 1 and all(p is not None for p in again):
        for box in boxes:
            assert inside(box, room[0])
            assert all(apart(box, part) for part in now[0].taken(after))
        assert all(apart(a, b) for k, a in enumerate(boxes) for b in boxes[:k])
    page_wide, page_high = SHEET_SIZES[after]
    for x, y in moved:  # whatever its size, none is lost beside the paper
        assert 0 <= x < page_wide
        assert 0 <= y < page_high


def test_what_was_level_stays_level_on_a_smaller_sheet_and_comes_back() -> None:
    design = DESIGNS["side-strip"] if "side-strip" in DESIGNS else next(iter(DESIGNS.values()))
    wanted = [Wanted(120, 80), Wanted(120, 60)]
    standing = [Standing((80, 300), wanted[0]), Standing((300, 300), wanted[1])]
    small = resettled(standing, (design, "A1"), (design, "A2"))
    assert small[0][1] == small[1][1]
    assert small[1][0] - small[0][0] == 220
    back = resettled([Standing(p, w) for p, w in zip(small, wanted, strict=True)], (design, "A2"), (design, "A1"))
    assert [c for p in back for c in p] == pytest.approx([80, 300, 300, 300], abs=0.01)


def test_low_drawings_stand_under_each_other_beside_a_high_one() -> None:
    high, low = Wanted(200, 450), Wanted(150, 90)
    places = arranged([high, low, low, low], [(20.0, 10.0, 831.0, 584.0)])
    assert all(p is not None for p in places)
    assert places[1][0] == places[2][0] == places[3][0] > places[0][0] + 200  # type: ignore[index]
    assert places[1][1] > places[2][1] > places[3][1] == places[0][1]  # type: ignore[index]
    gaps = places[1][1] - places[2][1], places[2][1] - places[3][1]  # type: ignore[index]
    assert gaps[0] == pytest.approx(gaps[1], abs=0.01)


def test_the_last_column_takes_one_more_where_another_row_would_be_higher() -> None:
    high, low = Wanted(300, 400), Wanted(300, 130)
    places = arranged([high, low, low, low], [(20.0, 10.0, 800.0, 700.0)])
    assert None not in places
    assert len({x for x, _ in places[1:]}) == 1  # type: ignore[misc]


UP, EAST = "0.000,0.000,1.000", "1.000,0.000,0.000"


def test_drawings_of_a_row_share_their_levels_and_of_a_column_their_axes() -> None:
    """Two sections with other depths below ground, a plan, and in the next row a plan that begins further left."""
    deep = Wanted(200, 120, scale=50, axis=(EAST, 20.0), level=(UP, 40.0))
    shallow = Wanted(180, 90, scale=50, level=(UP, 15.0))
    places = arranged([deep, shallow], [(0.0, 0.0, 811.0, 584.0)])
    assert places[0][1] + 40.0 == pytest.approx(places[1][1] + 15.0, abs=2e-3)  # type: ignore[index]
    lower, upper = Wanted(500, 180, scale=50, axis=(EAST, 30.0)), Wanted(460, 170, scale=50, axis=(EAST, 5.0))
    stacked = arranged([lower, upper], [(0.0, 0.0, 700.0, 584.0)])
    assert stacked[0][1] > stacked[1][1]  # type: ignore[index]
    assert stacked[0][0] + 30.0 == pytest.approx(stacked[1][0] + 5.0, abs=2e-3)  # type: ignore[index]


def test_what_is_of_another_scale_or_far_off_is_not_brought_in_line() -> None:
    one = Wanted(200, 120, scale=50, level=(UP, 40.0))
    for other in (Wanted(180, 90, scale=100, level=(UP, 15.0)), Wanted(180, 90, scale=50, level=(UP, 400.0))):
        places = arranged([one, other], [(0.0, 0.0, 811.0, 584.0)])
        assert places[0][1] == places[1][1]  # type: ignore[index]


def test_being_in_line_costs_no_drawing_its_place() -> None:
    tight = [Wanted(200, 120, scale=50, level=(UP, 40.0)), Wanted(180, 120, scale=50, level=(UP, 15.0))]
    high = 120 + tight[0].room[1] + tight[0].room[3]
    places = arranged(tight, [(0.0, 0.0, 600.0, high + 1.0)])
    assert None not in places


def test_rows_are_filled_evenly() -> None:
    places = arranged([Wanted(180, 100)] * 4, [(0.0, 0.0, 811.0, 584.0)])
    assert len({y for _, y in places}) == 2  # type: ignore[misc]
    assert sorted({x for x, _ in places}) == sorted({x for x, _ in places[:2]})  # type: ignore[misc]


def test_the_smallest_size_is_chosen_and_its_room_is_told() -> None:
    design = next(iter(DESIGNS.values()))
    assert smallest_size([Wanted(100, 60)], design, "A0") in ("A3", "A4")
    assert smallest_size([Wanted(900, 600)], design, "A3") == "A0"
    assert smallest_size([Wanted(2000, 600)], design, "A3") is None
    assert smallest_size([Wanted(100, 60)], design, "ANSI E") in ("ANSI A", "ANSI B", "ANSI C")
    assert empty_share([], design, "A1") == 1.0
    assert empty_share([design.frame("A1")], design, "A1") == pytest.approx(0.0)


def test_details_are_laid_out_after_what_they_explain() -> None:
    assert beside_their_own([None, None, 0, 1, 0]) == [0, 2, 4, 1, 3]
    assert beside_their_own([1, None, 0]) == [1, 0, 2]
    assert beside_their_own([1, 0]) == [0, 1]  # a circle does not end it
    assert beside_their_own([]) == []
